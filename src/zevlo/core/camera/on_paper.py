"""Places on a drawing as a shot has them: what lies under a hand on plan or section."""

from __future__ import annotations

from math import cos, inf, radians, sin
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera
from zevlo.core.optics.tilt import NOTHING_PER_M
from zevlo.core.refused import Refused
from zevlo.core.scene.cuts.cut import DrawingPlane, plan_plane, section_plane
from zevlo.text import pressing as say

Side = Literal["left", "right", "bottom", "top"]
Paper = Literal["plan", "section"]

FAN_RAYS = 61
ACROSS = np.linspace(0.0, 1.0, FAN_RAYS)
_TURNS = ((1.0, 0.0, 0.0, 1.0), (0.0, -1.0, 1.0, 0.0), (-1.0, 0.0, 0.0, -1.0), (0.0, 1.0, -1.0, 0.0))
"""How shares of the frame from its middle go by shares across a plan and up a section, for each quarter of a roll."""
_ROUND: tuple[Side, ...] = ("left", "bottom", "right", "top")


def _quarter(camera: Camera) -> int:
    """How many quarters the camera is rolled to its right, to the nearest: a frame on its side is drawn as it lies."""
    return round(camera.pose.roll_deg / 90.0) % 4


def frame_places(camera: Camera, drawn: Floats) -> Floats:
    """Places in the frame (n, 2) of shares (n, 2) across what a plan shows and up what a section does."""
    turn = np.array(_TURNS[_quarter(camera)]).reshape(2, 2)
    places: Floats = 0.5 + (drawn - 0.5) @ turn.T
    return places


def side_of_frame(camera: Camera, side: Side) -> Side:
    """The side of the frame that lies on a side of the wedge in plan, or in section."""
    return _ROUND[(_ROUND.index(side) + _quarter(camera)) % 4]


def axis_in_frame(camera: Camera) -> tuple[float, float]:
    """Where the lens axis is, or what of the frame is nearest to it, in shares across a plan and up a section."""
    window = camera.window
    at = np.clip([-window.left / window.width, -window.bottom / window.height], 0.0, 1.0) - 0.5
    across, up = 0.5 + at @ np.array(_TURNS[_quarter(camera)]).reshape(2, 2)
    return float(across), float(up)


def side_of_wedge(camera: Camera, *sides: Side) -> Floats:
    """Places in the frame (n, 2) where the sides of the wedge in plan, or in section, begin and end."""
    u, v = axis_in_frame(camera)
    ends = {"left": (0.0, v), "right": (1.0, v), "bottom": (u, 0.0), "top": (u, 1.0)}
    return frame_places(camera, np.array([ends[side] for side in sides]))


def place_on_paper(camera: Camera, drawing: Paper, x: float, y: float) -> Floats:
    """A place of a drawing, (3,), metres to the right of the lens along the level, above that and along the lens axis:
    in section in its own plane, in plan on the plane that holds the lens axis and the level across it."""
    pose = camera.pose
    level_axis = pose.level_axis
    side = np.array([level_axis[1], -level_axis[0], 0.0])
    if drawing == "section":
        stand = section_plane(pose.position, level_axis).flat(pose.position[None])[0]
        away = (x - stand[0]) * level_axis + np.array([0.0, 0.0, y - stand[1]])
    else:
        stand = plan_plane(0.0).flat(pose.position[None])[0]
        level = np.array([x - stand[0], y - stand[1], 0.0])
        away = level + np.array([0.0, 0.0, float(level @ level_axis) * steepness(camera)])
    return np.array([away @ side, away @ np.cross(side, pose.forward), away @ pose.forward])


def steepness(camera: Camera) -> float:
    """How much the lens axis rises for each metre along the level."""
    ahead = camera.pose.forward
    return float(ahead[2] / max(np.hypot(ahead[0], ahead[1]), 1.0e-9))


def levelled_lean(camera: Camera, lean: tuple[float, float]) -> tuple[float, float]:
    """The lean of a sharp zone along the level and above it, of that to the right and up in a rolled picture."""
    c, s = cos(radians(camera.pose.roll_deg)), sin(radians(camera.pose.roll_deg))
    return c * lean[0] + s * lean[1], c * lean[1] - s * lean[0]


