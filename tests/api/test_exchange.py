"""Cameras out to other programs and in again over HTTP: the same, or told what changes before it does."""

import csv
import io
import json
import re
import struct
import threading
import zipfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from urllib.parse import unquote

import numpy as np
import pytest
import trimesh
from pxr import Usd, UsdGeom
from sqlalchemy import event
from tests.api.asking import change, new, now_of, patch, undo

from zevlo.api.bodies import MOST_ELSEWHERE
from zevlo.core.exchange.camera_record import camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.shot import Shot
from zevlo.files.cameras.formats import FORMATS, write_cameras
from zevlo.files.glb import open_container
from zevlo.files.gltf_file import pack_glb
from zevlo.files.limits import MOST_CAMERAS, MOST_TABLE_UNPACKED

ENDINGS = [ending for one in FORMATS for ending in one.endings]


@pytest.fixture
def shots(client, project):
    first = new(client, project)
    return [
        patch(client, first, patch={"movements": {"rise_mm": 4.0, "tilt_deg": 2.0}}).json(),
        new(client, project, stand=(3, 5)),
    ]


def out(client, project, **query):
    return client.get(f"/api/projects/{project['id']}/cameras/file", params=query)


def back(client, project, data, name, only_try=False, **query):
    return client.post(
        f"/api/projects/{project['id']}/cameras", params={"name": name, "only_try": only_try, **query}, content=data,
        headers={"Content-Type": "application/octet-stream"},
    )  # fmt: skip


@pytest.mark.parametrize("ending", ENDINGS)
def test_what_went_out_comes_in_as_the_same_shots(client, project, shots, ending):
    answer = out(client, project, ending=ending, unit="cm", up="y")
    assert answer.status_code == 200, answer.text
    assert f"cameras{ending}" in answer.headers["content-disposition"]
    found = back(client, project, answer.content, f"x{ending}", unit="cm", up="y").json()
    assert [(one["shot"], one["changes"], one["refused"]) for one in found["cameras"]] == [
        (row["id"], [], None) for row in shots
    ]
    assert found["written"] is False


def test_what_a_file_changes_is_told_before_it_does_and_undone_in_one_go(client, project, shots):
    data = out(client, project, ending=".usda", unit="cm", up="y").content
    moved = patch(client, shots[1], gesture={"kind": "face", "heading_deg": 77}).json()
    answer = back(client, project, data, "x.usda", only_try=True, unit="cm", up="y").json()
    assert [len(one["changes"]) > 0 for one in answer["cameras"]] == [False, True]
    assert now_of(client, project)["shots"][1]["shot"] == moved["shot"], "it was only told"
    answer = back(client, project, data, "x.usda", unit="cm", up="y").json()
    assert answer["written"] is True
    assert now_of(client, project)["shots"][1]["shot"] == shots[1]["shot"]
    assert undo(client, project)["redo"] == "Bring in 1 camera"
    assert now_of(client, project)["shots"][1]["shot"] == moved["shot"]


def test_one_is_chosen_and_what_is_not_said_is_told_before(client, project, shots):
    words = client.get(f"/api/projects/{project['id']}/cameras/not-said", params={"ending": ".usda"}).json()["words"]
    assert len(words) == 1
    assert "tilt and swing" in words[0]
    assert (
        client.get(f"/api/projects/{project['id']}/cameras/not-said", params={"ending": ".json"}).json()["words"] == []
    )
    one = json.loads(out(client, project, ending=".json", shot=shots[1]["id"]).content)
    assert [row["id"] for row in one["shots"]] == [shots[1]["id"]]
    others = json.loads(out(client, project, ending=".json", but=shots[1]["id"]).content)
    assert [row["id"] for row in others["shots"]] == [shots[0]["id"]], "by what is left out, where that is less"
    assert out(client, project, ending=".json", but=[row["id"] for row in shots]).status_code == 404
    for wrong in (".docx", "../x.json", "json"):
        assert out(client, project, ending=wrong).status_code == 422
    empty = out(client, project, ending=".json", shot="0" * 32)
    assert (empty.status_code, empty.json()["detail"]) == (404, "There is no shot to send.")
    kinds = client.get("/api/cameras/kinds").json()["kinds"]
    assert sorted(ending for kind in kinds for ending in kind["endings"]) == sorted(ENDINGS)


