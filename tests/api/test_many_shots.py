"""Many shots over HTTP: takes, copies with a preview, names, labels, order, suggestions, what is left out."""

import re
import uuid

import pytest
import trimesh
from sqlalchemy.orm import Session
from tests.api.asking import change, new, now_of, patch, post, undo
from tests.files.test_import_model import glb_of

from zevlo.api import shot_views
from zevlo.api.shot_views import around, shots_out
from zevlo.store.projects import project as project_row
from zevlo.store.shot_rows import shot_row, shots_held, shots_of, written_of

ROOM = {"levels": [{"name": "Ground", "floor_m": 0.0}], "rooms": [{"name": "Studio", "level": "Ground", "outline": [[0.2, 0.2], [5.8, 0.2], [5.8, 3.8], [0.2, 3.8]]}]}  # fmt: skip


def _settings(shot, **groups):
    return {**shot, **{name: {**shot[name], **values} for name, values in groups.items()}}


def test_takes_are_numbered_named_compared_and_gone_back_to(client, project):
    shot = new(client, project)
    first = shot["shot"]
    longer = patch(client, shot, label="Lens", patch=_settings(first, lens={"focal_length_mm": 50})).json()
    kept = client.post(f"/api/shots/{shot['id']}/keep", json={"version": longer["version"]}).json()
    assert kept["take"]["number"] == 2
    takes = client.get(f"/api/shots/{shot['id']}/takes").json()
    assert [(take["number"], take["kept"]) for take in takes] == [(2, True), (1, False)]
    assert (takes[0]["differs"], takes[1]["differs"]) == ([], ["35 → 50 mm"])
    assert client.get(takes[1]["thumbnail"]).content[:4] == b"\x89PNG"
    assert client.patch(f"/api/takes/{takes[1]['id']}", json={"name": "wide"}).status_code == 204
    back = client.post(f"/api/takes/{takes[1]['id']}/back").json()
    assert back["shot"]["lens"]["focal_length_mm"] == 35
    assert (back["take"]["number"], back["take"]["name"], back["kept"]) == (1, "wide", True)
    assert undo(client, project)["shots"][0]["take"]["number"] == 2
    locked = client.post(
        f"/api/shots/{shot['id']}/lock",
        json={"version": now_of(client, project)["shots"][0]["version"], "locked": True},
    )
    assert locked.status_code == 200
    assert client.post(f"/api/takes/{takes[1]['id']}/back").status_code == 423


def test_groups_are_copied_after_telling_what_changes_where(client, project):
    source = new(client, project)
    others = [new(client, project, stand=(x, -5)) for x in (-2, 2, 4)]
    source = patch(client, source, label="Lens", patch=_settings(source["shot"], lens={"focal_length_mm": 85})).json()
    locked = client.post(f"/api/shots/{others[2]['id']}/lock", json={"version": others[2]["version"], "locked": True})
    assert locked.status_code == 200
    body = {"source": source["id"], "targets": [one["id"] for one in others], "groups": ["lens", "height"]}
    before = now_of(client, project)
    answer = client.post(f"/api/projects/{project['id']}/copy", json={**body, "only_try": True}).json()
    assert [one["changes"] for one in answer["shots"]] == [["35 → 85 mm"]] * 3
    assert [one["refused"] for one in answer["shots"]] == [None, None, "It is locked."]
    assert not answer["written"]
    assert now_of(client, project) == before, "trying writes nothing"
    done = client.post(f"/api/projects/{project['id']}/copy", json=body).json()
    assert done["written"]
    lenses = [row["shot"]["lens"]["focal_length_mm"] for row in now_of(client, project)["shots"]]
    assert lenses == [85, 85, 85, 35]
    assert [row["shot"]["lens"]["focal_length_mm"] for row in undo(client, project)["shots"]] == [85, 35, 35, 35], (
        "one change"
    )
    near = _settings(source["shot"], focus={"distance_m": 0.09})
    close_up = patch(client, source, label="Focus", patch=near).json()
    assert close_up["shot"]["focus"]["distance_m"] == 0.09
    patch(
        client,
        now_of(client, project)["shots"][1],
        label="Lens",
        patch=_settings(others[0]["shot"], lens={"focal_length_mm": 200}),
    )
    refused = client.post(
        f"/api/projects/{project['id']}/copy", json={**body, "groups": ["focus"], "only_try": True}
    ).json()
    assert "focuses no closer" in refused["shots"][0]["refused"]
    foreign = client.post(f"/api/projects/{project['id']}/copy", json={**body, "targets": [project["id"]]})
    assert foreign.status_code == 404


