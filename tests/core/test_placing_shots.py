"""Placing shots: exact turns, moves of a grip, both ends by numbers, the floor stayed above, the point followed."""

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.conftest import set_of, slab
from tests.core.test_stand import stands

from zevlo.core.camera import camera_of
from zevlo.core.differences import COPY_GROUPS, copied, differences
from zevlo.core.follow import follow
from zevlo.core.holding import middle_of, part_moved, refollowed
from zevlo.core.instruments.focus import FocusAt
from zevlo.core.instruments.left_out import LeaveOut, LeaveOutSeen, PutBackAll
from zevlo.core.instruments.stand.holds import FollowPart, FollowSeen, LetGo, StayAbove
from zevlo.core.instruments.stand.looking import Dolly, Orbit, Shift, Walk
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
from zevlo.core.new_shot import new_shot_at, new_shot_in_plan
from zevlo.core.refused import Refused
from zevlo.core.scene.levels import Level, Room
from zevlo.core.scene.placing import Placing, change_between, corrected, dropped, shot_moved
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import looked_at
from zevlo.core.seen import seen_in
from zevlo.core.shot import Back, Exposure, Focus, FollowAim, Lens, Movements, Settings, Shot, Stand
from zevlo.core.solve import solve
from zevlo.core.stand import moves
from zevlo.core.stand.follow_aim import CannotFollow, kept_place, place_in_frame, turned_to
from zevlo.core.stand.habits import NAMED_HEIGHTS, OFFERED_PAIRS, Habits
from zevlo.core.stand.pose import resolve
from zevlo.core.stand.suggest import LOW_M, suggested_stands

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
    faced = follow(SHOT, TurnBy(pan_deg=90), FLAT).stand
    assert faced.aim == (4.0, 0.0, 1.6), "to the last digit"
    assert follow(SHOT, TurnBy(pan_deg=180), FLAT).stand.aim == (0.0, -4.0, 1.6)
    assert follow(SHOT, TurnBy(roll_deg=200), FLAT).stand.roll_deg == -160.0
    tilted = follow(SHOT, TurnBy(tilt_deg=12.5, roll_deg=3), FLAT)
    assert resolve(tilted.stand).pitch_deg == pytest.approx(12.5)
    level = follow(tilted, LevelCamera(), FLAT).stand
    assert (resolve(level).pitch_deg, level.roll_deg) == (0.0, 0.0)


MOVES = [("dolly", (0, 1, 0)), ("truck", (1, 0, 0)), ("pedestal", (0, 0, 1)), ("east", (1, 0, 0)), ("north", (0, 1, 0)), ("up", (0, 0, 1))]  # fmt: skip


@pytest.mark.parametrize(("move", "way"), MOVES)
@pytest.mark.parametrize("both", [True, False])
def test_grip_moves_go_their_way_and_take_the_aim_along_or_leave_it(move, way, both):
    moved = follow(SHOT, Grip(move=move, by=0.25, both=both), FLAT).stand
    step = 0.25 * np.array(way)
    assert moved.position == pytest.approx(np.array(SHOT.stand.position) + step)
    assert moved.aim == pytest.approx(np.array(SHOT.stand.aim) + step * both)


@pytest.mark.parametrize(("move", "heading", "pitch", "roll"), [("pan", 5, 0, 0), ("tilt", 0, 5, 0), ("roll", 0, 0, 5)])
def test_grip_turns_turn_about_the_stand(move, heading, pitch, roll):
    stand = follow(SHOT, Grip(move=move, by=5), FLAT).stand
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
        follow(SHOT, Grip(move="dolly", by=4.0, both=False), FLAT)
    assert follow(SHOT, Grip(move="dolly", by=4.0), FLAT).stand.aim == pytest.approx((0, 8, 1.6))


def test_both_ends_by_numbers():
    aim = follow(SHOT, EndTo(end="aim", z=0.9), FLAT).stand
    assert (aim.position, aim.aim) == (SHOT.stand.position, (0, 4, 0.9))
    stand = follow(SHOT, EndTo(end="stand", x=2.0, z=1.2, both=True), FLAT).stand
    assert (stand.position, stand.aim) == (pytest.approx((2, 0, 1.2)), pytest.approx((2, 4, 1.2)))
    away = follow(SHOT, AimDistance(distance_m=2.5), FLAT).stand
    assert (away.position, away.aim) == (SHOT.stand.position, pytest.approx((0, 2.5, 1.6)))


