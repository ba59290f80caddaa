"""What comes of a gesture. The rules that follow from it (what stays, what gives way) are here and nowhere else."""

from __future__ import annotations

from math import inf
from typing import Literal

import numpy as np

from zevlo.core.gestures import (
    AimTo,
    AngleTo,
    Dolly,
    Face,
    FocusAt,
    FocusHyperfocal,
    FocusOnBarrel,
    FocusOnPaper,
    FocusTo,
    HeightTo,
    Look,
    Meter,
    Orbit,
    Refused,
    SharpOnPaper,
    SharpTo,
    Shift,
    ShotGesture,
    StandTo,
    StopTo,
    Walk,
    WedgeTo,
)  # fmt: skip
from zevlo.core.meter import exposed, metered
from zevlo.core.optics import focus, lens
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.scene.cut import plan_plane, section_plane
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import fan
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import move_view
from zevlo.core.shot import Lens, Settings, Shot, Stand
from zevlo.core.solve import Camera, blur_limit_of, camera_of, ev_of, sharp_zone_of
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve

FARTHEST_FOCUS_M = 1.0e4
"""Where the barrel's infinity mark focuses; beyond that nothing differs on film."""


def follow(shot: Shot, gesture: ShotGesture, working: WorkingSet, lit: LitSet | None = None) -> Shot:
    """The shot after a gesture.

    Raises :class:`Refused` where it cannot be followed, and pydantic's ``ValidationError`` where the result
    would not be a valid shot.
    """
    if isinstance(gesture, StandTo | AimTo | HeightTo | Face):
        return shot.with_groups(stand=_placed(shot.stand, gesture, working))
    if isinstance(gesture, Look | Shift | Orbit | Dolly | Walk):
        window = camera_of(shot).window
        d = window.distance_mm
        return shot.with_groups(stand=move_view(shot.stand, gesture, window.width / d, window.height / d))
    if isinstance(gesture, AngleTo | WedgeTo):
        return shot.with_groups(lens=with_focal_length(shot.lens, _focal_length(shot, gesture)))
    if isinstance(gesture, StopTo):
        return _stopped(shot, gesture.f_number)
    if isinstance(gesture, SharpTo):
        return _sharpened(shot, gesture.end, gesture.distance_m)
    if isinstance(gesture, SharpOnPaper):
        return _sharpened(shot, gesture.end, depth_on_paper(shot, gesture.drawing, gesture.x, gesture.y))
    if isinstance(gesture, Meter):
        if lit is None:
            raise Refused("There is no set to read the light from.")
        return metered(shot, lit)
    return shot.with_groups(focus=_refocused(shot, gesture, working))


def with_focal_length(old: Lens, focal_length_mm: float) -> Lens:
    """The lens at another focal length, checked again."""
    return Lens.model_validate({**old.model_dump(), "focal_length_mm": focal_length_mm})


def _placed(stand: Stand, gesture: StandTo | AimTo | HeightTo | Face, working: WorkingSet) -> Stand:
    if isinstance(gesture, AimTo):
        return moves.put_aim(stand, gesture.x, gesture.y)
    if isinstance(gesture, Face):
        pose = resolve(stand)
        heading = pose.heading_deg if gesture.heading_deg is None else gesture.heading_deg
        return moves.face(stand, heading, pose.pitch_deg if gesture.pitch_deg is None else gesture.pitch_deg)
    position = np.array(stand.position)
    here = working.floor_under(position)
    if isinstance(gesture, StandTo):
        there = working.floor_under(np.array([gesture.x, gesture.y, position[2]]))
        if there is None:
            there = floor_at(working, gesture.x, gesture.y)
        rise = 0.0 if here is None or there is None else there - here
        return moves.put_stand(stand, gesture.x, gesture.y, rise)
    if gesture.z is not None:
        return moves.put_height(stand, gesture.z)
    if gesture.above_floor is None:
        raise Refused("A height is needed: above zero, or above the floor.")
    if here is None:
        raise Refused("There is no floor under the stand, so a height above it means nothing here.")
    return moves.put_height(stand, here + gesture.above_floor)


def floor_at(working: WorkingSet, x: float, y: float, from_z: float | None = None) -> float | None:
    """Floor height at a place in plan, looking down from ``from_z``, or from above all where that finds none."""
    if from_z is not None:
        found = working.floor_under(np.array([x, y, from_z]))
        if found is not None:
            return found
    return working.floor_under(np.array([x, y, working.bounds[1, 2] + 1.0]))


