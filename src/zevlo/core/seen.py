"""What is seen at a place in a picture: the part, the place on it, how far away."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING

import numpy as np

from zevlo.core.camera import Camera, Rays, camera_of
from zevlo.core.refused import Refused
from zevlo.core.scene.model import Floats, with_all_below
from zevlo.core.scene.working import WorkingSet

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

MOST_SURFACES = 2000
STEP_THROUGH_M = 1.0e-4
ON_PLANE_M = 1.0e-6


@dataclass(frozen=True)
class Seen:
    """A place on a part. ``depth_m`` is counted along the lens axis, from the stand where the law has it so; the unit
    ``normal`` of its face is on the side it is seen from."""

    part: int
    at: tuple[float, float, float]
    depth_m: float
    normal: tuple[float, float, float]


def seen_from(
    camera: Camera, x: float, y: float, working: WorkingSet, through: frozenset[int] = frozenset()
) -> Seen | None:
    """The first thing between near and far cut at a place in the frame, (0, 0) bottom left; None for sky.

    Parts in ``through`` are looked through.
    """
    ray = camera.rays(np.array([[x, y]]))
    if not float(ray.near[0]) < float(ray.far[0]):
        return None
    capped = _on_cap(camera, ray, ray.near, working, through)
    if capped is not None:
        return capped
    distance, far = ray.near, float(ray.far[0])
    for _ in range(MOST_SURFACES):
        hit = working.rays.first(ray.at(distance), ray.ways)
        distance = distance + hit.distance
        if float(distance[0]) == inf or float(distance[0]) > far:
            # Who stands within something sees from inside where it is cut.
            return None if far == inf else _on_cap(camera, ray, ray.far, working, through)
        part = working.part_at(int(hit.face[0]))
        if part not in through:
            return _seen(camera, ray, distance, part, hit.normal[0])
        distance = distance + STEP_THROUGH_M
    return None


def _seen(camera: Camera, ray: Rays, distance: Floats, part: int, normal: Floats) -> Seen:
    x, y, z = ray.at(distance)[0].tolist()
    nx, ny, nz = (normal * (-1.0 if float(normal @ ray.ways[0]) > 0.0 else 1.0)).tolist()
    return Seen(part, (x, y, z), float(camera.depths(ray, distance)[0]), (nx, ny, nz))


def _on_cap(camera: Camera, ray: Rays, distance: Floats, working: WorkingSet, through: frozenset[int]) -> Seen | None:
    """What a ray sees, at an end of it, of what its picture's cutting plane cuts open; None where it ends elsewhere."""
    plane = camera.cutting
    if plane is None or abs(float(plane.over(ray.at(distance))[0])) > ON_PLANE_M:
        return None
    normal = np.array(plane.normal)
    part = int(working.cap(plane).without(sorted(through)).parts_at(ray.at(distance), normal)[0])
    return None if part < 0 else _seen(camera, ray, distance, part, normal)


def seen_in(shot: Shot, working: WorkingSet, x: float, y: float) -> Seen | None:
    """What a shot sees at a place in its frame; parts it leaves out are looked through."""
    gone = with_all_below(working.model.parts_at(shot.left_out), working.model.parents)
    return seen_from(camera_of(shot), x, y, working, frozenset(gone))


def depth_at(shot: Shot, working: WorkingSet, x: float, y: float) -> float | None:
    """Distance along the lens axis, in metres, of what is seen at a place in the frame."""
    seen = seen_in(shot, working, x, y)
    return None if seen is None else seen.depth_m


def refuse_what_is_lifted(shot: Shot, working: WorkingSet, x: float, y: float) -> None:
    """Raise :class:`Refused` where what a shot sees at a place is put aside while one works: pictures show it.

    Nobody should focus on, or leave out, what they do not see; nor on what the picture will not show.
    """
    if working.whole is working:
        return
    seen = seen_in(shot, working.whole, x, y)
    if seen is not None and working.is_lifted(seen.part, seen.at[2]):
        name = working.model.parts[seen.part].name
        raise Refused(
            f"“{name}” is in the way there: it is only lifted off while working, and pictures show it. "
            "Put it back, or leave it out of this shot."
        )
