"""What a hand does to a shot or to the scout view, as data; and what comes of it.

A gesture says what was taken hold of and where it was put. The rules that follow from it (what stays, what
gives way) are here and nowhere else. Shares are of the output frame's width or height; points are metres.
"""

from __future__ import annotations

from math import hypot, inf
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zevlo.core.optics import exposure, focus, lens
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.scene.cut import plan_plane, section_plane
from zevlo.core.scene.lit import LitSet, middle_luminance, radiance
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import fan
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Coordinate, Lens, Settings, Shot, Stand
from zevlo.core.solve import Camera, blur_limit_of, camera_of, effective_f_number, ev_of, sharp_zone_of
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve

STANDING_EYE_M = 1.60
METER_RAYS = (24, 16)
METER_PATHS = 12
METER_BOUNCES = 4
FARTHEST_FOCUS_M = 1.0e4
"""Where the barrel's infinity mark focuses; beyond that nothing differs on film."""


class Refused(ValueError):
    """A gesture that cannot be followed, with the reason in words for the artist."""


class StandTo(Settings):
    """The stand is put at a place in plan. It keeps its height above the floor; the aim stays in plan."""

    kind: Literal["stand_to"] = "stand_to"
    x: Coordinate
    y: Coordinate


class AimTo(Settings):
    """The aim is put at a place in plan, at its own height."""

    kind: Literal["aim_to"] = "aim_to"
    x: Coordinate
    y: Coordinate


class HeightTo(Settings):
    """The lens is put at a height above zero (``z``) or above the floor; the direction stays."""

    kind: Literal["height_to"] = "height_to"
    z: Coordinate | None = None
    above_floor: float | None = Field(None, ge=-1000.0, le=10000.0)


class Face(Settings):
    """The camera is turned to a heading, a pitch, or both; a missing one stays."""

    kind: Literal["face"] = "face"
    heading_deg: float | None = Field(None, ge=-3600.0, le=3600.0)
    pitch_deg: float | None = Field(None, ge=-moves.MAX_PITCH_DEG, le=moves.MAX_PITCH_DEG)


class Look(Settings):
    """The picture is pushed by shares of the frame: the camera pans and tilts so that it follows the hand."""

    kind: Literal["look"] = "look"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Shift(Settings):
    """The picture is pushed by shares of the frame: the camera moves parallel to the film."""

    kind: Literal["shift"] = "shift"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Orbit(Settings):
    """Round the aim, in shares of the frame; a whole frame is half a turn."""

    kind: Literal["orbit"] = "orbit"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Dolly(Settings):
    """To ``factor`` of the distance to the aim, which stays."""

    kind: Literal["dolly"] = "dolly"
    factor: float = Field(gt=0.01, lt=100.0)


class Walk(Settings):
    """Level steps in metres; height changes only by ``up``."""

    kind: Literal["walk"] = "walk"
    ahead: float = Field(0.0, ge=-1000.0, le=1000.0)
    right: float = Field(0.0, ge=-1000.0, le=1000.0)
    up: float = Field(0.0, ge=-1000.0, le=1000.0)


class AngleTo(Settings):
    """Another angle of view across the frame; the focal length follows, the back stays."""

    kind: Literal["angle_to"] = "angle_to"
    horizontal_deg: float = Field(ge=0.5, le=170.0)


class WedgeTo(Settings):
    """A side of the wedge is put through a place in plan; the focal length follows."""

    kind: Literal["wedge_to"] = "wedge_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate


class FocusAt(Settings):
    """Focus on what is seen at a place in the frame, (0, 0) bottom left to (1, 1) top right."""

    kind: Literal["focus_at"] = "focus_at"
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class FocusTo(Settings):
    """Focus put at a distance along the lens axis."""

    kind: Literal["focus_to"] = "focus_to"
    distance_m: float = Field(gt=0.0, le=1.0e7)


class FocusOnPaper(Settings):
    """The focus line is put through a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["focus_on_paper"] = "focus_on_paper"
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate


class FocusOnBarrel(Settings):
    """The barrel is turned until the focus mark stands at ``at`` on its distance scale, 0 to 1 as in the sheet."""

    kind: Literal["focus_on_barrel"] = "focus_on_barrel"
    at: float = Field(ge=-10.0, le=10.0)


class FocusHyperfocal(Settings):
    """Focus at the hyperfocal distance: sharp from half of it to infinity."""

    kind: Literal["focus_hyperfocal"] = "focus_hyperfocal"


class SharpTo(Settings):
    """One end of the sharp zone is moved, the other stays: stop and focus follow, the exposure is held."""

    kind: Literal["sharp_to"] = "sharp_to"
    end: Literal["near", "far"]
    distance_m: float = Field(gt=0.0, le=1.0e7)


class SharpOnPaper(Settings):
    """As :class:`SharpTo`, to a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["sharp_on_paper"] = "sharp_on_paper"
    end: Literal["near", "far"]
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate


class StopTo(Settings):
    """Another stop (null: everything sharp); the shutter gives way, so that the exposure is held."""

    kind: Literal["stop_to"] = "stop_to"
    f_number: float | None = Field(ge=0.5, le=512.0)


