"""Follow aim: the camera is turned so that a point keeps its place in the frame, wherever that is."""

from __future__ import annotations

from math import asin, atan, atan2, cos, degrees, hypot, radians, sin, sqrt

import numpy as np

from zevlo.core.optics.lens import Window
from zevlo.core.shot import FollowAim, Stand
from zevlo.core.stand.moves import MAX_PITCH_DEG
from zevlo.core.stand.pose import Pose, direction, resolve


class CannotFollow(ValueError):
    """No turn of the camera puts the point there."""


def place_in_frame(pose: Pose, window: Window, point: tuple[float, float, float]) -> tuple[float, float] | None:
    """Where a point lies in the frame, (0, 0) bottom left to (1, 1); None where it is not before the lens."""
    away = np.array(point) - pose.position
    depth = float(away @ pose.forward)
    if depth <= 1.0e-6:
        return None
    across = float(away @ pose.right) / depth * window.distance_mm
    upright = float(away @ pose.up) / depth * window.distance_mm
    return (across - window.left) / window.width, (upright - window.bottom) / window.height


def turned_to(stand: Stand, window: Window, follow: FollowAim) -> Stand:
    """The stand turned so that the point it follows lies at its place in the frame; roll and position stay.

    With the ray to that place (a, b, 1) in the camera's axes and the point's direction w, both exact:
    pitch = asin(|ray| w_z / sqrt(1 + b²)) - atan b, and the heading follows. The aim keeps the point's depth.
    Raises :class:`CannotFollow` where the point stands too high or too low for that place.
    """
    position = np.array(stand.position)
    away = np.array(follow.point) - position
    reach = float(np.linalg.norm(away))
    if reach < 1.0e-3:
        raise CannotFollow("The stand is at the point it follows; move it away first, or let go of the point.")
    w = away / reach
    u, v = follow.at
    a = (window.left + u * window.width) / window.distance_mm
    b = (window.bottom + v * window.height) / window.distance_mm
    c, s = cos(radians(stand.roll_deg)), sin(radians(stand.roll_deg))
    a, b = a * c + b * s, b * c - a * s
    size = sqrt(1.0 + a * a + b * b)
    rise = size * float(w[2]) / sqrt(1.0 + b * b)
    if abs(rise) > 1.0:
        raise CannotFollow("From here the point cannot keep its place in the frame; let go of it, or move less.")
    pitch = asin(rise) - atan(b)
    if abs(degrees(pitch)) > MAX_PITCH_DEG or hypot(float(w[0]), float(w[1])) < 1.0e-9:
        raise CannotFollow("That would look straight up or down; let go of the point, or move less.")
    heading = atan2(float(w[0]), float(w[1])) - atan2(a, cos(pitch) - b * sin(pitch))
    depth = reach / size
    aim = position + depth * direction(degrees(heading), degrees(pitch))
    x, y, z = aim.tolist()
    return stand.model_copy(update={"aim": (x, y, z), "follow": follow})


def kept_place(stand: Stand, window: Window) -> Stand:
    """The stand with the place noted at which its point now lies; let go of where it is behind the lens."""
    if stand.follow is None:
        return stand
    at = place_in_frame(resolve(stand), window, stand.follow.point)
    if at is None or not all(-4.0 <= share <= 5.0 for share in at):
        return stand.model_copy(update={"follow": None})
    return stand.model_copy(update={"follow": stand.follow.model_copy(update={"at": at})})
