"""The whole story in a real browser: from a model to its picture."""

import re

import pytest
from playwright.sync_api import expect
from tests.desk.hands import (
    DEMO,
    choose,
    drag,
    eventually,
    named,
    open_demo,
    paper_place,
    settled,
    shots,
    stands_at,
    undo,
)
from tests.files.test_import_model import glb_of

from zevlo.api.views import MOST_FRAMES
from zevlo.demo.shots import SHOTS
from zevlo.store import prints


def test_the_first_page_shows_the_demo_and_takes_a_model(page, api, tmp_path):
    page.goto("/")
    expect(page.get_by_role("button", name=DEMO).locator("img")).to_have_count(min(len(SHOTS), MOST_FRAMES))
    good, bad = tmp_path / "garden_shed.glb", tmp_path / "broken.glb"
    good.write_bytes(glb_of())
    bad.write_bytes(b"glTF and nothing else")
    page.set_input_files("input[type=file]", bad)
    expect(page.get_by_role("alert")).to_contain_text("was not taken in")
    page.get_by_role("button", name="Dismiss").click()
    page.set_input_files("input[type=file]", good)
    expect(page.get_by_text("2.00 m wide, 4.00 m deep, 3.00 m high")).to_be_visible()
    page.get_by_role("button", name="Open it").click()
    page.wait_for_selector("[data-finder=ready]")
    expect(page.get_by_text("Looking around")).to_be_visible()
    page.locator("[role=application]").focus()
    page.keyboard.press("ArrowUp")
    page.get_by_role("button", name="New shot of this view").first.click()
    expect(page.get_by_role("button", name=re.compile(r"^Shot 1, Looking"))).to_be_visible()
    page.get_by_role("button", name="All projects").click()
    page.get_by_role("button", name="Delete Garden shed").click()
    expect(page.get_by_role("button", name="Open Garden shed")).to_have_count(0)
    page.get_by_role("button", name=re.compile("Undo: Delete project")).click()
    expect(page.get_by_role("button", name="Open Garden shed")).to_be_visible()


def test_place_a_shot_in_plan_and_move_it_by_hand(page, api):
    project = open_demo(page)
    choose(page, "Wheel room, looking NW")
    before = len(shots(api, project))
    page.get_by_role("button", name="Place a shot").click()
    drag(page, paper_place(page, "Plan", 5.5, 1.2), paper_place(page, "Plan", 2.0, 4.0))
    eventually(lambda: _grew(api, project, before))
    made = shots(api, project)[2]["shot"]
    assert made["stand"]["position"] == pytest.approx([5.5, 1.2, 1.6764], abs=0.03)
    assert made["stand"]["aim"] == pytest.approx([2.0, 4.0, 0.9144], abs=0.03)
    expect(page.locator("[data-drawing=Section]")).to_contain_text("1.68 m above floor")
    stands_at(page, "Stand in plan", 5.5, 1.2)
    drag(page, paper_place(page, "Plan", 5.5, 1.2), paper_place(page, "Plan", 6.5, 1.8))
    eventually(lambda: _at(api, project, 2, "position", [6.5, 1.8, 1.68]))
    stands_at(page, "Aim in plan", 2.0, 4.0)
    drag(page, paper_place(page, "Plan", 2.0, 4.0), paper_place(page, "Plan", 2.5, 4.6))
    eventually(lambda: _at(api, project, 2, "aim", [2.5, 4.6, 0.91]))
    stands_at(page, "Lens height in section", 0, 1.68)
    drag(page, paper_place(page, "Section", 0, 1.68), paper_place(page, "Section", 0, 1.2))
    eventually(lambda: _at(api, project, 2, "position", [6.5, 1.8, 1.2]))
    for _ in range(4):
        undo(page)
    eventually(lambda: _count(api, project, before))


def _grew(api, project, before):
    assert len(shots(api, project)) == before + 1


def _count(api, project, wanted):
    assert len(shots(api, project)) == wanted


def _at(api, project, index, end, wanted):
    assert shots(api, project)[index]["shot"]["stand"][end] == pytest.approx(wanted, abs=0.04)


def test_instruments_write_exact_numbers_and_the_strip_tells_them(page, api):
    project = open_demo(page)
    name = "Wheel room, looking NW"
    choose(page, name)

    def field(instrument, label, text):
        if page.locator(f"[data-instrument={instrument}] h2 button").get_attribute("aria-expanded") != "true":
            page.locator(f"[data-instrument={instrument}] h2 button").click()
        box = page.get_by_role("textbox", name=label, exact=True)
        box.fill(text)
        box.press("Enter")

    def shot():
        return named(api, project, name)["shot"]

    field("Lens", "Focal length", "35 mm")
    eventually(lambda: _equal(shot()["lens"]["focal_length_mm"], 35))
    expect(page.get_by_text("54.4° × 32.3°").first).to_be_visible()
    field("Focus", "Focus distance", "4.37")
    eventually(lambda: _equal(shot()["focus"]["distance_m"], 4.37))
    field("Stand", "Above floor", "1.25 m")
    eventually(lambda: _equal(round(shot()["stand"]["position"][2], 4), 1.25))
    field("Stand", "Heading", "300")
    eventually(lambda: _equal(page.locator("[data-instrument=Stand] h2").inner_text().split("NW ")[1][:3], "300"))
    box = page.get_by_role("textbox", name="Above floor")
    box.press("ArrowUp")
    eventually(lambda: _equal(round(shot()["stand"]["position"][2], 4), 1.3))
    page.locator("[data-instrument=Guides] h2 button").click()
    page.get_by_role("button", name="Centre").click()
    eventually(lambda: _equal([name for name, on in shot()["guides"].items() if on], ["thirds", "centre"]))
    expect(page.get_by_role("button", name="Back to take 1")).to_be_visible()
    page.get_by_role("button", name="Back to take 1").click()
    eventually(lambda: _equal(shot()["lens"]["focal_length_mm"], 28))


