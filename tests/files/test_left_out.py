"""What a model tells and a set does not take is told, for every kind of file; and what is taken is not."""

import base64
import re
import zipfile

import numpy as np
import pytest
from pxr import Sdf, Usd, UsdGeom, UsdLux, UsdShade, UsdSkel
from tests.files import shed
from tests.files.test_formats import read
from tests.files.test_gltf_details import SQUARE, Buffer

from zevlo.files import left_out
from zevlo.files.glb import UNDERSTOOD
from zevlo.files.textures import linear


def gltf(change=lambda primitive: None, **more):
    buffer = Buffer()
    primitive = {"attributes": {"POSITION": buffer.add(SQUARE, "VEC3")}, "mode": 5}
    change(primitive)
    return buffer.glb([primitive], **more)


LIT = {"KHR_lights_punctual": {"lights": [{"type": "point"}]}}
MESH = {"mesh": 0, "name": "It"}
OF_GLTF = {
    left_out.LAMPS: {"extensionsUsed": ["KHR_lights_punctual"], "extensions": LIT},
    left_out.POSED: {"skins": [{"joints": [0]}], "nodes": [{**MESH, "skin": 0}]},
    left_out.BLENDED: {"change": lambda one: one.update(targets=[{"POSITION": 0}]), "nodes": [{**MESH, "weights": [0.5]}]},
    left_out.MOVING: {"animations": [{"channels": [], "samplers": []}]},
    "Of its 2 scenes the one it opens with is read": {"scenes": [{"nodes": [0]}, {"nodes": []}]},
    "1 material: its baked shade (an occlusion map) is left out": {"materials": [{"occlusionTexture": {"index": 0}}]},
}  # fmt: skip


@pytest.mark.parametrize("words", OF_GLTF)
def test_what_a_gltf_tells_beside_its_surfaces_is_told(words, tmp_path):
    assert read(tmp_path, gltf(**OF_GLTF[words]), "it.glb").remarks == (words,)


@pytest.mark.parametrize("name", sorted(UNDERSTOOD))
def test_every_extension_that_is_not_taken_is_told(name, tmp_path):
    said = read(tmp_path, gltf(extensionsUsed=[name]), "it.glb").remarks
    taken = name in left_out.TAKEN
    lamps = name in left_out.LIGHTS
    assert said == (() if taken else (left_out.LAMPS,) if lamps else (left_out.what_is_left_out([name]),))


def test_shapes_that_are_blended_by_nothing_are_as_they_are_read(tmp_path):
    data = gltf(lambda one: one.update(targets=[{"POSITION": 0}]), nodes=[{**MESH, "weights": [0.0]}])
    assert read(tmp_path, data, "it.glb").remarks == ()


def test_lines_beside_surfaces_are_told(tmp_path):
    buffer = Buffer()
    points = buffer.add(SQUARE, "VEC3")
    parts = [{"attributes": {"POSITION": points}, "mode": mode} for mode in (5, 1)]
    found = read(tmp_path, buffer.glb(parts), "it.glb")
    assert found.remarks == (left_out.NO_SURFACES,)
    assert len(found.model.faces) == 2


def test_a_picture_lies_where_its_material_says(tmp_path):
    """glTF 2.0, 3.9.2 texCoord; KHR_texture_transform's own goes before it."""
    for said, wanted in (
        ({"texCoord": 1}, 1),
        ({"extensions": {"KHR_texture_transform": {"texCoord": 1}}}, 1),
        ({}, 0),
    ):
        buffer = Buffer()
        sets = [buffer.add(np.full((4, 2), value, np.float32), "VEC2") for value in (0.25, 0.75)]
        own = {"POSITION": buffer.add(SQUARE, "VEC3"), "TEXCOORD_0": sets[0], "TEXCOORD_1": sets[1]}
        image = {"uri": "data:image/png;base64," + _PNG}
        data = buffer.glb(
            [{"attributes": own, "mode": 5, "material": 0}],
            images=[image], textures=[{"source": 0}],
            materials=[{"pbrMetallicRoughness": {"baseColorTexture": {"index": 0, **said}}}],
        )  # fmt: skip
        found = read(tmp_path, data, "it.glb").model
        assert found.uv[:, 0] == pytest.approx([0.25, 0.75][wanted])


