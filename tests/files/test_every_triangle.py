"""Whatever kind of number a file counts with and however many parts it has, its triangles come in as they are in it."""

import io
import struct

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Gf, Usd, UsdGeom, Vt

from zevlo.demo.glb import pack_glb
from zevlo.files import ply, stl
from zevlo.files.accessors import _TYPES
from zevlo.files.reading import Arrival, unheard
from zevlo.files.recognise import read_model
from zevlo.files.rehearsal import rehearse_reading

UNSIGNED = [np.dtype(kind) for kind in _TYPES.values() if np.dtype(kind).kind == "u"]
WHOLE = sorted({kind for kind in ply._KINDS.values() if kind[0] != "f"})
FORMATS = ["ascii", "binary_little_endian", "binary_big_endian"]
assert set(FORMATS) == set(ply._ORDERS)


def read(folder, data, name):
    path = folder / "came"
    path.write_bytes(data)
    return read_model(Arrival(path, name), folder / "unpacked", unheard).model


def soup(corners):
    """Triangles (n, 3, 3) in an order of their own, each from its lowest corner on."""
    rounded = np.round(np.asarray(corners, dtype=np.float64), 4) + 0.0
    turned = [min(np.roll(one, -k, axis=0).ravel().tolist() for k in range(3)) for one in rounded]
    return np.array(sorted(turned))


def parts_of(model):
    return [
        model.vertices[model.faces[p.first_face : p.first_face + p.face_count]] for p in model.parts if p.face_count
    ]


def fan(points, chance):
    """A mesh of some points in the air and the triangles that join them at random."""
    vertices = np.round(chance.uniform(-9, 9, (points, 3)), 3).astype(np.float32)
    faces = chance.integers(0, points, (min(points, 40), 3))
    faces[0] = points - 1, points - 2, points - 3
    return vertices, faces


def glb(meshes, width, mode):
    data, views, accessors, made, nodes = bytearray(), [], [], [], []

    def add(array, kind, code):
        data.extend(b"\0" * (-len(data) % 4))
        views.append({"buffer": 0, "byteOffset": len(data), "byteLength": array.nbytes})
        data.extend(array.tobytes())
        accessors.append({"bufferView": len(views) - 1, "componentType": code, "count": len(array), "type": kind})
        return len(accessors) - 1

    code = next(code for code, kind in _TYPES.items() if np.dtype(kind) == width)
    for n, (vertices, faces) in enumerate(meshes):
        chain = faces.astype(width).ravel()
        made.append(
            {
                "primitives": [
                    {
                        "attributes": {"POSITION": add(vertices, "VEC3", 5126)},
                        "indices": add(chain, "SCALAR", code),
                        "mode": mode,
                    }
                ]
            }
        )
        nodes.append({"mesh": n, "name": f"Part {n}"})
    document = {
        "asset": {"version": "2.0"}, "buffers": [{"byteLength": len(data)}], "bufferViews": views, "accessors": accessors,
        "meshes": made, "nodes": nodes, "scenes": [{"nodes": list(range(len(nodes)))}], "scene": 0,
    }  # fmt: skip
    return pack_glb(document, bytes(data))


def chained(chain, mode):
    """Triangles of a chain of points by glTF 2.0, 3.7.2.1."""
    n = np.arange(len(chain) - 2)
    if mode == 6:
        return np.stack([chain[n + 1], chain[n + 2], np.full(len(n), chain[0])], axis=1)
    return np.stack([chain[n], chain[n + 1 + n % 2], chain[n + 2 - n % 2]], axis=1)


@pytest.mark.parametrize("width", UNSIGNED, ids=str)
@pytest.mark.parametrize("mode", [4, 5, 6])
def test_gltf_of_many_parts_whatever_its_indices_are_counted_in(width, mode, tmp_path):
    chance = np.random.default_rng(7)
    most = min(int(np.iinfo(width).max), 60_000)
    sizes = [most, 40, most, 200, most, 3] if width.itemsize > 1 else [min(most, 250)] * 265
    meshes = [fan(size, chance) for size in sizes]
    assert sum(sizes) > 65536 or mode != 4 or width.itemsize == 1
    found = parts_of(read(tmp_path, glb(meshes, width, mode), "many.glb"))
    assert len(found) == len(meshes)
    for (vertices, faces), came in zip(meshes, found, strict=True):
        wanted = faces if mode == 4 else chained(faces.ravel(), mode)
        assert np.array_equal(soup(came), soup(vertices[wanted]))


