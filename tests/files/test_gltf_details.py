"""The finer points of glTF 2.0 (section numbers are the specification's), each on a file made for it."""

import base64
import io
import json
import struct

import numpy as np
import pytest
import trimesh
from PIL import Image
from tests.conftest import glb_set
from tests.files.test_import_model import glb_of

from zevlo.core.scene.model.placing import Placing, matrix_of
from zevlo.demo.glb import pack_glb
from zevlo.files.glb import Container, open_container, pack
from zevlo.files.gltf import from_bytes
from zevlo.files.textures import linear
from zevlo.files.view import view_files


class Buffer:
    """A binary buffer with views and accessors, written by hand."""

    def __init__(self):
        self.data, self.views, self.accessors = bytearray(), [], []

    def add(self, array, kind):
        self.data.extend(b"\0" * (-len(self.data) % 4))
        self.views.append({"buffer": 0, "byteOffset": len(self.data), "byteLength": array.nbytes})
        self.data.extend(array.tobytes())
        code = {"float32": 5126, "uint16": 5123, "uint32": 5125, "uint8": 5121}[array.dtype.name]
        self.accessors.append(
            {
                "bufferView": len(self.views) - 1,
                "componentType": code,
                "count": array.size // {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4}[kind],
                "type": kind,
            }
        )
        return len(self.accessors) - 1

    def glb(self, primitives, **more):
        document = {
            "asset": {"version": "2.0"}, "buffers": [{"byteLength": len(self.data)}], "bufferViews": self.views,
            "accessors": self.accessors, "meshes": [{"primitives": primitives}], "nodes": [{"mesh": 0, "name": "It"}],
            "scenes": [{"nodes": [0]}], "scene": 0, **more,
        }  # fmt: skip
        return pack_glb(document, bytes(self.data))


SQUARE = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], dtype=np.float32)


def test_triangles_without_indices_and_strips():
    """3.7.2.1: without indices, vertices are taken in order; mode 5 is a strip."""
    buffer = Buffer()
    loose = buffer.add(SQUARE[[0, 1, 2, 0, 2, 3]], "VEC3")
    assert len(glb_set(buffer.glb([{"attributes": {"POSITION": loose}}])).faces) == 2
    buffer = Buffer()
    place, strip = buffer.add(SQUARE[[0, 1, 3, 2]], "VEC3"), buffer.add(np.arange(4, dtype=np.uint16), "SCALAR")
    model = glb_set(buffer.glb([{"attributes": {"POSITION": place}, "indices": strip, "mode": 5}]))
    area = trimesh.Trimesh(model.vertices, model.faces, process=False)
    assert area.area == pytest.approx(1.0)
    assert area.face_normals @ [0, -1, 0] == pytest.approx([1, 1]), "+Z of the file looks south, -Y"


def test_lines_and_points_are_passed_over_beside_surfaces():
    buffer = Buffer()
    place = buffer.add(SQUARE, "VEC3")
    faces = buffer.add(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint32), "SCALAR")
    triangles = {"attributes": {"POSITION": place}, "indices": faces}
    model = glb_set(
        buffer.glb(
            [{"attributes": {"POSITION": place}, "mode": 1}, triangles, {"attributes": {"POSITION": place}, "mode": 0}]
        )
    )
    assert len(model.faces) == 2


def test_several_primitives_make_one_part_with_their_own_materials():
    buffer = Buffer()
    place = buffer.add(SQUARE, "VEC3")
    halves = [buffer.add(np.array(h, dtype=np.uint8), "SCALAR") for h in ([0, 1, 2], [0, 2, 3])]
    primitives = [{"attributes": {"POSITION": place}, "indices": h, "material": n} for n, h in enumerate(halves)]
    materials = [
        {"name": "Glass", "alphaMode": "BLEND", "pbrMetallicRoughness": {"baseColorFactor": [1, 1, 1, 0.2]}},
        {"extensions": {"KHR_materials_transmission": {"transmissionFactor": 1.0}}},
    ]
    model = glb_set(buffer.glb(primitives, materials=materials))
    assert [(p.name, p.face_count) for p in model.parts] == [("It", 2)]
    assert model.face_material.tolist() == [1, 2]
    assert [m.name for m in model.materials] == ["Plain", "Glass", "Material 2"]
    assert [m.alpha for m in model.materials] == pytest.approx([1.0, 0.2, 0.05])


