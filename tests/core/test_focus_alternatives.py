"""Where no stop does it: the alternatives, each of which really gets sharp what was wanted."""

import numpy as np
import pytest
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.apply import alternatives_to, apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus.alternatives import SharpAnyhow
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.instruments.focus.stop_solver import PartSharp, SharpBetween, SharpPoints, middle_per_m
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim

BOARD = slab((-0.3, 0.4, -0.02), (0.3, 1.6, 0.0))
WORKING = WorkingSet(set_of(BOARD))
CLOSE = Shot(
    stand=Stand(position=(0, 0, 0.5), aim=(0, 0.9, 0.0)), lens=Lens(focal_length_mm=90, near_m=0.01), back=Back(output_px=(3000, 2000)),
    focus=Focus(distance_m=1.0, f_number=8), movements=Movements(tilt_limit_deg=20),
)  # fmt: skip


def short_of(shot, gesture):
    with pytest.raises(Refused) as refused:
        apply_gesture(shot, gesture, WORKING)
    return refused.value


def remedies(shot, gesture):
    return {remedy.words.split()[1]: remedy for remedy in alternatives_to(shot, short_of(shot, gesture), WORKING)}


def worst(shot, points):
    """The most a shot blurs any of some points, beside what counts as sharp."""
    probed = shot.with_groups(focus=shot.focus.model_copy(update={"probes": tuple(map(tuple, points))}))
    sheet = solve(probed).focus
    return max(probe.blur_px for probe in sheet.probes) / sheet.blur_limit_px


POINTS = ((0, 0.7, 0.1), (0, 1.2, 0.0), (0.2, 0.8, 0.05))
OF_A_KIND = {
    "plain": {}, "tilted": {"movements": Movements(tilt_deg=1.2, swing_deg=-0.6, tilt_limit_deg=None)},
    "risen": {"movements": Movements(rise_mm=6, cross_mm=-4)}, "enlarged": {"back": Back(enlarge=1.6, trim=Trim(left=0.2))},
    "risen and tilted": {"movements": Movements(rise_mm=-5, tilt_deg=1.5, tilt_limit_deg=None), "back": Back(enlarge=1.3)},
    "breathing": {"lens": Lens(focal_length_mm=90, focus_breathing=True)},
    "breathing and tilted": {"lens": Lens(focal_length_mm=90, focus_breathing=True), "movements": Movements(tilt_deg=1.0, tilt_limit_deg=None)},
    **{law: {"lens": Lens(**{**lenses()[law], "focal_length_mm": 90})} for law in lenses() if law not in ("perspective", "parallel")},
}  # fmt: skip


@pytest.mark.parametrize("kind", OF_A_KIND)
@pytest.mark.parametrize(
    "gesture", [SharpBetween(near_m=0.8, far_m=1.25), SharpPoints(points=POINTS)], ids=["between", "points"]
)
def test_every_remedy_gets_sharp_what_was_wanted_and_keeps_the_picture(gesture, kind):
    before = CLOSE.with_groups(**OF_A_KIND[kind])
    short = short_of(before, gesture)
    found = alternatives_to(before, short, WORKING)
    assert {"back", "stand"} <= {remedy.words.split()[1] for remedy in found}
    axis = np.array([CLOSE.stand.aim]) - [CLOSE.stand.position]
    axis = axis / np.linalg.norm(axis)
    ends = np.array([0.8, 1.25])[:, None] * axis + CLOSE.stand.position
    wanted = short.asked.points if short.asked.points is not None else ends
    assert worst(short.nearest, wanted) > 1.01
    for remedy in found:
        # As it is pressed: on what the change that fell short left.
        for start in (short.nearest,) if before.lens.focus_breathing else (short.nearest, before):
            made = apply_gesture(start, remedy.gesture, WORKING)
            if remedy.gesture.stacked_at:
                frames = frames_of(Framing(made))
                assert f"{len(frames)} pictures" in remedy.cost
                shown = [point for point in wanted if camera_of(made).places(np.array([point])).in_frame[0]]
                assert all(min(worst(frame, [point]) for frame in frames) <= 1 + 1e-6 for point in shown)
                continue
            assert worst(made, wanted) <= 1 + 1e-6, remedy.words
            assert made.focus.f_number <= 64 * 1.001
            if remedy.gesture.tilted:
                continue
            # In the middle is what was in the middle, and as large: where what is wanted lies, or anywhere.
            was, now = camera_of(start), camera_of(made)
            rays = was.rays(np.array([(0.5, 0.5), (0.6, 0.5), (0.5, 0.4)]))
            focus = middle_per_m(*short.asked.to_reach(Framing(start)))[0]
            places = now.places(rays.at(was.distances(rays, np.full(3, 1 / focus)))).uv
            # Bent lines do not bend alike elsewhere.
            close = 1e-4 if not was.law.straight and remedy.gesture.farther_m else 1e-9
            assert places == pytest.approx(np.array([(0.5, 0.5), (0.6, 0.5), (0.5, 0.4)]), abs=close)
            assert places[0] == pytest.approx([0.5, 0.5], abs=1e-9)