def test_aiming_at_what_is_seen_and_at_the_middle_of_a_part():
    seen = follow(SHOT, AimAtSeen(x=0.5, y=0.5), FLAT).stand
    assert seen.aim == pytest.approx((0, 5, 1.6), abs=1e-4)
    middle = follow(SHOT, AimAtSeen(x=0.5, y=0.5, part=True), FLAT).stand
    assert middle.aim == pytest.approx((0, 5.1, 1.0))
    assert follow(SHOT, AimAtPart(part="Part 2"), FLAT).stand.aim == pytest.approx((3.5, 3.5, 0.5))
    with pytest.raises(Refused, match="no part “Part 9”"):
        follow(SHOT, AimAtPart(part="Part 9"), FLAT)
    with pytest.raises(Refused, match="only sky"):
        follow(SHOT, AimAtSeen(x=0.5, y=1.0), FLAT)


def test_staying_above_the_floor_over_a_slope():
    held = follow(SHOT, StayAbove(on=True), SLOPE)
    assert held.stand.above_floor_m == pytest.approx(1.6)
    for gesture in (
        Walk(right=3.0),
        Grip(move="east", by=3.0),
        StandTo(x=3.0, y=0.0),
        Shift(right=-0.3, up=0.0),
    ):
        moved = follow(held, gesture, SLOPE).stand
        assert moved.position[2] == pytest.approx(1.6 + 0.1 * moved.position[0]), gesture.kind
        assert moved.position[0] > 0.2
        assert moved.above_floor_m == pytest.approx(1.6)
    walked = follow(held, Walk(right=3.0), SLOPE).stand
    assert walked.aim[2] - walked.position[2] == pytest.approx(0.0), "the aim rises with it: the picture stays level"
    free = follow(SHOT, Walk(right=3.0), SLOPE).stand
    assert free.position[2] == pytest.approx(1.6)
    raised = follow(held, HeightTo(above_floor=1.2), SLOPE)
    assert raised.stand.above_floor_m == pytest.approx(1.2), "another height is the one to stay at"
    orbited = follow(held, Orbit(right=0.25, up=0.0), SLOPE).stand
    assert orbited.aim == held.stand.aim
    assert orbited.position[2] == pytest.approx(1.6 + 0.1 * orbited.position[0])
    assert follow(raised, StayAbove(on=False), SLOPE).stand.above_floor_m is None
    beyond = follow(held, Walk(right=20.0), SLOPE).stand
    assert beyond.position[2] == pytest.approx(1.6), "off the ground there is nothing to stay above"
    with pytest.raises(Refused, match="no floor"):
        follow(SHOT.with_groups(stand=Stand(position=(50, 0, 1), aim=(50, 4, 1))), StayAbove(on=True), SLOPE)


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
    held = follow(SHOT, FollowSeen(x=0.4, y=0.55), FLAT)
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
        moved = follow(held, gesture, FLAT)
        assert place(moved) == pytest.approx((0.4, 0.55), abs=1e-6), gesture.kind
        assert moved.stand.position != held.stand.position
    gone = part_moved(held, (point[0] + 1.5, point[1] + 2, point[2]))
    assert place(gone) == pytest.approx((0.4, 0.55), abs=1e-6)
    panned = follow(held, TurnBy(pan_deg=5), FLAT)
    assert panned.stand.follow.at != held.stand.follow.at
    assert place(panned) == pytest.approx(panned.stand.follow.at), "a turn by hand gives it another place"
    longer = refollowed(held, held.with_groups(lens=Lens(focal_length_mm=50)))
    assert longer.stand.aim == held.stand.aim, "another lens turns nothing"
    assert place(longer) == pytest.approx(longer.stand.follow.at)
    behind = follow(held, TurnBy(pan_deg=180), FLAT)
    assert behind.stand.follow is None, "behind the camera nothing is followed"
    assert follow(held, LetGo(), FLAT).stand.follow is None