_PNG = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="


@pytest.mark.parametrize(("wrap", "far", "said"), [(33071, 1.5, True), (33071, 1.0, False), (10497, 1.5, False)])
def test_a_picture_that_is_seen_beyond_its_edge_is_told_where_it_should_not_repeat(wrap, far, said, tmp_path):
    """glTF 2.0, 3.8.4.1: 33071 lets the edge go on, 10497 repeats."""
    buffer = Buffer()
    own = {"POSITION": buffer.add(SQUARE, "VEC3"), "TEXCOORD_0": buffer.add(far * SQUARE[:, :2].copy(), "VEC2")}
    data = buffer.glb(
        [{"attributes": own, "mode": 5, "material": 0}] * 2,
        images=[{"uri": "data:image/png;base64," + _PNG}], textures=[{"source": 0, "sampler": 0}],
        samplers=[{"wrapS": wrap}], materials=[{"pbrMetallicRoughness": {"baseColorTexture": {"index": 0}}}],
    )  # fmt: skip
    words = ("1 material: its picture is repeated beyond its edge, where the file does not",)
    assert read(tmp_path, data, "it.glb").remarks == (words if said else ())


def stage(tmp_path, add):
    made = Usd.Stage.CreateNew(str(tmp_path / "it.usda"))
    UsdGeom.Cube.Define(made, "/Cube")
    add(made)
    made.GetRootLayer().Save()
    return read(tmp_path, (tmp_path / "it.usda").read_bytes(), "it.usda")


OF_USD = {
    left_out.LAMPS: lambda made: (UsdLux.SphereLight.Define(made, "/Lamp"), UsdLux.DomeLight.Define(made, "/Dome")),
    left_out.POSED: lambda made: UsdSkel.Skeleton.Define(made, "/Bones"),
    "What is hidden in it is left out": lambda made: UsdGeom.Sphere.Define(made, "/Ball").MakeInvisible(),
    "BasisCurves is not a surface with a size and was left behind": lambda made: UsdGeom.BasisCurves.Define(made, "/Hair"),
}  # fmt: skip


@pytest.mark.parametrize("words", OF_USD)
def test_what_a_stage_tells_beside_its_surfaces_is_told(words, tmp_path):
    found = stage(tmp_path, OF_USD[words])
    assert found.remarks == (words,)
    assert len(found.model.faces) == 12


def test_what_only_works_in_a_stage_is_no_loss(tmp_path):
    def guide(made):
        UsdGeom.Imageable(UsdGeom.Sphere.Define(made, "/Ball")).CreatePurposeAttr(UsdGeom.Tokens.guide)
        made.DefinePrim("/Notes", "").CreateAttribute("say", Sdf.ValueTypeNames.String).Set("hello")

    assert stage(tmp_path, guide).remarks == ()


