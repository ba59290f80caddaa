"""The lens laws: where a place on the film looks to, and where a place in the world falls on the film.

Camera axes: X to the right, Y up in the picture, D along the lens axis. Film x and y in mm, upright as the picture
shows them, counted from the lens axis. Each formula is written once over an array namespace ``xp``, so that NumPy and
the renderer's arrays share it (``docs/shot-format.md``, *Lens laws*).
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from functools import cached_property
from math import atan, degrees, inf, pi, sqrt
from typing import Any, ClassVar, Protocol

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.optics.lens import Window
from zevlo.core.shot.lens import FisheyeLaw
from zevlo.text import optics as say

_BEFORE_THE_LENS = 1.0e-9
_NO_LIGHT = 1.0e-9


class CannotReach(ValueError):
    """Nothing at that distance is seen at that place of the film."""


class Law(Hashable, Protocol):
    """How one kind of lens maps the world to film.

    What a law takes and gives of film and camera axes are arrays or numbers of one shape.
    """

    @property
    def radial(self) -> bool:
        """Whether depths, near and far clip count from the stand; else along the lens axis."""

    @property
    def blurs(self) -> bool:
        """Whether what is out of focus is blurred; else all is sharp whatever the stop."""

    @property
    def straight(self) -> bool:
        """Whether straight lines stay straight; else no matrix can say it."""

    def angle_deg(self, across_mm: float, up_mm: float = 0.0) -> float | None:
        """Angle of view across so much film about the lens axis; None where there is none."""

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        """Rays of film places: X and Y in metres where each starts, in the plane of the lens, and its unit way; and
        whether anything is drawn there at all."""

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        """Film x and y in mm of camera-space points in metres, and whether the lens sees that way at all."""

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        """Light an evenly bright world sends to film places, as a share of what it sends to the middle."""

    def larger(self, xp: Any, x: Any, y: Any) -> Any:
        """How many times as wide as in the middle a disc of blur is drawn at film places, by the root of its area."""

    def film_per_metre(self, depth_m: float) -> float:
        """Millimetres of film that a metre across takes at a depth, in the middle of the picture."""

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        """The camera-space point seen at a film place, ``reach`` metres from the stand. Raises :class:`CannotReach`."""

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats | None:
        """The projection (4, 4) to OpenGL clip space, acting on column vectors; None where no matrix can say it."""


@dataclass(frozen=True)
class FromOnePoint:
    """What laws share whose rays all come from the middle of the lens. ``distance_mm``: the f, or the v of a lens that
    breathes."""

    distance_mm: float
    blurs: ClassVar[bool] = True
    straight: ClassVar[bool] = False

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        raise NotImplementedError

    def angle_deg(self, across_mm: float, up_mm: float = 0.0) -> float | None:
        return float(self.angles_deg(np.array([across_mm]), np.array([up_mm]))[0])

    def angles_deg(self, across_mm: Floats, up_mm: Floats) -> Floats:
        """As :meth:`angle_deg` for many sizes of film at once, (n,)."""
        _, _, a, b, c, sees = self.rays(np, across_mm / 2.0, up_mm / 2.0)
        found: Floats = np.where(sees, np.degrees(2.0 * np.arctan2(np.hypot(a, b), c)), self.widest_deg)
        return found

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        raise NotImplementedError

    def larger(self, xp: Any, x: Any, y: Any) -> Any:
        """The pupil turns to what it sees: as much film as a small solid angle takes, which is one over the light it
        gets."""
        return 1.0 / xp.sqrt(xp.maximum(self.falloff(xp, x, y), _NO_LIGHT))

    @property
    def widest_deg(self) -> float:
        """The angle of view no film sees more than."""
        return 360.0

    def film_per_metre(self, depth_m: float) -> float:
        return self.distance_mm / depth_m

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        _, _, a, b, c, sees = self.rays(np, np.float64(x), np.float64(y))
        if not sees:
            raise CannotReach(say.THE_LENS_DRAWS_NOTHING)
        return float(a) * reach, float(b) * reach, float(c) * reach

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats | None:
        return None


@dataclass(frozen=True)
class Perspective(FromOnePoint):
    """x = f·X/d, y = f·Y/d."""

    radial: ClassVar[bool] = False
    straight: ClassVar[bool] = True

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        length = xp.sqrt(x * x + y * y + self.distance_mm * self.distance_mm)
        return 0.0 * x, 0.0 * y, x / length, y / length, self.distance_mm / length, length > 0.0

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        seen = ahead > _BEFORE_THE_LENS
        scale = self.distance_mm / xp.where(seen, ahead, 1.0)
        return across * scale, up * scale, seen

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        """cos⁴θ: cos³θ of film that lies farther off and aslant, and the pupil seen aslant."""
        square = self.distance_mm * self.distance_mm
        cosine = square / (square + x * x + y * y)
        return cosine * cosine

    def larger(self, xp: Any, x: Any, y: Any) -> Any:
        return 0.0 * x + 1.0

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats | None:
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
"""How far a parallel picture without a far clip reaches at least where a matrix must name an end."""


@dataclass(frozen=True)
class Parallel:
    """x = X·w'/scale, y = Y·w'/scale: ``mm_per_metre`` is the width of the fitted back over its width in the world."""

    mm_per_metre: float
    radial: ClassVar[bool] = False
    blurs: ClassVar[bool] = False
    straight: ClassVar[bool] = True

    def angle_deg(self, across_mm: float, up_mm: float = 0.0) -> float | None:
        return None

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        ahead = 0.0 * x + 1.0
        return x / self.mm_per_metre, y / self.mm_per_metre, 0.0 * x, 0.0 * y, ahead, ahead > 0.0

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        return 0.0 * x + 1.0

    def larger(self, xp: Any, x: Any, y: Any) -> Any:
        return 0.0 * x + 1.0

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        return across * self.mm_per_metre, up * self.mm_per_metre, ahead > _BEFORE_THE_LENS

    def film_per_metre(self, depth_m: float) -> float:
        return self.mm_per_metre

    def point(self, x: float, y: float, reach: float) -> tuple[float, float, float]:
        across, up = x / self.mm_per_metre, y / self.mm_per_metre
        square = reach * reach - across * across - up * up
        if square <= 0.0:
            raise CannotReach(say.NOTHING_AS_NEAR_AS_THAT_IS_SEEN)
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


_IN_THE_MIDDLE_MM = 1.0e-9
_STRAIGHT_BACK = pi - 1.0e-7


@dataclass(frozen=True)
class Fisheye(FromOnePoint):
    """r = f·θ (``equidistant``), 2f·sin(θ/2) (``equisolid``) or 2f·tan(θ/2) (``stereographic``), θ from the lens axis.

    Source: ISO 9039 and handbooks of optics give the three by these names (from memory).
    """

    law: FisheyeLaw
    radial: ClassVar[bool] = True

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        f = self.distance_mm
        r = xp.sqrt(x * x + y * y)
        if self.law == "equidistant":
            theta, sees = r / f, r <= pi * f
        elif self.law == "equisolid":
            theta, sees = 2.0 * xp.arcsin(xp.minimum(r / (2.0 * f), 1.0)), r <= 2.0 * f
        else:
            theta, sees = 2.0 * xp.arctan(r / (2.0 * f)), r < inf
        aside = xp.where(r > _IN_THE_MIDDLE_MM, xp.sin(theta) / xp.maximum(r, _IN_THE_MIDDLE_MM), 1.0 / f)
        return 0.0 * x, 0.0 * y, x * aside, y * aside, xp.cos(theta), sees

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        f = self.distance_mm
        aside = xp.sqrt(across * across + up * up)
        theta = xp.arctan2(aside, ahead)
        if self.law == "equidistant":
            r = f * theta
        elif self.law == "equisolid":
            r = 2.0 * f * xp.sin(theta / 2.0)
        else:
            r = 2.0 * f * xp.tan(xp.minimum(theta, _STRAIGHT_BACK) / 2.0)
        seen = (theta < _STRAIGHT_BACK) & (aside + abs(ahead) > _BEFORE_THE_LENS)
        # Beside the axis r over aside is as f over ahead; there the quotient of two small numbers says nothing.
        beside = aside > 1.0e-12 * abs(ahead)
        scale = xp.where(beside, r / xp.where(beside, aside, 1.0), f / xp.where(abs(ahead) > 0.0, ahead, 1.0))
        return across * scale, up * scale, seen

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        """sin θ·dθ over r·dr, times f²: sinc θ, 1, cos⁴(θ/2)."""
        f, r = self.distance_mm, xp.sqrt(x * x + y * y)
        if self.law == "equidistant":
            theta = xp.minimum(xp.maximum(r / f, 1.0e-6), pi)
            return xp.sin(theta) / theta
        if self.law == "equisolid":
            return 0.0 * r + 1.0
        cosine = 1.0 / (1.0 + r * r / (4.0 * f * f))
        return cosine * cosine


@dataclass(frozen=True)
class Cylindrical(FromOnePoint):
    """x = f·atan2(X, d), y = f·Y/√(X²+d²): as a camera draws that turns about its upright axis."""

    radial: ClassVar[bool] = True

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        turn, rise = x / self.distance_mm, y / self.distance_mm
        level = 1.0 / xp.sqrt(1.0 + rise * rise)
        return 0.0 * x, 0.0 * y, xp.sin(turn) * level, rise * level, xp.cos(turn) * level, abs(turn) <= pi

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        level = xp.sqrt(across * across + ahead * ahead)
        seen = level > _BEFORE_THE_LENS
        x = self.distance_mm * xp.arctan2(across, ahead)
        return x, self.distance_mm * up / xp.where(seen, level, 1.0), seen

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        """cos³ of the elevation."""
        rise = y / self.distance_mm
        cosine = 1.0 / xp.sqrt(1.0 + rise * rise)
        return cosine * cosine * cosine


_FIRST_STEPS, _MORE_STEPS = 5, 12
_BENDS = 1.0e-12
_BACK_TO = 1.0e-6
_BACK_EXACTLY = 1.0e-12


@dataclass(frozen=True)
class Distorted(Perspective):
    """Perspective bent by Brown and Conrady's model: x and y over f, times 1 + k1·r² + k2·r⁴ + k3·r⁶ and moved by p1
    and p2, with the signs of the general computer-vision library's camera model, whose y points down.

    Source: OpenCV documentation, *Camera Calibration and 3D Reconstruction*, detailed description.
    """

    k1: float
    k2: float
    k3: float
    p1: float
    p2: float
    straight: ClassVar[bool] = False

    @cached_property
    def fold(self) -> float:
        """Radius over f, undistorted, where the picture would turn back on itself; infinite where it never does."""
        slopes = [k if abs(k) > _BENDS else 0.0 for k in (7.0 * self.k3, 5.0 * self.k2, 3.0 * self.k1)]
        squares = np.roots([*slopes, 1.0])
        turning = [float(root.real) for root in squares if abs(root.imag) < 1.0e-12 and root.real > 0.0]
        return sqrt(min(turning)) if turning else inf

    @cached_property
    def _most(self) -> float:
        """Radius over f, undistorted, up to which it is drawn."""
        return 0.999 * self.fold if self.fold < inf else 1.0e6

    @property
    def widest_deg(self) -> float:
        return degrees(2.0 * atan(self.fold))

    def _bent(self, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any]:
        """Bent x and y, and the partial derivatives of x by x, of either by the other, of y by y."""
        square = x * x + y * y
        gain = 1.0 + square * (self.k1 + square * (self.k2 + square * self.k3))
        slope = 2.0 * (self.k1 + square * (2.0 * self.k2 + square * 3.0 * self.k3))
        # y points up here: p1 changes its sign with it.
        p1, p2 = -self.p1, self.p2
        bent_x = x * gain + 2.0 * p1 * x * y + p2 * (square + 2.0 * x * x)
        bent_y = y * gain + p1 * (square + 2.0 * y * y) + 2.0 * p2 * x * y
        xx = gain + slope * x * x + 2.0 * p1 * y + 6.0 * p2 * x
        xy = slope * x * y + 2.0 * p1 * x + 2.0 * p2 * y
        yy = gain + slope * y * y + 6.0 * p1 * y + 2.0 * p2 * x
        return bent_x, bent_y, xx, xy, yy

    @cached_property
    def _farthest(self) -> float:
        """Radius over f beyond which nothing is drawn."""
        square, aside = self._most**2, 3.0 * (abs(self.p1) + abs(self.p2))
        gain = 1.0 + square * (self.k1 + square * (self.k2 + square * self.k3))
        return 1.01 * self._most * (abs(gain) + aside * self._most)

    def _stepped(self, xp: Any, x: Any, y: Any, a: Any, b: Any, steps: int) -> tuple[Any, Any]:
        """Steps of Newton's method from ``a`` and ``b`` to what is bent to ``x`` and ``y``, held within the fold."""
        most = self._most
        for _ in range(steps):
            held = xp.minimum(1.0, most / xp.maximum(xp.sqrt(a * a + b * b), 1.0e-12))
            a, b = a * held, b * held
            bent_x, bent_y, xx, xy, yy = self._bent(a, b)
            off_x, off_y = x - bent_x, y - bent_y
            turn = xx * yy - xy * xy
            turn = xp.where(abs(turn) > 1.0e-9, turn, 1.0e-9)
            a, b = a + (yy * off_x - xy * off_y) / turn, b + (xx * off_y - xy * off_x) / turn
        return a, b

    def _straightened(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any]:
        """Undistorted x and y over f of distorted ones, and whether there are such; by Newton's method."""
        a, b = self._stepped(xp, x, y, 1.0 * x, 1.0 * y, _FIRST_STEPS if xp is np else _MORE_STEPS)
        bent_x, bent_y, xx, xy, yy = self._bent(a, b)
        if xp is np:
            # Few places, near the fold, ask for more; those beyond it have no way back.
            there = (abs(bent_x - x) + abs(bent_y - y) > _BACK_EXACTLY) & (x * x + y * y <= self._farthest**2)
            if np.any(there):
                more = self._stepped(np, x[there], y[there], a[there], b[there], _MORE_STEPS)
                a, b = (np.array(of) for of in (a, b))
                a[there], b[there] = more
                bent_x, bent_y, xx, xy, yy = self._bent(a, b)
        close = abs(bent_x - x) + abs(bent_y - y) <= _BACK_TO * (1.0 + xp.sqrt(x * x + y * y))
        return a, b, close & (xx * yy - xy * xy > 0.0) & (a * a + b * b <= self._most * self._most)

    def rays(self, xp: Any, x: Any, y: Any) -> tuple[Any, Any, Any, Any, Any, Any]:
        f = self.distance_mm
        a, b, sees = self._straightened(xp, x / f, y / f)
        *ray, _ = super().rays(xp, a * f, b * f)
        return (*ray, sees)

    def film(self, xp: Any, across: Any, up: Any, ahead: Any) -> tuple[Any, Any, Any]:
        f = self.distance_mm
        x, y, seen = super().film(xp, across, up, ahead)
        bent_x, bent_y, xx, xy, yy = self._bent(x / f, y / f)
        unfolded = (x * x + y * y <= (self._most * f) ** 2) & (xx * yy - xy * xy > 0.0)
        return bent_x * f, bent_y * f, seen & unfolded

    def falloff(self, xp: Any, x: Any, y: Any) -> Any:
        f = self.distance_mm
        a, b, _ = self._straightened(xp, x / f, y / f)
        return super().falloff(xp, a * f, b * f)

    def larger(self, xp: Any, x: Any, y: Any) -> Any:
        """By how much the bend spreads the film there."""
        a, b, _ = self._straightened(xp, x / self.distance_mm, y / self.distance_mm)
        _, _, xx, xy, yy = self._bent(a, b)
        return xp.sqrt(xp.maximum(xx * yy - xy * xy, _NO_LIGHT))

    def matrix(self, window: Window, near_m: float, far_m: float | None) -> Floats | None:
        return None
