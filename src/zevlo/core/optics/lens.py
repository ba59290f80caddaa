"""The lens: angles of view, the window on the film."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan, degrees, hypot, radians, tan

from zevlo.text import optics as say

FULL_FRAME_WIDTH_MM = 36.0
FULL_FRAME_DIAGONAL_MM = hypot(FULL_FRAME_WIDTH_MM, 24.0)
PRIMES_MM = (14.0, 18.0, 24.0, 28.0, 35.0, 50.0, 85.0, 135.0, 200.0)
"""A set of prime lenses to step through (common practice, no source)."""


@dataclass(frozen=True)
class Window:
    """What of the film makes the picture, in mm from the lens axis, y up."""

    left: float
    right: float
    bottom: float
    top: float

    @property
    def width(self) -> float:
        return self.right - self.left

    @property
    def height(self) -> float:
        return self.top - self.bottom


def image_distance_mm(focal_length_mm: float, focus_mm: float, cosine: float = 1.0) -> float:
    """Distance of the sharp image behind the lens, v = f·u/(u-f) (thin lens equation).

    ``cosine``: of the angle the lens is turned by before its film; along the camera's axis it sees the depth
    u·cos α, and v = f·u/(u·cos α - f).
    """
    if focus_mm * cosine <= focal_length_mm:
        raise ValueError(say.focus_distance_mm_must_be_beyond(focus_mm, focal_length_mm))
    return focal_length_mm * focus_mm / (focus_mm * cosine - focal_length_mm)


def magnification(focal_length_mm: float, focus_mm: float, cosine: float = 1.0) -> float:
    """Image size over subject size at the focused distance, m = v/u."""
    return image_distance_mm(focal_length_mm, focus_mm, cosine) / focus_mm


def angle_deg(size_mm: float, distance_mm: float) -> float:
    """Angle of view across ``size_mm`` of film: 2·atan(size/(2·distance)), degrees."""
    return degrees(2.0 * atan(size_mm / (2.0 * distance_mm)))


def focal_length_for(angle: float, size_mm: float) -> float:
    """Focal length in mm that sees ``angle`` degrees across ``size_mm``; inverse of :func:`angle_deg`."""
    if not 0.1 <= angle <= 175.0:
        raise ValueError(say.an_angle_of_view(angle))
    return size_mm / (2.0 * tan(radians(angle) / 2.0))


def equivalent_focal_length_mm(distance_mm: float, width_mm: float, height_mm: float) -> float:
    """Focal length with the same diagonal angle on 36 × 24 as film so far behind a lens sees."""
    return distance_mm * FULL_FRAME_DIAGONAL_MM / hypot(width_mm, height_mm)


def focal_length_at(image_mm: float, focus_mm: float, cosine: float = 1.0) -> float:
    """Focal length whose sharp image of ``focus_mm`` away lies ``image_mm`` behind the lens; inverse of
    :func:`image_distance_mm`, f = v·u·cos α/(u+v)."""
    return image_mm * focus_mm * cosine / (focus_mm + image_mm)