def test_following_a_part_and_what_cannot_be_followed():
    part = follow(SHOT, FollowPart(part="Part 1"), FLAT).stand.follow
    assert part.point == pytest.approx((0, 5.1, 1.0))
    with pytest.raises(Refused, match="not in the frame"):
        follow(SHOT, FollowPart(part="Part 2"), FLAT)
    with pytest.raises(Refused, match="only sky"):
        follow(SHOT, FollowSeen(x=0.5, y=1.0), FLAT)
    held = follow(SHOT, FollowPart(part="Part 1"), FLAT)
    with pytest.raises(Refused, match="let go"):
        follow(held, EndTo(end="stand", x=0.0, y=5.1, z=9.0), FLAT)
    assert kept_place(camera_of(SHOT), SHOT.stand) == SHOT.stand
    with pytest.raises(CannotFollow, match="at the point"):
        turned_to(camera_of(SHOT), SHOT.stand, FollowAim(point=SHOT.stand.position))


def test_parts_are_left_out_by_the_picture_or_by_name_and_come_back():
    out = follow(SHOT, LeaveOutSeen(x=0.5, y=0.5), FLAT)
    assert out.left_out == ("Part 1",)
    assert seen_in(out, FLAT, 0.5, 0.2).part == 0, "what is left out is looked through"
    assert solve(out, FLAT).pose.view == solve(SHOT, FLAT).pose.view
    more = follow(out, LeaveOut(part="Part 2"), FLAT)
    assert more.left_out == ("Part 1", "Part 2")
    assert follow(more, LeaveOut(part="Part 1", out=False), FLAT).left_out == ("Part 2",)
    assert follow(more, PutBackAll(), FLAT).left_out == ()
    assert follow(out, FocusAt(x=0.5, y=0.2), FLAT).focus.distance_m > 5.3, "focus goes through it too"
    with pytest.raises(Refused, match="no part"):
        follow(SHOT, LeaveOut(part="Part 9"), FLAT)
    assert middle_of(FLAT, "Part 1") == pytest.approx((0, 5.1, 1))


def test_differences_are_told_in_words_and_only_what_differs():
    other = Shot(
        name="Another", stand=Stand(position=(0, 0, 1.6), aim=(4, 0, 1.6), roll_deg=2), lens=Lens(focal_length_mm=50),
        back=Back(output_px=(2400, 2400)), movements=Movements(rise_mm=3), focus=Focus(distance_m=2, f_number=5.6),
        exposure=Exposure(shutter_s=1 / 60, iso=200), left_out=("A", "B"),
    )  # fmt: skip
    words = {f"{one.group}: {one.words}" for one in differences(SHOT, other)}
    assert words == {
        "stand: turned 90.0° right", "stand: roll 0.0° → 2.0°", "lens: 35 → 50 mm", "back: 16:9 → 1:1",
        "movements: rise 0 → 3 mm", "focus: f/8 → f/5.6", "focus: focus 3.00 → 2.00 m", "exposure: 1/100 s → 1/60 s",
        "exposure: ISO 100 → 200", "left_out: left out 0 → 2",
    }  # fmt: skip
    assert differences(SHOT, SHOT.model_copy(update={"name": "Other"})) == []


PLANE = {"point": (0, 2, 0), "normal": (0, -2, 0)}


@pytest.mark.parametrize("group", COPY_GROUPS)
def test_copying_a_group_changes_that_group_alone(group):
    source = Shot(
        name="Source", stand=Stand(position=(2, 0, 1.2), aim=(2, 4, 1.2)), lens=Lens(focal_length_mm=50, cutting_plane=PLANE),
        back=Back(output_px=(2400, 2400), cuts=[{"name": "Tall", "output_px": (1080, 1920)}]),
        movements=Movements(rise_mm=3), focus=Focus(distance_m=2, f_number=5.6),
        exposure=Exposure(iso=200), left_out=("Part 1",), guides={"thirds": False, "centre": True}, light="Dusk",
    )  # fmt: skip
    after = copied(source, SHOT, [group], SLOPE)
    assert after.name == SHOT.name
    expected = {"height": "stand", "cuts": "back", "opening": "lens"}.get(group, group)
    assert (after.lens.cutting_plane is not None) == (group == "opening"), "so does what opens the set"
    assert (after.back.cuts == source.back.cuts) == (group == "cuts"), "cuts go by themselves"
    assert {one.group for one in differences(SHOT, after)} == {expected}
    if group == "height":
        assert after.stand.position == pytest.approx((0, 0, 1.0)), "as high above its own floor"


