"""Camera files that are broken, hostile or odd: refused with reasons, in nobody's words but ours, and one bad camera keeps
no other back."""

import csv
import io
import json
import re
from dataclasses import replace

import numpy as np
import pytest
from pxr import Usd
from tests.files.test_cameras_in_files import CM_Y_UP, ENDINGS, OURS

from zevlo.core.exchange.camera_record import CameraRecord, NoCamera, Unread, camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.exchange.shot_from_camera import taken
from zevlo.core.shot import Shot
from zevlo.demo.shots import SHOTS
from zevlo.files.cameras.formats import FORMATS, format_of, read_cameras, write_cameras

BROKEN = {
    ".json": [b"", b"{", b'[{"schema": "zevlo.shot/1", "lens": {"focal_length_mm": -3}}]', b"[[[[", b'{"shots": 5, "schema": "zevlo.shots/1"}', b"null", b"[" * 100_000],
    ".intrinsics.json": [b"[]", b'{"schema": "zevlo.intrinsics/1", "cameras": [{"K": 3}]}', b'{"schema": "zevlo.intrinsics/1", "cameras": [{"K": [[0,0,0],[0,0,0],[0,0,1]], "R": [[1,0,0],[0,1,0],[0,0,1]], "t": [0,0,0], "size_px": [10, 10]}]}'],
    ".csv": [b"", b"\xff\xfe\x00", b"a,b\n1,2\n", b'name,x,left\n"a', b"name,x,y,z,left\nA,1,2,nan,4\n", b"name,x,y,z,left\nA,1,2,3,4\n"],
    ".xlsx": [b"", b"PK\x03\x04nothing", b"x" * 100],
    ".gltf": [b"", b"{}", b'{"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"camera": 7}], "cameras": []}',
              b'{"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"camera": 0, "scale": [0, 0, 0]}], "cameras": [{"type": "perspective", "perspective": {"yfov": 1, "znear": 0.1}}]}',
              b'{"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"camera": 0}], "cameras": [{"type": "perspective", "perspective": {"yfov": 0, "znear": 0.1}}]}'],
    ".glb": [b"glTF", b"glTF\x02\0\0\0\xff\xff\xff\x7f"],
    ".usda": [b"", b"#usda 1.0\n(", b"#usda 1.0\n(metersPerUnit = 0)\ndef Camera \"a\" {}"],
    ".usdc": [b"", b"PXR-USDC" + b"\0" * 80],
    ".usdz": [b"", b"PK\x03\x04"],
}  # fmt: skip


@pytest.mark.parametrize(("ending", "data"), [(ending, data) for ending, many in BROKEN.items() for data in many])
def test_broken_and_hostile_files_are_refused_with_reasons(tmp_path, ending, data):
    path = tmp_path / f"cameras{ending}"
    path.write_bytes(data)
    with pytest.raises(NoCamera) as refused:
        [taken(one) for one in read_cameras(path, Receiver())]
    assert len(str(refused.value)) > 10


@pytest.mark.parametrize("odd", ['["a", 3]', "[null, 3]", "[Infinity, 3]", "[" * 9000, "{"])
def test_an_odd_size_of_ours_in_a_stage_is_refused_in_words(tmp_path, odd):
    path = tmp_path / "cameras.usda"
    write_cameras([camera_record_of(Shot(name="Odd"))], path, CM_Y_UP)
    stage = Usd.Stage.Open(str(path))
    prim = next(one for one in stage.Traverse() if one.GetAttribute("zevlo:size_px"))
    prim.GetAttribute("zevlo:size_px").Set(odd)
    stage.GetRootLayer().Save()
    with pytest.raises(NoCamera, match=r"cannot be read"):
        read_cameras(path, CM_Y_UP)


def test_every_kind_has_broken_files_to_refuse():
    assert {format_of(f"x{ending}") for ending in BROKEN} == set(FORMATS)
    with pytest.raises(NoCamera, match=r"\.usda"):
        format_of("cameras.docx")


def test_a_mirrored_or_sheared_camera_is_refused(tmp_path):
    camera = replace(camera_record_of(SHOTS[0]), shot=None)
    for wrong in (np.diag([-1.0, 1, 1, 1]), np.array([[1.0, 0.4, 0, 0], [0, 1, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]])):
        with pytest.raises(NoCamera, match="mirrored"):
            taken(replace(camera, matrix=camera.matrix @ wrong))


LIBRARY = re.compile(
    r"input_value|type=|pydantic|Traceback|\bNone\b|NoneType|division by zero|could not convert|not subscriptable|"
    r"Field required|Expecting|errno|/tmp|/var|object at|\bdict\b|\blist\b indices|\.part"
)
"""What no words to a person hold: a library's, a language's, a machine's."""


