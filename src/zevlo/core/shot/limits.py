"""Limits that hang on more than one group of a shot."""

from __future__ import annotations

from math import cos, radians

NEAREST_OF_FOCAL = 1.01
"""A lens is focused no nearer than this many of its focal lengths (our convention)."""


def turn_cosine(tilt_deg: float, swing_deg: float) -> float:
    """Cosine of the angle a lens is turned by in all, tilted and then swung."""
    return cos(radians(swing_deg)) * cos(radians(tilt_deg))


def nearest_focus_m(focal_length_mm: float, cosine: float = 1.0) -> float:
    """The nearest a lens focuses, in metres along the camera's axis."""
    return NEAREST_OF_FOCAL * focal_length_mm / 1000.0 / cosine
