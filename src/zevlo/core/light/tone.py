"""From light to the numbers a screen is given."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

SHOULDER_FROM = 0.75
"""Linear values above this share of white are rolled off softly instead of clipped, in pictures for screens only."""


def shoulder(linear: NDArray[np.floating]) -> NDArray[np.floating]:
    """Linear up to 0.75, then a curve of the same slope that approaches 1: highlights keep their drawing.

    y = s + (1-s)·(1 - exp(-(x-s)/(1-s))).
    """
    s = SHOULDER_FROM
    rolled = s + (1.0 - s) * (1.0 - np.exp(-(np.maximum(linear, s) - s) / (1.0 - s)))
    curved: NDArray[np.floating] = np.where(linear <= s, np.maximum(linear, 0.0), rolled)
    return curved


def srgb_share(linear: NDArray[np.floating]) -> NDArray[np.floating]:
    """sRGB's curve over linear light, both 0 to 1 (IEC 61966-2-1)."""
    curved: NDArray[np.floating] = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1.0 / 2.4) - 0.055)
    return curved
