"""A plane through the set: outlines of what it cuts. Plan and section are both made from this."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.compiled import compiled
from zevlo.core.scene.model import Floats, Integers


@dataclass(frozen=True)
class DrawingPlane:
    """A drawing's plane, (4, 3): its origin, the two unit axes of the paper, and the one towards the reader."""

    frame: Floats

    @property
    def origin(self) -> Floats:
        origin: Floats = self.frame[0]
        return origin

    @property
    def paper(self) -> Floats:
        """Across and up on the paper, (2, 3)."""
        return self.frame[1:3]

    @property
    def toward(self) -> Floats:
        toward: Floats = self.frame[3]
        return toward

    def flat(self, points: Floats) -> Floats:
        """Points (..., 3) as paper coordinates (..., 2) in metres."""
        on_paper: Floats = (points - self.origin) @ self.paper.T
        return on_paper


@dataclass(frozen=True)
class CutOutlines:
    """What a plane cuts, as runs of points on paper (m, 2) in metres, each ending before its one of ``stops`` (runs,).

    The first ``closing`` runs close: outlines to be filled by the nonzero rule. The others are lines of sheets.
    """

    points: Floats
    stops: Integers
    closing: int

    def _runs(self, first: int, last: int) -> tuple[Floats, ...]:
        bounds = [0, *self.stops.tolist()]
        return tuple(self.points[bounds[n] : bounds[n + 1]] for n in range(first, last))

    @property
    def closed(self) -> tuple[Floats, ...]:
        return self._runs(0, self.closing)

    @property
    def open(self) -> tuple[Floats, ...]:
        return self._runs(self.closing, len(self.stops))


def plan_plane(height: float) -> DrawingPlane:
    """Horizontal plane at ``height``, read from above, project north up."""
    return DrawingPlane(np.array([[0.0, 0.0, height], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]))


def section_plane(position: Floats, level_axis: Floats) -> DrawingPlane:
    """Upright plane through the stand along its heading; the camera looks to the right on paper.

    Paper x is the level distance from the stand, paper y the height above zero.
    """
    (x, y, _), (east, north, _) = position.tolist(), level_axis.tolist()
    return DrawingPlane(np.array([[x, y, 0.0], [east, north, 0.0], [0.0, 0.0, 1.0], [north, -east, 0.0]]))


BLOCK_FACES = 64


@dataclass(frozen=True)
class CutIndex:
    """Faces in blocks that lie close together, with each block's box, so that a plane tries only what it can meet.

    ``order`` (B, 64) face numbers; ``corners`` (B, 3 axes, 3 corners, 64 faces); ``middle`` and ``half`` (B, 3) of
    the boxes. The last block is filled up with its last face shrunk to a point, which no plane cuts.
    """

    order: Integers
    corners: Floats
    middle: Floats
    half: Floats


@compiled
def _fill_blocks(
    vertices: Floats, faces: Integers, order: Integers, corners: Floats, middle: Floats, half: Floats
) -> None:
    size = order.shape[1]
    for block in range(len(order)):
        for axis in range(3):
            lowest, highest = np.inf, -np.inf
            for place in range(size):
                spare = block * size + place >= len(faces)
                face = len(faces) - 1 if spare else block * size + place
                order[block, place] = face
                for corner in range(3):
                    at = vertices[faces[face, 0 if spare else corner], axis]
                    corners[block, axis, corner, place] = at
                    lowest, highest = min(lowest, at), max(highest, at)
            middle[block, axis] = (lowest + highest) / 2.0
            half[block, axis] = (highest - lowest) / 2.0