def test_a_face_without_material_is_plain_grey():
    buffer = Buffer()
    place = buffer.add(SQUARE, "VEC3")
    faces = buffer.add(np.array([0, 1, 2], dtype=np.uint16), "SCALAR")
    model = glb_set(buffer.glb([{"attributes": {"POSITION": place}, "indices": faces}]))
    assert model.materials[model.face_material[0]].base_color == (0.6, 0.6, 0.6)


def test_emission_is_in_candela_per_square_metre():
    """KHR_materials_emissive_strength: factor times strength."""
    buffer = Buffer()
    place = buffer.add(SQUARE[:3], "VEC3")
    lamp = {
        "emissiveFactor": [1, 0.5, 0],
        "extensions": {"KHR_materials_emissive_strength": {"emissiveStrength": 4000}},
    }
    model = glb_set(buffer.glb([{"attributes": {"POSITION": place}, "material": 0}], materials=[lamp]))
    assert model.materials[1].emissive == pytest.approx((4000, 2000, 0))


def test_matrix_nodes_and_chains_agree_with_plain_products():
    """3.5.3: a node's matrix is column by column; global is the product from the root down."""
    rng = np.random.default_rng(4)
    first, second = np.eye(4), np.eye(4)
    first[:3] += 0.3 * rng.normal(size=(3, 4))
    second[:3] += 0.3 * rng.normal(size=(3, 4))
    nodes = [{"children": [1], "matrix": first.T.ravel().tolist()}, {"mesh": 0, "matrix": second.T.ravel().tolist()}]
    buffer = Buffer()
    place = buffer.add(SQUARE, "VEC3")
    faces = buffer.add(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint16), "SCALAR")
    model = glb_set(buffer.glb([{"attributes": {"POSITION": place}, "indices": faces}], nodes=nodes))
    wanted = (matrix_of(Placing(up="y")) @ first @ second @ np.c_[SQUARE, np.ones(4)].T).T[:, :3]
    assert model.vertices == pytest.approx(wanted, abs=1e-6)


def test_normals_turn_with_their_part_and_stay_unit():
    buffer = Buffer()
    place, normal = buffer.add(SQUARE, "VEC3"), buffer.add(np.tile(np.float32([0, 0, 1]), (4, 1)), "VEC3")
    faces = buffer.add(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint16), "SCALAR")
    nodes = [{"mesh": 0, "rotation": [0, np.sin(np.pi / 4), 0, np.cos(np.pi / 4)], "scale": [3, 1, 1]}]
    model = glb_set(buffer.glb([{"attributes": {"POSITION": place, "NORMAL": normal}, "indices": faces}], nodes=nodes))
    assert model.normals == pytest.approx(np.tile([1, 0, 0], (4, 1)), abs=1e-6)


def test_a_file_without_scenes_shows_its_roots():
    container = open_container(glb_of())
    document = {k: v for k, v in container.document.items() if k not in ("scene", "scenes")}
    assert len(glb_set(pack_glb(document, container.binary)).faces) == 12


def test_cameras_and_scripts_of_a_file_do_not_reach_the_desk():
    container = open_container(glb_of())
    document = json.loads(json.dumps(container.document))
    document["cameras"] = [{"type": "perspective", "perspective": {"yfov": 1, "znear": 0.1}}]
    document["nodes"][-1].update(camera=0, extras={"note": "secret"})
    ((raw, drawn),) = view_files(glb_set(pack_glb(document, container.binary)), np.zeros(3))
    view = open_container(raw).document
    assert drawn == 12
    assert "cameras" not in view
    assert all(set(node) == {"name", "mesh"} for node in view["nodes"])
    assert {node["name"] for node in view["nodes"]} == {"part-0"} or len(view["nodes"]) == 1