def test_names_write_themselves_until_a_hand_writes_one(client, house):
    change(client, house, places=ROOM)
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    assert (shot["shot"]["name"], shot["named_by_hand"]) == ("Studio, looking N, 35 mm", False)
    wide = patch(client, shot, label="Lens", patch=_settings(shot["shot"], lens={"focal_length_mm": 24})).json()
    assert wide["shot"]["name"] == "Studio, looking N, 24 mm"
    twin = client.post(
        f"/api/shots/{shot['id']}/duplicate",
        json={"gesture": {"kind": "turn_by", "pan_deg": 180, "tilt_deg": 0, "roll_deg": 0}},
    ).json()
    assert twin["shot"]["name"] == "Studio, looking S, 24 mm"
    same = client.post(f"/api/shots/{shot['id']}/duplicate").json()
    assert same["shot"]["name"] == "Studio, looking N, 24 mm 2"
    named = patch(client, wide, label="Rename", patch={**wide["shot"], "name": "Hero"}).json()
    assert named["named_by_hand"]
    turned = patch(client, named, gesture={"kind": "turn_by", "pan_deg": 90, "tilt_deg": 0, "roll_deg": 0}).json()
    assert turned["shot"]["name"] == "Hero"
    itself = client.post(
        f"/api/shots/{shot['id']}/card", json={"version": turned["version"], "name_itself": True}
    ).json()
    assert (itself["shot"]["name"], itself["named_by_hand"]) == ("Studio, looking E, 24 mm", False)
    change(client, house, habits={"compass_points": 16})
    finer = patch(client, itself, gesture={"kind": "turn_by", "pan_deg": 22.5, "tilt_deg": 0, "roll_deg": 0}).json()
    assert finer["shot"]["name"] == "Studio, looking ESE, 24 mm"


def test_labels_colours_and_order(client, house):
    change(client, house, places=ROOM)
    rows = [new(client, house, stand=(x, 1), aim=(x, 3)) for x in (3, 2)]
    rows.append(new(client, house, stand=(3, -6), aim=(3, -9)))
    card = client.post(
        f"/api/shots/{rows[0]['id']}/card",
        json={"version": rows[0]["version"], "labels": ["client", "draft", "client"], "colour": "#E69F00"},
    )
    assert (card.json()["labels"], card.json()["colour"]) == (["client", "draft"], "#E69F00")
    usual = client.post(
        f"/api/shots/{rows[0]['id']}/card", json={"version": card.json()["version"], "colour": ""}
    ).json()
    assert (usual["labels"], usual["colour"]) == (["client", "draft"], None)
    assert (
        client.post(f"/api/shots/{rows[0]['id']}/card", json={"version": usual["version"], "colour": "red"}).status_code
        == 422
    )
    twin = client.post(f"/api/shots/{rows[0]['id']}/duplicate").json()
    assert twin["labels"] == ["client", "draft"]

    def names(answer):
        return [row["shot"]["name"] for row in answer["shots"]]

    before = names(now_of(client, house))
    by_name = names(client.post(f"/api/projects/{house['id']}/order", json={"by": "name"}).json())
    assert by_name == sorted(before, key=str.casefold)
    by_label = client.post(f"/api/projects/{house['id']}/order", json={"by": "label"}).json()["shots"]
    assert [bool(row["labels"]) for row in by_label] == [True, True, False, False]
    assert names(undo(client, house)) == by_name
    assert names(undo(client, house)) == before
    assert client.post(f"/api/projects/{house['id']}/order", json={"by": "mood"}).status_code == 422


