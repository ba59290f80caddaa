"""What is seen at a place in a picture: the part, the place on it, how far away."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.optics.lens import Window
from zevlo.core.scene.model import Floats
from zevlo.core.scene.working import WorkingSet
from zevlo.core.stand.pose import Pose

MOST_SURFACES = 2000
STEP_THROUGH_M = 1.0e-4


@dataclass(frozen=True)
class Seen:
    """A place on a part. ``distance_m`` is counted along the ray."""

    part: int
    at: tuple[float, float, float]
    distance_m: float


def ray_through(pose: Pose, window: Window, x: float, y: float) -> Floats:
    """Direction through a place in the frame, (3,), scaled to depth 1 along the lens axis."""
    across = (window.left + x * window.width) / window.distance_mm
    upright = (window.bottom + y * window.height) / window.distance_mm
    ray: Floats = pose.forward + across * pose.right + upright * pose.up
    return ray


def seen_from(
    pose: Pose,
    window: Window,
    near_m: float,
    x: float,
    y: float,
    working: WorkingSet,
    through: frozenset[int] = frozenset(),
) -> Seen | None:
    """The first thing behind the near cut at a place in the frame, (0, 0) bottom left; None for sky.

    Parts in ``through`` are looked through.
    """
    ray = ray_through(pose, window, x, y)
    length = float(np.linalg.norm(ray))
    way = (ray / length)[None]
    distance = near_m * length
    for _ in range(MOST_SURFACES):
        hit = working.rays.first(pose.position[None] + distance * way, way)
        further = float(hit.distance[0])
        if further == inf:
            return None
        part = working.part_at(int(hit.face[0]))
        distance += further
        if part not in through:
            px, py, pz = (pose.position + distance * way[0]).tolist()
            return Seen(part, (px, py, pz), distance)
        distance += STEP_THROUGH_M
    return None
