"""Rise, cross, and what the image circle allows."""

from __future__ import annotations

from functools import lru_cache
from math import atan2, cos, degrees, hypot, radians, sin, sqrt

import numpy as np

from zevlo.core.optics.back import FittedBack
from zevlo.core.optics.laws import Law
from zevlo.core.optics.lens import Window
from zevlo.core.shot import Movements


def shifted_window(fitted: FittedBack, movements: Movements) -> Window:
    """The window of a fitted back after rise and cross: rise > 0 shows more of what is above."""
    return Window(
        left=fitted.left + movements.cross_mm,
        right=fitted.right + movements.cross_mm,
        bottom=fitted.bottom + movements.rise_mm,
        top=fitted.top + movements.rise_mm,
    )


_UPRIGHT_M, _FAR_M = 1.0e-3, 1000.0


@lru_cache(maxsize=256)
def lean_deg(law: Law, width_mm: float, pitch_deg: float) -> float:
    """Lean of an upright at the side of an uncorrected frame, degrees: of a short one, as the law draws it there.

    In perspective that is atan((w'/2)·tanθ/f).
    """
    start, level, right, over, out, _ = law.rays(np, np.float64(width_mm / 2.0), np.float64(0.0))
    across, up, ahead = start + _FAR_M * right, level + _FAR_M * over, _FAR_M * out
    ends = np.array([-0.5, 0.5]) * _UPRIGHT_M
    x, y, _ = law.film(
        np, across + 0.0 * ends, up + ends * cos(radians(pitch_deg)), ahead + ends * sin(radians(pitch_deg))
    )
    return degrees(atan2(float(x[0] - x[1]), float(y[1] - y[0])))


def circle_used_mm(window: Window) -> float:
    """Diameter of the smallest image circle, centred on the lens axis, that holds the window."""
    x = max(abs(window.left), abs(window.right))
    y = max(abs(window.bottom), abs(window.top))
    return 2.0 * hypot(x, y)


def room_mm(edge: float, most_across: float, circle_mm: float) -> float | None:
    """Shift that an image circle allows a rectangle towards one side; None if it does not even hold it there.

    ``edge``: how far that side lies from the middle without a shift; ``most_across``: how far the farther of the other
    two sides lies from the lens axis. From hypot(shift + edge, most_across) ≤ D/2.
    """
    square = (circle_mm / 2.0) ** 2 - most_across**2
    room = sqrt(square) - edge if square >= 0.0 else -1.0
    return room if room >= 0.0 else None


def rooms_mm(fitted: FittedBack, movements: Movements, circle_mm: float) -> tuple[float | None, float | None]:
    """Rise and cross that an image circle allows a fitted back, each to the side it is moved to: as it is trimmed, and
    moved the other way."""
    window = shifted_window(fitted, movements)
    up = fitted.top if movements.rise_mm >= 0.0 else -fitted.bottom
    aside = fitted.right if movements.cross_mm >= 0.0 else -fitted.left
    wide, high = max(abs(window.left), abs(window.right)), max(abs(window.bottom), abs(window.top))
    return room_mm(up, wide, circle_mm), room_mm(aside, high, circle_mm)
