"""Our cameras against other people's: OpenUSD, glTF 2.0, scipy, lens tables."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Gf
from scipy.spatial.transform import Rotation

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.framing.solve import solve
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.lens import angle_deg, focal_length_for
from zevlo.core.shot import Back, Lens, Movements, Shot, Stand
from zevlo.core.stand.pose import resolve, view_matrix


@pytest.mark.parametrize(
    ("f", "wide", "high", "diagonal"),
    [
        (24, 73.74, 53.13, 84.06),
        (28, 65.47, 46.40, 75.38),
        (35, 54.43, 37.85, 63.44),
        (50, 39.60, 26.99, 46.79),
        (85, 23.91, 16.07, 28.56),
    ],
)
def test_angles_of_view_in_lens_tables(f, wide, high, diagonal):
    """Standard lens tables for 36 × 24 (as printed in lens makers' data sheets; from memory)."""
    assert angle_deg(36, f) == pytest.approx(wide, abs=6e-3)
    assert angle_deg(24, f) == pytest.approx(high, abs=6e-3)
    assert angle_deg(43.26661, f) == pytest.approx(diagonal, abs=6e-3)
    assert focal_length_for(wide, 36) == pytest.approx(f, rel=3e-4), "a table is exact to half its last digit"


@settings(max_examples=60, deadline=None)
@given(
    f=st.floats(12, 200), rise=st.floats(-12, 12), cross=st.floats(-12, 12), px=st.floats(-20, 20),
    heading=st.floats(0.1, 6.2), pitch=st.floats(-1.2, 1.2), roll=st.floats(-170, 170),
)  # fmt: skip
def test_openusd_gf_camera_agrees(f, rise, cross, px, heading, pitch, roll):
    """OpenUSD Gf.Camera: aperture and offsets in tenths of a world unit; row vectors; view and projection."""
    direction = np.array([np.sin(heading) * np.cos(pitch), np.cos(heading) * np.cos(pitch), np.sin(pitch)])
    position = np.array([px, 2.0, 1.5])
    shot = Shot(
        stand=Stand(position=tuple(position), aim=tuple(position + 3 * direction), roll_deg=roll),
        lens=Lens(focal_length_mm=f, near_m=0.1, far_m=100.0),
        back=Back(output_px=(1500, 1000)),
        movements=Movements(rise_mm=rise, cross_mm=cross),
    )
    sheet = solve(shot)
    usd = Gf.Camera()
    usd.focalLength, usd.horizontalAperture, usd.verticalAperture = f, *fit_back(shot.back).size_mm
    usd.horizontalApertureOffset, usd.verticalApertureOffset = cross, rise
    usd.clippingRange = Gf.Range1f(0.1, 100.0)
    pose = resolve(shot.stand)
    world = np.eye(4)
    world[0, :3], world[1, :3], world[2, :3], world[3, :3] = pose.right, pose.up, -pose.forward, pose.position
    usd.transform = Gf.Matrix4d(*world.ravel().tolist())
    frustum = usd.frustum
    projection = np.array(frustum.ComputeProjectionMatrix()).T
    view = np.array(frustum.ComputeViewMatrix()).T
    assert np.array(sheet.pose.view).reshape(4, 4) == pytest.approx(view, abs=1e-5)
    assert np.array(sheet.lens.projection).reshape(4, 4) == pytest.approx(projection, rel=2e-5, abs=2e-5)
    assert usd.GetFieldOfView(Gf.Camera.FOVHorizontal) == pytest.approx(sheet.lens.angle_deg.horizontal, rel=1e-5)


@settings(max_examples=60, deadline=None)
@given(
    wide=st.floats(0.05, 200), rise=st.floats(-12, 12), cross=st.floats(-12, 12), enlarge=st.floats(1, 5),
    trim=st.tuples(*[st.floats(0, 0.4)] * 4),
)  # fmt: skip
def test_openusd_orthographic_camera_agrees(wide, rise, cross, enlarge, trim):
    """OpenUSD Gf.Camera, orthographic: apertures and offsets in tenths of a world unit are lengths in the world."""
    shot = Shot(
        lens=Lens(projection="parallel", scale_m=wide, near_m=0.1, far_m=100.0),
        back=Back(
            output_px=(1500, 1000),
            enlarge=enlarge,
            trim=dict(zip(("left", "right", "top", "bottom"), trim, strict=True)),
        ),
        movements=Movements(rise_mm=rise, cross_mm=cross),
    )
    window, metres = solve(shot).lens.window_mm, wide / 36.0
    usd = Gf.Camera(projection=Gf.Camera.Orthographic)
    usd.horizontalAperture, usd.verticalAperture = (
        size * metres / Gf.Camera.APERTURE_UNIT for size in (window.right - window.left, window.top - window.bottom)
    )
    usd.horizontalApertureOffset, usd.verticalApertureOffset = (
        sum(ends) / 2 * metres / Gf.Camera.APERTURE_UNIT
        for ends in ((window.left, window.right), (window.bottom, window.top))
    )
    usd.clippingRange = Gf.Range1f(0.1, 100.0)
    projection = np.array(usd.frustum.ComputeProjectionMatrix()).T
    assert np.array(solve(shot).lens.projection).reshape(4, 4) == pytest.approx(projection, rel=2e-5, abs=2e-5)


def test_gltf_projection_matrix():
    """glTF 2.0, 3.10.3.1: infinite and finite perspective from yfov and aspect ratio."""
    shot = Shot(lens=Lens(focal_length_mm=35, near_m=0.2), back=Back(output_px=(3000, 2000)))
    yfov, aspect, n = np.radians(solve(shot).lens.angle_deg.vertical), 1.5, 0.2
    camera = camera_of(shot)
    infinite = np.array([[1 / (aspect * np.tan(yfov / 2)), 0, 0, 0], [0, 1 / np.tan(yfov / 2), 0, 0], [0, 0, -1, -2 * n], [0, 0, -1, 0]])  # fmt: skip
    assert camera.matrix() == pytest.approx(infinite)
    f = 50.0
    finite = infinite.copy()
    finite[2, 2:] = [(f + n) / (n - f), 2 * f * n / (n - f)]
    assert replace(camera, far_m=f).matrix() == pytest.approx(finite)


@given(heading=st.floats(0, 359), pitch=st.floats(-80, 80), roll=st.floats(-180, 180))
def test_axes_are_scipys_rotations(heading, pitch, roll):
    """scipy.spatial.transform: heading about -Z, pitch about the right axis, roll about the lens axis."""
    direction = Rotation.from_euler("z", -heading, degrees=True) * Rotation.from_euler("x", pitch, degrees=True)
    forward = direction.apply([0, 1, 0])
    pose = resolve(Stand(position=(0, 0, 0), aim=tuple(forward), roll_deg=roll))
    rolled = direction * Rotation.from_euler("y", roll, degrees=True)
    assert pose.right == pytest.approx(rolled.apply([1, 0, 0]), abs=1e-7)
    assert pose.up == pytest.approx(rolled.apply([0, 0, 1]), abs=1e-7)
    assert view_matrix(pose)[:3, :3] @ forward == pytest.approx([0, 0, -1], abs=1e-7)


def test_a_level_camera_with_rise_keeps_uprights_upright():
    """Common practice, no source: what a shift lens is for."""
    for pitch, rise, leans in ((0.0, 8.0, False), (0.3, 0.0, True)):
        stand = Stand(position=(0, 0, 1.6), aim=(0, float(np.cos(pitch)), 1.6 + float(np.sin(pitch))))
        sheet = solve(Shot(stand=stand, lens=Lens(focal_length_mm=24), movements=Movements(rise_mm=rise)))
        both = np.array(sheet.lens.projection).reshape(4, 4) @ np.array(sheet.pose.view).reshape(4, 4)
        foot, head = both @ [2, 10, 0, 1], both @ [2, 10, 8, 1]
        assert (abs(foot[0] / foot[3] - head[0] / head[3]) > 0.02) == leans
        assert (abs(sheet.movements.lean_deg) > 1) == leans


def test_longer_lens_is_narrower_and_flatter_in_depth():
    """Common practice, no source: 35 to 55 mm on 36 mm counts as standard, 45° is a common starting angle."""
    angles = [solve(Shot(lens=Lens(focal_length_mm=f))).lens.angle_deg.horizontal for f in (24, 35, 50, 85)]
    assert angles == sorted(angles, reverse=True)
    assert angle_deg(36, 55) < 45 < angle_deg(36, 35)
