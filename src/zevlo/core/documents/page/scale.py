"""Drawings to scale: which scale goes on a paper, and the bar that shows it."""

from __future__ import annotations

from math import floor, log10

import numpy as np

from zevlo.core.documents.page.paper import INK, WHITE, Area, Mark, Stroke, Words, box_mm

SCALES = (
    0.02,
    0.05,
    0.1,
    0.2,
    0.5,
    1.0,
    2.0,
    5.0,
    10.0,
    20.0,
    50.0,
    100.0,
    200.0,
    500.0,
    1000.0,
    2000.0,
    5000.0,
    10000.0,
)
"""How many times larger the thing is than its drawing: those of ISO 5455, 50:1 to 1:10 000."""
TALLER_MM = 1.6
BAR_MM = (30.0, 75.0)
"""A bar is between so long and so long on paper."""


def scale_words(scale: float) -> str:
    """``1:50``, or ``5:1`` where the drawing is larger than the thing."""
    return f"1:{scale:.6g}" if scale >= 1.0 else f"{1.0 / scale:.6g}:1"


def scale_for(width_m: float, height_m: float, room_mm: tuple[float, float], least: float = 0.0) -> float:
    """The scale of ISO 5455 that shows a piece of the set largest in a room on paper, from ``least`` on; past them all
    the next whole number of ten thousands."""
    needed = max(1000.0 * width_m / room_mm[0], 1000.0 * height_m / room_mm[1], least)
    found = next((one for one in SCALES if one >= needed * (1.0 - 1.0e-9)), None)
    return float(-(-needed // SCALES[-1]) * SCALES[-1]) if found is None else found


def _round_length(most_m: float) -> float:
    """The longest of 1, 2 and 5 times a power of ten that is not longer."""
    power = 10.0 ** floor(log10(most_m))
    return max(times * power for times in (1.0, 2.0, 5.0) if times * power <= most_m * (1.0 + 1.0e-9))


def length_on_bar(metres: float) -> str:
    """``5 m``, ``20 cm`` or ``5 mm``."""
    for unit, size in (("m", 1.0), ("cm", 0.01)):
        if metres >= size * (1.0 - 1.0e-9):
            return f"{metres / size:.6g} {unit}"
    return f"{metres / 0.001:.6g} mm"


def bar(at: tuple[float, float], scale: float) -> tuple[tuple[Mark, ...], float]:
    """A bar in fields, black and white by turns, with its lengths over it; and how long it is in metres."""
    length_m = _round_length(BAR_MM[1] * scale / 1000.0)
    length = 1000.0 * length_m / scale
    x, y = at
    fields = 5 if f"{length_m:.0e}"[0] == "5" else 4 if f"{length_m:.0e}"[0] == "2" else 5
    each = length / fields
    stroke = Stroke(0.18, INK)
    marks: list[Mark] = [
        Area((box_mm(x + n * each, y, each, TALLER_MM),), "measures", INK if n % 2 == 0 else WHITE, stroke)
        for n in range(fields)
    ]
    for share, words in ((0.0, "0"), (1.0, length_on_bar(length_m))):
        marks.append(Words(words, (x + share * length, y + TALLER_MM + 1.0), 2.6, "middle", layer="measures"))
    return tuple(marks), length_m


def north_mark(at: tuple[float, float], north_deg: float, size_mm: float = 9.0) -> tuple[Mark, ...]:
    """An arrow to the north, which lies ``north_deg`` clockwise from the top of the paper."""
    turn = np.radians(north_deg)
    up, right = np.array([np.sin(turn), np.cos(turn)]), np.array([np.cos(turn), -np.sin(turn)])
    middle = np.array(at)
    tip, foot = middle + size_mm * 0.5 * up, middle - size_mm * 0.5 * up
    half = np.array([tip, foot - 0.25 * size_mm * right, foot + 0.18 * size_mm * up])
    other = np.array([tip, foot + 0.25 * size_mm * right, foot + 0.18 * size_mm * up])
    letter = middle + size_mm * 0.72 * up
    return (
        Area((half,), "measures", INK, Stroke(0.18)),
        Area((other,), "measures", WHITE, Stroke(0.18)),
        Words("N", (float(letter[0]), float(letter[1]) - 1.1), 3.2, "middle", bold=True, layer="measures"),
    )
