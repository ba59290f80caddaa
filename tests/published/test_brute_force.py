"""Picks, floors and cuts against plain NumPy that tries every triangle; lengths and heights against what is published."""

import numpy as np
import pytest
import trimesh
from tests.conftest import set_of

from zevlo.core.camera.camera import Camera
from zevlo.core.camera.picking import seen_from
from zevlo.core.framing.placing_habits import NAMED_HEIGHTS, OFFERED_PAIRS
from zevlo.core.measures import LENGTHS_M
from zevlo.core.optics.laws import Perspective
from zevlo.core.optics.lens import Window
from zevlo.core.scene.cuts.cut import plan_plane, section_plane
from zevlo.core.scene.cuts.floor import FURNITURE_THICKNESS_M
from zevlo.core.scene.leftovers import _closest
from zevlo.core.scene.model.rays import RayScene
from zevlo.core.scene.stand_ins.figure import CHIN, ELBOW, HIP, KNEE, SHOULDER, body_of
from zevlo.core.scene.stand_ins.made import Sweep
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Stand
from zevlo.core.stand.pose import resolve


def rubble(seed, count=60):
    """Small tetrahedra and slabs thrown about, each a part of its own."""
    rng = np.random.default_rng(seed)
    meshes = []
    for _ in range(count):
        mesh = (
            trimesh.creation.box(extents=rng.uniform(0.05, 1.5, 3))
            if rng.random() < 0.5
            else trimesh.creation.icosahedron()
        )
        mesh.apply_transform(trimesh.transformations.random_rotation_matrix(rng.random(3)))
        mesh.apply_translation(rng.uniform(-5, 5, 3))
        meshes.append(mesh)
    return meshes


def every_hit(triangles, origin, direction):
    """Distances along a ray to every triangle it meets, by Cramer's rule (Möller and Trumbore, 1997); inf for none."""
    a = triangles[:, 0]
    e1, e2 = triangles[:, 1] - a, triangles[:, 2] - a
    p = np.cross(direction, e2)
    determinant = np.einsum("ij,ij->i", e1, p)
    with np.errstate(divide="ignore", invalid="ignore"):
        s = origin - a
        u = np.einsum("ij,ij->i", s, p) / determinant
        q = np.cross(s, e1)
        v = (q @ direction) / determinant
        t = np.einsum("ij,ij->i", e2, q) / determinant
        met = (np.abs(determinant) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 0)
    return np.where(met, t, np.inf)


@pytest.mark.parametrize("seed", range(4))
def test_picks_are_what_trying_every_triangle_finds(seed):
    working = WorkingSet(set_of(*rubble(seed)))
    triangles = working.vertices[working.faces]
    owner = np.concatenate([np.full(part.face_count, n) for n, part in enumerate(working.model.parts)])
    rng = np.random.default_rng(seed)
    window = Window(-18, 18, -12, 12)
    met = 0
    for _ in range(60):
        pose = resolve(
            Stand(
                position=tuple(rng.uniform(-9, 9, 3)),
                aim=tuple(rng.uniform(-2, 2, 3)),
                roll_deg=float(rng.uniform(-30, 30)),
            )
        )
        u, v = rng.random(2)
        across, up = (window.left + u * 36) / 28, (window.bottom + v * 24) / 28
        ray = pose.forward + across * pose.right + up * pose.up
        distances = every_hit(triangles, pose.position + 0.05 * ray, ray / np.linalg.norm(ray))
        camera = Camera(pose, window, Perspective(28), 0.05, None)
        seen = seen_from(camera, u, v, working)
        nearest = int(np.argmin(distances))
        if distances[nearest] == np.inf:
            assert seen is None
            continue
        met += 1
        assert (seen.depth_m - 0.05) * np.linalg.norm(ray) == pytest.approx(distances[nearest], abs=2e-4)
        second = np.sort(distances)[1]
        if second - distances[nearest] > 1e-3:
            assert seen.part == owner[nearest]
            through = seen_from(camera, u, v, working.without(frozenset({seen.part})))
            others = distances[owner != seen.part].min()
            assert (np.inf if through is None else (through.depth_m - 0.05) * np.linalg.norm(ray)) == pytest.approx(
                others, abs=1e-3
            )
    assert met > 15


def test_a_set_searched_in_shares_is_met_as_the_whole_is():
    whole = WorkingSet(set_of(*rubble(7)))
    rng = np.random.default_rng(7)
    origins, directions = rng.uniform(-8, 8, (400, 3)), rng.normal(size=(400, 3))
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    shares = RayScene(whole.vertices, whole.faces, most=97)
    ours, theirs = shares.first(origins, directions), whole.rays.first(origins, directions)
    assert np.array_equal(ours.distance, theirs.distance)
    assert (ours.face == theirs.face).mean() > 0.99, "but where two triangles are met at once"
    assert np.array_equal(shares.distances(origins, directions), whole.rays.distances(origins, directions))
    assert np.array_equal(shares.blocked(origins, directions, 3.0), whole.rays.blocked(origins, directions, 3.0))
    assert np.isfinite(ours.distance).any()