def test_what_does_not_go_together_is_not_copied():
    macro = Shot(focus=Focus(distance_m=0.12), lens=Lens(focal_length_mm=50))
    with pytest.raises(Refused, match="focuses no closer"):
        copied(macro, SHOT.with_groups(lens=Lens(focal_length_mm=200)), ["focus"], FLAT)
    away = SHOT.with_groups(stand=Stand(position=(50, 0, 1), aim=(50, 4, 1)))
    with pytest.raises(Refused, match="no floor"):
        copied(SHOT, away, ["height"], FLAT)


ROOM = Room(name="R", level="G", outline=((0, 0), (6, 0), (6, 4), (0, 4)))


def _room_set(door=True):
    wall = 0.2
    south = [
        slab((-wall, -wall, 0), (2, 0, 2.8)),
        slab((3, -wall, 0), (6 + wall, 0, 2.8)),
        slab((2, -wall, 2.1), (3, 0, 2.8)),
    ]
    if not door:
        south = [slab((-wall, -wall, 0), (6 + wall, 0, 2.8))]
    return WorkingSet(set_of(
        slab((-1, -1, -0.2), (7, 5, 0)), slab((-1, -1, 2.8), (7, 5, 3)), *south, slab((-wall, 4, 0), (6 + wall, 4 + wall, 2.8)),
        slab((-wall, 0, 0), (0, 4, 2.8)), slab((6, 0, 0), (6 + wall, 4, 2.8)), slab((4.9, 0.1, 0), (5.9, 1.0, 2.2)),
    ))  # fmt: skip


def test_suggested_stands_are_in_the_room_free_and_level():
    habits = Habits(lens_m=1.5)
    found = suggested_stands(ROOM, Level(name="G", floor_m=0.0), _room_set(), habits)
    kinds = [one.what for one in found]
    assert kinds.count("square on") == 4
    assert kinds.count("corner") == 4
    for one in found:
        x, y, _ = one.stand.position
        assert not (4.9 - 0.1 < x < 5.9 + 0.1 and 0.0 < y < 1.0 + 0.1), "before the cupboard that stands in a corner"
    assert kinds.count("doorway") == 1
    ways = {one.words.split(", looking ")[1] for one in found if one.what == "square on"}
    assert ways == {"N", "E", "S", "W"}
    turned = suggested_stands(ROOM, Level(name="G", floor_m=0.0), _room_set(), habits, north_deg=90.0)
    assert [one.words.replace(", looking N", ", looking W") for one in found if one.words.endswith("looking N")] == [
        one.words for one in turned if one.words.endswith("looking W")
    ], "where north is to the right, what was ahead is west"
    for one in found:
        (x, y, z), (_, _, aim_z) = one.stand.position, one.stand.aim
        assert 0 <= x <= 6
        assert -0.01 <= y <= 4
        assert z == aim_z == 1.5
    doorway = next(one for one in found if one.what == "doorway").stand
    assert doorway.position[:2] == pytest.approx((2.5, 0.02), abs=0.06)
    assert resolve(doorway).heading_deg == pytest.approx(0.0)
    north = next(one for one in found if "6.0 m wall" in one.words and resolve(one.stand).heading_deg < 1).stand
    assert north.position[:2] == pytest.approx((3, 0.45)), "square on to the north wall, from the south one"
    assert not [
        one
        for one in suggested_stands(ROOM, Level(name="G", floor_m=0.0), _room_set(door=False), habits)
        if one.what == "doorway"
    ]
    tiny = Room(name="T", level="G", outline=((0, 0), (0.5, 0), (0.5, 0.5), (0, 0.5)))
    assert suggested_stands(tiny, Level(name="G", floor_m=0.0), _room_set(), habits) == []
    clockwise = Room(name="R", level="G", outline=ROOM.outline[::-1])
    assert len(suggested_stands(clockwise, Level(name="G", floor_m=0.0), _room_set(), habits)) == len(found)


