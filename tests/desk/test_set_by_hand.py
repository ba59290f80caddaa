"""The Set room in the browser: levels and rooms, stand-ins, size and axes, north, lifting, things to look at."""

import re

import pytest
from playwright.sync_api import expect
from tests.desk.hands import (
    drag,
    eventually,
    field,
    handle,
    instrument,
    now,
    open_demo,
    paper_place,
    settled,
    shots,
    stands_at,
    undo,
)
from tests.files import shed


@pytest.fixture
def room(page, api):
    """The demo's Set room; whatever a test does there is undone after it."""
    project = open_demo(page)
    before = api.get(f"/api/projects/{project}").json()
    page.get_by_role("button", name="Set", exact=True).click()
    page.wait_for_selector("[data-finder=ready]")
    settled(page)
    yield project
    page.goto("about:blank")
    while api.get(f"/api/projects/{project}").json()["undo"] not in (None, before["undo"]):
        api.post(f"/api/projects/{project}/undo")
    after = api.get(f"/api/projects/{project}").json()
    assert after["places"] == before["places"]
    assert after["stand_ins"] == before["stand_ins"]


def test_the_tree_of_parts_is_walked_by_keys_to_its_end_and_folds(page, room):
    """All of it is there, though no more is drawn than is seen."""
    tree = page.get_by_role("treegrid", name="Parts")
    rows = tree.get_by_role("row")
    names = [
        part["name"] for part in page.evaluate(f"fetch('/api/projects/{room}').then(r => r.json())")["set"]["parts"]
    ]
    edges = tree.evaluate("(one) => [one.scrollWidth - one.clientWidth, one.scrollTop]")
    assert edges == [0, 0], "nothing of a row is cut off"
    tree.locator("[data-part='0']").click()
    assert rows.count() < 60 < len(names)
    page.keyboard.press("End")
    last = tree.locator(f"[data-part='{len(names) - 1}']")
    expect(last).to_be_in_viewport()
    page.keyboard.press("Enter")
    expect(tree.locator("[aria-selected=true]")).to_contain_text(names[-1])
    page.keyboard.press("Home")
    expect(tree.locator("[data-part='1']")).to_be_visible()
    page.keyboard.press("ArrowLeft")
    expect(tree.locator("[data-part='1']")).to_have_count(0)
    page.keyboard.press("ArrowRight")
    expect(tree.locator("[data-part='1']")).to_be_visible()


def test_a_room_is_drawn_catches_on_walls_and_is_named(page, api, room):
    instrument(page, "Levels and rooms")
    page.get_by_role("button", name="Remove the room Kiln").click()
    expect(page.get_by_role("button", name="Remove the room Kiln")).to_have_count(0)
    page.locator("[data-drawing=Plan]").get_by_role("button", name="Draw a room").click()
    for x, y in [(7.9, 0.08), (11.93, 0.06), (11.95, 3.05), (7.95, 3.05)]:
        spot = paper_place(page, "Plan", x, y)
        page.mouse.move(*spot)
        settled(page)
        page.mouse.click(*spot)
        settled(page)
    page.keyboard.press("Enter")
    eventually(lambda: _called(api, room, "Room 1"))
    drawn = next(r for r in now(api, room)["places"]["rooms"] if r["name"] == "Room 1")
    assert drawn["outline"][0] == pytest.approx([7.86, 0.0], abs=0.02), (
        "on the corner of the walls, not where the hand was"
    )
    name = page.get_by_role("textbox", name="Name of the room Room 1")
    name.fill("Kiln room")
    name.press("Enter")
    eventually(lambda: _called(api, room, "Kiln room"))
    expect(page.get_by_role("slider", name="Corner 1 of Kiln room")).to_be_visible()
    undo(page)
    eventually(lambda: _called(api, room, "Room 1"))


def _called(api, project, name):
    assert name in [r["name"] for r in now(api, project)["places"]["rooms"]]


