"""The scout view: looking around without any shot."""

from __future__ import annotations

from math import inf

import numpy as np
from pydantic import Field

from zevlo.core.gestures import Dolly, Look, Orbit, Shift, Walk
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.lens import Window
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Point, Settings, Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import direction, resolve


class Scout(Settings):
    """The scout view: looking around without any shot."""

    stand: Stand = Stand()
    focal_length_mm: float = Field(28.0, ge=8.0, le=400.0)


SCOUT_FILM_MM = 36.0
SCOUT_FRAME_SHARE = 0.86
SCOUT_NEAR_M = 0.03


def scout_view(scout: Scout, ratio: float, back: Back | None) -> tuple[float, float, tuple[float, float] | None]:
    """Width and height of the scout view at distance 1 from the lens, for a picture of ``ratio``.

    With the ``back`` of the shot that would be made of it, the view is that shot's frame with some surroundings,
    and the third value is the frame's share of the view's width and height.
    """
    if back is None:
        width = SCOUT_FILM_MM / scout.focal_length_mm
        return width, width / ratio, None
    wide, high = (side / scout.focal_length_mm for side in cut_back(back).size_mm)
    height = max(high, wide / ratio) / SCOUT_FRAME_SHARE
    width = height * ratio
    return width, height, (wide / width, high / height)


def scout_window(scout: Scout, ratio: float, back: Back | None) -> Window:
    """The scout view as a window at distance 1 before the lens."""
    width, height, _ = scout_view(scout, ratio, back)
    return Window(-width / 2, width / 2, -height / 2, height / 2, 1.0)


def move_view(stand: Stand, gesture: Look | Shift | Orbit | Dolly | Walk, width: float, height: float) -> Stand:
    """Follow a gesture in a picture ``width`` × ``height`` wide at distance 1 from the lens."""
    if isinstance(gesture, Look):
        across, upright = 2.0 * np.degrees(np.arctan([width / 2.0, height / 2.0]))
        return moves.turn(stand, -gesture.right * float(across), -gesture.up * float(upright))
    if isinstance(gesture, Shift):
        far = resolve(stand).aim_distance
        return moves.truck_and_pedestal(stand, -gesture.right * width * far, -gesture.up * height * far)
    if isinstance(gesture, Orbit):
        return moves.orbit(stand, gesture.right * 180.0, -gesture.up * 180.0)
    if isinstance(gesture, Dolly):
        return moves.dolly(stand, gesture.factor)
    return moves.walk(stand, gesture.ahead, gesture.right, gesture.up)


LOOKS_FROM_DEG = tuple((pan, tilt) for tilt in (-20.0, -45.0, -5.0, 20.0, 60.0) for pan in range(0, 360, 30))


def looked_at(stand: Stand, at: Point, size_m: float, working: WorkingSet) -> Stand:
    """A view of a thing of a size, from a few times its size away: from this side if it is free, else from another."""
    heading = resolve(stand).heading_deg
    target = np.array(at)
    away = max(3.0 * size_m, 0.25)
    ways = np.array([-direction(heading + pan, tilt) for pan, tilt in LOOKS_FROM_DEG])
    # From a little outside the thing itself, which is in no one's way.
    start = target + (0.6 * size_m + 0.01) * ways
    free = working.rays.distances(start, ways) + 0.6 * size_m
    best = int(np.argmax(free >= away)) if (free >= away).any() else int(np.argmax(free))
    far = min(away, max(float(free[best]) * 0.9, 0.7 * size_m + 0.05))
    x, y, z = (target + far * ways[best]).tolist()
    return Stand(position=(x, y, z), aim=at)


def anchored(stand: Stand, working: WorkingSet) -> Stand:
    """The same view with its aim on what is in the middle of it; as it was where that is only sky."""
    pose = resolve(stand)
    ahead = float(working.rays.first(pose.position[None], pose.forward[None]).distance[0])
    if ahead == inf or ahead < 0.02:
        return stand
    x, y, z = (pose.position + ahead * pose.forward).tolist()
    return stand.model_copy(update={"aim": (x, y, z)})
