"""The engraved distance scale of a lens barrel.

A real focusing helicoid moves by the lens extension, which goes with 1/u. So does this scale: infinity at
the right, and stop brackets lie symmetrically about the focus mark, as they do on a real lens
(from 1/near + 1/far = 2/u).
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, inf, log2

from zevlo.core.bases import SheetGroup
from zevlo.core.optics.focus import sharp_zone_mm, stop_name


class BarrelMark(SheetGroup):
    """An engraved mark: ``at`` from 0 to 1 along the scale."""

    at: float
    label: str


class Barrel(SheetGroup):
    """The lens barrel's distance scale in metres and feet against brackets of stops, as on a real lens."""

    metres: list[BarrelMark]
    feet: list[BarrelMark]
    stops: list[BarrelMark]
    focus_at: float
    sharp_from_at: float
    sharp_to_at: float


METRES = (0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.5, 0.6, 0.7, 0.8, 1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 7, 10, 15, 20, 30, 50)
FEET = (0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.5, 3, 3.5, 4, 5, 6, 7, 8, 10, 12, 15, 20, 30, 50, 100)
BRACKET_STOPS = (2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0)
_FOOT_MM = 304.8
_LABEL_GAP = 0.075


def _range(focus_mm: float) -> tuple[float, float]:
    """1/u at both ends of the scale. In steps of two: the engraving stands still while the mark moves along it."""
    low = 2.0 ** ceil(log2(1.7 / focus_mm))
    return low, -0.16 * low


def barrel_distance_mm(focus_mm: float, at: float) -> float:
    """Distance engraved at ``at`` (0 to 1, kept within) of the barrel that stands at ``focus_mm``; may be infinite."""
    low, high = _range(focus_mm)
    inverse = low + (high - low) * min(max(at, 0.0), 1.0)
    return inf if inverse <= 1.0e-9 else 1.0 / inverse


def on_barrel(focus_mm: float, distance_mm: float) -> float:
    """Where a distance stands on the scale of the barrel that stands at ``focus_mm``, 0 to 1 along it, or beside it."""
    low, high = _range(focus_mm)
    return (low - (0.0 if distance_mm == inf else 1.0 / distance_mm)) / (low - high)


@lru_cache(maxsize=64)
def barrel(focal_mm: float, f_number: float | None, limit_mm: float, focus_mm: float, cosine: float = 1.0) -> Barrel:
    """The barrel as it stands around ``focus_mm``; ``at`` runs from 0 (closest shown) to 1 (past infinity).

    ``cosine``: of the angle the lens is turned by before its film; distances are along the camera's axis.

    ``focal_mm``: of the lens; ``f_number``: None where all is sharp; ``limit_mm``: of blur on the film."""

    def at(distance_mm: float) -> float:
        return on_barrel(focus_mm, distance_mm)

    def marks(values: tuple[float, ...], unit_mm: float) -> list[BarrelMark]:
        placed = [BarrelMark(at=at(inf), label="∞")]
        for value in sorted(values, reverse=True):
            place = at(value * unit_mm)
            if place >= 0.02 and placed[-1].at - place >= _LABEL_GAP:
                placed.append(BarrelMark(at=place, label=f"{value:g}"))
        return placed[::-1]

    near, far = (0.0, inf)
    stops: list[BarrelMark] = []
    if f_number is not None:
        near, far = sharp_zone_mm(focal_mm, f_number, limit_mm, focus_mm, cosine)
        here = at(focus_mm)
        used = at(near)
        stops = [BarrelMark(at=used, label=stop_name(f_number)[2:])]
        stops.append(BarrelMark(at=2.0 * here - used, label=stop_name(f_number)[2:]))
        last = here - used
        for stop in BRACKET_STOPS:
            side = here - at(sharp_zone_mm(focal_mm, stop, limit_mm, focus_mm, cosine)[0])
            if abs(side - last) < _LABEL_GAP or side < 0.03:
                continue
            if any(abs(side - (here - mark.at)) < _LABEL_GAP for mark in stops):
                continue
            for place in (here - side, here + side):
                if 0.02 < place < 0.98:
                    stops.append(BarrelMark(at=place, label=f"{stop:g}"))
        stops = [mark for mark in stops if 0.0 <= mark.at <= 1.0]
    return Barrel(
        metres=marks(METRES, 1000.0),
        feet=marks(FEET, _FOOT_MM),
        stops=stops,
        focus_at=at(focus_mm),
        sharp_from_at=0.0 if near <= 0.0 else max(0.0, at(near)),
        sharp_to_at=1.0 if f_number is None else min(1.0, at(far)),
    )


def barrel_stop(focal_mm: float, limit_mm: float, focus_mm: float, at: float, cosine: float = 1.0) -> float:
    """The f-number whose bracket stands at ``at`` on the barrel that stands at ``focus_mm``, on either side of the
    focus mark; the inverse of where :func:`barrel` puts them.

    ``focal_mm``: of the lens; ``limit_mm``: of blur on the film; ``cosine``: as for :func:`barrel`."""
    low, high = _range(focus_mm)
    off = abs((low + (high - low) * at) - 1.0 / focus_mm)
    return off * focal_mm / (limit_mm * (cosine / focal_mm - 1.0 / focus_mm))
