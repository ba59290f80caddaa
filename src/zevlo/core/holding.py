"""What a shot holds on to while it moves: its height above the floor, and the point it follows."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from zevlo.core.camera import camera_of, film_distance_mm
from zevlo.core.focus_on import refocused
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.stand.follow_aim import CannotFollow, kept_place, turned_to

if TYPE_CHECKING:
    from zevlo.core.shot import Shot


def rewritten(before: Shot, after: Shot) -> Shot:
    """A shot of which keys were written, with all that goes along: the point it follows, what its focus is kept on. A
    distance that was written lets that go."""
    own = after.focus
    if own.on is not None and own.on == before.focus.on and own.distance_m != before.focus.distance_m:
        after = after.with_groups(focus=own.model_copy(update={"on": None}))
    return settled(after, lambda shot: refocused(refollowed(before, shot)))


MOST_STEPS = 30
SETTLED = 1.0e-10


def settled(shot: Shot, step: Callable[[Shot], Shot]) -> Shot:
    """A shot after a step that turns and focuses it. A lens that breathes draws larger or smaller as it is focused, so
    that there it is taken until both agree."""
    for _ in range(MOST_STEPS):
        before, shot = shot, step(shot)
        if not shot.lens.focus_breathing or shot.lens.scale_m is not None:
            break
        if abs(film_distance_mm(shot) / film_distance_mm(before) - 1.0) < SETTLED:
            break
    return shot


def place_noted(shot: Shot) -> Shot:
    """A shot with the place noted at which the point it follows now lies in the frame."""
    return shot if shot.stand.follow is None else shot.with_groups(stand=kept_place(camera_of(shot), shot.stand))


def refollowed(before: Shot, after: Shot) -> Shot:
    """A changed shot whose point keeps its place in the frame where the stand moved, or has its new place noted."""
    stand = after.stand
    if stand.follow is None:
        return after
    if stand.position == before.stand.position:
        return place_noted(after)
    try:
        return after.with_groups(stand=turned_to(camera_of(after), stand, stand.follow))
    except CannotFollow as reason:
        raise Refused(str(reason)) from reason


def part_moved(shot: Shot, point: tuple[float, float, float]) -> Shot:
    """The shot when the point it follows has moved to another place. Raises :class:`Refused`."""
    stand = shot.stand
    if stand.follow is None:
        return shot
    try:
        to = stand.follow.model_copy(update={"point": point})
        return shot.with_groups(stand=turned_to(camera_of(shot), stand, to))
    except CannotFollow as reason:
        raise Refused(str(reason)) from reason


def on_its_floor(before: Shot, after: Shot, working: WorkingSet) -> Shot:
    """The stand put back to its height above the floor where it stays above it; another height is the new one."""
    stand = after.stand
    above = stand.above_floor_m
    if above is None or stand.position == before.stand.position:
        return after
    floor = working.floor_at(*stand.position)
    if floor is None:
        return after
    if stand.position[:2] == before.stand.position[:2]:
        # Moved up or down on the spot: that is another height to stay at.
        return after.with_groups(stand=stand.model_copy(update={"above_floor_m": stand.position[2] - floor}))
    rise = floor + above - stand.position[2]
    goes_along = stand.aim != before.stand.aim
    x, y, z = stand.aim
    put = {"position": (*stand.position[:2], floor + above), "aim": (x, y, z + rise) if goes_along else stand.aim}
    return after.with_groups(stand=stand.model_copy(update=put))


def middle_of(working: WorkingSet, part: str) -> tuple[float, float, float]:
    """The middle of a part's box. Raises :class:`Refused` where there is no such part, or nothing in it."""
    found = working.model.parts_at([part])
    if not found:
        raise Refused(f"There is no part “{part}” in this set.")
    number = next(iter(found))
    try:
        x, y, z = working.model.box_of(number).mean(axis=0).tolist()
    except ValueError as empty:
        raise Refused(f"“{working.model.parts[number].name}” has nothing in it to aim at.") from empty
    return x, y, z
