"""Which outlines of a cut close round air: what is solid lies behind the faces, by their winding.

A room is often modelled as walls without thickness that look inwards, and a scan of a courtyard is nothing else: the
outline closes, and what is solid lies round it. Filled, the room would be one solid block.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Integers
from zevlo.core.compiled import compiled

_INWARDS = 1.0e-3
"""How far inside its outline a place in a run is taken, in shares of its longest side."""


@compiled
def _turns(points: Floats, first: int, last: int, x: float, y: float) -> int:
    """How often the closed run ``first`` to ``last`` goes round a place, anticlockwise.

    Sunday, *Inclusion of a Point in a Polygon*, 2001 (from memory)."""
    turns = 0
    for n in range(first, last):
        after = n + 1 if n + 1 < last else first
        ax, ay, bx, by = points[n, 0], points[n, 1], points[after, 0], points[after, 1]
        left = (bx - ax) * (y - ay) - (x - ax) * (by - ay)
        if ay <= y < by and left > 0.0:
            turns += 1
        elif by <= y < ay and left < 0.0:
            turns -= 1
    return turns


@compiled
def _measured(points: Floats, stops: Integers, closing: int) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """Of each closed run its area, positive anticlockwise, and its box: left, bottom, right, top; (closing,) each."""
    areas = np.zeros(closing)
    left, bottom = np.full(closing, np.inf), np.full(closing, np.inf)
    right, top = np.full(closing, -np.inf), np.full(closing, -np.inf)
    for run in range(closing):
        first, last = stops[run - 1] if run else 0, stops[run]
        for n in range(first, last):
            after = n + 1 if n + 1 < last else first
            x, y = points[n, 0], points[n, 1]
            left[run], right[run] = min(left[run], x), max(right[run], x)
            bottom[run], top[run] = min(bottom[run], y), max(top[run], y)
            # From the run's own first point: far from zero the products would lose its last digits.
            dx, dy = x - points[first, 0], y - points[first, 1]
            areas[run] += (
                dx * (points[after, 1] - points[first, 1]) - dy * (points[after, 0] - points[first, 0])
            ) / 2.0
    return areas, left, bottom, right, top


@compiled
def _inside(points: Floats, first: int, last: int) -> tuple[float, float]:
    """A place just inside a run that goes anticlockwise, beside the middle of its longest side."""
    long, found = -1.0, first
    for n in range(first, last):
        after = n + 1 if n + 1 < last else first
        side = (points[after, 0] - points[n, 0]) ** 2 + (points[after, 1] - points[n, 1]) ** 2
        if side > long:
            long, found = side, n
    after = found + 1 if found + 1 < last else first
    dx, dy = points[after, 0] - points[found, 0], points[after, 1] - points[found, 1]
    x, y = (points[found, 0] + points[after, 0]) / 2.0, (points[found, 1] + points[after, 1]) / 2.0
    return x - dy * _INWARDS, y + dx * _INWARDS


@compiled
def shells(points: Floats, stops: Integers, closing: int) -> NDArray[np.bool_]:
    """Which of the first ``closing`` runs (they close, and what is solid lies to their right) have nothing but air
    within and no solid round them.

    One that is mostly filled by runs the other way round is a solid whose faces all look the wrong way, as some
    programs export a whole building; that one stays what it was.
    """
    found = np.zeros(closing, dtype=np.bool_)
    areas, left, bottom, right, top = _measured(points, stops, closing)
    for n in range(closing):
        if areas[n] <= 0.0:
            continue
        first = stops[n - 1] if n else 0
        x, y = _inside(points, first, stops[n])
        turns = 0
        for m in range(closing):
            # What is within it, as a cupboard on its wall, is not round it.
            if left[m] <= left[n] and right[m] >= right[n] and bottom[m] <= bottom[n] and top[m] >= top[n]:
                turns += _turns(points, stops[m - 1] if m else 0, stops[m], x, y)
        if turns != 1:
            continue
        filled = 0.0
        for m in range(closing):
            if (
                areas[m] < 0.0
                and left[n] <= left[m]
                and right[m] <= right[n]
                and bottom[n] <= bottom[m]
                and top[m] <= top[n]
            ):
                begin = stops[m - 1] if m else 0
                if _turns(points, first, stops[n], points[begin, 0], points[begin, 1]) != 0:
                    filled -= areas[m]
        found[n] = filled <= areas[n] / 2.0
    return found


@compiled
def with_shells_open(points: Floats, stops: Integers, closing: int) -> tuple[Floats, Integers, int]:
    """The runs with those that close round air among the lines of sheets, back to where they began."""
    open_too = shells(points, stops, closing)
    more = int(open_too.sum())
    if more == 0:
        return points, stops, closing
    kept = np.empty((len(points) + more, 2))
    kept_stops = np.empty_like(stops)
    count = runs = 0
    for turn in range(2):
        for n in range(len(stops)):
            shell = n < closing and open_too[n]
            if (n < closing and not shell) != (turn == 0):
                continue
            begin = stops[n - 1] if n else 0
            for place in range(begin, stops[n]):
                kept[count] = points[place]
                count += 1
            if shell:
                kept[count] = points[begin]
                count += 1
            kept_stops[runs] = count
            runs += 1
    return kept, kept_stops, closing - more
