"""A plane through the set: outlines of what it cuts. Plan and section are both made from this."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.scene.model import Floats, Integers


@dataclass(frozen=True)
class DrawingPlane:
    """A drawing's plane: ``across`` and ``up`` span the paper, ``toward`` points at the reader; unit, (3,)."""

    origin: Floats
    across: Floats
    up: Floats
    toward: Floats

    def flat(self, points: Floats) -> Floats:
        """Points (..., 3) as paper coordinates (..., 2) in metres."""
        away = points - self.origin
        return np.stack([away @ self.across, away @ self.up], axis=-1)


@dataclass(frozen=True)
class CutOutlines:
    """Closed outlines (to be filled, nonzero rule) and open lines (of sheets), each (n, 2) metres."""

    closed: tuple[Floats, ...]
    open: tuple[Floats, ...]


def plan_plane(height: float) -> DrawingPlane:
    """Horizontal plane at ``height``, read from above, project north up."""
    return DrawingPlane(
        np.array([0.0, 0.0, height]), np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])
    )


def section_plane(position: Floats, level_axis: Floats) -> DrawingPlane:
    """Upright plane through the stand along its heading; the camera looks to the right on paper.

    Paper x is the level distance from the stand, paper y the height above zero.
    """
    origin = np.array([position[0], position[1], 0.0])
    return DrawingPlane(origin, level_axis, np.array([0.0, 0.0, 1.0]), np.array([level_axis[1], -level_axis[0], 0.0]))


BLOCK_FACES = 64


@dataclass(frozen=True)
class CutIndex:
    """Faces in blocks that lie close together, with each block's box, so that a plane tries only what it can meet.

    ``order`` (B, 64) face numbers; ``corners`` (B, 3 axes, 64 faces, 3 corners); ``middle`` and ``half`` (B, 3) of
    the boxes. The last block is filled up with its last face shrunk to a point, which no plane cuts.
    """

    order: Integers
    corners: Floats
    middle: Floats
    half: Floats

    def met_by(self, plane: DrawingPlane) -> NDArray[np.intp]:
        """Numbers of the blocks a plane may meet."""
        away = (self.middle - plane.origin) @ plane.toward
        return np.flatnonzero(np.abs(away) <= self.half @ np.abs(plane.toward) + 1.0e-9)


def index_for_cuts(vertices: Floats, faces: Integers) -> CutIndex:
    """Blocks of faces in the order they come in: a model's faces follow its parts, so they lie together already.

    Sorting them along a space-filling curve was tried: a second for a million triangles, and hardly fewer to try.
    """
    spare = -len(faces) % BLOCK_FACES
    order = np.concatenate([np.arange(len(faces)), np.full(spare, max(len(faces) - 1, 0))]).astype(np.int32)
    triangles = vertices[faces[order]]
    if spare:
        triangles[-spare:] = triangles[-spare:, :1]
    blocks = triangles.reshape(-1, BLOCK_FACES, 3, 3)
    lowest, highest = blocks.min(axis=(1, 2)), blocks.max(axis=(1, 2))
    return CutIndex(
        order.reshape(-1, BLOCK_FACES),
        np.ascontiguousarray(blocks.transpose(0, 3, 1, 2)),
        (lowest + highest) / 2.0,
        (highest - lowest) / 2.0,
    )


def cut_segments(index: CutIndex, plane: DrawingPlane) -> tuple[Floats, Integers]:
    """Segments (n, 2, 3) where the plane cuts triangles, and their face numbers (n,).

    A vertex on the plane counts as above it, so every cut triangle gives exactly one segment. Heights are worked
    out number by number, not by a matrix product, so that a vertex gets the same one in every triangle; each point
    from its edge's lower to its upper end, so that neighbours agree on it. Segments run so that the solid lies on
    one side: from the edge that rises through the plane to the one that sinks.
    """
    met = index.met_by(plane)
    corners = index.corners[met]
    x, y, z = plane.toward.tolist()
    height = corners[:, 0] * x + corners[:, 1] * y + corners[:, 2] * z - float(plane.origin @ plane.toward)
    above = height >= 0.0
    first, second, third = above[..., 0], above[..., 1], above[..., 2]
    block, face = np.nonzero((first != second) | (second != third))
    numbers = index.order[met[block], face]
    if len(block) == 0:
        return np.zeros((0, 2, 3)), numbers
    chosen = corners[block, :, face].transpose(0, 2, 1)
    level, sides = height[block, face], above[block, face]
    following = sides[:, [1, 2, 0]]
    rising = np.argmax(~sides & following, axis=1)
    sinking = np.argmax(sides & ~following, axis=1)
    rows = np.arange(len(block))

    def crossed(low: NDArray[np.intp], high: NDArray[np.intp]) -> Floats:
        share = level[rows, low] / (level[rows, low] - level[rows, high])
        start = chosen[rows, low]
        found: Floats = start + share[:, None] * (chosen[rows, high] - start)
        return found

    start = crossed(rising, (rising + 1) % 3)
    end = crossed((sinking + 1) % 3, sinking)
    return np.stack([start, end], axis=1), numbers


