"""What a browser remembers: each thing under a name of its own, and nothing it may hold keeps the desk from working."""

import re
from collections import Counter

import pytest
from playwright.sync_api import expect
from tests.desk.hands import before_all, choose, open_demo, settled

from zevlo.settings import ROOT

DESK = ROOT / "desk" / "src"
TOWER = "Tower from the slip"


def test_no_name_is_given_to_two_things():
    names = Counter(
        name
        for path in [*DESK.rglob("*.ts"), *DESK.rglob("*.tsx")]
        for name in re.findall(r"[\"`](zevlo-[a-z-]+)", path.read_text())
    )
    assert len(names) > 10
    assert [name for name, times in names.items() if times > 1] == []
    for what in (r"<Fold name=\"([a-z-]+)\"", r"useSplit\(\"([a-z-]+)\""):
        own = Counter(name for path in DESK.rglob("*.tsx") for name in re.findall(what, path.read_text()))
        assert own
        assert set(own.values()) == {1}


def test_two_looks_and_where_a_drawing_was_looked_at_are_both_there_when_one_comes_back(page, served):
    """Whichever was chosen last."""
    open_demo(page)
    choose(page, TOWER)
    plan, looks = page.locator("[data-drawing=Plan]"), page.get_by_role("application")

    def look_closer():
        before = plan.get_attribute("data-eye")
        box = plan.bounding_box()
        page.mouse.move(box["x"] + 60, box["y"] + box["height"] / 2)
        page.mouse.wheel(0, -100)
        expect(plan).not_to_have_attribute("data-eye", before)
        settled(page)

    def come_back():
        looked = plan.get_attribute("data-eye")
        page.reload()
        page.wait_for_selector("[data-finder=ready]")
        expect(page.get_by_role("button", name="Two looks")).to_be_visible()
        expect(plan).to_have_attribute("data-eye", looked)
        expect(looks).to_have_count(both)

    look_closer()
    alone = looks.count()
    page.get_by_role("button", name="One look").click()
    page.get_by_role("menuitemradio").nth(1).click()
    expect(looks).not_to_have_count(alone)
    settled(page)
    both = looks.count()
    come_back()
    look_closer()
    come_back()


@pytest.mark.parametrize("kept", ['"x"', "5", "[5]", '[["x", {"scale": null}]]', "{}", "{"])
def test_whatever_the_browser_holds_under_our_names_the_desk_works(kept, page, served):
    before_all(
        page,
        "const own = Storage.prototype.getItem; Storage.prototype.getItem = function (name) {"
        f" return name.startsWith('zevlo-') ? {kept!r} : own.call(this, name); }};",
    )
    project = open_demo(page)
    choose(page, TOWER)
    page.goto(f"/{project}/set")
    expect(page.locator("[data-drawing=Plan]")).to_be_visible()
    settled(page)
    page.goto(f"/{project}/lab/order")
    expect(page.get_by_role("heading", name="A new order")).to_be_visible()