def _equal(found, wanted):
    assert found == wanted


def test_tripod_and_hand(page, api):
    project = open_demo(page)
    name = "Shelf wall, square on"
    choose(page, name)
    finder = page.locator("[role=application]").bounding_box()
    middle = (finder["x"] + finder["width"] / 2, finder["y"] + finder["height"] / 2)
    start = named(api, project, name)["shot"]
    drag(page, middle, (middle[0] + 80, middle[1]))
    settled(page)
    assert named(api, project, name)["shot"] == start, "on tripod, dragging moves nothing"
    page.get_by_role("button", name="On tripod").click()
    drag(page, middle, (middle[0] + 80, middle[1]))
    eventually(lambda: _differs(named(api, project, name)["shot"]["stand"], start["stand"]))
    assert named(api, project, name)["shot"]["stand"]["position"] == start["stand"]["position"]
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="On tripod")).to_be_visible()
    page.get_by_role("button", name="On tripod").click()
    choose(page, "Teapot hero")
    choose(page, name)
    expect(page.get_by_role("button", name="On tripod")).to_be_visible()
    page.keyboard.press("Control+z")
    eventually(lambda: _equal(named(api, project, name)["shot"], start))
    page.get_by_role("button", name=f"More for {name}").click()
    page.get_by_role("menuitem", name="Lock").click()
    expect(page.get_by_role("button", name="Locked: unlock")).to_be_visible()
    page.get_by_role("button", name="Locked: unlock").click()
    expect(page.get_by_role("button", name="On tripod")).to_be_visible()


def _differs(a, b):
    assert a != b


def test_pick_focus_in_the_picture(page, api):
    project = open_demo(page)
    name = "Shelf wall, square on"
    choose(page, name)
    page.locator("[data-instrument=Focus] h2 button").click() if page.locator(
        "[data-instrument=Focus] h2 button"
    ).get_attribute("aria-expanded") != "true" else None
    page.get_by_role("button", name="Pick in picture").click()
    finder = page.locator("[role=application]").bounding_box()
    page.mouse.click(finder["x"] + finder["width"] / 2, finder["y"] + finder["height"] / 2)
    eventually(lambda: _differs(named(api, project, name)["shot"]["focus"]["distance_m"], 4.75))
    assert 4.4 < named(api, project, name)["shot"]["focus"]["distance_m"] < 5.0
    page.keyboard.press("Control+z")
    eventually(lambda: _equal(named(api, project, name)["shot"]["focus"]["distance_m"], 4.75))


def test_shot_list_rename_duplicate_delete_and_reload(page, api):
    project = open_demo(page)
    choose(page, "Teapot hero")
    page.get_by_role("button", name="More for Teapot hero").click()
    page.get_by_role("menuitem", name="Duplicate", exact=True).click()
    expect(page.get_by_role("button", name=re.compile(r"^Shot 5, Teapot hero 2$"))).to_be_visible()
    page.get_by_role("button", name="More for Teapot hero 2").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_role("textbox", name="Name of the shot").fill("Teapot, <b>spout</b> left")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Teapot, <b>spout</b> left").first).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Shot 5, Teapot, <b>spout</b> left", exact=True)).to_be_visible()
    page.get_by_role("button", name="More for Teapot, <b>spout</b> left").click()
    page.get_by_role("menuitem", name="Delete").click()
    eventually(lambda: _count(api, project, len(SHOTS)))
    page.keyboard.press("Control+z")
    eventually(lambda: _count(api, project, len(SHOTS) + 1))
    for _ in range(2):
        undo(page)
    eventually(lambda: _count(api, project, len(SHOTS)))


def test_set_room_lifts_off_and_puts_back(page, api):
    project = open_demo(page)
    page.get_by_role("button", name="Set", exact=True).click()
    page.get_by_role("textbox", name="Find a part").fill("ceiling boards")
    page.get_by_role("button", name="Lift off Ceiling boards").click()
    expect(page.get_by_text("Lifted off while working: 1 part.")).to_be_visible()
    assert len(api.get(f"/api/projects/{project}").json()["lifted"]) == 1
    page.get_by_role("button", name="Put all back").click()
    eventually(lambda: _equal(api.get(f"/api/projects/{project}").json()["lifted"], []))