def test_a_list_in_another_order_is_not_told_anew(client, project, monkeypatch):
    """Nor one that is undone: each shot is what it was, but for its place."""
    first = new(client, project)
    for n in range(5):
        made = client.post(f"/api/shots/{first['id']}/duplicate").json()
        patch(client, made, patch={"name": f"{'zyxwv'[n]}"})
    before = now_of(client, project)["shots"]
    answer = []
    tell = shot_views._shot_out
    monkeypatch.setattr(shot_views, "_shot_out", lambda *given: answer.append(given[0]) or tell(*given))
    ordered = client.post(f"/api/projects/{project['id']}/order", json={"by": "name"}).json()["shots"]
    assert [one["shot"]["name"] for one in ordered] == sorted(one["shot"]["name"] for one in before)
    back = undo(client, project)["shots"]
    assert [{**one, "version": 0} for one in back] == [{**one, "version": 0} for one in before]
    assert sum(one["version"] for one in back) > sum(one["version"] for one in before)
    assert answer == []
    patch(client, now_of(client, project)["shots"][0], patch={"lens": {"focal_length_mm": 71}})
    assert len(answer) == 1


def test_suggested_stands_come_with_pictures_and_become_shots(client, house):
    change(client, house, places=ROOM)
    found = client.get(f"/api/projects/{house['id']}/suggestions", params={"room": 0}).json()["found"]
    assert {one["what"] for one in found} == {"corner", "doorway", "square on"}
    assert client.get(found[0]["picture"]).content[:4] == b"\x89PNG"
    post(client, house, "stand-ins", what="standing", at=[3, 2])
    again = client.get(f"/api/projects/{house['id']}/suggestions", params={"room": 0}).json()["found"]
    assert again[0]["stand"] == found[0]["stand"]
    assert again[0]["picture"] != found[0]["picture"], "another set is another picture"
    made = client.post(
        f"/api/projects/{house['id']}/shots", json={"how": {"kind": "from_stand", "stand": found[0]["stand"]}}
    ).json()
    assert made["shot"]["stand"]["position"] == pytest.approx(found[0]["stand"]["position"])
    assert made["shot"]["lens"]["focal_length_mm"] == 24
    assert client.get(f"/api/projects/{house['id']}/suggestions", params={"room": 5}).status_code == 404


def test_what_a_shot_leaves_out_changes_its_picture_alone(client, project):
    shot, other = new(client, project), new(client, project, stand=(0, -4))
    block = project["set"]["parts"][1]["name"]
    whole = client.get(shot["thumbnail"]).content
    out = patch(client, shot, gesture={"kind": "leave_out_seen", "x": 0.5, "y": 0.15}).json()
    assert out["shot"]["left_out"][0].endswith(block)
    assert out["left_out"] == [1]
    assert (out["thumbnail"] != shot["thumbnail"], out["kept"]) == (True, False)
    assert client.get(out["thumbnail"]).content != whole
    untouched = next(row for row in now_of(client, project)["shots"] if row["id"] == other["id"])
    assert untouched["thumbnail"] == other["thumbnail"]
    back = patch(client, out, gesture={"kind": "put_back_all"}).json()
    assert (back["thumbnail"], back["kept"]) == (shot["thumbnail"], True)


def test_a_picture_asked_for_by_the_address_of_another_state_is_not_kept_under_it(client, project):
    shot = new(client, project)
    moved = patch(client, shot, gesture={"kind": "grip", "move": "east", "by": 0.5}).json()
    late = client.get(shot["thumbnail"])
    assert late.headers["cache-control"] == "no-store", "the state asked for was never drawn"
    now = client.get(moved["thumbnail"])
    assert (now.content, "immutable" in now.headers["cache-control"]) == (late.content, True)
    undo(client, project)
    before = client.get(shot["thumbnail"])
    assert (before.content != now.content, "immutable" in before.headers["cache-control"]) == (True, True)
    assert client.get(moved["thumbnail"]).content == now.content


