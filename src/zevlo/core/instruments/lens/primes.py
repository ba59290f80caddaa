"""Sets of prime lenses, and stepping through one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from zevlo.core.bases import Settings
from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics.lens import PRIMES_MM
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import LONGEST_MM, SHORTEST_MM, with_focal_length
from zevlo.text import lens as say

FocalLength = Annotated[float, Field(ge=SHORTEST_MM, le=LONGEST_MM)]
SAME_MM = 1.0e-6


class PrimeSet(Settings):
    """A set of prime lenses, the shortest first."""

    name: str = Field(min_length=1, max_length=60)
    focal_lengths_mm: tuple[FocalLength, ...] = Field(min_length=1, max_length=40)
    """Focal lengths in mm."""

    @field_validator("focal_lengths_mm")
    @classmethod
    def _in_order(cls, given: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(sorted(set(given)))


PRIME_SETS = (
    PrimeSet(name="14 to 200 mm", focal_lengths_mm=PRIMES_MM),
    PrimeSet(name="Large backs, 47 to 450 mm", focal_lengths_mm=(47, 65, 90, 120, 150, 210, 300, 450)),
)
"""Common practice, no source. The first is the usual one."""


class PrimeStep(Gesture):
    """The next longer, or next shorter, prime lens of the project's set."""

    kind: Literal["prime_step"] = "prime_step"
    by: Literal[1, -1]

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.lens.scale_m is not None:
            raise Refused(say.A_PARALLEL_PICTURE_HAS_NO_FOCAL)
        now, primes = shot.lens.focal_length_mm, scene.where.primes
        if self.by > 0:
            found = next((f for f in primes if f > now + SAME_MM), None)
        else:
            found = next((f for f in reversed(primes) if f < now - SAME_MM), None)
        if found is None:
            raise Refused(say.NO_LONGER_LENS if self.by > 0 else say.NO_SHORTER_LENS)
        return shot.with_groups(lens=with_focal_length(shot.lens, found))
