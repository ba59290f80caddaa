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


@pytest.fixture
def pixel_ratio():
    """The screen's pixels for one of the page: a picture without a graphics card costs as many as it has, so that
    only who counts them asks for all."""
    return 0.5


@pytest.fixture
def page(browser, served, pixel_ratio):
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=served.address, device_scale_factor=pixel_ratio
    )
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