def painted(tmp_path, change=lambda shaders: None, name="st"):
    """A square of two triangles with a picture on it; ``change`` what draws it."""
    (tmp_path / "p.png").write_bytes(base64.b64decode(_PNG))
    made = Usd.Stage.CreateNew(str(tmp_path / "it.usda"))
    mesh = UsdGeom.Mesh.Define(made, "/Square")
    mesh.CreatePointsAttr(SQUARE.tolist())
    mesh.CreateFaceVertexCountsAttr([4])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2, 3])
    for set_name, far in (("st", 1.0), ("other", 0.5)):
        values = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar(set_name, Sdf.ValueTypeNames.TexCoord2fArray, "vertex")
        values.Set((far * SQUARE[:, :2]).tolist())
    material = UsdShade.Material.Define(made, "/Paint")
    shaders = {
        kind: UsdShade.Shader.Define(made, f"/Paint/{kind}")
        for kind in ("UsdPreviewSurface", "UsdUVTexture", "UsdTransform2d", "UsdPrimvarReader_float2")
    }
    for kind, shader in shaders.items():
        shader.CreateIdAttr(kind)
    surface, texture, move, reader = shaders.values()
    material.CreateSurfaceOutput().ConnectToSource(surface.ConnectableAPI(), "surface")
    texture.CreateInput("file", Sdf.ValueTypeNames.Asset).Set("p.png")
    colour = texture.CreateOutput("rgb", Sdf.ValueTypeNames.Float3)
    surface.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).ConnectToSource(colour)
    moved = move.CreateOutput("result", Sdf.ValueTypeNames.Float2)
    texture.CreateInput("st", Sdf.ValueTypeNames.Float2).ConnectToSource(moved)
    reader.CreateInput("varname", Sdf.ValueTypeNames.String).Set(name)
    place = reader.CreateOutput("result", Sdf.ValueTypeNames.Float2)
    move.CreateInput("in", Sdf.ValueTypeNames.Float2).ConnectToSource(place)
    UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(material)
    change({**shaders, "material": material})
    made.GetRootLayer().Save()
    with zipfile.ZipFile(tmp_path / "it.zip", "w") as packed:
        packed.write(tmp_path / "it.usda", "it.usda")
        packed.write(tmp_path / "p.png", "p.png")
    return read(tmp_path, (tmp_path / "it.zip").read_bytes(), "it.zip")


def given_input(shader, key, kind, value):
    return lambda made: made[shader].CreateInput(key, getattr(Sdf.ValueTypeNames, kind)).Set(value)


def test_a_picture_lies_on_a_stage_as_its_shaders_say(tmp_path):
    """UsdPreviewSurface: the reader's varname; UsdTransform2d scales, turns anticlockwise, moves, in that order."""

    def places(found):
        return sorted(map(tuple, np.round(found.model.uv, 5).tolist()))

    corners = [(0, 0), (0, 1), (1, 0), (1, 1)]
    for folder in "abc":
        (tmp_path / folder).mkdir()
    assert places(painted(tmp_path / "a", name="st")) == corners
    assert places(painted(tmp_path / "b", name="other")) == [(0, 0), (0, 0.5), (0.5, 0), (0.5, 0.5)]

    def move(made):
        for key, kind, value in (
            ("scale", "Float2", (2, 1)),
            ("rotation", "Float", 90),
            ("translation", "Float2", (5, 7)),
        ):
            given_input("UsdTransform2d", key, kind, value)(made)

    assert places(painted(tmp_path / "c", move)) == sorted((5 - v, 7 + 2 * u) for u, v in corners)


OF_PAINT = {
    "The picture of Paint is repeated beyond its edge": lambda made: (
        given_input("UsdTransform2d", "scale", "Float2", (2, 2))(made), given_input("UsdUVTexture", "wrapS", "Token", "clamp")(made),
    ),
    "What is added to the picture of Paint (its bias) is left out": given_input("UsdUVTexture", "bias", "Float4", (0.1, 0, 0, 0)),
    "The colour of Paint is worked out by UsdPrimvarReader_float3: it comes in grey": lambda made: (
        made["UsdUVTexture"].CreateIdAttr("UsdPrimvarReader_float3"),
    ),
    "Square does not tell where its picture lies on it": lambda made: [
        UsdGeom.PrimvarsAPI(made["material"].GetPrim().GetStage().GetPrimAtPath("/Square")).RemovePrimvar(name)
        for name in ("st", "other")
    ],
}  # fmt: skip


@pytest.mark.parametrize("words", OF_PAINT)
def test_what_a_stage_tells_of_a_picture_and_is_not_taken_is_told(words, tmp_path):
    assert painted(tmp_path, OF_PAINT[words]).remarks == (words,)


def test_a_tint_and_what_a_material_offers_are_taken(tmp_path):
    def offered(made):
        rough = made["material"].CreateInput("rough", Sdf.ValueTypeNames.Float)
        rough.Set(0.25)
        made["UsdPreviewSurface"].CreateInput("roughness", Sdf.ValueTypeNames.Float).ConnectToSource(rough)
        given_input("UsdUVTexture", "scale", "Float4", (0.5, 1, 0.25, 1))(made)

    found = painted(tmp_path, offered)
    paint = next(one for one in found.model.materials if one.name == "Paint")
    assert (paint.base_color, paint.roughness, found.remarks) == ((0.5, 1, 0.25), 0.25, ())


