"""A plane through the set: outlines of what it cuts. Plan and section are both made from this."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zevlo.core.arrays import Floats, Integers
from zevlo.core.compiled import compiled
from zevlo.core.scene.cuts.outline import CutOutlines, chain, flat_segments, straight_runs
from zevlo.core.scene.cuts.shells import with_shells_open

CUT_DRAWN_TO_M = 5.0e-4
"""How far the outline of a cut may lie from the cut, in a set as large as a room."""


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


def plan_plane(height: float) -> DrawingPlane:
    """Horizontal plane at ``height``, read from above, project north up."""
    return DrawingPlane(np.array([[0.0, 0.0, height], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]))


def elevation_plane(south: float) -> DrawingPlane:
    """Upright plane at y = ``south``, seen from the south. Paper x is the world's x, paper y the height above zero."""
    return section_plane(np.array([0.0, south, 0.0]), np.array([1.0, 0.0, 0.0]))


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
def _cut_outlines(
    corners: Floats, order: Integers, middle: Floats, half: Floats, frame: Floats, tolerance: float
) -> tuple[Floats, Integers, int]:
    """See :func:`cut_outlines`. ``frame``: that of the plane."""
    origin, across, up, toward = frame[0], frame[1], frame[2], frame[3]
    offset = origin[0] * toward[0] + origin[1] * toward[1] + origin[2] * toward[2]
    segments, _ = _cut_blocks(corners, order, middle, half, toward, offset)
    paper = flat_segments(segments, origin, across, up)
    if len(paper) == 0:
        return np.empty((0, 2)), np.empty(0, dtype=np.int32), 0
    path, stops, closes = chain(paper)
    return straight_runs(paper, path, stops, closes, tolerance)


def cut_outlines(index: CutIndex, plane: DrawingPlane, tolerance: float = CUT_DRAWN_TO_M) -> CutOutlines:
    """What the plane cuts, as outlines on paper that stay within ``tolerance`` metres of the mesh."""
    found = _cut_outlines(index.corners, index.order, index.middle, index.half, plane.frame, tolerance)
    # Compiled into one with the cut, it made that ten times slower.
    return CutOutlines(*with_shells_open(*found), parts=10.0 ** np.ceil(-np.log10(max(tolerance, 1.0e-9))))
