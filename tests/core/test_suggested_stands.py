"""Stands the set suggests: in the room, free, level; and how a new shot there begins."""

import pytest
import trimesh
from tests.conftest import set_of, slab
from tests.core.test_placing_shots import FLAT, SLOPE

from zevlo.core.framing.new_shot import new_shot_at, new_shot_in_plan
from zevlo.core.framing.placing_habits import NAMED_HEIGHTS, OFFERED_PAIRS, Habits
from zevlo.core.framing.scout import looked_at
from zevlo.core.framing.suggested_stands import LOW_M, suggested_stands
from zevlo.core.scene.places.levels import Level, Room
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.pose import resolve

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
    directions = {one.words.split(", looking ")[1] for one in found if one.what == "square on"}
    assert directions == {"N", "E", "S", "W"}
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
