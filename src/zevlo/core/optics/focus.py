"""Depth of field: sharp zone, hyperfocal distance, blur, and both solved backwards.

Formulas: Ray, *Applied Photographic Optics*; Conrad, *Depth of Field in Depth* (both from memory).
Distances are measured from the lens along the axis of the camera. ``cosine``: of the angle by which the lens is turned
before its film, 1 where it is not; the sharp zone is then where its wedge crosses that axis.
"""

from __future__ import annotations

from math import ceil, floor, hypot, inf, log2, radians, tan

from zevlo.core.optics.back import FittedBack
from zevlo.core.optics.lens import image_distance_mm
from zevlo.core.shot import Back, BlurLimit

EYE_RESOLUTION_DEG = 1.0 / 60.0
"""One minute of arc, what a normal eye separates (from memory)."""
DIFFRACTION_WAVELENGTH_MM = 550e-6

THIRD_STOP_NAMES = [
    "0.7", "0.8", "0.9", "1", "1.1", "1.2", "1.4", "1.6", "1.8", "2", "2.2", "2.5", "2.8", "3.2", "3.5",
    "4", "4.5", "5", "5.6", "6.3", "7.1", "8", "9", "10", "11", "13", "14", "16", "18", "20",
    "22", "25", "29", "32", "36", "40", "45", "51", "57", "64", "72", "81", "90",
]  # fmt: skip
"""Nominal f-numbers in thirds of a stop (ISO 517, from memory); entry 3 is f/1."""


HALF_STOP_NAMES = {
    3: "1.7", 5: "2.4", 7: "3.3", 9: "4.8", 11: "6.7", 13: "9.5", 17: "19", 19: "27", 21: "38", 23: "54"
}  # fmt: skip
"""Nominal f-numbers half way between whole stops, by quarters of the exponent, where no third is called so (ISO 517,
from memory)."""


def exact_f_number(third: int) -> float:
    """f-number ``third`` thirds of a stop above f/1: 2^(third/6)."""
    return float(2.0 ** (third / 6.0))


_OFFERED_THIRDS = range(0, 37)
OFFERED_STOPS = tuple(exact_f_number(third) for third in _OFFERED_THIRDS)
"""f/1 to f/64 in thirds, exact."""
OFFERED_HALVES = tuple(float(2.0 ** (half / 4.0)) for half in range(0, 25))
"""The same in halves."""
WIDEST_OFFERED, SMALLEST_OFFERED = OFFERED_STOPS[0], OFFERED_STOPS[-1]
"""Whatever looks for a stop looks between these; typed, it may be any that the shot format takes."""


def stop_name(f_number: float) -> str:
    """``f/5.6`` where the number is within a twelfth of a stop of a nominal one, or of what that stands for; else with
    its decimals."""
    third = round(6.0 * log2(f_number))
    if -3 <= third < len(THIRD_STOP_NAMES) - 3:
        nominal = THIRD_STOP_NAMES[third + 3]
        if _close(f_number, float(nominal), 1.0 / 12.0) or _close(f_number, exact_f_number(third), 1.0 / 24.0):
            return f"f/{nominal}"
    half = round(4.0 * log2(f_number))
    if half in HALF_STOP_NAMES and _close(f_number, float(2.0 ** (half / 4.0)), 1.0 / 24.0):
        return f"f/{HALF_STOP_NAMES[half]}"
    return f"f/{f_number:.3g}" if f_number < 100.0 else f"f/{f_number:.0f}"


def _close(a: float, b: float, stops: float) -> bool:
    return abs(2.0 * log2(a / b)) < stops


def next_third_stop(f_number: float) -> float:
    """The third stop at or beyond ``f_number``, exact: a stop someone can set that is deep enough."""
    return exact_f_number(ceil(6.0 * log2(f_number) - 1.0e-9))


def third_stop_within(f_number: float) -> float:
    """The third stop at or before ``f_number``, exact: one someone can set that is open enough."""
    return exact_f_number(floor(6.0 * log2(f_number) + 1.0e-9))


def blur_limit_mm(limit: BlurLimit, back: Back, fitted: FittedBack) -> float:
    """Largest blur disc on film that counts as sharp, in mm."""
    if limit.px is not None:
        return limit.px * fitted.pixel_mm
    if limit.mm is not None:
        return limit.mm
    if limit.diagonal_over is not None:
        return hypot(back.width_mm, back.height_mm) / limit.diagonal_over
    assert limit.print_width_mm is not None
    assert limit.seen_from_mm is not None
    on_print = limit.seen_from_mm * tan(radians(EYE_RESOLUTION_DEG))
    return on_print * fitted.size_mm[0] / limit.print_width_mm


