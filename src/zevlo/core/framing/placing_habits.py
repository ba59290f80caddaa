"""Habits of placing: the heights new shots are set up at, the marks on the levelling staff, the size of a step."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.refused import Refused
from zevlo.core.scene.model.ruler import Ruler, length_on
from zevlo.core.scene.model.support_plane import SMALL_M
from zevlo.text import framing as say

Height = Annotated[float, Field(ge=-100.0, le=1000.0)]
FOOT_M = 0.3048
MOST_MARKS = 30


class Mark(Settings):
    """A named height on the levelling staff, in metres above the floor."""

    name: str = Field(min_length=1, max_length=40)
    height_m: Height


NAMED_HEIGHTS = (
    Mark(name=say.TABLETOP, height_m=0.75),
    Mark(name=say.COUNTER, height_m=0.91),
    Mark(name=say.SEATED_EYE, height_m=1.20),
    Mark(name=say.STANDING_EYE, height_m=1.60),
)
"""Common practice, no source: tables of 73 to 76 cm, counters of 36 in, eyes about 12 cm under the stature."""


class HeightPair(Settings):
    """Heights above the floor for both ends of a shot; no aim height: level with the lens."""

    name: str = Field(min_length=1, max_length=60)
    lens_m: Height
    aim_m: Height | None


OFFERED_PAIRS = (
    HeightPair(name=say.LIVING_SPACE, lens_m=5.5 * FOOT_M, aim_m=3.0 * FOOT_M),
    HeightPair(name=say.STANDING_LEVEL, lens_m=1.60, aim_m=None),
    HeightPair(name=say.SEATED_LEVEL, lens_m=1.20, aim_m=None),
    HeightPair(name=say.COUNTER_LEVEL, lens_m=0.91, aim_m=None),
)
"""First: lens 5 ft 6 in and aim 3 ft (common practice in a living space, no source)."""


def marked(habits: Habits, height_m: float, ruler: Ruler, on: bool) -> Habits:
    """The habits with a height marked on the staff, called as the ruler tells it, or without the own marks the ruler
    tells alike. Raises Refused where there is no room for one more."""
    name = length_on(ruler, height_m)
    others = tuple(mark for mark in habits.marks if length_on(ruler, mark.height_m) != name)
    if not on:
        return habits.model_copy(update={"marks": others})
    if len(others) >= MOST_MARKS:
        raise Refused(say.there_are_marks_on_the_staff(MOST_MARKS))
    return habits.model_copy(update={"marks": (*others, Mark(name=name, height_m=round(height_m, 6)))})


OVER_THE_TOP = 0.35


def is_small(body: Floats) -> bool:
    """Whether a set is a thing on a table. ``body`` (2, 3): its box, without the ground and stand-ins."""
    return float((body[1] - body[0]).max()) < SMALL_M


def by_size(habits: Habits, body: Floats) -> bool:
    """Whether new shots get their heights from the set's size: of a thing on a table, until a hand chose others."""
    usual = Habits()
    return is_small(body) and (habits.lens_m, habits.aim_m) == (usual.lens_m, usual.aim_m)


def heights_for(habits: Habits, body: Floats, floor: float) -> Habits:
    """The heights a new shot is set up at: habitual ones, or by the set's size the lens a little over its top and the
    aim at its middle. ``body`` (2, 3): the box of the set; both heights count from ``floor``."""
    low, high = float(body[0, 2]), float(body[1, 2])
    if not by_size(habits, body):
        return habits
    size = float((body[1] - body[0]).max())
    lens, aim = high + OVER_THE_TOP * size - floor, (low + high) / 2.0 - floor
    return habits.model_copy(update={"lens_m": lens, "aim_m": aim})


class Habits(Settings):
    """How one places in a project; remembered with it."""

    lens_m: Height = 5.5 * FOOT_M
    aim_m: Height | None = 3.0 * FOOT_M
    stays_above_floor: bool = False
    step_m: float | None = Field(None, ge=0.0001, le=10.0)
    """One move of a grip; null: as the set's size has it."""
    step_deg: float = Field(1.0, ge=0.01, le=90.0)
    marks: tuple[Mark, ...] = Field((), max_length=MOST_MARKS)
    """Own marks beside the named heights."""
    compass_points: Literal[8, 16] = 8
