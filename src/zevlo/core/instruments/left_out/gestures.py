"""Leaving parts of the set out of a shot, and putting them back."""

from __future__ import annotations

from typing import ClassVar, Literal

from zevlo.core.bases import PartId
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.text import everywhere


def _without(shot: Shot, part: str, out: bool) -> Shot:
    others = tuple(one for one in shot.left_out if one != part)
    return shot.model_copy(update={"left_out": (*others, part) if out else others})


class LeaveOutSeen(PressedInPicture):
    """Leave the part out that is seen at a place in the frame."""

    settles: ClassVar[bool] = False
    kind: Literal["leave_out_seen"] = "leave_out_seen"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        return _without(shot, scene.working.model.ids[seen.part], True)


class LeaveOut(Gesture):
    """Leave a part out of this shot, or put it back."""

    settles: ClassVar[bool] = False
    kind: Literal["leave_out"] = "leave_out"
    part: PartId
    out: bool = True

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        found = scene.working.model.parts_at([self.part])
        if self.out and not found:
            raise Refused(everywhere.there_is_no_part(self.part))
        return _without(shot, scene.working.model.ids[next(iter(found))] if found else self.part, self.out)


class PutBackAll(Gesture):
    """Nothing is left out any more."""

    settles: ClassVar[bool] = False
    kind: Literal["put_back_all"] = "put_back_all"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.model_copy(update={"left_out": ()})