def written_ply(vertices, polygons, order, index, count, more):
    """A PLY by hand; ``more``: other properties before and after the list, as some writers have them."""
    big = ">" if order == "binary_big_endian" else "<"
    names = {kind: name for name, kind in reversed(ply._KINDS.items())}
    extra = ("property uchar flags\n", "property float quality\n") if more else ("", "")
    head = (
        f"ply\nformat {order} 1.0\ncomment made here\nelement vertex {len(vertices)}\nproperty float x\nproperty float y\n"
        f"property float z\nelement face {len(polygons)}\n{extra[0]}property list {names[count]} {names[index]} vertex_indices\n{extra[1]}end_header\n"
    )
    if order == "ascii":
        rows = [" ".join(map(str, v)) for v in vertices.tolist()]
        rows += [" ".join(map(str, [*([7] if more else []), len(p), *p, *([0.5] if more else [])])) for p in polygons]
        return (head + "\n".join(rows) + "\n").encode()
    out = io.BytesIO(head.encode())
    out.seek(0, 2)
    out.write(vertices.astype(f"{big}f4").tobytes())
    for polygon in polygons:
        out.write(b"\7" if more else b"")
        out.write(np.array([len(polygon)], dtype=f"{big}{count}").tobytes())
        out.write(np.array(polygon, dtype=f"{big}{index}").tobytes())
        out.write(struct.pack(f"{big}f", 0.5) if more else b"")
    return out.getvalue()


@settings(max_examples=40, deadline=None)
@given(
    order=st.sampled_from(FORMATS),
    index=st.sampled_from(WHOLE),
    count=st.sampled_from(WHOLE),
    more=st.booleans(),
    sizes=st.lists(st.integers(3, 9), min_size=1, max_size=12),
    lead=st.integers(0, 70_000),
)
def test_ply_of_any_polygons_whatever_they_are_counted_in(order, index, count, more, sizes, lead, tmp_path_factory):
    """Regular polygons one above the other: their area tells that each came in whole, once."""
    lead = min(lead, int(np.iinfo(index).max) - sum(sizes)) if np.iinfo(index).max > sum(sizes) else 0
    if sum(sizes) > np.iinfo(index).max:
        return
    rings, polygons, at = [np.zeros((lead, 3))], [], lead
    for level, size in enumerate(sizes):
        a = 2.0 * np.pi * np.arange(size) / size
        rings.append(np.stack([np.cos(a), np.sin(a), np.full(size, float(level))], axis=1))
        polygons.append(list(range(at, at + size)))
        at += size
    vertices = np.concatenate(rings).astype(np.float32)
    folder = tmp_path_factory.mktemp("ply")
    model = read(folder, written_ply(vertices, polygons, order, index, count, more), "rings.ply")
    corners = model.vertices[model.faces]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    for level, size in enumerate(sizes):
        here = corners[:, :, 2].mean(axis=1) == level
        assert across[here, 2].sum() / 2 == pytest.approx(size / 2 * np.sin(2 * np.pi / size), rel=1e-5)
        assert (across[here, 2] > 0).all()
        assert here.sum() == size - 2


@pytest.mark.parametrize("from_the_end", [False, True])
def test_obj_of_many_parts_counted_from_either_end(from_the_end, tmp_path):
    chance = np.random.default_rng(8)
    meshes = [fan(size, chance) for size in (70_000, 5, 40_000, 3, 90)]
    lines, at = [], 0
    for n, (vertices, faces) in enumerate(meshes):
        lines.append(f"o Part {n}")
        lines += [f"v {x} {y} {z}" for x, y, z in vertices.tolist()]
        shown = faces - len(vertices) if from_the_end else faces + at + 1
        lines += [f"f {a} {b} {c}" for a, b, c in shown.tolist()]
        at += len(vertices)
    found = parts_of(read(tmp_path, "\n".join(lines).encode(), "many.obj"))
    for (vertices, faces), came in zip(meshes, found, strict=True):
        assert np.array_equal(soup(came), soup(vertices[faces]))


@pytest.mark.parametrize("text", [False, True])
def test_stl_of_many_triangles_shares_its_corners_again(text, tmp_path):
    ball = trimesh.creation.icosphere(5 if not text else 3)
    ball.vertices = np.round(ball.vertices, 4).astype(np.float32)
    raw = trimesh.exchange.stl.export_stl_ascii(ball).encode() if text else trimesh.exchange.stl.export_stl(ball)
    model = read(tmp_path, raw, "ball.stl")
    assert len(model.vertices) == len(np.unique(ball.vertices, axis=0))
    assert np.array_equal(soup(parts_of(model)[0]), soup(ball.vertices[ball.faces]))


def test_openusd_of_many_meshes(tmp_path):
    chance = np.random.default_rng(9)
    meshes = [fan(size, chance) for size in (70_000, 4, 66_000, 12)]
    stage = Usd.Stage.CreateInMemory()
    for n, (vertices, faces) in enumerate(meshes):
        mesh = UsdGeom.Mesh.Define(stage, f"/Part_{n}")
        mesh.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(vertices))
        mesh.CreateFaceVertexCountsAttr([3] * len(faces))
        mesh.CreateFaceVertexIndicesAttr(faces.ravel().tolist())
    stage.GetRootLayer().Export(str(tmp_path / "out.usdc"))
    found = parts_of(read(tmp_path, (tmp_path / "out.usdc").read_bytes(), "many.usdc"))
    for (vertices, faces), came in zip(meshes, found, strict=True):
        assert np.array_equal(soup(came), soup(vertices[faces]))