def _focal_length(shot: Shot, gesture: AngleTo | WedgeTo) -> float:
    window = camera_of(shot).window
    if isinstance(gesture, AngleTo):
        return lens.focal_length_for(gesture.horizontal_deg, window.width)
    pose = resolve(shot.stand)
    away = np.array([gesture.x, gesture.y, 0.0]) - np.array([*shot.stand.position[:2], 0.0])
    depth = float(away @ pose.level_axis)
    side = float(away @ np.array([pose.level_axis[1], -pose.level_axis[0], 0.0]))
    edge = window.right if gesture.side == "right" else window.left
    if depth <= 0.01 or side * edge <= 0.0:
        raise Refused("The side of the wedge has to stay in front of the camera, on its own side of the axis.")
    return float(np.clip(edge * depth / side, 1.0, 5000.0))


def frame_ray(camera: Camera, x: float, y: float) -> Floats:
    """Direction through a place in the frame, (3,), scaled to depth 1 along the lens axis."""
    window, pose = camera.window, camera.pose
    across = (window.left + x * window.width) / window.distance_mm
    upright = (window.bottom + y * window.height) / window.distance_mm
    return pose.forward + across * pose.right + upright * pose.up


def depth_at(shot: Shot, working: WorkingSet, x: float, y: float) -> float | None:
    """Distance along the lens axis, in metres, of what is seen at a place in the frame."""
    camera = camera_of(shot)
    ray = frame_ray(camera, x, y)
    length = float(np.linalg.norm(ray))
    start = camera.pose.position + shot.lens.near_m * ray
    found = float(working.rays.first(start[None], (ray / length)[None]).distance[0])
    return None if found == inf else shot.lens.near_m + found / length


def depth_on_paper(shot: Shot, drawing: Literal["plan", "section"], x: float, y: float) -> float:
    """Distance along the lens axis, in metres, at which a line drawn across the wedge passes a place on paper."""
    camera = camera_of(shot)
    pose = camera.pose
    plane = plan_plane(0.0) if drawing == "plan" else section_plane(pose.position, pose.level_axis)
    middle = fan(pose, camera.window, drawing == "plan")[[0, -1]].mean(axis=0)
    axis = plane.paper @ middle
    length = float(axis @ axis)
    if length < 1.0e-6:
        raise Refused("The camera looks straight down or up: drag this in the section instead.")
    away = np.array([x, y]) - plane.flat(pose.position)
    return max(0.01, float(away @ axis) / length)


def _refocused(
    shot: Shot, gesture: FocusAt | FocusTo | FocusOnPaper | FocusOnBarrel | FocusHyperfocal, working: WorkingSet
) -> Settings:
    if isinstance(gesture, FocusTo):
        return shot.focus.model_copy(update={"distance_m": gesture.distance_m})
    if isinstance(gesture, FocusOnPaper):
        on_paper = depth_on_paper(shot, gesture.drawing, gesture.x, gesture.y)
        return shot.focus.model_copy(update={"distance_m": on_paper})
    if isinstance(gesture, FocusOnBarrel):
        found = barrel_distance_mm(shot.focus.distance_m * 1000.0, gesture.at)
        return shot.focus.model_copy(update={"distance_m": min(found / 1000.0, FARTHEST_FOCUS_M)})
    if isinstance(gesture, FocusHyperfocal):
        if shot.focus.f_number is None:
            raise Refused("Everything is sharp already; a hyperfocal distance needs a stop.")
        limit = blur_limit_of(shot, camera_of(shot).cut)
        h = focus.hyperfocal_mm(shot.lens.focal_length_mm, shot.focus.f_number, limit)
        return shot.focus.model_copy(update={"distance_m": h / 1000.0})
    depth = depth_at(shot, working, gesture.x, gesture.y)
    if depth is None:
        raise Refused("There is only sky at that place; pick something in the set to focus on.")
    return shot.focus.model_copy(update={"distance_m": depth})


def _stopped(shot: Shot, f_number: float | None) -> Shot:
    ev = ev_of(shot)
    opened = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": f_number}))
    return exposed(opened, ev)


def _sharpened(shot: Shot, end: Literal["near", "far"], distance_m: float) -> Shot:
    if shot.focus.f_number is None:
        raise Refused("Everything is sharp; choose a stop first.")
    cut = camera_of(shot).cut
    zone = sharp_zone_of(shot, cut)
    near, far = zone.sharp_from * 1000.0, zone.sharp_to * 1000.0
    if end == "near":
        near = min(distance_m * 1000.0, 0.98 * far)
    else:
        far = max(distance_m * 1000.0, 1.02 * near)
    f = shot.lens.focal_length_mm
    if near <= 1.02 * f:
        raise Refused(f"A {f:g} mm lens cannot be sharp that close.")
    n = focus.stop_for_two(f, blur_limit_of(shot, cut), near, far)
    n = float(np.clip(n, 0.7, 90.0))
    u = focus.focus_for_two(near, far)
    ev = ev_of(shot)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": n})
    return exposed(shot.with_groups(focus=moved), ev)