def test_the_container_is_what_section_4_4_says():
    data = pack(Container({"asset": {"version": "2.0"}}, b"12345"))
    magic, version, length = struct.unpack_from("<4sII", data)
    assert (magic, version, length) == (b"glTF", 2, len(data))
    size, kind = struct.unpack_from("<I4s", data, 12)
    assert (size % 4, kind) == (0, b"JSON")
    size_bin, kind_bin = struct.unpack_from("<I4s", data, 20 + size)
    assert (size_bin, kind_bin) == (8, b"BIN\0")


def test_texture_transform_moves_the_places_in_the_proof_too():
    """KHR_texture_transform's own example: offset [0, 1], rotation π/2, scale [0.5, 0.5]."""
    buffer = Buffer()
    place = buffer.add(SQUARE, "VEC3")
    uv = buffer.add(np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=np.float32), "VEC2")
    faces = buffer.add(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint16), "SCALAR")
    png = trimesh.util.wrap_as_stream(b"")
    Image.new("RGB", (4, 4), (255, 255, 255)).save(png, "PNG")
    image = "data:image/png;base64," + base64.b64encode(png.getvalue()).decode()
    moved = {
        "index": 0,
        "extensions": {"KHR_texture_transform": {"offset": [0, 1], "rotation": np.pi / 2, "scale": [0.5, 0.5]}},
    }
    primitive = {"attributes": {"POSITION": place, "TEXCOORD_0": uv}, "indices": faces, "material": 0}
    data = buffer.glb(
        [primitive],
        materials=[{"pbrMetallicRoughness": {"baseColorTexture": moved}}],
        textures=[{"source": 0}],
        images=[{"uri": image}],
    )
    down = glb_set(data).uv * [1, -1] + [0, 1]
    assert down == pytest.approx(np.array([[0, 1], [0, 0.5], [0.5, 0.5], [0.5, 1]]), abs=1e-6)


def png(pixels):
    out = io.BytesIO()
    Image.fromarray(np.asarray(pixels, dtype=np.uint8)).save(out, "PNG")
    return out.getvalue()


def with_pictures(buffer, *pictures):
    """The document's images and textures, of pictures put into a buffer."""
    views = []
    for raw in pictures:
        buffer.data.extend(b"\0" * (-len(buffer.data) % 4))
        buffer.views.append({"buffer": 0, "byteOffset": len(buffer.data), "byteLength": len(raw)})
        buffer.data.extend(raw)
        views.append(len(buffer.views) - 1)
    return {
        "images": [{"bufferView": view, "mimeType": "image/png"} for view in views],
        "textures": [{"source": n} for n in range(len(pictures))],
    }


def square(buffer, **attributes):
    place, faces = buffer.add(SQUARE, "VEC3"), buffer.add(np.array([0, 1, 2, 0, 2, 3], dtype=np.uint32), "SCALAR")
    uv = buffer.add(SQUARE[:, :2].copy(), "VEC2")
    more = {name: buffer.add(*given) for name, given in attributes.items()}
    return {"attributes": {"POSITION": place, "TEXCOORD_0": uv, **more}, "indices": faces, "material": 0}


def test_pictures_of_how_a_surface_is_count_by_their_mean_and_it_is_told():
    """3.9.2: metal in blue, roughness in green, times the factors; 3.9.3: emission is sRGB."""
    buffer = Buffer()
    surface = square(buffer)
    rough_metal = png(np.full((8, 8, 3), (0, 128, 0)))
    glow = np.zeros((8, 8, 3))
    glow[:4] = 255
    looks = with_pictures(buffer, rough_metal, png(glow), png(np.full((8, 8, 3), 128)))
    material = {
        "name": "Screen", "emissiveFactor": [1, 1, 1], "emissiveTexture": {"index": 1}, "normalTexture": {"index": 2},
        "pbrMetallicRoughness": {"metallicRoughnessTexture": {"index": 0}, "roughnessFactor": 0.8},
    }  # fmt: skip
    came = from_bytes(buffer.glb([surface], materials=[material], **looks))
    made = came.model.materials[1]
    assert (made.metallic, made.roughness) == pytest.approx((0.0, 0.8 * 128 / 255), abs=0.01), "no polished metal"
    assert made.emissive == pytest.approx([float(linear(np.array(0.5)))] * 3, abs=0.02), "and no lamp"
    assert came.model.pictures == ()
    assert sorted(remark.split(": ")[1][:20] for remark in came.remarks) == [
        "how rough and metall",
        "it shines by a pictu",
        "its relief (a normal",
    ]


