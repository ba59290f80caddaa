"""Names that tell: proposed from where a shot stands, which way it looks and with what lens."""

from __future__ import annotations

from typing import Literal

from zevlo.core.scene.places.levels import SetContext, level_at
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import compass_point, resolve
from zevlo.text import everywhere
from zevlo.text import framing as say

STEEP_DEG = 60.0


def place_and_direction(
    shot: Shot, where: SetContext, floor: float | None, points: Literal[8, 16] = 8
) -> tuple[str | None, str]:
    """The room a shot stands in, else the level, else None; and the point of the compass it looks to, or ``up`` or
    ``down``. ``floor``: height of the floor under the stand, which tells the level; None where there is none.

    Where two levels have a room of that name, the level goes before it.
    """
    pose = resolve(shot.stand)
    x, y, z = shot.stand.position
    z = z if floor is None else floor
    room, level = where.room_at(x, y, z), level_at(where.places, z)
    place = None
    if room is not None:
        twice = sum(other.name == room.name for other in where.places.rooms) > 1
        place = f"{room.level}, {room.name}" if twice else room.name
    elif level is not None:
        place = level.name
    if abs(pose.pitch_deg) > STEEP_DEG:
        return place, everywhere.UP if pose.pitch_deg > 0 else everywhere.DOWN
    return place, compass_point(where.heading(pose.heading_deg), points)


def proposed_name(shot: Shot, where: SetContext, floor: float | None, points: Literal[8, 16] = 8) -> str:
    """``Wheel room, looking NW, 28 mm``. Outside all rooms the level is named, and without levels only the rest."""
    place, direction = place_and_direction(shot, where, floor, points)
    looking = say.looking(direction)
    words = [looking if place is None else f"{place}, {looking}", shot.lens.called(digits=3)]
    name = ", ".join(words)[:110]
    return name[0].upper() + name[1:]
