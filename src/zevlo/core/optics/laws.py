"""The lens laws: where a place on the film looks to, and where a place in the world falls on the film.

Camera axes: X to the right, Y up in the picture, D along the lens axis. Film x and y in mm, upright as the picture
shows them, counted from the lens axis. Each formula is written once over an array namespace ``xp``, so that NumPy and
the renderer's arrays share it (``docs/shot-format.md``, *Lens laws*).
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from math import sqrt
from typing import Any, ClassVar, Protocol

import numpy as np

from zevlo.core.optics.lens import Window, angle_deg
from zevlo.core.scene.model import Floats

_BEFORE_THE_LENS = 1.0e-9


class CannotReach(ValueError):
    """Nothing at that distance is seen at that place of the film."""


class Law(Hashable, Protocol):
    """How one kind of lens maps the world to film."""

    @property
    def radial(self) -> bool:
        """Whether depths, near and far cut count from the stand; else along the lens axis."""

    @property
    def blurs(self) -> bool:
        """Whether what is out of focus is blurred; else all is sharp whatever the stop."""

    def angle_deg(self, size_mm: float) -> float | None:
        """Angle of view across ``size_mm`` of film about the lens axis; None where there is none."""

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any]:
        """Rays of film places: X and Y in metres where each starts, in the plane of the lens, and its unit way."""

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        """Film x and y in mm of camera-space points in metres, and whether the lens sees that way at all."""

    def film_per_metre(self, depth_m: float) -> float:
        """Millimetres of film that a metre across takes at a depth, in the middle of the picture."""

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        """The camera-space point seen at a film place, ``reach`` metres from the stand. Raises :class:`CannotReach`."""

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats | None:
        """The projection (4, 4) to OpenGL clip space, acting on column vectors; None where no matrix can say it."""


@dataclass(frozen=True)
class Perspective:
    """x = f·X/d, y = f·Y/d, with ``distance_mm`` the f, or the v of a lens that breathes."""

    distance_mm: float
    radial: ClassVar[bool] = False
    blurs: ClassVar[bool] = True

    def angle_deg(self, size_mm: float) -> float | None:
        return angle_deg(size_mm, self.distance_mm)

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any]:
        length = xp.sqrt(x * x + y * y + self.distance_mm * self.distance_mm)
        return 0.0 * x, 0.0 * y, x / length, y / length, self.distance_mm / length

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        seen = ahead > _BEFORE_THE_LENS
        scale = self.distance_mm / xp.where(seen, ahead, 1.0)
        return across * scale, up * scale, seen

    def film_per_metre(self, depth_m: float) -> float:
        return self.distance_mm / depth_m

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        size = reach / sqrt(x * x + y * y + self.distance_mm**2)
        return x * size, y * size, self.distance_mm * size

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats:
        """Source: glTF 2.0 specification, 3.10.3 (finite and infinite), off-axis as in the OpenGL frustum."""
        d, width, height = self.distance_mm, window.width, window.height
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


PARALLEL_FAR_M = 1.0e4
"""How far a parallel picture without a far cut reaches at least where a matrix must name an end."""


@dataclass(frozen=True)
class Parallel:
    """x = X·w'/scale, y = Y·w'/scale: ``mm_per_metre`` is the width of the cut back over its width in the world."""

    mm_per_metre: float
    radial: ClassVar[bool] = False
    blurs: ClassVar[bool] = False

    def angle_deg(self, size_mm: float) -> float | None:
        return None

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any]:
        return x / self.mm_per_metre, y / self.mm_per_metre, 0.0 * x, 0.0 * y, 0.0 * x + 1.0

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        return across * self.mm_per_metre, up * self.mm_per_metre, ahead > _BEFORE_THE_LENS

    def film_per_metre(self, depth_m: float) -> float:
        return self.mm_per_metre

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        across, up = x / self.mm_per_metre, y / self.mm_per_metre
        square = reach * reach - across * across - up * up
        if square <= 0.0:
            raise CannotReach("nothing as near as that is seen at that place")
        return across, up, sqrt(square)

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats:
        """Source: glTF 2.0 specification, 3.10.3 (orthographic), off-axis."""
        width, height = window.width / self.mm_per_metre, window.height / self.mm_per_metre
        far = max(PARALLEL_FAR_M, 100.0 * width, 2.0 * near_m) if far_m is None else far_m
        return np.array(
            [
                (2.0 / width, 0.0, 0.0, -(window.right + window.left) / window.width),
                (0.0, 2.0 / height, 0.0, -(window.top + window.bottom) / window.height),
                (0.0, 0.0, -2.0 / (far - near_m), -(far + near_m) / (far - near_m)),
                (0.0, 0.0, 0.0, 1.0),
            ]
        )
