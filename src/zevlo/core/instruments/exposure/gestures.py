"""Exposing for what the frame shows."""

from __future__ import annotations

from typing import ClassVar, Literal

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.meter import metered_ev
from zevlo.core.constraints.exposure import exposed
from zevlo.core.instruments.instrument import (
    Gesture,
    Scene,
)
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import LitSet
from zevlo.core.shot import Shot
from zevlo.text import exposure as say


def metered(framing: Framing, lit: LitSet) -> Shot:
    """The shot exposed for what its frame shows in a lit set, that is as the shot shows it."""
    shot = framing.shot
    return exposed(shot, metered_ev(framing.camera.whole, lit))


class Meter(Gesture):
    """Expose for what the frame shows; the shutter gives way."""

    needs_light: ClassVar[bool] = True
    kind: Literal["meter"] = "meter"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        if scene.lit is None:
            raise Refused(say.THERE_IS_NO_SET)
        return metered(framing, scene.lit)
