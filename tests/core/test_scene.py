"""Cuts, rays, floors and hidden lines against brute force in numpy and against trimesh."""

import numpy as np
import pytest
import shapely
import trimesh
from tests.conftest import set_of, slab

from zevlo.core.scene.cuts.beyond import edges_of
from zevlo.core.scene.cuts.cut import cut_outlines, cut_segments, index_for_cuts, plan_plane, section_plane
from zevlo.core.scene.cuts.outline import chain
from zevlo.core.scene.model.rays import RayScene
from zevlo.core.scene.model.visible import Lifted, Visible
from zevlo.core.scene.working import WorkingSet


def _area(loops):
    return sum(0.5 * float(np.sum(p[:, 0] * np.roll(p[:, 1], -1) - np.roll(p[:, 0], -1) * p[:, 1])) for p in loops)


def _brute_first(triangles, origin, direction):
    """Möller and Trumbore, one ray against every triangle: nearest distance, or inf."""
    a, b, c = triangles[:, 0], triangles[:, 1], triangles[:, 2]
    e1, e2 = b - a, c - a
    p = np.cross(direction, e2)
    det = np.einsum("ij,ij->i", e1, p)
    ok = np.abs(det) > 1e-14
    inverse = np.where(ok, 1.0 / np.where(ok, det, 1.0), 0.0)
    s = origin - a
    u = np.einsum("ij,ij->i", s, p) * inverse
    q = np.cross(s, e1)
    v = (q @ direction) * inverse
    t = np.einsum("ij,ij->i", e2, q) * inverse
    hit = ok & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 1e-9)
    return t[hit].min() if hit.any() else np.inf


def _random_blob(seed):
    rng = np.random.default_rng(seed)
    blob = trimesh.creation.icosphere(subdivisions=3)
    blob.vertices *= 1 + 0.3 * rng.normal(size=(len(blob.vertices), 1))
    return blob


@pytest.mark.parametrize("seed", range(4))
def test_rays_agree_with_brute_force(seed):
    blob, rng = _random_blob(seed), np.random.default_rng(seed + 50)
    scene = RayScene(np.asarray(blob.vertices), np.asarray(blob.faces, dtype=np.int32))
    origins = rng.normal(size=(60, 3)) * 3
    directions = rng.normal(size=(60, 3)) - origins * 0.4
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    found = scene.first(origins, directions)
    wanted = np.array([_brute_first(blob.triangles, o, w) for o, w in zip(origins, directions, strict=True)])
    assert np.isinf(found.distance).tolist() == np.isinf(wanted).tolist()
    real = np.isfinite(wanted)
    assert found.distance[real] == pytest.approx(wanted[real], abs=2e-5)
    assert scene.blocked(origins, directions).tolist() == real.tolist()
    assert not scene.blocked(origins[real], directions[real], wanted[real] - 1e-3).any()


@pytest.mark.parametrize("seed", range(4))
def test_cut_agrees_with_brute_force_and_trimesh(seed):
    blob = _random_blob(seed)
    vertices, faces = np.asarray(blob.vertices), np.asarray(blob.faces, dtype=np.int32)
    plane = plan_plane(0.07)
    segments, owners = cut_segments(index_for_cuts(vertices, faces), plane)
    crossing = [n for n, f in enumerate(faces) if min(vertices[f, 2]) < 0.07 <= max(vertices[f, 2])]
    assert sorted(owners.tolist()) == crossing
    assert segments[..., 2] == pytest.approx(np.full(segments.shape[:2], 0.07))
    for (start, end), face in zip(segments, owners, strict=True):
        corners = vertices[faces[face]]
        assert np.linalg.matrix_rank(np.vstack([corners[1:] - corners[0], start - corners[0], end - corners[0]]), 1e-6) == 2  # fmt: skip
    outlines = cut_outlines(index_for_cuts(vertices, faces), plane, tolerance=0.0)
    assert outlines.open == ()
    theirs = trimesh.intersections.mesh_plane(blob, [0, 0, 1], [0, 0, 0.07])
    length = sum(float(np.linalg.norm(np.diff(np.vstack([p, p[:1]]), axis=0), axis=1).sum()) for p in outlines.closed)
    assert length == pytest.approx(float(np.linalg.norm(theirs[:, 1] - theirs[:, 0], axis=1).sum()), rel=1e-6)


def test_cut_of_a_room_is_walls_with_the_inside_left_out():
    outside, inside = slab((0, 0, 0), (4, 3, 2.5)), slab((0.3, 0.3, -1), (3.7, 2.7, 4))
    inside.invert()
    room = set_of(outside, inside)
    outlines = WorkingSet(room).cut(plan_plane(1.2))
    assert len(outlines.closed) == 2
    assert abs(_area(outlines.closed)) == pytest.approx(12 - 3.4 * 2.4)
    assert all(len(loop) == 4 for loop in outlines.closed)


