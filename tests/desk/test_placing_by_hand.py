"""Placing in the browser, each way there is; and what goes with many shots."""

import re

import pytest
from playwright.sync_api import expect
from tests.desk.hands import (
    choose,
    drag,
    eventually,
    field,
    instrument,
    menu,
    named,
    open_demo,
    paper_place,
    settled,
    shots,
)

from zevlo.demo.shots import SHOTS

NAME = "Wheel room, looking NW"


@pytest.fixture
def frame(page, api):
    """The demo's Frame room with the wheel room's shot; whatever a test does there is undone after it."""
    project = open_demo(page)
    before = api.get(f"/api/projects/{project}").json()
    choose(page, NAME)
    settled(page)
    yield project
    page.goto("about:blank")
    while api.get(f"/api/projects/{project}").json()["undo"] not in (None, before["undo"]):
        api.post(f"/api/projects/{project}/undo")
    assert [s["shot"] for s in shots(api, project)] == [s["shot"] for s in before["shots"]]


def stand(api, project, name=NAME):
    return named(api, project, name)["shot"]["stand"]


def check(found, wanted, by=1e-6):
    assert found == pytest.approx(wanted, abs=by)


def pick(page, x, y):
    box = page.get_by_role("application", name="Finder, through the lens").locator("svg[data-frame]")
    left, top, width, height = map(float, box.get_attribute("data-frame").split(","))
    area = page.get_by_role("application", name="Finder, through the lens").bounding_box()
    page.mouse.click(area["x"] + left + x * width, area["y"] + top + (1 - y) * height)


def test_from_what_the_scout_view_shows(page, api, frame):
    page.get_by_role("button", name="Scout", exact=True).click()
    settled(page)
    page.get_by_role("application", name="Scout view").focus()
    page.keyboard.press("ArrowLeft")
    settled(page)
    page.get_by_role("button", name="New shot of this view").first.click()
    expect(page.get_by_role("button", name=re.compile(r"^Shot 3, Wheel room, looking NW, 28 mm$"))).to_be_visible()
    made = stand(api, frame, "Wheel room, looking NW, 28 mm")
    assert made["position"] != stand(api, frame)["position"]


def test_in_plan_at_heights_that_are_remembered(page, api, frame):
    page.get_by_role("button", name="Place a shot").click()
    page.get_by_role("button", name="Heights of new shots").click()
    page.get_by_role("button", name=re.compile("^Seated, level")).click()
    field(page, "Lens above floor", "4 ft")
    eventually(lambda: check(api.get(f"/api/projects/{frame}").json()["habits"]["lens_m"], 1.2192))
    page.keyboard.press("Escape")
    drag(page, paper_place(page, "Plan", 5.5, 1.2), paper_place(page, "Plan", 2.0, 4.0))
    eventually(lambda: check(len(shots(api, frame)), len(SHOTS) + 1, 0))
    made = shots(api, frame)[2]["shot"]["stand"]
    assert (made["position"][2], made["aim"][2]) == (pytest.approx(1.2192, abs=2e-3), pytest.approx(1.2192, abs=2e-3))


