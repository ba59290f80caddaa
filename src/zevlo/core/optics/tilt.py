"""A lens tilted and swung before its film: which way it then looks, and where the plane of sharp focus turns about.

Camera axes: X to the right, Y up in the picture, D along the axis of the camera, at right angles to the film. The thin
lens stands at right angles to its own axis n. What lies at p (mm) is sharp on film v behind the lens where
(v·n - f·e)·p = v·f, e along D: the thin lens equation along n, and the image taken through the middle of the lens.
All such planes meet the plane through the lens parallel to the film (D = 0) in n·p = f, the hinge line, whatever v is.
Hinge: Merklinger, *Focusing the View Camera*, 1993 (from memory).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import asin, atan2, cos, degrees, inf, radians, sin

from zevlo.core.shot.limits import turn_cosine

Axis = tuple[float, float, float]
"""Right, up, ahead, of length 1."""


_NO_TURN_DEG = 1.0e-9
NOTHING_PER_M = 1.0e-12
"""Inverse of a distance that counts as infinite, whatever rounding leaves of it."""


@dataclass(frozen=True)
class Tilted:
    """A lens turned before its film. ``axis``: where it looks; ``right`` and ``up``: two ways in its own plane."""

    axis: Axis
    right: Axis
    up: Axis

    @property
    def cosine(self) -> float:
        """Of the angle it is turned by in all."""
        return self.axis[2]


@lru_cache(maxsize=256)
def tilted(tilt_deg: float, swing_deg: float) -> Tilted:
    """The lens after tilt, then swing: it looks down for a positive tilt, to the left for a positive swing.

    Turned about the level axis first, then about the upright one, as heads do whose swing carries the tilt.
    """
    a, b = radians(tilt_deg), radians(swing_deg)
    return Tilted(
        axis=(-sin(b) * cos(a), -sin(a), turn_cosine(tilt_deg, swing_deg)),
        right=(cos(b), 0.0, sin(b)),
        up=(-sin(b) * sin(a), cos(a), cos(b) * sin(a)),
    )


def turned_to_look(axis: Axis) -> tuple[float, float]:
    """Tilt and swing in degrees of a lens that looks along a unit ``axis``; inverse of :func:`tilted`."""
    across, up, ahead = axis
    tilt, swing = degrees(asin(max(-1.0, min(1.0, -up)))), degrees(atan2(-across, ahead))
    return tuple(0.0 if abs(one) < _NO_TURN_DEG else one for one in (tilt, swing))  # type: ignore[return-value]


def lean_per_m(focal_length_mm: float, lens: Tilted) -> tuple[float, float]:
    """How much nearer things are sharp to the right, and above, of the middle of the picture: 1/m for each metre of
    X/D and of Y/D.

    A plane of the wedge is lean·(X/D, Y/D) + c = 1/D, c the inverse of the distance at which it crosses the axis; so
    the lean is n over f, the same for all.
    """
    return 1000.0 * lens.axis[0] / focal_length_mm, 1000.0 * lens.axis[1] / focal_length_mm


def hinge_m(focal_length_mm: float, lens: Tilted) -> tuple[float | None, float | None]:
    """How far to the right of the lens, and above it, the hinge line crosses; None where it runs beside."""
    across, up = lean_per_m(focal_length_mm, lens)
    return None if across == 0.0 else 1.0 / across, None if up == 0.0 else 1.0 / up


def sharp_depth_m(per_m: float) -> float:
    """A distance from its inverse; what would lie beyond infinity counts as infinite."""
    return 1.0 / per_m if per_m > NOTHING_PER_M else inf