@pytest.mark.parametrize("radius", [0.03, 0.35, 8.0])
def test_a_finely_modelled_round_thing_keeps_its_outline(radius):
    """Many short edges, each within the tolerance by itself: together they are the thing."""
    ball = trimesh.creation.icosphere(subdivisions=6, radius=radius)
    index = index_for_cuts(np.asarray(ball.vertices), np.asarray(ball.faces, dtype=np.int32))
    plane = section_plane(np.array([-1.0, 0.001 * radius, 0.0]), np.array([1.0, 0.0, 0.0]))
    exact, drawn = (cut_outlines(index, plane, tolerance).closed for tolerance in (0.0, 5e-4))
    assert len(exact) == len(drawn) == 1
    assert len(drawn[0]) < len(exact[0]) / 2
    line = shapely.LinearRing(drawn[0])
    assert shapely.distance(shapely.points(exact[0]), line).max() <= 5e-4 + 1e-12
    assert abs(_area(drawn)) == pytest.approx(np.pi * radius**2, rel=0.03)


def test_a_vertex_on_the_plane_still_closes():
    tip = trimesh.creation.cone(radius=1, height=2, sections=8)
    outlines = cut_outlines(
        index_for_cuts(np.asarray(tip.vertices), np.asarray(tip.faces, dtype=np.int32)), plan_plane(0.0)
    )
    assert all(len(loop) >= 3 for loop in outlines.closed)
    assert outlines.open == ()


def test_a_sheet_gives_an_open_line_and_loops_close_across_t_joints():
    sheet = set_of(trimesh.Trimesh([[0, 0, 0], [2, 0, 0], [2, 0, 2], [0, 0, 2]], [[0, 1, 2], [0, 2, 3]], process=False))
    outlines = WorkingSet(sheet).cut(plan_plane(1.0))
    assert outlines.closed == ()
    assert [len(line) for line in outlines.open] == [2]
    square = np.array([[[0, 0], [1, 0]], [[1, 0], [1, 1]], [[1, 1 + 2e-7], [0, 1]], [[0, 1], [0, 0]]], dtype=float)
    path, stops, closes = chain(square)
    assert path.tolist() == [0, 1, 2, 3]
    assert stops.tolist() == [4]
    assert closes.tolist() == [True]


def test_section_runs_along_the_axis_with_the_lens_at_its_left():
    plane = section_plane(np.array([2.0, 1.0, 1.6]), np.array([0.0, 1.0, 0.0]))
    assert plane.flat(np.array([2.0, 4.0, 0.5])) == pytest.approx([3.0, 0.5])
    assert np.cross(*plane.paper) == pytest.approx(plane.toward)


def test_lifting_a_group_takes_all_below_it():
    from zevlo.core.scene.model.set_model import Material, Part, SetModel

    box = slab((0, 0, 0), (1, 1, 1))
    parts = (Part("group", None, 0, 0), Part("one", 0, 0, 6), Part("two", None, 6, 6))
    model = SetModel(np.asarray(box.vertices), np.asarray(box.faces, dtype=np.int32), np.zeros(12, dtype=np.int32), parts, (Material("m"),))  # fmt: skip
    assert model.faces_without(frozenset({0})).tolist() == [False] * 6 + [True] * 6
    assert WorkingSet(model, Visible(Lifted(frozenset({0})))).part_at(0) == 2


GROUND = slab((-5, -5, -1), (5, 5, 0))


@pytest.mark.parametrize(
    ("things", "point", "floor"),
    [
        ((), (0, 0, 1.6), 0.0),
        ((slab((-1, -1, 0.7), (1, 1, 0.76)),), (0, 0, 1.6), 0.0),
        ((slab((-1, -1, 3.0), (1, 1, 3.2)),), (0, 0, 4.8), 3.2),
        ((slab((-1, -1, 0.0), (1, 1, 0.2)),), (0, 0, 1.6), 0.2),
        ((slab((-1, -1, 0.0), (1, 1, 1.35)),), (0, 0, 2.0), 1.35),
        ((), (9, 9, 1.6), None),
    ],
    ids=["plain", "beside a table", "upper storey", "a step", "a solid block", "nothing below"],
)
def test_floor_under_a_stand(things, point, floor):
    found = WorkingSet(set_of(GROUND, *things)).floor_under(np.array(point, dtype=float))
    assert found == (None if floor is None else pytest.approx(floor, abs=1e-4))