def index_for_cuts(vertices: Floats, faces: Integers) -> CutIndex:
    """Blocks of faces in the order they come in: a model's faces follow its parts, so they lie together already.

    Sorting them along a space-filling curve was tried: a second for a million triangles, and hardly fewer to try.
    """
    count = -(-len(faces) // BLOCK_FACES)
    # Made by NumPy, which asks for large pages: a cut looks into many places of these.
    order = np.empty((count, BLOCK_FACES), dtype=np.int32)
    corners = np.empty((count, 3, 3, BLOCK_FACES))
    middle, half = np.empty((count, 3)), np.empty((count, 3))
    _fill_blocks(np.ascontiguousarray(vertices), np.ascontiguousarray(faces), order, corners, middle, half)
    return CutIndex(order, corners, middle, half)


@compiled
def _cut_blocks(
    corners: Floats, order: Integers, middle: Floats, half: Floats, toward: Floats, offset: float
) -> tuple[Floats, Integers]:
    """Segments and face numbers; see :func:`cut_segments`. Blocks whose box the plane misses are passed over."""
    blocks, size = order.shape
    met = np.empty(blocks, dtype=np.int64)
    count = 0
    for block in range(blocks):
        away, reach = -offset, 1.0e-9
        for axis in range(3):
            away += middle[block, axis] * toward[axis]
            reach += half[block, axis] * abs(toward[axis])
        if abs(away) <= reach:
            met[count] = block
            count += 1
    met = met[:count]
    count = 0
    height = np.empty((3, size))
    above = np.empty(size, dtype=np.int8)
    places = np.empty((len(met) * size, 2, 3))
    owners = np.empty(len(met) * size, dtype=np.int32)
    for turn in range(len(met)):
        block = met[turn]
        box = corners[block]
        above[:] = 0
        for corner in range(3):
            heights = height[corner]
            heights[:] = -offset
            for axis in range(3):
                # Plans and sections lie square to some axes: what lies there need not even be fetched.
                if toward[axis] != 0.0:
                    places_on_axis, slope = box[axis, corner], toward[axis]
                    for face in range(size):
                        heights[face] += places_on_axis[face] * slope
            for face in range(size):
                above[face] += heights[face] >= 0.0
        for face in range(size):
            if above[face] == 0 or above[face] == 3:
                continue
            for corner in range(3):
                after = (corner + 1) % 3
                here, there = height[corner, face], height[after, face]
                if (here >= 0.0) == (there >= 0.0):
                    continue
                # From the lower end whichever way the edge runs, so that both its triangles agree on the point.
                rising = here < 0.0
                low, high = (corner, after) if rising else (after, corner)
                share = height[low, face] / (height[low, face] - height[high, face])
                for axis in range(3):
                    start = box[axis, low, face]
                    places[count, 0 if rising else 1, axis] = start + share * (box[axis, high, face] - start)
            owners[count] = order[block, face]
            count += 1
    return places[:count].copy(), owners[:count].copy()


def cut_segments(index: CutIndex, plane: DrawingPlane) -> tuple[Floats, Integers]:
    """Segments (n, 2, 3) where the plane cuts triangles, and their face numbers (n,).

    A vertex on the plane counts as above it, so every cut triangle gives exactly one segment, and a vertex has one
    height in every triangle. Segments run so that the solid lies on one side: from the edge that rises through the
    plane to the one that sinks.
    """
    offset = float(plane.origin @ plane.toward)
    return _cut_blocks(index.corners, index.order, index.middle, index.half, plane.toward, offset)


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
    """Mark what of the run ``first`` to ``last`` is needed to stay within ``tolerance`` of it, ends excluded.

    Douglas and Peucker, *The Canadian Cartographer* 10 (1973) (from memory): the point farthest from the chord is
    needed where it is farther than that, and so on in both halves.
    """
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
def _straight_runs(
    paper: Floats, path: Integers, stops: Integers, closes: NDArray[np.bool_], tolerance: float
) -> tuple[Floats, Integers, int]:
    """Runs of points without those within ``tolerance`` of a straight stretch, and without runs that are nothing then.

    A closed run is taken from a corner of its hull to the point farthest from it and back. Those that close come
    first; the last value is their number.
    """
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
        needed[0] = True
        if closed:
            middle = _farthest_from(points, 0, length)
            needed[middle] = True
            mark_bends(points, 0, middle, tolerance, needed)
            mark_bends(points, middle, length, tolerance, needed)
        else:
            needed[length] = True
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
def _flat_segments(segments: Floats, origin: Floats, across: Floats, up: Floats) -> Floats:
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


@compiled
def _cut_outlines(
    corners: Floats, order: Integers, middle: Floats, half: Floats, frame: Floats, tolerance: float
) -> tuple[Floats, Integers, int]:
    """See :func:`cut_outlines`. ``frame``: that of the plane."""
    origin, across, up, toward = frame[0], frame[1], frame[2], frame[3]
    offset = origin[0] * toward[0] + origin[1] * toward[1] + origin[2] * toward[2]
    segments, _ = _cut_blocks(corners, order, middle, half, toward, offset)
    paper = _flat_segments(segments, origin, across, up)
    if len(paper) == 0:
        return np.empty((0, 2)), np.empty(0, dtype=np.int32), 0
    path, stops, closes = chain(paper)
    return _straight_runs(paper, path, stops, closes, tolerance)


def cut_outlines(index: CutIndex, plane: DrawingPlane, tolerance: float = 5.0e-4) -> CutOutlines:
    """What the plane cuts, as outlines on paper that stay within ``tolerance`` metres of the mesh."""
    return CutOutlines(*_cut_outlines(index.corners, index.order, index.middle, index.half, plane.frame, tolerance))