class Meter(Settings):
    """Expose for what the frame shows; the shutter gives way."""

    kind: Literal["meter"] = "meter"


ShotGesture = Annotated[
    StandTo | AimTo | HeightTo | Face | Look | Shift | Orbit | Dolly | Walk | AngleTo | WedgeTo | FocusAt
    | FocusTo | FocusOnPaper | FocusOnBarrel | FocusHyperfocal | SharpTo | SharpOnPaper | StopTo | Meter,
    Field(discriminator="kind"),
]  # fmt: skip
ViewGesture = Annotated[Look | Shift | Orbit | Dolly | Walk, Field(discriminator="kind")]


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


def follow(shot: Shot, gesture: ShotGesture, working: WorkingSet, lit: LitSet | None = None) -> Shot:
    """The shot after a gesture.

    Raises :class:`Refused` where it cannot be followed, and pydantic's ``ValidationError`` where the result
    would not be a valid shot.
    """
    if isinstance(gesture, StandTo | AimTo | HeightTo | Face):
        return _with(shot, stand=_placed(shot.stand, gesture, working))
    if isinstance(gesture, Look | Shift | Orbit | Dolly | Walk):
        window = camera_of(shot).window
        d = window.distance_mm
        return _with(shot, stand=move_view(shot.stand, gesture, window.width / d, window.height / d))
    if isinstance(gesture, AngleTo | WedgeTo):
        return _with(shot, lens=_with_focal(shot.lens, _focal_length(shot, gesture)))
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
    return _with(shot, focus=_refocused(shot, gesture, working))


def _with(shot: Shot, **groups: Settings) -> Shot:
    """The shot with groups replaced, checked again as a whole."""
    return Shot.model_validate({**{name: getattr(shot, name) for name in Shot.model_fields}, **groups})


def _with_focal(old: Lens, focal_length_mm: float) -> Lens:
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
    opened = _with(shot, focus=shot.focus.model_copy(update={"f_number": f_number}))
    return exposed(opened, ev)


def exposed(shot: Shot, ev: float) -> Shot:
    """The shot at another EV100; the shutter gives way, within what a shutter can do."""
    shutter = exposure.shutter_for(ev, effective_f_number(shot), shot.exposure.iso)
    return _with(
        shot, exposure=shot.exposure.model_copy(update={"shutter_s": float(np.clip(shutter, 1.0e-6, 36000.0))})
    )


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
    return exposed(_with(shot, focus=moved), ev)


def metered(shot: Shot, lit: LitSet) -> Shot:
    """The shot exposed for the log-average luminance of its frame, by the core's own rays."""
    camera = camera_of(shot)
    columns, rows = METER_RAYS
    x, y = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    window, pose = camera.window, camera.pose
    across = (window.left + x.ravel() * window.width) / window.distance_mm
    upright = (window.bottom + y.ravel() * window.height) / window.distance_mm
    ways = pose.forward + across[:, None] * pose.right + upright[:, None] * pose.up
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    many = np.repeat(ways, METER_PATHS, axis=0)
    origins = np.broadcast_to(pose.position, many.shape)
    colors = radiance(lit, origins, many, METER_BOUNCES).reshape(-1, METER_PATHS, 3).mean(axis=1)
    return exposed(shot, round(exposure.ev_for_luminance(middle_luminance(colors)) * 3.0) / 3.0)


def new_shot_in_plan(
    start: Shot, working: WorkingSet, stand: tuple[float, float], aim: tuple[float, float], cut_z: float
) -> Shot:
    """A shot from plan: stand and aim (x, y), level, at standing eye height above the floor under the stand.

    ``cut_z`` is the height of the plan's cut: the floor is looked for from there down.
    """
    floor = floor_at(working, *stand, from_z=cut_z)
    z = STANDING_EYE_M + (0.0 if floor is None else floor)
    if hypot(stand[0] - aim[0], stand[1] - aim[1]) < 0.05:
        raise Refused("Drag from the stand to the aim: they need to be at least 5 cm apart.")
    placed = Stand(position=(*stand, z), aim=(*aim, z))
    return _focused_ahead(_with(start, stand=placed), working)


def new_shot_from_scout(start: Shot, working: WorkingSet, scout: Scout) -> Shot:
    """A shot of what the scout view shows: its stand and lens; aimed and focused at what is ahead."""
    shot = _with(start, stand=scout.stand, lens=_with_focal(start.lens, scout.focal_length_mm))
    ahead = depth_at(shot, working, 0.5, 0.5)
    if ahead is not None and ahead > 0.05:
        pose = resolve(scout.stand)
        x, y, z = (pose.position + ahead * pose.forward).tolist()
        shot = _with(shot, stand=scout.stand.model_copy(update={"aim": (x, y, z)}))
    return _focused_ahead(shot, working)


def _focused_ahead(shot: Shot, working: WorkingSet) -> Shot:
    ahead = depth_at(shot, working, 0.5, 0.5)
    distance = resolve(shot.stand).aim_distance if ahead is None else ahead
    distance = max(distance, shot.lens.focal_length_mm * 0.0011)
    return _with(shot, focus=shot.focus.model_copy(update={"distance_m": distance}))
