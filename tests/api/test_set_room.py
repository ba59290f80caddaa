"""The Set room over HTTP: lifting, levels and rooms, stand-ins, sections, leftovers, placing; every change undone."""

import io

import numpy as np
import pytest
import trimesh
from tests.api.asking import change, new, now_of, patch, post, prints_of, undo
from tests.files import shed

from zevlo.core.measures import measure


def test_levels_and_rooms_are_found_and_taken_back(client, house):
    assert house["places"] == {"levels": [], "rooms": []}
    proposal = client.get(f"/api/projects/{house['id']}/places/proposal").json()
    found = post(client, house, "places/find").json()
    assert found["places"] == proposal
    assert [level["name"] for level in found["places"]["levels"]] == ["Level 0"]
    assert len(found["places"]["rooms"]) == 1
    assert found["room_marks"][0]["area_m2"] == pytest.approx(5.6 * 3.6, abs=0.1)
    assert found["plan_level"] == "Level 0"
    again = post(client, house, "places/find")
    assert (again.status_code, "No further levels or rooms" in again.json()["detail"]) == (422, True)
    assert undo(client, house)["places"] == {"levels": [], "rooms": []}
    assert undo(client, house, "redo")["places"] == found["places"]


STUDIO = {
    "levels": [{"name": "Ground", "floor_m": 0.0}],
    "rooms": [{"name": "Studio", "level": "Ground", "outline": [[0, 0], [6, 0], [6, 4], [0, 4]]}],
}


def test_rooms_by_hand_are_checked_and_names_follow_them(client, house):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    assert shot["shot"]["name"] == "Looking N, 35 mm"
    places = STUDIO
    changed = change(client, house, places=places, label="Draw “Studio”").json()
    assert changed["undo"] == "Draw “Studio”"
    assert (changed["shots"][0]["room"], changed["shots"][0]["level"]) == ("Studio", "Ground")
    assert changed["shots"][0]["shot"]["name"] == "Studio, looking N, 35 mm", "named by where it stands now"
    pan = {"kind": "turn_by", "pan_deg": 90, "tilt_deg": 0, "roll_deg": 0}
    turned = patch(client, changed["shots"][0], gesture=pan).json()
    assert turned["shot"]["name"] == "Studio, looking E, 35 mm", "and by what it shows when it changes"
    bad = {**places, "rooms": [{**places["rooms"][0], "level": "Nowhere"}]}
    refused = change(client, house, places=bad)
    assert (refused.status_code, "no level of this project" in refused.json()["detail"]) == (422, True)
    assert now_of(client, house)["places"] == changed["places"]


def test_names_go_with_rooms_only_while_no_hand_gave_them_and_no_lock_holds_them(client, house):
    by_hand, held, loose, twin = (new(client, house, stand=(3, y), aim=(3, 3)) for y in (1, 1.2, 1.4, 1.6))
    assert loose["shot"]["name"] == "Looking N, 35 mm 3"
    patch(client, by_hand, patch={**by_hand["shot"], "name": "The hero"})
    assert client.post(f"/api/shots/{held['id']}/lock", json={"version": held["version"], "locked": True}).is_success
    change(client, house, places=STUDIO, label="Draw “Studio”")
    names = [row["shot"]["name"] for row in now_of(client, house)["shots"]]
    assert sorted(names) == sorted(["The hero", held["shot"]["name"], "Studio, looking N, 35 mm", "Studio, looking N, 35 mm 2"])  # fmt: skip
    kitchen = {**STUDIO, "rooms": [{**STUDIO["rooms"][0], "name": "Kitchen"}]}
    renamed = change(client, house, places=kitchen, label="Rename").json()
    given = {row["id"]: row["shot"]["name"] for row in renamed["shots"]}
    assert {given[loose["id"]], given[twin["id"]]} == {"Kitchen, looking N, 35 mm", "Kitchen, looking N, 35 mm 2"}
    assert [row["shot"]["name"] for row in undo(client, house)["shots"]] == names, "one change"
    sixteen = {**house["habits"], "compass_points": 16}
    by_name = client.get(f"/api/projects/{house['id']}").json()["shots"]
    pan = {"kind": "turn_by", "pan_deg": 22.5, "tilt_deg": 0, "roll_deg": 0}
    patch(client, next(row for row in by_name if row["id"] == loose["id"]), gesture=pan)
    finer = change(client, house, habits=sixteen, label="Names by 16 compass points").json()
    assert next(r for r in finer["shots"] if r["id"] == loose["id"])["shot"]["name"] == "Studio, looking NNE, 35 mm"
    undo(client, house)
    assert [row["shot"]["name"] for row in undo(client, house)["shots"]] == names
    again = change(client, house, places=STUDIO | {"levels": [{"name": "Ground", "floor_m": 0.01}]}).json()
    assert [row["shot"]["name"] for row in again["shots"]] == names, "a number behind a name stays"