def hyperfocal_mm(focal_length_mm: float, f_number: float, limit_mm: float, cosine: float = 1.0) -> float:
    """H = f²/(N·c) + f, over cos α."""
    return (focal_length_mm**2 / (f_number * limit_mm) + focal_length_mm) / cosine


def depth_per_mm(
    focal_length_mm: float, f_number: float, limit_mm: float, focus_mm: float, cosine: float = 1.0
) -> float:
    """How much the inverse of a distance may be off that of the focus until blur reaches its limit, 1/mm: N·c/(v·f).

    From 1/near - 1/u = 1/u - 1/far, the blur disc A·v·|1/u - 1/d| and A = f/N.

    ``focal_length_mm`` f, ``f_number`` N, ``limit_mm`` c on the film, ``focus_mm`` u along the axis; ``cosine``: of the
    angle α the lens is turned by."""
    return f_number * limit_mm / focal_length_mm * (cosine / focal_length_mm - 1.0 / focus_mm)


_NOTHING_PER_MM = 1.0e-15
"""Inverse of a distance that counts as infinite."""


def sharp_zone_mm(
    focal_length_mm: float, f_number: float, limit_mm: float, focus_mm: float, cosine: float = 1.0
) -> tuple[float, float]:
    """Near and far limit of the sharp zone; far is infinite from the hyperfocal distance on.

    near = u(H-f)/(H+u-2f), far = u(H-f)/(H-u), written as inverses: 1/u ± N·c/(v·f).

    ``focal_length_mm`` f, ``f_number`` N, ``limit_mm`` c on the film, ``focus_mm`` u, all in mm; ``cosine``: as for
    :func:`depth_per_mm`."""
    depth = depth_per_mm(focal_length_mm, f_number, limit_mm, focus_mm, cosine)
    left = 1.0 / focus_mm - depth
    return 1.0 / (1.0 / focus_mm + depth), inf if left <= _NOTHING_PER_MM else 1.0 / left


def stop_reaching(
    focal_length_mm: float, limit_mm: float, off_per_mm: float, focus_per_mm: float, cosine: float = 1.0
) -> float:
    """f-number at which blur just reaches its limit where the inverse of a distance is so far off that of the focus.

    N = off·f/(c·(cos α/f - 1/u)), the inverse of :func:`depth_per_mm`; for a zone from dn to df, focused half way
    between their inverses, N = (1/dn - 1/df)·u·f²/(2c(u·cos α - f)).

    ``focal_length_mm`` f, ``limit_mm`` c on the film, in mm; ``off_per_mm``: how far off, ``focus_per_mm`` 1/u, in
    1/mm; ``cosine``: cos α."""
    return off_per_mm * focal_length_mm / (limit_mm * (cosine / focal_length_mm - focus_per_mm))


def focus_reaching(
    focal_length_mm: float, f_number: float, limit_mm: float, end_per_mm: float, near: bool, cosine: float = 1.0
) -> float:
    """Inverse of the focus distance whose sharp zone begins (``near``), or ends, at a distance told by its inverse.

    q ± k·(cos α/f - q) = end, k = N·c/f. From k = 1 on a point is never drawn larger than the limit: then 0.

    ``focal_length_mm`` f, ``limit_mm`` c on the film, in mm; ``f_number`` N; ``end_per_mm``: that distance, 1/mm;
    ``cosine``: cos α."""
    k, c = f_number * limit_mm / focal_length_mm, cosine / focal_length_mm
    if not near:
        return (end_per_mm + k * c) / (1.0 + k)
    return (end_per_mm - k * c) / (1.0 - k) if k < 1.0 else 0.0


def blur_times_mm(focal_length_mm: float, f_number: float, focus_mm: float, cosine: float = 1.0) -> float:
    """Blur disc on film for each 1/mm that the inverse of a distance is off that of the focus, mm²: A·v, A = f/N."""
    return focal_length_mm / f_number * image_distance_mm(focal_length_mm, focus_mm, cosine)


def diffraction_mm(f_number: float, image_magnification: float) -> float:
    """Diameter of the diffraction disc, 2.44·λ·N·(1+m), λ = 550 nm. Information only."""
    return 2.44 * DIFFRACTION_WAVELENGTH_MM * f_number * (1.0 + image_magnification)
