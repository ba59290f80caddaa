"""The same picture by another lens, back or stand; one blur in print, probe, zone and solver; ends that stay ends."""

import re

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.core.kinds import lenses

from zevlo.core.camera.depth_of_field import sharp_in_middle
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.focus.distance import FocusHyperfocal
from zevlo.core.instruments.focus.stacks import StackBetween, stack_distances
from zevlo.core.instruments.focus.stop_solver import EverythingSharp, SharpPoints, SoftWhileSharp
from zevlo.core.instruments.focus.stops import SharpTo
from zevlo.core.instruments.movements.alternatives import EnlargeInstead, TrueFromElsewhere
from zevlo.core.instruments.movements.straightening import Straighten
from zevlo.core.optics.movements import circle_used_mm
from zevlo.core.refused import Refused
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim

NOTHING = WorkingSet(EMPTY)
BLURRING = [law for law in lenses() if law != "parallel"]
PLAIN = ("perspective", "bent")


@st.composite
def shots(draw, law):
    """Of every kind: rolled, also over, shifted, turned, trimmed, enlarged, breathing."""
    small, turn = (
        st.floats(-8, 8),
        st.floats(-4, 4).filter(lambda one: one == 0 or abs(one) > 1e-3) if law in PLAIN else st.just(0.0),
    )
    return Shot(
        stand=Stand(position=(0, 0, 1.5), aim=(draw(st.floats(-1, 1)), 3, draw(st.floats(0.6, 2.4))), roll_deg=draw(st.sampled_from([0, 0, 90, -90, 180, 23]))),
        lens=Lens(**{**lenses()[law], "focal_length_mm": draw(st.floats(30, 120)), "focus_breathing": draw(st.booleans())}),
        back=Back(output_px=(1500, 1000), enlarge=draw(st.floats(1, 3)), trim=Trim(left=draw(st.floats(0, 0.3)), top=draw(st.floats(0, 0.3)))),
        movements=Movements(rise_mm=draw(small), cross_mm=draw(small), tilt_deg=draw(turn), swing_deg=draw(turn), tilt_limit_deg=None),
        focus=Focus(distance_m=draw(st.floats(1.5, 9)), f_number=draw(st.floats(2, 22)), blur_limit={"px": draw(st.floats(1, 6))}),
    )  # fmt: skip


ALL_OVER = np.array([(x, y) for x in (0.02, 0.5, 0.98) for y in (0.02, 0.5, 0.98)])


def blur_px(shot, points):
    probed = shot.with_groups(focus=shot.focus.model_copy(update={"probes": tuple(map(tuple, np.asarray(points)))}))
    sheet = solve(probed).focus
    return np.array([probe.blur_px for probe in sheet.probes]), sheet.blur_limit_px


@pytest.mark.parametrize("law", BLURRING)
@given(data=st.data())
@settings(max_examples=25, deadline=None)
def test_another_lens_or_back_shows_the_same_and_is_sharp_on_the_same(law, data):
    shot = data.draw(shots(law))
    lens = EnlargeInstead(focal_length_mm=shot.lens.focal_length_mm * data.draw(st.floats(0.3, 1)))
    back = FocalKeep(what="angle", width_mm=data.draw(st.floats(10, 90)), height_mm=data.draw(st.floats(30, 90)))
    for gesture in (lens, back):
        try:
            after = gesture.apply(Framing(shot), None)
        except (Refused, ValueError):
            continue
        was, now = camera_of(shot), camera_of(after)
        rays = was.rays(ALL_OVER)
        seen = rays.sees
        places = now.places(rays.at(np.full(len(seen), 4.0))[seen]).uv
        assert places[:, 0] == pytest.approx(ALL_OVER[seen][:, 0], abs=1e-6)
        if now.window.height / now.window.width == pytest.approx(was.window.height / was.window.width):
            assert places == pytest.approx(ALL_OVER[seen], abs=1e-6)
        before, then = (Framing(one).zone for one in (shot, after))
        assert then.focus_per_m == before.focus_per_m
        assert then.lean == pytest.approx(before.lean, abs=1e-9), "its hinge stays"


@given(data=st.data(), back_m=st.floats(0.1, 9), up_m=st.floats(-2, 5))
@settings(max_examples=60, deadline=None)
def test_what_was_sharp_in_the_middle_is_so_from_elsewhere(data, back_m, up_m):
    shot = data.draw(shots("perspective"))
    sharp = sharp_in_middle(Framing(shot))
    assume(sharp is not None)
    for gesture in (TrueFromElsewhere(back_m=back_m), TrueFromElsewhere(up_m=up_m)):
        try:
            after = apply_gesture(shot, gesture, NOTHING)
        except (Refused, ValueError):
            continue
        assert solve(after).movements.uprights == "true"
        blur, limit = blur_px(after, [sharp])
        assert blur[0] < 1e-3 * limit or after.focus.distance_m > 9e3 or after.focus.distance_m < 0.2


@pytest.mark.parametrize("law", ["perspective", "bent", "cylindrical"])
@given(data=st.data(), circle=st.floats(44, 60), rise=st.floats(-15, 25))
@settings(max_examples=40, deadline=None)
def test_every_alternative_can_be_taken_and_ends_within_the_circle(law, data, circle, rise):
    plain = data.draw(shots(law))
    own = plain.movements.model_copy(update={"image_circle_mm": circle, "rise_mm": rise})
    shot = plain.with_groups(movements=own)
    try:
        shot = apply_gesture(shot, Straighten(amount=1.0), NOTHING) if data.draw(st.booleans()) else shot
    except Refused:
        return
    for remedy in solve(shot, NOTHING).movements.alternatives:
        after = apply_gesture(shot, remedy.gesture, NOTHING)
        assert circle_used_mm(camera_of(after).window) <= circle * (1 + 1e-6), remedy.words
        for enlarged in re.findall(r"enlarged ([\d.]+) ×", remedy.words):
            assert after.back.enlarge == pytest.approx(float(enlarged), abs=0.00501), remedy.words