def test_back_to_a_take_brings_the_name_by_what_it_shows(client, house):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    pan = {"kind": "turn_by", "pan_deg": 90, "tilt_deg": 0, "roll_deg": 0}
    turned = patch(client, shot, gesture=pan).json()
    assert turned["shot"]["name"] == "Looking E, 35 mm"
    back = client.post(f"/api/shots/{shot['id']}/back-to-kept", json={"version": turned["version"]}).json()
    assert (back["shot"]["name"], back["kept"]) == ("Looking N, 35 mm", True)
    patch(client, back, gesture=pan)
    take = client.get(f"/api/shots/{shot['id']}/takes").json()[0]
    assert client.post(f"/api/takes/{take['id']}/back").json()["shot"]["name"] == "Looking N, 35 mm"


def test_shots_go_along_with_a_stand_in_moved_by_numbers_or_named_otherwise(client, house):
    made = post(client, house, "stand-ins", what="standing", at=[3, 3]).json()
    shot = new(client, house, stand=(3, 0.6), aim=(3, 3))
    path = made["set"]["parts"][-1]["id"]
    assert path.startswith("Stand-ins/Figure "), "known by a word no other ever had"
    follows = patch(client, shot, gesture={"kind": "follow_part", "part": path}).json()
    assert "shot" in follows, follows
    other = new(client, house, stand=(1, 0.6), aim=(3, 3))
    leaves = patch(client, other, gesture={"kind": "leave_out", "part": path}).json()
    assert leaves["shot"]["left_out"] == [path]
    assert patch(client, leaves, gesture={"kind": "leave_out", "part": "Stand-ins/nobody"}).status_code == 422
    figure = made["stand_ins"][0]
    moved = change(client, house, stand_ins=[{**figure, "at": [4.5, 3, 0]}], label="Place").json()
    stand = next(row for row in moved["shots"] if row["id"] == shot["id"])["shot"]["stand"]
    assert stand["position"] == follows["shot"]["stand"]["position"]
    assert stand["follow"]["at"] == pytest.approx(follows["shot"]["stand"]["follow"]["at"])
    assert stand["follow"]["point"][0] == pytest.approx(follows["shot"]["stand"]["follow"]["point"][0] + 1.5)
    assert stand["aim"][0] > follows["shot"]["stand"]["aim"][0] + 0.5, "the camera turned after it"
    found = next(row for row in moved["shots"] if row["id"] == shot["id"])
    assert (found["compass"], found["shot"]["name"]) == ("NE", "Looking NE, 35 mm 2"), "its name went along"
    named = change(client, house, stand_ins=[{**moved["stand_ins"][0], "name": "Potter"}], label="Name").json()
    now = {row["id"]: row["shot"] for row in named["shots"]}
    assert now[shot["id"]]["stand"]["follow"]["part"] == path, "it is known by the same id, whatever its name"
    assert now[other["id"]]["left_out"] == [path]
    assert now[shot["id"]]["stand"]["aim"] == stand["aim"]
    undone = {row["id"]: row["shot"] for row in undo(client, house)["shots"]}
    assert undone[other["id"]]["left_out"] == [path]


