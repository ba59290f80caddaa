"""Models read in: what comes in as it is, what is refused and why, and that a bad file hurts nothing."""

import base64
import io
import json
import threading

import numpy as np
import pytest
import trimesh
from PIL import Image
from tests.conftest import glb_set

from zevlo.demo.glb import pack_glb, pottery_glb
from zevlo.files import sandbox as door
from zevlo.files.arrays import pack_set, unpack_set
from zevlo.files.glb import open_container
from zevlo.files.refusal import CannotRead
from zevlo.files.view import view_files


def glb_of(*shapes, **change):
    """A GLB by trimesh's own writer, its JSON changed."""
    scene = trimesh.Scene()
    for n, shape in enumerate(shapes or (trimesh.creation.box((2, 3, 4)),)):
        scene.add_geometry(shape, node_name=f"Thing {n}")
    container = open_container(scene.export(file_type="glb"))
    return pack_glb({**container.document, **change}, container.binary)


def test_y_up_becomes_z_up_and_metres_stay():
    tall = trimesh.creation.box((1, 3, 2))
    tall.apply_translation((10, 1.5, -4))
    model = glb_set(glb_of(tall))
    assert model.bounds == pytest.approx(np.array([[9.5, 3, 0], [10.5, 5, 3]]))


def test_names_tree_transforms_and_materials_come_through():
    box = open_container(glb_of(trimesh.creation.box((1, 1, 1))))
    document = {
        **box.document,
        "materials": [{"name": "Glaze", "pbrMetallicRoughness": {"baseColorFactor": [0.1, 0.2, 0.3, 1], "roughnessFactor": 0.25, "metallicFactor": 0}}],
        "nodes": [
            {"name": "House", "children": [1, 2]},
            {"name": "Stove", "mesh": 0, "translation": [0, 0, 5], "scale": [2, 2, 2]},
            {"name": "Stove", "mesh": 0, "rotation": [0, 0.70710678, 0, 0.70710678], "translation": [7, 0, 0]},
        ],
        "scenes": [{"nodes": [0]}],
        "scene": 0,
    }  # fmt: skip
    document["meshes"][0]["primitives"][0]["material"] = 0
    model = glb_set(pack_glb(document, box.binary))
    assert [(p.name, p.parent, p.face_count) for p in model.parts] == [
        ("House", None, 0),
        ("Stove", 0, 12),
        ("Stove", 0, 12),
    ]
    first = model.vertices[np.unique(model.faces[:12])]
    assert [first.min(axis=0).tolist(), first.max(axis=0).tolist()] == [
        pytest.approx([-1, -6, -1]),
        pytest.approx([1, -4, 1]),
    ]
    assert model.materials[1].base_color == pytest.approx((0.1, 0.2, 0.3))
    assert model.materials[1].roughness == 0.25
    assert set(model.face_material.tolist()) == {1}


def test_a_mirrored_part_still_faces_outwards():
    box = open_container(glb_of(trimesh.creation.box((1, 1, 1))))
    nodes = [{"name": "Mirrored", "mesh": 0, "scale": [-1, 1, 1]}]
    model = glb_set(pack_glb({**box.document, "nodes": nodes, "scenes": [{"nodes": [0]}], "scene": 0}, box.binary))
    assert trimesh.Trimesh(model.vertices, model.faces, process=True).volume == pytest.approx(1.0)


def test_demo_and_its_stored_arrays_are_the_same_each_time():
    first, second = pottery_glb(), pottery_glb()
    assert first == second
    assert len(first) < 20e6
    model = glb_set(first)
    kept = io.BytesIO()
    pack_set(model, kept)
    kept.seek(0)
    again = unpack_set(kept)
    assert np.array_equal(again.vertices, model.vertices)
    assert np.array_equal(again.faces, model.faces)
    assert (again.parts, again.materials, again.pictures) == (model.parts, model.materials, model.pictures)
    names = {part.name for part in model.parts}
    assert {
        "Tower",
        "Steps",
        "Beams",
        "Long table",
        "Wheel pan",
        "Shelf boards",
        "Pendant shade 1",
        "Drying loft",
        "Teapot",
        "Cup 2",
    } <= names
    heights = [
        model.vertices[model.faces[p.first_face : p.first_face + p.face_count]][..., 2]
        for p in model.parts
        if p.name == "Gauge hut"
    ]
    assert heights[0].max() == pytest.approx(15.6)


