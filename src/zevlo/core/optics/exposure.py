"""Exposure value and what it develops to."""

from __future__ import annotations

from math import log2

from zevlo.text import optics as say

EVERYTHING_SHARP_COUNTS_AS = 8.0
"""A shot with everything sharp has no stop; its exposure is reckoned as at f/8 (our convention)."""
REFLECTED_LIGHT_CONSTANT = 12.5
"""K of ISO 2720: a meter sets L = K·2^EV100/100 cd/m² to a middle tone."""


def ev100(f_number: float | None, shutter_s: float, iso: float) -> float:
    """EV100 = log2(N²/t) - log2(S/100) (ISO 2720)."""
    n = EVERYTHING_SHARP_COUNTS_AS if f_number is None else f_number
    return log2(n * n / shutter_s) - log2(iso / 100.0)


def shutter_for(ev: float, f_number: float | None, iso: float) -> float:
    """Shutter time in seconds that gives ``ev`` at a stop and film speed."""
    n = EVERYTHING_SHARP_COUNTS_AS if f_number is None else f_number
    return float(n * n / (2.0**ev * iso / 100.0))


def white_luminance(ev: float) -> float:
    """Scene luminance that reaches white, 1.2·2^EV100 cd/m² (ISO 12232 saturation speed, q = 0.65)."""
    return float(1.2 * 2.0**ev)


def ev_for_luminance(luminance: float) -> float:
    """EV100 a reflected-light meter reads from ``luminance`` cd/m²: log2(L·100/K) (ISO 2720)."""
    if luminance <= 0.0:
        raise ValueError(say.A_METER_NEEDS_SOME_LIGHT)
    return log2(luminance * 100.0 / REFLECTED_LIGHT_CONSTANT)


def shutter_name(seconds: float) -> str:
    """``1/40 s`` below a third of a second, ``0.8 s`` above; three digits that count."""
    if seconds >= 0.3:
        return f"{float(f'{seconds:.3g}'):g} s"
    return f"1/{float(f'{1.0 / seconds:.3g}'):g} s"