def test_a_level_is_put_on_a_floor_in_the_section_and_dragged(page, api, room):
    instrument(page, "Levels and rooms")
    page.get_by_role("button", name="Remove the level Drying loft").click()
    eventually(lambda: _levels(api, room, 2))
    page.locator("[data-drawing=Section]").get_by_role("button", name="Add a level").click()
    page.mouse.click(*paper_place(page, "Section", 0.6, 3.35))
    eventually(lambda: _levels(api, room, 3))
    made = now(api, room)["places"]["levels"][2]
    assert made["floor_m"] == pytest.approx(3.2, abs=0.02), "the floor under the press"
    drag(page, handle(page, "Section", f"Floor of {made['name']}"), paper_place(page, "Section", -8, 4.0))
    eventually(lambda: _floor(api, room, 4.0, 0.15))
    settled(page)  # what is filled in while the field itself gets another number stands beside that number
    page.get_by_role("textbox", name="Floor at").first.fill("10'6\"")
    page.get_by_role("textbox", name="Floor at").first.press("Enter")
    eventually(lambda: _floor(api, room, 3.2004, 1e-6))


def _levels(api, project, count):
    assert len(now(api, project)["places"]["levels"]) == count


def _floor(api, project, wanted, by):
    assert now(api, project)["places"]["levels"][-1]["floor_m"] == pytest.approx(wanted, abs=by)


def test_levels_that_were_removed_are_found_again(page, api, room):
    instrument(page, "Levels and rooms")
    for name in ("Drying loft", "Workshop floor", "Slip"):
        page.get_by_role("button", name=f"Remove the level {name}").click()
        expect(page.get_by_role("button", name=f"Remove the level {name}")).to_have_count(0)
    expect(page.get_by_text("There are no levels yet")).to_be_visible()
    expect(page.get_by_text("The geometry shows 3 levels and")).to_be_visible()
    page.get_by_role("button", name="Take what was found").click()
    expect(page.get_by_role("button", name="Remove the level Drying loft")).to_be_visible()
    found = now(api, room)["places"]
    assert [level["floor_m"] for level in found["levels"]][:2] == pytest.approx([0.0, 3.2], abs=0.01)
    assert "Wheel room" in [one["name"] for one in found["rooms"]], "named as the tree names what stands in it"


def test_stand_ins_are_made_to_size_and_moved(page, api, room):
    instrument(page, "Stand-ins")
    page.get_by_role("button", name="Standing figure", exact=True).click()
    expect(page.get_by_role("textbox", name="Stature")).to_be_visible()
    field(page, "Stature", "5'9\"")
    eventually(lambda: _stand_in(api, room, "height_m", 1.7526))
    field(page, "East", "3.2+0.1")
    eventually(lambda: _at(api, room, 0, 3.3))
    field(page, "North", "2")
    eventually(lambda: _at(api, room, 1, 2.0))
    stands_at(page, f"{now(api, room)['stand_ins'][0]['name']} in plan", 3.3, 2.0)
    drag(page, paper_place(page, "Plan", 3.3, 2.0), paper_place(page, "Plan", 6.0, 2.0))
    eventually(lambda: _at(api, room, 0, 6.0, 0.1))
    page.get_by_role("button", name="Sweep", exact=True).click()
    expect(page.get_by_role("img", name="The sweep from the side")).to_be_visible()
    field(page, "Bend radius", "9")
    expect(page.get_by_text("the bend of a sweep cannot be larger than its back is high")).to_be_visible()
    page.keyboard.press("Escape")
    assert now(api, room)["stand_ins"][1]["bend_m"] == 0.5
    page.get_by_role("button", name="Take away Sweep").click()
    eventually(lambda: _equal(len(now(api, room)["stand_ins"]), 1))


def _equal(found, wanted):
    assert found == wanted


def _stand_in(api, project, key, wanted):
    assert now(api, project)["stand_ins"][0][key] == pytest.approx(wanted)


def _at(api, project, axis, wanted, by=1e-6):
    assert now(api, project)["stand_ins"][0]["at"][axis] == pytest.approx(wanted, abs=by)


def test_all_above_the_cut_is_lifted_in_one_action_and_the_frame_room_says_so(page, api, room):
    page.get_by_role("button", name="Lift off all above the cut").click()
    expect(page.get_by_text("Lifted off while working: all above the cut.")).to_be_visible()
    expect(page.locator("[data-drawing=Section]")).to_contain_text("all above it lifted off")
    page.get_by_role("button", name="Frame", exact=True).click()
    expect(page.get_by_text("All above the cut is lifted off: pictures show it")).to_be_visible()
    page.get_by_role("button", name="Put back", exact=True).click()
    expect(page.get_by_text("All above the cut is lifted off: pictures show it")).to_have_count(0)
    eventually(lambda: _equal(now(api, room)["lifted_above"], False))