def test_cameras_of_others_come_as_new_shots_and_locked_ones_stay(client, project, shots):
    document = {
        "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, 1]}],
        "nodes": [{"name": "Left", "camera": 0, "translation": [-2, 1.5, 4]}, {"name": shots[0]["shot"]["name"], "camera": 0}],
        "cameras": [{"type": "perspective", "perspective": {"yfov": 0.8, "aspectRatio": 1.5, "znear": 0.1}}],
    }  # fmt: skip
    locked = client.post(f"/api/shots/{shots[0]['id']}/lock", json={"version": shots[0]["version"], "locked": True})
    assert locked.status_code == 200
    answer = back(client, project, json.dumps(document), "theirs.gltf").json()
    assert [one["shot"] for one in answer["cameras"]] == [None, shots[0]["id"]]
    assert answer["cameras"][1]["refused"].endswith("is locked.")
    rows = now_of(client, project)["shots"]
    assert [row["shot"]["name"] for row in rows][2:] == ["Left"]
    assert rows[2]["shot"]["stand"]["position"] == pytest.approx([-2, -4, 1.5])
    assert rows[0]["shot"] == shots[0]["shot"]


def theirs(*nodes, **more):
    """A glTF as others write it: cameras without a word of ours."""
    lens = {"type": "perspective", "perspective": {"yfov": 0.8, "aspectRatio": 1.5, "znear": 0.1}, **more}
    document = {
        "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": list(range(len(nodes)))}],
        "nodes": [{"camera": 0, **node} for node in nodes], "cameras": [lens],
    }  # fmt: skip
    return json.dumps(document).encode()


def test_a_camera_of_others_changes_of_a_shot_what_it_tells_and_no_more(client, project, shots):
    """Known by a name that another program wrote its own way: a shot's stop, its tilt, its size stay."""
    name = shots[0]["shot"]["name"]
    plain = "".join(sign if sign.isalnum() else "_" for sign in name)
    data = theirs({"name": f"{plain}.001", "translation": [-2, 1.5, 4]})
    answer = back(client, project, data, "theirs.glTF").json()
    assert [(one["name"], one["shot"], one["refused"]) for one in answer["cameras"]] == [(name, shots[0]["id"], None)]
    before, now = shots[0]["shot"], now_of(client, project)["shots"][0]["shot"]
    assert now["stand"]["position"] == pytest.approx([-2, -4, 1.5])
    assert now["movements"]["tilt_deg"] == 2.0
    # Its name nobody wrote: it follows the lens.
    for group in set(before) - {"stand", "lens", "back", "movements", "name"}:
        assert now[group] == before[group], group


def test_a_shot_renamed_elsewhere_is_renamed_here_and_one_nobody_named_goes_on_to_name_itself(client, project, shots):
    table = out(client, project, ending=".csv").content.decode()
    first = shots[0]["shot"]["name"]
    renamed = table.replace(f'"{first}"', '"Vase, by the door"', 1)
    assert renamed != table
    answer = back(client, project, renamed.encode(), "x.csv").json()["cameras"]
    assert [one["changes"] for one in answer] == [["called “Vase, by the door”"], []]
    assert now_of(client, project)["shots"][0]["shot"]["name"] == "Vase, by the door"
    patch(client, shots[1], patch={"lens": {"focal_length_mm": 50.0}})
    assert "50 mm" in now_of(client, project)["shots"][1]["shot"]["name"]
    answer = back(client, project, table.encode(), "x.csv").json()["cameras"]
    assert not any("called" in words for words in answer[1]["changes"])
    assert now_of(client, project)["shots"][1]["shot"]["name"] == shots[1]["shot"]["name"]


def test_who_has_an_id_comes_before_who_has_a_name(client, project, shots):
    """Somebody else's camera has the name of a shot that is in the file under its id, after it."""
    found = json.loads(out(client, project, ending=".gltf").content)
    found["nodes"].insert(0, {**found["nodes"][0], "extras": {}})
    found["scenes"][0]["nodes"] = [0, 1, 2]
    came = back(client, project, json.dumps(found), "x.gltf", only_try=True).json()["cameras"]
    assert [one["shot"] for one in came] == [None, *(row["id"] for row in shots)]
    assert [one["changes"] for one in came[1:]] == [[], []]