@pytest.mark.parametrize("seed", range(4))
def test_floors_are_the_highest_surface_below_that_can_be_stood_on(seed):
    working = WorkingSet(set_of(*rubble(seed, 25), trimesh.creation.box(extents=(14, 14, 1))))
    triangles = working.vertices[working.faces]
    rng = np.random.default_rng(seed)
    for place in rng.uniform(-5, 5, (60, 3)):
        heights = np.sort(place[2] - every_hit(triangles, place, np.array([0.0, 0.0, -1.0])))[::-1]
        heights = heights[np.isfinite(heights)]
        found = working.floor_under(place)
        if len(heights) == 0:
            assert found is None
        elif len(heights) < 2 or heights[0] - heights[1] > FURNITURE_THICKNESS_M:
            assert found == pytest.approx(heights[0], abs=1e-7)
        else:
            assert np.abs(heights - found).min() < 1e-7, "through a table, to something below it"


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize(
    "plane", [plan_plane(0.37), section_plane(np.array([0.3, -0.2, 1.0]), np.array([0.6, 0.8, 0.0]))]
)
def test_cuts_are_as_long_as_cutting_every_triangle(seed, plane):
    working = WorkingSet(set_of(*rubble(seed)))
    triangles = working.vertices[working.faces]
    side = (triangles - plane.origin) @ plane.toward
    total = 0.0
    for corners, heights in zip(triangles, side, strict=True):
        crossings = []
        for n in range(3):
            here, there = heights[n], heights[(n + 1) % 3]
            if (here >= 0) != (there >= 0):
                crossings.append(corners[n] + here / (here - there) * (corners[(n + 1) % 3] - corners[n]))
        if len(crossings) == 2:
            total += float(np.linalg.norm(crossings[1] - crossings[0]))
    outlines = working.cut(plane)
    rings = [np.concatenate([ring, ring[:1]]) for ring in outlines.closed] + list(outlines.open)
    drawn = sum(float(np.linalg.norm(np.diff(ring, axis=0), axis=1).sum()) for ring in rings)
    assert drawn == pytest.approx(total, rel=2e-3), "outlines keep within half a millimetre of the mesh"


def test_distances_to_triangles_are_what_trimesh_finds():
    rng = np.random.default_rng(1)
    triangles = rng.uniform(-1, 1, (200, 3, 3))
    for place in rng.uniform(-2, 2, (50, 3)):
        nearest = trimesh.triangles.closest_point(triangles, np.tile(place, (200, 1)))
        assert _closest(place[None], triangles) == pytest.approx(
            np.linalg.norm(nearest - place, axis=1).min(), abs=1e-9
        )


def test_inch_foot_and_yard_are_the_international_ones():
    """NIST Special Publication 811 (2008), appendix B.8: exact since 1959."""
    assert (LENGTHS_M["in"], LENGTHS_M["ft"], LENGTHS_M["yd"]) == (0.0254, 0.3048, 0.9144)


def test_a_figure_has_the_proportions_of_a_body():
    """Drillis and Contini (1966), as reprinted in Winter, Biomechanics and Motor Control: knee 0.285, hip 0.530,
    shoulder 0.818, chin 0.870, elbow 0.630 of the stature. From memory."""
    assert (KNEE, HIP, SHOULDER, CHIN, ELBOW) == (0.285, 0.530, 0.818, 0.870, 0.630)
    vertices, _, _ = body_of(1.75, None)
    assert np.ptp(vertices[:, 0]) == pytest.approx(0.26 * 1.75 * 1.13, abs=0.06), (
        "about twice 0.129 between the shoulders, with the arms"
    )
    eye = 0.936 * 1.75
    assert abs(eye - next(m.height_m for m in NAMED_HEIGHTS if m.name == "standing eye")) < 0.06


def test_seated_eyes_are_where_tables_of_bodies_put_them():
    """Seat of 0.45 m and a sitting eye height of 0.73 to 0.79 m above it (common practice, no source)."""
    mark = next(m.height_m for m in NAMED_HEIGHTS if m.name == "seated eye")
    assert 0.45 + 0.70 < mark < 0.45 + 0.80
    vertices, _, _ = body_of(1.75, 0.45)
    assert vertices[:, 2].max() - 0.064 * 1.75 == pytest.approx(mark, abs=0.08), (
        "eyes lie 0.064 of the stature below the top"
    )


def test_offered_heights_and_sizes_are_those_of_the_trade():
    """Lens 5 ft 6 in, aim 3 ft; a full roll of background paper of 2.72 m (common practice, no source)."""
    assert OFFERED_PAIRS[0].lens_m == pytest.approx(5 * 0.3048 + 6 * 0.0254)
    assert OFFERED_PAIRS[0].aim_m == pytest.approx(3 * 0.3048)
    assert Sweep(name="S").width_m == 2.72