def test_with_everything_lifted_off_the_drawings_are_empty_and_all_else_stays(client, house):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    floor = shot["level"], shot["shot"]["stand"]["position"]
    bare = change(client, house, lifted=[part["id"] for part in house["set"]["parts"]]).json()
    assert len(bare["hidden"]) == len(house["set"]["parts"])
    address = f"/api/projects/{house['id']}"
    for path in ("plan", "section?x=3&y=2&heading=90", "section?x=3&y=2&heading=90&thin=false", "plan?thin=false"):
        drawn = client.get(f"{address}/{path}")
        assert drawn.status_code == 200, drawn.text
        assert (drawn.json()["cut"]["numbers"], drawn.json()["beyond"]) == ([], [])
    for path in ("elevation", "leftovers", "places/proposal", "prints", f"section/marks?shot={shot['id']}"):
        assert client.get(f"{address}/{path}").status_code == 200
    raised = patch(client, bare["shots"][0], gesture={"kind": "height_to", "above_floor": 1.2}).json()
    assert raised["shot"]["stand"]["position"][2] == pytest.approx(1.2, abs=1e-3)
    assert (raised["level"], raised["shot"]["stand"]["position"][:2]) == (floor[0], floor[1][:2])
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": house["id"]})
        socket.send_json({"kind": "shot", "seq": 1, "shot": raised["shot"], "beyond": True})
        answer = [socket.receive_json(), socket.receive_json()]
    assert {one["kind"] for one in answer} == {"shot", "beyond"}
    assert answer[0]["sheet"]["pose"]["above_floor_m"] == pytest.approx(1.2, abs=1e-3)


def test_the_set_is_drawn_from_the_south_with_its_door(client, house):
    flat = client.get(f"/api/projects/{house['id']}/elevation").json()["lines"]
    lines = np.array(flat).reshape(-1, 2, 2)
    upright = lines[np.abs(lines[:, 0, 0] - lines[:, 1, 0]) < 1e-3]
    for side in (2.0, 3.0):
        jamb = upright[np.abs(upright[:, 0, 0] - side) < 1e-3]
        assert np.ptp(jamb[:, :, 1]) > 2.0, "a side of the door, 2.05 m high"
    assert lines[:, :, 0].min() == pytest.approx(0.0, abs=1e-3)
    assert lines[:, :, 0].max() == pytest.approx(6.0, abs=1e-3)
    assert lines[:, :, 1].max() == pytest.approx(3.0, abs=1e-3)
    hidden = upright[np.abs(upright[:, 0, 0] - 4.1) < 0.11]
    assert len(hidden) == 0, "what floats in the room is behind the wall"
    lifted = change(client, house, lifted=[part["id"] for part in house["set"]["parts"][:4]]).json()
    assert client.get(f"/api/projects/{lifted['id']}/elevation").json()["lines"] == flat, (
        "nothing lifted off is missing"
    )


def test_a_corner_drawn_in_plan_catches_on_a_wall(client, house):
    ask = {"height": 1.2, "x": 0.24, "y": 0.23, "reach": 0.1}
    snapped = client.get(f"/api/projects/{house['id']}/snap", params=ask).json()
    assert (snapped["to"], snapped["x"], snapped["y"]) == (
        "corner",
        pytest.approx(0.2, abs=1e-5),
        pytest.approx(0.2, abs=1e-5),
    )


def test_lifting_by_level_and_above_the_cut(client, house):
    plan = f"/api/projects/{house['id']}/plan"
    missing = post(client, house, "lift", how={"kind": "level", "level": "Attic"})
    assert missing.status_code == 404
    change(
        client,
        house,
        places={"levels": [{"name": "Ground", "floor_m": 0.0}, {"name": "Roof", "floor_m": 2.9}], "rooms": []},
    )
    lifted = post(client, house, "lift", how={"kind": "level", "level": "Roof"}).json()
    assert [part["name"] for part in house["set"]["parts"] if part["id"] in lifted["lifted"]] == [
        next(part["name"] for part in house["set"]["parts"] if part["id"] == lifted["lifted"][0])
    ]
    assert lifted["undo"] == "Lift off Roof"
    above = post(client, house, "lift", how={"kind": "above", "on": True}).json()
    assert above["lifted_above"]
    at_cut = client.get(plan, params={"height": 1.2}).json()
    over_it = client.get(plan, params={"height": 2.0}).json()
    assert at_cut["cut"]["stops"] != []
    assert over_it["cut"]["stops"] == [], "nothing is left above the cut"
    back = post(client, house, "lift", how={"kind": "none"}).json()
    assert (back["lifted"], back["lifted_above"]) == ([], False)
    assert undo(client, house)["lifted_above"], "and that is one change"


