"""What comes of a gesture: what the instrument makes of it, and what the stand holds on to."""

from __future__ import annotations

from zevlo.core.camera.picking import refuse_what_is_lifted
from zevlo.core.constraints.follow_aim import keep_aim_point, place_noted
from zevlo.core.constraints.follow_focus import refocused
from zevlo.core.constraints.settling import on_its_floor, settled
from zevlo.core.constraints.uprights import kept_upright
from zevlo.core.instruments.focus.alternatives import FocusWay, ways_to
from zevlo.core.instruments.focus.pairs import FocusPair, pair
from zevlo.core.instruments.focus.stop_solver import SharpAsked
from zevlo.core.instruments.instrument import Gesture, Scene
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
    """
    for place in gesture.pressed:
        refuse_what_is_lifted(shot, working, *place)
    after = gesture.apply(shot, Scene(working.whole, lit, where))
    if not gesture.settles:
        return after
    return settled(after, lambda turned: refocused(_held(shot, gesture, turned, working), working.whole))


def ways_on(shot: Shot, short: Refused, working: WorkingSet, where: SetContext = NO_CONTEXT) -> list[FocusWay]:
    """Other ways to what a gesture asked of a shot and got only in part."""
    if not isinstance(short.asked, SharpAsked):
        return []
    return ways_to(short.nearest or shot, short.asked, Scene(working.whole, None, where))


def pair_made(shot: Shot, asked: FocusPair, working: WorkingSet, where: SetContext = NO_CONTEXT) -> tuple[Shot, Shot]:
    """The two shots of a pair, sharp in front and at the back. Raises :class:`~zevlo.core.refused.Refused`."""
    for place in asked.pressed:
        refuse_what_is_lifted(shot, working, *place)
    return pair(shot, asked, Scene(working.whole, None, where))


def _held(shot: Shot, gesture: Gesture, after: Shot, working: WorkingSet) -> Shot:
    after = on_its_floor(shot, after, working.whole)
    if gesture.sets_attitude:
        return place_noted(after)
    if after.stand.position == shot.stand.position:
        return keep_aim_point(shot, kept_upright(shot, after))
    return kept_upright(shot, keep_aim_point(shot, after), in_place=True)