def _point_ids(points: Floats) -> NDArray[np.int64]:
    """One number for each place on paper, to a hundredth of a millimetre: where a model's edges do not quite
    meet (a vertex of one face on the edge of another), its outline still closes."""
    grid = np.round(points * 1.0e5).astype(np.int64)
    ids: NDArray[np.int64] = np.unique(grid[:, 0] * 4_000_000_007 + grid[:, 1], return_inverse=True)[1]
    return ids


def chain(segments: Floats) -> tuple[list[list[int]], list[list[int]]]:
    """Segment numbers strung end to start: closed loops first, open chains second."""
    count = len(segments)
    ids = _point_ids(segments.transpose(1, 0, 2).reshape(-1, segments.shape[2]))
    starts, ends = ids[:count], ids[count:]
    leaving = np.argsort(starts, kind="stable")
    places = int(ids.max()) + 1
    departures = np.bincount(starts, minlength=places)
    stop = np.cumsum(departures)
    loose = np.flatnonzero(np.bincount(ends, minlength=places)[starts] == 0)
    # Plain lists: the walk below touches one number at a time.
    order, limit, onward = leaving.tolist(), stop.tolist(), (stop - departures).tolist()
    start_of, end_of = starts.tolist(), ends.tolist()
    used = [False] * count
    loops: list[list[int]] = []
    lines: list[list[int]] = []
    for number in [*loose.tolist(), *range(count)]:
        if used[number]:
            continue
        path, here, home = [number], number, start_of[number]
        used[number] = True
        while end_of[here] != home:
            place = end_of[here]
            at = onward[place]
            while at < limit[place] and used[order[at]]:
                at += 1
            onward[place] = at
            if at == limit[place]:
                break
            here = order[at]
            used[here] = True
            path.append(here)
        (loops if end_of[here] == home else lines).append(path)
    return loops, lines


def _straightened(points: Floats, sizes: list[int], closed: bool, tolerance: float) -> tuple[Floats, ...]:
    """Polylines, given end to end, without the points that lie on a straight run."""
    if not sizes:
        return ()
    lengths = np.array(sizes, dtype=np.int64)
    stops = np.cumsum(lengths)
    begins: NDArray[np.int64] = stops - lengths
    before, after = np.arange(len(points)) - 1, np.arange(len(points)) + 1
    before[begins], after[stops - 1] = stops - 1, begins
    a, b = points - points[before], points[after] - points
    turn = np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])
    length = np.hypot(a[:, 0], a[:, 1]) + np.hypot(b[:, 0], b[:, 1])
    needed = turn > tolerance * length
    if not closed:
        needed[begins] = needed[stops - 1] = True
    left = np.add.reduceat(needed.astype(np.int64), begins)
    kept, ends = points[needed], np.cumsum(left)
    least = 3 if closed else 2
    spans = zip((ends - left).tolist(), ends.tolist(), strict=True)
    return tuple(kept[begin:end] for begin, end in spans if end - begin >= least)


def cut_outlines(index: CutIndex, plane: DrawingPlane, tolerance: float = 5.0e-4) -> CutOutlines:
    """What the plane cuts, as outlines on paper. ``tolerance`` in metres for dropping straight points."""
    segments, _ = cut_segments(index, plane)
    if len(segments) == 0:
        return CutOutlines((), ())
    paper = plane.flat(segments)
    alive = np.abs(paper[:, 0] - paper[:, 1]).max(axis=1) > 0.0
    loops, lines = chain(paper[alive])
    paper = paper[alive]
    closed_points = paper[[n for loop in loops for n in loop], 0] if loops else np.zeros((0, 2))
    open_points = (
        np.concatenate([np.vstack([paper[line, 0], paper[line[-1:], 1]]) for line in lines])
        if lines
        else np.zeros((0, 2))
    )
    return CutOutlines(
        _straightened(closed_points, [len(loop) for loop in loops], True, tolerance),
        _straightened(open_points, [len(line) + 1 for line in lines], False, tolerance),
    )