def test_stand_ins_are_added_moved_turned_and_taken_away(client, house):
    own = house["set"]["own_parts"]
    made = post(client, house, "stand-ins", what="standing", at=[3, 2]).json()
    assert made["set"]["own_parts"] == own
    assert [part["name"] for part in made["set"]["parts"][own:]] == ["Stand-ins", "Figure"]
    assert made["stand_ins"][0]["at"] == pytest.approx([3, 2, 0], abs=1e-5)
    view = client.get(made["set"]["stand_ins_view"])
    assert view.content[:4] == b"glTF"
    assert f'"part-{own + 1}"'.encode() in view.content
    own_id = made["stand_ins"][0]["id"]
    moved = client.post(f"/api/projects/{house['id']}/stand-ins/move",
                        json={"version": made["version"], "id": own_id, "to": {"kind": "plan", "x": 1, "y": 1}}).json()  # fmt: skip
    assert moved["stand_ins"][0]["at"] == pytest.approx([1, 1, 0], abs=1e-5)
    assert moved["set"]["stand_ins_view"] != made["set"]["stand_ins_view"]
    marks = client.get(f"/api/projects/{house['id']}/section", params={"x": 3, "y": 2, "heading": 90}).json()
    assert marks["stand_ins"] == [{"number": 0, "at": pytest.approx([-2, 0], abs=1e-5), "off_m": pytest.approx(1.0)}]
    bare = client.get(
        f"/api/projects/{house['id']}/section", params={"x": 3, "y": 2, "heading": 90, "thin": False}
    ).json()
    assert bare == {**marks, "beyond": []}
    assert marks["beyond"]
    to = {"kind": "section", "origin": [3, 2], "heading_deg": 90, "x": -1.0, "y": 0.5}
    raised = post(client, house, "stand-ins/move", id=own_id, to=to).json()
    assert raised["stand_ins"][0]["at"] == pytest.approx([2, 1, 0.5], abs=1e-5)
    turned = post(client, house, "stand-ins/move", id=own_id, to={"kind": "facing", "x": 9, "y": 1}).json()
    assert turned["stand_ins"][0]["turn_deg"] == pytest.approx(270)
    assert post(client, house, "stand-ins/move", id="nobody", to={"kind": "facing", "x": 9, "y": 1}).status_code == 404
    lifted = change(client, house, lifted=[made["set"]["parts"][own + 1]["id"]]).json()
    assert lifted["hidden"] == [own + 1]
    gone = change(client, house, stand_ins=[], label="Take it away").json()
    assert (gone["stand_ins"], gone["lifted"], gone["set"]["stand_ins_view"]) == ([], [], None)
    late = client.get(made["set"]["stand_ins_view"])
    assert (late.status_code, late.headers["cache-control"]) == (200, "no-store"), "not kept under an older state"
    assert trimesh.load_scene(io.BytesIO(late.content), file_type="glb").geometry == {}
    assert undo(client, house)["hidden"] == [own + 1]
    wrong = {"kind": "sweep", "name": "S", "bend_m": 5, "back_m": 1}
    refused = change(client, house, stand_ins=[wrong])
    assert (refused.status_code, "cannot be larger" in refused.json()["detail"]) == (422, True)


def test_a_shot_that_follows_a_stand_in_goes_along_in_the_same_change(client, house):
    post(client, house, "stand-ins", what="standing", at=[3, 2.6])
    shot = new(client, house, stand=(3, 0.5), aim=(3, 2.5))
    part = now_of(client, house)["set"]["parts"][-1]["id"]
    held = patch(client, shot, gesture={"kind": "follow_part", "part": part}).json()
    assert held["shot"]["stand"]["follow"]["part"] == part
    own_id = now_of(client, house)["stand_ins"][0]["id"]
    moved = post(client, house, "stand-ins/move", id=own_id, to={"kind": "plan", "x": 4.5, "y": 2.6}).json()
    after = moved["shots"][0]["shot"]["stand"]
    assert after["position"] == held["shot"]["stand"]["position"]
    assert after["aim"][0] > held["shot"]["stand"]["aim"][0] + 0.5
    assert after["follow"]["at"] == held["shot"]["stand"]["follow"]["at"]
    assert undo(client, house)["shots"][0]["shot"] == held["shot"]


def test_what_was_forgotten_is_listed(client, house):
    found = client.get(f"/api/projects/{house['id']}/leftovers").json()["found"]
    assert [(one["why"], one["part"]) for one in found] == [("floats", 8)]
    assert "150 cm of air under it" in found[0]["words"]
    assert found[0]["at"] == pytest.approx([4.1, 1.9, 1.6], abs=1e-4)


