"""Levels, rooms, and the names that come of them."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
import trimesh
from pydantic import ValidationError
from tests.conftest import set_of, slab

from zevlo.core.framing.shot_name import proposed_name
from zevlo.core.framing.solve import solve
from zevlo.core.scene.model.placing import Placing, matrix_of
from zevlo.core.scene.model.set_model import Part
from zevlo.core.scene.places.levels import (
    Level,
    Places,
    Room,
    SetContext,
    level_at,
    mark_in,
    places_moved,
    signed_area,
    within,
)
from zevlo.core.scene.places.rooms import propose_levels, propose_places, propose_rooms
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Lens, Shot, Stand

L_SHAPE = ((0, 0), (6, 0), (6, 2), (2, 2), (2, 5), (0, 5))
PLACES = Places(
    levels=(Level(name="Ground", floor_m=0.0), Level(name="Upper", floor_m=3.0)),
    rooms=(
        Room(name="Hall", level="Ground", outline=L_SHAPE),
        Room(name="Alcove", level="Ground", outline=((0, 4), (1, 4), (1, 5), (0, 5))),
        Room(name="Hall", level="Upper", outline=L_SHAPE),
    ),
)


@pytest.mark.parametrize(
    ("place", "name"),
    [((1, 1, 1.6), "Hall"), ((5, 1, 1.6), "Hall"), ((4, 3, 1.6), None), ((0.5, 4.5, 1.6), "Alcove"), ((1, 1, -1), None),
     ((0.5, 4.5, 4.6), "Hall"), ((1, 1, -0.2), "Hall")],
)  # fmt: skip
def test_a_point_lies_in_the_smallest_room_on_its_level(place, name):
    room = SetContext(PLACES).room_at(*place)
    assert (None if room is None else room.name) == name


def test_levels_begin_a_step_below_their_floor():
    found = [level_at(PLACES, z) for z in (-1, -0.3, 1.6, 2.7, 9)]
    assert [level and level.name for level in found] == [None, "Ground", "Ground", "Upper", "Upper"]


def test_areas_and_marks_of_outlines():
    outline = np.array(L_SHAPE, dtype=float)
    assert signed_area(outline) == pytest.approx(18.0)
    assert signed_area(outline[::-1]) == pytest.approx(-18.0)
    assert within(outline, *mark_in(outline))
    crossed = np.array([(0, 0), (2, 2), (2, 0), (0, 2)], dtype=float)
    assert all(np.isfinite(mark_in(crossed)))


@pytest.mark.parametrize(
    ("places", "why"),
    [({"levels": [{"name": "A", "floor_m": 0}, {"name": "A", "floor_m": 3}]}, "same name"),
     ({"rooms": [{"name": "R", "level": "B", "outline": L_SHAPE}]}, "no level of this project"),
     ({"levels": [{"name": "A", "floor_m": 0}], "rooms": [{"name": "R", "level": "A", "outline": L_SHAPE}] * 2}, "same name"),
     ({"levels": [{"name": "A", "floor_m": 0}], "rooms": [{"name": "R", "level": "A", "outline": ((0, 0), (1, 1), (2, 2))}]}, "enclose an area"),
     ({"levels": [{"name": "", "floor_m": 0}]}, "at least 1"),
     ({"levels": [{"name": "A", "floor_m": float("nan")}]}, "finite")],
)  # fmt: skip
def test_places_that_make_no_sense_are_refused(places, why):
    with pytest.raises(ValidationError, match=why):
        Places.model_validate(places)


def test_places_go_with_a_corrected_set():
    change = matrix_of(Placing(metres_per_unit=2.0, turn_deg=90.0, moved_m=(1.0, 0.0, 0.5)))
    moved = places_moved(PLACES, change)
    assert [level.floor_m for level in moved.levels] == pytest.approx([0.5, 6.5])
    assert moved.rooms[0].outline[1] == pytest.approx((1.0, -12.0)), "6 east is 6 south after a quarter turn"


def _house(height=2.8):
    """Two rooms with a doorway between, and a flat roof; the outer wall is closed."""
    return [
        slab((0, 0, -0.3), (8, 5, 0)),
        slab((0, 0, 0), (8, 0.2, height)), slab((0, 4.8, 0), (8, 5, height)),
        slab((0, 0.2, 0), (0.2, 4.8, height)), slab((7.8, 0.2, 0), (8, 4.8, height)),
        slab((4, 0.2, 0), (4.2, 2, height)), slab((4, 3, 0), (4.2, 4.8, height)), slab((4, 2, 2.05), (4.2, 3, height)),
        slab((0, 0, height), (8, 5, height + 0.3)),
    ]  # fmt: skip


def test_rooms_are_found_where_walls_close_over_the_doors():
    working = WorkingSet(set_of(*_house(), slab((1, 1, 0), (2, 2, 0.75))))
    levels = propose_levels(working)
    assert [(level.name, level.floor_m) for level in levels] == [("Level 0", 0.0)]
    rooms = propose_rooms(working, levels[0])
    areas = sorted(abs(signed_area(np.array(room.outline))) for room in rooms)
    assert areas == pytest.approx([3.6 * 4.6, 3.8 * 4.6], abs=0.05), "the table is no wall"
    again = propose_places(working, Places(levels=levels, rooms=rooms[:1]))
    assert len(again.rooms) == 1, "what is there already is not found twice"


def test_levels_and_rooms_are_called_as_the_tree_calls_what_stands_there():
    model = set_of(*_house(), slab((1, 1, 0), (2, 2, 0.75)))
    count = len(model.parts)
    tree = [Part("Ground_floor", None, 0, 0), Part("Tea_room", 0, 0, 0)]
    under = [replace(part, name=f"{n}", parent=1 if n == count - 1 else 0) for n, part in enumerate(model.parts)]
    working = WorkingSet(replace(model, parts=(*tree, *under)))
    levels = propose_levels(working)
    assert [level.name for level in levels] == ["Ground floor"], "an underscore is where a name has a space"
    rooms = {room.name: abs(signed_area(np.array(room.outline))) for room in propose_rooms(working, levels[0])}
    assert set(rooms) == {"Tea room", "Room 1"}
    assert rooms["Tea room"] == pytest.approx(3.8 * 4.6, abs=0.05), "where its table stands"


def test_windows_up_to_the_lintel_do_not_open_a_room():
    house = _house()
    house[1:2] = [slab((0, 0, 0), (3, 0.2, 2.8)), slab((5, 0, 0), (8, 0.2, 2.8)), slab((3, 0, 0), (5, 0.2, 0.9)),
                  slab((3, 0, 2.5), (5, 0.2, 2.8))]  # fmt: skip
    rooms = propose_rooms(WorkingSet(set_of(*house)), Level(name="Ground", floor_m=0.0))
    assert len(rooms) == 2


def test_storeys_are_told_apart_and_open_ground_is_no_level():
    upper = [mesh.copy().apply_translation((0, 0, 3.1)) for mesh in _house()]
    ground = slab((-40, -40, -0.5), (40, 40, -0.35))
    levels = propose_levels(WorkingSet(set_of(ground, *_house(), *upper)))
    assert [level.floor_m for level in levels] == pytest.approx([0.0, 3.1], abs=0.01)
    assert propose_levels(WorkingSet(set_of(ground))) == ()
    sphere_only = WorkingSet(set_of(slab((0, 0, 0), (1, 1, 1))))
    assert propose_places(sphere_only, Places()) == Places()


def _shot(position=(1, 1, 1.6), aim=(1, 5, 1.6), f=28.0):
    return Shot(stand=Stand(position=position, aim=aim), lens=Lens(focal_length_mm=f))


def test_names_tell_room_direction_and_lens():
    where = SetContext(PLACES)
    assert proposed_name(_shot(), where, None) == "Ground, Hall, looking N, 28 mm", "two levels have a Hall"
    assert proposed_name(_shot(position=(0.5, 4.5, 1.6), aim=(1, 4.5, 1.6)), where, None) == "Alcove, looking E, 28 mm"
    assert proposed_name(_shot(position=(9, 9, 1.6), f=24), where, None) == "Ground, looking SW, 24 mm"
    assert proposed_name(_shot(position=(9, 9, -5), aim=(9, 9.1, -9)), SetContext(), None) == "Looking down, 28 mm"
    assert proposed_name(_shot(aim=(1.1, 1.2, 9)), SetContext(), None) == "Looking up, 28 mm"


def test_directions_count_from_project_north_in_eight_or_sixteen_points():
    turned = SetContext(PLACES, north_deg=90.0)
    assert "looking W" in proposed_name(_shot(), turned, None), "north lies to the right, so up on the plan is west"
    slanted = _shot(aim=(1 + 0.41421356 * 4, 5, 1.6))
    assert "looking NNE" in proposed_name(slanted, SetContext(PLACES), None, 16)
    sheet = solve(_shot(), None, turned)
    assert (sheet.pose.heading_deg, sheet.pose.compass, sheet.pose.room) == (pytest.approx(270.0), "W", "Hall")


def _under_a_roof(knee, slope):
    """A room 6 m by 8 m under a ridged roof that begins at knee height and rises by ``slope`` for each metre."""
    ridge = knee + 3.0 * slope
    gable = shapely.Polygon(
        [(-0.2, knee), (3.0, ridge + 0.2 * slope), (6.2, knee), (6.0, knee), (3.0, ridge), (0.0, knee)]
    )
    roof = trimesh.creation.extrude_polygon(gable.buffer(1e-3), 8.4)
    roof.apply_transform(np.array([[1, 0, 0, 0], [0, 0, -1, 8.2], [0, 1, 0, 0], [0, 0, 0, 1.0]]))
    ends = [slab((-0.2, -0.2, 0), (6.2, 0, ridge)), slab((-0.2, 8, 0), (6.2, 8.2, ridge))]
    knees = [slab((-0.2, 0, 0), (0, 8, knee + 0.01)), slab((6, 0, 0), (6.2, 8, knee + 0.01))]
    return WorkingSet(set_of(slab((-0.2, -0.2, -0.2), (6.2, 8.2, 0)), roof, *ends, *knees))


@pytest.mark.parametrize(("knee", "slope", "wide"), [(0.6, 1.0, 6.0), (1.0, 1.2, 6.0), (2.0, 0.6, 5.5)])
def test_a_room_under_a_slope_is_taken_from_the_foot_of_its_walls_where_that_is_much_wider(knee, slope, wide):
    """Over the doors (2.15 m) the slopes have come 1.55, 0.96 and 0.25 m in from either side."""
    (room,) = propose_rooms(_under_a_roof(knee, slope), Level(name="Loft", floor_m=0.0))
    outline = np.array(room.outline)
    assert np.ptp(outline[:, 0]) == pytest.approx(wide, abs=0.05)
    assert np.ptp(outline[:, 1]) == pytest.approx(8.0, abs=0.05)


def test_two_rooms_over_one_foot_stay_two():
    """Where a partition stands on a beam, open below, the foot is of both and none is widened to it."""
    open_below = slab((2.9, 0, 1.9), (3.1, 8, 3.0))
    walls = [slab((-0.2, -0.2, 0), (0, 8.2, 3)), slab((6, -0.2, 0), (6.2, 8.2, 3)), slab((0, -0.2, 0), (6, 0, 3)), slab((0, 8, 0), (6, 8.2, 3))]  # fmt: skip
    working = WorkingSet(set_of(slab((-0.2, -0.2, -0.2), (6.2, 8.2, 0)), slab((-0.2, -0.2, 3.0), (6.2, 8.2, 3.2)), *walls, open_below))  # fmt: skip
    rooms = propose_rooms(working, Level(name="G", floor_m=0.0))
    assert sorted(round(float(np.ptp(np.array(room.outline)[:, 0])), 2) for room in rooms) == [2.9, 2.9]
