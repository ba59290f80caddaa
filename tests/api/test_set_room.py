"""The Set room over HTTP: lifting, levels and rooms, stand-ins, sections, leftovers, placing; every change undone."""

import pytest
from tests.api.asking import change, new, now_of, patch, post, undo
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


def test_rooms_by_hand_are_checked_and_names_follow_them(client, house):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    assert shot["shot"]["name"] == "Looking N, 35 mm"
    places = {
        "levels": [{"name": "Ground", "floor_m": 0.0}],
        "rooms": [{"name": "Studio", "level": "Ground", "outline": [[0, 0], [6, 0], [6, 4], [0, 4]]}],
    }
    changed = change(client, house, places=places, label="Draw “Studio”").json()
    assert changed["undo"] == "Draw “Studio”"
    assert (changed["shots"][0]["room"], changed["shots"][0]["level"]) == ("Studio", "Ground")
    turned = patch(client, shot, gesture={"kind": "turn_by", "pan_deg": 90, "tilt_deg": 0, "roll_deg": 0}).json()
    assert turned["shot"]["name"] == "Studio, looking E, 35 mm", "named by what it shows when it changes"
    bad = {**places, "rooms": [{**places["rooms"][0], "level": "Nowhere"}]}
    refused = change(client, house, places=bad)
    assert (refused.status_code, "no level of this project" in refused.json()["detail"]) == (422, True)
    assert now_of(client, house)["places"] == changed["places"]


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
    assert [house["set"]["parts"][n]["name"] for n in lifted["lifted"]] == [
        house["set"]["parts"][lifted["lifted"][0]]["name"]
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
    moved = client.post(f"/api/projects/{house['id']}/stand-ins/0/move",
                        json={"version": made["version"], "to": {"kind": "plan", "x": 1, "y": 1}}).json()  # fmt: skip
    assert moved["stand_ins"][0]["at"] == pytest.approx([1, 1, 0], abs=1e-5)
    assert moved["set"]["stand_ins_view"] != made["set"]["stand_ins_view"]
    marks = client.get(f"/api/projects/{house['id']}/section", params={"x": 3, "y": 2, "heading": 90}).json()
    assert marks["stand_ins"] == [{"number": 0, "at": pytest.approx([-2, 0], abs=1e-5), "off_m": pytest.approx(1.0)}]
    to = {"kind": "section", "origin": [3, 2], "heading_deg": 90, "x": -1.0, "y": 0.5}
    raised = post(client, house, "stand-ins/0/move", to=to).json()
    assert raised["stand_ins"][0]["at"] == pytest.approx([2, 1, 0.5], abs=1e-5)
    turned = post(client, house, "stand-ins/0/move", to={"kind": "facing", "x": 9, "y": 1}).json()
    assert turned["stand_ins"][0]["turn_deg"] == pytest.approx(270)
    assert post(client, house, "stand-ins/7/move", to={"kind": "facing", "x": 9, "y": 1}).status_code == 404
    lifted = change(client, house, lifted=[own + 1]).json()
    assert lifted["hidden"] == [own + 1]
    gone = change(client, house, stand_ins=[], label="Take it away").json()
    assert (gone["stand_ins"], gone["lifted"], gone["set"]["stand_ins_view"]) == ([], [], None)
    assert client.get(f"/api/projects/{house['id']}/stand-ins.glb").status_code == 404
    assert undo(client, house)["lifted"] == [own + 1]
    wrong = {"kind": "sweep", "name": "S", "bend_m": 5, "back_m": 1}
    refused = change(client, house, stand_ins=[wrong])
    assert (refused.status_code, "cannot be larger" in refused.json()["detail"]) == (422, True)


def test_a_shot_that_follows_a_stand_in_goes_along_in_the_same_change(client, house):
    post(client, house, "stand-ins", what="standing", at=[3, 2.6])
    shot = new(client, house, stand=(3, 0.5), aim=(3, 2.5))
    part = "Stand-ins/Figure"
    held = patch(client, shot, gesture={"kind": "follow_part", "part": part}).json()
    assert held["shot"]["stand"]["follow"]["part"] == part
    moved = post(client, house, "stand-ins/0/move", to={"kind": "plan", "x": 4.5, "y": 2.6}).json()
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


def test_the_plan_goes_to_a_level_and_north_turns_headings(client, house):
    change(client, house, places={"levels": [{"name": "Up", "floor_m": 3.0}], "rooms": []})
    assert change(client, house, plan_level="Up").json()["plan_height"] == pytest.approx(4.2)
    assert change(client, house, plan_level="Down").status_code == 404
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    turned = change(
        client, house, site={"north_deg": 90, "latitude_deg": 52.1, "longitude_deg": 4.3, "name": "Slipway"}
    ).json()
    assert turned["shots"][0]["compass"] == "W"
    assert turned["shots"][0]["shot"] == shot["shot"], "the camera stays where it is"
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
