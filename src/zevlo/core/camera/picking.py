"""What is seen at a place in a picture: the part, the place on it, how far away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Integers
from zevlo.core.camera.camera import Camera, Rays
from zevlo.core.camera.from_shot import Framing
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.text import pressing as say

ON_PLANE_M = 1.0e-6
ONLY_SKY = say.THERE_IS_ONLY_SKY


@dataclass(frozen=True)
class Seen:
    """A place on a part. ``depth_m`` is counted along the lens axis, from the stand where the law has it so; the unit
    ``normal`` of its face is on the side it is seen from."""

    part: int
    at: tuple[float, float, float]
    depth_m: float
    normal: tuple[float, float, float]


@dataclass(frozen=True)
class Met:
    """What rays meet between near and far clip: how far along, (n,), infinite for sky; the part, below 0 for sky; and
    the normal of its face, (n, 3), to either side."""

    distance: Floats
    part: Integers
    normal: Floats


def met(camera: Camera, rays: Rays, working: WorkingSet) -> Met:
    """What rays of a camera meet of a set, with what its cutting plane cuts open."""
    hit = working.rays.first(rays.starts, rays.directions)
    away = rays.near + hit.distance
    there = (hit.face >= 0) & (away <= rays.far) & (rays.near < rays.far)
    part = np.full(len(away), -1, dtype=np.int32)
    part[there] = working.parts_of(hit.face[there])
    distance, normal = np.where(there, away, inf), hit.normal
    plane = camera.cutting
    if plane is not None:
        cap, across = working.cap(plane), np.array(plane.normal)
        # Who stands within something sees from inside where it is cut.
        for end, wanted in ((rays.near, rays.near < rays.far), (rays.far, ~there & np.isfinite(rays.far))):
            places = rays.at(np.where(np.isfinite(end), end, 0.0))
            on = np.flatnonzero(wanted & (np.abs(plane.over(places)) < ON_PLANE_M))
            own = cap.parts_at(places[on], across)
            on, own = on[own >= 0], own[own >= 0]
            part[on], distance[on], normal[on] = own, end[on], across
    return Met(distance, part, normal)


ON_IT = 2.0e-3
"""What is met this share nearer than a point counts as what that lies on."""


def clear_to(camera: Camera, points: Floats, working: WorkingSet, within: Sequence[int] = ()) -> NDArray[np.bool_]:
    """Which of some points (n, 3) a camera sees, with nothing of a set before them; what they lie on does not count,
    nor do the parts, by number, they lie within."""
    places = camera.places(points)
    uv = np.where(np.isfinite(places.uv), places.uv, 0.5)
    rays = camera.rays(uv)
    away = np.einsum("ij,ij->i", points - rays.origins, rays.directions)
    found = met(camera, rays, working)
    clear: NDArray[np.bool_] = places.seen & ((found.distance > away * (1.0 - ON_IT)) | np.isin(found.part, within))
    return clear


def seen_from(camera: Camera, x: float, y: float, working: WorkingSet) -> Seen | None:
    """The first thing between near and far clip at a place in the frame, (0, 0) bottom left; None for sky."""
    ray = camera.rays(np.array([[x, y]]))
    found = met(camera, ray, working)
    part = int(found.part[0])
    if part < 0:
        return None
    x, y, z = ray.at(found.distance)[0].tolist()
    normal = found.normal[0]
    nx, ny, nz = (normal * (-1.0 if float(normal @ ray.directions[0]) > 0.0 else 1.0)).tolist()
    return Seen(part, (x, y, z), float(camera.depths(ray, found.distance)[0]), (nx, ny, nz))


def seen_in(framing: Framing, x: float, y: float) -> Seen | None:
    """What a shot sees at a place in its frame; what it leaves out is not there."""
    return seen_from(framing.camera, x, y, framing.shown)


def thing_at(framing: Framing, x: float, y: float) -> Seen:
    """What is pressed on at a place in a shot's frame. Raises :class:`Refused` where that is only sky."""
    seen = seen_in(framing, x, y)
    if seen is None:
        raise Refused(ONLY_SKY)
    return seen


def depth_at(framing: Framing, x: float, y: float) -> float | None:
    """Distance along the lens axis, in metres, of what is seen at a place in the frame."""
    seen = seen_in(framing, x, y)
    return None if seen is None else seen.depth_m


def refuse_what_is_lifted(framing: Framing, working: WorkingSet, x: float, y: float) -> None:
    """Raise :class:`Refused` where what a shot sees of the whole set at a place is put aside in ``working``: pictures
    show it.

    Nobody should focus on, or leave out, what they do not see; nor on what the picture will not show.
    """
    if working.whole is working:
        return
    seen = seen_in(framing, x, y)
    if seen is not None and working.is_lifted(seen.part, seen.at[2]):
        name = working.model.parts[seen.part].name
        raise Refused(say.is_in_the_way(name))
