"""Where a tripod stands, as one measures it in a room: square off two walls."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.cuts.outline import CutOutlines

LEAST_FACE_M = 0.4
"""A shorter face of a wall is nothing to lay a tape against (our convention)."""
FARTHEST_M = 30.0
"""A usual long tape (common practice, no source)."""
APART_DEG = 55.0
"""Two walls that stand more along each other do not fix a place well (our convention)."""
JOINED_M = 2.0e-3
WALL_HEIGHT_M = 1.9
"""Walls are looked for so high: over what stands in a room, under most lintels (common practice, no source)."""
Side = Literal["ahead", "on the right", "behind", "on the left"]


@dataclass(frozen=True, eq=False)
class OffWall:
    """A distance square off a face of a wall."""

    distance_m: float
    foot: Floats
    """Where the tape meets it, (2,) in plan."""
    face: Floats
    """Its ends, (2, 2)."""
    side: Side
    """Where it is, for who looks along the lens."""
    axis_off_square_deg: float
    """How far the lens axis is turned from square to it, clockwise from above; -90 to 90."""
    what: str = "wall"
    """What is measured from: a wall, or an edge of what the set is about."""


def faces_of(cut: CutOutlines) -> Floats:
    """Straight faces (n, 2, 2) of what a level plane cuts; pieces of one line that meet count as one."""
    runs = [np.concatenate([ring, ring[:1]]) for ring in cut.closed if len(ring) >= 2] + list(cut.open)
    pieces = [np.stack([run[:-1], run[1:]], axis=1) for run in (_straight(run) for run in runs) if len(run) >= 2]
    return np.concatenate(pieces) if pieces else np.empty((0, 2, 2))


def _straight(run: Floats) -> Floats:
    """A run without the points that lie on the line between their neighbours."""
    if len(run) < 3:
        return run
    before, here, after = run[:-2], run[1:-1], run[2:]
    direction = after - before
    long = np.maximum(np.hypot(direction[:, 0], direction[:, 1]), 1.0e-12)
    away = here - before
    off = np.abs(direction[:, 0] * away[:, 1] - direction[:, 1] * away[:, 0]) / long
    along = np.sum((here - before) * (after - here), axis=1) > 0.0
    needed = np.concatenate([[True], ~((off < JOINED_M) & along), [True]])
    return np.asarray(run[needed])


def off_walls(stand: Floats, heading_deg: float, faces: Floats) -> tuple[OffWall, OffWall] | None:
    """The nearest two walls one can lay a tape square against from a stand (2,) that stand across each other.

    ``faces`` (n, 2, 2) in plan; ``heading_deg`` clockwise from +Y. None where no two such walls can be reached.
    """
    direction = faces[:, 1] - faces[:, 0]
    long = np.hypot(direction[:, 0], direction[:, 1])
    away = stand - faces[:, 0]
    along = np.sum(away * direction, axis=1) / np.maximum(long, 1.0e-12)
    feet = faces[:, 0] + (along / np.maximum(long, 1.0e-12))[:, None] * direction
    distance = np.hypot(*(stand - feet).T)
    fits = (long >= LEAST_FACE_M) & (along >= 0.0) & (along <= long) & (distance > JOINED_M) & (distance < FARTHEST_M)
    order = [n for n in np.argsort(distance, kind="stable").tolist() if fits[n]]
    nearer: list[int] = []
    for n in order:
        if not _clear(stand, feet[n], faces):
            continue
        for first in nearer:
            turn = abs(direction[n, 0] * direction[first, 1] - direction[n, 1] * direction[first, 0]) / (
                long[n] * long[first]
            )
            if turn >= np.sin(np.radians(APART_DEG)):
                one, other = (_off_wall(stand, heading_deg, feet[k], faces[k], float(distance[k])) for k in (first, n))
                return one, other
        nearer.append(n)
    return None


SET_EDGE = "edge"


def off_edges(stand: Floats, heading_deg: float, box: Floats) -> tuple[OffWall, OffWall]:
    """How far a stand (2,) is off the nearest edge along and the nearest across of the box (2, 2) of what stands on a
    table, or off their lines: there are no walls in reach of a product set."""
    edges = []
    for axis in range(2):
        near = int(np.argmin(np.abs(box[:, axis] - stand[axis])))
        foot = stand.copy()
        foot[axis] = box[near, axis]
        face = np.array([box[0], box[1]])
        face[:, axis] = box[near, axis]
        distance = abs(float(foot[axis] - stand[axis]))
        edges.append(_off_wall(stand, heading_deg, foot, face, distance, SET_EDGE))
    one, other = sorted(edges, key=lambda edge: edge.distance_m)
    return one, other


def _clear(stand: Floats, foot: Floats, faces: Floats) -> bool:
    """Whether nothing is between a stand and the foot of a tape."""
    direction, end = foot - stand, (foot - stand) * (1.0 - JOINED_M / np.hypot(*(foot - stand)))
    a, b = faces[:, 0] - stand, faces[:, 1] - stand
    side_a, side_b = direction[0] * a[:, 1] - direction[1] * a[:, 0], direction[0] * b[:, 1] - direction[1] * b[:, 0]
    face = b - a
    from_here = face[:, 0] * -a[:, 1] - face[:, 1] * -a[:, 0]
    from_end = face[:, 0] * (end[1] - a[:, 1]) - face[:, 1] * (end[0] - a[:, 0])
    return not bool(np.any((side_a * side_b < 0.0) & (from_here * from_end < 0.0)))


def _off_wall(
    stand: Floats, heading_deg: float, foot: Floats, face: Floats, distance: float, what: str = "wall"
) -> OffWall:
    east, north = (foot - stand).tolist()
    toward = degrees(atan2(east, north))
    turn = (toward - heading_deg) % 360.0
    quarter = round(turn / 90.0) % 4
    sides: tuple[Side, ...] = ("ahead", "on the right", "behind", "on the left")
    off_square = (heading_deg - toward + 90.0 * quarter + 180.0) % 360.0 - 180.0
    return OffWall(distance, foot, face, sides[quarter], off_square, what)