def test_asking_for_drawings_of_a_shot_just_undone_is_no_fault(client, project):
    shot = new(client, project)
    undo(client, project)
    assert client.get(shot["thumbnail"]).status_code == 200
    marks = client.get(f"/api/projects/{project['id']}/section/marks", params={"shot": shot["id"]})
    assert (marks.status_code, marks.json()) == (200, None)


def test_other_shots_are_drawn_in_a_section(client, project):
    shot, other = new(client, project), new(client, project, stand=(1, -3), aim=(1, 0))
    marks = client.get(f"/api/projects/{project['id']}/section/marks", params={"shot": shot["id"]}).json()
    assert marks["heading_deg"] == pytest.approx(0.0)
    assert [one["shot"] for one in marks["shots"]] == [other["id"]]
    assert marks["shots"][0]["at"] == pytest.approx([2.0, 1.6764], abs=1e-3)
    assert abs(marks["shots"][0]["off_m"]) == pytest.approx(1.0)


def test_heights_of_new_shots_are_remembered(client, project):
    habits = {**project["habits"], "lens_m": 1.2, "aim_m": None, "stays_above_floor": True}
    assert change(client, project, habits=habits).json()["habits"]["lens_m"] == 1.2
    stand = new(client, project, stand=(-4, -4), aim=(4, 4))["shot"]["stand"]
    assert (stand["position"][2], stand["aim"][2]) == (pytest.approx(1.2, abs=1e-4), pytest.approx(1.2, abs=1e-4))
    assert stand["above_floor_m"] == pytest.approx(1.2, abs=1e-4)
    assert change(client, project, habits={**habits, "step_m": 0}).status_code == 422


def test_a_write_that_failed_leaves_nothing_of_itself_in_the_list(client, project, engine):
    first = new(client, project)
    owner = uuid.UUID(project["id"])

    def found(session):
        return shots_out(session, written_of(session, owner), around(session, project_row(session, owner)))

    def under_lens(session, focal_length_mm):
        row = shot_row(session, uuid.UUID(first["id"]))
        row.settings = _settings(row.settings, lens={"focal_length_mm": focal_length_mm})
        row.version += 1
        session.flush()
        return [(one.version, one.shot.lens.focal_length_mm) for one in found(session)]

    with Session(engine) as session:
        assert under_lens(session, 85) == [(first["version"] + 1, 85)]
        session.rollback()
    with Session(engine) as session:
        assert [one.shot.lens.focal_length_mm for one in found(session)] == [35]
        assert under_lens(session, 50) == [(first["version"] + 1, 50)], "the same version, written anew"
        session.commit()
    assert [one["shot"]["lens"]["focal_length_mm"] for one in now_of(client, project)["shots"]] == [50]


def test_shots_held_for_writing_are_as_they_are_now(client, project, engine):
    shot = new(client, project)
    owner = uuid.UUID(project["id"])
    with Session(engine) as session:
        [seen] = shots_of(session, owner)
        longer = patch(client, shot, label="Lens", patch=_settings(shot["shot"], lens={"focal_length_mm": 85})).json()
        assert seen.version == shot["version"], "read before the other write"
        [held] = shots_held(session, owner)
        assert (held.version, held.settings["lens"]["focal_length_mm"]) == (longer["version"], 85)
        session.rollback()


def test_a_parallel_shot_is_told_as_wide_as_the_sets_ruler_tells(client):
    """In the list and in the lab as in its panel: centimetres on a 40 cm set, metres in a room."""
    for size, words in ((0.2, r"parallel, \d+\.\d cm wide"), (3.0, r"parallel, \d+\.\d\d m wide")):
        block = trimesh.creation.box(bounds=[[-size, 0, -size], [size, size, size]])
        project = client.post("/api/projects", files={"model": ("block.glb", glb_of(block))}).json()
        how = {"kind": "from_plan", "stand": [0, -3 * size], "aim": [0, 0]}
        shot = client.post(f"/api/projects/{project['id']}/shots", json={"how": how}).json()
        flat = patch(client, shot, gesture={"kind": "projection_to", "projection": "parallel"}).json()
        assert re.fullmatch(words, flat["line"])
        assert client.post(f"/api/shots/{shot['id']}/proof").json()["line"] == flat["line"]
