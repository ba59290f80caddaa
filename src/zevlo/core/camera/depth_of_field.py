"""What of the world a shot draws sharp: the wedge between two planes about its hinge, or between two balls."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera, FocusSurface, Rays, surface_distances
from zevlo.core.camera.from_shot import camera_of, law_of, tilt_of
from zevlo.core.optics import focus
from zevlo.core.optics.back import FittedBack, fit_back
from zevlo.core.optics.tilt import NOTHING_PER_M, lean_per_m, sharp_depth_m
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import FollowFocus
from zevlo.core.shot.limits import nearest_focus_m


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
        """The inverses (n,), 1/m, of the depths at which focus, sharp from and sharp to lie along ways (n, 3) in the
        camera's axes: where blur is drawn larger, it reaches its limit sooner."""
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
        inverses = np.array(self.per_m(camera, rays.ways @ axes.T))
        with np.errstate(divide="ignore"):
            depths = np.where(inverses > NOTHING_PER_M, 1.0 / inverses, inf)
        return np.array([camera.distances(rays, depth) for depth in depths])


def blur_limit_of(shot: Shot, fitted: FittedBack) -> float:
    """The ruling blur limit in mm on film."""
    return focus.blur_limit_mm(shot.focus.blur_limit, shot.back, fitted)


def sharp_zone_of(shot: Shot, fitted: FittedBack) -> SharpZone:
    """The sharp zone of a shot; a pinhole's goes from the lens to infinity."""
    here, lean = 1.0 / shot.focus.distance_m, lean_of(shot)
    f, n = shot.lens.focal_length_mm, shot.focus.f_number
    if n is None or not law_of(shot).blurs:
        return SharpZone(here, inf, 0.0, lean)
    u, cosine = shot.focus.distance_m * 1000.0, tilt_of(shot).cosine
    depth = 1000.0 * focus.depth_per_mm(f, n, blur_limit_of(shot, fitted), u, cosine)
    far = here - depth
    return SharpZone(here, here + depth, far if lean != (0.0, 0.0) else max(0.0, far), lean)


def lean_of(shot: Shot) -> tuple[float, float]:
    """The lean of a shot's sharp zone; none where its lens is not turned."""
    lens = tilt_of(shot)
    return (0.0, 0.0) if lens.cosine == 1.0 else lean_per_m(shot.lens.focal_length_mm, lens)


def focus_through(shot: Shot, camera: Camera, points: Floats) -> Floats:
    """Distances (n,) along the lens axis, as the law counts them, to focus at so that points (n, 3) of the world are
    sharp. Infinite where the plane of focus would have to cross the axis beyond infinity; points must be seen."""
    depth = camera.places(points).depth
    lean = lean_of(shot)
    if lean == (0.0, 0.0):
        return depth
    across, up, ahead = camera.camera_space(points).T
    per_m = (1.0 - lean[0] * across - lean[1] * up) / ahead
    found: Floats = np.where(per_m > 0.0, 1.0 / np.where(per_m > 0.0, per_m, 1.0), inf)
    return found


FARTHEST_FOCUS_M = 1.0e4
"""Where the barrel's infinity mark focuses; beyond that nothing differs on film."""


def nearest_of(shot: Shot) -> float:
    """The nearest the lens of a shot focuses, in metres along its axis."""
    return nearest_focus_m(shot.lens.focal_length_mm, tilt_of(shot).cosine)


def hyperfocal_of(shot: Shot) -> float | None:
    """Focused there, in metres along the lens axis, all is sharp from half of it to infinity; None where everything
    is sharp."""
    f, n = shot.lens.focal_length_mm, shot.focus.f_number
    if n is None or not law_of(shot).blurs:
        return None
    return focus.hyperfocal_mm(f, n, blur_limit_of(shot, fit_back(shot.back)), tilt_of(shot).cosine) / 1000.0


def focused(shot: Shot, distance_m: float) -> Shot:
    """The shot focused by hand at a distance along its lens axis, at the farthest where that is infinite; it follows
    nothing then."""
    return focused_at(shot, distance_m, None)


