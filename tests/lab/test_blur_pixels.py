"""Prints of small bright things: as soft as the sheet says wherever they are, sharp on a tilted plane, true and level."""

import numpy as np
import pytest
import shapely
from scipy.ndimage import gaussian_filter
from shapely import affinity
from shapely.geometry import Polygon
from tests.conftest import slab
from tests.core.kinds import lenses
from tests.lab.test_lens_pixels import lamps, projected, rendered, spread

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.movements.focus_plane import FocusPlaneThrough
from zevlo.core.instruments.movements.straightening import SquareOn, Straighten
from zevlo.core.optics.aperture import mechanical_edge
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.focus import blur_times_mm
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand

NOTHING = WorkingSet(EMPTY)
PLACES = [(u, v) for v in (0.25, 0.75) for u in (0.1, 0.3, 0.5, 0.7, 0.9)]
SOURCE_PX = 2.0


def apart(shot, distances):
    """A small bright ball at each of ten places of the frame, so far away along the lens axis; and its own size."""
    camera = camera_of(shot)
    rays = camera.rays(np.array(PLACES))
    points = rays.at(camera.distances(rays, np.array(distances)))
    width = shot.back.output_px[0]
    return points, [SOURCE_PX / 2 / width * camera.span(depth)[0] for depth in distances]


def discs(shot, distances, samples=96):
    """How wide each ball is drawn, its own size taken off, beside what the sheet says of its blur, in pixels."""
    points, radii = apart(shot, distances)
    meshes = [lamps([tuple(point)], radius)[0] for point, radius in zip(points, radii, strict=True)]
    film = rendered(shot, meshes, samples=samples, each=48).sum(axis=2)
    answer = shot.focus.model_copy(update={"probes": tuple(map(tuple, points.tolist()))})
    probes = solve(shot.with_groups(focus=answer)).focus.probes
    found = []
    for (x, y), probe in zip(projected(shot, points), probes, strict=True):
        half = int(0.75 * probe.blur_px + 5)
        rows, columns = (
            slice(max(0, round(y) - half), round(y) + half + 1),
            slice(max(0, round(x) - half), round(x) + half + 1),
        )
        found.append((np.sqrt(max(spread(film[rows, columns]) ** 2 - SOURCE_PX**2, 0.0)), probe.blur_px))
    return np.array(found)


def bench_shot(**more):
    return Shot(
        stand=Stand(position=(0, 0, 1.2), aim=(0, 4, 1.0)), lens=Lens(focal_length_mm=70), back=Back(output_px=(600, 400)),
        **more,
    )  # fmt: skip


def test_discs_at_ten_distances_are_as_wide_as_the_sheet_says():
    shot = bench_shot(focus=Focus(distance_m=3.0, f_number=0.9))
    found = discs(shot, [1.6, 1.7, 1.8, 2.0, 2.2, 4.2, 5.0, 7.0, 10.0, 20.0])
    assert found[:, 1].min() > 8
    assert found[:, 0] == pytest.approx(found[:, 1], rel=0.05)


@pytest.mark.parametrize("law", [law for law in lenses() if law not in ("perspective", "parallel")])
def test_discs_are_as_wide_as_is_told_where_a_lens_draws_them_larger(law):
    """Print and probe by one law of blur, out to the sides of the frame."""
    shot = bench_shot(focus=Focus(distance_m=1.0, f_number=0.5)).with_groups(
        lens=Lens(**{**lenses()[law], "focal_length_mm": 24})
    )
    found = discs(shot, [3.0, 6.0, 4.0, 3.0, 0.74, 3.0, 5.0, 0.74, 4.0, 3.0])
    assert found[:, 1].min() > 6
    assert found[:, 0] == pytest.approx(found[:, 1], rel=0.05)


def test_discs_at_ten_places_of_a_tilted_and_swung_lens_are():
    shot = bench_shot(focus=Focus(distance_m=3.0, f_number=1.0), movements=Movements(tilt_deg=3.0, swing_deg=-2.0))
    found = discs(shot, [1.7, 1.5, 6.0, 6.0, 8.0, 1.8, 2.0, 6.5, 2.2, 9.0])
    assert found[:, 1].min() > 6
    assert found[:, 0] == pytest.approx(found[:, 1], rel=0.1)


