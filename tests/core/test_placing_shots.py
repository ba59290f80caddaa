"""Placing shots: exact turns, moves of a grip, both ends by numbers, the floor stayed above, the point followed."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.conftest import set_of, slab
from tests.core.test_stand import stands

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.constraints.follow_aim import (
    CannotFollow,
    keep_aim_point,
    kept_place,
    part_moved,
    place_in_frame,
    turned_to,
)
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.instruments.stand.following import FollowPart, FollowSeen, LetGo, StayAbove
from zevlo.core.instruments.stand.looking import Dolly, Orbit, Truck, Walk
from zevlo.core.instruments.stand.placing import (
    AimAtPart,
    AimAtSeen,
    AimDistance,
    EndTo,
    Grip,
    HeightTo,
    LevelCamera,
    StandTo,
    TurnBy,
)
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Focus, FollowAim, Lens, Movements, Shot, Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve

RAMP = slab((-10, -10, -1), (10, 10, 0))
RAMP.vertices[RAMP.vertices[:, 2] > -0.5] += np.outer(RAMP.vertices[RAMP.vertices[:, 2] > -0.5][:, 0] * 0.1, [0, 0, 1])
"""Ground that rises one in ten to the east."""
SLOPE = WorkingSet(set_of(RAMP))
FLAT = WorkingSet(set_of(slab((-10, -10, -1), (10, 10, 0)), slab((-1, 5, 0), (1, 5.2, 2)), slab((3, 3, 0), (4, 4, 1))))
SHOT = Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 4, 1.6)))


@given(stands(), st.sampled_from([90.0, -90.0, 180.0, 270.0, 360.0, -450.0]))
def test_quarter_turns_are_exact_and_come_round(stand, pan):
    turned = moves.turn_exactly(stand, pan, 0.0, 0.0)
    away, was = np.subtract(turned.aim, turned.position), np.subtract(stand.aim, stand.position)
    assert away[2] == was[2] == pytest.approx(was[2])
    assert np.hypot(*away[:2]) == pytest.approx(np.hypot(*was[:2]), rel=1e-12)
    heading = (resolve(turned).heading_deg - resolve(stand).heading_deg - pan) % 360
    assert min(heading, 360 - heading) < 1e-6
    back = turned
    for _ in range(3):
        back = moves.turn_exactly(back, pan, 0.0, 0.0)
    assert back.aim == pytest.approx(stand.aim, abs=1e-9), "four times are a whole number of turns"


def test_turning_by_gestures():
    faced = apply_gesture(SHOT, TurnBy(pan_deg=90), FLAT).stand
    assert faced.aim == (4.0, 0.0, 1.6), "to the last digit"
    assert apply_gesture(SHOT, TurnBy(pan_deg=180), FLAT).stand.aim == (0.0, -4.0, 1.6)
    assert apply_gesture(SHOT, TurnBy(roll_deg=200), FLAT).stand.roll_deg == -160.0
    tilted = apply_gesture(SHOT, TurnBy(tilt_deg=12.5, roll_deg=3), FLAT)
    assert resolve(tilted.stand).pitch_deg == pytest.approx(12.5)
    level = apply_gesture(tilted, LevelCamera(), FLAT).stand
    assert (resolve(level).pitch_deg, level.roll_deg) == (0.0, 0.0)


MOVES = [("dolly", (0, 1, 0)), ("truck", (1, 0, 0)), ("pedestal", (0, 0, 1)), ("east", (1, 0, 0)), ("north", (0, 1, 0)), ("up", (0, 0, 1))]  # fmt: skip


@pytest.mark.parametrize(("move", "direction"), MOVES)
@pytest.mark.parametrize("both", [True, False])
def test_grip_moves_go_their_way_and_take_the_aim_along_or_leave_it(move, direction, both):
    moved = apply_gesture(SHOT, Grip(move=move, by=0.25, both=both), FLAT).stand
    step = 0.25 * np.array(direction)
    assert moved.position == pytest.approx(np.array(SHOT.stand.position) + step)
    assert moved.aim == pytest.approx(np.array(SHOT.stand.aim) + step * both)


@pytest.mark.parametrize(("move", "heading", "pitch", "roll"), [("pan", 5, 0, 0), ("tilt", 0, 5, 0), ("roll", 0, 0, 5)])
def test_grip_turns_turn_about_the_stand(move, heading, pitch, roll):
    stand = apply_gesture(SHOT, Grip(move=move, by=5), FLAT).stand
    pose = resolve(stand)
    assert stand.position == SHOT.stand.position
    assert (pose.heading_deg, pose.pitch_deg, stand.roll_deg) == pytest.approx((heading, pitch, roll), abs=1e-9)


@given(stands(), st.sampled_from(["orbit", "over"]), st.floats(-40, 40))
def test_orbits_keep_the_aim_and_how_far_it_is(stand, move, by):
    moved = moves.grip(stand, move, by, True)
    assert moved.aim == stand.aim
    assert resolve(moved).aim_distance == pytest.approx(resolve(stand).aim_distance)


def test_a_camera_never_reaches_its_aim():
    with pytest.raises(Refused, match="would reach its aim"):
        apply_gesture(SHOT, Grip(move="dolly", by=4.0, both=False), FLAT)
    assert apply_gesture(SHOT, Grip(move="dolly", by=4.0), FLAT).stand.aim == pytest.approx((0, 8, 1.6))


def test_both_ends_by_numbers():
    aim = apply_gesture(SHOT, EndTo(end="aim", z=0.9), FLAT).stand
    assert (aim.position, aim.aim) == (SHOT.stand.position, (0, 4, 0.9))
    stand = apply_gesture(SHOT, EndTo(end="stand", x=2.0, z=1.2, both=True), FLAT).stand
    assert (stand.position, stand.aim) == (pytest.approx((2, 0, 1.2)), pytest.approx((2, 4, 1.2)))
    away = apply_gesture(SHOT, AimDistance(distance_m=2.5), FLAT).stand
    assert (away.position, away.aim) == (SHOT.stand.position, pytest.approx((0, 2.5, 1.6)))


def test_aiming_at_what_is_seen_and_at_the_middle_of_a_part():
    seen = apply_gesture(SHOT, AimAtSeen(x=0.5, y=0.5), FLAT).stand
    assert seen.aim == pytest.approx((0, 5, 1.6), abs=1e-4)
    middle = apply_gesture(SHOT, AimAtSeen(x=0.5, y=0.5, part=True), FLAT).stand
    assert middle.aim == pytest.approx((0, 5.1, 1.0))
    assert apply_gesture(SHOT, AimAtPart(part="Part 2"), FLAT).stand.aim == pytest.approx((3.5, 3.5, 0.5))
    with pytest.raises(Refused, match="no part “Part 9”"):
        apply_gesture(SHOT, AimAtPart(part="Part 9"), FLAT)
    with pytest.raises(Refused, match="only sky"):
        apply_gesture(SHOT, AimAtSeen(x=0.5, y=1.0), FLAT)


def test_staying_above_the_floor_over_a_slope():
    held = apply_gesture(SHOT, StayAbove(on=True), SLOPE)
    assert held.stand.above_floor_m == pytest.approx(1.6)
    for gesture in (
        Walk(right=3.0),
        Grip(move="east", by=3.0),
        StandTo(x=3.0, y=0.0),
        Truck(right=-0.3, up=0.0),
    ):
        moved = apply_gesture(held, gesture, SLOPE).stand
        assert moved.position[2] == pytest.approx(1.6 + 0.1 * moved.position[0]), gesture.kind
        assert moved.position[0] > 0.2
        assert moved.above_floor_m == pytest.approx(1.6)
    walked = apply_gesture(held, Walk(right=3.0), SLOPE).stand
    assert walked.aim[2] - walked.position[2] == pytest.approx(0.0), "the aim rises with it: the picture stays level"
    free = apply_gesture(SHOT, Walk(right=3.0), SLOPE).stand
    assert free.position[2] == pytest.approx(1.6)
    raised = apply_gesture(held, HeightTo(above_floor=1.2), SLOPE)
    assert raised.stand.above_floor_m == pytest.approx(1.2), "another height is the one to stay at"
    orbited = apply_gesture(held, Orbit(right=0.25, up=0.0), SLOPE).stand
    assert orbited.aim == held.stand.aim
    assert orbited.position[2] == pytest.approx(1.6 + 0.1 * orbited.position[0])
    assert apply_gesture(raised, StayAbove(on=False), SLOPE).stand.above_floor_m is None
    beyond = apply_gesture(held, Walk(right=20.0), SLOPE).stand
    assert beyond.position[2] == pytest.approx(1.6), "off the ground there is nothing to stay above"
    with pytest.raises(Refused, match="no floor"):
        apply_gesture(SHOT.with_groups(stand=Stand(position=(50, 0, 1), aim=(50, 4, 1))), StayAbove(on=True), SLOPE)


@settings(deadline=None)
@given(stands(), st.floats(0.05, 0.95), st.floats(0.05, 0.95), st.floats(14, 200), st.floats(-8, 8))
def test_a_followed_point_lies_exactly_at_its_place(stand, u, v, f, rise):
    assume(abs(resolve(stand).pitch_deg) < 60 and resolve(stand).aim_distance > 0.5)
    shot = Shot(stand=stand, lens=Lens(focal_length_mm=f), movements=Movements(rise_mm=rise, cross_mm=rise / 2),
                focus=Focus(distance_m=50))  # fmt: skip
    follow_it = FollowAim(point=stand.aim, at=(u, v))
    try:
        turned = turned_to(camera_of(shot), stand, follow_it)
    except CannotFollow:
        assume(False)
    assert turned.position == stand.position
    assert turned.roll_deg == stand.roll_deg
    assert place_in_frame(camera_of(shot.with_groups(stand=turned)), stand.aim) == pytest.approx((u, v), abs=1e-6)


def test_what_is_followed_keeps_its_place_while_the_stand_moves_and_when_it_moves_itself():
    held = apply_gesture(SHOT, FollowSeen(x=0.4, y=0.55), FLAT)
    point = held.stand.follow.point
    assert (held.stand.follow.part, point[1]) == ("Part 1", pytest.approx(5.0, abs=1e-4))
    assert held.stand.aim == SHOT.stand.aim, "to follow moves nothing yet"

    def place(shot):
        return place_in_frame(camera_of(shot), shot.stand.follow.point)

    for gesture in (
        Walk(right=1.0, ahead=1.0),
        Grip(move="truck", by=-0.8, both=False),
        HeightTo(z=0.7),
        Dolly(factor=0.6),
    ):
        moved = apply_gesture(held, gesture, FLAT)
        assert place(moved) == pytest.approx((0.4, 0.55), abs=1e-6), gesture.kind
        assert moved.stand.position != held.stand.position
    gone = part_moved(Framing(held), (point[0] + 1.5, point[1] + 2, point[2]))
    assert place(gone) == pytest.approx((0.4, 0.55), abs=1e-6)
    panned = apply_gesture(held, TurnBy(pan_deg=5), FLAT)
    assert panned.stand.follow.at != held.stand.follow.at
    assert place(panned) == pytest.approx(panned.stand.follow.at), "a turn by hand gives it another place"
    longer = keep_aim_point(held, Framing(held.with_groups(lens=Lens(focal_length_mm=50))))
    assert longer.stand.aim == held.stand.aim, "another lens turns nothing"
    assert place(longer) == pytest.approx(longer.stand.follow.at)
    behind = apply_gesture(held, TurnBy(pan_deg=180), FLAT)
    assert behind.stand.follow is None, "behind the camera nothing is followed"
    assert apply_gesture(held, LetGo(), FLAT).stand.follow is None


def test_following_a_part_and_what_cannot_be_followed():
    part = apply_gesture(SHOT, FollowPart(part="Part 1"), FLAT).stand.follow
    assert part.point == pytest.approx((0, 5.1, 1.0))
    with pytest.raises(Refused, match="not in the frame"):
        apply_gesture(SHOT, FollowPart(part="Part 2"), FLAT)
    with pytest.raises(Refused, match="only sky"):
        apply_gesture(SHOT, FollowSeen(x=0.5, y=1.0), FLAT)
    held = apply_gesture(SHOT, FollowPart(part="Part 1"), FLAT)
    with pytest.raises(Refused, match="let go"):
        apply_gesture(held, EndTo(end="stand", x=0.0, y=5.1, z=9.0), FLAT)
    assert kept_place(camera_of(SHOT), SHOT.stand) == SHOT.stand
    with pytest.raises(CannotFollow, match="at the point"):
        turned_to(camera_of(SHOT), SHOT.stand, FollowAim(point=SHOT.stand.position))
