"""Every format, written by its own library, comes in with names, sizes, units, axes and colours."""

import io
import zipfile

import DracoPy
import meshoptimizer
import numpy as np
import pytest
import trimesh
from PIL import Image
from pxr import Gf, Sdf, Usd, UsdGeom, UsdShade, UsdUtils
from tests.conftest import glb_set
from tests.files import shed

from zevlo.core.scene.model.placing import Placing, matrix_of
from zevlo.demo.glb import pack_glb
from zevlo.files.glb import open_container
from zevlo.files.reading import Arrival, unheard
from zevlo.files.recognise import read_model
from zevlo.files.refusal import CannotRead
from zevlo.files.summary import first_placing, in_world, summary_of
from zevlo.files.textures import linear


def read(folder, data, name):
    path = folder / "came"
    path.write_bytes(data)
    return read_model(Arrival(path, name), folder / "unpacked", unheard)


def usd_bytes(folder, ending, **said):
    made = shed.stage(**said)
    path = folder / f"written.{ending}"
    if ending == "usdz":
        flat = folder / "flat.usda"
        made.GetRootLayer().Export(str(flat))
        assert UsdUtils.CreateNewUsdzPackage(str(flat), str(path))
    else:
        made.GetRootLayer().Export(str(path))
    return path.read_bytes()


WRITTEN = {
    "OBJ in metres, Z up": (lambda f: shed.obj_zip(), "shed.zip", "OBJ", {"unit", "up"}),
    "OBJ in centimetres, Y up": (lambda f: shed.obj_zip(100, y_up=True), "shed.zip", "OBJ", {"unit", "up"}),
    "OpenUSD as text": (lambda f: usd_bytes(f, "usda"), "shed.usda", "OpenUSD", set()),
    "OpenUSD as crate, metres, Z up": (lambda f: usd_bytes(f, "usdc", metres_per_unit=1.0, up="Z"), "shed.usdc", "OpenUSD", set()),
    "OpenUSD in a package": (lambda f: usd_bytes(f, "usdz"), "shed.usdz", "OpenUSD", set()),
    "OpenUSD in a .zip": (lambda f: shed.zipped({"shed/shed.usda": shed.usda()}), "shed.zip", "OpenUSD", set()),
    "OpenUSD in inches": (lambda f: usd_bytes(f, "usda", metres_per_unit=0.0254), "shed.usda", "OpenUSD", set()),
    "OpenUSD that says nothing": (lambda f: usd_bytes(f, "usda", metres_per_unit=None, up=None), "shed.usda", "OpenUSD", {"unit", "up"}),
    "IFC in millimetres": (lambda f: shed.ifc(), "shed.ifc", "IFC", set()),
    "glTF": (lambda f: shed.scene(y_up=True).export(file_type="glb"), "shed.glb", "glTF", set()),
}  # fmt: skip


@pytest.mark.parametrize("name", WRITTEN)
def test_the_shed_stands_as_it_was_built_whatever_it_came_in(name, tmp_path):
    make, file_name, kind, guessed = WRITTEN[name]
    came = read(tmp_path, make(tmp_path), file_name)
    assert came.kind == kind
    assert set(first_placing(came)[1]) == guessed
    model = in_world(came)
    by_name = {part.name: part for part in model.parts if part.face_count}
    for part_name, corners in shed.SHED.items():
        part = by_name[part_name]
        inside = model.vertices[model.faces[part.first_face : part.first_face + part.face_count].ravel()]
        assert np.array([inside.min(axis=0), inside.max(axis=0)]) == pytest.approx(np.array(corners), abs=2e-5)
        solid = trimesh.Trimesh(inside, np.arange(len(inside)).reshape(-1, 3), process=True)
        assert solid.volume == pytest.approx(np.prod(np.subtract(*corners[::-1])), rel=1e-3)


