"""What comes of a gesture: what the instrument makes of it, and what the stand holds on to."""

from __future__ import annotations

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import refuse_what_is_lifted
from zevlo.core.constraints.follow_aim import keep_aim_point, place_noted
from zevlo.core.constraints.follow_focus import refocused
from zevlo.core.constraints.settling import on_its_floor, settled
from zevlo.core.constraints.uprights import kept_upright
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.instruments.remedy import Remedy
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.places.levels import NO_CONTEXT, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot


def apply_gesture(
    shot: Shot, gesture: Gesture, working: WorkingSet, lit: LitSet | None = None, where: SetContext = NO_CONTEXT
) -> Shot:
    """The shot after a gesture, with all that goes with it: the height it stays at, the point it follows, uprights
    that are kept true.

    The whole set rules, whatever is lifted off of ``working``.
    Raises :class:`~zevlo.core.refused.Refused` where it cannot be followed, and pydantic's ``ValidationError`` where
    the result would not be a valid shot.

    ``working``: the set; ``lit``: it in its light, for gestures that ask for that; ``where``: its levels, primes and
    north."""
    framing = Framing(shot, working.whole)
    for place in gesture.pressed:
        refuse_what_is_lifted(framing, working, *place)
    after = gesture.apply(framing, Scene(working.whole, lit, where))
    if not gesture.settles:
        return after
    return settled(after, lambda turned: refocused(Framing(_held(framing, gesture, turned), working.whole)))


def alternatives_to(
    shot: Shot, short: Refused, working: WorkingSet, where: SetContext = NO_CONTEXT
) -> list[Remedy[Gesture]]:
    """What else does what a gesture asked of a shot and got only in part, as its instrument knows."""
    framing, scene = Framing(short.nearest or shot, working.whole), Scene(working.whole, None, where)
    return [remedy for one in INSTRUMENTS for remedy in one.alternatives(framing, short.asked, scene)]


def _held(before: Framing, gesture: Gesture, after: Shot) -> Shot:
    shot = before.shot
    if before.working is not None:
        after = on_its_floor(shot, after, before.working)
    if gesture.sets_attitude:
        return place_noted(Framing(after))
    if after.stand.position == shot.stand.position:
        return keep_aim_point(shot, Framing(kept_upright(before, Framing(after))))
    return kept_upright(before, Framing(keep_aim_point(shot, Framing(after))), in_place=True)
