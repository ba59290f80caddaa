"""Follow aim: the camera is turned so that a point keeps its place in the frame, wherever that is."""

from __future__ import annotations

from math import asin, atan2, cos, degrees, hypot, radians, sin

import numpy as np

from zevlo.core.camera.camera import Camera
from zevlo.core.camera.from_shot import Framing
from zevlo.core.optics.laws import CannotReach
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import FollowAim, Shot, Stand
from zevlo.core.shot.stand import MIN_AIM_DISTANCE_M
from zevlo.core.stand.moves import MAX_PITCH_DEG
from zevlo.core.stand.pose import direction
from zevlo.text import constraints as say
from zevlo.text import everywhere


class CannotFollow(ValueError):
    """No turn of the camera puts the point there."""


def place_in_frame(camera: Camera, point: tuple[float, float, float]) -> tuple[float, float] | None:
    """Where a point lies in the frame, (0, 0) bottom left to (1, 1); None where the lens does not look that way."""
    found = camera.places(np.array([point]))
    if not found.seen[0]:
        return None
    u, v = found.uv[0].tolist()
    return u, v


def turned_to(camera: Camera, stand: Stand, follow: FollowAim) -> Stand:
    """The stand turned so that the point it follows lies at its place in the frame; roll and position stay, the aim
    keeps the point's depth. ``camera``: of any pose, with the lens and window of the shot.
    Raises :class:`CannotFollow` where the point stands too high or too low for that place."""
    heading, pitch, ahead = turn_towards(camera, stand, follow.point, follow.at)
    aim = np.array(stand.position) + max(ahead, MIN_AIM_DISTANCE_M) * direction(heading, pitch)
    x, y, z = aim.tolist()
    return stand.model_copy(update={"aim": (x, y, z), "follow": follow})


def turn_towards(
    camera: Camera, stand: Stand, point: tuple[float, float, float], at: tuple[float, float]
) -> tuple[float, float, float]:
    """Heading and pitch, in degrees, at which a point lies at a place in the frame; and how far ahead it then is.

    With the point (a, b, c) that has to be there in the camera's axes, as far away as the point followed, and that
    one's direction w, both exact: pitch = asin(r w_z / sqrt(b² + c²)) - atan2(b, c), and the heading follows.
    ``camera``: of any pose, with the lens and window of the shot.
    Raises :class:`CannotFollow` where the point stands too high or too low for that place.
    """
    position = np.array(stand.position)
    away = np.array(point) - position
    reach = float(np.linalg.norm(away))
    if reach < 1.0e-3:
        raise CannotFollow(say.THE_STAND_IS_AT_THE_POINT)
    w = away / reach
    try:
        a, b, c = camera.seen_at(at, reach)
    except CannotReach as reason:
        raise CannotFollow(say.SO_NEAR_THE_POINT) from reason
    cosine, sine = cos(radians(stand.roll_deg)), sin(radians(stand.roll_deg))
    a, b = a * cosine + b * sine, b * cosine - a * sine
    upright = hypot(b, c)
    rise = reach * float(w[2]) / upright if upright > 1.0e-9 else 2.0
    if abs(rise) > 1.0:
        raise CannotFollow(say.FROM_HERE_THE_POINT)
    pitch = asin(rise) - atan2(b, c)
    if abs(degrees(pitch)) > MAX_PITCH_DEG or hypot(float(w[0]), float(w[1])) < 1.0e-9:
        raise CannotFollow(say.THAT_WOULD_LOOK_STRAIGHT)
    heading = atan2(float(w[0]), float(w[1])) - atan2(a, c * cos(pitch) - b * sin(pitch))
    return degrees(heading), degrees(pitch), c


def kept_place(camera: Camera, stand: Stand) -> Stand:
    """The stand with the place noted at which its point now lies; let go of where it is behind the lens."""
    if stand.follow is None:
        return stand
    at = place_in_frame(camera, stand.follow.point)
    if at is None or not all(-4.0 <= share <= 5.0 for share in at):
        return stand.model_copy(update={"follow": None})
    return stand.model_copy(update={"follow": stand.follow.model_copy(update={"at": at})})


def place_noted(framing: Framing) -> Shot:
    """A shot with the place noted at which the point it follows now lies in the frame."""
    shot = framing.shot
    return shot if shot.stand.follow is None else shot.with_groups(stand=kept_place(framing.camera, shot.stand))


def keep_aim_point(before: Shot, after: Framing) -> Shot:
    """A changed shot whose point keeps its place in the frame where the stand moved, or has its new place noted."""
    stand = after.shot.stand
    if stand.follow is None:
        return after.shot
    if stand.position == before.stand.position:
        return place_noted(after)
    try:
        return after.shot.with_groups(stand=turned_to(after.camera, stand, stand.follow))
    except CannotFollow as reason:
        raise Refused(str(reason)) from reason


def part_moved(framing: Framing, point: tuple[float, float, float]) -> Shot:
    """The shot when the point it follows has moved to another place. Raises :class:`Refused`."""
    shot = framing.shot
    stand = shot.stand
    if stand.follow is None:
        return shot
    try:
        to = stand.follow.model_copy(update={"point": point})
        return shot.with_groups(stand=turned_to(framing.camera, stand, to))
    except CannotFollow as reason:
        raise Refused(str(reason)) from reason


def middle_of(working: WorkingSet, part: str) -> tuple[float, float, float]:
    """The middle of a part's box. Raises :class:`Refused` where there is no such part, or nothing in it."""
    found = working.model.parts_at([part])
    if not found:
        raise Refused(everywhere.there_is_no_part(part))
    number = next(iter(found))
    try:
        x, y, z = working.model.box_of(number).mean(axis=0).tolist()
    except ValueError as empty:
        raise Refused(say.has_nothing_in_it_to_aim(working.model.parts[number].name)) from empty
    return x, y, z
