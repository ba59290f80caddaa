"""Bent lines and darker corners: what is typed is what is told, and the light is what gets through."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.kinds import lenses
from tests.core.test_any_gesture import WORKING

from zevlo.core.camera.from_shot import camera_of, corner_mm
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.lens import LENS
from zevlo.core.instruments.lens.angle import AngleTo
from zevlo.core.instruments.lens.character import BendTo
from zevlo.core.optics.aperture import mechanical_edge
from zevlo.core.optics.falloff import Corners, rim_shift
from zevlo.core.refused import Refused
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Trim
from zevlo.core.shot.lens import Falloff


@settings(max_examples=80, deadline=None)
@given(
    bent=st.floats(-0.25, 1.0), focal=st.floats(12, 400), ratio=st.sampled_from([(1500, 1000), (900, 1600)]),
    breathes=st.booleans(), enlarge=st.floats(1, 3),
)  # fmt: skip
def test_a_typed_bend_is_how_far_the_corner_moves(bent, focal, ratio, breathes, enlarge):
    shot = Shot(
        lens=Lens(focal_length_mm=focal, focus_breathing=breathes), focus=Focus(distance_m=4.0),
        back=Back(output_px=ratio, enlarge=enlarge, trim=Trim(left=0.1)), movements=Movements(rise_mm=3),
    )  # fmt: skip
    found = apply_gesture(shot, BendTo(corner=bent), WORKING)
    assert solve(found).lens.bent == pytest.approx(bent, abs=1e-7)
    # What a plain lens draws at r comes to the corner of the cut back, measured from the lens axis.
    plain, bowed = camera_of(shot).law, camera_of(found).law
    _, _, across, up, ahead, _ = plain.rays(np, np.array([corner_mm(shot) / (1 + bent)]), np.zeros(1))
    x, y, seen = bowed.film(np, across, up, ahead)
    assert seen.all()
    assert (x[0], y[0]) == pytest.approx((corner_mm(shot), 0.0), rel=1e-7)
    assert apply_gesture(found, BendTo(corner=0.0), WORKING).lens.distortion.none


def test_only_perspective_can_be_bent():
    for name, lens in lenses().items():
        shot = Shot(lens=lens)
        if lens.get("projection", "perspective") == "perspective":
            apply_gesture(shot, BendTo(corner=0.05), WORKING)
            continue
        with pytest.raises(Refused, match="Only a picture in perspective"):
            apply_gesture(shot, BendTo(corner=0.05), WORKING)
        with pytest.raises(ValueError, match="distortion belongs to perspective"):
            Shot.model_validate({"lens": {**lens, "distortion": {"k1": 0.1}}}), name


@pytest.mark.parametrize("law", [law for law in lenses() if law != "parallel"])
@pytest.mark.parametrize(("side", "given"), [("across", "horizontal"), ("upright", "vertical"), ("corner", "diagonal")])
def test_each_angle_can_be_asked_for(law, side, given):
    shot = Shot(lens=lenses()[law], back=Back(output_px=(1000, 1300)), focus=Focus(distance_m=9))
    for angle in (20.0, 61.5, 100.0):
        found = apply_gesture(shot, AngleTo(side=side, angle_deg=angle), WORKING)
        got = getattr(solve(found).lens.angle_deg, given)
        assert got == pytest.approx(angle, rel=1e-6)


@pytest.mark.parametrize("hidden", [0.0, 0.2, 0.61, 1.0])
def test_the_rim_hides_what_was_said_of_the_pupil_at_the_corner(hidden):
    corners = Corners(natural=False, shift=rim_shift(hidden), corner_mm=20.0, pupil=1.0)
    law = camera_of(Shot()).law
    assert corners.light(np, law, np.array([12.0]), np.array([16.0]))[0] == pytest.approx(1.0 - hidden, abs=1e-6)


@pytest.mark.parametrize("pupil", [1.0, 0.7, 0.25])
@pytest.mark.parametrize("hidden", [0.3, 0.8])
def test_the_light_is_the_share_of_rays_that_get_through(hidden, pupil):
    corners = Corners(natural=False, shift=rim_shift(hidden), corner_mm=20.0, pupil=pupil)
    law, rng = camera_of(Shot()).law, np.random.default_rng(2)
    turn, out = rng.uniform(0, 2 * np.pi, 40_000), np.sqrt(rng.uniform(0, 1, 40_000))
    for x, y in ((0.0, 0.0), (6.0, -4.0), (-12.0, 9.0), (12.0, 16.0)):
        through = mechanical_edge(corners).clear(np, x, y, out * np.cos(turn), out * np.sin(turn))
        share = corners.light(np, law, np.array([x]), np.array([y]))[0]
        assert share == pytest.approx(through.mean(), abs=0.01)
    assert corners.light(np, law, np.zeros(1), np.zeros(1))[0] == 1.0


def test_stopped_down_the_rim_is_gone_and_the_law_stays():
    def corner(f_number, **falloff):
        shot = Shot(lens=Lens(focal_length_mm=24, falloff=Falloff(**falloff)), focus=Focus(f_number=f_number))
        return solve(shot).lens.corner_light

    assert corner(2.8, mechanical=0.5) == pytest.approx(0.5, abs=0.02), "16:9 out of 36 × 24: its own corner"
    assert corner(1.4, mechanical=0.5) == pytest.approx(corner(2.8, mechanical=0.5)), "no wider than wide open"
    assert 0.5 < corner(4.0, mechanical=0.5) < corner(5.6, mechanical=0.5) <= 1.0
    assert corner(16.0, mechanical=0.5) == 1.0
    assert corner(None, mechanical=0.5) == 1.0, "a pinhole has no rim"
    natural = corner(16.0, natural=True)
    assert natural == pytest.approx(np.cos(np.arctan(np.hypot(18, 10.125) / 24)) ** 4)
    assert corner(16.0, natural=True, mechanical=0.5) == pytest.approx(natural)
    assert solve(Shot()).lens.shade is None


def test_a_small_picture_is_another_one_where_the_stop_changes_its_corners():
    def key(f_number, **falloff):
        shot = Shot(lens=Lens(falloff=Falloff(**falloff)), focus=Focus(f_number=f_number))
        return LENS.staleness_key(shot)

    assert key(2.8, mechanical=0.5) != key(5.6, mechanical=0.5)
    assert key(2.8) == key(5.6)
    assert key(2.8, natural=True) != key(2.8)