def test_one_that_cannot_be_set_up_does_not_hold_up_the_others(client, project, shots):
    data = theirs({"name": "Mirrored", "scale": [-1, 1, 1]}, {"name": "Good", "translation": [0, 1.5, 4]})
    mirrored, good = back(client, project, data, "theirs.gltf").json()["cameras"]
    assert "mirrored" in mirrored["refused"]
    assert good["refused"] is None
    assert [row["shot"]["name"] for row in now_of(client, project)["shots"]][2:] == ["Good"]
    for wrong in ({"focus_m": "near"}, {"size_px": [0, 4]}, {"f_number": []}, {"frame": [0, 0, 1e999, 1]}):
        answer = back(client, project, theirs({"name": "Odd"}, extras={"zevlo": wrong}), "theirs.gltf")
        assert answer.status_code == 422 or answer.json()["cameras"][0]["refused"], wrong
        assert "Odd" in answer.text, wrong


def test_in_the_models_own_world_cameras_stand_where_it_says(client, project, shots):
    """The model is glTF: metres, Y up, as it was brought in."""
    row = next(iter(json.loads(out(client, project, ending=".intrinsics.json", own=True).content)["cameras"]))
    position = -np.array(row["R"]).T @ np.array(row["t"])
    x, y, z = shots[0]["shot"]["stand"]["position"]
    moved = now_of(client, project)["set"]["placing"]["moved_m"]
    assert position == pytest.approx([x - moved[0], z - moved[2], -(y - moved[1])], abs=1e-9)
    answer = out(client, project, ending=".usdc", own=True)
    found = back(client, project, answer.content, "x.usdc", own=True).json()
    assert [one["changes"] for one in found["cameras"]] == [[], []]


def test_broken_files_are_refused_and_change_nothing(client, project, shots):
    for name, data in (
        ("x.usdc", b"PXR-USDC" + b"\0" * 60),
        ("x.json", b"{"),
        ("x.docx", b"?"),
        ("x.csv", b""),
        ("x.glb", b"glTF"),
        ("../../x.usda", b"#usda 1.0\n("),
    ):
        answer = back(client, project, data, name)
        assert answer.status_code == 422, name
        found = answer.json()["detail"]
        assert name.rpartition("/")[2] in found
        assert "given" not in found
    assert [row["shot"] for row in now_of(client, project)["shots"]] == [row["shot"] for row in shots]


def placed(client, project, **placing):
    version = now_of(client, project)["version"]
    answer = client.post(f"/api/projects/{project['id']}/placing", json={"version": version, **placing})
    assert answer.status_code == 200, answer.text


def set_out(client, project, **query):
    """The set and its cameras in one file."""
    return out(client, project, ending=".glb", with_set=True, **query).content


def bounds_of(data):
    return trimesh.load(io.BytesIO(data), file_type="glb").bounds


def test_the_set_goes_along_where_the_cameras_stand(client, project, shots):
    """Read back by trimesh: Y up, in metres, as the standard says; as the model has it at its own origin too."""
    (low, high) = now_of(client, project)["set"]["bounds"]
    turned = [[low[0], low[2], -high[1]], [high[0], high[2], -low[1]]]
    assert bounds_of(set_out(client, project)) == pytest.approx(np.array(turned), abs=1e-6)
    own = np.array([[-6, -0.2, -6], [6, 1, 6]])
    assert bounds_of(set_out(client, project, own=True)) == pytest.approx(own, abs=1e-6)
    placed(client, project, metres_per_unit=0.01, up="y")
    data = set_out(client, project, own=True)
    assert bounds_of(data) == pytest.approx(own * 0.01, abs=1e-8)
    answer = back(client, project, data, "x.glb", own=True).json()
    assert [one["changes"] for one in answer["cameras"]] == [[], []]
    for ending in (".gltf", ".usda"):
        refused = out(client, project, ending=ending, with_set=True)
        assert (refused.status_code, "in .glb alone" in refused.json()["detail"]) == (422, True)


@pytest.mark.parametrize("up", ["y", "z"])
def test_a_set_with_z_up_in_centimetres_goes_out_as_gltf_is(client, up):
    """Its file has another unit and axis; glTF has one: metres and Y up, where its own origin is."""
    box = trimesh.creation.box(bounds=[[100, 200, 300], [500, 900, 400]])
    answer = client.post("/api/projects", files={"model": ("shelf.obj", box.export(file_type="obj"))})
    assert answer.status_code == 201, answer.text
    project = answer.json()
    placed(client, project, metres_per_unit=0.01, up=up, turn_deg=30.0)
    new(client, project, stand=(1, -5))
    data = set_out(client, project, own=True)
    standing = [[1, 2, 3], [5, 9, 4]] if up == "y" else [[1, 3, -9], [5, 4, -2]]
    assert bounds_of(data) == pytest.approx(np.array(standing), abs=1e-6)
    (found,) = back(client, project, data, "x.glb", own=True).json()["cameras"]
    assert found["changes"] == []


