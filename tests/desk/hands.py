"""What a hand does at the desk, and what it waits for: never a time, always what is to be seen."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import expect

DEMO = "Open Tide Tower Pottery"


def settled(page):
    """Waits until all that was set going has come to rest: answered, written and drawn."""
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    expect(page.locator("html[data-settled=true]")).to_be_attached()


def eventually(check, seconds=60):
    """Asks again until nothing is wrong with the answer any more."""
    deadline = time.monotonic() + seconds
    while True:
        try:
            return check()
        except AssertionError:
            if time.monotonic() > deadline:
                raise
            time.sleep(0.05)


def open_demo(page):
    """The demonstration's Frame room; returns the project's key."""
    project = page.request.get("/api/projects").json()["projects"][0]["id"]
    page.goto(f"/{project}/frame")
    page.wait_for_selector("[data-finder=ready]")
    return project


def choose(page, name):
    page.get_by_role("button", name=re.compile(rf"^Shot \d+, {re.escape(name)}$")).click()
    expect(page.locator("[data-instrument=Lens] h2")).to_be_visible()
    settled(page)


def now(api, project):
    return api.get(f"/api/projects/{project}").json()


def prints_of(api, project):
    return api.get(f"/api/projects/{project}/prints").json()["prints"]


def shots(api, project):
    return now(api, project)["shots"]


def named(api, project, name):
    return next(s for s in shots(api, project) if s["shot"]["name"] == name)


def drag(page, start, end, steps=6):
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=steps)
    page.mouse.up()


def undo(page):
    page.keyboard.press("Control+z")
    settled(page)


def paper_place(page, drawing, x, y):
    """Where a place in metres lies on the screen."""
    node = page.locator(f"[data-drawing={drawing}]")
    box = node.locator("[data-paper]").bounding_box()
    cx, cy, scale = map(float, node.get_attribute("data-eye").split(","))
    return box["x"] + box["width"] / 2 + (x - cx) * scale, box["y"] + box["height"] / 2 - (y - cy) * scale


def stands_at(page, label, x, y, by=0.05):
    """Waits until something drawn has come to a place, so that it can be taken there."""

    def there():
        said = page.get_by_role("slider", name=label, exact=True).get_attribute("aria-valuetext")
        assert [float(number) for number in said.split(",")] == pytest.approx([x, y], abs=by)

    eventually(there)
    settled(page)


def handle(page, drawing, label):
    """Where something drawn can be taken."""
    box = page.locator(f'[data-drawing={drawing}] [data-handle="{label}"] circle').last.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


UNFOLDED = ("Lens", "Back")
"""Instruments most of which folds: what a test does in them is mostly there."""


def instrument(page, name):
    """An instrument, open; one of which most folds, with all of its folds open."""
    panel = page.locator(f'[data-instrument="{name}"]')
    if panel.locator("h2 button").get_attribute("aria-expanded") != "true":
        panel.locator("h2 button").click()
    if name in UNFOLDED:
        panel.locator("h3 button").first.wait_for()
        for folded in panel.locator("h3 button[aria-expanded=false]").all()[::-1]:
            folded.click()
    return panel


def field(page, label, text, at_rest=True):
    """Types into a field and ends it. A field that gets another number between being selected and being typed into
    holds both, so it is waited for, unless a quick hand is what is tried."""
    if at_rest:
        settled(page)
    box = page.get_by_role("textbox", name=label, exact=True)
    box.fill(text)
    box.press("Enter")


def option(page, label, name):
    """One of a few is chosen from a list."""
    page.get_by_role("button", name=re.compile(f"{label}$")).click()
    page.get_by_role("option", name=name, exact=True).click()
    settled(page)


def menu(page, name, item):
    """Chooses from what more there is for a shot."""
    page.get_by_role("button", name=f"More for {name}", exact=True).click()
    page.get_by_role("menuitem", name=item, exact=True).click()


def lose_first_answer(page, address, method="POST"):
    """The server does what is asked of it first, and is cut off before it can say so; gives the status it would have."""
    page.told_on_purpose.append("ERR_FAILED")
    lost = []

    def cut_off(route):
        if lost or route.request.method != method:
            return route.continue_()
        lost.append(route.fetch().status)
        return route.abort()

    page.route(address, cut_off)
    return lost


def before_all(page, script):
    """Run a script in the page before any of its own. That cannot be taken back: the tab is no other test's."""
    page.of_its_own = True
    page.add_init_script(script)


def slow(page, path, ms=500):
    """The answers of a path come late from the next page on, as over a slow line; the page's hands go on meanwhile."""
    before_all(
        page,
        """(() => {
            const ask = window.fetch;
            window.fetch = async (...what) => {
                if (String(what[0].url ?? what[0]).includes("PATH")) await new Promise((late) => setTimeout(late, MS));
                return ask(...what);
            };
        })()""".replace("PATH", path).replace("MS", str(ms)),
    )