def test_parts_are_picked_in_the_scout_view_and_through_a_lens(client, house):
    stand = {"position": [3, 1, 1.6], "aim": [3, 3, 1.6]}
    picture = {"kind": "scout", "scout": {"stand": stand, "focal_length_mm": 28}, "ratio": 1.5, "back": None}
    seen = client.post(f"/api/projects/{house['id']}/pick", json={"picture": picture, "x": 0.5, "y": 0.5}).json()
    assert (seen["part"], seen["at"]) == (2, pytest.approx([3, 3.8, 1.6], abs=1e-4))
    shot = new(client, house, stand=(3, 1), aim=(3, 3))["shot"]
    lens = client.post(
        f"/api/projects/{house['id']}/pick", json={"picture": {"kind": "shot", "shot": shot}, "x": 0.5, "y": 0.9}
    )
    assert lens.json()["part"] in (1, 2)
    outside = {**picture, "scout": {"stand": {"position": [3, -5, 9], "aim": [3, -9, 12]}, "focal_length_mm": 28}}
    sky = client.post(f"/api/projects/{house['id']}/pick", json={"picture": outside, "x": 0.5, "y": 0.5})
    assert (sky.status_code, "only sky" in sky.json()["detail"]) == (422, True)


def test_floors_are_found_in_a_section(client, house):
    ask = {"x": 3, "y": 2, "heading": 90, "across": 0.5, "z": 0.2}
    floor = client.get(f"/api/projects/{house['id']}/section/floor", params=ask).json()
    assert floor == {"z": pytest.approx(0.0, abs=1e-5), "found": True}
    air = client.get(f"/api/projects/{house['id']}/section/floor", params={**ask, "z": 1.5}).json()
    assert air == {"z": 1.5, "found": False}


def test_a_mark_on_the_staff_is_where_the_lens_of_a_shot_stands(client, house):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    moved = patch(client, shot, gesture={"kind": "height_to", "z": None, "above_floor": 1.234}).json()
    made = change(client, house, mark={"shot": shot["id"], "on": True}).json()
    assert [(mark["name"], pytest.approx(mark["height_m"])) for mark in made["habits"]["marks"]] == [("1.23 m", 1.234)]
    assert made["undo"] == "Mark 1.23 m"
    patch(client, moved, gesture={"kind": "height_to", "z": None, "above_floor": 1.2301})
    gone = change(client, house, mark={"shot": shot["id"], "on": False}).json()
    assert (gone["habits"]["marks"], gone["undo"]) == ([], "Remove the mark at 1.23 m")
    assert undo(client, house)["habits"]["marks"] == made["habits"]["marks"]
    assert change(client, house, mark={"shot": house["id"], "on": True}).status_code == 404


def test_the_plan_goes_to_a_level_and_north_turns_headings(client, house):
    change(client, house, places={"levels": [{"name": "Up", "floor_m": 3.0}], "rooms": []})
    assert change(client, house, plan_level="Up").json()["plan_height"] == pytest.approx(4.2)
    assert change(client, house, plan_level="Down").status_code == 404
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    turned = change(
        client, house, site={"north_deg": 90, "latitude_deg": 52.1, "longitude_deg": 4.3, "name": "Slipway"}
    ).json()
    assert turned["shots"][0]["compass"] == "W"
    assert turned["shots"][0]["shot"] == {**shot["shot"], "name": "Up, looking W, 35 mm"}, "the camera stays"
    bad = change(client, house, site={"north_deg": 0, "latitude_deg": 95})
    assert bad.status_code == 422


def test_a_set_is_corrected_in_one_step_with_its_shots(client):
    made = client.post("/api/projects", files={"model": ("shed.zip", shed.obj_zip(scale=100.0, y_up=True))}).json()
    assert (made["set"]["unit"], made["set"]["placing"]["up"]) == ("cm", "y")
    assert set(made["set"]["guessed"]) == {"unit", "up"}
    shot = new(client, made, stand=(1, -3), aim=(2, 1))
    wrong = post(client, made, "placing", metres_per_unit=0.001).json()
    assert wrong["set"]["bounds"][1][2] == pytest.approx(made["set"]["bounds"][1][2] / 10, rel=1e-4)
    assert wrong["set"]["guessed"] == ["up"], "a settled unit is no guess any more"
    assert wrong["shots"][0]["shot"]["stand"]["position"] == pytest.approx(
        [v / 10 for v in shot["shot"]["stand"]["position"]]
    )
    too_far = post(client, made, "placing", metres_per_unit=9000.0)
    assert (too_far.status_code, "larger than 100 km" in too_far.json()["detail"]) == (422, True)
    again = post(client, made, "placing", again=True).json()
    assert again["shots"][0]["shot"]["stand"]["position"] == pytest.approx(shot["shot"]["stand"]["position"])
    dropped = post(client, made, "placing", drop=True).json()
    assert dropped["set"]["bounds"][0][2] == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "kind"), [("5'6\"", "length"), ("22.5+90", "angle"), ("1/125", "time"), ("f/5.6", "number")]
)
def test_fields_are_read_as_people_write_them(client, text, kind):
    assert client.get("/api/measure", params={"kind": kind, "text": text}).json() == {"value": measure(text, kind)}
    refused = client.get("/api/measure", params={"kind": kind, "text": "a bit"})
    assert (refused.status_code, "Write for example" in refused.json()["detail"]) == (422, True)