def spoilt(ending, path):
    """Three cameras in a file of a kind, of which the middle one cannot be read; None where the kind's own library keeps
    that from being written."""
    shots = [shot for shot in SHOTS if shot.lens.projection == "perspective"][:3]
    write_cameras([camera_record_of(shot, f"k{n}") for n, shot in enumerate(shots)], path, Receiver())
    if ending in (".usda", ".usdc", ".usd"):
        stage = Usd.Stage.Open(str(path))
        prim = [prim for prim in stage.Traverse() if prim.GetTypeName() == "Camera"][1]
        prim.GetAttribute("zevlo:shot").Set('{"lens": {"focal_length_mm": "wide"}}')
        stage.GetRootLayer().Save()
    elif ending == ".csv":
        rows = list(csv.reader(io.StringIO(path.read_text())))
        rows[2][rows[0].index("left")] = "wide"
        out = io.StringIO()
        csv.writer(out).writerows(rows)
        path.write_text(out.getvalue())
    elif ending in (".json", ".intrinsics.json", ".gltf"):
        found = json.loads(path.read_text())
        if ending == ".json":
            del found["shots"][1]["shot"]["schema"]
            found["shots"][1]["shot"]["lens"]["focal_length_mm"] = 0
        elif ending == ".gltf":
            found["cameras"][1]["perspective"]["yfov"] = 0
        else:
            found["cameras"][1]["size_px"] = [0, 0]
        path.write_text(json.dumps(found))
    else:
        return None
    return [shot.name for shot in shots]


@pytest.mark.parametrize("ending", ENDINGS)
def test_a_camera_that_cannot_be_read_does_not_keep_the_others_back(tmp_path, ending):
    path = tmp_path / f"cameras{ending}"
    names = spoilt(ending, path)
    if names is None:
        return
    found = read_cameras(path, Receiver())
    assert [isinstance(one, Unread) for one in found] == [False, True, False]
    assert [one.name for one in (found[0], found[2])] == [names[0], names[2]]
    assert found[1].why.startswith("cannot be read: ")
    assert not LIBRARY.search(found[1].why), found[1].why


def test_most_kinds_have_a_camera_that_cannot_be_read(tmp_path):
    assert sum(spoilt(ending, tmp_path / f"cameras{ending}") is not None for ending in ENDINGS) >= 6


def test_why_a_file_is_refused_is_told_in_nobodys_words_but_ours(tmp_path):
    """All that is refused above, and what its words hold."""
    for ending, data in [(ending, data) for ending, many in BROKEN.items() for data in many]:
        path = tmp_path / f"cameras{ending}"
        path.write_bytes(data)
        with pytest.raises(NoCamera) as refused:
            [taken(one) for one in read_cameras(path, Receiver())]
        assert not LIBRARY.search(str(refused.value).removeprefix(path.name)), refused.value


@pytest.mark.parametrize("key", ["K", "R", "t", "size_px", "pixel_mm", "distortion"])
def test_text_where_numbers_stand_is_no_number(tmp_path, key):
    """Also where it reads like one: who writes numbers as text may write 3,5 the next time."""
    path = tmp_path / "cameras.intrinsics.json"
    write_cameras([camera_record_of(SHOTS[0]), camera_record_of(SHOTS[1])], path, OURS)
    found = json.loads(path.read_text())
    row = found["cameras"][0]

    def as_text(value):
        return [as_text(one) for one in value] if isinstance(value, list) else str(value)

    row[key] = as_text(row[key])
    path.write_text(json.dumps(found))
    wrong, other = read_cameras(path, OURS)
    assert "where a number stands" in wrong.why
    assert isinstance(other, CameraRecord)


def test_text_for_a_gltf_cameras_angle_is_told(tmp_path):
    path = tmp_path / "cameras.gltf"
    write_cameras([camera_record_of(SHOTS[0]), camera_record_of(SHOTS[1])], path, OURS)
    found = json.loads(path.read_text())
    found["cameras"][0]["perspective"]["yfov"] = "0.8"
    path.write_text(json.dumps(found))
    wrong, other = read_cameras(path, OURS)
    assert '"0.8" where a number stands' in wrong.why
    assert isinstance(other, CameraRecord)


def test_what_is_told_twice_is_refused_and_which(tmp_path):
    path = tmp_path / "shots.json"
    path.write_text('{"schema": "zevlo.shot/1", "name": "a", "name": "b"}')
    with pytest.raises(NoCamera, match="the key “name” is told twice"):
        read_cameras(path, OURS)
    path = tmp_path / "cameras.csv"
    write_cameras([camera_record_of(SHOTS[0])], path, OURS)
    head, *rest = path.read_text().splitlines()
    path.write_text("\n".join([f"{head},x", *(f"{row},3" for row in rest)]))
    with pytest.raises(NoCamera, match="two columns called “x”"):
        read_cameras(path, OURS)