def test_parts_are_picked_in_the_view_and_things_to_look_at_are_gone_to(page, api, room):
    page.get_by_role("button", name="Pick in the view").click()
    box = page.get_by_role("application", name="Scout view of the set").bounding_box()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.75)
    expect(page.get_by_text("Shore is chosen")).to_be_visible()
    before = page.locator("canvas").first.get_attribute("data-drawn")
    instrument(page, "Things to look at")
    page.get_by_role("button", name="Go to Light panel").click()
    expect(page.get_by_text("Light panel is chosen")).to_be_visible()
    eventually(lambda: _other(page.locator("canvas").first.get_attribute("data-drawn"), before))


def _other(found, than):
    assert found != than


def test_north_is_turned_by_keys_and_numbers(page, api, room):
    instrument(page, "North and place")
    page.get_by_role("slider", name="North").focus()
    page.keyboard.press("ArrowRight")
    eventually(lambda: _equal(now(api, room)["site"]["north_deg"], 1.0))
    field(page, "North, clockwise from up", "1/4 turn")
    eventually(lambda: _equal(now(api, room)["site"]["north_deg"], 90.0))
    expect(page.get_by_label("North lies 90.0° clockwise from up")).to_be_visible()
    assert now(api, room)["shots"][1]["compass"] == "SW", "what looked northwest on paper"
    page.get_by_role("button", name=re.compile("Directions in the names of shots")).click()
    page.get_by_role("option", name=re.compile("^sixteen")).click()
    eventually(lambda: _equal(now(api, room)["undo"], "Names by 16 compass points"))
    field(page, "Latitude, north +", "95")
    expect(page.get_by_text("It may be from")).to_be_visible()
    page.keyboard.press("Escape")


def test_a_wrong_guess_is_seen_and_corrected_in_one_step(page, api, tmp_path):
    model = tmp_path / "hut.zip"
    model.write_bytes(shed.obj_zip(scale=100.0, y_up=True))
    page.goto("/")
    page.set_input_files("input[type=file]", model)
    expect(page.get_by_text("So the unit and the up axis had to be guessed")).to_be_visible()
    expect(page.get_by_text("4.00 m wide, 3.05 m deep, 2.70 m high")).to_be_visible()
    expect(page.locator("path[data-elevation]")).to_have_attribute("d", re.compile("^M.*L"))
    page.get_by_role("button", name=re.compile("One unit of the file is")).click()
    page.get_by_role("option", name="inches").click()
    expect(page.get_by_text("10.2 m wide, 7.75 m deep, 6.86 m high")).to_be_visible()
    page.get_by_role("button", name="As it came").click()
    expect(page.get_by_text("4.00 m wide, 3.05 m deep, 2.70 m high")).to_be_visible()
    page.get_by_role("button", name="Drop to ground").click()
    page.get_by_role("button", name="Look at the set first").click()
    page.wait_for_selector("[data-finder=ready]")
    expect(page.locator('[data-instrument="Size and axes"]')).to_contain_text("cm guessed · Y up")
    project = page.url.split("/")[3]
    assert now(api, project)["set"]["bounds"][0][2] == pytest.approx(0.0, abs=1e-9)
    api.delete(f"/api/projects/{project}")


def test_a_refused_file_says_why_and_a_large_one_can_be_given_up(page, api, tmp_path):
    before = len(api.get("/api/projects").json()["projects"])
    broken = tmp_path / "broken.usda"
    broken.write_text('#usda 1.0\ndef Mesh "x" {')
    page.goto("/")
    page.set_input_files("input[type=file]", broken)
    expect(page.get_by_role("alert")).to_contain_text("broken.usda was not taken in")
    page.get_by_role("button", name="Dismiss").click()
    assert len(api.get("/api/projects").json()["projects"]) == before


def test_a_shot_is_made_of_what_the_set_room_sees(page, api, room):
    before = len(shots(api, room))
    scout = page.get_by_role("application", name="Scout view of the set")
    scout.focus()
    page.keyboard.press("ArrowUp")
    settled(page)
    page.get_by_role("button", name="New shot of this view").click()
    expect(page.get_by_role("button", name=re.compile(rf"^Shot {before + 1}, "))).to_have_attribute(
        "aria-current", "true"
    )
    assert len(shots(api, room)) == before + 1
    page.get_by_role("button", name="Undo: ").click()
    expect(page.get_by_role("button", name=re.compile(rf"^Shot {before + 1}, "))).to_have_count(0)
