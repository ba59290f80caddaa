"""Two shots of one picture, sharp in front and at the back, made by one question."""

from __future__ import annotations

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import refuse_what_is_lifted
from zevlo.core.instruments.focus.pairs import FocusPair, pair
from zevlo.core.instruments.instrument import Scene
from zevlo.core.scene.places.levels import NO_CONTEXT, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot


def pair_made(shot: Shot, asked: FocusPair, working: WorkingSet, where: SetContext = NO_CONTEXT) -> tuple[Shot, Shot]:
    """The two shots of a pair, sharp in front and at the back. Raises :class:`~zevlo.core.refused.Refused`."""
    framing = Framing(shot, working.whole)
    for place in asked.pressed:
        refuse_what_is_lifted(framing, working, *place)
    return pair(framing, asked, Scene(working.whole, None, where))
