"""What comes of a gesture: what the instrument makes of it, and what the stand holds on to."""

from __future__ import annotations

from zevlo.core.holding import on_its_floor, refollowed
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.scene.levels import NOWHERE, Where
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.working import WorkingSet
from zevlo.core.seen import refuse_what_is_lifted
from zevlo.core.shot import Shot


def follow(
    shot: Shot, gesture: Gesture, working: WorkingSet, lit: LitSet | None = None, where: Where = NOWHERE
) -> Shot:
    """The shot after a gesture, with all that goes with it: the height it stays at, the point it follows.

    The whole set rules, whatever is lifted off of ``working``.
    Raises :class:`~zevlo.core.refused.Refused` where it cannot be followed, and pydantic's ``ValidationError`` where
    the result would not be a valid shot.
    """
    if isinstance(gesture, PressedInPicture):
        refuse_what_is_lifted(shot, working, gesture.x, gesture.y)
    after = gesture.follow(shot, Scene(working.whole, lit, where))
    return refollowed(shot, on_its_floor(shot, after, working.whole)) if gesture.settles else after
