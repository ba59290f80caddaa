"""The camera: where film and world meet, for every lens law. Who asks where something is in a picture asks it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import hypot, inf

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats
from zevlo.core.compiled import compiled
from zevlo.core.optics import movements
from zevlo.core.optics.falloff import EVEN, Corners
from zevlo.core.optics.laws import Law
from zevlo.core.optics.lens import Window
from zevlo.core.optics.tilt import sharp_depth_m
from zevlo.core.scene.model.visible import CuttingPlane
from zevlo.core.stand.pose import Pose


@compiled
def _in_world(
    across: Floats,
    up: Floats,
    right: Floats,
    over: Floats,
    ahead: Floats,
    position: Floats,
    x: Floats,
    y: Floats,
    d: Floats,
    near_m: float,
    far_m: float,
    radial: bool,
    sees: NDArray[np.bool_],
) -> tuple[Floats, Floats, Floats, Floats]:
    """Rays in the camera's axes ``x``, ``y``, ``d`` as rays of the world, and where both cuts stand on them."""
    n = len(ahead)
    origins, directions, near, far = np.empty((n, 3)), np.empty((n, 3)), np.empty(n), np.empty(n)
    for ray in range(n):
        for axis in range(3):
            origins[ray, axis] = position[axis] + across[ray] * x[axis] + up[ray] * y[axis]
            directions[ray, axis] = right[ray] * x[axis] + over[ray] * y[axis] + ahead[ray] * d[axis]
        per_metre = 1.0 if radial else ahead[ray]
        near[ray], far[ray] = near_m / per_metre, far_m / per_metre
        if not sees[ray]:
            far[ray] = near[ray]
    return origins, directions, near, far


@compiled
def _opened(origins: Floats, directions: Floats, near: Floats, far: Floats, point: Floats, normal: Floats) -> None:
    """Move the cuts of rays so that they see nothing on the side of a plane its normal points to."""
    for ray in range(len(near)):
        over, toward = 0.0, 0.0
        for axis in range(3):
            over += (origins[ray, axis] - point[axis]) * normal[axis]
            toward += directions[ray, axis] * normal[axis]
        if over > 0.0:
            if toward < -1.0e-12:
                near[ray] = max(near[ray], -over / toward)
            else:
                far[ray] = near[ray]
        elif toward > 1.0e-12:
            far[ray] = min(far[ray], -over / toward)
        far[ray] = max(near[ray], far[ray])


@compiled
def _meets(origins: Floats, directions: Floats, normals: Floats, offsets: Floats) -> Floats:
    """How far along rays planes lie, (planes, n); infinite where they run beside one or away from it."""
    found = np.empty((len(normals), len(directions)))
    for plane in range(len(normals)):
        for ray in range(len(directions)):
            toward, gap = 0.0, offsets[plane]
            for axis in range(3):
                toward += directions[ray, axis] * normals[plane, axis]
                gap -= origins[ray, axis] * normals[plane, axis]
            found[plane, ray] = max(gap, 0.0) / toward if toward > 1.0e-12 and gap < np.inf else np.inf
    return found


@dataclass(frozen=True)
class Rays:
    """What places in the picture look along, n of each. ``origins`` (n, 3) in the plane of the lens, unit
    ``directions`` (n, 3), and the distances along them (n,) of the near and far clip. Where the lens draws nothing
    ``sees`` (n,) is false, and nothing lies between the clips."""

    origins: Floats
    directions: Floats
    near: Floats
    far: Floats
    sees: NDArray[np.bool_]

    def __getitem__(self, which: slice) -> Rays:
        return Rays(self.origins[which], self.directions[which], self.near[which], self.far[which], self.sees[which])

    @property
    def starts(self) -> Floats:
        """Where each comes to the near clip, (n, 3)."""
        starts: Floats = self.origins + self.near[:, None] * self.directions
        return starts

    def at(self, distance: Floats) -> Floats:
        """Places (n, 3) at distances (n,) along them."""
        places: Floats = self.origins + distance[:, None] * self.directions
        return places


@dataclass(frozen=True)
class Places:
    """Where points fall in the picture: ``uv`` (n, 2) in the frame, (0, 0) bottom left; ``depth`` (n,) in metres as
    the law counts it; whether the lens sees that way at all; whether the point is in the frame, between the cuts."""

    uv: Floats
    depth: Floats
    seen: NDArray[np.bool_]
    in_frame: NDArray[np.bool_]


@dataclass(frozen=True)
class FocusPlane:
    """A plane in the world at which something is as sharp as anywhere, or just sharp enough: its unit ``normal`` away
    from the camera, and how far along that it lies from the world's origin (infinite: nowhere)."""

    normal: Floats
    offset: float


