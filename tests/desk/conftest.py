"""A browser on the served desk; any error on its console fails the test."""

from __future__ import annotations

import httpx
import pytest
from playwright.sync_api import ConsoleMessage, Page, expect, sync_playwright
from tests.conftest import CHROMIUM

expect.set_options(timeout=20_000)


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


@pytest.fixture
def page(browser, served, painted):
    ratio = 1.0 if painted else 0.5
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=served.address, device_scale_factor=ratio
    )
    if not painted:
        context.add_init_script(UNPAINTED)
    page: Page = context.new_page()
    page.set_default_timeout(30_000)
    troubles: list[str] = []
    told: list[str] = []
    page.told_on_purpose = told  # words a test brings about itself

    def heard(message: ConsoleMessage) -> None:
        # A refusal is an answer, which Chromium notes by itself; a slow software GPU is this machine's.
        expected = "status of 422" in message.text or "GPU stall" in message.text
        expected = expected or any(words in message.text for words in told)
        if message.type in ("error", "warning") and not expected:
            troubles.append(f"{message.text} {message.location.get('url', '')}")

    page.on("console", heard)
    page.on("pageerror", lambda e: troubles.append(str(e)))
    yield page
    context.close()
    assert troubles == []


@pytest.fixture
def api(served):
    # A connection of its own for each question: one that rests is closed by the server after a while, and that may be
    # just when it is used again.
    with httpx.Client(base_url=served.address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0)) as client:
        yield client
