"""A stack of pictures: planned from here to there, over a part, or over what is pressed; and how it is told."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from zevlo.core.bases import Point
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.follow_focus import part_corners
from zevlo.core.instruments.focus.stop_solver import axis_per_m, pressed_points, require_stop
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene, SharePlace
from zevlo.core.measures import length_words
from zevlo.core.optics.focus import depth_per_mm
from zevlo.core.optics.stack import MOST_FRAMES, stack_mm
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import Focus, Stack
from zevlo.core.shot.limits import Distance
from zevlo.text import focus as say

SAME = 1.0 + 1.0e-6
MOST_PRINTED = 60
"""A stack of more pictures than this is not printed."""


def stack_distances(framing: Framing) -> list[float]:
    """The distances in metres at which the pictures of a shot's stack are focused, the nearest first; none where it has
    no stack, or everything is sharp."""
    shot = framing.shot
    own = shot.focus.stack
    if own is None or framing.aperture is None:
        return []
    n = shot.focus.f_number
    assert n is not None, "a stop, as there is an aperture"
    f, cosine = shot.lens.focal_length_mm, framing.tilt.cosine
    far = min(own.to_m, FARTHEST_FOCUS_M) * 1000.0
    near = min(own.from_m * 1000.0, 0.999999 * far)
    return [distance / 1000.0 for distance in stack_mm(f, n, _limit_of(framing), near, far, own.overlap, cosine)]


def _limit_of(framing: Framing) -> float:
    """What counts as sharp, in mm on the film in the middle, for it to be sharp all over the frame."""
    return framing.blur_limit_mm / framing.camera.drawn_largest


def _begins_m(framing: Framing, first_m: float) -> float:
    """Where the zone of the first picture of a stack begins, along the lens axis."""
    shot = framing.shot
    f, n, cosine = shot.lens.focal_length_mm, shot.focus.f_number, framing.tilt.cosine
    assert n is not None, "a stop, as there is a stack"
    return 1.0 / (1.0 / first_m + 1000.0 * depth_per_mm(f, n, _limit_of(framing), 1000.0 * first_m, cosine))


def frames_of(framing: Framing) -> list[Shot]:
    """The pictures of a shot's stack as shots, the nearest first. Raises :class:`Refused` where there is no stack to
    print, or none that could be merged."""
    shot = framing.shot
    distances = stack_distances(framing)
    if not distances:
        raise Refused(say.THIS_SHOT_HAS_NO_STACK)
    if len(distances) > MOST_PRINTED:
        raise Refused(say.that_stack_takes_pictures(_many(len(distances)), MOST_PRINTED))
    if shot.lens.focus_breathing:
        raise Refused(say.FOCUS_BREATHES_SO_THAT_EACH)
    return [frame_at(shot, distance) for distance in distances]


def frame_at(shot: Shot, distance_m: float) -> Shot:
    """One picture of a shot's stack."""
    return shot.with_groups(
        focus=shot.focus.model_copy(update={"distance_m": distance_m, "follow": None, "stack": None})
    )


def stack_words(framing: Framing, distances: list[float]) -> str | None:
    """The plan of a stack in a sentence; None where there is none."""
    shot = framing.shot
    own = shot.focus.stack
    if own is None:
        return None
    if not distances:
        return say.STACK_NEEDS_A_STOP
    begins = _begins_m(framing, distances[0])
    near = [say.nearer_than_the_lens(length_words(begins))] if begins > own.from_m * SAME else []
    if len(distances) == 1:
        return " ".join([say.ONE_PICTURE_ALONE, *near]) if near else say.ONE_PICTURE_IS_SHARP
    nearest, farthest = length_words(distances[0]), length_words(distances[-1])
    words = say.stack_of_pictures(_many(len(distances)), nearest, farthest, 100.0 * own.overlap)
    breathes = [say.FOCUS_BREATHES_TURN_THAT_OFF] if shot.lens.focus_breathing else []
    return " ".join([words, *near, *breathes])


def _many(count: int) -> str:
    return say.more_than(MOST_FRAMES) if count >= MOST_FRAMES else str(count)


OVERLAP = Field(0.2, ge=0.0, le=0.9)


def stacked(framing: Framing, near_per_m: float, far_per_m: float, overlap: float) -> Shot:
    """The shot with a stack between two distances along its lens axis, told by their inverses."""
    shot = framing.shot
    require_stop(framing)
    if shot.focus.f_number is None:
        raise Refused(say.STACK_NEEDS_A_STOP)
    if near_per_m <= 1.0 / FARTHEST_FOCUS_M:
        raise Refused(say.ALL_OF_THAT_LIES)
    near, far = 1.0 / near_per_m, 1.0 / max(far_per_m, 1.0 / FARTHEST_FOCUS_M)
    far = max(far, near * (1.0 + 1.0e-4))
    own = Stack(from_m=near, to_m=far, overlap=overlap)
    focus = Focus.model_validate({**shot.focus.model_dump(), "stack": own.model_dump()})
    made = shot.with_groups(focus=focus)
    begins = _begins_m(Framing(made), stack_distances(Framing(made))[0])
    if begins > near * SAME:
        raise Refused(say.at_this_stop_the_lens(begins))
    return made


class StackBetween(Gesture):
    """A stack from here to there, along the lens axis; no far end: to infinity."""

    kind: Literal["stack_between"] = "stack_between"
    near_m: Distance
    far_m: Distance | None = None
    overlap: float = OVERLAP

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        if self.far_m is not None and self.far_m <= self.near_m:
            raise Refused(say.THE_NEAR_END_HAS_TO_LIE)
        return stacked(framing, 1.0 / self.near_m, 0.0 if self.far_m is None else 1.0 / self.far_m, self.overlap)


class StackPoints(Gesture):
    """A stack over points: places in the world, or places in the frame at which something is seen."""

    kind: Literal["stack_points"] = "stack_points"
    points: tuple[Point, ...] | None = Field(None, min_length=1, max_length=1000)
    """Metres in the world."""
    pressed_at: tuple[SharePlace, ...] | None = Field(None, min_length=1, max_length=1000)
    """Places in the frame, (0, 0) bottom left; instead of points."""
    overlap: float = OVERLAP

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        if (self.points is None) == (self.pressed_at is None):
            raise Refused(say.WHAT_THE_STACK_COVERS)
        found = axis_per_m(framing, np.array(self.points or pressed_points(framing, self.pressed_at or (), scene)))
        return stacked(framing, float(found.max()), float(found.min()), self.overlap)


class StackPartSeen(PressedInPicture):
    """A stack over all of the part that is seen at a place in the frame."""

    kind: Literal["stack_part_seen"] = "stack_part_seen"
    overlap: float = OVERLAP

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        seen = thing_at(framing, self.x, self.y)
        found = axis_per_m(framing, part_corners(scene.working, seen.part))
        return stacked(framing, float(found.max()), float(found.min()), self.overlap)


class StackAway(Gesture):
    """One picture instead of a stack."""

    kind: Literal["stack_away"] = "stack_away"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(focus=shot.focus.model_copy(update={"stack": None}))
