"""From light to the numbers a screen is given."""

from __future__ import annotations

import numpy as np

from zevlo.core.scene.model import Floats


def srgb_share(linear: Floats) -> Floats:
    """sRGB's curve over linear light, both 0 to 1 (IEC 61966-2-1)."""
    curved: Floats = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1.0 / 2.4) - 0.055)
    return curved
