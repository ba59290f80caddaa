"""What is seen at a place in a picture: the part, the place on it, how far away."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.camera import Camera
from zevlo.core.scene.working import WorkingSet

MOST_SURFACES = 2000
STEP_THROUGH_M = 1.0e-4


@dataclass(frozen=True)
class Seen:
    """A place on a part. ``depth_m`` is counted along the lens axis, from the stand where the law has it so."""

    part: int
    at: tuple[float, float, float]
    depth_m: float


def seen_from(
    camera: Camera, x: float, y: float, working: WorkingSet, through: frozenset[int] = frozenset()
) -> Seen | None:
    """The first thing between near and far cut at a place in the frame, (0, 0) bottom left; None for sky.

    Parts in ``through`` are looked through.
    """
    ray = camera.rays(np.array([[x, y]]))
    distance, far = ray.near, float(ray.far[0])
    for _ in range(MOST_SURFACES):
        hit = working.rays.first(ray.at(distance), ray.ways)
        distance = distance + hit.distance
        if float(distance[0]) == inf or float(distance[0]) > far:
            return None
        part = working.part_at(int(hit.face[0]))
        if part not in through:
            px, py, pz = ray.at(distance)[0].tolist()
            return Seen(part, (px, py, pz), float(camera.depths(ray, distance)[0]))
        distance = distance + STEP_THROUGH_M
    return None
