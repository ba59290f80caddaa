"""A shot that goes along with its set when that is placed otherwise: the framing is the same, the metres follow."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, degrees

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import Point
from zevlo.core.optics.tilt import tilted
from zevlo.core.shot import Shot, Stand
from zevlo.core.shot.focus import Focus, ProbePoint
from zevlo.core.shot.lens import Opening
from zevlo.core.shot.limits import nearest_focus_m
from zevlo.core.stand.pose import resolve


def stand_moved(old: Stand, change: Floats) -> Stand:
    """The stand that goes with its set through a correction, with its roll and the point it follows.

    ``change`` (4, 4) is a turn, a scale and a move.
    """
    turn, moved = change[:3, :3], change[:3, 3]
    px, py, pz = (turn @ np.array(old.position) + moved).tolist()
    ax, ay, az = (turn @ np.array(old.aim) + moved).tolist()
    upright = resolve(type(old)(position=(px, py, pz), aim=(ax, ay, az)))
    up = turn @ resolve(old).up
    roll = degrees(atan2(float(up @ upright.right), float(up @ upright.up)))
    if abs(roll - old.roll_deg) < 1.0e-9:
        roll = old.roll_deg
    follow = old.follow
    if follow is not None:
        fx, fy, fz = (turn @ np.array(follow.point) + moved).tolist()
        follow = follow.model_copy(update={"point": (fx, fy, fz)})
    above = None if old.above_floor_m is None else old.above_floor_m * _scale_of(change)
    return type(old)(position=(px, py, pz), aim=(ax, ay, az), roll_deg=roll, above_floor_m=above, follow=follow)


def _scale_of(change: Floats) -> float:
    return float(np.cbrt(np.linalg.det(change[:3, :3])))


def shot_moved(shot: Shot, change: Floats) -> Shot:
    """The shot that goes with its set through a correction: its framing is the same, its metres follow.

    ``change`` (4, 4) is a turn, a scale and a move. Film stays; stand with its roll, focus, stack and probes, near
    and far clip, cutting plane and the width of a parallel picture follow.
    """
    stand, scale = stand_moved(shot.stand, change), _scale_of(change)
    distance = max(shot.focus.distance_m * scale, _closest_m(shot))
    stack = None if shot.focus.stack is None else shot.focus.stack.scaled(scale)
    focus = focus_moved(shot.focus, lambda point: _put(change, point)).model_copy(
        update={"distance_m": distance, "stack": stack}
    )
    far, wide = shot.lens.far_m, shot.lens.scale_m
    lens = shot.lens.model_copy(
        update={
            "near_m": min(max(shot.lens.near_m * scale, 1e-6), 1e5),
            "far_m": None if far is None else min(far * scale, 1e7),
            "scale_m": None if wide is None else min(max(wide * scale, 1e-4), 1e6),
            "cutting_plane": _plane_moved(shot.lens.cutting_plane, change),
        }
    )
    return shot.with_groups(stand=stand, focus=focus, lens=lens)


def _put(change: Floats, point: Point) -> Point:
    x, y, z = (change[:3, :3] @ np.array(point) + change[:3, 3]).tolist()
    return x, y, z


def focus_moved(own: Focus, put: Callable[[Point], Point], part: str | None = None) -> Focus:
    """The focus with its points, of a part or all of them, where ``put`` has them."""
    probes = tuple(_probe_moved(one, put, part) for one in own.probes)
    on = own.follow
    if on is not None and part in (None, on.part):
        on = on.model_copy(update={"point": put(on.point)})
    return own.model_copy(update={"probes": probes, "follow": on})


def _probe_moved(one: ProbePoint, put: Callable[[Point], Point], part: str | None) -> ProbePoint:
    if isinstance(one, tuple):
        return put(one) if part is None else one
    return one.model_copy(update={"point": put(one.point)}) if part in (None, one.part) else one


def _plane_moved(plane: Opening | None, change: Floats) -> Opening | None:
    if plane is None:
        return None
    turned = change[:3, :3] @ np.array(plane.normal)
    nx, ny, nz = (turned / np.linalg.norm(turned)).tolist()
    return plane.model_copy(update={"point": _put(change, plane.point), "normal": (nx, ny, nz)})


def _closest_m(shot: Shot) -> float:
    turned = tilted(shot.movements.tilt_deg, shot.movements.swing_deg)
    return nearest_focus_m(shot.lens.focal_length_mm, turned.cosine)
