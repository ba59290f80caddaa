"""What comes of a gesture. The rules that follow from it (what stays, what gives way) are here and nowhere else."""

from __future__ import annotations

from typing import Literal

import numpy as np

from zevlo.core.camera import camera_of, law_of, width_before_enlarge_mm
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
    ProjectionTo,
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
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.scene.cut import plan_plane, section_plane
from zevlo.core.scene.levels import NOWHERE, Where
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import Side, side_of_wedge
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import move_view
from zevlo.core.shot import Lens, Settings, Shot, Stand
from zevlo.core.solve import blur_limit_of, ev_of, sharp_zone_of
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
    if isinstance(gesture, Dolly) and shot.lens.scale_m is not None:
        # To come nearer changes nothing where rays are parallel: what is shown gets narrower.
        return shot.with_groups(lens=_with_scale(shot.lens, shot.lens.scale_m * gesture.factor))
    if isinstance(gesture, Look | Shift | Orbit | Dolly | Walk):
        camera = camera_of(shot)
        far = camera.pose.aim_distance
        width, height = camera.span(far)
        return shot.with_groups(stand=move_view(shot.stand, gesture, width / far, height / far))
    if isinstance(gesture, ProjectionTo):
        return shot.with_groups(lens=_projected(shot, gesture))
    if isinstance(gesture, WedgeTo) and shot.lens.scale_m is not None:
        return shot.with_groups(lens=_with_scale(shot.lens, _width_in_world(shot, gesture)))
    if isinstance(gesture, AngleTo | WedgeTo):
        image = _image_distance(shot, gesture)
        if shot.lens.focus_breathing:
            image = lens.focal_length_at(image, shot.focus.distance_m * 1000.0)
        return shot.with_groups(lens=with_focal_length(shot.lens, float(np.clip(image, 1.0, 5000.0))))
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


def _with_scale(old: Lens, scale_m: float | None) -> Lens:
    projection = "perspective" if scale_m is None else "parallel"
    held = None if scale_m is None else float(np.clip(scale_m, 1.0e-4, 1.0e6))
    return Lens.model_validate({**old.model_dump(), "projection": projection, "scale_m": held})


def _projected(shot: Shot, gesture: ProjectionTo) -> Lens:
    if gesture.projection == shot.lens.projection:
        return shot.lens
    if gesture.projection == "perspective":
        return _with_scale(shot.lens, None)
    camera = camera_of(shot)
    return _with_scale(shot.lens, width_before_enlarge_mm(shot) / camera.law.film_per_metre(camera.pose.aim_distance))


def _width_in_world(shot: Shot, gesture: WedgeTo) -> float:
    """The ``scale_m`` of a parallel shot with which a side of what it sees runs through a place in plan."""
    camera = camera_of(shot)
    pose = camera.pose
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0]
    on_film = (x * pose.right + y * pose.up)[:2]
    away, ahead = np.array([gesture.x, gesture.y]) - pose.position[:2], pose.forward[:2]
    if float(np.hypot(*ahead)) > 1.0e-9:
        # Only what lies across the way it looks counts.
        across = np.array([-ahead[1], ahead[0]])
        on_film, away = float(on_film @ across) * across, float(away @ across) * across
    square = float(on_film @ on_film)
    metres_per_mm = float(away @ on_film) / square if square > 0.0 else -1.0
    if metres_per_mm <= 0.0:
        raise Refused("The side has to stay on its own side of the axis.")
    return metres_per_mm * width_before_enlarge_mm(shot)


def _image_distance(shot: Shot, gesture: AngleTo | WedgeTo) -> float:
    """How far behind the lens, in mm, the film has to stand for a wanted view."""
    camera = camera_of(shot)
    if shot.lens.scale_m is not None:
        raise Refused("A parallel picture has no angle of view; say how wide it is.")
    if isinstance(gesture, AngleTo):
        return lens.focal_length_for(gesture.horizontal_deg, camera.window.width)
    # In plan the drawn side runs along d·forward + (its place on the film), d the distance looked for: linear in d.
    pose = camera.pose
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0]
    on_film = (x * pose.right + y * pose.up)[:2]
    away, ahead = np.array([gesture.x, gesture.y]) - pose.position[:2], pose.forward[:2]
    turn = _cross(away, ahead)
    distance = -_cross(away, on_film) / turn if abs(turn) > 1.0e-12 else -1.0
    if distance <= 0.0 or float((distance * ahead + on_film) @ away) <= 0.0:
        raise Refused("The side of the wedge has to stay in front of the camera, on its own side of the axis.")
    return float(distance)


def _cross(a: Floats, b: Floats) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def depth_at(shot: Shot, working: WorkingSet, x: float, y: float) -> float | None:
    """Distance along the lens axis, in metres, of what is seen at a place in the frame."""
    seen = seen_in(shot, working, x, y)
    return None if seen is None else seen.depth_m


def depth_on_paper(shot: Shot, drawing: Literal["plan", "section"], x: float, y: float) -> float:
    """Distance along the lens axis, in metres, at which a line drawn across the wedge passes a place on paper."""
    camera = camera_of(shot)
    pose = camera.pose
    plane = plan_plane(0.0) if drawing == "plan" else section_plane(pose.position, pose.level_axis)
    # Two places on each side of the wedge, a metre of depth apart, tell where any depth is drawn.
    sides: tuple[Side, Side] = ("left", "right") if drawing == "plan" else ("bottom", "top")
    rays = camera.rays(side_of_wedge(camera, *sides))
    near, far = (plane.flat(rays.at(camera.distances(rays, depth))) for depth in (1.0, 2.0))
    ahead, across = (far - near).mean(axis=0), far[1] - far[0]
    turn = _cross(ahead, across)
    if abs(turn) < 1.0e-6 * float(np.hypot(*across)):
        raise Refused("The camera looks straight down or up: drag this in the section instead.")
    away = np.array([x, y]) - (2.0 * near - far).mean(axis=0)
    return max(0.01, _cross(away, across) / turn)


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
        if shot.focus.f_number is None or not law_of(shot).blurs:
            raise Refused("Everything is sharp already; a hyperfocal distance needs a lens with a stop.")
        limit = blur_limit_of(shot, cut_back(shot.back))
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
    if not law_of(shot).blurs:
        raise Refused("In a parallel picture everything is sharp.")
    cut = cut_back(shot.back)
    zone = sharp_zone_of(shot, cut)
    near, far = zone.sharp_from * 1000.0, zone.sharp_to * 1000.0
    if end == "near":
        near = min(distance_m * 1000.0, 0.98 * far)
    else:
        far = max(distance_m * 1000.0, 1.02 * near)
    f = shot.lens.focal_length_mm
    if near <= 1.02 * f:
        raise Refused(f"A {f:g} mm lens cannot be sharp that close.")
    limit = blur_limit_of(shot, cut)
    wanted = focus.stop_for_two(f, limit, near, far)
    n = min(max(wanted, focus.WIDEST_STOP), focus.SMALLEST_STOP)
    if n != wanted and end == "near":
        near = focus.near_for_far(f, n, limit, far)
    elif n != wanted:
        far = focus.far_for_near(f, n, limit, near)
    u = focus.focus_for_two(near, far)
    ev = ev_of(shot)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": n})
    made = exposed(shot.with_groups(focus=moved), ev)
    if n == wanted:
        return made
    which = "smallest" if n == focus.SMALLEST_STOP else "widest"
    raise Refused(f"That is as far as it goes: {focus.stop_name(n)} is the {which} stop.", nearest=made)