def test_under_a_sloping_roof_suggested_stands_come_nearer():
    roof = trimesh.Trimesh([(-1, -1, 0.4), (7, -1, 0.4), (7, 5, 3.4), (-1, 5, 3.4)], [(0, 2, 1), (0, 3, 2)])
    attic = WorkingSet(set_of(slab((-1, -1, -0.2), (7, 5, 0)), roof))
    found = suggested_stands(ROOM, Level(name="G", floor_m=0.0), attic, Habits(lens_m=1.5))
    stands = {tuple(round(v, 2) for v in one.stand.position) for one in found}
    assert (3.0, 3.55, 1.5) in stands, "under the high side it stands against the wall"
    to_north = [y for x, y, _ in stands if x == 3.0 and y < 3]
    # The roof is at 1.5 m where y is 1.2; a tenth of the way of 3.55 m is one step.
    assert to_north == [pytest.approx(0.45 + 3 * 0.355, abs=0.01)]
    low = suggested_stands(ROOM, Level(name="G", floor_m=0.0), attic, Habits(lens_m=3.3))
    assert {one.stand.position[2] for one in low} == {LOW_M}, "nothing is free so high, a seated eye is tried"


def test_the_aim_is_counted_from_the_floor_one_walks_on_not_from_what_stands_there():
    habits = Habits(lens_m=1.6, aim_m=0.9)
    counter = WorkingSet(set_of(slab((-9, -9, -1), (9, 9, 0)), slab((-1, 3, 0), (1, 4, 0.95))))
    assert new_shot_in_plan(Shot(), counter, (0, 0), (0, 3.5), 1.2, habits).stand.aim[2] == pytest.approx(0.9)
    behind = new_shot_in_plan(Shot(), counter, (0, 0), (0, 6.0), 1.2, habits)
    assert behind.stand.aim[2] == pytest.approx(0.9), "over the counter and down again"
    uphill = new_shot_in_plan(Shot(), SLOPE, (-4, 0), (6, 0), 1.2, habits).stand
    assert uphill.position[2] == pytest.approx(SLOPE.floor_at(-4, 0) + 1.6)
    assert uphill.aim[2] == pytest.approx(SLOPE.floor_at(6, 0) + 0.9)
    stair = [slab((-1, 1 + 0.28 * n, 0), (1, 9, 0.18 * (n + 1))) for n in range(6)]
    up = new_shot_in_plan(
        Shot(), WorkingSet(set_of(slab((-9, -9, -1), (9, 9, 0)), *stair)), (0, 0), (0, 6), 1.2, habits
    )
    assert up.stand.aim[2] == pytest.approx(6 * 0.18 + 0.9)
    podium = WorkingSet(set_of(slab((-9, -9, -1), (9, 9, 0)), slab((-9, 2, 0), (9, 9, 0.9))))
    down = new_shot_in_plan(Shot(), podium, (0, 4), (0, 0), 2.0, habits).stand
    assert (down.position[2], down.aim[2]) == (pytest.approx(2.5), pytest.approx(0.9))


def test_a_shot_at_a_suggested_stand_is_focused_and_may_stay_above_the_floor():
    working = _room_set()
    made = new_shot_at(Shot(), working, Stand(position=(3, 0.5, 1.5), aim=(3, 4, 1.5)), Habits(stays_above_floor=True))
    assert made.focus.distance_m == pytest.approx(3.5, abs=1e-3)
    assert made.stand.above_floor_m == pytest.approx(1.5)


def test_habits_begin_with_the_offered_pair_and_marks_rise():
    assert (Habits().lens_m, Habits().aim_m) == (OFFERED_PAIRS[0].lens_m, OFFERED_PAIRS[0].aim_m)
    assert [mark.height_m for mark in NAMED_HEIGHTS] == sorted(mark.height_m for mark in NAMED_HEIGHTS)


def test_looking_at_a_thing_goes_where_nothing_is_in_the_way():
    stand = looked_at(Stand(position=(0, -5, 1.6), aim=(0, 4, 1.6)), (3.5, 3.5, 0.5), 1.0, FLAT)
    assert stand.aim == (3.5, 3.5, 0.5)
    pose = resolve(stand)
    hit = FLAT.rays.first(pose.position[None], pose.forward[None])
    assert FLAT.part_at(int(hit.face[0])) == 2


