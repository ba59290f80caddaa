"""The lens: angles of view, window on the film, projection matrix."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan, degrees, hypot, radians, tan

import numpy as np
from numpy.typing import NDArray

FULL_FRAME_DIAGONAL_MM = hypot(36.0, 24.0)
PRIMES_MM = (14.0, 18.0, 24.0, 28.0, 35.0, 50.0, 85.0, 135.0, 200.0)
"""A set of prime lenses to step through (common practice, no source)."""


@dataclass(frozen=True)
class Window:
    """What the film sees, in mm on a plane ``distance_mm`` before the lens centre, y up."""

    left: float
    right: float
    bottom: float
    top: float
    distance_mm: float

    @property
    def width(self) -> float:
        return self.right - self.left

    @property
    def height(self) -> float:
        return self.top - self.bottom


def image_distance_mm(focal_length_mm: float, focus_mm: float) -> float:
    """Distance of the sharp image behind the lens, v = f·u/(u-f) (thin lens equation)."""
    if focus_mm <= focal_length_mm:
        raise ValueError(f"focus distance {focus_mm:g} mm must be beyond the focal length {focal_length_mm:g} mm")
    return focal_length_mm * focus_mm / (focus_mm - focal_length_mm)


def magnification(focal_length_mm: float, focus_mm: float) -> float:
    """Image size over subject size at the focused distance, m = f/(u-f)."""
    return image_distance_mm(focal_length_mm, focus_mm) / focus_mm


def angle_deg(size_mm: float, distance_mm: float) -> float:
    """Angle of view across ``size_mm`` of film: 2·atan(size/(2·distance)), degrees."""
    return degrees(2.0 * atan(size_mm / (2.0 * distance_mm)))


def focal_length_for(angle: float, size_mm: float) -> float:
    """Focal length in mm that sees ``angle`` degrees across ``size_mm``; inverse of :func:`angle_deg`."""
    if not 0.1 <= angle <= 175.0:
        raise ValueError(f"an angle of view may be 0.1° to 175°, not {angle:g}°")
    return size_mm / (2.0 * tan(radians(angle) / 2.0))


def equivalent_focal_length_mm(focal_length_mm: float, width_mm: float, height_mm: float) -> float:
    """Focal length with the same diagonal angle on 36 × 24."""
    return focal_length_mm * FULL_FRAME_DIAGONAL_MM / hypot(width_mm, height_mm)


def projection_matrix(window: Window, near_m: float, far_m: float | None) -> NDArray[np.float64]:
    """Off-axis projection, (4, 4), acting on column vectors, to OpenGL clip space.

    Source: glTF 2.0 specification, 3.10.3 (finite and infinite perspective), made off-axis as in the
    OpenGL frustum.
    """
    d, width, height = window.distance_mm, window.width, window.height
    if far_m is None:
        depth = (0.0, 0.0, -1.0, -2.0 * near_m)
    else:
        depth = (0.0, 0.0, -(far_m + near_m) / (far_m - near_m), -2.0 * far_m * near_m / (far_m - near_m))
    return np.array(
        [
            (2.0 * d / width, 0.0, (window.right + window.left) / width, 0.0),
            (0.0, 2.0 * d / height, (window.top + window.bottom) / height, 0.0),
            depth,
            (0.0, 0.0, -1.0, 0.0),
        ]
    )