def test_stl_and_ply_bring_their_surface(tmp_path):
    for kind, data, name in (
        ("STL", shed.scene(1000).export(file_type="stl"), "shed.stl"),
        ("PLY", shed.scene().to_mesh().export(file_type="ply"), "shed.ply"),
        ("PLY", shed.scene().to_mesh().export(file_type="ply", encoding="ascii"), "shed.ply"),
    ):
        came = read(tmp_path, data, name)
        assert (came.kind, set(first_placing(came)[1])) == (kind, {"unit", "up"})
        model = in_world(came)
        assert model.bounds == pytest.approx(np.array([[0, -0.05, -0.1], [4, 3, 2.6]]), abs=1e-5)
        assert len(model.faces) == 48
        assert [part.name for part in model.parts] == ["shed"]
    assert len(in_world(read(tmp_path, shed.scene(1000).export(file_type="stl"), "shed.stl")).vertices) <= 32


def test_an_stl_of_several_named_solids_keeps_them_apart(tmp_path):
    text = "".join(
        trimesh.exchange.stl.export_stl_ascii(shed.box_of(name)).replace("solid", f"solid {name}", 1) + "\n"
        for name in ("Door", "Floor")
    )
    came = read(tmp_path, text.encode(), "two.stl")
    assert [(p.name, p.face_count) for p in came.model.parts] == [("Door", 12), ("Floor", 12)]


def test_obj_brings_materials_textures_and_says_what_did_not_come(tmp_path):
    model = read(tmp_path, shed.obj_zip(), "shed.zip").model
    named = {m.name: m for m in model.materials}
    assert named["Door"].base_color == pytest.approx((1, 0, 0))
    assert named["tiled"].texture == 0
    assert named["tiled"].seen_tint == pytest.approx((0, 0, 1))
    tile = next(p for p in model.parts if p.name == "Tile")
    corners = model.faces[tile.first_face : tile.first_face + tile.face_count].ravel()
    assert model.uv[corners] == pytest.approx(model.vertices[corners, :2])
    lone = read(
        tmp_path, b"# units: inches\nmtllib far.mtl\no A\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl x\nf 1 2 3\n", "a.obj"
    )
    assert lone.remarks == ("Its materials (far.mtl) did not come with it; bring both in one .zip",)
    assert lone.metres_per_unit == 0.0254


def test_obj_polygons_that_are_not_convex_keep_their_area(tmp_path):
    ell = "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\nf 1 2 3 4 5 6\n"
    model = read(tmp_path, f"o L\n{ell}".encode(), "l.obj").model
    corners = model.vertices[model.faces]
    areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    assert areas.sum() == pytest.approx(3.0)


@pytest.mark.parametrize("answer", ["vertex", "uniform", "faceVarying", "constant"])
def test_usd_display_colours_are_kept_point_by_point(tmp_path, answer):
    """Linear, as OpenUSD tells them; a face has the mean of its corners, to a 64th of what is shown."""
    stage = Usd.Stage.CreateInMemory()
    mesh = UsdGeom.Mesh.Define(stage, "/Scan")
    mesh.CreatePointsAttr([(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0)])
    mesh.CreateFaceVertexCountsAttr([3, 3])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2, 0, 2, 3])
    red, blue = (0.6, 0.02, 0.02), (0.02, 0.02, 0.6)
    given = {"vertex": [red, red, red, blue], "uniform": [red, blue], "faceVarying": [red] * 3 + [blue] * 3}
    colors = given.get(answer, [red])
    mesh.CreateDisplayColorPrimvar(answer).Set(colors)
    UsdGeom.Cube.Define(stage, "/Plain").CreateDisplayColorAttr([(0.2, 0.4, 0.6)])
    model = read(tmp_path, stage.ExportToString().encode(), "scan.usda").model
    part = next(one for one in model.parts if one.name == "Scan")
    faces = slice(part.first_face, part.first_face + part.face_count)
    materials = {model.materials[n].name: model.materials[n] for n in np.unique(model.face_material[faces])}
    (own,) = materials.values()
    if answer == "constant":
        assert own.base_color == pytest.approx(red)
        return
    picture = np.asarray(Image.open(io.BytesIO(model.pictures[own.texture])).convert("RGB"))
    uv = model.uv[model.faces[faces]].mean(axis=1)
    high, wide, _ = picture.shape
    seen = linear(picture[((1.0 - uv[:, 1]) * high).astype(int), (uv[:, 0] * wide).astype(int)] / 255.0)
    wanted = [red, np.mean([red, red, blue], axis=0) if answer == "vertex" else blue]
    assert seen == pytest.approx(np.array(wanted), abs=0.03)
    assert not any(
        one.name.startswith("Display colour ") and one.base_color == pytest.approx(np.mean(colors, axis=0))
        for one in model.materials
    )


