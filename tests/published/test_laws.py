"""The lens laws against the general computer-vision library, handbook formulas and what each law is known to keep."""

import cv2
import numpy as np
import pytest
from tests.core.kinds import lenses

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.optics.laws import Cylindrical, Distorted, Fisheye, Perspective
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand

UPSIDE_DOWN = np.array([1.0, -1.0])
"""The library's y points down, ours up."""
GLASSES = [
    (-0.28, 0.09, 0.0, 0.0005, -0.0004), (0.12, 0.0, 0.0, 0.0, 0.0), (-0.08, 0.02, -0.003, 0.001, -0.002), (0.05, -0.01, 0.004, -0.003, 0.002),
]  # fmt: skip


def shot_with(**lens):
    return Shot(
        stand=Stand(position=(0, 0, 0), aim=(0, 1, 0)),
        lens=Lens(**lens),
        back=Back(output_px=(900, 600)),
        focus=Focus(distance_m=9),
    )


@pytest.mark.parametrize("glass", GLASSES)
def test_distortion_is_opencvs_both_ways(glass):
    """OpenCV ``projectPoints`` and ``undistortPoints``: to 1e-9 in normalised units."""
    k1, k2, k3, p1, p2 = glass
    law, f = Distorted(30.0, k1, k2, k3, p1, p2), 30.0
    flat = np.random.default_rng(3).uniform(-0.6, 0.6, (2000, 2))
    depth = np.random.default_rng(4).uniform(0.4, 60, 2000)
    seen = np.column_stack([flat * UPSIDE_DOWN, np.ones(2000)]) * depth[:, None]
    coefficients = np.array([k1, k2, p1, p2, k3])
    wanted = cv2.projectPoints(seen, np.zeros(3), np.zeros(3), np.eye(3), coefficients)[0].reshape(-1, 2) * UPSIDE_DOWN
    x, y, drawn = law.film(np, flat[:, 0] * depth, flat[:, 1] * depth, depth)
    assert drawn.all()
    assert np.abs(np.column_stack([x, y]) / f - wanted).max() < 1e-9
    exactly = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 200, 1e-14)
    back = cv2.undistortPoints((wanted * UPSIDE_DOWN)[:, None], np.eye(3), coefficients, criteria=exactly)
    _, _, a, b, c, sees = law.rays(np, wanted[:, 0] * f, wanted[:, 1] * f)
    assert sees.all()
    assert np.abs(np.column_stack([a, b]) / c[:, None] - back.reshape(-1, 2) * UPSIDE_DOWN).max() < 1e-9


def test_the_equidistant_fisheye_is_opencvs():
    """OpenCV ``fisheye.projectPoints`` without coefficients is r = f·θ."""
    directions = np.random.default_rng(5).normal(size=(2000, 3))
    directions[:, 2] = np.abs(directions[:, 2]) + 0.05
    wanted = cv2.fisheye.projectPoints(
        (directions * [1, -1, 1])[:, None], np.zeros(3), np.zeros(3), np.eye(3), np.zeros(4)
    )[0].reshape(-1, 2)  # fmt: skip
    x, y, seen = Fisheye(8.0, "equidistant").film(np, *directions.T)
    assert seen.all()
    assert np.abs(np.column_stack([x, y]) / 8.0 - wanted * UPSIDE_DOWN).max() < 1e-9


@pytest.mark.parametrize(
    ("law", "quarter_turn", "eighth"),
    [("equidistant", 12.5664, 6.2832), ("equisolid", 11.3137, 6.1229), ("stereographic", 16.0, 6.6274)],
)
def test_the_three_fisheye_laws_of_the_handbooks(law, quarter_turn, eighth):
    """f·θ, 2f·sin(θ/2), 2f·tan(θ/2) for 8 mm at 90° and 45° (handbooks of optics; the formulas from memory)."""
    lens = Fisheye(8.0, law)
    for degrees, wanted in ((90.0, quarter_turn), (45.0, eighth)):
        turn = np.radians(degrees)
        x, y, _ = lens.film(np, np.array([3.0 * np.sin(turn)]), np.zeros(1), np.array([3.0 * np.cos(turn)]))
        assert (x[0], y[0]) == pytest.approx((wanted, 0.0), abs=1e-4)
        assert lens.angle_deg(2.0 * wanted) == pytest.approx(2.0 * degrees, abs=1e-3)


