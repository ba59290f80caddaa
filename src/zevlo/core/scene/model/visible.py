"""What of a set is there: three things that are never one.

*Lifted off* is put aside while one works, and no picture notices. *Left out* is what one shot does not show. A
*cutting plane* takes away, for one shot, all on the side it faces.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from zevlo.core.arrays import Floats


@dataclass(frozen=True)
class Lifted:
    """Parts, by number, with all below them; and everything above a height, where one is given."""

    parts: frozenset[int] = frozenset()
    above: float | None = None

    @property
    def anything(self) -> bool:
        return bool(self.parts) or self.above is not None


@dataclass(frozen=True)
class CuttingPlane:
    """A plane through ``point``; what lies on the side its unit ``normal`` points to is not there."""

    point: tuple[float, float, float]
    normal: tuple[float, float, float]

    def over(self, places: Floats) -> Floats:
        """How far places (n, 3) lie on the side that is taken away, (n,)."""
        far: Floats = (places - np.array(self.point)) @ np.array(self.normal)
        return far


def all_above(height: float) -> CuttingPlane:
    """The plane that takes away all above a height."""
    return CuttingPlane((0.0, 0.0, height), (0.0, 0.0, 1.0))


@dataclass(frozen=True)
class Visible:
    """What is put aside while one works, what a shot leaves out. What a shot cuts away is closed with faces of its own,
    which no part of the set has: see :mod:`zevlo.core.scene.as_shown`."""

    lifted: Lifted = field(default_factory=Lifted)
    left_out: frozenset[int] = frozenset()

    @property
    def gone(self) -> frozenset[int]:
        """Numbers of all parts that are not there, without those below them."""
        return self.lifted.parts | self.left_out

    @property
    def planes(self) -> tuple[CuttingPlane, ...]:
        """All that cuts the set while one works."""
        return () if self.lifted.above is None else (all_above(self.lifted.above),)
