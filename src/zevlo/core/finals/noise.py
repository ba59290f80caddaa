"""How much grain a picture has: what the light that was gathered may be off by, as an eye would see it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zevlo.core.light.tone import shoulder, srgb_share

Plane = NDArray[np.float64]
BRIGHTEST = 4.0
"""Light over so many times white is counted as that: it is white all the same, however much its samples differ."""
BLOCK_PX = 25
WORST_SHARE = 0.9
"""A picture is as grainy as this share of its blocks stays under: grain in a corner is seen too."""


def grain(mean: Plane, mean_square: Plane, samples: int) -> float:
    """Noise of a picture (H, W) in steps of 255, before cleaning.

    ``mean`` and ``mean_square``: of the brightness of single samples, 1 is white, none counted over
    :data:`BRIGHTEST`. The mean of n samples is off by s / sqrt(n), s their own scatter; it counts by what it makes of
    the tone that is shown.
    """
    scatter = np.sqrt(np.maximum(mean_square - mean * mean, 0.0) / max(samples - 1, 1))
    shown = (_tone(mean + scatter) - _tone(mean - scatter)) / 2.0
    return float(np.quantile(np.sqrt(_blocks(shown * shown)), WORST_SHARE))


def _tone(linear: Plane) -> Plane:
    return np.asarray(255.0 * srgb_share(shoulder(linear)), dtype=np.float64)


def _blocks(plane: Plane) -> Plane:
    """Means over squares of about :data:`BLOCK_PX`, all over the plane."""
    edges = [np.linspace(0, side, max(1, side // BLOCK_PX) + 1).astype(int) for side in plane.shape]
    total = np.add.reduceat(np.add.reduceat(plane, edges[0][:-1], axis=0), edges[1][:-1], axis=1)
    return np.asarray(total / (np.diff(edges[0])[:, None] * np.diff(edges[1])))
