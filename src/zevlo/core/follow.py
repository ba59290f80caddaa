"""What comes of a gesture: what the instrument makes of it, and what the stand holds on to."""

from __future__ import annotations

from zevlo.core.focus_on import refocused
from zevlo.core.holding import on_its_floor, refollowed
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.scene.levels import NOWHERE, Where
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.working import WorkingSet
from zevlo.core.seen import refuse_what_is_lifted
from zevlo.core.shot import Shot
from zevlo.core.uprights import kept_upright


def follow(
    shot: Shot, gesture: Gesture, working: WorkingSet, lit: LitSet | None = None, where: Where = NOWHERE
) -> Shot:
    """The shot after a gesture, with all that goes with it: the height it stays at, the point it follows, uprights
    that are kept true.

    The whole set rules, whatever is lifted off of ``working``.
    Raises :class:`~zevlo.core.refused.Refused` where it cannot be followed, and pydantic's ``ValidationError`` where
    the result would not be a valid shot.
    """
    for place in gesture.pressed:
        refuse_what_is_lifted(shot, working, *place)
    after = gesture.follow(shot, Scene(working.whole, lit, where))
    if not gesture.settles:
        return after
    return refocused(_held(shot, gesture, after, working), working.whole)


def _held(shot: Shot, gesture: Gesture, after: Shot, working: WorkingSet) -> Shot:
    after = on_its_floor(shot, after, working.whole)
    if gesture.straightens:
        return refollowed(shot, after)
    if after.stand.position == shot.stand.position:
        return refollowed(shot, kept_upright(shot, after))
    return kept_upright(shot, refollowed(shot, after), in_place=True)
