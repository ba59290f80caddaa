"""Limits that several settings and gestures share, or that hang on more than one group of a shot."""

from __future__ import annotations

from math import cos, radians
from typing import Annotated

from pydantic import Field

FARTHEST_M = 1.0e7
"""The farthest a focus, an end of a stack or a clip is told."""
Distance = Annotated[float, Field(gt=0.0, le=FARTHEST_M)]
"""Metres along the lens axis."""
FNumber = Annotated[float, Field(ge=0.5, le=512.0)]

NEAREST_OF_FOCAL = 1.01
"""A lens is focused no nearer than this many of its focal lengths (our convention)."""


def turn_cosine(tilt_deg: float, swing_deg: float) -> float:
    """Cosine of the angle a lens is turned by in all, tilted and then swung."""
    return cos(radians(swing_deg)) * cos(radians(tilt_deg))


def nearest_focus_m(focal_length_mm: float, cosine: float = 1.0) -> float:
    """The nearest a lens focuses, in metres along the camera's axis."""
    return NEAREST_OF_FOCAL * focal_length_mm / 1000.0 / cosine
