"""Where the camera is and looks: axes, heading, pitch, view matrix."""

from __future__ import annotations

from dataclasses import dataclass
from math import asin, atan2, cos, degrees, hypot, radians, sin

import numpy as np
from numpy.typing import NDArray

from zevlo.core.shot import Stand

Vector = NDArray[np.float64]
_UPRIGHT_LIMIT = 1.0e-9
COMPASS = ("N", "NNE", "NE", "ENE", "E", "ESE", "SE", "SSE", "S", "SSW", "SW", "WSW", "W", "WNW", "NW", "NNW")


@dataclass(frozen=True)
class Pose:
    """A stand resolved: unit axes in the world, heading clockwise from north, pitch up positive."""

    position: Vector
    right: Vector
    up: Vector
    forward: Vector
    heading_deg: float
    pitch_deg: float
    roll_deg: float
    aim_distance: float

    @property
    def level_axis(self) -> Vector:
        """Horizontal unit vector of the heading, (3,)."""
        h = radians(self.heading_deg)
        return np.array([sin(h), cos(h), 0.0])


def resolve(stand: Stand) -> Pose:
    """Axes of a stand. Straight up or down, the picture's up is project north.

    Roll turns the camera clockwise as seen from behind it, so its picture turns anticlockwise.
    """
    (px, py, pz), (ax, ay, az) = stand.position, stand.aim
    dx, dy, dz = ax - px, ay - py, az - pz
    distance = hypot(dx, dy, dz)
    x, y, z = dx / distance, dy / distance, dz / distance
    level = hypot(x, y)
    if level < _UPRIGHT_LIMIT:
        (rx, ry), (ux, uy, uz), heading = (-1.0 if z > 0 else 1.0, 0.0), (0.0, 1.0, 0.0), 0.0
    else:
        (rx, ry), (ux, uy, uz) = (y / level, -x / level), (-x * z / level, -y * z / level, level)
        heading = degrees(atan2(x, y)) % 360.0
    c, s = cos(radians(stand.roll_deg)), sin(radians(stand.roll_deg))
    return Pose(
        position=np.array(stand.position),
        right=np.array([c * rx - s * ux, c * ry - s * uy, -s * uz]),
        up=np.array([s * rx + c * ux, s * ry + c * uy, c * uz]),
        forward=np.array([x, y, z]),
        heading_deg=heading,
        pitch_deg=degrees(asin(max(-1.0, min(1.0, z)))),
        roll_deg=stand.roll_deg,
        aim_distance=distance,
    )


def view_matrix(pose: Pose) -> Vector:
    """World to camera, (4, 4) on column vectors; camera space is x right, y up, looking along -z (glTF 2.0)."""
    rows = []
    px, py, pz = pose.position.tolist()
    for x, y, z in (pose.right.tolist(), pose.up.tolist(), (-pose.forward).tolist()):
        rows.append((x, y, z, -(x * px + y * py + z * pz)))
    return np.array([*rows, (0.0, 0.0, 0.0, 1.0)])


def direction(heading_deg: float, pitch_deg: float) -> Vector:
    """Unit vector of a heading and pitch, (3,)."""
    h, p = radians(heading_deg), radians(pitch_deg)
    return np.array([sin(h) * cos(p), cos(h) * cos(p), sin(p)])


def compass_point(heading_deg: float, points: int = 8) -> str:
    """Nearest of eight or sixteen compass points."""
    step = 16 // points
    return COMPASS[step * round(heading_deg * points / 360.0) % 16]
