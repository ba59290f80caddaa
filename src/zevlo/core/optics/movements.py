"""Rise, cross, and what the image circle allows."""

from __future__ import annotations

from math import atan, degrees, hypot, radians, sqrt, tan

from zevlo.core.optics.back import Cut
from zevlo.core.optics.lens import Window
from zevlo.core.shot import Movements


def shifted_window(cut: Cut, movements: Movements, distance_mm: float) -> Window:
    """The window of a cut back after rise and cross: rise > 0 shows more of what is above."""
    return Window(
        left=cut.left + movements.cross_mm,
        right=cut.right + movements.cross_mm,
        bottom=cut.bottom + movements.rise_mm,
        top=cut.top + movements.rise_mm,
        distance_mm=distance_mm,
    )


def straighten_rise_mm(focal_length_mm: float, pitch_deg: float, share: float = 1.0) -> float:
    """Rise that keeps the centre ray when ``share`` of the pitch is taken out: f·tan(θ-θ'), θ' = (1-k)·θ."""
    return focal_length_mm * tan(radians(pitch_deg * share))


def lean_deg(width_mm: float, focal_length_mm: float, pitch_deg: float) -> float:
    """Lean of an upright at the side of an uncorrected frame: atan((w'/2)·tanθ/f), degrees."""
    return degrees(atan(width_mm / 2.0 * tan(radians(pitch_deg)) / focal_length_mm))


def circle_used_mm(window: Window) -> float:
    """Diameter of the smallest image circle, centred on the lens axis, that holds the window."""
    x = max(abs(window.left), abs(window.right))
    y = max(abs(window.bottom), abs(window.top))
    return 2.0 * hypot(x, y)


def room_mm(half_along: float, half_across: float, circle_mm: float) -> float | None:
    """Shift that an image circle allows a rectangle along one side; None if it does not even hold it.

    From hypot(shift + half_along, half_across) ≤ D/2.
    """
    square = (circle_mm / 2.0) ** 2 - half_across**2
    room = sqrt(square) - half_along if square >= 0.0 else -1.0
    return room if room >= 0.0 else None