def test_what_lies_on_a_tilted_plane_of_focus_is_sharp():
    shot = bench_shot(focus=Focus(distance_m=3.0, f_number=1.4), movements=Movements(tilt_limit_deg=20))
    laid = apply_gesture(
        shot, FocusPlaneThrough(points=((-0.6, 2.2, 0.7), (0.6, 2.4, 0.75), (0.1, 4.5, 0.72))), NOTHING
    )
    plane = np.linalg.solve(np.array([(-0.6, 2.2, 0.7), (0.6, 2.4, 0.75), (0.1, 4.5, 0.72)]), np.ones(3))
    rays = camera_of(laid).rays(np.array([(0.15, 0.2), (0.5, 0.1), (0.85, 0.25), (0.4, 0.35), (0.6, 0.3)]))
    points = rays.at((1 - rays.origins @ plane) / (rays.directions @ plane))
    radius = 0.0006 * np.linalg.norm(points[0] - rays.origins[0])
    film = rendered(laid, lamps([tuple(p) for p in points], radius), samples=64, each=32).sum(axis=2)
    for x, y in projected(laid, points):
        patch = film[round(y) - 9 : round(y) + 10, round(x) - 9 : round(x) + 10]
        assert patch.max() > 0
        assert (patch > 0.03 * patch.max()).sum() <= 16, "a few pixels, as large as it is itself"
    straight = laid.with_groups(movements=Movements())
    soft = rendered(straight, lamps([tuple(points[1])], radius), samples=64, each=32).sum(axis=2)
    assert (soft > 0.03 * soft.max()).sum() > 60


def lean_of_bar(film, upright):
    """Degrees a bright bar leans, by a line through the middles of its rows, or columns."""
    film = film if upright else film.T
    rows = np.flatnonzero(film.sum(axis=1) > 0.3 * film.sum(axis=1).max())[4:-4]
    middles = (film[rows] * (np.arange(film.shape[1]) + 0.5)).sum(axis=1) / film[rows].sum(axis=1)
    return np.degrees(np.arctan(np.polyfit(rows, middles, 1)[0]))


@pytest.mark.parametrize("squared", [False, True])
def test_uprights_and_a_squared_wall_are_true_within_a_twentieth_of_a_degree(squared):
    pitched = Shot(
        stand=Stand(position=(0, 0, 1.6), aim=(1.2, 10, 4.4)), lens=Lens(focal_length_mm=24), back=Back(output_px=(600, 400)),
        focus=Focus(distance_m=10, f_number=None),
    )  # fmt: skip
    leaning = rendered(pitched, [slab((-3, 9, 0.5), (-2.96, 9.04, 9))], samples=16).sum(axis=2)
    assert abs(lean_of_bar(leaning, True)) > 2
    shot = apply_gesture(pitched, Straighten(), NOTHING)
    if squared:
        shot = apply_gesture(shot, SquareOn(normal=(0, -1, 0)), NOTHING)
        bar = slab((-3, 9, 4.0), (5, 9.04, 4.04))
    else:
        bar = slab((-3, 9, 0.5), (-2.96, 9.04, 9))
    film = rendered(shot, [bar], samples=32, each=16).sum(axis=2)
    assert abs(lean_of_bar(film, not squared)) < 0.05


def test_beyond_the_image_circle_a_print_is_dark():
    shot = Shot(
        stand=Stand(position=(0, 0, 1), aim=(0, 5, 1)), back=Back(output_px=(300, 200)), movements=Movements(rise_mm=12, image_circle_mm=50),
        focus=Focus(distance_m=5, f_number=None),
    )  # fmt: skip
    film = rendered(shot, [slab((-90, 5, -90), (90, 5.1, 90))], samples=8).sum(axis=2)
    uv = np.array([((x + 0.5) / 300, 1 - (y + 0.5) / 200) for y in range(200) for x in range(300)])
    radius = np.hypot(*camera_of(shot).film(uv).T).reshape(200, 300)
    assert film[radius < 24.8].min() > 0.9 * film[radius < 24.8].max()
    assert film[radius > 25.8].max() == 0
    assert (radius > 25.8).any()


