"""Gestures: what a hand does to a shot, and what stays while it does."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.conftest import set_of, slab

from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.constraints.follow_focus import refocused
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.new_shot import new_shot_from_scout, new_shot_in_plan
from zevlo.core.framing.placing_habits import Habits
from zevlo.core.framing.scout import SCOUT_FRAME_SHARE, Scout, scout_view
from zevlo.core.framing.solve import section_beyond, solve
from zevlo.core.instruments.exposure.gestures import Meter
from zevlo.core.instruments.focus import (
    FocusAt,
    FocusOnBarrel,
    FocusOnPaper,
    FollowFocusPart,
    SharpOnPaper,
    StopTo,
)
from zevlo.core.instruments.lens.angle import AngleTo
from zevlo.core.instruments.lens.character import BendTo
from zevlo.core.instruments.lens.views import ScaleTo
from zevlo.core.instruments.movements.straightening import Straighten
from zevlo.core.instruments.opening.clips import BoundOnPaper
from zevlo.core.instruments.stand.looking import Look, Walk
from zevlo.core.instruments.stand.placing import AimTo, Face, HeightTo
from zevlo.core.light.setup import LightSetup
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import light_set
from zevlo.core.scene.model.set_model import Material
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Exposure, Focus, FollowAim, Lens, Movements, Shot, Stand
from zevlo.core.stand.pose import resolve

GREY = Material("Grey card", (0.18, 0.18, 0.18))
STEP = slab((0, -5, 0), (10, 5, 0.5))
WALL = slab((-5, 6, 0), (5, 6.3, 3))
WORKING = WorkingSet(set_of(slab((-10, -10, -1), (10, 10, 0)), STEP, WALL, materials=(GREY,)))
SHOT = Shot(stand=Stand(position=(-2, 0, 1.6), aim=(-2, 4, 1.6)), focus=Focus(distance_m=4, f_number=5.6))


def test_heights():
    raised = apply_gesture(SHOT, HeightTo(above_floor=1.2), WORKING)
    assert raised.stand.position[2] == pytest.approx(1.2, abs=1e-4)
    assert resolve(raised.stand).forward == pytest.approx(resolve(SHOT.stand).forward)
    assert apply_gesture(SHOT, HeightTo(z=3.0), WORKING).stand.position[2] == 3.0
    nowhere = SHOT.model_copy(update={"stand": Stand(position=(40, 0, 1), aim=(41, 0, 1))})
    with pytest.raises(Refused, match="no floor"):
        apply_gesture(nowhere, HeightTo(above_floor=1), WORKING)
    with pytest.raises(Refused, match="height is needed"):
        apply_gesture(SHOT, HeightTo(), WORKING)


@pytest.mark.parametrize("roll", [0, 25, 90, -90, 180])
def test_a_rolled_picture_follows_the_hand_too(roll):
    shot = SHOT.with_groups(stand=SHOT.stand.model_copy(update={"roll_deg": roll}))
    aim = np.array([shot.stand.aim])
    for right, up in ((0.04, 0.0), (0.0, 0.05), (-0.03, 0.02)):
        pushed = apply_gesture(shot, Look(right=right, up=up), WORKING)
        # Small pushes, for the frame is flat and the camera turns.
        assert camera_of(pushed).places(aim).uv[0] == pytest.approx([0.5 + right, 0.5 + up], abs=0.005)


def test_what_is_asked_is_done_or_it_is_said_why_not():
    level = SHOT.with_groups(stand=Stand(position=(0, 0, 1.6), aim=(0, 3, 1.6)))
    near = apply_gesture(level, BoundOnPaper(which="near", drawing="section", x=0.003, y=1.6), WORKING)
    assert near.lens.near_m == pytest.approx(0.003)
    with pytest.raises(Refused, match="behind the camera"):
        apply_gesture(level, BoundOnPaper(which="near", drawing="section", x=-0.5, y=1.6), WORKING)
    with pytest.raises(Refused, match=r"takes a lens of 0\.3\d+ mm; they go from 1 to 5000 mm") as refused:
        apply_gesture(level.with_groups(back=Back(width_mm=8, height_mm=6)), AngleTo(angle_deg=170), WORKING)
    assert refused.value.nearest.lens.focal_length_mm == 1.0
    with pytest.raises(Refused, match=r"takes a bend of .*; -10000 is as far as it goes") as refused:
        apply_gesture(
            level.with_groups(
                lens=Lens(focal_length_mm=4000), focus=Focus(distance_m=9), back=Back(width_mm=8, height_mm=6)
            ),
            BendTo(corner=-0.25),
            WORKING,
        )
    assert refused.value.nearest.lens.distortion.k1 == -1.0e4
    dark = level.with_groups(exposure=Exposure(shutter_s=36000.0))
    with pytest.raises(
        Refused, match="36000 s is as far as one goes, so that the picture comes otherwise exposed"
    ) as refused:
        apply_gesture(dark, StopTo(f_number=64), WORKING)
    assert (refused.value.nearest.focus.f_number, refused.value.nearest.exposure.shutter_s) == (64, 36000)
    flat = level.with_groups(lens=Lens(projection="parallel", scale_m=9e5), back=Back(output_px=(30000, 20000)))
    with pytest.raises(Refused, match="it goes from 0"):
        apply_gesture(flat, ScaleTo(over=1e6), WORKING)
    down = apply_gesture(
        level.with_groups(stand=Stand(position=(0, 0, 1.6), aim=(0, 1, 0.4))), AimTo(x=0.004, y=0), WORKING
    )
    assert down.stand.aim == (0.004, 0, 0.4)
    with pytest.raises(ValidationError):
        apply_gesture(level, AimTo(x=0, y=0), WORKING)


def test_a_set_far_off_has_alternatives_that_can_be_taken():
    for aim in ((0, 36000, 1.6), (25000, 25000, -100), (0, 9e5, 0)):
        shot = Shot(stand=Stand(aim=aim), movements=Movements(rise_mm=20, image_circle_mm=43))
        for remedy in solve(shot, WORKING).movements.alternatives:
            assert apply_gesture(shot, remedy.gesture, WORKING)


@given(st.floats(0.4, 6), st.booleans(), st.floats(-3, 3), st.floats(0, 12))
@settings(max_examples=25, deadline=None)
def test_what_is_followed_keeps_its_place_however_the_lens_breathes(away, straighten, right, pitch):
    """The focus is kept on one thing, the frame on another: where the stand goes both change what the lens sees."""
    working = WorkingSet(
        set_of(slab((-9, -9, -1), (9, 12, 0)), slab((-0.2, 3, 0), (0.2, 3.4, 1.4)), slab((2, 6, 0), (2.4, 6.2, 2.4)))
    )
    shot = Shot(
        stand=Stand(position=(0, -1, 1.4), aim=(0, 4, 1.4 + 5 * np.tan(np.radians(pitch)))), lens=Lens(focal_length_mm=85, focus_breathing=True),
        focus=Focus(distance_m=away),
    )  # fmt: skip
    shot = apply_gesture(shot, FollowFocusPart(part="Part 1"), working)
    shot = apply_gesture(shot, Straighten(), working) if straighten else shot
    shot = shot.with_groups(
        stand=shot.stand.model_copy(update={"follow": FollowAim(part="Part 2", point=(2, 6, 1.5), at=(0.7, 0.6))})
    )
    try:
        walked = apply_gesture(shot, Walk(ahead=min(away, 2.5), right=right), working)
    except Refused:
        return
    place = camera_of(walked).places(np.array([[2, 6, 1.5]])).uv[0]
    assert place == pytest.approx([0.7, 0.6], abs=1e-6)
    assert refocused(Framing(walked, working)).focus.distance_m == pytest.approx(walked.focus.distance_m, rel=1e-7)


def test_focus_on_what_is_seen():
    assert apply_gesture(SHOT, FocusAt(x=0.5, y=0.5), WORKING).focus.distance_m == pytest.approx(6.0, abs=1e-4)
    beside = apply_gesture(SHOT, FocusAt(x=0.3, y=0.5), WORKING)
    assert beside.focus.distance_m == pytest.approx(6.0, abs=1e-4), "depth along the axis, not along the ray"
    with pytest.raises(Refused, match="only sky"):
        apply_gesture(apply_gesture(SHOT, Face(heading_deg=180, pitch_deg=45), WORKING), FocusAt(x=0.5, y=0.5), WORKING)


def test_new_shots_stand_at_their_heights_above_the_floor_under_each_end():
    level = Habits(lens_m=1.6, aim_m=None)
    placed = new_shot_in_plan(Shot(), WORKING, (3, 0), (3, 4), 1.2, level)
    assert placed.stand.position[2] == pytest.approx(2.1, abs=1e-4)
    assert resolve(placed.stand).pitch_deg == 0.0
    assert placed.focus.distance_m == pytest.approx(6.0, abs=1e-4)
    with pytest.raises(Refused, match="1 cm apart"):
        new_shot_in_plan(Shot(), WORKING, (3, 0), (3, 0.005), 1.2, level)
    below_the_cut_only = new_shot_in_plan(Shot(), WORKING, (3, 0), (3, 4), 0.2, level)
    assert below_the_cut_only.stand.position[2] == pytest.approx(1.6, abs=1e-3)
    living = new_shot_in_plan(Shot(), WORKING, (3, 0), (-5, -3), 1.2, Habits())
    assert living.stand.position[2] == pytest.approx(0.5 + 5.5 * 0.3048), "5 ft 6 in above the step it stands on"
    assert living.stand.aim[2] == pytest.approx(3 * 0.3048), "3 ft above the ground under the aim"
    assert living.stand.above_floor_m is None
    staying = new_shot_in_plan(Shot(), WORKING, (3, 0), (3, 4), 1.2, Habits(stays_above_floor=True))
    assert staying.stand.above_floor_m == pytest.approx(5.5 * 0.3048)
    scout = Scout(stand=Stand(position=(-2, 0, 1.2), aim=(-2, 1, 1.2)), focal_length_mm=40)
    seen = new_shot_from_scout(Shot(), WORKING, scout)
    assert seen.lens.focal_length_mm == 40
    assert seen.stand.aim == pytest.approx((-2, 6, 1.2), abs=1e-4)


def test_the_meter_reads_more_light_outside():
    lit = light_set(WORKING, LightSetup())
    outside = apply_gesture(SHOT, Meter(), WORKING, lit)
    box = slab((-8, -8, -8), (8, 8, 8))
    box.invert()
    fine = box.subdivide().subdivide()
    room = WorkingSet(set_of(fine.submesh([np.arange(2, len(fine.faces))], append=True), materials=(GREY,)))
    inside = apply_gesture(SHOT, Meter(), room, light_set(room, LightSetup()))
    assert Framing(outside).ev100 > Framing(inside).ev100 + 1
    assert Framing(outside).ev100 == pytest.approx(15, abs=1), "a sunny day is about EV 15 (common practice, no source)"
    with pytest.raises(Refused, match="no set"):
        apply_gesture(SHOT, Meter(), WORKING)


def test_drawings_stop_at_walls_and_hatch_between_near_and_far():
    sheet = solve(SHOT, WORKING)
    plan = np.array(sheet.drawings.plan.seen).reshape(-1, 2)
    assert shapely.Polygon(plan).exterior.distance(shapely.Point(-2, 6)) < 1e-3
    assert len(plan) < 20, "rays that end on one wall draw one line"
    focus_line = np.array(sheet.drawings.plan.focus).reshape(2, 2)
    assert focus_line[:, 1] == pytest.approx([4, 4])
    assert sheet.drawings.section.stand == pytest.approx((0, 1.6))
    assert sheet.drawings.section.aim == pytest.approx((4, 1.6))
    sharp = np.array(sheet.drawings.plan.sharp).reshape(-1, 2)
    assert sharp[:, 1].min() >= sheet.focus.sharp_from_m - 1e-3
    assert section_beyond(SHOT.stand, WORKING)


@pytest.mark.parametrize(("ratio", "output"), [(1.8, (1920, 1080)), (1.8, (1000, 1250)), (0.7, (2400, 1000))])
def test_the_scout_view_shows_the_frame_a_shot_of_it_will_have(ratio, output):
    back, scout = Back(output_px=output), Scout(focal_length_mm=35)
    width, height, frame = scout_view(scout, ratio, back)
    window = camera_of(new_shot_from_scout(Shot(back=back), WORKING, scout)).window
    assert width / height == pytest.approx(ratio)
    assert (width * frame[0], height * frame[1]) == pytest.approx((window.width / 35, window.height / 35))
    assert max(frame) == pytest.approx(SCOUT_FRAME_SHARE)
    assert scout_view(scout, ratio, None)[2] is None


@pytest.mark.parametrize("drawing", ["plan", "section"])
def test_a_line_dragged_on_paper_comes_to_lie_under_the_hand(drawing):
    """What the hand takes is the middle of the line as drawn; put elsewhere along the axis, it is drawn there."""
    shifted = Shot.model_validate({**SHOT.as_json(), "movements": {"rise_mm": 6.0, "cross_mm": -4.0}})
    for place in (1.9, 3.7):
        before = getattr(
            solve(
                shifted.model_copy(update={"focus": shifted.focus.model_copy(update={"distance_m": place})}), WORKING
            ).drawings,
            drawing,
        )
        x, y = (before.focus[0] + before.focus[2]) / 2, (before.focus[1] + before.focus[3]) / 2
        moved = apply_gesture(shifted, FocusOnPaper(drawing=drawing, x=x, y=y), WORKING)
        assert moved.focus.distance_m == pytest.approx(place, abs=2e-4)
    sharp = apply_gesture(shifted, SharpOnPaper(end="near", drawing=drawing, x=x, y=y), WORKING)
    assert Framing(sharp).zone.sharp_from == pytest.approx(min(3.7, 0.98 * Framing(shifted).zone.sharp_to), rel=1e-3)


def test_turning_the_barrel_is_the_scale_of_the_sheet():
    scale = solve(SHOT).focus.barrel
    for mark in scale.metres:
        if mark.label != "∞" and 0 < mark.at < 1:
            assert apply_gesture(SHOT, FocusOnBarrel(at=mark.at), WORKING).focus.distance_m == pytest.approx(
                float(mark.label)
            )
    assert apply_gesture(SHOT, FocusOnBarrel(at=1.0), WORKING).focus.distance_m == FARTHEST_FOCUS_M
