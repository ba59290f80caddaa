"""Habits of placing: the heights new shots are set up at, the marks on the levelling staff, the size of a step."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zevlo.core.shot import Settings

Height = Annotated[float, Field(ge=-100.0, le=1000.0)]
FOOT_M = 0.3048


class Mark(Settings):
    """A named height on the levelling staff, in metres above the floor."""

    name: str = Field(min_length=1, max_length=40)
    height_m: Height


NAMED_HEIGHTS = (
    Mark(name="tabletop", height_m=0.75),
    Mark(name="counter", height_m=0.91),
    Mark(name="seated eye", height_m=1.20),
    Mark(name="standing eye", height_m=1.60),
)
"""Common practice, no source: tables of 73 to 76 cm, counters of 36 in, eyes about 12 cm under the stature."""


class HeightPair(Settings):
    """Heights above the floor for both ends of a shot; no aim height: level with the lens."""

    name: str = Field(min_length=1, max_length=60)
    lens_m: Height
    aim_m: Height | None


OFFERED_PAIRS = (
    HeightPair(name="Living space", lens_m=5.5 * FOOT_M, aim_m=3.0 * FOOT_M),
    HeightPair(name="Standing, level", lens_m=1.60, aim_m=None),
    HeightPair(name="Seated, level", lens_m=1.20, aim_m=None),
    HeightPair(name="Counter, level", lens_m=0.91, aim_m=None),
)
"""First: lens 5 ft 6 in and aim 3 ft (common practice in a living space, no source)."""


class Habits(Settings):
    """How one places in a project; remembered with it."""

    lens_m: Height = 5.5 * FOOT_M
    aim_m: Height | None = 3.0 * FOOT_M
    stays_above_floor: bool = False
    step_m: float = Field(0.1, ge=0.001, le=10.0)
    step_deg: float = Field(1.0, ge=0.01, le=90.0)
    marks: tuple[Mark, ...] = Field((), max_length=30)
    """Own marks beside the named heights."""
    compass_points: Literal[8, 16] = 8
