"""The scout view: looking around without any shot."""

from __future__ import annotations

from math import inf

import numpy as np
from pydantic import Field

from zevlo.core.gestures import Dolly, Look, Orbit, Shift, Walk
from zevlo.core.optics.back import cut_back
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Settings, Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve


class Scout(Settings):
    """The scout view: looking around without any shot."""

    stand: Stand = Stand()
    focal_length_mm: float = Field(28.0, ge=8.0, le=400.0)


SCOUT_FILM_MM = 36.0
SCOUT_FRAME_SHARE = 0.86


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


def anchored(stand: Stand, working: WorkingSet) -> Stand:
    """The same view with its aim on what is in the middle of it; as it was where that is only sky."""
    pose = resolve(stand)
    ahead = float(working.rays.first(pose.position[None], pose.forward[None]).distance[0])
    if ahead == inf or ahead < 0.02:
        return stand
    x, y, z = (pose.position + ahead * pose.forward).tolist()
    return stand.model_copy(update={"aim": (x, y, z)})
