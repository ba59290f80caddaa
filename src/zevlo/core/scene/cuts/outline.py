"""Segments strung to outlines, with the points that are needed to draw them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Integers
from zevlo.core.compiled import compiled


@dataclass(frozen=True)
class CutOutlines:
    """What a plane cuts, as runs of points on paper (m, 2) in metres, each ending before its one of ``stops`` (runs,).

    What is solid lies to the right of a run. The first ``closing`` runs close: outlines to be filled by the nonzero
    rule. The others are lines of surfaces that enclose nothing, solid behind them as far as anybody knows.
    """

    points: Floats
    stops: Integers
    closing: int
    parts: float = 1.0e4
    """To how many parts of a metre they are told."""

    def _runs(self, first: int, last: int) -> tuple[Floats, ...]:
        bounds = [0, *self.stops.tolist()]
        return tuple(self.points[bounds[n] : bounds[n + 1]] for n in range(first, last))

    @property
    def closed(self) -> tuple[Floats, ...]:
        return self._runs(0, self.closing)

    @property
    def open(self) -> tuple[Floats, ...]:
        return self._runs(self.closing, len(self.stops))


@compiled
def _string(starts: Integers, ends: Integers) -> tuple[Integers, Integers, NDArray[np.bool_]]:
    """Segments strung end to start by the numbers of their places.

    Gives segment numbers path after path (n,), where each path stops (paths,), and whether it closes (paths,).
    """
    count = len(starts)
    places = max(starts.max(), ends.max()) + 1
    stop = np.zeros(places, dtype=np.int32)
    arrivals = np.zeros(places, dtype=np.int32)
    for number in range(count):
        stop[starts[number]] += 1
        arrivals[ends[number]] += 1
    onward = np.empty(places, dtype=np.int32)
    total = 0
    for place in range(places):
        onward[place] = total
        total += stop[place]
        stop[place] = total
    order = np.empty(count, dtype=np.int32)
    filled = onward.copy()
    for number in range(count):
        order[filled[starts[number]]] = number
        filled[starts[number]] += 1
    used = np.zeros(count, dtype=np.bool_)
    path = np.empty(count, dtype=np.int32)
    path_stops = np.empty(count, dtype=np.int32)
    closes = np.empty(count, dtype=np.bool_)
    walked = paths = 0
    # Loose ends first: a chain entered in its middle would fall into two.
    for turn in range(2):
        for number in range(count):
            if used[number] or (turn == 0 and arrivals[starts[number]] > 0):
                continue
            here, home = number, starts[number]
            used[here] = True
            path[walked] = here
            walked += 1
            while ends[here] != home:
                place = ends[here]
                while onward[place] < stop[place] and used[order[onward[place]]]:
                    onward[place] += 1
                if onward[place] == stop[place]:
                    break
                here = order[onward[place]]
                used[here] = True
                path[walked] = here
                walked += 1
            path_stops[paths] = walked
            closes[paths] = ends[here] == home
            paths += 1
    return path, path_stops[:paths].copy(), closes[:paths].copy()


@compiled
def mark_bends(points: Floats, first: int, last: int, tolerance: float, needed: NDArray[np.bool_]) -> None:
    """Mark what of the run ``first`` to ``last`` is needed to stay within ``tolerance`` of it: the ends, and bends.

    Douglas and Peucker, *The Canadian Cartographer* 10 (1973) (from memory): the point farthest from the chord is
    needed where it is farther than that, and so on in both halves.

    ``points`` (n, 2): all runs, in metres; ``tolerance``: in metres; ``needed`` (n,): what is marked."""
    needed[first] = needed[last] = True
    waiting = np.empty((last - first + 2, 2), dtype=np.int64)
    waiting[0, 0], waiting[0, 1] = first, last
    count = 1
    while count:
        count -= 1
        low, high = waiting[count, 0], waiting[count, 1]
        ax, ay = points[low, 0], points[low, 1]
        dx, dy = points[high, 0] - ax, points[high, 1] - ay
        square = dx * dx + dy * dy
        farthest, bend = tolerance * tolerance, -1
        for n in range(low + 1, high):
            px, py = points[n, 0] - ax, points[n, 1] - ay
            along = min(max((px * dx + py * dy) / square, 0.0), 1.0) if square > 0.0 else 0.0
            away = (px - along * dx) ** 2 + (py - along * dy) ** 2
            if away > farthest:
                farthest, bend = away, n
        if bend >= 0:
            needed[bend] = True
            waiting[count, 0], waiting[count, 1] = low, bend
            waiting[count + 1, 0], waiting[count + 1, 1] = bend, high
            count += 2


@compiled
def _farthest_from(points: Floats, start: int, count: int) -> int:
    """Number of the one of the first ``count`` points that is farthest from the point ``start``."""
    found, most = start, 0.0
    for n in range(count):
        away = (points[n, 0] - points[start, 0]) ** 2 + (points[n, 1] - points[start, 1]) ** 2
        if away > most:
            found, most = n, away
    return found


@compiled
def straight_runs(
    paper: Floats, path: Integers, stops: Integers, closes: NDArray[np.bool_], tolerance: float
) -> tuple[Floats, Integers, int]:
    """Runs of points without those within ``tolerance`` of a straight stretch, and without runs that are nothing then.

    A closed run is taken from a corner of its hull to the point farthest from it and back. Those that close come
    first; the last value is their number.

    ``paper`` (n, 2, 2): segments in metres; ``path``: their numbers run by run; ``stops``: where each run ends in
    that; ``closes`` (runs,): whether it closes."""
    kept = np.empty((len(path) + len(stops), 2))
    kept_stops = np.empty(len(stops), dtype=np.int32)
    count = runs = closing = 0
    for turn in range(2 * len(stops)):
        number = turn % len(stops)
        closed = closes[number]
        if closed != (turn < len(stops)):
            continue
        begin = stops[number - 1] if number else 0
        length = stops[number] - begin
        last = length if closed else length + 1
        points = np.empty((length + 1, 2))
        corner = 0
        if closed:
            for n in range(length):
                points[n, 0], points[n, 1] = paper[path[begin + n], 0, 0], paper[path[begin + n], 0, 1]
            corner = _farthest_from(points, 0, length)
        for n in range(length + 1):
            # An open run ends where its last segment does, a closed one where it began.
            end = 1 if n == length and not closed else 0
            segment = path[begin + ((n + corner) % length if closed else min(n, length - 1))]
            points[n, 0], points[n, 1] = paper[segment, end, 0], paper[segment, end, 1]
        needed = np.zeros(length + 1, dtype=np.bool_)
        if closed:
            middle = _farthest_from(points, 0, length)
            mark_bends(points, 0, middle, tolerance, needed)
            mark_bends(points, middle, length, tolerance, needed)
        else:
            mark_bends(points, 0, length, tolerance, needed)
        first = count
        for n in range(last):
            if needed[n]:
                kept[count, 0], kept[count, 1] = points[n, 0], points[n, 1]
                count += 1
        if count - first < (3 if closed else 2):
            count = first
        else:
            kept_stops[runs] = count
            runs += 1
            closing = runs if closed else closing
    return kept[:count].copy(), kept_stops[:runs].copy(), closing


@compiled
def _place_numbers(segments: Floats) -> tuple[Integers, Integers]:
    """A number for each place segments (n, 2, 2) start at and end at, (n,) each.

    Places are told apart to a hundredth of a millimetre: where a model's edges do not quite meet (a vertex of one
    face on the edge of another), its outline still closes. A hash table with open addressing.
    """
    count = len(segments)
    size = 16
    while size < 4 * count:
        size *= 2
    slots = np.full(size, -1, dtype=np.int64)
    seen = np.empty((2 * count, 2), dtype=np.int64)
    numbers = np.empty((2, count), dtype=np.int32)
    found = 0
    for number in range(count):
        for end in range(2):
            x = np.int64(np.floor(segments[number, end, 0] * 1.0e5 + 0.5))
            y = np.int64(np.floor(segments[number, end, 1] * 1.0e5 + 0.5))
            slot = (x * 73856093 ^ y * 19349663) & (size - 1)
            while slots[slot] >= 0 and (seen[slots[slot], 0] != x or seen[slots[slot], 1] != y):
                slot = (slot + 1) & (size - 1)
            if slots[slot] < 0:
                slots[slot] = found
                seen[found, 0] = x
                seen[found, 1] = y
                found += 1
            numbers[end, number] = slots[slot]
    return numbers[0], numbers[1]


@compiled
def chain(segments: Floats) -> tuple[Integers, Integers, NDArray[np.bool_]]:
    """Segments (n, 2, 2), at least one, strung end to start.

    Gives segment numbers path after path (n,), where each path stops (paths,), and whether it closes (paths,).
    """
    starts, ends = _place_numbers(segments)
    return _string(starts, ends)


@compiled
def flat_segments(segments: Floats, origin: Floats, across: Floats, up: Floats) -> Floats:
    """Segments (n, 2, 3) on paper, (m, 2, 2), without those that are only a point there."""
    flat = np.empty((len(segments), 2, 2))
    count = 0
    for number in range(len(segments)):
        for end in range(2):
            x = y = 0.0
            for axis in range(3):
                away = segments[number, end, axis] - origin[axis]
                x += away * across[axis]
                y += away * up[axis]
            flat[count, end, 0] = x
            flat[count, end, 1] = y
        if flat[count, 0, 0] != flat[count, 1, 0] or flat[count, 0, 1] != flat[count, 1, 1]:
            count += 1
    return flat[:count].copy()