def model_with_camera():
    """A box with a camera in its file, two units before it and one up, Y up."""
    scene = trimesh.Scene(trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]]))
    container = open_container(scene.export(file_type="glb"))
    document = container.document
    document["nodes"].append({"name": "Theirs", "camera": 0, "translation": [0.5, 1.0, 2.0]})
    document["scenes"][0]["nodes"].append(len(document["nodes"]) - 1)
    document["cameras"] = [{"type": "perspective", "perspective": {"yfov": 0.8, "aspectRatio": 1.5, "znear": 0.1}}]
    return pack_glb(document, struct.pack("<I4s", len(container.binary), b"BIN\0"), container.binary)


def usd_model_with_camera(path):
    """The same as a stage in centimetres."""
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageMetersPerUnit(stage, 0.01)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.Cube.Define(stage, "/box").CreateSizeAttr(2.0)
    camera = UsdGeom.Camera.Define(stage, "/Theirs")
    camera.AddTranslateOp().Set((0.5, 1.0, 2.0))
    camera.CreateClippingRangeAttr((0.1, 50.0))
    stage.Save()
    return path.read_bytes()


@pytest.mark.parametrize(("name", "metres"), [("theirs.glb", 0.025), ("theirs.usdc", 1.0)])
def test_cameras_of_the_model_come_as_shots_where_they_stand_in_it(client, tmp_path, name, metres):
    """Also where its unit is not the one the file says."""
    data = model_with_camera() if name.endswith(".glb") else usd_model_with_camera(tmp_path / name)
    answer = client.post("/api/projects", files={"model": (name, data)})
    assert answer.status_code == 201, answer.text
    project = answer.json()
    assert client.post(f"/api/projects/{project['id']}/cameras/of-set").json()["written"] is False
    placed(client, project, metres_per_unit=metres, up="y")
    address = f"/api/projects/{project['id']}/cameras/of-set"
    assert client.post(address, params={"only_try": False}).json()["written"] is True
    now = now_of(client, project)
    moved = now["set"]["placing"]["moved_m"]
    (row,) = now["shots"]
    assert row["shot"]["name"] == "Theirs"
    assert row["shot"]["stand"]["position"] == pytest.approx(np.array([0.5, -2.0, 1.0]) * metres + moved, abs=1e-9)
    assert row["shot"]["lens"]["near_m"] == pytest.approx(0.1 * metres)


def test_models_without_cameras_say_so(client, project):
    address = "/api/projects/{}/cameras/of-set"
    answer = client.post(address.format(project["id"]))
    assert (answer.status_code, answer.json()["detail"]) == (422, "two_boxes.glb: there is no camera in it")
    obj = trimesh.creation.box().export(file_type="obj")
    other = client.post("/api/projects", files={"model": ("box.obj", obj)}).json()
    answer = client.post(address.format(other["id"]))
    assert (answer.status_code, "models of that kind have no cameras" in answer.json()["detail"]) == (422, True)


def test_nobody_waits_while_cameras_are_read(client, project, shots, monkeypatch):
    """A file that takes long is read before the project is held."""
    from zevlo.api import exchange

    reading, go_on = threading.Event(), threading.Event()
    read = exchange.import_cameras

    def slowly(*arguments):
        reading.set()
        assert go_on.wait(60)
        return read(*arguments)

    data = out(client, project, ending=".json").content
    monkeypatch.setattr(exchange, "import_cameras", slowly)
    with ThreadPoolExecutor(1) as hand:
        coming = hand.submit(back, client, project, data, "x.json")
        assert reading.wait(60)
        shots[0] = patch(client, shots[0], gesture={"kind": "face", "heading_deg": 12}).json()
        go_on.set()
        answer = coming.result().json()
    assert [len(one["changes"]) > 0 for one in answer["cameras"]] == [True, False], (
        "held against the shots as they are then"
    )


