"""Where points of the world land in a picture, asked through the sheet's probes, against libraries that know cameras."""

import numpy as np
import pytest
from pxr import Gf

from zevlo.core.framing.solve import solve
from zevlo.core.optics.back import fit_back
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim
from zevlo.core.stand.pose import resolve

MANY = 10_000
EACH = 250


def _shot(rng, parallel):
    heading, pitch = rng.uniform(0, 2 * np.pi), rng.uniform(-1.4, 1.4)
    direction = np.array([np.sin(heading) * np.cos(pitch), np.cos(heading) * np.cos(pitch), np.sin(pitch)])
    position = rng.uniform(-30, 30, 3)
    far = float(rng.uniform(5, 60)) if rng.random() < 0.5 else None
    lens = {"near_m": float(rng.uniform(0.05, 1)), "far_m": far, "focal_length_mm": float(rng.uniform(14, 200))}
    if parallel:
        lens |= {"projection": "parallel", "scale_m": float(rng.uniform(0.2, 40))}
    left, right, top, bottom = (float(share) for share in rng.uniform(0, 0.45, 4))
    return Shot(
        stand=Stand(
            position=tuple(position), aim=tuple(position + 4 * direction), roll_deg=float(rng.uniform(-180, 180))
        ),
        lens=Lens(**lens),
        back=Back(
            output_px=(1500, 1000),
            fit=str(rng.choice(["inside", "width", "height"])),
            enlarge=float(rng.uniform(1, 5)),
            trim=Trim(left=left, right=right, top=top, bottom=bottom),
        ),
        movements=Movements(rise_mm=float(rng.uniform(-15, 15)), cross_mm=float(rng.uniform(-15, 15))),
        focus=Focus(distance_m=5.0),
    )


def _window(shot):
    """Left, bottom, right and top in the plane a metre away in perspective, in the world in parallel."""
    cut, moved = fit_back(shot.back), shot.movements
    edges = np.array(
        [cut.left + moved.cross_mm, cut.bottom + moved.rise_mm, cut.right + moved.cross_mm, cut.top + moved.rise_mm]
    )
    if shot.lens.projection == "parallel":
        return edges * shot.lens.scale_m / (cut.whole_mm[0] * shot.back.enlarge)
    return edges / shot.lens.focal_length_mm


def _frustum(shot, far):
    """OpenUSD Gf.Frustum: its window lies in its reference plane."""
    pose, edges = resolve(shot.stand), _window(shot)
    frustum = Gf.Frustum()
    frustum.projectionType = Gf.Frustum.Orthographic if shot.lens.projection == "parallel" else Gf.Frustum.Perspective
    frustum.window = Gf.Range2d(Gf.Vec2d(*edges[:2]), Gf.Vec2d(*edges[2:]))
    frustum.nearFar = Gf.Range1d(shot.lens.near_m, far)
    world = np.eye(4)
    world[0, :3], world[1, :3], world[2, :3], world[3, :3] = pose.right, pose.up, -pose.forward, pose.position
    frustum.SetPositionAndRotationFromMatrix(Gf.Matrix4d(*world.ravel().tolist()))
    return frustum


@pytest.mark.parametrize("parallel", [False, True], ids=["perspective", "parallel"])
def test_ten_thousand_probes_land_where_openusd_says(parallel):
    """OpenUSD Gf.Frustum, over shifts, trim, enlarge, roll and all cuts: to a ten-thousandth of a pixel."""
    rng = np.random.default_rng(11 + parallel)
    within = 0
    for _ in range(MANY // EACH // 2):
        shot = _shot(rng, parallel)
        pose = resolve(shot.stand)
        depth = rng.uniform(0.02, 70, EACH)
        low, high = _window(shot).reshape(2, 2)
        across = low + rng.uniform(-0.5, 1.5, (EACH, 2)) * (high - low)
        across *= 1.0 if parallel else depth[:, None]
        points = pose.position + depth[:, None] * pose.forward + across[:, :1] * pose.right + across[:, 1:] * pose.up
        probed = Shot.model_validate({**shot.as_json(), "focus": {"distance_m": 5.0, "probes": points.tolist()}})
        sheet = solve(probed).focus.probes
        far = shot.lens.far_m or 1000.0
        frustum = _frustum(shot, far)
        both = frustum.ComputeViewMatrix() * frustum.ComputeProjectionMatrix()
        size = np.array(fit_back(shot.back).output_px)
        for probe, point in zip(sheet, points, strict=True):
            ndc = np.array(both.Transform(Gf.Vec3d(*point.tolist())))
            assert np.abs((np.array(probe.at) - (ndc[:2] + 1) / 2) * size).max() < 1e-4 * max(1, np.abs(ndc).max())
            if np.abs(np.abs(ndc) - 1).min() > 1e-6:
                assert probe.in_frame == bool((np.abs(ndc) < 1).all())
            within += probe.in_frame
        assert [probe.depth_m for probe in sheet] == pytest.approx(depth, abs=1e-9)
    assert within > MANY / 20


def test_what_lies_behind_the_lens_has_no_place():
    (probe,) = solve(Shot(focus=Focus(probes=[(0, -1, 1.6)]))).focus.probes
    assert (probe.at, probe.in_frame, probe.blur_px, probe.sharp) == (None, False, None, False)
    assert probe.depth_m == pytest.approx(-1.0)


def test_probes_are_sharp_exactly_within_the_sharp_zone():
    """Its ends are those of the depth of field tables the zone itself is checked against."""
    shot = Shot(focus=Focus(distance_m=3.0, f_number=5.6))
    zone = solve(shot).focus
    places = [(0, depth, 1.6) for depth in (zone.sharp_from_m * 0.999, zone.sharp_from_m * 1.001, 3.0, zone.sharp_to_m * 0.999, zone.sharp_to_m * 1.001)]  # fmt: skip
    sheet = solve(shot.with_groups(focus=shot.focus.model_copy(update={"probes": tuple(places)}))).focus.probes
    assert [probe.sharp for probe in sheet] == [False, True, True, True, False]
    assert [probe.blur_px for probe in sheet] == pytest.approx([1.5, 1.5, 0.0, 1.5, 1.5], abs=0.02)
    all_sharp = Shot(lens=Lens(projection="parallel", scale_m=2.0), focus=Focus(probes=tuple(places)))
    assert all(probe.sharp and probe.blur_px == 0.0 for probe in solve(all_sharp).focus.probes)
