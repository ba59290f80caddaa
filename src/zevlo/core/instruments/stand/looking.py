"""Gestures in a picture: the camera moves so that what it shows follows the hand. The scout view knows them too."""

from __future__ import annotations

from abc import abstractmethod
from typing import Literal

import numpy as np
from pydantic import Field

from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import with_scale
from zevlo.core.shot.stand import Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve


class InPicture(Gesture):
    """A gesture in any picture, of a shot or of the scout view."""

    kind: str
    """What is done."""

    @abstractmethod
    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        """The stand after it, in a picture ``width`` × ``height`` wide at distance 1 from the lens."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        camera = framing.camera
        far = camera.pose.aim_distance
        width, height = camera.span(far)
        return shot.with_groups(stand=self.moved(shot.stand, width / far, height / far))


class Look(InPicture):
    """The picture is pushed by shares of the frame: the camera pans and tilts so that it follows the hand."""

    kind: Literal["look"] = "look"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        camera = framing.camera
        across, upright = camera.law.angle_deg(camera.window.width), camera.law.angle_deg(0.0, camera.window.height)
        if across is None or upright is None:
            return super().apply(framing, scene)
        return shot.with_groups(stand=self._turned(shot.stand, across, upright))

    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        across, upright = 2.0 * np.degrees(np.arctan([width / 2.0, height / 2.0]))
        return self._turned(stand, float(across), float(upright))

    def _turned(self, stand: Stand, across_deg: float, upright_deg: float) -> Stand:
        return moves.turn(stand, *moves.levelled(stand, -self.right * across_deg, -self.up * upright_deg))


class Truck(InPicture):
    """The picture is pushed by shares of the frame: the camera moves parallel to the film, sideways and up."""

    kind: Literal["truck"] = "truck"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)

    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        far = resolve(stand).aim_distance
        return moves.truck_and_pedestal(stand, -self.right * width * far, -self.up * height * far)


class Orbit(InPicture):
    """Round the aim, in shares of the frame; a whole frame is half a turn."""

    kind: Literal["orbit"] = "orbit"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)

    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        return moves.orbit(stand, *moves.levelled(stand, self.right * 180.0, -self.up * 180.0))


class Dolly(InPicture):
    """To ``factor`` of the distance to the aim, which stays."""

    kind: Literal["dolly"] = "dolly"
    factor: float = Field(gt=0.01, lt=100.0)

    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        return moves.dolly(stand, self.factor)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.lens.scale_m is not None:
            # To come nearer changes nothing where rays are parallel: what is shown gets narrower.
            return shot.with_groups(lens=with_scale(shot.lens, shot.lens.scale_m * self.factor))
        return super().apply(framing, scene)


class Walk(InPicture):
    """Level steps in metres; height changes only by ``up``."""

    kind: Literal["walk"] = "walk"
    ahead: float = Field(0.0, ge=-1000.0, le=1000.0)
    right: float = Field(0.0, ge=-1000.0, le=1000.0)
    up: float = Field(0.0, ge=-1000.0, le=1000.0)

    def moved(self, stand: Stand, width: float, height: float) -> Stand:
        return moves.walk(stand, self.ahead, self.right, self.up)