def test_undoing_a_lift_brings_the_part_back_into_the_drawings(page, api):
    project = open_demo(page)
    choose(page, "Wheel room, looking NW")
    cut = page.locator("[data-drawing=Section] path[fill-rule=nonzero]")
    settled(page)
    whole = cut.get_attribute("d")
    page.get_by_role("button", name="Set", exact=True).click()
    page.get_by_role("textbox", name="Find a part").fill("ceiling boards")
    page.get_by_role("button", name="Lift off Ceiling boards").click()
    eventually(lambda: _equal(len(api.get(f"/api/projects/{project}").json()["lifted"]), 1))
    page.get_by_role("button", name="Frame", exact=True).click()
    eventually(lambda: _differs(cut.get_attribute("d"), whole))
    page.keyboard.press("Control+z")
    eventually(lambda: _equal(cut.get_attribute("d"), whole))


def test_on_a_narrow_screen_nothing_one_must_reach_is_cut_off(page):
    page.set_viewport_size({"width": 1100, "height": 700})
    open_demo(page)
    choose(page, "Wheel by the window")
    for name in ("On tripod", "Scout", "Make a proof", "Place a shot"):
        box = page.get_by_role("button", name=name, exact=True).bounding_box()
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= 1100
        assert page.evaluate("([x, y]) => document.elementFromPoint(x, y).closest('button').innerText", [box["x"] + 4, box["y"] + 4]) == name  # fmt: skip
    assert page.evaluate("document.documentElement.scrollWidth") <= 1100
    barrel = page.get_by_role("group", name="Lens barrel")
    expect(barrel.get_by_text("2", exact=True).filter(visible=True)).to_have_count(2)


def test_scouting_moves_nobodys_camera(page, api):
    project = open_demo(page)
    choose(page, "Wheel room, looking NW")
    before = shots(api, project)
    page.get_by_role("button", name="Scout", exact=True).click()
    finder = page.locator("[role=application]")
    drawn = finder.locator("canvas").get_attribute("data-drawn")
    box = finder.bounding_box()
    drag(page, (box["x"] + 300, box["y"] + 200), (box["x"] + 380, box["y"] + 220))
    settled(page)
    assert finder.locator("canvas").get_attribute("data-drawn") != drawn
    page.get_by_role("button", name="Back to the shot").click()
    expect(page.get_by_role("button", name="On tripod")).to_be_visible()
    assert shots(api, project) == before


def test_who_has_gone_elsewhere_is_not_brought_back_by_a_late_answer(page):
    """A new shot is gone to when it is there; but not by who looks at something else by then."""
    open_demo(page)
    late = []
    page.route("**/duplicate", lambda route: late.append((route, route.fetch())))
    page.get_by_role("button", name=f"More for {SHOTS[0].name}").click()
    page.get_by_role("menuitem", name="Duplicate", exact=True).click()
    # News of it come before its answer.
    expect(page.get_by_role("button", name=re.compile(rf"^Shot \d+, {SHOTS[0].name} 2$"))).to_be_visible()
    while not late:
        page.wait_for_timeout(50)
    page.get_by_role("button", name="All projects").click()
    expect(page.get_by_role("button", name=DEMO)).to_be_visible()
    route, response = late[0]
    with page.expect_response("**/duplicate"):
        route.fulfill(response=response)
    settled(page)
    assert page.url.rpartition("/")[2] == ""
    expect(page.get_by_role("button", name=DEMO)).to_be_visible()


def test_a_proof_from_order_to_download(page, api, served, monkeypatch):
    monkeypatch.setattr(prints, "PROOF_SAMPLES", 8)
    open_demo(page)
    choose(page, "Tower from the slip")
    page.get_by_role("button", name="Make a proof").click()
    page.get_by_role("button", name="Lab", exact=True).click()
    card = page.locator("[data-print]").first
    expect(card).to_contain_text("Tower from the slip")
    with served.worker():
        expect(card).to_have_attribute("data-state", "done", timeout=240_000)
    card.get_by_role("button", name="Open the proof of Tower from the slip large").click()
    large = page.get_by_alt_text("Proof of Tower from the slip, large")
    expect(large).to_be_visible()
    assert large.evaluate("image => [image.naturalWidth, image.naturalHeight]") == [768, 960]
    box = large.bounding_box()
    assert box["y"] + box["height"] <= 800, "it opens whole"
    assert box["width"] / box["height"] == pytest.approx(768 / 960, abs=0.01)
    large.click()
    eventually(lambda: _equal(large.bounding_box()["height"], 960))
    with page.expect_download() as download:
        page.get_by_role("dialog").get_by_role("link", name="OpenEXR").click()
    assert download.value.suggested_filename == "Tower from the slip.exr"
    page.get_by_role("button", name="Close").click()
    expect(large).to_have_count(0)


def test_keyboard_sheet_and_unknown_address(page):
    open_demo(page)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("the clean picture")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