def focused_at(shot: Shot, distance_m: float, on: FollowFocus | None) -> Shot:
    """The shot focused at a distance along its lens axis, which is where what it follows lies."""
    held = FARTHEST_FOCUS_M if distance_m == inf else distance_m
    return shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": held, "follow": on}))


def sharp_in_middle(shot: Shot) -> Floats | None:
    """What is sharp in the middle of a shot's frame, (3,); None where that lies at infinity."""
    camera = camera_of(shot)
    rays = camera.rays(np.array([[0.5, 0.5]]))
    far = float(sharp_zone_of(shot, fit_back(shot.back)).along(camera, rays)[0, 0])
    return None if far > FARTHEST_FOCUS_M else rays.at(np.array([far]))[0]


def keep_centre_sharp(before: Shot, after: Shot) -> Shot:
    """A turned shot focused so that what was sharp in the middle of the frame is sharp still, where it can be."""
    point = sharp_in_middle(before)
    if point is None:
        return after
    camera = camera_of(after)
    if not camera.places(point[None]).seen[0]:
        return after
    distance = float(focus_through(after, camera, point[None])[0])
    return after if distance == inf else focused_at(after, max(distance, nearest_of(after)), after.focus.follow)


ALONG_A_SIDE = 6
"""Places along a side of the frame at which the zone's edge is told of a lens that draws lines bent."""
FAR_OFF = 20.0
"""An end of the zone that many times farther than the focus is as good as none, where it is looked at in space."""


def zone_in_space(shot: Shot) -> tuple[Floats | None, Floats, Floats | None]:
    """Where the sharp zone begins, is sharpest and ends within a shot's frame, each as an outline (n, 3) in the world;
    None for an end that is nowhere to be seen, and for both where everything is sharp."""
    camera, zone = camera_of(shot), sharp_zone_of(shot, fit_back(shot.back))
    rays = camera.rays(camera.edge(1 if camera.law.straight else ALONG_A_SIDE))
    focused_at, near, far = zone.along(camera, rays)
    most = FAR_OFF * zone.focus
    no_ends = shot.focus.f_number is None or not law_of(shot).blurs or not rays.sees.all()
    ends = [None if no_ends or not (along < most).all() else rays.at(along) for along in (near, far)]
    return ends[0], rays.at(np.minimum(focused_at, most)), ends[1]


@dataclass(frozen=True)
class BlurLaw:
    """How large a point is drawn, in pixels: ``times`` · |``focus`` + ``lean`` · (X/D, Y/D) - 1/depth|, in 1/m, and
    larger where the lens draws all blur larger."""

    times: float
    focus: float
    lean: tuple[float, float]
    camera: Camera

    def px(self, own: Floats, depth: Floats) -> Floats:
        """Pixels points are blurred over, (n,), that lie along ways (n, 3) in the camera's axes, at depths in metres as
        the law counts them."""
        return np.abs(self.signed_px(own, depth))

    def signed_px(self, own: Floats, depth: Floats) -> Floats:
        """The same, below 0 for what lies nearer than what is sharp."""
        off = self.focus - 1.0 / np.maximum(depth, 1.0e-9)
        if self.lean != (0.0, 0.0):
            off = off + own[:, :2] @ np.array(self.lean) / np.where(own[:, 2] > 1.0e-9, own[:, 2], 1.0)
        blurred: Floats = self.times * self.camera.drawn_larger(own) * off
        return blurred


def blur_law_of(shot: Shot, fitted: FittedBack) -> BlurLaw:
    """How a shot blurs; not at all where everything is sharp."""
    zone, n, camera = sharp_zone_of(shot, fitted), shot.focus.f_number, camera_of(shot)
    if n is None or not camera.law.blurs:
        return BlurLaw(0.0, zone.focus_per_m, zone.lean, camera)
    u = shot.focus.distance_m * 1000.0
    times = focus.blur_times_mm(shot.lens.focal_length_mm, n, u, tilt_of(shot).cosine)
    return BlurLaw(times / 1000.0 / fitted.pixel_mm, zone.focus_per_m, zone.lean, camera)
