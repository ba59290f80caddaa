"""Where a new stand-in is put: before the viewer, facing them, free of walls and of what stands there."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats
from zevlo.core.scene.stand_ins.made import Figure, Panel, StandIn, facing, footprint, put_down
from zevlo.core.scene.working import WorkingSet

STEP_M = 0.1
NEAREST_M = 1.0
MOST_STEPS = 1000
Mask = NDArray[np.bool_]
_SIDES = [(0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (1, 3)]


def put_before(stand_in: StandIn, viewer: tuple[float, float, float], working: WorkingSet) -> StandIn:
    """The stand-in facing a viewer: at its place, or as little nearer to them as it needs to stand free.

    Where it is free nowhere on the way, as a wide sweep in a narrow room, it stays at its place.
    """
    turned = facing(stand_in, viewer[0], viewer[1])
    direction = np.array(viewer[:2]) - np.array(turned.at[:2])
    length = float(np.linalg.norm(direction))
    if length <= NEAREST_M:
        return turned
    # No farther than the set reaches, and in so many steps at most: the viewer may be anywhere.
    reach = min(length - NEAREST_M, working.reach)
    moves = np.arange(0.0, reach, max(STEP_M, reach / MOST_STEPS))[:, None] * direction / length
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


def _free(outlines: Floats, heights: Floats, working: WorkingSet) -> Mask:
    """Which outlines (n, 4, 2) nothing crosses at any of the heights, nor stands within, (n,)."""
    corners = [np.dstack([outlines, np.full(outlines.shape[:2], z)]) for z in heights]
    pairs = [(level[:, a], level[:, b]) for level in corners for a, b in _SIDES]
    # A side tells nothing of a block that stands within: that is met on the way down.
    pairs += [(corners[-1][:, n], corners[0][:, n]) for n in range(4)]
    pairs.append((corners[-1].mean(axis=1), corners[0].mean(axis=1)))
    starts, stops = (np.concatenate([pair[end] for pair in pairs]) for end in (0, 1))
    length = np.linalg.norm(stops - starts, axis=1)
    hit = working.rays.blocked(starts, (stops - starts) / np.maximum(length, 1.0e-9)[:, None], length)
    free: Mask = np.asarray(~hit.reshape(len(pairs), len(outlines)).any(axis=0))
    return free