def test_usd_materials_polygons_instances_and_visibility(tmp_path):
    made = shed.stage(metres_per_unit=1.0, up="Z")
    ell = UsdGeom.Mesh.Define(made, "/Shed/Ell")
    ell.CreatePointsAttr([(0, 0, 0), (2, 0, 0), (2, 1, 0), (1, 1, 0), (1, 2, 0), (0, 2, 0)])
    ell.CreateFaceVertexCountsAttr([6])
    ell.CreateFaceVertexIndicesAttr(list(range(6)))
    ell.CreateDisplayColorAttr([(0.2, 0.4, 0.6)])
    ball = UsdGeom.Sphere.Define(made, "/Shed/Ball")
    ball.CreateRadiusAttr(0.5)
    UsdGeom.XformCommonAPI(ball).SetTranslate((0, 0, 9.5))
    hidden = UsdGeom.Cube.Define(made, "/Shed/Hidden")
    hidden.CreateVisibilityAttr("invisible")
    UsdGeom.Xform.Define(made, "/Shed/Post")
    UsdGeom.Cube.Define(made, "/Shed/Post/Block").CreateSizeAttr(1.0)
    for n in range(2):
        copy = made.DefinePrim(f"/Shed/Copy_{n}", "Xform")
        copy.GetReferences().AddInternalReference("/Shed/Post")
        copy.SetInstanceable(True)
        UsdGeom.XformCommonAPI(copy).SetTranslate((0, 20 + n, 0))
    path = tmp_path / "more.usda"
    made.GetRootLayer().Export(str(path))
    model = in_world(read(tmp_path, path.read_bytes(), "more.usda"))
    named = {p.name: p for p in model.parts}
    assert "Hidden" not in named
    assert model.bounds[1, 2] == pytest.approx(10.0)
    assert model.bounds[1, 1] == pytest.approx(21.5)
    paint = next(m for m in model.materials if m.name == "Red_paint")
    assert (paint.base_color, paint.roughness) == (pytest.approx(shed.RED), 0.25)
    assert any(m.base_color == pytest.approx((0.2, 0.4, 0.6)) for m in model.materials)
    corners = model.vertices[model.faces[named["Ell"].first_face : named["Ell"].first_face + named["Ell"].face_count]]
    turned = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 2]
    assert turned.sum() / 2 == pytest.approx(3.0)
    assert (turned >= 0).all()


def test_usd_points_scatter_their_prototypes(tmp_path):
    made = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageMetersPerUnit(made, 1.0)
    UsdGeom.SetStageUpAxis(made, "Z")
    scatter = UsdGeom.PointInstancer.Define(made, "/Jars")
    jar = UsdGeom.Cube.Define(made, "/Jars/Prototypes/Jar")
    jar.CreateSizeAttr(1.0)
    scatter.CreatePrototypesRel().SetTargets([jar.GetPath()])
    scatter.CreateProtoIndicesAttr([0, 0, 0])
    scatter.CreatePositionsAttr([Gf.Vec3f(0, 0, 0.5), Gf.Vec3f(5, 0, 0.5), Gf.Vec3f(0, 7, 0.5)])
    text = made.GetRootLayer().ExportToString().encode()
    model = in_world(read(tmp_path, text, "jars.usda"))
    assert model.bounds == pytest.approx(np.array([[-0.5, -0.5, 0], [5.5, 7.5, 1]]))
    assert len(model.faces) == 36


