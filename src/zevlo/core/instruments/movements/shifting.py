"""Rise, fall and cross: the film shifted behind its lens, by whatever it is counted in."""

from __future__ import annotations

from math import radians, tan
from typing import ClassVar, Literal

from pydantic import Field

from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.uprights import can_shift
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.text import movements as say


class ShiftTo(Gesture):
    """The film put at a rise, a cross, or both; a missing one stays. Counted in millimetres of film, in shares of the
    frame's height and width, or in degrees the camera would have to be turned instead."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["shift_to"] = "shift_to"
    rise: float | None = Field(None, ge=-1000.0, le=1000.0)
    cross: float | None = Field(None, ge=-1000.0, le=1000.0)
    counted: Literal["mm", "share", "deg"] = "mm"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        width, height = framing.fitted.size_mm
        film: dict[str, float] = {}
        for key, value, side in (("rise_mm", self.rise, height), ("cross_mm", self.cross, width)):
            if value is not None:
                film[key] = self._on_film(framing, value, side)
        return shot.with_groups(movements=shot.movements.model_copy(update=film))

    def _on_film(self, framing: Framing, value: float, side_mm: float) -> float:
        shot = framing.shot
        if self.counted == "mm":
            return value
        if self.counted == "share":
            return value * side_mm
        if not can_shift(shot) or abs(value) >= 89.0:
            raise Refused(say.DEGREES_STAND_FOR_A_SHIFT)
        return framing.film_distance_mm * tan(radians(value))


class Unshift(Gesture):
    """Rise and cross to zero; the camera stays as it is turned, so the picture shows less of what it was shifted to."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["unshift"] = "unshift"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        update = {"rise_mm": 0.0, "cross_mm": 0.0, "before_straightening": None}
        return shot.with_groups(movements=shot.movements.model_copy(update=update))