@pytest.mark.parametrize(
    ("mode", "cutoff", "holes"), [("MASK", 0.3, 0.3), ("MASK", None, 0.5), ("BLEND", None, 0.0), ("OPAQUE", None, None)]
)
def test_alpha_cuts_holes_only_where_the_file_says_so(mode, cutoff, holes):
    """3.9.4: alphaMode and alphaCutoff."""
    buffer = Buffer()
    surface = square(buffer)
    leaf = np.full((8, 8, 4), 255)
    leaf[:, 4:, 3] = 0
    looks = with_pictures(buffer, png(leaf))
    material = {
        "alphaMode": mode,
        "pbrMetallicRoughness": {"baseColorTexture": {"index": 0}},
        **({} if cutoff is None else {"alphaCutoff": cutoff}),
    }
    model = glb_set(buffer.glb([surface], materials=[material], **looks))
    assert model.materials[1].holes == holes
    raw = next(view_files(model, np.zeros(3)))[0]
    shown = json.loads(raw[20 : 20 + int.from_bytes(raw[12:16], "little")])["materials"][1]
    assert shown.get("alphaMode", "OPAQUE") == mode, "for the desk as well"


def test_colours_by_point_come_with_their_triangles():
    """3.7.2.1: COLOR_0 is linear and multiplies the base colour; whole numbers are normalized."""
    red_to_blue = np.array([[255, 0, 0], [255, 0, 0], [255, 0, 0], [0, 0, 255]], dtype=np.uint8)
    padded = np.c_[red_to_blue, np.full(4, 255, np.uint8)]
    for given in (padded.astype(np.float32)[:, :3] / 255, padded):
        buffer = Buffer()
        kind = "VEC4" if given.dtype == np.uint8 else "VEC3"
        surface = square(buffer, COLOR_0=(given, kind))
        if kind == "VEC4":
            buffer.accessors[-1]["normalized"] = True
        model = glb_set(buffer.glb([surface], materials=[{"name": "Scan"}]))
        picture = np.asarray(Image.open(io.BytesIO(model.pictures[0])), dtype=float) / 255
        uv = model.uv[model.faces].mean(axis=1)
        drawn = linear(
            picture[((1 - uv[:, 1]) * picture.shape[0]).astype(int), (uv[:, 0] * picture.shape[1]).astype(int)]
        )
        assert drawn[0] == pytest.approx([1, 0, 0], abs=0.02)
        assert drawn[1][[0, 2]] == pytest.approx([2 / 3, 1 / 3], abs=0.03), "of light, not of its numbers"
        (material,) = {model.materials[kind] for kind in model.face_material}
        assert material.seen_color[0] > 3 * material.seen_color[2] > 0, "as it is seen from afar"


def test_scattered_copies_stand_where_they_are_told():
    """EXT_mesh_gpu_instancing: each within its node."""
    buffer = Buffer()
    surface = square(buffer)
    move = buffer.add(np.array([[0, 0, 0], [5, 0, 0], [0, 7, 0]], dtype=np.float32), "VEC3")
    size = buffer.add(np.array([[1, 1, 1], [2, 2, 2], [1, 1, 1]], dtype=np.float32), "VEC3")
    node = {
        "mesh": 0,
        "name": "It",
        "translation": [0, 0, 1],
        "extensions": {"EXT_mesh_gpu_instancing": {"attributes": {"TRANSLATION": move, "SCALE": size}}},
    }
    data = buffer.glb(
        [surface],
        materials=[{}],
        nodes=[node],
        extensionsUsed=["EXT_mesh_gpu_instancing"],
        extensionsRequired=["EXT_mesh_gpu_instancing"],
    )
    model = glb_set(data)
    assert (len(model.parts), len(model.faces)) == (1, 6)
    assert model.bounds == pytest.approx(np.array([[0, -1, 0], [7, -1, 8]]))