@dataclass(frozen=True)
class FocusBall:
    """The same of a lens that counts distances from the stand: a ball round it."""

    radius: float


FocusSurface = FocusPlane | FocusBall


def surface_distances(surfaces: Sequence[FocusSurface], rays: Rays) -> Floats:
    """Distances (surfaces, n) at which rays meet each of some surfaces."""
    planes = [surface for surface in surfaces if isinstance(surface, FocusPlane)]
    normals, offsets = np.array([plane.normal for plane in planes]), np.array([plane.offset for plane in planes])
    if len(planes) == len(surfaces):
        met: Floats = _meets(rays.origins, rays.directions, normals, offsets)
        return met
    balls = np.array([surface.radius for surface in surfaces if isinstance(surface, FocusBall)])
    return np.repeat(balls[:, None], len(rays.directions), axis=1)


_NO_PLANE_PER_M = 1.0e-12
Frame = tuple[float, float, float, float]
_ALL_OVER = np.stack(np.meshgrid(np.linspace(0.0, 1.0, 25), np.linspace(0.0, 1.0, 25)), axis=-1).reshape(-1, 2)
WHOLE: Frame = (0.0, 0.0, 1.0, 1.0)
"""All of a frame: left, bottom, right, top in shares of it."""


@dataclass(frozen=True)
class Camera:
    """A pose, the window its picture takes out of the film, the lens law, and what bounds what is drawn."""

    pose: Pose
    window: Window
    law: Law
    near_m: float
    far_m: float | None
    corners: Corners = EVEN
    cutting: CuttingPlane | None = None
    """What lies on the side this points to is not there."""

    @property
    def whole(self) -> Camera:
        """The camera in a set that needs no cutting plane any more."""
        return self if self.cutting is None else replace(self, cutting=None)

    def film(self, uv: Floats) -> Floats:
        """Film places (n, 2) in mm of places in the frame (n, 2)."""
        window = self.window
        low, size = (window.left, window.bottom), (window.width, window.height)
        film: Floats = np.array(low) + np.asarray(uv, dtype=np.float64) * np.array(size)
        return film

    def light(self, uv: Floats) -> Floats:
        """Share of its light that each place in the frame gets, of what it would in the middle, (n,)."""
        if self.corners.none or self.as_bright_all_over:
            return np.ones(len(uv))
        film = self.film(uv)
        share: Floats = self.corners.light(np, self.law, film[:, 0], film[:, 1])
        return share

    def in_circle(self, uv: Floats) -> NDArray[np.bool_]:
        """Whether the image circle lets any light to places in the frame, (n,): what it does not is in no reading of
        how bright a picture is."""
        if self.within_circle:
            return np.ones(len(uv), dtype=np.bool_)
        film = self.film(uv)
        lit: NDArray[np.bool_] = self.corners.drawn(np, film[:, 0], film[:, 1]) > 0.0
        return lit if lit.any() else ~lit

    @property
    def as_bright_all_over(self) -> bool:
        """Whether nothing of its picture is darker than the middle by what the lens does."""
        return not self.corners.natural and self.corners.shift == 0.0 and self.within_circle

    @property
    def within_circle(self) -> bool:
        """Whether the image circle holds all of its picture."""
        circle = self.corners.circle_mm
        return circle is None or movements.circle_used_mm(self.window) <= circle

    def within(self, frame: Frame) -> Camera:
        """The camera whose picture is a part of this one's: left, bottom, right, top in shares of the frame."""
        (left, bottom), (right, top) = self.film(np.array(frame).reshape(2, 2)).tolist()
        return replace(self, window=Window(left, right, bottom, top))

    def rays(self, uv: Floats) -> Rays:
        """What places in the frame (n, 2) look along, (0, 0) bottom left to (1, 1)."""
        film, pose = self.film(uv), self.pose
        across, up, right, over, ahead, sees = self.law.rays(np, film[:, 0], film[:, 1])
        far_m = inf if self.far_m is None else self.far_m
        bounds = (self.near_m, far_m, self.law.radial)
        axes = (pose.position, pose.right, pose.up, pose.forward)
        origins, directions, near, far = _in_world(across, up, right, over, ahead, *axes, *bounds, sees)
        if self.cutting is not None:
            _opened(origins, directions, near, far, np.array(self.cutting.point), np.array(self.cutting.normal))
        return Rays(origins, directions, near, far, sees)

    def camera_space(self, points: Floats) -> Floats:
        """Points (n, 3) of the world in the camera's axes: right, up, along the lens axis."""
        axes = np.stack([self.pose.right, self.pose.up, self.pose.forward])
        found: Floats = (np.asarray(points, dtype=np.float64) - self.pose.position) @ axes.T
        return found

    def places(self, points: Floats) -> Places:
        """Where points (n, 3) of the world fall in the picture."""
        across, up, ahead = self.camera_space(points).T
        x, y, seen = self.law.film(np, across, up, ahead)
        window = self.window
        uv = np.column_stack([(x - window.left) / window.width, (y - window.bottom) / window.height])
        depth = np.sqrt(across**2 + up**2 + ahead**2) if self.law.radial else ahead
        within = seen & (depth >= self.near_m) & (depth <= (inf if self.far_m is None else self.far_m))
        within &= ((uv >= 0.0) & (uv <= 1.0)).all(axis=1)
        if self.cutting is not None:
            within &= self.cutting.over(np.asarray(points, dtype=np.float64)) <= 0.0
        return Places(uv, depth, seen, within)

    def drawn_larger(self, own: Floats) -> Floats:
        """How many times as wide as in the middle blur is drawn of what lies along directions (n, 3) in the camera's
        axes."""
        if self.law.straight:
            return np.ones(len(own))
        x, y, seen = self.law.film(np, *own.T)
        larger: Floats = np.where(seen, self.law.larger(np, np.where(seen, x, 0.0), np.where(seen, y, 0.0)), 1.0)
        return larger

    @property
    def drawn_largest(self) -> float:
        """How many times as wide as in the middle blur is drawn where the frame draws it largest, at least 1."""
        if self.law.straight:
            return 1.0
        film = self.film(_ALL_OVER)
        _, _, _, _, _, sees = self.law.rays(np, *film.T)
        return float(self.law.larger(np, *film[sees].T).max(initial=1.0))

    def depths(self, rays: Rays, distance: Floats) -> Floats:
        """Depths (n,), as the law counts them, of places at distances (n,) along rays."""
        if self.law.radial:
            return distance
        ahead: Floats = distance * (rays.directions @ self.pose.forward)
        return ahead

    def distances(self, rays: Rays, depth: Floats | float) -> Floats:
        """How far along rays lies a depth; the other way round."""
        if self.law.radial:
            # An array of its own: compiled loops are compiled anew for one that is only looked through.
            return np.array(np.broadcast_to(np.asarray(depth, dtype=np.float64), len(rays.directions)))
        far: Floats = depth / (rays.directions @ self.pose.forward)
        return far

    def edge(self, n: int) -> Floats:
        """Places (4n, 2) along the frame's edge, from the bottom left corner round by the right."""
        run = np.arange(n) / n
        zero, one = np.zeros(n), np.ones(n)
        sides = [(run, zero), (one, run), (1.0 - run, one), (zero, 1.0 - run)]
        return np.concatenate([np.column_stack(side) for side in sides])

    def matrix(self) -> Floats | None:
        """The projection (4, 4) to OpenGL clip space; None where no matrix can say it."""
        return self.law.matrix(self.window, self.near_m, self.far_m)

    def surfaces(self, lean: tuple[float, float], *axis_per_m: float) -> list[FocusSurface]:
        """What is as sharp as some places along the lens axis, the inverses of whose distances are told.

        ``lean``: how much the inverse grows for each metre to the right, and up, a metre ahead; planes of one lean
        all meet in one hinge line.
        """
        if self.law.radial:
            return [FocusBall(sharp_depth_m(inverse)) for inverse in axis_per_m]
        return [self._plane(lean, inverse) for inverse in axis_per_m]

    def _plane(self, lean: tuple[float, float], per_m: float) -> FocusPlane:
        pose = self.pose
        if per_m == inf:
            return FocusPlane(pose.forward, float(pose.position @ pose.forward))
        across, up = lean
        length = hypot(across, up, per_m)
        if length < _NO_PLANE_PER_M:
            return FocusPlane(pose.forward, inf)
        normal: Floats = (across * pose.right + up * pose.up + per_m * pose.forward) / length
        return FocusPlane(normal, float(pose.position @ normal) + 1.0 / length)

    def span(self, depth_m: float) -> tuple[float, float]:
        """Width and height in metres of what the frame holds at a depth."""
        scale = self.law.film_per_metre(depth_m)
        return self.window.width / scale, self.window.height / scale

    def seen_at(self, at: tuple[float, float], reach: float) -> tuple[float, float, float]:
        """The point, in the camera's axes, seen at a place in the frame ``reach`` metres from the stand."""
        x, y = self.film(np.array([at]))[0].tolist()
        return self.law.point(x, y, reach)
