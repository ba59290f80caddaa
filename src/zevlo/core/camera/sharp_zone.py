"""The sharp zone of a lens: a wedge between two planes about its hinge, or the room between two balls; and the blur of
what lies outside."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera, FocusSurface, Rays, surface_distances
from zevlo.core.optics.tilt import NOTHING_PER_M, sharp_depth_m


@dataclass(frozen=True)
class SharpZone:
    """Focus and both limits by the inverses, 1/m, of the distances at which they cross the lens axis.

    A limit of 0 lies at infinity; where the lens is tilted, one below 0 lies beyond it on the axis, and may still come
    near towards the hinge. ``lean``: how much nearer all three lie to the right, and above; see
    :func:`~zevlo.core.optics.tilt.lean_per_m`.
    """

    focus_per_m: float
    near_per_m: float
    far_per_m: float
    lean: tuple[float, float] = (0.0, 0.0)

    @property
    def focus(self) -> float:
        """Metres along the lens axis."""
        return sharp_depth_m(self.focus_per_m)

    @property
    def sharp_from(self) -> float:
        """Metres along the lens axis."""
        return sharp_depth_m(self.near_per_m)

    @property
    def sharp_to(self) -> float:
        """Metres along the lens axis; may be infinite."""
        return sharp_depth_m(self.far_per_m)

    def surfaces(self, camera: Camera) -> list[FocusSurface]:
        """Focus, sharp from and sharp to in the world, of a lens that draws blur alike all over the frame."""
        return camera.surfaces(self.lean, self.focus_per_m, self.near_per_m, self.far_per_m)

    def per_m(self, camera: Camera, own: Floats) -> tuple[Floats, Floats, Floats]:
        """The inverses (n,), 1/m, of the depths at which focus, sharp from and sharp to lie along directions (n, 3) in
        the camera's axes: where blur is drawn larger, it reaches its limit sooner."""
        here: Floats = np.full(len(own), self.focus_per_m)
        if self.lean != (0.0, 0.0):
            here = here + own[:, :2] @ np.array(self.lean) / np.where(own[:, 2] > 0.0, own[:, 2], 1.0)
        half = (self.near_per_m - self.focus_per_m) / camera.drawn_larger(own)
        far = here - half
        return here, here + half, far if self.lean != (0.0, 0.0) else np.maximum(far, 0.0)

    def along(self, camera: Camera, rays: Rays) -> Floats:
        """Distances (3, n) at which rays of a camera come to focus, sharp from and sharp to."""
        if camera.law.straight:
            return surface_distances(self.surfaces(camera), rays)
        axes = np.stack([camera.pose.right, camera.pose.up, camera.pose.forward])
        inverses = np.array(self.per_m(camera, rays.directions @ axes.T))
        with np.errstate(divide="ignore"):
            depths = np.where(inverses > NOTHING_PER_M, 1.0 / inverses, inf)
        return np.array([camera.distances(rays, depth) for depth in depths])


@dataclass(frozen=True)
class BlurLaw:
    """How large a point is drawn, in pixels: ``times`` · |``focus`` + ``lean`` · (X/D, Y/D) - 1/depth|, in 1/m, and
    larger where the lens draws all blur larger."""

    times: float
    focus: float
    lean: tuple[float, float]
    camera: Camera

    def px(self, own: Floats, depth: Floats) -> Floats:
        """Pixels points are blurred over, (n,), that lie along directions (n, 3) in the camera's axes, at depths in
        metres as the law counts them."""
        return np.abs(self.signed_px(own, depth))

    def signed_px(self, own: Floats, depth: Floats) -> Floats:
        """The same, below 0 for what lies nearer than what is sharp."""
        off = self.focus - 1.0 / np.maximum(depth, 1.0e-9)
        if self.lean != (0.0, 0.0):
            off = off + own[:, :2] @ np.array(self.lean) / np.where(own[:, 2] > 1.0e-9, own[:, 2], 1.0)
        blurred: Floats = self.times * self.camera.drawn_larger(own) * off
        return blurred
