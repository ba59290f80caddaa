"""What a shot holds on to while it moves: its height above the floor, the point it follows; and what it leaves out."""

from __future__ import annotations

import numpy as np

from zevlo.core.camera import camera_of
from zevlo.core.gestures import (
    FollowSeen,
    HoldGesture,
    LeaveGesture,
    LeaveOutSeen,
    LetGo,
    PutBackAll,
    Refused,
    StayAbove,
)
from zevlo.core.scene.model import with_all_below
from zevlo.core.scene.working import WorkingSet
from zevlo.core.seen import Seen, seen_from
from zevlo.core.shot import FollowAim, Shot, Stand
from zevlo.core.stand.follow_aim import CannotFollow, kept_place, place_in_frame, turned_to


def refollowed(before: Shot, after: Shot) -> Shot:
    """A changed shot whose point keeps its place in the frame where the stand moved, or has its new place noted."""
    stand = after.stand
    if stand.follow is None:
        return after
    if stand.position == before.stand.position:
        return after.with_groups(stand=kept_place(camera_of(after), stand))
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


def hold(shot: Shot, gesture: HoldGesture, working: WorkingSet) -> Stand:
    """The stand with what it holds on to from now on, or let go of. Raises :class:`Refused`."""
    stand = shot.stand
    if isinstance(gesture, LetGo):
        return stand.model_copy(update={"follow": None})
    if isinstance(gesture, StayAbove):
        if not gesture.on:
            return stand.model_copy(update={"above_floor_m": None})
        floor = working.floor_under(np.array(stand.position))
        if floor is None:
            raise Refused("There is no floor under the stand, so it cannot stay above one.")
        return stand.model_copy(update={"above_floor_m": stand.position[2] - floor})
    if isinstance(gesture, FollowSeen):
        seen = seen_in(shot, working, gesture.x, gesture.y)
        if seen is None:
            raise Refused("There is only sky at that place; pick something in the set to follow.")
        place = FollowAim(part=working.model.ids[seen.part], point=seen.at, at=(gesture.x, gesture.y))
        return stand.model_copy(update={"follow": place})
    x, y, z = middle_of(working, gesture.part)
    at = place_in_frame(camera_of(shot), (x, y, z))
    if at is None or not all(0.0 <= share <= 1.0 for share in at):
        raise Refused("That part is not in the frame; aim at it first, then follow it.")
    return stand.model_copy(update={"follow": FollowAim(part=gesture.part, point=(x, y, z), at=at)})


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


def seen_in(shot: Shot, working: WorkingSet, x: float, y: float) -> Seen | None:
    """What a shot sees at a place in its frame; parts it leaves out are looked through."""
    gone = with_all_below(working.model.parts_at(shot.left_out), working.model.parents)
    return seen_from(camera_of(shot), x, y, working, frozenset(gone))


def refuse_what_is_lifted(shot: Shot, working: WorkingSet, x: float, y: float) -> None:
    """Raise :class:`Refused` where what a shot sees at a place is put aside while one works: pictures show it.

    Nobody should focus on, or leave out, what they do not see; nor on what the picture will not show.
    """
    if working.whole is working:
        return
    seen = seen_in(shot, working.whole, x, y)
    if seen is not None and working.is_lifted(seen.part, seen.at[2]):
        name = working.model.parts[seen.part].name
        raise Refused(
            f"“{name}” is in the way there: it is only lifted off while working, and pictures show it. "
            "Put it back, or leave it out of this shot."
        )


def leave_out(shot: Shot, gesture: LeaveGesture, working: WorkingSet) -> Shot:
    """The shot with a part left out, or put back. Raises :class:`Refused`."""
    if isinstance(gesture, PutBackAll):
        return shot.model_copy(update={"left_out": ()})
    if isinstance(gesture, LeaveOutSeen):
        seen = seen_in(shot, working, gesture.x, gesture.y)
        if seen is None:
            raise Refused("There is only sky at that place.")
        part, out = working.model.ids[seen.part], True
    else:
        part, out = gesture.part, gesture.out
        found = working.model.parts_at([part])
        if out and not found:
            raise Refused(f"There is no part “{part}” in this set.")
        part = working.model.ids[next(iter(found))] if found else part
    others = tuple(one for one in shot.left_out if one != part)
    return shot.model_copy(update={"left_out": (*others, part) if out else others})