def test_a_smaller_back_sees_the_same_and_is_the_largest_that_does():
    asked = SharpBetween(near_m=0.8, far_m=1.1)
    remedy = remedies(CLOSE, asked)["back"]
    made = apply_gesture(CLOSE, remedy.gesture, WORKING)
    before, after = (solve(one).lens.angle_deg.horizontal for one in (CLOSE, made))
    assert after == pytest.approx(before, rel=1e-9)
    assert (made.back.width_mm, made.back.height_mm) == (23.6, 15.7)
    upright = CLOSE.with_groups(back=Back(width_mm=24, height_mm=36, output_px=(2000, 3000)))
    assert remedies(upright, asked)["back"].gesture.back_mm == (15.7, 23.6)


def test_a_stand_farther_back_is_no_farther_than_it_takes_and_draws_as_large():
    asked = SharpBetween(near_m=0.8, far_m=1.1)
    remedy = remedies(CLOSE, asked)["stand"]
    made = apply_gesture(CLOSE, remedy.gesture, WORKING)
    gone = np.linalg.norm(np.array(made.stand.position) - CLOSE.stand.position)
    assert gone == pytest.approx(remedy.gesture.farther_m)
    subject = 2 / (1 / 0.8 + 1 / 1.1)
    assert made.back.enlarge == pytest.approx((subject + gone) / subject)
    nearer = remedy.gesture.model_copy(update={"farther_m": 0.85 * gone})
    with pytest.raises(Refused):
        apply_gesture(CLOSE, nearer, WORKING)


def test_a_table_top_is_got_by_tilt_with_a_wide_stop_and_no_tilt_is_offered_beyond_what_the_lens_turns():
    board = PartSharp(part=WORKING.model.ids[0])
    flat = CLOSE.with_groups(movements=Movements(tilt_limit_deg=30))
    remedy = remedies(flat, board)["lens"]
    made = apply_gesture(flat, remedy.gesture, WORKING)
    assert remedy.words == f"The lens tilted {made.movements.tilt_deg:.1f}°"
    assert made.focus.f_number <= 20
    assert worst(made, [(x, y, z) for x in (-0.3, 0.3) for y in (0.4, 1.6) for z in (-0.02, 0.0)]) <= 1 + 1e-6
    stiff = CLOSE.with_groups(movements=Movements(tilt_limit_deg=1))
    assert "lens" not in remedies(stiff, board)
    assert "lens" not in remedies(CLOSE, SharpBetween(near_m=0.8, far_m=1.25)), "distances alone lie in no plane"


def test_an_upright_wall_that_goes_away_is_got_by_swing():
    wall = tuple((0.1 + 0.35 * (y - 0.6), y, z) for y in (0.9, 1.6) for z in (0.1, 0.6))
    shot = CLOSE.with_groups(
        stand=Stand(position=(0, 0, 0.35), aim=(0.3, 1.4, 0.35)), movements=Movements(tilt_limit_deg=30)
    )
    remedy = remedies(shot, SharpPoints(points=wall))["lens"]
    assert remedy.words.startswith("The lens swung")
    assert worst(apply_gesture(shot, remedy.gesture, WORKING), wall) <= 1 + 1e-6


def test_remedies_come_one_by_one_and_nothing_else_has_any():
    with pytest.raises(Refused, match="exactly one"):
        apply_gesture(CLOSE, SharpAnyhow(near_m=1, far_m=2), WORKING)
    with pytest.raises(Refused, match="exactly one"):
        apply_gesture(CLOSE, SharpAnyhow(near_m=1, far_m=2, stacked_at=8, farther_m=1), WORKING)
    assert alternatives_to(CLOSE, Refused("Not so."), WORKING) == []
    breathing = CLOSE.with_groups(lens=Lens(focal_length_mm=90, focus_breathing=True))
    assert "stack" not in remedies(breathing, SharpBetween(near_m=0.8, far_m=1.25))


def test_no_more_is_promised_than_there_is():
    """All of a base of 40 cm, from close by: too much for any of the ways."""
    close = CLOSE.with_groups(stand=Stand(position=(0, -0.3, 0.14), aim=(0, 0, 0.02)))
    short = short_of(close, SharpBetween(near_m=0.14, far_m=0.6))
    assert alternatives_to(close, short, WORKING) == []
    assert "may get it sharp" in str(short)
    assert "e+" not in str(short), "a stop nobody has is still a plain number"
