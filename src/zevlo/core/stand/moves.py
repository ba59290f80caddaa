"""Moving a stand like a grip does. Every move returns a new stand; none changes anything else.

Angles in degrees, lengths in metres. Positive pan turns right, positive tilt looks up.
"""

from __future__ import annotations

from math import cos, radians, sin, sqrt
from typing import Literal

import numpy as np

from zevlo.core.shot import Stand
from zevlo.core.shot.stand import MIN_AIM_DISTANCE_M
from zevlo.core.stand.pose import Pose, Vector, direction, resolve
from zevlo.text import stand as say

MAX_PITCH_DEG = 89.9
APART_M = 0.01
"""Stand and aim are never nearer to each other in plan: a ring is seen from as near as its own size."""


def _point(v: Vector) -> tuple[float, float, float]:
    x, y, z = v.tolist()
    return x, y, z


def _both(stand: Stand, by: Vector) -> Stand:
    return stand.model_copy(
        update={"position": _point(np.array(stand.position) + by), "aim": _point(np.array(stand.aim) + by)}
    )


def levelled(stand: Stand, right: float, up: float) -> tuple[float, float]:
    """What goes so far to the right and up in a picture goes to the right along the level, and above it."""
    c, s = cos(radians(stand.roll_deg)), sin(radians(stand.roll_deg))
    return c * right + s * up, c * up - s * right


def _turned(pose: Pose, pan: float, tilt: float) -> Vector:
    pitch = max(-MAX_PITCH_DEG, min(MAX_PITCH_DEG, pose.pitch_deg + tilt))
    return direction(pose.heading_deg + pan, pitch)


def turn(stand: Stand, pan_deg: float, tilt_deg: float) -> Stand:
    """Pan and tilt about the stand; the aim keeps its distance."""
    pose = resolve(stand)
    return stand.model_copy(
        update={"aim": _point(pose.position + pose.aim_distance * _turned(pose, pan_deg, tilt_deg))}
    )


def face(stand: Stand, heading_deg: float, pitch_deg: float) -> Stand:
    """Look along a heading and pitch; the aim keeps its distance."""
    pose = resolve(stand)
    return stand.model_copy(
        update={"aim": _point(pose.position + pose.aim_distance * direction(heading_deg, pitch_deg))}
    )


def orbit(stand: Stand, around_deg: float, over_deg: float) -> Stand:
    """Go round the aim, which stays; ``over_deg`` raises the camera."""
    pose = resolve(stand)
    back = -pose.aim_distance * _turned(pose, -around_deg, -over_deg)
    return stand.model_copy(update={"position": _point(np.array(stand.aim) + back)})


def truck_and_pedestal(stand: Stand, right_m: float, up_m: float) -> Stand:
    """Move parallel to the film: camera and aim together along the picture's right and up."""
    pose = resolve(stand)
    return _both(stand, right_m * pose.right + up_m * pose.up)


def walk(stand: Stand, ahead_m: float, right_m: float, up_m: float = 0.0) -> Stand:
    """Move level: ahead and right keep the height, ``up_m`` changes it; aim goes along."""
    pose = resolve(stand)
    side = np.array([pose.level_axis[1], -pose.level_axis[0], 0.0])
    return _both(stand, ahead_m * pose.level_axis + right_m * side + np.array([0.0, 0.0, up_m]))


def dolly(stand: Stand, factor: float) -> Stand:
    """Approach the aim to ``factor`` of the distance; the aim stays, and is never reached."""
    if factor <= 0.0:
        raise ValueError(say.A_DOLLY_FACTOR_MUST_BE_ABOVE)
    pose = resolve(stand)
    distance = max(pose.aim_distance * factor, 100.0 * MIN_AIM_DISTANCE_M)
    return stand.model_copy(update={"position": _point(np.array(stand.aim) - distance * pose.forward)})


def put_stand(stand: Stand, x: float, y: float, rise_of_floor: float = 0.0) -> Stand:
    """Move the stand in plan. Both ends change height by ``rise_of_floor``; the aim keeps its place in plan, or goes
    along where the stand would come on top of it."""
    px, py, pz = stand.position
    ax, ay, az = stand.aim
    if sqrt((ax - x) ** 2 + (ay - y) ** 2) < APART_M:
        ax, ay = ax + x - px, ay + y - py
    return stand.model_copy(update={"position": (x, y, pz + rise_of_floor), "aim": (ax, ay, az + rise_of_floor)})


def put_height(stand: Stand, z: float) -> Stand:
    """Raise or lower camera and aim together, so that the direction stays."""
    return _both(stand, np.array([0.0, 0.0, z - stand.position[2]]))


def turn_exactly(stand: Stand, pan_deg: float, tilt_deg: float, roll_deg: float) -> Stand:
    """Turn by angles; a quarter, half or whole turn is exact to the last digit of the aim's offset."""
    position, aim = np.array(stand.position), np.array(stand.aim)
    if tilt_deg == 0.0 and pan_deg % 90.0 == 0.0:
        (c, s) = ((1, 0), (0, 1), (-1, 0), (0, -1))[int(pan_deg // 90.0) % 4]
        x, y, z = (aim - position).tolist()
        turned = stand.model_copy(update={"aim": _point(position + np.array([c * x + s * y, c * y - s * x, z]))})
    else:
        turned = turn(stand, pan_deg, tilt_deg)
    roll = (stand.roll_deg + roll_deg + 180.0) % 360.0 - 180.0
    return turned.model_copy(update={"roll_deg": roll if roll_deg else stand.roll_deg})


def reach(stand: Stand, distance_m: float) -> Stand:
    """The aim at another distance along the lens axis."""
    pose = resolve(stand)
    return stand.model_copy(update={"aim": _point(pose.position + distance_m * pose.forward)})


def put_end(stand: Stand, end: Literal["stand", "aim"], to: tuple[float, float, float], both: bool) -> Stand:
    """One end of the shot at a place; with ``both`` the other end moves along."""
    name = "position" if end == "stand" else "aim"
    if both:
        return _both(stand, np.array(to) - np.array(getattr(stand, name)))
    return type(stand).model_validate({**stand.model_dump(), name: to})


def grip(stand: Stand, move: str, by: float, both: bool) -> Stand:
    """One move of a grip, in metres or degrees. Along an axis of the world: ``east``, ``north``, ``up``.

    Dolly, truck, pedestal and the axes take the aim along with ``both``; else the camera moves alone and keeps
    facing its aim.
    """
    pose = resolve(stand)
    if move == "pan":
        return turn_exactly(stand, by, 0.0, 0.0)
    if move == "tilt":
        return turn(stand, 0.0, by)
    if move == "roll":
        return turn_exactly(stand, 0.0, 0.0, by)
    if move == "orbit":
        return orbit(stand, by, 0.0)
    if move == "over":
        return orbit(stand, 0.0, by)
    directions = {
        "dolly": pose.forward, "truck": pose.right, "pedestal": pose.up, "east": np.array([1.0, 0.0, 0.0]),
        "north": np.array([0.0, 1.0, 0.0]), "up": np.array([0.0, 0.0, 1.0]),
    }  # fmt: skip
    step = by * directions[move]
    if both:
        return _both(stand, step)
    gap = float(np.linalg.norm(np.array(stand.aim) - pose.position - step))
    if gap < 100.0 * MIN_AIM_DISTANCE_M or (move == "dolly" and by >= pose.aim_distance):
        raise ValueError(say.THE_CAMERA_WOULD_REACH)
    return stand.model_copy(update={"position": _point(pose.position + step)})
