"""axe-core finds nothing on any screen: names, roles, contrast, targets large enough to be hit.

Rules: WCAG 2.2, levels A and AA, and axe's best practices, with its rules on target size and on names that hold the
visible label, which it leaves off by itself.
"""

import pytest
from playwright.sync_api import expect
from tests.desk.hands import choose, instrument, menu, open_demo, settled
from tests.files import shed

from zevlo.api.views import MOST_FRAMES
from zevlo.demo.shots import SHOTS
from zevlo.settings import ROOT

AXE = (ROOT / "desk/node_modules/axe-core/axe.min.js").read_text()
RULES = {"target-size": {"enabled": True}, "label-content-name-mismatch": {"enabled": True}}
BESIDE_A_DIALOG = '<div style="display: contents;">'
"""React Aria puts a button for readers that closes a popover beside the popover's dialog, where axe wants a landmark."""
NAME = "Wheel room, looking NW"


def findings(page):
    """What axe has against the page as it is, one line for each place."""
    settled(page)
    # A colour on its way from one to another has not the contrast of either.
    page.evaluate("() => Promise.allSettled(document.getAnimations().map((one) => one.finished))")
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE)
    found = page.evaluate("(rules) => axe.run(document, { rules, resultTypes: ['violations'] })", RULES)
    return [
        f"{one['id']}: {node['html'][:150]} {' '.join(node['failureSummary'].split())[:160]}"
        for one in found["violations"]
        for node in one["nodes"]
        if not (one["id"] == "region" and node["html"] == BESIDE_A_DIALOG)
    ]


def first_page(page):
    page.goto("/")
    expect(page.get_by_role("button", name="Open Tide Tower Pottery").locator("img")).to_have_count(
        min(len(SHOTS), MOST_FRAMES)
    )


def frame(page):
    open_demo(page)
    choose(page, NAME)


def set_room(page):
    open_demo(page)
    page.get_by_role("button", name="Set", exact=True).click()
    page.wait_for_selector("[data-finder=ready]")


def lab(page):
    frame(page)
    page.get_by_role("button", name="Make a proof").click()
    page.get_by_role("button", name="Lab", exact=True).click()
    expect(page.locator("[data-print]")).to_have_count(1)


def two_looks(page):
    page.get_by_role("button", name="One look").click()
    page.get_by_role("menuitemradio", name="Two side by side").click()
    menu(page, NAME, "Keep in sight")


def shot_menu(page):
    page.get_by_role("button", name=f"More for {NAME}", exact=True).click()


def trouble(page):
    instrument(page, "Focus")
    box = page.get_by_role("textbox", name="Focus distance")
    box.fill("0.02")
    box.press("Enter")
    expect(page.get_by_role("alert")).to_be_visible()


def suggested_stands(page):
    page.get_by_role("button", name="New shot", exact=True).click()
    page.get_by_role("menuitem", name="At a suggested stand of a room").click()
    expect(page.get_by_label("Suggested stands")).to_be_visible()


def heights(page):
    page.get_by_role("button", name="Place a shot").click()
    page.get_by_role("button", name="Heights of new shots").click()


def stand_ins(page):
    panel = instrument(page, "Stand-ins")
    for kind in ("Sweep", "Standing figure", "Light panel"):
        panel.get_by_role("button", name=kind, exact=True).click()
        settled(page)


def of_menu(item):
    return lambda page: menu(page, NAME, item)


def key(which):
    return lambda page: page.keyboard.press(which)


def pressed(name):
    return lambda page: page.get_by_role("button", name=name).click()


def all_documents(page):
    page.get_by_role("button", name="Documents…").click()
    for kind in ("Shot list", "Plans with the stands", "Camera cards"):
        page.get_by_role("button", name=kind).click()


def an_empty_order(page):
    page.get_by_role("button", name="Order finals…").click()
    expect(page.get_by_text("Tick the pictures that are to be made.")).to_be_visible()


def an_order(page):
    page.get_by_role("button", name="All frames").click() if page.get_by_role(
        "button", name="All frames"
    ).count() else None
    page.get_by_role("button", name="All frames").click()
    page.locator("button[aria-haspopup=listbox]").filter(has_text="none").last.click()
    page.get_by_role("option", name="half").click()
    expect(page.get_by_role("button", name=f"Order {len(SHOTS)} pictures")).to_be_enabled()


WALKS = {
    frame: {
        "two looks": two_looks, "a shot's menu": shot_menu, "trouble": trouble,
        "copying": of_menu("Copy settings to others…"), "takes": of_menu("Takes…"), "labels": of_menu("Labels and colour…"),
        "another": of_menu("Duplicate with one change…"), "keys": key("?"), "heights": heights,
        "suggested stands": suggested_stands,
    },
    set_room: {"stand-ins": stand_ins, "keys": key("?")},
    lab: {"cameras out": pressed("Cameras to another program…"), "cameras in": pressed("Cameras from a file…"), "documents": all_documents, "an empty order": an_empty_order, "an order": an_order},
}  # fmt: skip


@pytest.mark.parametrize("room", WALKS, ids=lambda one: one.__name__)
def test_axe_finds_nothing_in_a_room_its_instruments_and_what_opens_over_it(page, room):
    room(page)
    found = {"as it opens": findings(page)}
    for name in page.locator("[data-instrument]").evaluate_all("all => all.map((one) => one.dataset.instrument)"):
        instrument(page, name)
        found[name] = findings(page)
    assert room is lab or len(found) >= 6
    for name, opens in WALKS[room].items():
        opens(page)
        found[name] = findings(page)
        page.keyboard.press("Escape")
        settled(page)
    assert {name: lines for name, lines in found.items() if lines} == {}


def test_axe_finds_nothing_on_the_first_page_and_where_there_is_none(page, tmp_path):
    first_page(page)
    assert findings(page) == []
    broken, model = tmp_path / "broken.glb", tmp_path / "hut.zip"
    broken.write_bytes(b"glTF and nothing else")
    model.write_bytes(shed.obj_zip(scale=100.0, y_up=True))
    page.set_input_files("input[type=file]", broken)
    expect(page.get_by_role("alert")).to_be_visible()
    assert findings(page) == []
    page.get_by_role("button", name="Dismiss").click()
    page.set_input_files("input[type=file]", model)
    expect(page.get_by_text("4.00 m wide, 3.05 m deep, 2.70 m high")).to_be_visible()
    assert findings(page) == []
    page.told_on_purpose.append("status of 404")
    page.goto("/00000000-0000-4000-8000-000000000000/frame")
    expect(page.get_by_role("alert")).to_be_visible()
    assert findings(page) == []


def test_axe_would_find_something(page):
    """A check that cannot fail is none: a nameless button is found."""
    first_page(page)
    page.evaluate("() => document.querySelector('main').insertAdjacentHTML('beforeend', '<button></button>')")
    assert any(one.startswith("button-name") for one in findings(page))
