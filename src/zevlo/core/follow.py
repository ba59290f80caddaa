"""What comes of a gesture. The rules that follow from it (what stays, what gives way) are here and nowhere else."""

from __future__ import annotations

from typing import Literal

import numpy as np

from zevlo.core.gestures import (
    AimAtPart,
    AimAtSeen,
    AimDistance,
    AimTo,
    AngleTo,
    CameraGesture,
    Dolly,
    EndTo,
    Face,
    FocusAt,
    FocusHyperfocal,
    FocusOnBarrel,
    FocusOnPaper,
    FocusTo,
    FollowSeen,
    Grip,
    HeightTo,
    HoldGesture,
    LeaveGesture,
    LeaveOutSeen,
    Level,
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
    TurnBy,
    Walk,
    WedgeTo,
)  # fmt: skip
from zevlo.core.holding import hold, leave_out, middle_of, on_its_floor, refollowed, refuse_what_is_lifted, seen_in
from zevlo.core.meter import exposed, metered
from zevlo.core.optics import focus, lens
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.scene.cut import plan_plane, section_plane
from zevlo.core.scene.levels import NOWHERE, Where
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.sight import fan
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import move_view
from zevlo.core.seen import ray_through
from zevlo.core.shot import Lens, Settings, Shot, Stand
from zevlo.core.solve import blur_limit_of, camera_of, ev_of, sharp_zone_of
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve

FARTHEST_FOCUS_M = 1.0e4
"""Where the barrel's infinity mark focuses; beyond that nothing differs on film."""


def follow(
    shot: Shot, gesture: ShotGesture, working: WorkingSet, lit: LitSet | None = None, where: Where = NOWHERE
) -> Shot:
    """The shot after a gesture, with all that goes with it: the height it stays at, the point it follows.

    The whole set rules, whatever is lifted off of ``working``.
    Raises :class:`Refused` where it cannot be followed, and pydantic's ``ValidationError`` where the result
    would not be a valid shot.
    """
    if isinstance(gesture, FocusAt | AimAtSeen | FollowSeen | LeaveOutSeen):
        refuse_what_is_lifted(shot, working, gesture.x, gesture.y)
    working = working.whole
    if isinstance(gesture, LeaveGesture):
        return leave_out(shot, gesture, working)
    if isinstance(gesture, HoldGesture):
        return shot.with_groups(stand=hold(shot, gesture, working))
    moved = _followed(shot, gesture, working, lit, where)
    return refollowed(shot, on_its_floor(shot, moved, working))


def _followed(shot: Shot, gesture: CameraGesture, working: WorkingSet, lit: LitSet | None, where: Where) -> Shot:
    if isinstance(gesture, StandTo | AimTo | HeightTo | Face):
        return shot.with_groups(stand=_placed(shot.stand, gesture, working, where))
    if isinstance(gesture, TurnBy | Level | AimDistance | EndTo | AimAtPart | AimAtSeen | Grip):
        return shot.with_groups(stand=_moved(shot, gesture, working))
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


def _moved(
    shot: Shot, gesture: TurnBy | Level | AimDistance | EndTo | AimAtPart | AimAtSeen | Grip, working: WorkingSet
) -> Stand:
    stand = shot.stand
    if isinstance(gesture, TurnBy):
        return moves.turn_exactly(stand, gesture.pan_deg, gesture.tilt_deg, gesture.roll_deg)
    if isinstance(gesture, Level):
        return moves.face(stand, resolve(stand).heading_deg, 0.0).model_copy(update={"roll_deg": 0.0})
    if isinstance(gesture, AimDistance):
        return moves.reach(stand, gesture.distance_m)
    if isinstance(gesture, Grip):
        try:
            return moves.grip(stand, gesture.move, gesture.by, gesture.both)
        except ValueError as reason:
            raise Refused(str(reason)) from reason
    if isinstance(gesture, EndTo):
        old = stand.position if gesture.end == "stand" else stand.aim
        given = (gesture.x, gesture.y, gesture.z)
        x, y, z = (was if now is None else now for was, now in zip(old, given, strict=True))
        return moves.put_end(stand, gesture.end, (x, y, z), gesture.both)
    if isinstance(gesture, AimAtPart):
        return moves.put_end(stand, "aim", middle_of(working, gesture.part), both=False)
    seen = seen_in(shot, working, gesture.x, gesture.y)
    if seen is None:
        raise Refused("There is only sky at that place; pick something in the set to aim at.")
    at = middle_of(working, working.model.ids[seen.part]) if gesture.part else seen.at
    return moves.put_end(stand, "aim", at, both=False)


def with_focal_length(old: Lens, focal_length_mm: float) -> Lens:
    """The lens at another focal length, checked again."""
    return Lens.model_validate({**old.model_dump(), "focal_length_mm": focal_length_mm})


def _placed(stand: Stand, gesture: StandTo | AimTo | HeightTo | Face, working: WorkingSet, where: Where) -> Stand:
    if isinstance(gesture, AimTo):
        return moves.put_aim(stand, gesture.x, gesture.y)
    if isinstance(gesture, Face):
        pose = resolve(stand)
        heading = pose.heading_deg if gesture.heading_deg is None else gesture.heading_deg + where.north_deg
        return moves.face(stand, heading, pose.pitch_deg if gesture.pitch_deg is None else gesture.pitch_deg)
    position = np.array(stand.position)
    here = working.floor_under(position)
    if isinstance(gesture, StandTo):
        there = working.floor_under(np.array([gesture.x, gesture.y, position[2]]))
        if there is None:
            there = working.floor_at(gesture.x, gesture.y)
        rise = 0.0 if here is None or there is None else there - here
        return moves.put_stand(stand, gesture.x, gesture.y, rise)
    if gesture.z is not None:
        return moves.put_height(stand, gesture.z)
    if gesture.above_floor is None:
        raise Refused("A height is needed: above zero, or above the floor.")
    if here is None:
        raise Refused("There is no floor under the stand, so a height above it means nothing here.")
    return moves.put_height(stand, here + gesture.above_floor)


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


def depth_at(shot: Shot, working: WorkingSet, x: float, y: float) -> float | None:
    """Distance along the lens axis, in metres, of what is seen at a place in the frame."""
    seen = seen_in(shot, working, x, y)
    if seen is None:
        return None
    camera = camera_of(shot)
    return seen.distance_m / float(np.linalg.norm(ray_through(camera.pose, camera.window, x, y)))


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