def scattered(prototype):
    """A stage that scatters a turned, moved and stretched prototype, kept where ``prototype`` says."""
    stage = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(stage, "Z")
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    group = UsdGeom.Xform.Define(stage, "/Set")
    group.AddTranslateOp().Set(Gf.Vec3d(5, 1, 0))
    group.AddRotateZOp().Set(30)
    instancer = UsdGeom.PointInstancer.Define(stage, "/Set/Pots")
    instancer.AddScaleOp().Set(Gf.Vec3f(1, 1, 2))
    if prototype == "in a class":
        stage.CreateClassPrim("/Kept")
    root = f"{'/Kept' if prototype == 'in a class' else '/Set/Pots'}/Pot"
    pot = UsdGeom.Xform.Define(stage, root)
    pot.AddTranslateOp().Set(Gf.Vec3d(0, 3, 0.5))
    pot.AddRotateXOp().Set(90)
    body = UsdGeom.Cube.Define(stage, f"{root}/Body") if prototype != "itself" else UsdGeom.Cube.Define(stage, root)
    if prototype != "itself":
        body.AddScaleOp().Set(Gf.Vec3f(0.2, 0.3, 0.4))
    instancer.CreatePrototypesRel().SetTargets([root])
    instancer.CreateProtoIndicesAttr([0, 0, 0])
    instancer.CreatePositionsAttr([Gf.Vec3f(0, 0, 0), Gf.Vec3f(2, 0, 0), Gf.Vec3f(0, 4, 1)])
    instancer.CreateOrientationsAttr([Gf.Quath(1, 0, 0, 0), Gf.Quath(0.7071, 0, 0, 0.7071), Gf.Quath(1, 0, 0, 0)])
    instancer.CreateScalesAttr([Gf.Vec3f(1), Gf.Vec3f(2), Gf.Vec3f(1, 2, 3)])
    return stage


@pytest.mark.parametrize("prototype", ["under it", "itself", "in a class"])
def test_what_openusd_scatters_stands_where_its_own_library_says(prototype, tmp_path):
    """Against UsdGeom.BBoxCache, the library's own bounding box."""
    stage = scattered(prototype)
    cache = UsdGeom.BBoxCache(Usd.TimeCode.Default(), [UsdGeom.Tokens.default_])
    box = cache.ComputeWorldBound(stage.GetPrimAtPath("/Set/Pots")).ComputeAlignedRange()
    model = read(tmp_path, stage.GetRootLayer().ExportToString().encode(), "pots.usda")
    assert len(model.faces) == 36
    inside = np.concatenate(parts_of(model)).reshape(-1, 3)
    # The library's box holds the turned boxes of its boxes: it may be wider, never smaller, and each exact corner counts.
    exact = []
    instancer = UsdGeom.PointInstancer(stage.GetPrimAtPath("/Set/Pots"))
    cube = next(
        p
        for p in Usd.PrimRange(
            stage.GetPrimAtPath(instancer.GetPrototypesRel().GetTargets()[0]), Usd.PrimAllPrimsPredicate
        )
        if p.IsA(UsdGeom.Cube)
    )
    unit = np.array(np.meshgrid([-1, 1], [-1, 1], [-1, 1])).reshape(3, -1).T
    world = UsdGeom.XformCache().GetLocalToWorldTransform(instancer.GetPrim())
    within = UsdGeom.XformCache().ComputeRelativeTransform(
        cube, stage.GetPrimAtPath(instancer.GetPrototypesRel().GetTargets()[0])
    )[0]
    for move in instancer.ComputeInstanceTransformsAtTime(0, 0):
        exact += [(within * move * world).Transform(Gf.Vec3d(*map(float, corner))) for corner in unit]
    assert inside.min(axis=0) == pytest.approx(np.min(exact, axis=0), abs=1e-3)
    assert inside.max(axis=0) == pytest.approx(np.max(exact, axis=0), abs=1e-3)
    if prototype == "in a class":
        return  # the library's box counts only what is drawn by itself
    assert (inside.min(axis=0) >= np.array(box.GetMin()) - 1e-3).all()
    assert (inside.max(axis=0) <= np.array(box.GetMax()) + 1e-3).all()


def test_nothing_is_compiled_while_a_file_is_read(tmp_path):
    """After the set-up's rehearsal."""
    loops = [value for module in (ply, stl) for value in vars(module).values() if hasattr(value, "signatures")]
    rehearse_reading()
    before = {str(loop): len(loop.signatures) for loop in loops}
    assert min(before.values()) > 0
    box = trimesh.creation.box()
    for order in FORMATS:
        read(tmp_path, written_ply(np.asarray(box.vertices), box.faces.tolist(), order, "i4", "u1", True), "a.ply")
    read(tmp_path, trimesh.exchange.stl.export_stl(box), "a.stl")
    read(tmp_path, trimesh.exchange.stl.export_stl_ascii(box).encode(), "a.stl")
    assert {str(loop): len(loop.signatures) for loop in loops} == before