def test_an_equisolid_fisheye_gives_each_solid_angle_the_same_film_and_a_stereographic_one_keeps_circles():
    """What their names say (facts of geometry): a cap of half angle θ is 2π(1 - cos θ) large; small circles stay round."""
    for theta in np.radians([10, 60, 100, 150]):
        r, _, _ = Fisheye(9.0, "equisolid").film(np, np.array([np.sin(theta)]), np.zeros(1), np.array([np.cos(theta)]))
        assert np.pi * r[0] ** 2 == pytest.approx(81.0 * 2.0 * np.pi * (1.0 - np.cos(theta)))
    round_it = np.linspace(0, 2 * np.pi, 40)
    for middle in np.radians([0, 40, 95]):
        ahead = np.array([np.sin(middle), 0, np.cos(middle)])
        side = np.array([np.cos(middle), 0, -np.sin(middle)])
        circle = np.cos(0.2) * ahead[:, None] + np.sin(0.2) * (
            np.cos(round_it) * side[:, None] + np.sin(round_it) * np.array([[0], [1], [0]])
        )
        x, y, _ = Fisheye(9.0, "stereographic").film(np, *circle)
        left, right = x.min(), x.max()
        assert np.hypot(x - (left + right) / 2, y) == pytest.approx(np.full(40, (right - left) / 2), rel=5e-3)


def test_a_cylinder_keeps_uprights_upright_and_tells_headings_evenly():
    """As a camera draws that turns about its upright axis: equal turns are equal film (common practice, no source)."""
    law = Cylindrical(20.0)
    turn, height = np.meshgrid(np.radians([-170, -90, -20, 0, 35, 120]), [-2.0, 0.0, 5.0])
    x, y, seen = law.film(np, 4 * np.sin(turn).ravel(), height.ravel(), 4 * np.cos(turn).ravel())
    assert seen.all()
    assert x == pytest.approx(20.0 * turn.ravel())
    assert y == pytest.approx(20.0 * height.ravel() / 4)
    assert law.angle_deg(20.0 * np.pi) == pytest.approx(180.0)


def test_light_falls_off_by_cosine_to_the_fourth_in_perspective():
    """Cosine fourth law (handbooks of optics): a quarter at 45°."""
    assert Perspective(18.0).falloff(np, np.array([18.0]), np.zeros(1))[0] == pytest.approx(0.25)


@pytest.mark.parametrize("law", [name for name, lens in lenses().items() if lens.get("projection") in ("fisheye", "cylindrical")])  # fmt: skip
def test_light_falls_off_as_the_solid_angle_of_a_little_film(law):
    """By the definition: solid angle over area, found by small steps on the film."""
    lens = Framing(shot_with(focal_length_mm=11.0, **lenses()[law])).law
    at = np.random.default_rng(8).uniform(-14, 14, (50, 2))
    step = 1e-4

    def direction(x, y):
        return np.stack(lens.rays(np, x, y)[2:5], axis=-1)

    across = (direction(at[:, 0] + step, at[:, 1]) - direction(at[:, 0] - step, at[:, 1])) / (2 * step)
    up = (direction(at[:, 0], at[:, 1] + step) - direction(at[:, 0], at[:, 1] - step)) / (2 * step)
    solid = np.linalg.norm(np.cross(across, up), axis=1) * 11.0**2
    assert lens.falloff(np, at[:, 0], at[:, 1]) == pytest.approx(solid, rel=1e-6)


@pytest.mark.parametrize("law", lenses())
def test_the_frame_lies_on_the_film_in_the_same_millimetres_whatever_the_law(law):
    """docs/shot-format.md, *Lens laws*: the window is laid on the film the law draws; the centre stays on the axis."""
    shot = shot_with(**{**lenses()[law], "focal_length_mm": 16.0})
    moved = shot.with_groups(movements=Movements(rise_mm=4.0, cross_mm=-3.0))
    plain, shifted = camera_of(shot), camera_of(moved)
    film = np.array([[-3.0, 2.0], [0.0, 0.0], [5.0, -4.0]])
    for camera, offset in ((plain, [0, 0]), (shifted, [-3.0, 4.0])):
        uv = (film - offset + [18.0, 12.0]) / [36.0, 24.0]
        assert camera.film(uv) == pytest.approx(film)
        rays = camera.rays(uv)
        assert rays.directions[1] == pytest.approx(camera.pose.forward)
        assert camera.places(rays.at(np.full(3, 7.0))).uv == pytest.approx(uv)