@pytest.mark.parametrize("at", [(0.0, 0.0, 0.0), (1600.0, -2300.0, 1850.0), (400_000.0, 600_000.0, 3000.0)])
def test_ifc_brings_storeys_spaces_north_site_and_colours(tmp_path, at):
    """Also far from zero and on a mountain: what is told in millimetres is no farther for that."""
    came = read(tmp_path, shed.ifc(at), "shed.ifc")
    found = summary_of(came, 0.0)
    assert [(level["name"], level["floor_m"]) for level in found["places"]["levels"]] == [
        ("Ground floor", pytest.approx(at[2])),
        ("Drying loft", pytest.approx(at[2] + 2.7)),
    ]
    (room,) = found["places"]["rooms"]
    assert (room["name"], room["level"]) == ("Wheel room", "Ground floor")
    moved = in_world(came).bounds[0, :2] - np.array(list(shed.SHED.values())).min(axis=(0, 1))[:2]
    outline = np.round(np.array(room["outline"]) - moved, 4)
    assert sorted(map(tuple, outline.tolist())) == [(0.2, 0.2), (0.2, 2.9), (3.9, 0.2), (3.9, 2.9)]
    assert found["site"]["north_deg"] == pytest.approx(30.0)
    assert (found["site"]["latitude_deg"], found["site"]["longitude_deg"]) == (54.5, -3.25)
    door = next(p for p in came.model.parts if p.name == "Door")
    paint = came.model.materials[came.model.face_material[door.first_face]]
    assert paint.base_color == pytest.approx(tuple(linear(np.array([0.8, 0.1, 0.1]))), abs=1e-4)
    wall = next(p for p in came.model.parts if p.name == "Wall east")
    named = [came.model.materials[came.model.face_material[part.first_face]].name for part in (door, wall)]
    assert named == ["Red paint", "Lime plaster"], "by its style, else by what it is made of"
    assert [p.name for p in came.model.parts[:4]] == ["Shed", "Shore", "House", "Ground floor"], "as one climbs it"


def test_a_stage_of_moments_is_read_as_it_begins_and_says_so(tmp_path):
    """Sampled places and points alone, as animation exports write them."""
    made = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(made, "Z")
    UsdGeom.SetStageMetersPerUnit(made, 1.0)
    ball = UsdGeom.Mesh.Define(made, "/Ball")
    ball.CreateFaceVertexCountsAttr([3])
    ball.CreateFaceVertexIndicesAttr([0, 1, 2])
    for frame, size in ((10, 1.0), (20, 5.0)):
        ball.CreatePointsAttr().Set([(0, 0, 0), (size, 0, 0), (0, size, size)], frame)
    move = ball.AddTranslateOp()
    for frame in (10, 20):
        move.Set((float(frame), 2.0, 0.0), frame)

    def came():
        return read(tmp_path, made.GetRootLayer().ExportToString().encode(), "moves.usda")

    assert in_world(came()).bounds == pytest.approx(np.array([[10, 2, 0], [11, 3, 1]]))
    assert "What moves in it is read at its first moment" in came().remarks
    made.SetStartTimeCode(20)
    made.SetEndTimeCode(30)
    assert in_world(came()).bounds == pytest.approx(np.array([[20, 2, 0], [25, 7, 5]]))
    assert "What moves in it is read at frame 20" in came().remarks


