"""Sharpness asked for from the other end: what is to be sharp is told, distance and stop are found.

With both limits as inverses along the lens axis, y = 1/near and x = 1/far, the focus is at u = 2/(x + y) and the stop
N = (y - x)·f / (2c·(cos α/f - 1/u)), all in mm (:func:`~zevlo.core.optics.focus.stop_for_two`). No wider stop does it:
blur at both ends falls with N alone once u is there, and any other u makes one of them softer.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING, Literal

import numpy as np
from pydantic import Field

from zevlo.core.bases import PartId, Point
from zevlo.core.camera import camera_of, law_of, tilt_of
from zevlo.core.focus_on import part_corners
from zevlo.core.instruments.exposure import ev_of, exposed
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.instruments.movements.focus_plane import SharePlace
from zevlo.core.optics import focus
from zevlo.core.optics.back import cut_back
from zevlo.core.refused import Refused
from zevlo.core.scene.model import Floats
from zevlo.core.seen import seen_in
from zevlo.core.sharp_zone import FARTHEST_FOCUS_M, NEAREST_OF_FOCAL, blur_limit_of, lean_of

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

WIDEST_KEPT = 1.0
"""Where one stop is as good as another, none wider than this is chosen (our convention)."""


def require_stop(shot: Shot) -> None:
    """Raise :class:`Refused` where no stop makes anything sharper."""
    if not law_of(shot).blurs:
        raise Refused("In a parallel picture everything is sharp.")


def axis_per_m(shot: Shot, points: Floats) -> Floats:
    """The inverses (n,), 1/m, of the distances along the lens axis at which planes of the sharp zone through points
    (n, 3) of the world cross it. Raises :class:`Refused` for what the lens does not see."""
    camera = camera_of(shot)
    places = camera.places(points)
    if not places.seen.all() or float(places.depth.min()) <= 0.0:
        raise Refused("Some of that lies beside or behind the camera, where nothing can be sharp.")
    across, up, ahead = camera.camera_space(points).T
    lean = lean_of(shot)
    inverse: Floats = 1.0 / places.depth - (lean[0] * across + lean[1] * up) / np.where(ahead > 0.0, ahead, 1.0)
    return inverse


@dataclass(frozen=True)
class SharpAsked:
    """What was to be sharp: two distances along the lens axis by their inverses, 1/m, and the points (n, 3) in the
    world that lie there, if it was points."""

    near_per_m: float
    far_per_m: float
    points: Floats | None = None


def stop_wanted(shot: Shot, near_per_m: float, far_per_m: float) -> tuple[float, float]:
    """The distance in mm to focus at, and the f-number that just does, for all between two distances along the lens
    axis to be sharp. Raises :class:`Refused` where the lens does not focus so near."""
    require_stop(shot)
    f, cosine = shot.lens.focal_length_mm, tilt_of(shot).cosine
    middle = max((near_per_m + far_per_m) / 2.0, 1.0 / FARTHEST_FOCUS_M)
    u = 1000.0 / middle
    if u * cosine < NEAREST_OF_FOCAL * f:
        nearest = NEAREST_OF_FOCAL * f / cosine / 1000.0
        raise Refused(f"The lens focuses no nearer than {nearest:.3g} m along its axis; move the camera back.")
    depth = max(near_per_m - middle, middle - far_per_m) / 1000.0
    return u, depth * f / (blur_limit_of(shot, cut_back(shot.back)) * (cosine / f - 1.0 / u))


def sharp_from_to(shot: Shot, near_per_m: float, far_per_m: float, points: Floats | None = None) -> Shot:
    """The shot focused and stopped down, to the next third of a stop, so that all between two distances along its lens
    axis, told by their inverses, is sharp; the shutter holds the exposure.

    Raises :class:`Refused` with the nearest there is: the smallest stop, near and far equally soft."""
    u, wanted = stop_wanted(shot, near_per_m, far_per_m)
    n = max(focus.next_third_stop(wanted), WIDEST_KEPT) if wanted > 0.0 else shot.focus.f_number or WIDEST_KEPT
    held = min(n, focus.SMALLEST_OFFERED)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": held, "on": None})
    made = exposed(shot.with_groups(focus=moved), ev_of(shot))
    if n > held * (1.0 + 1.0e-9):
        raise Refused(
            f"That takes {focus.stop_name(wanted)}, and the smallest stop is {focus.stop_name(held)}; so far both ends "
            "are equally soft. A smaller back, a stand farther off, tilt or a stack of pictures may get it sharp.",
            nearest=made,
            asked=SharpAsked(near_per_m, far_per_m, points),
        )
    return made


def sharp_at(shot: Shot, points: Floats) -> Shot:
    """The same for points (n, 3) of the world."""
    found = axis_per_m(shot, points)
    return sharp_from_to(shot, float(found.max()), float(found.min()), points)


class SharpBetween(Gesture):
    """All from here to there is sharp: two distances along the lens axis; no far one: to infinity."""

    kind: Literal["sharp_between"] = "sharp_between"
    near_m: float = Field(gt=0.0, le=1.0e7)
    far_m: float | None = Field(None, gt=0.0, le=1.0e7)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        far = inf if self.far_m is None else self.far_m
        if far < self.near_m:
            raise Refused("The near end has to lie before the far one.")
        return sharp_from_to(shot, 1.0 / self.near_m, 0.0 if far == inf else 1.0 / far)


def pressed_points(shot: Shot, places: tuple[tuple[float, float], ...], scene: Scene) -> tuple[Point, ...]:
    """What is seen at places in the frame. Raises :class:`Refused` for sky."""
    seen = [seen_in(shot, scene.working, *at) for at in places]
    if None in seen:
        raise Refused("There is only sky at one of these places; press things of the set.")
    return tuple(one.at for one in seen if one is not None)


class SharpPoints(Gesture):
    """These points are sharp: places in the world, or places in the frame at which something is seen."""

    kind: Literal["sharp_points"] = "sharp_points"
    points: tuple[Point, ...] | None = Field(None, min_length=1, max_length=1000)
    """Metres in the world."""
    pressed_at: tuple[SharePlace, ...] | None = Field(None, min_length=1, max_length=1000)
    """Places in the frame, (0, 0) bottom left; instead of points."""

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if (self.points is None) == (self.pressed_at is None):
            raise Refused("What is to be sharp is told by points, or by pressed_at.")
        points = self.points or pressed_points(shot, self.pressed_at or (), scene)
        return sharp_at(shot, np.array(points))


class PartSharp(Gesture):
    """A part is sharp all over."""

    kind: Literal["part_sharp"] = "part_sharp"
    part: PartId

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        found = scene.working.model.parts_at([self.part])
        corners = [part_corners(scene.working, number) for number in found]
        if sum(map(len, corners)) == 0:
            raise Refused("There is no such part in this set, or nothing in it to be sharp.")
        return sharp_at(shot, np.concatenate(corners))


class PartSharpSeen(PressedInPicture):
    """The part that is seen at a place in the frame is sharp all over."""

    kind: Literal["part_sharp_seen"] = "part_sharp_seen"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        seen = seen_in(shot, scene.working, self.x, self.y)
        if seen is None:
            raise Refused("There is only sky at that place; press a thing of the set.")
        return PartSharp(part=scene.working.model.ids[seen.part]).follow(shot, scene)


class EverythingSharp(Gesture):
    """Sharp to infinity: focused at the hyperfocal distance of the stop there is; what is nearer than half of it is
    lost. ``from_m``: stopped down until it is sharp from there on."""

    kind: Literal["everything_sharp"] = "everything_sharp"
    from_m: float | None = Field(None, gt=0.0, le=1.0e7)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        require_stop(shot)
        if self.from_m is not None:
            return sharp_from_to(shot, 1.0 / self.from_m, 0.0)
        n = shot.focus.f_number
        if n is None:
            raise Refused("Everything is sharp already; a hyperfocal distance needs a stop.")
        f, limit = shot.lens.focal_length_mm, blur_limit_of(shot, cut_back(shot.back))
        distance = min(focus.hyperfocal_mm(f, n, limit, tilt_of(shot).cosine) / 1000.0, FARTHEST_FOCUS_M)
        return shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": distance, "on": None}))


class SoftWhileSharp(Gesture):
    """One point is drawn so many pixels soft, while another is sharp: focused on that one, opened up to the next third
    of a stop that still does it; the shutter holds the exposure."""

    kind: Literal["soft_while_sharp"] = "soft_while_sharp"
    sharp: Point | None = None
    soft: Point | None = None
    pressed_at: tuple[SharePlace, SharePlace] | None = None
    """Places in the frame at which both are seen, the sharp one first; instead of points."""
    px: float = Field(gt=0.0, le=10000.0)

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        require_stop(shot)
        told = [one for one in (self.sharp, self.soft) if one is not None]
        if len(told) != (0 if self.pressed_at else 2):
            raise Refused("What is sharp and what is soft are told by two points, or by pressed_at.")
        points = told or pressed_points(shot, self.pressed_at or (), scene)
        here, there = axis_per_m(shot, np.array(points)).tolist()
        f, cosine = shot.lens.focal_length_mm, tilt_of(shot).cosine
        if here <= 1.0 / FARTHEST_FOCUS_M:
            here = 1.0 / FARTHEST_FOCUS_M
        if cosine * 1000.0 / here < NEAREST_OF_FOCAL * f:
            raise Refused("What is to be sharp is nearer than the lens focuses; move the camera back.")
        wide = focus.blur_times_mm(f, 1.0, 1000.0 / here, cosine) / 1000.0 / cut_back(shot.back).pixel_mm
        most = wide * abs(here - there)
        if most <= 0.0:
            raise Refused("Both lie equally far along the lens axis; no stop makes one of them softer than the other.")
        n = focus.third_stop_within(most / self.px)
        held = min(max(n, focus.WIDEST_OFFERED), focus.SMALLEST_OFFERED)
        moved = shot.focus.model_copy(update={"distance_m": 1.0 / here, "f_number": held, "on": None})
        made = exposed(shot.with_groups(focus=moved), ev_of(shot))
        if n < held * (1.0 - 1.0e-9):
            raise Refused(
                f"Wide open, at {focus.stop_name(held)}, it is {most / held:.3g} px soft and no more: a longer lens, a "
                "larger back or more room between the two makes it softer.",
                nearest=made,
            )
        return made