@pytest.mark.parametrize(
    "lens", [Lens(far_m=50.0), Lens(far_m=50.0, projection="parallel", scale_m=6.0)], ids=lambda lens: lens.projection
)
@pytest.mark.parametrize("change", [{"metres_per_unit": 0.01}, {"turn_deg": 30.0}, {"up": "y"}, {"metres_per_unit": 2.0, "turn_deg": -90.0}])  # fmt: skip
def test_a_corrected_set_takes_every_framing_with_it(change, lens):
    """The same film sees the same points at the same places."""
    old = Placing(metres_per_unit=1.0, up="z", moved_m=(3.0, -2.0, 0.5))
    new = corrected(old, **change)
    matrix = change_between(old, new)
    shot = Shot(stand=Stand(position=(1, 2, 1.6), aim=(4, 5, 1.2), roll_deg=3.0, follow=FollowAim(point=(3.5, 4.5, 1.0), at=(0.4, 0.5)),
                            above_floor_m=1.6), focus=Focus(distance_m=4.0, probes=((3, 4, 1), (4, 5, 0))), lens=lens)  # fmt: skip
    moved = shot_moved(shot, matrix)
    scale = np.cbrt(np.linalg.det(matrix[:3, :3]))
    for point in [(3, 4, 1), (5, 5.5, 2), (4, 5, 0)]:
        there = tuple((matrix[:3, :3] @ point + matrix[:3, 3]).tolist())
        before = place_in_frame(camera_of(shot), point)
        assert place_in_frame(camera_of(moved), there) == pytest.approx(before, abs=1e-7)
    assert moved.focus.distance_m == pytest.approx(max(4.0 * scale, 0.0357))
    assert moved.lens.far_m == pytest.approx(50.0 * scale)
    for before, after in zip(solve(shot).focus.probes, solve(moved).focus.probes, strict=True):
        assert after.at == pytest.approx(before.at, abs=1e-7)
    assert moved.stand.above_floor_m == pytest.approx(1.6 * scale)
    assert place_in_frame(camera_of(moved), moved.stand.follow.point) == pytest.approx(
        place_in_frame(camera_of(shot), shot.stand.follow.point)
    )


def in_metres(model, path=""):
    """Every number of a shot that counts metres of the world: those whose keys say so, and all of points."""
    for name, field in type(model).model_fields.items():
        value = getattr(model, name)
        if isinstance(value, Settings):
            yield from in_metres(value, f"{path}{name}.")
        elif value is not None and (name.endswith("_m") or "Coordinate" in str(field.annotation) or _is_point(value)):
            yield f"{path}{name}", np.array(value, dtype=float)


def _is_point(value):
    flat = np.array(value, dtype=object)
    return flat.dtype == object and flat.shape[-1:] == (3,) and all(isinstance(one, float) for one in flat.ravel())


def test_all_that_counts_metres_goes_along():
    """Derived from the shot's keys: a set twice as large has every length and place in it twice as large."""
    shot = Shot(
        stand=Stand(position=(1, 2, 1.6), aim=(4, 5, 1.2), follow=FollowAim(point=(3.5, 4.5, 1), at=(0.4, 0.5)), above_floor_m=1.6),
        focus=Focus(distance_m=4.0, probes=((3, 4, 1),), stack={"from_m": 1.5, "to_m": 2.5}), lens=Lens(far_m=50, projection="parallel", scale_m=6, cutting_plane=PLANE),
    )  # fmt: skip
    double = np.diag([2.0, 2.0, 2.0, 1.0])
    before, after = dict(in_metres(shot)), dict(in_metres(shot_moved(shot, double)))
    directions = {"lens.cutting_plane.normal"}
    assert {
        "stand.position",
        "stand.follow.point",
        "lens.near_m",
        "lens.scale_m",
        "focus.stack.to_m",
        "focus.probes",
        "lens.cutting_plane.point",
    } <= before.keys()
    for key in before.keys() - directions:
        assert after[key] == pytest.approx(2 * before[key]), key
    assert after["lens.cutting_plane.normal"] == pytest.approx([0, -1, 0])
    turned = shot_moved(shot, change_between(Placing(), corrected(Placing(), turn_deg=90.0))).lens.cutting_plane
    assert turned.normal == pytest.approx((-1, 0, 0), abs=1e-9), "clockwise, seen from above"


def test_dropping_puts_the_lowest_point_to_zero():
    points = np.array([(0, 0, 3.0), (1, 1, 9.0), (2, -4, 5.0)])
    assert dropped(points, Placing()).moved_m == pytest.approx((0, 0, -3))
    assert dropped(points, Placing(up="y", metres_per_unit=0.5)).moved_m == pytest.approx((0, 0, 2.0))