def test_copies_of_one_thing_keep_their_own_materials_and_planes_are_surfaces(tmp_path):
    made = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(made, "Z")
    UsdGeom.SetStageMetersPerUnit(made, 1.0)
    UsdGeom.Xform.Define(made, "/Kit")
    UsdGeom.Cube.Define(made, "/Kit/Tile").CreateSizeAttr(1.0)
    for name, colour in (("Red", (0.8, 0, 0)), ("Blue", (0, 0, 0.8))):
        material = UsdShade.Material.Define(made, f"/Looks/{name}")
        shader = UsdShade.Shader.Define(made, f"/Looks/{name}/Surface")
        shader.CreateIdAttr("UsdPreviewSurface")
        shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).Set(Gf.Vec3f(*colour))
        material.CreateSurfaceOutput().ConnectToSource(shader.ConnectableAPI(), "surface")
        copy = UsdGeom.Xform.Define(made, f"/World/{name}")
        copy.GetPrim().GetReferences().AddInternalReference("/Kit")
        copy.GetPrim().SetInstanceable(True)
        UsdShade.MaterialBindingAPI.Apply(copy.GetPrim()).Bind(material)
    made.GetPrimAtPath("/Kit").SetSpecifier(Sdf.SpecifierClass)
    for axis in "XYZ":
        plane = UsdGeom.Plane.Define(made, f"/Plane{axis}")
        plane.CreateWidthAttr(4.0)
        plane.CreateLengthAttr(2.0)
        plane.CreateAxisAttr(axis)
    model = in_world(read(tmp_path, made.GetRootLayer().ExportToString().encode(), "copies.usda"))
    of = {name: model.materials[model.face_material[part.first_face]].name for part in model.parts
          for name in ("Red", "Blue") if part.face_count and part.parent is not None and model.parts[part.parent].name == name}  # fmt: skip
    assert of == {"Red": "Red", "Blue": "Blue"}
    planes = [part for part in model.parts if part.name.startswith("Plane")]
    sizes = [
        np.ptp(model.vertices[model.faces[p.first_face : p.first_face + p.face_count].ravel()], axis=0) for p in planes
    ]
    wanted = [
        np.ptp(UsdGeom.Plane.Get(made, f"/Plane{axis}").ComputeExtent(Usd.TimeCode.Default()), axis=0) for axis in "XYZ"
    ]
    assert np.array(sizes) == pytest.approx(np.array(wanted)), "as OpenUSD itself says"


def test_obj_lines_go_on_and_groups_keep_the_name_of_their_object(tmp_path):
    text = "\n".join([
        "# out of C:\\models\\", "o Cup", "v 0 0 0", "v 1 0 \\", "  0", "v 0 1 0", "v 0 0 1", "g Body", "f 1 2 \\", "3", "g Handle", "f 1 2 4",
        "o Saucer", "g Body", "f 2 3 4",
    ])  # fmt: skip
    model = read(tmp_path, text.encode(), "cup.obj").model
    assert [part.name for part in model.parts] == ["Cup / Body", "Cup / Handle", "Saucer / Body"]
    assert [part.face_count for part in model.parts] == [1, 1, 1]


def _views(document, container):
    primitive = document["meshes"][0]["primitives"][0]
    accessors = document["accessors"]
    at = {"indices": primitive["indices"], **primitive["attributes"]}
    found = {}
    for name, number in at.items():
        view = document["bufferViews"][accessors[number]["bufferView"]]
        found[name] = bytes(container.binary[view["byteOffset"] : view["byteOffset"] + view["byteLength"]])
    return primitive, accessors, at, found


