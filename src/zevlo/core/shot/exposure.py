"""Exposure as it is set: shutter time, film speed, white point."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from zevlo.core.bases import Settings, not_yet

SHORTEST_S, LONGEST_S = 1.0e-6, 36000.0


class Exposure(Settings):
    """Shutter time, film speed, white point."""

    shutter_s: float = Field(0.01, ge=SHORTEST_S, le=LONGEST_S)
    """How long the shutter is open."""
    iso: float = Field(100.0, ge=1.0, le=1.0e6)
    """Film speed."""
    white_k: Annotated[float, not_yet(6504.0, "a white other than D65")] = 6504.0
    """Colour temperature of what counts as white."""
    tint: Annotated[float, not_yet(0.0, "tint")] = 0.0
    """How far white lies off the daylight colours."""