@pytest.mark.parametrize(
    ("blades", "turned", "squeeze", "mechanical"),
    [(3, 0, 0, 0), (5, 20, 0, 0), (6, -7, 0.4, 0), (0, 0, 0.5, 0), (7, 0, 0, 0.6), (5, 0, 0.3, 0.5)],
)
def test_discs_have_the_shape_that_is_told_in_middle_and_corner(blades, turned, squeeze, mechanical):
    """A light behind the focus, and one before it, whose disc is turned over; in the middle and near a corner."""
    focus = Focus(distance_m=3.0, f_number=0.5, blades=blades, blade_rotation_deg=turned, squeeze=squeeze)
    shot = Shot(
        stand=Stand(position=(0, 0, 0), aim=(0, 4, 0)), back=Back(output_px=(300, 200)), focus=focus,
        lens=Lens(focal_length_mm=85, falloff={"mechanical": mechanical, "open_f_number": 0.5}),
    )  # fmt: skip
    camera, aperture = camera_of(shot), Framing(shot).aperture
    edges = tuple(edge for edge in (mechanical_edge(camera.corners), aperture.edge) if edge is not None)
    for uv, depth, direction in (((0.5, 0.5), 9.0, 1), ((0.88, 0.86), 9.0, 1), ((0.14, 0.85), 1.9, -1)):
        rays = camera.rays(np.array([uv]))
        point = rays.at(camera.distances(rays, depth))
        film = rendered(shot, lamps([tuple(point[0])], 0.0018 * depth), samples=256, each=64).sum(axis=2)
        half = blur_times_mm(85, 0.5, 3000) * abs(1 / (1000 * depth) - 1 / 3000) / fit_back(shot.back).pixel_mm / 2
        found = Polygon(half * direction * aperture.outline(*camera.film(np.array([uv]))[0], edges))
        x, y = projected(shot, point)[0]
        drawn, turned_over = (
            shapely.contains_xy(affinity.scale(found, direction, -direction, origin=(0, 0)), *(np.mgrid[0:200, 0:300][::-1] + 0.5 - np.array([x, y])[:, None, None]))
            for direction in (1, -1)
        )  # fmt: skip
        alike, other = (
            np.corrcoef(*(gaussian_filter(one.astype(float), 1.5).ravel() for one in (film, mask)))[0, 1]
            for mask in (drawn, turned_over)
        )
        assert alike > 0.98, uv
        if blades == 3:
            assert other < alike - 0.02, (uv, "and not the shape turned over")


@pytest.mark.parametrize(("blades", "turned"), [(3, 0.0), (4, 30.0), (5, 0.0), (6, 10.0), (8, -5.0)])
def test_a_disc_has_as_many_corners_as_there_are_blades_turned_as_they_are(blades, turned):
    shot = Shot(
        stand=Stand(position=(0, 0, 0), aim=(0, 4, 0)), back=Back(output_px=(120, 120), enlarge=5), lens=Lens(focal_length_mm=85),
        focus=Focus(distance_m=3.0, f_number=0.9, blades=blades, blade_rotation_deg=turned),
    )  # fmt: skip
    film = rendered(shot, lamps([(0, 9.0, 0)], 0.016), samples=384, each=64).sum(axis=2)
    y, x = np.mgrid[0:120, 0:120] + 0.5 - 60
    # How far out the light lies, direction by direction, goes up and down once for each corner.
    wave = (film * np.hypot(x, y) ** 4 * np.exp(-1j * blades * np.arctan2(-y, x))).sum()
    rest = [
        (film * np.hypot(x, y) ** 4 * np.exp(-1j * n * np.arctan2(-y, x))).sum() for n in range(2, 10) if n % blades
    ]
    assert abs(wave) > 4 * max(map(abs, rest))
    off = np.rad2deg(np.angle(wave * np.exp(-1j * blades * -np.deg2rad(90 + turned)))) / blades
    assert off == pytest.approx(0, abs=1.0)


def test_squeezed_corners_are_as_bright_as_the_middle():
    def even(**focus):
        card = slab((-9, 4.0, -9), (9, 4.1, 9))
        shot = Shot(
            stand=Stand(position=(0, 0, 0), aim=(0, 4, 0)), back=Back(output_px=(120, 80)), lens=Lens(focal_length_mm=35),
            focus=Focus(distance_m=2.0, f_number=1.0, **focus),
        )  # fmt: skip
        return rendered(shot, [card], samples=128, each=64).sum(axis=2)

    plain, squeezed = even(), even(squeeze=0.8, blades=5, rim_weight=0.5)
    for rows, columns in (
        (slice(0, 12), slice(0, 12)),
        (slice(34, 46), slice(54, 66)),
        (slice(-12, None), slice(-12, None)),
    ):
        assert squeezed[rows, columns].mean() == pytest.approx(plain[rows, columns].mean(), rel=0.03)
