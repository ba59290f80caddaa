"""The shot as drawn in plan and section: the wedge it sees until something is in the way, sharp zone, focus."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.optics.lens import Window
from zevlo.core.scene.cut import CutOutlines, DrawingPlane
from zevlo.core.scene.model import Floats
from zevlo.core.scene.rays import RayScene
from zevlo.core.sheet import Drawing, Polyline
from zevlo.core.stand.pose import Pose

FAN_RAYS = 61
PLAN_ROWS = 3


@dataclass(frozen=True)
class Zone:
    """Distances along the lens axis, metres: focus, and sharp from/to (``to`` may be infinite)."""

    focus: float
    sharp_from: float
    sharp_to: float


def fan(pose: Pose, window: Window, sideways: bool) -> Floats:
    """Rays across the frame through the lens axis (or the frame side nearest to it), (n, 3), depth 1 each.

    Scaled so that the component along the lens axis is 1: a ray times a depth lies at that depth.
    """
    if sideways:
        across = np.linspace(window.left, window.right, FAN_RAYS)
        other = min(max(0.0, window.bottom), window.top)
        x, y = across, np.full(FAN_RAYS, other)
    else:
        across = np.linspace(window.bottom, window.top, FAN_RAYS)
        other = min(max(0.0, window.left), window.right)
        x, y = np.full(FAN_RAYS, other), across
    d = window.distance_mm
    return pose.forward + (x / d)[:, None] * pose.right + (y / d)[:, None] * pose.up


def farthest_seen(pose: Pose, window: Window, rays: RayScene, reach: float) -> Floats:
    """For each ray of the sideways fan, the greatest depth (n,) at which anything in its column of the frame is.

    A hill in front of a tower hides its foot, not the tower: so a whole column counts, not one height.
    """
    spread = fan(pose, window, sideways=True)
    base = min(max(0.0, window.bottom), window.top)
    rows = np.linspace(window.bottom, window.top, PLAN_ROWS) - base
    ways = (spread[None] + (rows[:, None, None] / window.distance_mm) * pose.up).reshape(-1, 3)
    length = np.linalg.norm(ways, axis=1)
    origins = np.broadcast_to(pose.position, ways.shape)
    depth = np.minimum(rays.first(origins, ways / length[:, None]).distance / length, reach)
    solid = np.where(depth < reach, depth, 0.0).reshape(PLAN_ROWS, -1).max(axis=0)
    open_air = depth.reshape(PLAN_ROWS, -1).min(axis=0) >= reach
    straight = depth.reshape(PLAN_ROWS, -1)[np.argmin(np.abs(rows))]
    farthest: Floats = np.where(open_air, reach, np.maximum(solid, straight))
    return farthest


def _line(points: Floats) -> Polyline:
    flat: Polyline = np.round(points, 4).ravel().tolist()
    return flat


def draw_sight(
    pose: Pose, aim: Floats, window: Window, zone: Zone, plane: DrawingPlane, sideways: bool,
    rays: RayScene | None, reach: float,
) -> Drawing:  # fmt: skip
    """The shot on one drawing. Without ``rays`` nothing is in the way within ``reach`` metres."""
    spread = fan(pose, window, sideways)
    length = np.linalg.norm(spread, axis=1)
    depth = np.full(len(spread), reach)
    if rays is not None and sideways:
        depth = farthest_seen(pose, window, rays, reach)
    elif rays is not None:
        origins = np.broadcast_to(pose.position, spread.shape)
        depth = np.minimum(depth, rays.first(origins, spread / length[:, None]).distance / length)
    place = plane.flat(pose.position)
    paper = plane.flat(pose.position + spread) - place

    def at(depths: Floats) -> Floats:
        return place + depths[:, None] * paper

    seen = at(depth)
    inner = np.minimum(depth, zone.sharp_from)
    outer = np.minimum(depth, zone.sharp_to)
    ends = paper[[0, -1]]

    def across(distance: float) -> Polyline:
        return _line(place + distance * ends)

    flat_aim = plane.flat(aim)
    return Drawing(
        stand=(float(place[0]), float(place[1])),
        aim=(float(flat_aim[0]), float(flat_aim[1])),
        edges=[(float(x), float(y)) for x, y in seen[[0, -1]]],
        seen=_line(np.vstack([place[None], seen])),
        sharp=_line(np.vstack([at(outer), at(inner)[::-1]])),
        focus=across(min(zone.focus, reach)),
        near=across(min(zone.sharp_from, reach)),
        far=None if zone.sharp_to == inf or zone.sharp_to > reach else across(zone.sharp_to),
    )


def polylines(outlines: tuple[Floats, ...]) -> list[Polyline]:
    """Outlines rounded to a tenth of a millimetre, flat."""
    if not outlines:
        return []
    # Rounded all at once: there are hundreds of short ones in a live answer.
    flat = _line(np.concatenate(outlines))
    ends = np.cumsum([2 * len(points) for points in outlines]).tolist()
    return [flat[begin:end] for begin, end in zip([0, *ends[:-1]], ends, strict=True)]


def with_cut(drawing: Drawing, outlines: CutOutlines, beyond: Floats | None) -> Drawing:
    """The drawing with what its plane cuts and, if given, the thin lines (n, 2, 2) beyond."""
    return drawing.model_copy(
        update={
            "cut": polylines(outlines.closed),
            "cut_open": polylines(outlines.open),
            "beyond": None if beyond is None else np.round(beyond, 3).reshape(len(beyond), 4).tolist(),
        }
    )
