"""What of the world a shot draws sharp, and how it is focused on a place in it."""

from __future__ import annotations

from math import inf

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.from_shot import Framing
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import FollowFocus


def focus_through(framing: Framing, points: Floats) -> Floats:
    """Distances (n,) along the lens axis, as the law counts them, to focus at so that points (n, 3) of the world are
    sharp. Infinite where the plane of focus would have to cross the axis beyond infinity; points must be seen."""
    camera, lean = framing.camera, framing.lean
    depth = camera.places(points).depth
    if lean == (0.0, 0.0):
        return depth
    across, up, ahead = camera.camera_space(points).T
    per_m = (1.0 - lean[0] * across - lean[1] * up) / ahead
    found: Floats = np.where(per_m > 0.0, 1.0 / np.where(per_m > 0.0, per_m, 1.0), inf)
    return found


FARTHEST_FOCUS_M = 1.0e4
"""Where the barrel's infinity mark focuses; beyond that nothing differs on film."""


def focused(shot: Shot, distance_m: float) -> Shot:
    """The shot focused by hand at a distance along its lens axis, at the farthest where that is infinite; it follows
    nothing then."""
    return focused_at(shot, distance_m, None)


def focused_at(shot: Shot, distance_m: float, on: FollowFocus | None) -> Shot:
    """The shot focused at a distance along its lens axis, which is where what it follows lies."""
    held = FARTHEST_FOCUS_M if distance_m == inf else distance_m
    return shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": held, "follow": on}))


def sharp_in_middle(framing: Framing) -> Floats | None:
    """What is sharp in the middle of a shot's frame, (3,); None where that lies at infinity."""
    camera = framing.camera
    rays = camera.rays(np.array([[0.5, 0.5]]))
    far = float(framing.zone.along(camera, rays)[0, 0])
    return None if far > FARTHEST_FOCUS_M else rays.at(np.array([far]))[0]


def keep_centre_sharp(before: Framing, after: Framing) -> Shot:
    """A turned shot focused so that what was sharp in the middle of the frame is sharp still, where it can be."""
    point = sharp_in_middle(before)
    if point is None:
        return after.shot
    camera = after.camera
    if not camera.places(point[None]).seen[0]:
        return after.shot
    distance = float(focus_through(after, point[None])[0])
    return (
        after.shot
        if distance == inf
        else focused_at(after.shot, max(distance, after.nearest_focus_m), after.shot.focus.follow)
    )


ALONG_A_SIDE = 6
"""Places along a side of the frame at which the zone's edge is told of a lens that draws lines bent."""
FAR_OFF = 20.0
"""An end of the zone that many times farther than the focus is as good as none, where it is looked at in space."""


def zone_in_space(framing: Framing) -> tuple[Floats | None, Floats, Floats | None]:
    """Where the sharp zone begins, is sharpest and ends within a shot's frame, each as an outline (n, 3) in the world;
    None for an end that is nowhere to be seen, and for both where everything is sharp."""
    shot = framing.shot
    camera, zone = framing.camera, framing.zone
    rays = camera.rays(camera.edge(1 if camera.law.straight else ALONG_A_SIDE))
    focused_at, near, far = zone.along(camera, rays)
    most = FAR_OFF * zone.focus
    no_ends = shot.focus.f_number is None or not framing.law.blurs or not rays.sees.all()
    ends = [None if no_ends or not (along < most).all() else rays.at(along) for along in (near, far)]
    return ends[0], rays.at(np.minimum(focused_at, most)), ends[1]
