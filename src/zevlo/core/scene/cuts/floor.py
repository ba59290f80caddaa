"""The floor under a point: what one would set a tripod on, seen straight down."""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.compiled import compiled
from zevlo.core.scene.cuts.cut import CutIndex

FURNITURE_CLEARANCE_M = (0.25, 1.3)
"""A surface with clear air under it in this range is a table or a bench, not a floor (our convention)."""
FURNITURE_THICKNESS_M = 0.35
_UPRIGHT_SHARE = 1.0e-6
_SLACK_M = 1.0e-9


@compiled
def _surfaces_below(corners: Floats, middle: Floats, half: Floats, x: float, y: float, z: float) -> Floats:
    """What lies at or below (x, y, z), (n, 2): height, and upward share of the normal.

    A vertical line counts as through a triangle by the crossings of its sides, so that of two triangles that share
    a side it always goes through one. Upright triangles are passed over.
    """
    blocks, size = len(middle), corners.shape[3]
    found = np.empty((16, 2))
    count = 0
    for block in range(blocks):
        if (
            abs(middle[block, 0] - x) > half[block, 0] + _SLACK_M
            or abs(middle[block, 1] - y) > half[block, 1] + _SLACK_M
            or middle[block, 2] - half[block, 2] > z + _SLACK_M
        ):
            continue
        box = corners[block]
        for face in range(size):
            inside = False
            for corner in range(3):
                after = (corner + 1) % 3
                here, there = box[1, corner, face], box[1, after, face]
                if (here > y) == (there > y):
                    continue
                # From the lower end whichever way the side runs, so that both its triangles agree.
                low, high = (corner, after) if here < there else (after, corner)
                share = (y - box[1, low, face]) / (box[1, high, face] - box[1, low, face])
                if x < box[0, low, face] + share * (box[0, high, face] - box[0, low, face]):
                    inside = not inside
            if not inside:
                continue
            ax, ay, az = box[0, 0, face], box[1, 0, face], box[2, 0, face]
            ux, uy, uz = box[0, 1, face] - ax, box[1, 1, face] - ay, box[2, 1, face] - az
            vx, vy, vz = box[0, 2, face] - ax, box[1, 2, face] - ay, box[2, 2, face] - az
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            whole = np.sqrt(nx * nx + ny * ny + nz * nz)
            if abs(nz) <= _UPRIGHT_SHARE * whole:
                continue
            height = az - (nx * (x - ax) + ny * (y - ay)) / nz
            if height > z:
                continue
            if count == len(found):
                more = np.empty((2 * count, 2))
                for n in range(count):
                    more[n, 0], more[n, 1] = found[n, 0], found[n, 1]
                found = more
            found[count, 0] = height
            found[count, 1] = nz / whole
            count += 1
    return found[:count].copy()


def floor_under(index: CutIndex, point: Floats) -> float | None:
    """Height of the floor under a point (3,), or None where nothing lies below it.

    The first surface below that is no furniture: a thin one with 0.25 to 1.3 m of clear air under it is
    passed through, because a tripod stands beside a table, not on it.
    """
    x, y, z = point.tolist()
    surfaces = sorted(_surfaces_below(index.corners, index.middle, index.half, x, y, z).tolist(), reverse=True)
    top = 0
    while top < len(surfaces):
        underside = _furniture_underside(surfaces, top)
        if underside is None:
            height: float = surfaces[top][0]
            return height
        top = underside + 1
    return surfaces[0][0] if surfaces else None


def nearest_floor(index: CutIndex, x: float, y: float, z: float, reach: float = 0.4) -> float | None:
    """Height of the surface facing up that is nearest to a height at a place in plan; None where none is in reach.

    ``index``: of the set's faces; ``x``, ``y``: the place, ``z``: the height, ``reach``: how far off it may lie, all in
    metres."""
    surfaces = _surfaces_below(index.corners, index.middle, index.half, x, y, z + reach)
    heights = [height for height, facing in surfaces.tolist() if facing > 0.0 and abs(height - z) <= reach]
    return min(heights, key=lambda height: abs(height - z), default=None)


def _furniture_underside(surfaces: list[list[float]], top: int) -> int | None:
    """Number of the surface that is the underside of a table whose top is ``top``; None where that is a floor.

    ``surfaces`` are heights and upward shares of normals, going down. Boards that touch count as one: only an
    underside with air below it, down to something that faces up, ends a table.
    """
    for index in range(top + 1, len(surfaces) - 1):
        height, facing = surfaces[index]
        if surfaces[top][0] - height >= FURNITURE_THICKNESS_M:
            return None
        under, under_facing = surfaces[index + 1]
        air = facing < 0.0 < under_facing
        if air and FURNITURE_CLEARANCE_M[0] < height - under < FURNITURE_CLEARANCE_M[1]:
            return index
    return None