def test_by_numbers_for_both_ends_in_any_unit(page, api, frame):
    instrument(page, "Stand")
    field(page, "Above floor", "5'6\"")
    eventually(lambda: check(stand(api, frame)["position"][2], 1.6764, 1e-4))
    field(page, "Stand east", "650 cm")
    eventually(lambda: check(stand(api, frame)["position"][0], 6.5, 1e-4))
    field(page, "Aim height", "3 ft")
    eventually(lambda: check(stand(api, frame)["aim"][2], 0.9144))
    field(page, "Distance to aim", "2.5+0.5")
    eventually(
        lambda: check(
            sum((a - b) ** 2 for a, b in zip(stand(api, frame)["aim"], stand(api, frame)["position"], strict=True)),
            9.0,
            1e-5,
        )
    )
    field(page, "Heading", "270+45")
    expect(page.locator('[data-instrument="Stand"] h2')).to_contain_text("NW 315°")
    field(page, "Roll", "about two")
    expect(page.get_by_text("is not an angle. Write for example")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Level", exact=True).click()
    eventually(lambda: check(stand(api, frame)["aim"][2], stand(api, frame)["position"][2]))


def test_turned_exactly_and_faced_the_other_way(page, api, frame):
    instrument(page, "Stand")
    before = stand(api, frame)
    page.get_by_role("button", name="Turn 90° right").click()
    east, north = before["aim"][0] - before["position"][0], before["aim"][1] - before["position"][1]
    eventually(
        lambda: check(
            stand(api, frame)["aim"][:2], [before["position"][0] + north, before["position"][1] - east], 1e-12
        )
    )
    page.get_by_role("button", name="Face the other way").click()
    eventually(lambda: check(stand(api, frame)["aim"][0], before["position"][0] - north, 1e-12))


def test_a_suggested_stand_is_taken_with_one_click(page, api, frame):
    page.get_by_role("button", name="New shot", exact=True).click()
    page.get_by_role("menuitem", name="At a suggested stand of a room").click()
    panel = page.get_by_label("Suggested stands")
    panel.get_by_role("button", name=re.compile("Wheel room")).click()
    page.get_by_role("option", name="Loft, Drying loft").click()
    panel.get_by_role("button", name="Show Drying loft").click()
    expect(panel.get_by_role("button", name="Show Drying loft")).to_have_count(0)
    panel.get_by_role("button", name=re.compile("Loft")).first.click()
    page.get_by_role("option", name="Wheel room, Workshop floor").click()
    expect(panel.get_by_role("button", name=re.compile("^Take stand A, Square on"))).to_be_visible()
    expect(page.get_by_role("button", name="Take suggested stand B")).to_be_visible()
    panel.get_by_role("button", name=re.compile("^Take stand A, Square on")).click()
    expect(page.get_by_role("button", name=re.compile(r"^Shot 3, Wheel room, looking [NESW]+, 24 mm$"))).to_be_visible()
    expect(panel).to_have_count(0)
    # The plan is still cut in the loft: it offers the level of the shot.
    page.get_by_role("button", name="Show Workshop floor").click()
    expect(page.get_by_role("button", name="Show Workshop floor")).to_have_count(0)


def test_the_staff_has_named_marks_and_own_ones_and_the_floor_is_stayed_above(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Lens at counter, 0.91 m").focus()
    page.keyboard.press("Enter")
    eventually(lambda: check(stand(api, frame)["position"][2], 0.91, 1e-3))
    page.get_by_role("button", name="Stays above floor").click()
    eventually(lambda: check(stand(api, frame)["above_floor_m"], 0.91, 1e-3))
    expect(page.get_by_text("stays above floor").first).to_be_visible()
    field(page, "Above floor", "1.33")
    expect(page.locator('[data-instrument="Stand"] h2')).to_contain_text("1.33 m")
    page.get_by_role("button", name="Mark this height").click()
    expect(page.get_by_role("button", name="Lens at 1.33 m")).to_be_visible()
    expect(page.locator("[data-drawing=Section]")).to_contain_text("counter")
    page.get_by_role("button", name="Remove this mark").click()
    expect(page.get_by_role("button", name="Lens at 1.33 m")).to_have_count(0)
    eventually(lambda: check(stand(api, frame)["above_floor_m"], 1.33, 1e-3))


def test_moves_of_a_grip_by_steps(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Move by steps").click()
    field(page, "One step", "25 cm")
    eventually(lambda: check(api.get(f"/api/projects/{frame}").json()["habits"]["step_m"], 0.25))
    before = stand(api, frame)
    page.get_by_role("button", name="East east").click()
    eventually(lambda: check(stand(api, frame)["position"][0], before["position"][0] + 0.25))
    check(stand(api, frame)["aim"][0], before["aim"][0] + 0.25)
    page.get_by_role("button", name="The aim goes along").click()
    page.get_by_role("button", name="Height up").click()
    eventually(lambda: check(stand(api, frame)["position"][2], before["position"][2] + 0.25))
    check(stand(api, frame)["aim"][2], before["aim"][2])


def test_keys_turn_the_camera_only_in_hand(page, api, frame):
    before = stand(api, frame)
    page.get_by_role("application", name="Finder, through the lens").focus()
    page.keyboard.press("Control+ArrowRight")
    settled(page)
    assert stand(api, frame) == before, "on the tripod nothing moves"
    page.get_by_role("button", name="On tripod").click()
    page.get_by_role("application", name="Finder, through the lens").focus()
    page.keyboard.press("Control+ArrowRight")
    eventually(lambda: _moved(stand(api, frame)["aim"], before["aim"]))
    assert stand(api, frame)["position"] == before["position"]


def _moved(found, before):
    assert found != before


def test_what_is_followed_keeps_its_place_until_let_go(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Follow aim…").click()
    expect(page.get_by_text("Press on what is to keep its place in the frame")).to_be_visible()
    pick(page, 0.42, 0.4)
    eventually(lambda: _follows(api, frame))
    held = stand(api, frame)["follow"]
    assert held["at"] == pytest.approx([0.42, 0.4], abs=0.01)
    expect(page.get_by_text(re.compile("^Follows “"))).to_be_visible()
    settled(page)
    drag(page, paper_place(page, "Plan", 6.9, 0.55), paper_place(page, "Plan", 5.9, 0.9))
    eventually(lambda: check(stand(api, frame)["position"][0], 5.9, 0.05))
    assert stand(api, frame)["follow"]["at"] == pytest.approx(held["at"], abs=1e-9)
    page.get_by_role("button", name="Let go").click()
    eventually(lambda: _equal(stand(api, frame)["follow"], None))


def _follows(api, project):
    assert stand(api, project)["follow"] is not None


def _equal(found, wanted):
    assert found == wanted


def test_parts_are_left_out_by_a_click_and_put_back(page, api, frame):
    panel = instrument(page, "Left out")
    panel.get_by_role("button", name="Pick in picture").click()
    pick(page, 0.45, 0.25)
    eventually(lambda: _equal(len(named(api, frame, NAME)["shot"]["left_out"]), 1))
    pick(page, 0.1, 0.75)
    eventually(lambda: _equal(len(named(api, frame, NAME)["shot"]["left_out"]), 2))
    page.keyboard.press("Escape")
    expect(panel.locator("h2")).to_contain_text("2 things")
    panel.get_by_role("button", name=re.compile("^Put (?!all ).+ back$")).first.click()
    eventually(lambda: _equal(len(named(api, frame, NAME)["shot"]["left_out"]), 1))
    panel.get_by_role("button", name="Put all back").click()
    expect(panel.locator("h2")).to_contain_text("nothing")
    # By name too: what stands behind something cannot be pressed in the picture.
    finding = panel.get_by_role("textbox", name="Find a part to leave out")
    finding.fill("no such thing")
    expect(panel.get_by_text("No part is called that.")).to_be_visible()
    finding.fill("wheel head")
    panel.get_by_role("button", name=re.compile("^Leave .* out$")).first.click()
    eventually(lambda: _equal(len(named(api, frame, NAME)["shot"]["left_out"]), 1))
    assert named(api, frame, NAME)["shot"]["left_out"][0].lower().endswith("wheel head")
    expect(panel.get_by_text("left out", exact=True)).to_be_visible()


def test_two_looks_and_shots_kept_in_sight(page, api, frame):
    page.get_by_role("button", name="One look").click()
    page.get_by_role("menuitemradio", name="Two side by side").click()
    expect(page.get_by_role("application", name="Scout view")).to_be_visible()
    expect(page.get_by_role("application", name="Finder, through the lens")).to_be_visible()
    before = stand(api, frame)
    page.get_by_role("application", name="Scout view").focus()
    page.keyboard.press("ArrowUp")
    settled(page)
    assert stand(api, frame) == before
    menu(page, NAME, "Keep in sight")
    menu(page, "Teapot hero", "Keep in sight")
    sight = page.get_by_label("Kept in sight")
    expect(sight.locator("canvas")).to_have_count(2)
    drawn = sight.locator("canvas").first.get_attribute("data-drawn")
    instrument(page, "Stand")
    page.get_by_role("button", name="Turn 90° left").click()
    eventually(lambda: _moved(sight.locator("canvas").first.get_attribute("data-drawn"), drawn))
    sight.get_by_role("button", name="Open Teapot hero").click()
    expect(page.get_by_role("button", name="Shot 4, Teapot hero", exact=True)).to_have_attribute("aria-current", "true")
    for name in (NAME, "Teapot hero"):
        sight.get_by_role("button", name=f"Keep {name} in sight no longer").click()
    page.get_by_role("button", name="Two looks").click()
    page.get_by_role("menuitemradio", name="One look").click()
    expect(page.get_by_role("application")).to_have_count(1)


def test_takes_are_compared_and_gone_back_to(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Turn 90° right").click()
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Kept as take 2")).to_be_visible()
    menu(page, NAME, "Takes…")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Since then: turned 90.0° right")
    name = dialog.get_by_role("textbox", name="Name of take 1")
    name.fill("the wide one")
    name.press("Enter")
    dialog.get_by_role("button", name="Back to take 1").click()
    eventually(lambda: _equal(named(api, frame, NAME)["take"]["name"], "the wide one"))
    page.keyboard.press("Escape")
    expect(page.get_by_text("Kept as take 1")).to_be_visible()


def test_settings_are_copied_after_a_preview(page, api, frame):
    menu(page, NAME, "Copy settings to others…")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("85 → 28 mm")).to_be_visible()
    dialog.get_by_text("Tower from the slip").click()
    dialog.get_by_role("button", name=f"Change {len(SHOTS) - 2} shots").click()
    eventually(
        lambda: _equal(
            [s["shot"]["lens"]["focal_length_mm"] for s in shots(api, frame)], [24, *[28] * (len(SHOTS) - 1)]
        )
    )


def test_a_duplicate_with_one_change_labels_and_finding(page, api, frame):
    menu(page, NAME, "Duplicate with one change…")
    dialog = page.get_by_role("dialog")
    field(page, "Focal length", "50")
    dialog.get_by_role("button", name="Make it").click()
    twin = f"{NAME} 2"
    expect(page.get_by_role("button", name=f"Shot 3, {twin}", exact=True)).to_be_visible()
    assert named(api, frame, twin)["shot"]["lens"]["focal_length_mm"] == 50
    menu(page, twin, "Labels and colour…")
    page.get_by_role("textbox", name="New label").fill("client")
    page.get_by_role("button", name="Add", exact=True).click()
    eventually(lambda: _equal(named(api, frame, twin)["labels"], ["client"]))
    page.get_by_role("button", name="Orange").click()
    eventually(lambda: _equal(named(api, frame, twin)["colour"], "#E69F00"))
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("textbox", name="Find a shot").fill("wheel 28")
    expect(page.get_by_text(f"1 of {len(SHOTS) + 1} shots")).to_be_visible()
    page.get_by_role("textbox", name="Find a shot").fill("")
    page.get_by_role("button", name="Filter", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="client").click()
    page.keyboard.press("Escape")
    expect(page.get_by_text(f"1 of {len(SHOTS) + 1} shots")).to_be_visible()
    page.get_by_role("button", name="Filter, on").click()
    page.get_by_role("dialog").get_by_role("button", name="Show all").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    menu(page, twin, "Name it by what it shows")
    expect(page.get_by_role("button", name="Shot 3, Wheel room, looking NW, 50 mm", exact=True)).to_be_visible()


def test_markers_are_shown_for_all_for_one_or_not_at_all(page, api, frame):
    plan = page.locator("[data-drawing=Plan]")
    others = plan.get_by_role("button", name=re.compile("^Choose shot"))
    expect(others).to_have_count(len(SHOTS) - 1)
    plan.get_by_role("button", name="Markers").click()
    page.get_by_role("button", name="Only this shot").click()
    expect(others).to_have_count(0)
    page.get_by_role("button", name="All", exact=True).click()
    page.get_by_role("button", name="Show where shots stand").click()
    page.keyboard.press("Escape")
    expect(others).to_have_count(0)
    plan.get_by_role("button", name="Markers: off").click()
    page.get_by_role("button", name="Show where shots stand").click()
    page.keyboard.press("Escape")
    expect(others).to_have_count(len(SHOTS) - 1)