OBJ = "v 0 0 0{0}\nv 1 0 0{0}\nv 0 1 0{0}\nv 0 0 1{0}\nf 1 2 3\nf 1 2 4\n"


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ("l 1 2 3\n", (left_out.NO_SURFACES,)),
        ("p 1\n", (left_out.NO_SURFACES,)),
        ("cstype bspline\ndeg 3\ncurv 0 1 1 2 3 4\nend\n", (left_out.what_is_left_out(["curv"]),)),
        ("s 1\n", ()),
    ],
)
def test_what_an_obj_tells_beside_its_surfaces_is_told(more, words, tmp_path):
    found = read(tmp_path, (OBJ.format("") + more).encode(), "it.obj")
    assert found.remarks == words
    assert len(found.model.faces) == 2


def test_pictures_of_an_obj_that_are_not_taken_are_told(tmp_path):
    materials = "newmtl m\nKd 1 1 1\nmap_Kd -s 2 2 1 c.png\nmap_Bump -bm 0.2 b.png\nmap_Ks s.png\nnorm n.png\n"
    data = shed.zipped({"a.obj": "mtllib a.mtl\nusemtl m\n" + OBJ.format(""), "a.mtl": materials})
    found = read(tmp_path, data, "a.zip").remarks
    assert left_out.what_is_left_out(["map_Bump", "map_Kd -s", "map_Ks", "norm"]) in found


@pytest.mark.parametrize("written", [" 1 0.5 0", " 255 127.5 0", " 1 1 1"])
def test_an_obj_brings_the_colours_of_its_points(written, tmp_path):
    """A scan's points, behind x, y and z, taken as sRGB (common practice, no source)."""
    found = read(tmp_path, OBJ.format(written).encode(), "scan.obj").model
    own = found.materials[int(found.face_material[0])]
    color = np.array([float(one) for one in written.split()])
    assert own.seen_tint == pytest.approx(linear(color / max(color.max(), 1.0)), abs=0.03), "white is white too"
    assert found.uv is not None


def test_faces_without_a_place_on_the_picture_take_none_from_the_others(tmp_path):
    text = OBJ.format("").replace("f 1 2 3", "vt 0.25 0.75\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3")
    found = read(tmp_path, text.encode(), "it.obj").model
    assert sorted(map(tuple, found.uv.tolist())) == [(0, 0)] * 3 + [(0, 1), (0.25, 0.75), (1, 0)]


def test_a_picture_a_ply_names_is_told(tmp_path):
    header = "ply\nformat ascii 1.0\n{0}element vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
    rest = "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n"
    for comment, words in (("comment TextureFile a.png\n", (left_out.what_is_left_out(["TextureFile"]),)), ("", ())):
        assert read(tmp_path, (header.format(comment) + rest).encode(), "it.ply").remarks == words


NO_DEPTH = b"""#49=IFCEXTRUDEDAREASOLID(#900,$,#901,0.);
#900=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,1.);
#901=IFCDIRECTION((0.,0.,1.));"""


def test_a_part_of_an_ifc_that_cannot_be_built_is_told(tmp_path):
    text = shed.ifc()
    assert read(tmp_path, text, "shed.ifc").remarks == ()
    broken = re.sub(rb"#49=[^;]*;", NO_DEPTH, text)
    (words,) = read(tmp_path, broken, "shed.ifc").remarks
    assert words == "The shape of 1 of its parts could not be built, and is left out: Floor"
    lit = text.replace(
        b"ENDSEC;\nEND-ISO",
        b"#990=IFCLIGHTSOURCEAMBIENT($,#991,$,$);\n#991=IFCCOLOURRGB($,1.,1.,1.);\nENDSEC;\nEND-ISO",
    )
    assert read(tmp_path, lit, "shed.ifc").remarks == (left_out.LAMPS,)