def test_many_cameras_come_in_without_asking_more_often(client, project, shots):
    """A hundred cost as many questions to the database as ten do."""
    asked, counts = [], []
    event.listen(client.app.state.desk.engine, "before_cursor_execute", lambda *_: asked.append(1))
    for count in (10, 100):
        rows = [{**shots[0]["shot"], "name": f"Camera {count} {n}"} for n in range(count)]
        asked.clear()
        answer = back(client, project, json.dumps(rows).encode(), "x.json").json()
        counts.append(len(asked))
        assert answer["written"] is True
        assert len(answer["cameras"]) == count
    names = [row["shot"]["name"] for row in now_of(client, project)["shots"]]
    assert len(names) == len(set(names)) == 112
    assert names[2:12] == [f"Camera 10 {n}" for n in range(10)], (
        "in the order of the file, behind those that were there"
    )
    assert counts[1] <= counts[0] + 3, counts


@pytest.mark.parametrize("ending", [one for one in ENDINGS if one not in (".usdc", ".usdz", ".usd", ".glb")])
def test_more_cameras_than_are_taken_are_refused_before_any_is_read(client, project, shots, tmp_path, ending):
    many = [replace(camera_record_of(Shot(name=f"C{n}")), shot=None) for n in range(MOST_CAMERAS + 1)]
    path = tmp_path / f"many{ending}"
    if ending == ".json":
        path.write_text(json.dumps([Shot(name=f"C{n}").as_json() for n in range(MOST_CAMERAS + 1)]))
    else:
        write_cameras(many, path, Receiver())
    answer = back(client, project, path.read_bytes(), path.name)
    assert answer.status_code == 422
    assert f"it has {MOST_CAMERAS + 1} cameras; up to {MOST_CAMERAS} are taken in at a time" in answer.json()["detail"]
    assert len(now_of(client, project)["shots"]) == len(shots)


def test_a_table_that_unpacks_to_far_more_is_refused(client, project):
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr("xl/worksheets/sheet1.xml", b"A" * (MOST_TABLE_UNPACKED + 1))
    answer = back(client, project, packed.getvalue(), "bomb.xlsx")
    assert answer.status_code == 422
    assert "it unpacks to 128 MB; up to 128 are read" in answer.json()["detail"]


def test_a_file_of_cameras_may_be_as_large_as_the_set_in_it(client, project, shots):
    """Over 16 MB, as the set goes along: what is around the cameras is no matter."""
    document = json.loads(out(client, project, ending=".gltf").content)
    document["extras"] = {"much": "x" * (MOST_ELSEWHERE + 1)}
    answer = back(client, project, json.dumps(document).encode(), "large.gltf")
    assert answer.status_code == 200, answer.text
    assert len(answer.json()["cameras"]) == 2


WORKED_OUT = ("=1+1", "+cmd|' /C calc'!A0", "-5", "@SUM(1)", "'=1", "''@x", "'plain", "\t=1")
"""What a spreadsheet would work out if a cell began with it, and names that begin as what protects them does."""


def test_no_name_is_worked_out_by_a_spreadsheet_and_each_comes_back(client, project):
    for name in WORKED_OUT:
        patch(client, new(client, project), patch={"name": name})
    data = out(client, project, ending=".csv").content
    for row in csv.DictReader(io.StringIO(data.decode())):
        assert not re.match(r"[=+\-@\t\r]", row["name"])
    answer = back(client, project, data, "x.csv").json()
    now = now_of(client, project)["shots"]
    assert len(now) == len(WORKED_OUT)
    assert [(one["name"], one["changes"]) for one in answer["cameras"]] == [(row["shot"]["name"], []) for row in now]


def test_a_file_is_saved_under_its_project_s_name_whatever_that_holds(client, project, shots):
    for name in ("line\nbreak", 'a "quoted" name', "back\\slash", "x\r\nSet-Cookie: a=b", "漢字 🙂", "\u202eabc"):
        change(client, project, name=name)
        answer = out(client, project, ending=".json")
        assert answer.status_code == 200
        header = answer.headers["content-disposition"]
        simple_and_whole = r"attachment; filename=\"[^\"\\\r\n]+\"; filename\*=UTF-8''[A-Za-z0-9%._~-]+"
        assert re.fullmatch(simple_and_whole, header), header
        assert unquote(header.rpartition("''")[2]).endswith(" cameras.json")
