"""The frame widened on one side alone: the back grows, or the lens gets shorter, and it crosses or rises towards it."""

from __future__ import annotations

from math import atan2, inf, pi
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import Coordinate
from zevlo.core.camera.camera import Camera
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import Side, side_of_frame, side_of_wedge
from zevlo.core.constraints.same_picture import behind, scale_kept
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics.back import FittedBack, fit_back
from zevlo.core.optics.laws import CannotReach
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.back import MAX_OUTPUT_SIDE_PX, Back, Trim
from zevlo.text import back as say

GivesWay = Literal["back", "lens"]
Taken = tuple[int, int, int, int]
"""Pixels taken off the untrimmed picture at the left, right, bottom, top; below 0 it sees more there."""
_SIDES: tuple[Side, ...] = ("left", "right", "bottom", "top")
_HALVINGS = 60
_REACHED = 1.0e-6
_FARTHEST = 20.0
"""How many widths of the frame out a side is looked for."""


class SideTo(Gesture):
    """One side of the wedge alone is put through a place in plan; the other stays where it is."""

    kind: Literal["side_to"] = "side_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate
    gives: GivesWay | None = None
    """What gives way to see more than the whole frame, null: nothing; to see less, the side is trimmed."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        fitted, side = framing.fitted, side_of_frame(framing.camera, self.side)
        across = side in ("left", "right")
        shift = shot.movements.cross_mm if across else shot.movements.rise_mm
        out = 1.0 if side in ("right", "top") else -1.0
        half = fitted.whole_mm[0 if across else 1] / 2.0
        off = dict(zip(_SIDES, taken_off(shot.back), strict=True))
        off[side] = round((half - out * (_film_through(framing, self) - shift)) / fitted.pixel_mm)
        columns, rows = shot.back.output_px
        if off["left"] + off["right"] >= columns or off["bottom"] + off["top"] >= rows:
            raise Refused(say.THE_SIDES_OF_THE_WEDGE)
        return with_taken_off(framing, (off["left"], off["right"], off["bottom"], off["top"]), self.gives)


def taken_off(back: Back) -> Taken:
    """What of a back's picture is trimmed off."""
    (columns, rows), fitted = back.output_px, fit_back(back)
    left = round((fitted.left + fitted.whole_mm[0] / 2.0) / fitted.pixel_mm)
    bottom = round((fitted.bottom + fitted.whole_mm[1] / 2.0) / fitted.pixel_mm)
    wide, high = fitted.output_px
    return left, columns - left - wide, bottom, rows - bottom - high


def with_taken_off(framing: Framing, taken: Taken, gives: GivesWay | None = None) -> Shot:
    """The shot trimmed like that. To see more than its whole frame something gives way, or it stops there."""
    shot = framing.shot
    if min(taken) < 0 and gives is not None:
        return _by_back(framing, taken) if gives == "back" else _by_lens(framing, taken)
    trim = _trim(shot.back.output_px, taken)
    return shot.with_groups(back=shot.back.model_copy(update={"trim": trim}))


def _trim(output_px: tuple[int, int], taken: Taken) -> Trim:
    (columns, rows), (left, right, bottom, top) = output_px, (max(0, off) for off in taken)
    return Trim(left=left / columns, right=right / columns, bottom=bottom / rows, top=top / rows)


def _grown(framing: Framing, taken: Taken) -> tuple[FittedBack, tuple[int, int], tuple[float, float]]:
    """The fitted back as it is; the pixels of the whole picture with what is seen more; where its middle then is on the
    film, in mm from the lens axis."""
    shot = framing.shot
    fitted, (columns, rows) = framing.fitted, shot.back.output_px
    left, right, bottom, top = (max(0, -off) for off in taken)
    middle = (
        shot.movements.cross_mm + (right - left) / 2.0 * fitted.pixel_mm,
        shot.movements.rise_mm + (top - bottom) / 2.0 * fitted.pixel_mm,
    )
    return fitted, (columns + left + right, rows + bottom + top), middle


def _by_back(framing: Framing, taken: Taken) -> Shot:
    """A larger back behind the same lens, with as many more pixels."""
    shot = framing.shot
    fitted, (columns, rows), (cross, rise) = _grown(framing, taken)
    if max(columns, rows) > MAX_OUTPUT_SIDE_PX:
        raise Refused(say.a_picture_has_up_to_pixels(MAX_OUTPUT_SIDE_PX))
    whole_pixel = fitted.pixel_mm * shot.back.enlarge
    back = shot.back.model_copy(
        update={
            "width_mm": columns * whole_pixel,
            "height_mm": rows * whole_pixel,
            "fit": "inside",
            "output_px": (columns, rows),
            "trim": _trim((columns, rows), taken),
        }
    )
    shifts = shot.movements.shifted_to(rise, cross)
    return scale_kept(shot, shot.with_groups(back=back, movements=shifts))