def rolled(camera: Camera, level: Floats) -> Floats:
    """What lies so far to the right along the level and above it, (2,) or (3,), in the axes of a rolled camera."""
    c, s = cos(radians(camera.pose.roll_deg)), sin(radians(camera.pose.roll_deg))
    turned: Floats = np.array([c * level[0] - s * level[1], c * level[1] + s * level[0], *level[2:]])
    return turned


def depth_on_paper(camera: Camera, drawing: Paper, x: float, y: float, lean: tuple[float, float] = (0.0, 0.0)) -> float:
    """Distance along the lens axis, in metres, at which a line drawn across the wedge passes a place on paper.

    ``lean``: that of the plane the line is drawn of, where the lens is tilted; it is below 0 then where that crosses
    the axis beyond infinity, by as much as its inverse. Raises :class:`Refused` where the wedge is drawn without any
    depth.

    ``camera``: of the shot; ``drawing``: which of its two; ``x``, ``y``: the place, in metres on that paper."""
    pose = camera.pose
    plane = plan_plane(0.0) if drawing == "plan" else section_plane(pose.position, pose.level_axis)
    if camera.law.radial:
        return _distance_on_paper(camera, plane, drawing, x, y)
    # Two places on each side of the wedge, a metre of depth apart, tell where any depth is drawn.
    sides: tuple[Side, Side] = ("left", "right") if drawing == "plan" else ("bottom", "top")
    rays = camera.rays(side_of_wedge(camera, *sides))
    near, far = (plane.flat(rays.at(camera.distances(rays, depth))) for depth in (1.0, 2.0))
    ahead, across = (far - near).mean(axis=0), far[1] - far[0]
    turn = float(ahead[0] * across[1] - ahead[1] * across[0])
    if abs(turn) < 1.0e-6 * float(np.hypot(*across)):
        raise Refused(say.THE_CAMERA_LOOKS_STRAIGHT)
    if lean != (0.0, 0.0):
        aside, above, along = place_on_paper(camera, drawing, x, y).tolist()
        along = _before_the_camera(along)
        leans = levelled_lean(camera, lean)
        per_m = (1.0 - leans[0] * aside - leans[1] * above) / along
        return inf if abs(per_m) < NOTHING_PER_M else 1.0 / per_m
    away = np.array([x, y]) - (2.0 * near - far).mean(axis=0)
    return _before_the_camera(float(away[0] * across[1] - away[1] * across[0]) / turn)


AT_THE_LENS_M = 1.0e-9
"""What lies no farther ahead than that is where the lens is."""


def _before_the_camera(along: float) -> float:
    if along <= AT_THE_LENS_M:
        raise Refused(say.THAT_IS_BEHIND_THE_CAMERA)
    return along


def _distance_on_paper(camera: Camera, plane: DrawingPlane, drawing: str, x: float, y: float) -> float:
    """Distance from the stand of the line, drawn from ray to ray, that passes a place on paper; beside them all, along
    the nearest."""
    u, v = axis_in_frame(camera)
    across = np.column_stack([ACROSS, np.full(FAN_RAYS, v)] if drawing == "plan" else [np.full(FAN_RAYS, u), ACROSS])
    rays = camera.rays(frame_places(camera, across))
    stand, ends = plane.flat(camera.pose.position[None])[0], plane.flat(rays.at(np.ones(FAN_RAYS)))
    directions, away = ends - stand, np.array([x, y]) - stand
    one, next_one = directions[:-1], directions[1:]
    turn = one[:, 0] * next_one[:, 1] - one[:, 1] * next_one[:, 0]
    turn = np.where(np.abs(turn) > 1.0e-12, turn, np.nan)
    first = (away[0] * next_one[:, 1] - away[1] * next_one[:, 0]) / turn
    then = (one[:, 0] * away[1] - one[:, 1] * away[0]) / turn
    between = np.flatnonzero((first >= 0.0) & (then >= 0.0))
    if len(between):
        return _before_the_camera(float(first[between[0]] + then[between[0]]))
    drawn = np.linalg.norm(directions, axis=1)
    ahead = np.where(drawn > 1.0e-6, directions @ away / np.maximum(drawn, 1.0e-6), -np.inf)
    nearest = int(np.argmax(ahead))
    return _before_the_camera(float(ahead[nearest] / drawn[nearest]))
