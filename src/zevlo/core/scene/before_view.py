"""Where a new stand-in is put: before the viewer, facing them, free of walls and of what stands there."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zevlo.core.scene.model import Floats
from zevlo.core.scene.stand_ins import Figure, Panel, StandIn, facing, footprint, put_down
from zevlo.core.scene.working import WorkingSet

STEP_M = 0.1
NEAREST_M = 1.0
_SIDES = [(0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (1, 3)]


def put_before(stand_in: StandIn, viewer: tuple[float, float, float], working: WorkingSet) -> StandIn:
    """The stand-in facing a viewer: at its place, or as little nearer to them as it needs to stand free.

    Where it is free nowhere on the way, as a wide sweep in a narrow room, it stays at its place.
    """
    turned = facing(stand_in, viewer[0], viewer[1])
    way = np.array(viewer[:2]) - np.array(turned.at[:2])
    length = float(np.linalg.norm(way))
    if length <= NEAREST_M:
        return turned
    moves = np.arange(0.0, length - NEAREST_M, STEP_M)[:, None] * way / length
    outlines = footprint(turned)[None] + moves[:, None]
    free = np.flatnonzero(_free(outlines, np.array(_heights(turned)), working))
    if len(free) == 0 or free[0] == 0:
        return turned
    x, y = (np.array(turned.at[:2]) + moves[free[0]]).tolist()
    z = turned.at[2] + STEP_M
    return put_down(turned, x, y, working.floor_at(*turned.at[:2], from_z=z), working.floor_at(x, y, from_z=z))


def _heights(one: StandIn) -> list[float]:
    """Where it is tried whether something is in the way, low to high."""
    z = one.at[2]
    if isinstance(one, Panel):
        return [z - 0.4 * one.height_m, z, z + 0.4 * one.height_m]
    top = one.height_m if isinstance(one, Figure) else one.back_m
    return [z + 0.15 * top, z + 0.5 * top, z + 0.9 * top]


def _free(outlines: Floats, heights: Floats, working: WorkingSet) -> NDArray[np.bool_]:
    """Which outlines (n, 4, 2) nothing crosses at any of the heights, (n,)."""
    starts, stops = (outlines[:, [side[end] for side in _SIDES]] for end in (0, 1))
    origins = np.concatenate([np.dstack([starts, np.full(starts.shape[:2], z)]) for z in heights], axis=1)
    along = np.concatenate([np.dstack([stops - starts, np.zeros(starts.shape[:2])])] * len(heights), axis=1)
    length = np.linalg.norm(along, axis=2, keepdims=True)
    ways = (along / np.maximum(length, 1.0e-9)).reshape(-1, 3)
    hit = working.rays.blocked(origins.reshape(-1, 3), ways, length.reshape(-1))
    crossed: NDArray[np.bool_] = hit.reshape(len(outlines), -1).any(axis=1)
    return ~crossed
