"""Where the focus is put: by a press, a distance, a drawing, the barrel, or on something that is then followed."""

from __future__ import annotations

from math import inf
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from zevlo.core.bases import Coordinate, PartId
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M, focus_through, focused
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import depth_on_paper
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.follow_focus import depth_found, target_of
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import FollowFocus
from zevlo.core.shot.limits import Distance
from zevlo.text import focus as say


class FocusAt(PressedInPicture):
    """Focus on what is seen at a place in the frame, (0, 0) bottom left to (1, 1) top right."""

    kind: Literal["focus_at"] = "focus_at"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        distance = float(focus_through(framing, np.array([seen.at]))[0])
        return focused(shot, distance)


class FocusTo(Gesture):
    """Focus put at a distance along the lens axis."""

    kind: Literal["focus_to"] = "focus_to"
    distance_m: Distance

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return focused(shot, self.distance_m)


class FocusOnPaper(Gesture):
    """The focus line is put through a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["focus_on_paper"] = "focus_on_paper"
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        away = on_paper(framing, self.drawing, self.x, self.y)
        if -FARTHEST_FOCUS_M < away < 0.0:
            raise Refused(say.THERE_THE_PLANE_OF_FOCUS)
        return focused(shot, away if away > 0.0 else inf)


class FocusOnBarrel(Gesture):
    """The barrel is turned until the focus mark stands at ``at`` on its distance scale, 0 to 1 as in the sheet."""

    kind: Literal["focus_on_barrel"] = "focus_on_barrel"
    at: float = Field(ge=-10.0, le=10.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        found = barrel_distance_mm(shot.focus.distance_m * 1000.0, self.at)
        return focused(shot, found / 1000.0)


class FocusHyperfocal(Gesture):
    """Focus at the hyperfocal distance: sharp from half of it to infinity."""

    kind: Literal["focus_hyperfocal"] = "focus_hyperfocal"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        distance = framing.hyperfocal_m
        if distance is None:
            raise Refused(say.HYPERFOCAL_NEEDS_A_STOP)
        return focused(shot, distance)


def on_paper(framing: Framing, drawing: Literal["plan", "section"], x: float, y: float) -> float:
    """Where the plane of the sharp zone that passes a place on paper crosses the lens axis, m; may be infinite, or
    below 0 beyond that."""
    return depth_on_paper(framing.camera, drawing, x, y, framing.lean)


class FollowFocusPart(Gesture):
    """The focus is put on a part and kept there, wherever the camera goes: on what of it is nearest, or on its
    middle."""

    kind: Literal["follow_focus"] = "follow_focus"
    part: PartId
    where: Literal["nearest", "middle"] = "nearest"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        return _kept_on(framing, FollowFocus(part=self.part, point=(0.0, 0.0, 0.0), where=self.where), scene)


class FollowFocusSeen(PressedInPicture):
    """The focus is put on what is seen at a place in the frame and kept there: on that very point, on what of the part
    is nearest, or on its middle."""

    kind: Literal["follow_focus_seen"] = "follow_focus_seen"
    where: Literal["point", "nearest", "middle"] = "point"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        seen = thing_at(framing, self.x, self.y)
        part = scene.working.model.ids[seen.part]
        return _kept_on(framing, FollowFocus(part=part, point=seen.at, where=self.where), scene)


def _kept_on(framing: Framing, on: FollowFocus, scene: Scene) -> Shot:
    shot = framing.shot
    target = target_of(framing, on)
    if target is None:
        raise Refused(say.THERE_IS_NO_SUCH_PART)
    distance = depth_found(framing, target)
    if distance is None:
        raise Refused(say.THAT_LIES_BEHIND_THE_CAMERA)
    kept = focused(shot, distance)
    return kept.with_groups(focus=kept.focus.model_copy(update={"follow": on.model_copy(update={"point": target})}))


class LetFocusGo(Gesture):
    """The focus stays at the distance it has, and follows nothing any more."""

    settles: ClassVar[bool] = False
    kind: Literal["let_focus_go"] = "let_focus_go"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(focus=shot.focus.model_copy(update={"follow": None}))