def test_meshopt_packed_gltf_is_the_same_set():
    """EXT_meshopt_compression: buffers packed by meshoptimizer's own encoder."""
    ball = trimesh.creation.icosphere(3)
    plain = ball.export(file_type="glb")
    container = open_container(plain)
    document = dict(container.document)
    _, accessors, at, raw = _views(document, container)
    points = np.frombuffer(raw["POSITION"], dtype=np.float32).reshape(-1, 3)
    faces = np.frombuffer(raw["indices"], dtype=np.uint32)
    packed = [
        meshoptimizer.encode_vertex_buffer(points, len(points), 12),
        meshoptimizer.encode_index_buffer(faces, len(faces), len(points)),
    ]
    binary, views = b"", []
    for data, stride, count, mode in zip(
        packed, (12, 4), (len(points), len(faces)), ("ATTRIBUTES", "TRIANGLES"), strict=True
    ):
        views.append({
            "buffer": 1, "byteLength": stride * count,
            **({"byteStride": stride} if mode == "ATTRIBUTES" else {}),
            "extensions": {"EXT_meshopt_compression": {"buffer": 0, "byteOffset": len(binary), "byteLength": len(bytes(data)), "byteStride": stride, "count": count, "mode": mode}},
        })  # fmt: skip
        binary += bytes(data) + b"\0" * (-len(bytes(data)) % 4)
    document.update(
        bufferViews=views,
        accessors=[
            {**accessors[at["POSITION"]], "bufferView": 0, "byteOffset": 0},
            {**accessors[at["indices"]], "bufferView": 1, "byteOffset": 0},
        ],
        meshes=[{"primitives": [{"attributes": {"POSITION": 0}, "indices": 1}]}],
        materials=[],
        buffers=[
            {"byteLength": len(binary)},
            {"byteLength": 10**6, "extensions": {"EXT_meshopt_compression": {"fallback": True}}},
        ],
        extensionsUsed=["EXT_meshopt_compression"],
        extensionsRequired=["EXT_meshopt_compression"],
    )
    ours = glb_set(pack_glb(document, binary))
    same = glb_set(plain)
    assert ours.vertices == pytest.approx(same.vertices)
    assert {tuple(sorted(f)) for f in ours.faces.tolist()} == {tuple(sorted(f)) for f in same.faces.tolist()}


def test_draco_packed_gltf_is_nearly_the_same_set():
    """KHR_draco_mesh_compression: packed by Draco's own encoder, quantized to 14 bits."""
    ball = trimesh.creation.icosphere(3)
    container = open_container(ball.export(file_type="glb"))
    document = dict(container.document)
    data = DracoPy.encode(np.asarray(ball.vertices), np.asarray(ball.faces, dtype=np.uint32), quantization_bits=14)
    document.update(
        bufferViews=[{"buffer": 0, "byteOffset": 0, "byteLength": len(data)}],
        accessors=[
            {"componentType": 5126, "count": len(ball.vertices), "type": "VEC3"},
            {"componentType": 5125, "count": len(ball.faces) * 3, "type": "SCALAR"},
        ],
        meshes=[
            {
                "primitives": [
                    {
                        "attributes": {"POSITION": 0},
                        "indices": 1,
                        "extensions": {"KHR_draco_mesh_compression": {"bufferView": 0, "attributes": {"POSITION": 0}}},
                    }
                ]
            }
        ],
        materials=[],
        extensionsRequired=["KHR_draco_mesh_compression"],
        buffers=[{"byteLength": len(data)}],
    )
    model = glb_set(pack_glb(document, data))
    assert len(model.faces) == len(ball.faces)
    assert np.linalg.norm(model.vertices, axis=1) == pytest.approx(np.ones(len(model.vertices)), abs=1e-3)


def test_a_gltf_in_a_zip_finds_its_buffer_and_texture(tmp_path):
    container = open_container(shed.scene(y_up=True).export(file_type="glb"))
    document = {
        **container.document,
        "buffers": [{"byteLength": len(container.binary), "uri": "data/shed%20geometry.bin"}],
    }
    import json

    data = shed.zipped(
        {"x/shed.gltf": json.dumps(document).encode(), "x/data/shed geometry.bin": bytes(container.binary)}
    )
    assert len(read(tmp_path, data, "shed.zip").model.faces) == 48


def _bomb():
    return shed.zipped({"shed.obj": b"0" * (64 * 1024**2)})