def test_a_light_is_named_by_the_shot_and_must_be_the_projects(client, house):
    made = client.post(f"/api/projects/{house['id']}/shots", json={"how": {"kind": "from_plan", "stand": [1, 1], "aim": [4, 2]}}).json()  # fmt: skip
    assert made["shot"]["light"] is None

    def named(light):
        row = client.get(f"/api/projects/{house['id']}/shots").json()["shots"][0]
        return client.patch(f"/api/shots/{made['id']}", json={"version": row["version"], "patch": {"light": light}})

    assert named("Moonlight").status_code == 422
    assert named("Moonlight").json()["detail"] == "There is no light “Moonlight” in this project, only “Daylight”."
    first = client.get(made["thumbnail"]).content
    changed = named("Daylight").json()
    assert changed["shot"]["light"] == {"id": None, "name": "Daylight"}
    assert client.get(changed["thumbnail"]).content == first, "it is the first"
    ordered = client.post(f"/api/shots/{made['id']}/proof").json()
    named(None)
    prints = client.get(f"/api/projects/{house['id']}/prints").json()["prints"]
    assert [one["stale"] for one in prints if one["id"] == ordered["id"]] == [None], "the same light by another name"


def test_the_sun_counts_from_north_everywhere(client, house):
    """North turned by so much and the sun back by as much is the same light; a print ordered before is as it was."""
    client.post(
        f"/api/projects/{house['id']}/shots", json={"how": {"kind": "from_plan", "stand": [1, 1], "aim": [4, 2]}}
    )
    (shot,) = client.get(f"/api/projects/{house['id']}/shots").json()["shots"]
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    sunward = house["sunward"]
    turned = change(client, house, site={"north_deg": 70}).json()
    found = next(one for one in prints_of(client, house) if one["id"] == ordered["id"])
    assert found["stale"] == "Changed since: light"
    assert turned["sunward"] != sunward
    assert turned["light"] == house["light"], "the sun's heading is from north, wherever that is"
    back = client.post(f"/api/projects/{house['id']}/undo", json={}).json()
    assert (prints_of(client, house)[0]["stale"], back["sunward"]) == (None, sunward)


def test_rooms_and_levels_drawn_quickly_are_counted_where_they_are_kept(client, house):
    key = house["id"]

    def add(what, **found):
        version = client.get(f"/api/projects/{key}").json()["version"]
        return client.post(f"/api/projects/{key}/places/{what}", json={"version": version, **found})

    square = [[0, 0], [2, 0], [2, 2], [0, 2]]
    assert "A room lies on a level" in add("room", outline=square).json()["detail"]
    assert [level["name"] for level in add("level", floor_m=0.0).json()["places"]["levels"]] == ["Level 0"]
    assert [level["name"] for level in add("level", floor_m=-2.5).json()["places"]["levels"]] == ["Level 1", "Level 0"]
    again = add("level", floor_m=0.0).json()
    assert (len(again["places"]["levels"]), again["undo"]) == (2, "Add “Level 1”"), "there is one already"
    add("room", outline=square)
    rooms = add("room", outline=[[3, 0], [5, 0], [5, 2]]).json()["places"]["rooms"]
    assert [(room["name"], room["level"]) for room in rooms] == [("Room 1", "Level 0"), ("Room 2", "Level 0")]
    same = add("room", outline=square).json()
    assert (len(same["places"]["rooms"]), same["undo"]) == (2, "Draw “Room 2”"), "asked for again, it is there already"
    assert add("room", outline=[[0, 0], [1, 1], [2, 2]]).status_code == 422