def test_textures_come_with_their_mean_colour():
    picture = io.BytesIO()
    Image.new("RGB", (8, 8), (255, 0, 0)).save(picture, "PNG")
    square = trimesh.Trimesh([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [[0, 1, 2], [0, 2, 3]], process=False)
    square.visual = trimesh.visual.TextureVisuals(
        uv=[[0, 0], [1, 0], [1, 1], [0, 1]],
        material=trimesh.visual.material.PBRMaterial(baseColorTexture=Image.open(picture), metallicFactor=0.0),
    )
    model = glb_set(trimesh.Scene(square).export(file_type="glb"))
    assert model.materials[1].seen_tint == pytest.approx((1, 0, 0))
    assert model.uv is not None
    assert sorted(map(tuple, model.uv.round(3).tolist())) == [(0, 0), (0, 1), (1, 0), (1, 1)]


def test_a_gltf_with_everything_inside_is_read():
    container = open_container(glb_of())
    uri = "data:application/octet-stream;base64," + base64.b64encode(container.binary).decode()
    document = {**container.document, "buffers": [{"byteLength": len(container.binary), "uri": uri}]}
    assert len(glb_set(json.dumps(document).encode()).faces) == 12


def _changed(edit):
    container = open_container(glb_of())
    document = json.loads(json.dumps(container.document))
    edit(document)
    return pack_glb(document, container.binary)


def _nan():
    container = open_container(glb_of())
    view = container.document["bufferViews"][
        container.document["accessors"][container.document["meshes"][0]["primitives"][0]["attributes"]["POSITION"]][
            "bufferView"
        ]
    ]
    binary = bytearray(container.binary)
    binary[view["byteOffset"] : view["byteOffset"] + 4] = np.float32(np.nan).tobytes()
    return pack_glb(container.document, bytes(binary))


def _bad_index():
    container = open_container(glb_of())
    view = container.document["bufferViews"][
        container.document["accessors"][container.document["meshes"][0]["primitives"][0]["indices"]]["bufferView"]
    ]
    binary = bytearray(container.binary)
    binary[view["byteOffset"] : view["byteOffset"] + 4] = (250).to_bytes(4, "little")
    return pack_glb(container.document, bytes(binary))


BROKEN = {
    "nothing": (b"", "empty"),
    "a picture": (b"\x89PNG\r\n\x1a\n" + b"0" * 200, "not a glTF model"),
    "cut off": (glb_of()[:-40], "cut off"),
    "half a header": (b"glTF\x02\0\0\0", "ends before its header"),
    "old": (b"glTF" + (1).to_bytes(4, "little") + b"\0" * 40, "version 1"),
    "no json": (b'{"asset": ', "cannot be read"),
    "some json": (b'{"a": 1}', "not a glTF 2.0 model"),
    "basis": (_changed(lambda d: d.update(extensionsRequired=["KHR_texture_basisu"])), "Basis pictures"),
    "unknown need": (_changed(lambda d: d.update(extensionsRequired=["ACME_thing"])), "ACME_thing"),
    "elsewhere": (_changed(lambda d: d.update(buffers=[{"byteLength": 10, "uri": "../../etc/passwd"}])), "another file"),
    "cycle": (_changed(lambda d: d.update(nodes=[{"children": [1]}, {"children": [0], "mesh": 0}], scenes=[{"nodes": [0]}])), "circle"),
    "huge count": (_changed(lambda d: d["accessors"][0].update(count=2**40)), "claims more numbers"),
    "past the end": (_changed(lambda d: d["bufferViews"][0].update(byteLength=10**9)), "past the end"),
    "bad index": (_bad_index(), "points that are not there"),
    "not numbers": (_nan(), "not numbers"),
    "no scene": (_changed(lambda d: d.update(nodes=[], scenes=[{"nodes": []}])), "empty"),
    "no surfaces": (_changed(lambda d: d.update(meshes=[{"primitives": []}])), "empty"),
    "enormous": (_changed(lambda d: d.update(nodes=[{"mesh": 0, "scale": [1e6, 1e6, 1e6]}], scenes=[{"nodes": [0]}])), "Check the units"),
    "no size": (_changed(lambda d: d.update(nodes=[{"mesh": 0, "scale": [0, 0, 0]}], scenes=[{"nodes": [0]}])), "no size"),
}  # fmt: skip


@pytest.mark.parametrize("name", BROKEN)
def test_refused_with_its_reason(name):
    data, words = BROKEN[name]
    with pytest.raises(CannotRead, match=words):
        glb_set(data)


def _take_in(folder, data, name="thing.glb", **limits):
    source = folder / "model"
    source.write_bytes(data)
    with door.import_model(source, name, **limits) as taken:
        return taken.summary


def test_the_door_passes_reasons_on_and_keeps_its_limits(tmp_path):
    with pytest.raises(CannotRead, match="not a model that is read here"):
        _take_in(tmp_path, b"hello there", "letter.doc")
    with pytest.raises(CannotRead, match="not a glTF model, whatever its name says"):
        _take_in(tmp_path, b"hello there")
    with pytest.raises(CannotRead, match="up to 1 MB"):
        _take_in(tmp_path, b"0" * (1024**2 + 1), size_limit=1024**2)
    summary = _take_in(tmp_path, glb_of())
    assert summary["triangles"] == 12
    assert summary["parts"][-1]["name"] == "Thing 0"


def test_a_reader_that_runs_out_of_memory_or_time_takes_nothing_down(tmp_path):
    with pytest.raises(CannotRead, match=r"needs more than|did not expect"):
        _take_in(tmp_path, glb_of(), memory_limit=60 * 1024**2)
    with pytest.raises(CannotRead, match="took longer"):
        _take_in(tmp_path, glb_of(), time_limit_s=0.05)


def test_reading_tells_how_far_it_is_and_can_be_given_up(tmp_path):
    heard: list[tuple[str, float | None]] = []
    _take_in(tmp_path, glb_of(), progress=lambda doing, share: heard.append((doing, share)))
    assert heard[0] == ("looking at the file", None)
    assert heard[-1] == ("making what is drawn", 1.0)
    stop = threading.Event()
    stop.set()
    with pytest.raises(CannotRead, match="Given up, as you asked"):
        _take_in(tmp_path, glb_of(), stop=stop)


def test_hostile_names_are_only_names():
    evil = _changed(lambda d: d["nodes"][-1].update(name="../../<script>alert(1)</script>"))
    model = glb_set(evil)
    assert "../../<script>alert(1)</script>" in {part.name for part in model.parts}
    assert all(b"script" not in view for view, _ in view_files(model, np.zeros(3)))