def _link():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        entry = zipfile.ZipInfo("shed.obj")
        entry.external_attr = 0o120777 << 16
        archive.writestr(entry, "/etc/passwd")
    return out.getvalue()


def _locked():
    data = bytearray(shed.zipped({"shed.obj": b"v 0 0 0"}, zipfile.ZIP_STORED))
    data[6] |= 1
    at = data.index(b"PK\x01\x02")
    data[at + 8] |= 1
    return bytes(data)


def _elsewhere(target):
    made = Usd.Stage.CreateInMemory()
    prim = made.DefinePrim("/A")
    prim.GetReferences().AddReference(Sdf.Reference(target))
    return made.GetRootLayer().ExportToString().encode()


def _nan_usd():
    made = Usd.Stage.CreateInMemory()
    mesh = UsdGeom.Mesh.Define(made, "/A")
    mesh.CreatePointsAttr([(float("nan"), 0, 0), (1, 0, 0), (0, 1, 0)])
    mesh.CreateFaceVertexCountsAttr([3])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2])
    return made.GetRootLayer().ExportToString().encode()


def _beyond_usd(counts, corners):
    made = Usd.Stage.CreateInMemory()
    mesh = UsdGeom.Mesh.Define(made, "/A")
    mesh.CreatePointsAttr([(0, 0, 0), (1, 0, 0), (0, 1, 0)])
    mesh.CreateFaceVertexCountsAttr(counts)
    mesh.CreateFaceVertexIndicesAttr(corners)
    return made.GetRootLayer().ExportToString().encode()


def _of_a_later_day():
    """Its list of files says that a zip of version 25.5 is needed to unpack them."""
    listed = shed.obj_zip()
    at = listed.index(b"PK\x01\x02") + 6
    return listed[:at] + b"\xff" + listed[at + 1 :]


