"""What a shot holds on to while it moves: its height above the floor, and the point it follows."""

from __future__ import annotations

from collections.abc import Callable

from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.follow_aim import keep_aim_point
from zevlo.core.constraints.follow_focus import refocused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot


def apply_edit(before: Shot, after: Shot) -> Shot:
    """A shot of which keys were written, with all that goes along: the point it follows, what its focus is kept on. A
    distance that was written lets that go."""
    own = after.focus
    if own.follow is not None and own.follow == before.focus.follow and own.distance_m != before.focus.distance_m:
        after = after.with_groups(focus=own.model_copy(update={"follow": None}))
    return settled(after, lambda shot: refocused(Framing(keep_aim_point(before, Framing(shot)))))


MOST_STEPS = 30
SETTLED = 1.0e-10


def settled(shot: Shot, step: Callable[[Shot], Shot]) -> Shot:
    """A shot after a step that turns and focuses it. A lens that breathes draws larger or smaller as it is focused, so
    that there it is taken until both agree."""
    for _ in range(MOST_STEPS):
        before, shot = shot, step(shot)
        if not shot.lens.focus_breathing or shot.lens.scale_m is not None:
            break
        if abs(Framing(shot).film_distance_mm / Framing(before).film_distance_mm - 1.0) < SETTLED:
            break
    return shot


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


def high_as_it_is(shot: Shot, working: WorkingSet) -> Shot:
    """A shot that stays above the floor, staying from now on as high as it stands: its stand was worked out for what it
    sees from there."""
    stand = shot.stand
    floor = None if stand.above_floor_m is None else working.floor_at(*stand.position)
    if floor is None:
        return shot
    return shot.with_groups(stand=stand.model_copy(update={"above_floor_m": stand.position[2] - floor}))
