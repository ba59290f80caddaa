"""Polygons to triangles: fans where they are convex, ear clipping where they are not."""

from __future__ import annotations

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

from zevlo.files.refusal import CannotRead
from zevlo.text import models as say


def triangulated(
    points: NDArray[np.floating], counts: NDArray[np.integer], corners: NDArray[np.integer]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Triangles as places in ``corners``, (T, 3), and the polygon each comes from, (T,).

    ``points`` (V, 3); ``counts`` (P,) corners of each polygon; ``corners`` their points, one polygon after another.
    """
    counts = counts.astype(np.int64)
    if (counts < 0).any() or int(counts.sum()) != len(corners):
        raise CannotRead(say.BROKEN_ITS_POLYGONS)
    if len(corners) and (int(corners.min()) < 0 or int(corners.max()) >= len(points)):
        raise CannotRead(say.BROKEN_SOME_POLYGONS)
    first = np.cumsum(counts) - counts
    made, owners = [], []
    threes = np.flatnonzero(counts == 3)
    made.append(first[threes, None] + np.arange(3))
    owners.append(threes)
    fours = np.flatnonzero(counts == 4)
    if len(fours):
        at = first[fours, None] + np.arange(4)
        across = _better_across(points[corners[at]])
        split = np.where(across[:, None, None], [[1, 2, 3], [1, 3, 0]], [[0, 1, 2], [0, 2, 3]])
        made.append((first[fours, None, None] + split).reshape(-1, 3))
        owners.append(np.repeat(fours, 2))
    for polygon in np.flatnonzero(counts > 4):
        here = np.arange(first[polygon], first[polygon] + counts[polygon])
        triangles = _ears(points[corners[here]])
        made.append(here[triangles])
        owners.append(np.full(len(triangles), polygon))
    return np.concatenate(made), np.concatenate(owners)


def _better_across(quads: NDArray[np.floating]) -> NDArray[np.bool_]:
    """Which quads (n, 4, 3) have to be split from their second corner: the other split would fold over."""
    sides = np.roll(quads, -1, axis=1) - quads
    turn = np.cross(np.roll(sides, 1, axis=1), sides)
    whole = turn.sum(axis=1, keepdims=True)
    inward = np.einsum("nik,njk->ni", turn, whole) < 0.0
    bent: NDArray[np.bool_] = inward[:, 1] | inward[:, 3]
    return bent


def _ears(ring: NDArray[np.floating]) -> NDArray[np.int64]:
    """Triangles of a ring of points (n, 3), seen along its normal (Newell)."""
    after = np.roll(ring, -1, axis=0)
    normal = np.cross(ring, after).sum(axis=0)
    size = float(np.linalg.norm(normal))
    if size < 1e-300:
        return np.zeros((0, 3), dtype=np.int64)
    normal /= size
    across = np.eye(3)[np.argmin(np.abs(normal))]
    u = np.cross(across, normal)
    u /= np.linalg.norm(u)
    flat = ring @ np.stack([u, np.cross(normal, u)], axis=1)
    found = mapbox_earcut.triangulate_float64(np.ascontiguousarray(flat), np.array([len(ring)], dtype=np.uint32))
    triangles = np.asarray(found, dtype=np.int64).reshape(-1, 3)
    # Ear clipping does not promise a sense: turn each as the ring runs.
    a, b, c = flat[triangles[:, 0]], flat[triangles[:, 1]], flat[triangles[:, 2]]
    clockwise = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]) < 0.0
    triangles[clockwise] = triangles[clockwise][:, ::-1]
    return triangles
