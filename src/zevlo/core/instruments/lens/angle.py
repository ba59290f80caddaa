"""The angle of view, asked for from either end: by a number, or by where the sides of the wedge run."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, exp, hypot, log, pi
from typing import Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Coordinate
from zevlo.core.camera.from_shot import Framing, law_at, width_before_enlarge_mm
from zevlo.core.camera.on_paper import side_of_wedge
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics import lens
from zevlo.core.optics.laws import CannotReach
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import LONGEST_MM, SHORTEST_MM, with_focal_length, with_scale
from zevlo.text import lens as say


class AngleTo(Gesture):
    """Another angle of view, across the frame, upright or from corner to corner; the focal length follows, the back
    stays."""

    kind: Literal["angle_to"] = "angle_to"
    side: Literal["across", "upright", "corner"] = "across"
    angle_deg: float = Field(ge=0.5, le=360.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        window = framing.camera.window
        if shot.lens.scale_m is not None:
            raise Refused(say.A_PARALLEL_PICTURE_HAS_NO_ANGLE)
        across, up = window.width * (self.side != "upright"), window.height * (self.side != "across")
        return with_film_at(framing, _film_for_angle(framing, self.angle_deg, across, up))


class WedgeTo(Gesture):
    """A side of the wedge is put through a place in plan; the focal length follows."""

    kind: Literal["wedge_to"] = "wedge_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.lens.scale_m is not None:
            return shot.with_groups(lens=with_scale(shot.lens, _width_in_world(framing, self)))
        if shot.lens.projection == "perspective" and shot.lens.distortion.none:
            return with_film_at(framing, _film_behind_lens(framing, self))
        return with_film_at(framing, _film_by_side(framing, self))


STRAIGHT_MOST_DEG = 170.0
SAME_DEG = 1.0e-4


def _film_for_angle(framing: Framing, angle_deg: float, across_mm: float, up_mm: float = 0.0) -> float:
    """How far behind the lens, in mm, film of a size sees an angle under the law of the shot."""
    shot = framing.shot
    if shot.lens.projection == "perspective":
        if angle_deg > STRAIGHT_MOST_DEG:
            raise Refused(say.in_perspective_an_angle(STRAIGHT_MOST_DEG))
        if shot.lens.distortion.none:
            return lens.focal_length_for(angle_deg, hypot(across_mm, up_mm))

    most = law_at(shot, 1.0).angle_deg(1.0e9)
    if most is not None and angle_deg > most:
        raise Refused(say.bent_like_this_the_lens(most))

    def too_wide(distance_mm: float) -> bool:
        found = law_at(shot, distance_mm).angle_deg(across_mm, up_mm)
        return found is not None and found > angle_deg

    found = _first_not(framing, too_wide)
    sees = law_at(shot, found).angle_deg(across_mm, up_mm)
    if sees is None or abs(sees - angle_deg) > SAME_DEG:
        raise _as_far_as_it_goes(framing, found, say.no_lens_sees_on_this_back(angle_deg))
    return found


def _as_far_as_it_goes(framing: Framing, image_mm: float, words: str) -> Refused:
    """That the shortest lens there is, or the longest, does not do it; nearest is that."""
    shot = framing.shot
    try:
        nearest = with_film_at(framing, image_mm)
    except Refused as reason:
        nearest = reason.nearest or shot
    return Refused(say.mm_is_as_far(words, nearest.lens.focal_length_mm), nearest=nearest)


_HALVINGS = 48


def _first_not(framing: Framing, too_short: Callable[[float], bool]) -> float:
    """The shortest distance in mm, of those a film can stand behind a lens, that is not too short."""
    shot = framing.shot
    shortest = SHORTEST_MM
    if shot.lens.focus_breathing:
        shortest = lens.image_distance_mm(SHORTEST_MM, shot.focus.distance_m * 1000.0, framing.tilt.cosine)
    low, high = log(shortest), log(LONGEST_MM)
    if too_short(exp(high)):
        return LONGEST_MM
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if too_short(exp(middle)) else (low, middle)
    return exp(high)


SAME = 1.0e-9


def with_film_at(framing: Framing, image_mm: float) -> Shot:
    """The shot at the focal length that has its film so far behind the lens. Raises :class:`Refused`, with the nearest
    there is, where no lens is as short, or as long."""
    shot = framing.shot
    focal = image_mm
    if shot.lens.focus_breathing:
        focal = lens.focal_length_at(image_mm, shot.focus.distance_m * 1000.0, framing.tilt.cosine)
    held = min(max(focal, SHORTEST_MM), LONGEST_MM)
    made = shot.with_groups(lens=with_focal_length(shot.lens, held))
    if abs(held - focal) > SAME * focal:
        raise Refused(say.that_takes_a_lens(focal, SHORTEST_MM, LONGEST_MM), made)
    return made


def _cross(a: Floats, b: Floats) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _film_behind_lens(framing: Framing, gesture: WedgeTo) -> float:
    """How far behind the lens, in mm, the film has to stand for a side of the wedge to run through a place in plan.

    In plan that side runs along d·forward + (its place on the film), d the distance looked for: linear in d.
    """
    camera = framing.camera
    pose = camera.pose
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0]
    on_film = (x * pose.right + y * pose.up)[:2]
    away, ahead = np.array([gesture.x, gesture.y]) - pose.position[:2], pose.forward[:2]
    turn = _cross(away, ahead)
    distance = -_cross(away, on_film) / turn if abs(turn) > 1.0e-12 else -1.0
    if distance <= 0.0 or float((distance * ahead + on_film) @ away) <= 0.0:
        raise Refused(say.THE_SIDE_OF_THE_WEDGE_HAS_TO_STAY)
    return float(distance)


def _film_by_side(framing: Framing, gesture: WedgeTo) -> float:
    """As :func:`_film_behind_lens`, for a law under which no formula tells it: the side is farther out the nearer the
    film is."""
    shot = framing.shot
    camera = framing.camera
    pose, sign = camera.pose, -1.0 if gesture.side == "left" else 1.0
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0].tolist()
    axes = np.stack([pose.right, pose.up, pose.forward])
    away = np.array([gesture.x, gesture.y]) - pose.position[:2]
    heading = atan2(pose.level_axis[0], pose.level_axis[1])

    def out(direction: Floats) -> float:
        """How far a way in plan is turned out to this side of the heading, radians; from 0 up to a whole turn."""
        return sign * ((atan2(direction[0], direction[1]) - heading + pi) % (2.0 * pi) - pi)

    wanted = out(away)
    if wanted <= 0.0:
        raise Refused(say.THE_SIDE_OF_THE_WEDGE)

    def too_near(distance_mm: float) -> bool:
        law = law_at(shot, distance_mm)
        try:
            direction = np.array(law.point(x, y, 1.0)) @ axes
        except CannotReach:
            return True
        return out(direction) > wanted or out(direction) < 0.0

    found = _first_not(framing, too_near)
    try:
        reached = out(np.array(law_at(shot, found).point(x, y, 1.0)) @ axes)
    except CannotReach:
        reached = pi
    if abs(np.degrees(reached - wanted)) > SAME_DEG:
        raise _as_far_as_it_goes(framing, found, say.NO_LENS_BRINGS_THE_SIDE)
    return found


def _width_in_world(framing: Framing, gesture: WedgeTo) -> float:
    """The ``scale_m`` of a parallel shot with which a side of what it sees runs through a place in plan."""
    shot = framing.shot
    camera = framing.camera
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
        raise Refused(say.THE_SIDE_OF_THE_WEDGE)
    return metres_per_mm * width_before_enlarge_mm(shot)
