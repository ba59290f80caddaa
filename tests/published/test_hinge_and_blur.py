"""A tilted lens against its hinge tables, and against rays traced through a thin lens from its equation alone."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.solve import solve
from zevlo.core.optics.back import fit_back
from zevlo.core.shot import Focus, Lens, Movements, Shot


@pytest.mark.parametrize(("focal", "tilt", "hinge"), [(150, 5, 1.721), (24, 2, 0.688), (90, 8, 0.647), (210, 3, 4.013)])
def test_hinge_distances(focal, tilt, hinge):
    """J = f / sin α. Merklinger, Focusing the View Camera (1993), from memory."""
    sheet = solve(Shot(lens=Lens(focal_length_mm=focal), movements=Movements(tilt_deg=tilt))).movements
    assert sheet.hinge_m == pytest.approx(hinge, abs=6e-4)
    assert sheet.hinge_up_m == pytest.approx(-hinge, abs=6e-4)
    assert sheet.hinge_right_m is None


def test_the_three_planes_of_scheimpflug_meet_in_one_line():
    """Film, lens and focus plane meet (Scheimpflug's patent GB 1196/1904, from memory): v behind the lens the film, the
    lens plane at its angle, the focus plane through the sharp distance."""
    f, tilt, u = 90.0, 6.0, 1500.0
    alpha = np.radians(tilt)
    v = f * u / (u * np.cos(alpha) - f)
    # In the plane of tilt: along the axis of the camera x, up y. The lens plane: x cos α - y sin α = 0.
    meets = np.array([-v, -v * np.cos(alpha) / np.sin(alpha)])
    sheet = solve(
        Shot(lens=Lens(focal_length_mm=f), movements=Movements(tilt_deg=tilt), focus=Focus(distance_m=u / 1000))
    )
    hinge = np.array([0.0, sheet.movements.hinge_up_m * 1000])
    across = np.array([u, 0.0]) - hinge
    off = meets - hinge
    assert abs(across[0] * off[1] - across[1] * off[0]) / np.linalg.norm(across) == pytest.approx(0, abs=1e-6)


def traced_blur_mm(shot, point_mm, rays=400):
    """Across the spot on film of rays from a point through the rim of the pupil, by the thin lens equation alone."""
    own, f = shot.movements, shot.lens.focal_length_mm
    a, b = np.radians(own.tilt_deg), np.radians(own.swing_deg)
    tilt = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    swing = np.array([[np.cos(b), 0, -np.sin(b)], [0, 1, 0], [np.sin(b), 0, np.cos(b)]])
    right, up, axis = (swing @ tilt).T
    depth = point_mm @ axis
    image = -point_mm * f / (depth - f)
    turn = np.linspace(0, 2 * np.pi, rays, endpoint=False)
    rim = f / shot.focus.f_number / 2 * (np.cos(turn)[:, None] * right + np.sin(turn)[:, None] * up)
    u = shot.focus.distance_m * 1000
    film = -f * u / (u * axis[2] - f)
    directions = image - rim
    spot = (rim + ((film - rim[:, 2]) / directions[:, 2])[:, None] * directions)[:, :2]
    return np.mean([np.ptp(spot @ [np.cos(t), np.sin(t)]) for t in np.linspace(0, np.pi, 16, endpoint=False)])


@settings(max_examples=200, deadline=None)
@given(
    st.floats(24, 150), st.floats(-8, 8), st.floats(-8, 8), st.floats(2.8, 16), st.floats(0.8, 8),
    st.floats(-0.3, 0.3), st.floats(-0.25, 0.25), st.floats(0.6, 12),
)  # fmt: skip
def test_blur_is_that_of_rays_through_a_thin_lens(focal, tilt, swing, stop, distance, across, up, depth):
    shot = Shot(
        lens=Lens(focal_length_mm=focal), movements=Movements(tilt_deg=tilt, swing_deg=swing),
        focus=Focus(distance_m=distance, f_number=stop),
    )  # fmt: skip
    cut = fit_back(shot.back)
    found = Framing(shot).blur_law.px(np.array([[across, up, 1.0]]), np.array([depth]))[0] * cut.pixel_mm
    traced = traced_blur_mm(shot, 1000 * depth * np.array([across, up, 1.0]))
    assume(traced > 0.003)
    assert found == pytest.approx(traced, rel=0.1)


def test_without_tilt_blur_is_that_of_rays_to_the_last_digits():
    for depth in (0.9, 2.0, 7.5):
        shot = Shot(lens=Lens(focal_length_mm=85), focus=Focus(distance_m=3, f_number=4))
        cut = fit_back(shot.back)
        found = Framing(shot).blur_law.px(np.array([[0.0, 0.0, 1.0]]), np.array([depth]))[0] * cut.pixel_mm
        assert found == pytest.approx(traced_blur_mm(shot, np.array([0, 0, 1000 * depth])), rel=1e-3)
