"""The uprights of a set: edges that stand, joined where one runs on in the next."""

from __future__ import annotations

from math import radians, tan

import numpy as np

from zevlo.core.arrays import Floats

UPRIGHT_DEG = 1.0
"""Edges that lean less than this in the world count as upright."""
SAME_PLACE_M = 2.0e-3
MOST = 3000


def upright_runs(edges: Floats, scale: float = 1.0) -> Floats:
    """The longest uprights (n, 2, 3) among edges (m, 2, 3), foot first. ``scale``: of the set, 1 where it is told in
    metres."""
    along = edges[:, 1] - edges[:, 0]
    rise = np.abs(along[:, 2])
    stands = (rise > 0.0) & (np.hypot(along[:, 0], along[:, 1]) <= tan(radians(UPRIGHT_DEG)) * rise)
    if not stands.any():
        return np.zeros((0, 2, 3))
    own = edges[stands]
    own = np.where((own[:, 0, 2] > own[:, 1, 2])[:, None, None], own[:, ::-1], own)
    grid = SAME_PLACE_M * scale
    place = np.round(own.mean(axis=1)[:, :2] / grid).astype(np.int64)
    order = np.lexsort((own[:, 0, 2], place[:, 1], place[:, 0]))
    own, place = own[order], place[order]
    # A run goes on while the next edge at its place begins where it has come to, or before.
    other = np.r_[True, (place[1:] != place[:-1]).any(axis=1)]
    group = np.cumsum(other) - 1
    span = float(np.ptp(own[:, :, 2])) + 2.0 * grid
    reached = np.maximum.accumulate(own[:, 1, 2] + group * 2.0 * span) - group * 2.0 * span
    begins = other | np.r_[True, own[1:, 0, 2] > reached[:-1] + grid]
    first = np.flatnonzero(begins)
    last = np.r_[first[1:], len(own)] - 1
    tops = np.array([own[a + int(np.argmax(own[a : b + 1, 1, 2])), 1] for a, b in zip(first, last, strict=True)])
    runs: Floats = np.stack([own[first, 0], tops], axis=1)
    longest = np.argsort(runs[:, 0, 2] - runs[:, 1, 2], kind="stable")[:MOST]
    return runs[longest]
