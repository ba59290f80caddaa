"""How the corners of a picture get less light than its middle: by the law of the lens, and by the rim of its barrel."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import acos, pi, sqrt
from typing import Any

from zevlo.core.optics.laws import Law
from zevlo.text import optics as say

_HALVINGS = 60
CIRCLE_EDGE = 0.02
"""How far beyond an image circle, as a share of its radius, the last of its light comes (our convention)."""


@lru_cache(maxsize=256)
def rim_shift(hidden: float) -> float:
    """How far a disc has to be moved, in radii, for another of its size to hide ``hidden`` of it, 0 to 1.

    Two discs of radius 1 at a distance s share 2·acos(s/2) - (s/2)·√(4-s²) of π.
    """
    if not 0.0 <= hidden <= 1.0:
        raise ValueError(say.a_share_goes_from_0(hidden))
    low, high = 0.0, 2.0
    for _ in range(_HALVINGS):
        s = (low + high) / 2.0
        shared = (2.0 * acos(s / 2.0) - s / 2.0 * sqrt(4.0 - s * s)) / pi
        low, high = (s, high) if 1.0 - shared < hidden else (low, s)
    return (low + high) / 2.0


_APART = 1.0e-9


@dataclass(frozen=True)
class Corners:
    """What a lens does to its corners.

    ``natural``: whether the law's own falloff counts. ``shift``: how far, in radii of the wide open pupil, the rim of
    the barrel has moved across it as seen from ``corner_mm`` off the axis. ``pupil``: radius of the pupil as it is
    stopped down, of the wide open one's. ``circle_mm``: diameter of the image circle, where there is one.
    """

    natural: bool
    shift: float
    corner_mm: float
    pupil: float
    circle_mm: float | None = None

    @property
    def none(self) -> bool:
        """Whether nothing falls off."""
        return not self.natural and self.shift == 0.0 and self.circle_mm is None

    def drawn(self, xp: Any, x: Any, y: Any) -> Any:
        """Share of its light that the image circle lets through at film ``x``, ``y`` (mm): all of it as far as the
        circle goes, none from a little beyond; a circle has no hard edge."""
        if self.circle_mm is None:
            return 0.0 * x + 1.0
        over = xp.sqrt(x * x + y * y) / (self.circle_mm / 2.0) - 1.0
        return 1.0 - xp.minimum(xp.maximum(over / CIRCLE_EDGE, 0.0), 1.0)

    def light(self, xp: Any, law: Law, x: Any, y: Any) -> Any:
        """Share of its light that film at ``x``, ``y`` (mm) gets, of what it would in the middle.

        The part of a disc of radius p that lies in one of radius 1 at a distance d; from the areas of two segments.
        """
        own = self.drawn(xp, x, y)
        if self.natural:
            own = own * law.falloff(xp, x, y)
        if self.shift == 0.0:
            return own
        p, d = self.pupil, xp.sqrt(x * x + y * y) * (self.shift / self.corner_mm)
        held = xp.minimum(xp.maximum(d, 1.0 - p + _APART), 1.0 + p - _APART)
        along, other = (held * held + p * p - 1.0) / (2.0 * held * p), (held * held + 1.0 - p * p) / (2.0 * held)
        one = p * p * _segment(xp, xp.minimum(xp.maximum(along, -1.0), 1.0))
        shared = (one + _segment(xp, xp.minimum(xp.maximum(other, -1.0), 1.0))) / (pi * p * p)
        rim = xp.where(d <= 1.0 - p, 1.0, xp.where(d >= 1.0 + p, 0.0, shared))
        return own * rim


EVEN = Corners(natural=False, shift=0.0, corner_mm=1.0, pupil=1.0)
"""Corners as bright as the middle."""


def _segment(xp: Any, at: Any) -> Any:
    """Area of the part of a disc of radius 1 beyond a line ``at`` from its middle."""
    return xp.arccos(at) - at * xp.sqrt(xp.maximum(1.0 - at * at, 0.0))
