"""What of lines and rings on paper lies within a box of a page."""

from __future__ import annotations

import numpy as np
import shapely

from zevlo.core.arrays import Floats


def touches(run: Floats, box: Floats) -> bool:
    """Whether the box round a run (n, 2) touches a box (2, 2)."""
    return bool((run.max(axis=0) >= box[0]).all() and (run.min(axis=0) <= box[1]).all())


def ring_in(ring: Floats, box: Floats) -> Floats:
    """What of a closed run (n, 2) lies in a box (2, 2)."""
    return ring if (ring >= box[0]).all() and (ring <= box[1]).all() else clipped_ring(ring, box)


def run_in(run: Floats, box: Floats) -> list[Floats]:
    """What of an open run (n, 2) lies in a box (2, 2)."""
    if (run >= box[0]).all() and (run <= box[1]).all():
        return [run]
    found = shapely.LineString(run).intersection(shapely.box(*box.ravel()))
    return [np.array(one.coords) for one in getattr(found, "geoms", [found]) if one.geom_type == "LineString"]


def lines_in(lines: Floats, box: Floats) -> Floats:
    """What of straight lines (n, 2, 2) lies in a box (2, 2), (m, 2, 2) (Liang and Barsky, *ACM Transactions on
    Graphics* 3 (1984) (from memory))."""
    start, direction = lines[:, 0], lines[:, 1] - lines[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        ends = np.sort((box[:, None] - start) / direction, axis=0)
    # What runs along an axis is inside on it all the way, or nowhere.
    along, inside = direction == 0.0, (start >= box[0]) & (start <= box[1])
    first = np.where(along, np.where(inside, 0.0, np.inf), ends[0]).max(axis=1, initial=0.0)
    last = np.where(along, 1.0, ends[1]).min(axis=1, initial=1.0)
    kept = first < last
    start, direction = start[kept], direction[kept]
    return np.stack([start + first[kept, None] * direction, start + last[kept, None] * direction], axis=1)


def clipped_ring(ring: Floats, box: Floats) -> Floats:
    """What of a closed run (n, 2) lies in a box (2, 2), side by side of the box (Sutherland and Hodgman 1974)."""
    for axis in range(2):
        for end, sign in ((0, 1.0), (1, -1.0)):
            if len(ring) == 0:
                return ring
            inside = sign * (ring[:, axis] - box[end, axis])
            after, then = np.roll(ring, -1, axis=0), np.roll(inside, -1)
            kept = []
            for n in range(len(ring)):
                if inside[n] >= 0.0:
                    kept.append(ring[n])
                if (inside[n] >= 0.0) != (then[n] >= 0.0):
                    kept.append(ring[n] + inside[n] / (inside[n] - then[n]) * (after[n] - ring[n]))
            ring = np.array(kept).reshape(-1, 2)
    return ring


ON_EDGE_MM = 1.0e-6


def without_edges(ring: Floats, box: Floats) -> list[Floats]:
    """The outline of a closed run but for what lies along the edge of a box: where a drawing ends there is no wall."""
    runs: list[Floats] = []
    ends = np.concatenate([ring, ring[:1]])
    for n in range(len(ring)):
        piece = ends[n : n + 2]
        along = np.isclose(piece, box[0], atol=ON_EDGE_MM).all(axis=0) | np.isclose(piece, box[1], atol=ON_EDGE_MM).all(
            axis=0
        )
        if along.any():
            continue
        if runs and np.array_equal(runs[-1][-1], piece[0]):
            runs[-1] = np.concatenate([runs[-1], piece[1:]])
        else:
            runs.append(piece)
    return runs
