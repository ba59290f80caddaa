"""Gestures by which the stand holds on to something from now on: its height above the floor, a point it follows."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from zevlo.core.bases import PartId
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.follow_aim import middle_of, place_in_frame
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.stand import FollowAim
from zevlo.text import stand as say


def _holding(shot: Shot, **held: object) -> Shot:
    return shot.with_groups(stand=shot.stand.model_copy(update=held))


class StayAbove(Gesture):
    """From now on the stand stays as high above the floor as it is, or no longer."""

    settles: ClassVar[bool] = False
    kind: Literal["stay_above"] = "stay_above"
    on: bool

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if not self.on:
            return _holding(shot, above_floor_m=None)
        floor = scene.working.floor_under(np.array(shot.stand.position))
        if floor is None:
            raise Refused(say.THERE_IS_NO_FLOOR)
        return _holding(shot, above_floor_m=shot.stand.position[2] - floor)


class FollowSeen(PressedInPicture):
    """Follow what is seen at a place in the frame: it keeps that place."""

    settles: ClassVar[bool] = False
    kind: Literal["follow_seen"] = "follow_seen"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        part = scene.working.model.ids[seen.part]
        return _holding(shot, follow=FollowAim(part=part, point=seen.at, at=(self.x, self.y)))


class FollowPart(Gesture):
    """Follow the middle of a part at the place in the frame it has now."""

    settles: ClassVar[bool] = False
    kind: Literal["follow_part"] = "follow_part"
    part: PartId

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        middle = middle_of(scene.working, self.part)
        at = place_in_frame(framing.camera, middle)
        if at is None or not all(0.0 <= share <= 1.0 for share in at):
            raise Refused(say.THAT_PART_IS_NOT_IN_THE_FRAME)
        return _holding(shot, follow=FollowAim(part=self.part, point=middle, at=at))


class LetGo(Gesture):
    """Follow nothing any more."""

    settles: ClassVar[bool] = False
    kind: Literal["let_go"] = "let_go"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return _holding(shot, follow=None)