@pytest.mark.parametrize("law", BLURRING)
@given(data=st.data())
@settings(max_examples=25, deadline=None)
def test_what_is_asked_sharp_is_sharp_and_one_stop_wider_it_is_not(law, data):
    shot = data.draw(shots(law))
    rays = camera_of(shot).rays(ALL_OVER)
    assume(rays.sees.all())
    away = data.draw(st.lists(st.floats(1.5, 6), min_size=9, max_size=9))
    points = rays.at(np.array(away))
    try:
        after = SharpPoints(points=tuple(map(tuple, points))).apply(Framing(shot), None)
    except Refused:
        return
    blur, limit = blur_px(after, points)
    assert blur.max() <= limit * (1 + 1e-6)
    n = after.focus.f_number
    assert n == 1.0 or blur.max() < 1e-6 or blur.max() * 2 ** (1 / 6) > limit * (1 - 1e-6)
    soft = SoftWhileSharp(sharp=tuple(points[0]), soft=tuple(points[1]), px=2.0)
    try:
        one = soft.apply(Framing(shot), None)
    except Refused:
        return
    assert 2.0 * (1 - 1e-6) <= blur_px(one, points[1:2])[0][0] <= 2.0 * 2 ** (1 / 6) * (1 + 1e-6)


@pytest.mark.parametrize("law", BLURRING)
@given(data=st.data(), to=st.floats(0.6, 30))
@settings(max_examples=25, deadline=None)
def test_an_end_of_the_zone_is_put_there_and_the_other_stays(law, data, to):
    shot = data.draw(shots(law))
    before = Framing(shot).zone
    for end in ("near", "far"):
        try:
            after = apply_gesture(shot, SharpTo(end=end, distance_m=to), NOTHING)
        except Refused:
            continue
        zone = Framing(after).zone
        moved, stays = ("near_per_m", "far_per_m") if end == "near" else ("far_per_m", "near_per_m")
        assert getattr(zone, moved) == pytest.approx(1 / to, abs=1e-9)
        assert getattr(zone, stays) == pytest.approx(getattr(before, stays), abs=1e-9), "also beyond infinity"


def test_an_end_at_infinity_of_a_picture_that_is_sharp_whatever_the_stop_is():
    """Pixels as large as the pupil: no focus makes anything soft, and none is needed."""
    back = Back(output_px=(7, 3000), fit="width", enlarge=2, trim=Trim(left=0.3))
    coarse = Shot(back=back, lens=Lens(focal_length_mm=50), focus=Focus(distance_m=1e4, f_number=22))
    with pytest.raises(Refused) as short:
        apply_gesture(coarse, SharpTo(end="far", distance_m=1e7), NOTHING)
    assert short.value.nearest.focus.distance_m == pytest.approx(1e7)


@pytest.mark.parametrize("law", BLURRING)
@given(data=st.data(), from_m=st.none() | st.floats(2, 20))
@settings(max_examples=25, deadline=None)
def test_everything_sharp_is_sharp_to_infinity_all_over_the_frame(law, data, from_m):
    shot = data.draw(shots(law))
    corners = np.array([(x, y) for x in (0.0, 0.5, 1.0) for y in (0.0, 0.5, 1.0)])
    rays = camera_of(shot).rays(corners)
    assume(rays.sees.all())
    try:
        after = apply_gesture(shot, EverythingSharp(from_m=from_m), NOTHING)
    except Refused:
        return
    blur, limit = blur_px(after, camera_of(after).rays(corners).at(np.full(9, 3e5)))
    assert blur.max() <= limit * (1 + 1e-4)
    if from_m is None and law == "perspective" and shot.movements == shot.movements.unturned:
        assert after.focus.distance_m == pytest.approx(apply_gesture(shot, FocusHyperfocal(), NOTHING).focus.distance_m)


def test_a_far_hyperfocal_distance_is_one_and_the_same():
    long = Shot(lens=Lens(focal_length_mm=600), focus=Focus(distance_m=50, f_number=2, blur_limit={"mm": 0.01}))
    found = [apply_gesture(long, one, NOTHING).focus.distance_m for one in (FocusHyperfocal(), EverythingSharp())]
    assert found == pytest.approx([18000.6, 18000.6])
    assert solve(long).focus.hyperfocal_m == pytest.approx(18000.6)


def test_a_stack_begins_no_nearer_than_the_lens_focuses_and_says_so():
    macro = Shot(lens=Lens(focal_length_mm=100), focus=Focus(distance_m=0.4, f_number=4))
    with pytest.raises(Refused, match="is sharp no nearer than"):
        apply_gesture(macro, StackBetween(near_m=0.09, far_m=0.2), NOTHING)
    typed = macro.with_groups(focus=Focus(distance_m=0.4, f_number=4, stack={"from_m": 0.05, "to_m": 0.12}))
    assert min(stack_distances(Framing(typed))) >= 0.1 * 1.01 * (1 - 1e-9)
    assert "Nearer than 0.10 m the lens is sharp in none" in solve(typed).focus.stack_words
    # A limit wider than the pupil: nothing is ever drawn softer, one picture does.
    coarse = Shot(
        lens=Lens(focal_length_mm=20),
        focus=Focus(f_number=64, blur_limit={"mm": 0.5}, stack={"from_m": 0.5, "to_m": 50}),
    )
    assert len(stack_distances(Framing(coarse))) == 1