def test_the_floor_of_a_slope_is_found_everywhere_on_and_between_its_corners():
    rng = np.random.default_rng(8)
    side = 13
    x, y = np.meshgrid(np.linspace(100.0, 103.0, side), np.linspace(-7.0, -4.0, side), indexing="ij")
    corners = np.c_[x.ravel(), y.ravel(), rng.uniform(0, 2, x.size)]
    at = np.arange(side * side).reshape(side, side)
    a, b, c, d = at[:-1, :-1].ravel(), at[1:, :-1].ravel(), at[1:, 1:].ravel(), at[:-1, 1:].ravel()
    slope = trimesh.Trimesh(corners, np.vstack([np.c_[a, b, c], np.c_[a, c, d]]), process=False)
    working = WorkingSet(set_of(slope))
    inner = corners[(corners[:, 0] < 103.0) & (corners[:, 1] < -4.0)]
    between = np.c_[rng.uniform(100.0, 103.0, 200), rng.uniform(-7.0, -4.0, 200), np.zeros(200)]
    on_sides = np.c_[inner[:, 0] + 0.11, inner[:, 1], np.zeros(len(inner))]
    for here in np.vstack([inner, between, on_sides]):
        wanted = 5.0 - _brute_first(slope.triangles, np.array([*here[:2], 5.0]), np.array([0.0, 0.0, -1.0]))
        found = working.floor_under(np.array([*here[:2], 5.0]))
        assert found == pytest.approx(wanted, abs=1e-9)


DIRECTIONS = [np.array(one) / np.linalg.norm(one) for one in ([0, 0, 1], [1, 0, 0], [0.3, -0.8, 0.0], [-0.5, 0.4, 0.7])]


def _edges(mesh):
    return edges_of(np.asarray(mesh.vertices), np.asarray(mesh.faces, dtype=np.int32))


@pytest.mark.parametrize("direction", DIRECTIONS, ids=str)
def test_edges_seen_of_a_box_a_ball_and_a_dented_ground(direction):
    assert len(_edges(slab((0, 0, 0), (1, 1, 1))).seen_from(direction)) == 12, "no diagonal of a flat face"
    ball = _edges(trimesh.creation.icosphere(subdivisions=4))
    assert len(ball.creases) == 0
    outline = ball.seen_from(direction)
    assert np.abs(outline @ direction).max() < 0.1, "where it turns away"
    across = np.linalg.norm(outline - (outline @ direction)[..., None] * direction, axis=2)
    assert across.min() > 0.99
    x, y = np.meshgrid(np.linspace(-5, 5, 21), np.linspace(-5, 5, 21))
    points = np.c_[x.ravel(), y.ravel(), 0.0005 * np.random.default_rng(3).normal(size=x.size)]
    at = np.arange(x.size).reshape(x.shape)
    a, b, c, d = at[:-1, :-1].ravel(), at[:-1, 1:].ravel(), at[1:, 1:].ravel(), at[1:, :-1].ravel()
    ground = trimesh.Trimesh(points, np.vstack([np.c_[a, b, c], np.c_[a, c, d]]), process=False)
    assert len(_edges(ground).seen_from(direction)) == 80, "its border alone"


def test_a_ball_and_a_lying_bottle_are_drawn_where_the_cut_misses_them():
    ball = trimesh.creation.icosphere(subdivisions=4, radius=0.5).apply_translation((0, 0, 0.5))
    bottle = trimesh.creation.cylinder(0.1, 1.0, sections=48)
    bottle.apply_transform(trimesh.transformations.rotation_matrix(np.pi / 2, [0, 1, 0])).apply_translation((2, 0, 0.1))
    working = WorkingSet(set_of(GROUND, ball, bottle))
    lines = working.beyond(plan_plane(2.0), 5.0)
    round_it = lines[np.linalg.norm(lines, axis=2).max(axis=1) < 0.6]
    assert np.linalg.norm(round_it, axis=2).min() > 0.49
    around = np.sort(np.arctan2(round_it[:, :, 1], round_it[:, :, 0]).ravel())
    assert np.degrees(np.diff(around)).max() < 6.0, "all round it"
    along = lines[(np.abs(lines[:, :, 1]) < 0.11).all(axis=1) & (lines[:, :, 0] > 1.4).all(axis=1)]
    for side in (-0.1, 0.1):
        own = along[np.abs(along[:, :, 1] - side).max(axis=1) < 0.004]
        assert np.ptp(own[:, :, 0]) == pytest.approx(1.0, abs=0.01)


def test_a_cube_has_twelve_creases_and_a_ball_none():
    assert len(_edges(slab((0, 0, 0), (1, 1, 1))).creases) == 12
    assert len(_edges(trimesh.creation.icosphere(subdivisions=3)).creases) == 0


def test_what_is_hidden_from_the_reader_is_not_drawn():
    working = WorkingSet(set_of(GROUND, slab((-1, -1, 0), (1, 1, 1)), slab((-0.5, -0.5, 0.2), (0.5, 0.5, 0.6))))
    lines = working.beyond(plan_plane(2.0), 5.0)
    inner = np.abs(lines).max(axis=(1, 2)) < 0.9
    assert not inner.any()
    outer = np.abs(np.abs(lines).max(axis=(1, 2)) - 1.0) < 1e-6
    drawn = np.unique(np.sort(lines[outer].round(4), axis=1), axis=0)
    assert float(np.linalg.norm(drawn[:, 1] - drawn[:, 0], axis=1).sum()) == pytest.approx(8.0, abs=0.1)
