"""Exposing for what the frame shows."""

from __future__ import annotations

from typing import ClassVar, Literal

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.camera.meter import metered_ev
from zevlo.core.constraints.exposure import exposed
from zevlo.core.instruments.instrument import (
    Gesture,
    Scene,
)
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import LitSet
from zevlo.core.shot import Shot


def metered(shot: Shot, lit: LitSet) -> Shot:
    """The shot exposed for what its frame shows in a lit set, that is as the shot shows it."""
    return exposed(shot, metered_ev(camera_of(shot).whole, lit))


class Meter(Gesture):
    """Expose for what the frame shows; the shutter gives way."""

    needs_light: ClassVar[bool] = True
    kind: Literal["meter"] = "meter"

    def apply(self, shot: Shot, scene: Scene) -> Shot:
        if scene.lit is None:
            raise Refused("There is no set to read the light from.")
        return metered(shot, scene.lit)
