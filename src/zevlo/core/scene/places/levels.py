"""Levels and rooms: where in a building something is. They feed the plan, the floor height and the shot names."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Self

import numpy as np
import shapely
from pydantic import Field, model_validator

from zevlo.core.arrays import Floats
from zevlo.core.bases import Coordinate, Settings
from zevlo.core.optics.lens import PRIMES_MM
from zevlo.text import everywhere
from zevlo.text import scene as say

MOST_LEVELS, MOST_ROOMS = 200, 2000
KNEE_M = 0.35
"""A stand this little below a level still belongs to it: thresholds, steps, floors that are not quite even."""

PlaceName = Annotated[str, Field(min_length=1, max_length=120)]


class Level(Settings):
    """A storey: a name and the height of its floor, in metres above zero."""

    name: PlaceName
    floor_m: Coordinate


class Room(Settings):
    """A room: a name, the level it is on, and its outline in plan, metres, three corners or more."""

    name: PlaceName
    level: PlaceName
    outline: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=3, max_length=500)

    @model_validator(mode="after")
    def _has_an_area(self) -> Self:
        if abs(signed_area(np.array(self.outline))) < 1.0e-4:
            raise ValueError(say.THE_OUTLINE_OF_A_ROOM)
        return self


class Places(Settings):
    """The levels of a project from the lowest up, and their rooms."""

    levels: tuple[Level, ...] = Field((), max_length=MOST_LEVELS)
    rooms: tuple[Room, ...] = Field((), max_length=MOST_ROOMS)

    @model_validator(mode="after")
    def _names_are_names(self) -> Self:
        names = [level.name for level in self.levels]
        if len(set(names)) < len(names):
            raise ValueError(say.TWO_LEVELS_HAVE_THE_SAME)
        for room in self.rooms:
            if room.level not in names:
                raise ValueError(say.the_room_is_on_which_is_no_level(room.name, room.level))
        if len({(room.level, room.name) for room in self.rooms}) < len(self.rooms):
            raise ValueError(say.TWO_ROOMS_ON_ONE)
        return self

    def in_order(self) -> Places:
        """Levels from the lowest up."""
        return Places(levels=tuple(sorted(self.levels, key=lambda level: level.floor_m)), rooms=self.rooms)


def with_level(places: Places, floor_m: float) -> tuple[Places, str]:
    """The places with a level more at a height, and how it is called: by how many there are. As they were where one
    lies there already."""
    there = next((level.name for level in places.levels if level.floor_m == floor_m), None)
    if there is not None:
        return places, there
    name = _free_name(say.LEVEL, len(places.levels), {level.name for level in places.levels})
    level = Level(name=name, floor_m=floor_m)
    return Places(levels=(*places.levels, level), rooms=places.rooms).in_order(), name


def with_room(places: Places, level: str, outline: tuple[tuple[float, float], ...]) -> tuple[Places, str]:
    """The places with a room more on a level, and how it is called. As they were where the same was drawn already."""
    there = next((room.name for room in places.rooms if room.level == level and room.outline == outline), None)
    if there is not None:
        return places, there
    name = _free_name(everywhere.ROOM, 1, {room.name for room in places.rooms})
    return Places(levels=places.levels, rooms=(*places.rooms, Room(name=name, level=level, outline=outline))), name


def _free_name(what: str, number: int, taken: set[str]) -> str:
    while f"{what} {number}" in taken:
        number += 1
    return f"{what} {number}"


def signed_area(outline: Floats) -> float:
    """Area of a closed outline (n, 2), positive where it runs anticlockwise."""
    after = np.roll(outline, -1, axis=0)
    return float(0.5 * np.sum(outline[:, 0] * after[:, 1] - after[:, 0] * outline[:, 1]))


def within(outline: Floats, x: float, y: float) -> bool:
    """Whether a place in plan lies inside a closed outline (n, 2), by the crossings of its sides."""
    inside = False
    corners = outline.tolist()
    ax, ay = corners[-1]
    for bx, by in corners:
        if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
            inside = not inside
        ax, ay = bx, by
    return inside


def mark_in(outline: Floats) -> tuple[float, float]:
    """Where the name of a room stands in plan: the middle of the largest circle in its outline (n, 2)."""
    area = shapely.Polygon(outline)
    circle = shapely.maximum_inscribed_circle(area if area.is_valid else area.buffer(0), tolerance=0.05)
    x, y = circle.coords[0]
    return float(x), float(y)


def level_at(places: Places, z: float) -> Level | None:
    """The level something at a height is on: the highest whose floor is not above it; None below all."""
    under = [level for level in places.levels if level.floor_m <= z + KNEE_M]
    return max(under, key=lambda level: level.floor_m, default=None)


@dataclass(frozen=True, eq=False)
class SetContext:
    """What a project tells of itself beside its set: what places are called by, where north lies, clockwise from +Y,
    and the prime lenses one steps through."""

    places: Places = field(default_factory=Places)
    north_deg: float = 0.0
    primes: tuple[float, ...] = PRIMES_MM

    @cached_property
    def _outlines(self) -> list[tuple[float, Floats, Room]]:
        """Rooms with their outlines, the smallest first: where two overlap, that is the one meant."""
        found = [(np.array(room.outline), room) for room in self.places.rooms]
        return sorted(((abs(signed_area(o)), o, room) for o, room in found), key=lambda entry: entry[0])

    def heading(self, from_y_deg: float) -> float:
        """A heading counted from +Y as one counted from north, 0 to 360."""
        return (from_y_deg - self.north_deg) % 360.0

    def room_at(self, x: float, y: float, z: float) -> Room | None:
        """The room a point lies in: on its level, inside its outline."""
        level = level_at(self.places, z)
        if level is None:
            return None
        return next((r for _, o, r in self._outlines if r.level == level.name and within(o, x, y)), None)


NO_CONTEXT = SetContext()


def places_moved(places: Places, change: Floats) -> Places:
    """Levels and rooms that go with their set through a correction, (4, 4) with the vertical kept upright."""

    def height(z: float) -> float:
        return float(change[2, 2] * z + change[2, 3])

    def at(place: tuple[float, float]) -> tuple[float, float]:
        x, y = (change[:2, :2] @ np.array(place) + change[:2, 3]).tolist()
        return x, y

    return Places(
        levels=tuple(Level(name=level.name, floor_m=height(level.floor_m)) for level in places.levels),
        rooms=tuple(
            room.model_copy(update={"outline": tuple(at(place) for place in room.outline)}) for room in places.rooms
        ),
    )