STL = shed.scene(1000).export(file_type="stl")
PLY = shed.scene().to_mesh().export(file_type="ply")
HOSTILE = {
    "nothing": (b"", "a.obj", "empty"),
    "a letter": (b"Dear all,\nplease find enclosed", "a.doc", "not a model that is read"),
    "a picture called obj": (shed.picture(), "a.obj", "not an OBJ model"),
    "zip bomb": (_bomb(), "a.zip", "far more than it could honestly hold"),
    "path out of the archive": (shed.zipped({"../../shed.obj": b"v 0 0 0"}), "a.zip", "outside itself"),
    "absolute path": (shed.zipped({"/etc/shed.obj": b"v 0 0 0"}), "a.zip", "outside itself"),
    "drive letter": (shed.zipped({"C:\\shed.obj": b"v 0 0 0"}), "a.zip", "outside itself"),
    "link": (_link(), "a.zip", "holds a link"),
    "password": (_locked(), "a.zip", "locked with a password"),
    "archive in archive": (shed.zipped({"b.zip": shed.zipped({"a.obj": b"v 0 0 0"})}), "a.zip", "another archive"),
    "archive without a model": (shed.zipped({"a.txt": b"hello"}), "a.zip", "no model in the archive"),
    "cut off archive": (shed.obj_zip()[:-60], "a.zip", "broken or cut off"),
    "archive of a later day": (_of_a_later_day(), "a.zip", "broken or cut off"),
    "too many files": (shed.zipped({f"{n}.txt": b"" for n in range(5001)}), "a.zip", "up to 5000"),
    "cut off STL": (STL[:-30], "a.stl", "cut off"),
    "STL that claims the moon": (STL[:80] + (2**31).to_bytes(4, "little") + STL[84:], "a.stl", "cut off"),
    "STL of nonsense": (b"solid a\nfacet normal 0 0 1\nouter loop\nvertex a b c\nvertex 0 0 0\nvertex 1 1 1\n", "a.stl", "not numbers"),
    "STL with NaN": (STL[:96] + np.float32(np.nan).tobytes() + STL[100:], "a.stl", "not numbers"),
    "cut off PLY": (PLY[: len(PLY) // 2], "a.ply", "cut off or broken"),
    "PLY that claims the moon": (PLY.replace(b"element vertex ", b"element vertex 99999999"), "a.ply", "more than it can hold"),
    "PLY of points": (b"ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n", "a.ply", "no surfaces"),
    "PLY without end": (b"ply\nformat ascii 1.0\n", "a.ply", "header does not end"),
    "OBJ beyond its points": (b"o a\nv 0 0 0\nv 1 0 0\nf 1 2 99\n", "a.obj", "broken|not there"),
    "OBJ with NaN": (b"o a\nv nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj", "not numbers|no size|broken"),
    "OBJ of points": (b"o a\nv 0 0 0\nv 1 0 0\n", "a.obj", "no surfaces"),
    "OBJ in one place": (b"o a\nv 1 1 1\nv 1 1 1\nv 1 1 1\nf 1 2 3\n", "a.obj", "no size|no surfaces"),
    "broken stage": (b"#usda 1.0\n(\n  upAxis = \n", "a.usda", "broken or cut off.*OpenUSD makes no sense of it"),
    "cut off crate": (b"PXR-USDC" + b"\0" * 40, "a.usdc", "broken or cut off.*OpenUSD makes no sense of it"),
    "stage that reads the system": (_elsewhere("/etc/passwd"), "a.usda", "outside itself"),
    "stage that climbs": (_elsewhere("../../../../etc/hosts.usda"), "a.usda", "outside itself"),
    "stage from the net": (_elsewhere("https://example.org/a.usda"), "a.usda", "from elsewhere"),
    "stage without its part": (_elsewhere("./door.usda"), "a.usda", "did not come with it"),
    "stage with NaN": (_nan_usd(), "a.usda", "not numbers"),
    "stage beyond its points": (_beyond_usd([3], [0, 1, 7]), "a.usda", "not there"),
    "stage that does not add up": (_beyond_usd([4, 4], [0, 1, 2]), "a.usda", "do not add up"),
    "empty stage": (b"#usda 1.0\n", "a.usda", "no surfaces"),
    "IFC of nothing": (b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n", "a.ifc", "broken"),
    "IFC with a number twice": (shed.ifc().replace(b"\n#12=", b"\n#11="), "a.ifc", "one number"),
    "cut off IFC": (shed.ifc()[:900], "a.ifc", "broken|no surfaces"),
}  # fmt: skip


@pytest.mark.parametrize("name", HOSTILE)
def test_broken_and_hostile_files_are_refused_with_their_reason(name, tmp_path):
    data, file_name, words = HOSTILE[name]
    with pytest.raises(CannotRead, match=words):
        first_placing(read(tmp_path, data, file_name))
    assert {path.name for path in tmp_path.iterdir()} <= {"came", "came.usda", "came.usdc", "unpacked"}


def test_a_stage_that_includes_itself_ends(tmp_path):
    path = tmp_path / "came"
    path.write_bytes(_elsewhere("./came.usda"))
    with pytest.raises(CannotRead):
        read_model(Arrival(path, "a.usda"), tmp_path / "unpacked", unheard)


def test_survey_coordinates_are_brought_near(tmp_path):
    far = shed.scene()
    far.apply_translation([512_345.25, 5_432_109.5, 40.0])
    named = far.export(file_type="obj", digits=4).replace("o Door", "o Tür")
    model = in_world(read(tmp_path, named.encode(), "far.obj"))
    assert np.abs(model.bounds[:, :2]).max() < 10
    assert model.bounds[:, 2] == pytest.approx([39.9, 42.6], abs=1e-3)


def test_a_correction_turns_the_set_about_zero():
    moved = matrix_of(Placing(metres_per_unit=0.01, up="y", turn_deg=90.0, moved_m=(1, 2, 3))) @ [100, 0, 0, 1]
    assert moved[:3] == pytest.approx([1, 1, 3])