def _by_lens(framing: Framing, taken: Taken) -> Shot:
    """A shorter lens before the same back; what that sees too much is trimmed off."""
    shot = framing.shot
    fitted, (wide, high), (cross, rise) = _grown(framing, taken)
    columns, rows = shot.back.output_px
    shrunk = min(columns / wide, rows / high)
    left, right, bottom, top = (round(max(0, off) * shrunk) for off in taken)
    spare_across, spare_up = columns - round(wide * shrunk), rows - round(high * shrunk)
    at_left, at_bottom = spare_across // 2, spare_up // 2
    at_right, at_top = spare_across - at_left, spare_up - at_bottom
    trim = _trim((columns, rows), (left + at_left, right + at_right, bottom + at_bottom, top + at_top))
    # An odd pixel goes to one side; the middle stays where it was all the same.
    cross = cross * shrunk + (at_right - at_left) / 2.0 * fitted.pixel_mm
    rise = rise * shrunk + (at_top - at_bottom) / 2.0 * fitted.pixel_mm
    shifts = shot.movements.shifted_to(rise, cross)
    after = shot.with_groups(back=shot.back.model_copy(update={"trim": trim}), movements=shifts)
    if shot.lens.scale_m is not None:
        return scale_kept(shot, after, shrunk)
    why_not = say.NO_LENS_IS_AS_SHORT
    return behind(Framing(after), framing.film_distance_mm * shrunk, why_not)


def _film_through(framing: Framing, gesture: SideTo) -> float:
    """How far to the right of the lens axis, or above it for a camera that is rolled over, in mm, the film is that sees
    along a side through a place in plan."""
    shot = framing.shot
    camera = framing.camera
    pose, law = camera.pose, camera.law
    side = side_of_frame(camera, gesture.side)
    along = 0 if side in ("left", "right") else 1
    begins = camera.film(side_of_wedge(camera, gesture.side))[0]
    away = np.array([gesture.x, gesture.y]) - pose.position[:2]
    axes = np.stack([pose.right, pose.up, pose.forward])
    if shot.lens.scale_m is not None:
        return _film_beside(camera, away, begins, along)
    heading = atan2(pose.level_axis[0], pose.level_axis[1])

    def at(film: float) -> tuple[float, float]:
        return (film, float(begins[1])) if along == 0 else (float(begins[0]), film)

    def turned(direction: Floats) -> float:
        """How far a way in plan is turned to the right of the heading, radians."""
        return float((atan2(direction[0], direction[1]) - heading + pi) % (2.0 * pi) - pi)

    wanted = turned(away)
    # Towards which end of the film the plan shows what lies to the right.
    right = 1.0 if side_of_frame(camera, "right") in ("right", "top") else -1.0

    def beyond(out: float) -> bool:
        try:
            direction = turned(np.array(law.point(*at(right * out), 1.0)) @ axes)
        except CannotReach:
            return out > 0.0
        return direction > wanted

    low, high = -_FARTHEST * camera.window.width, _FARTHEST * camera.window.width
    if beyond(low) or not beyond(high):
        raise Refused(say.THE_SIDE_OF_THE_WEDGE)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (low, middle) if beyond(middle) else (middle, high)
    try:
        reached = turned(np.array(law.point(*at(right * low), 1.0)) @ axes)
    except CannotReach:
        reached = inf
    if abs(reached - wanted) > _REACHED:
        raise Refused(say.THIS_LENS_DRAWS_NOTHING)
    return right * low


_LOOKS_DOWN = 1.0e-9
"""Looking so little along the level, a camera looks straight down."""


def _film_beside(camera: Camera, away: Floats, begins: Floats, along: int) -> float:
    """The same where rays are parallel: in plan a side runs the way the camera looks."""
    pose = camera.pose
    ahead = pose.forward[:2]
    moves, stays = (pose.right, pose.up) if along == 0 else (pose.up, pose.right)
    per_metre = camera.law.film_per_metre(1.0)
    beside = away - float(begins[1 - along]) / per_metre * stays[:2]
    if float(np.hypot(*ahead)) > _LOOKS_DOWN:
        across = np.array([-ahead[1], ahead[0]])
        return per_metre * float(beside @ across) / float(moves[:2] @ across)
    return per_metre * float(beside @ moves[:2]) / float(moves[:2] @ moves[:2])
