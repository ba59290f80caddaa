"""A browser on the served desk; any error on its console fails the test."""

from __future__ import annotations

from functools import partial

import httpx
import pytest
from playwright.sync_api import ConsoleMessage, Error, Page, expect, sync_playwright
from tests.conftest import CHROMIUM
from tests.desk.spheres import shown_spheres

from zevlo.api import thumbnails
from zevlo.lab.thumbnail import draw_thumbnail

# Long, because nothing is timed here: two cores that others use too may be a few times slower than these.
LONGEST_MS = 120_000
expect.set_options(timeout=LONGEST_MS)


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield found
        found.close()


UNPAINTED = """for (const gl of [WebGLRenderingContext, WebGL2RenderingContext])
  for (const name of Object.getOwnPropertyNames(gl.prototype))
    if (/^(draw(Arrays|Elements|RangeElements)|generateMipmap)/.test(name)) gl.prototype[name] = () => undefined;"""
"""All goes as ever, down to the orders to the graphics card, but none is carried out."""


@pytest.fixture
def painted():
    """Whether what the finder orders from the graphics card is painted. Without such a card that takes most of a test's
    time, so that only who looks at the picture asks for it."""
    return False


@pytest.fixture(autouse=True)
def coarse_small_pictures(monkeypatch):
    """Small pictures are drawn at a seventh of their size: each change of a shot draws one anew, which took half of what
    a desk's tests cost. What they show is tested by themselves."""
    monkeypatch.setattr(thumbnails, "draw_thumbnail", coarse)


def coarse(shot, lit, long_side=40, paths=1, crop=None):
    return draw_thumbnail(shot, lit, min(long_side, 40), 1, crop)


VIEWPORT = {"width": 1280, "height": 800}


@pytest.fixture(scope="session")
def tabs(browser, own_port):
    """Makes the tab a process's tests use one after the other, painted or not: a new one takes longer than most do."""
    kept: dict[bool, Page] = {}

    def tab(painted: bool) -> Page:
        if painted not in kept or kept[painted].is_closed():
            address, ratio = f"http://127.0.0.1:{own_port}", 1.0 if painted else 0.5
            context = browser.new_context(viewport=VIEWPORT, base_url=address, device_scale_factor=ratio)
            if not painted:
                context.add_init_script(UNPAINTED)
            kept[painted] = context.new_page()
        return kept[painted]

    return tab


@pytest.fixture
def page(tabs, served, painted):
    page: Page = tabs(painted)
    # Nothing that a desk remembers of one test is there in the next.
    keeps = {"origin": served.address, "storageTypes": "cookies,local_storage,indexeddb,service_workers"}
    tools = page.context.new_cdp_session(page)
    tools.send("Storage.clearDataForOrigin", keeps)
    page.set_viewport_size(VIEWPORT)
    page.set_default_timeout(LONGEST_MS)
    troubles: list[str] = []
    found: list[str] = []
    page.told_on_purpose = found  # words a test brings about itself

    def heard(message: ConsoleMessage) -> None:
        # A refusal is an answer, which Chromium notes by itself; a slow software GPU is this machine's.
        expected = "status of 422" in message.text or "GPU stall" in message.text
        expected = expected or any(words in message.text for words in found)
        if message.type in ("error", "warning") and not expected:
            troubles.append(f"{message.text} {message.location.get('url', '')}")

    def failed(error: Error) -> None:
        troubles.append(str(error))

    page.on("console", heard)
    page.on("pageerror", failed)
    yield page
    page.remove_listener("console", heard)
    page.remove_listener("pageerror", failed)
    tools.detach()
    page.unroute_all()
    if getattr(page, "of_its_own", False) or troubles:
        page.context.close()
    else:
        page.goto("about:blank")
    assert troubles == []


@pytest.fixture
def spheres_on_screen(page, served, brought_in):
    return partial(shown_spheres, page, served, brought_in)


@pytest.fixture
def api(served):
    # A connection of its own for each question: one that rests is closed by the server after a while, and that may be
    # just when it is used again.
    with httpx.Client(base_url=served.address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0)) as client:
        yield client
