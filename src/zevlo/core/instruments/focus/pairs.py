"""Pairs: two shots that differ in focus alone, one sharp in front and one at the back."""

from __future__ import annotations

from typing import Self

import numpy as np
from pydantic import model_validator

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.camera.depth_of_field import focused
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.follow_focus import part_corners
from zevlo.core.instruments.focus.stop_solver import axis_per_m, pressed_points, require_stop
from zevlo.core.instruments.instrument import Scene, SharePlace
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.text import focus as say

LONGEST_NAME = 120
FRONT, BACK = say.FRONT_SHARP, say.BACK_SHARP


class FocusPair(Settings):
    """What a pair of shots is focused on: two places in the frame, in any order, or a part in front and at its back."""

    pressed_at: tuple[SharePlace, SharePlace] | None = None
    """Places in the frame at which something is seen, (0, 0) bottom left."""
    part_at: SharePlace | None = None
    """A place at which the part is seen that is to be sharp in front in one, and at its back in the other."""

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.pressed_at is None) == (self.part_at is None):
            raise ValueError(say.A_PAIR_IS_TOLD)
        return self

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        """The places in the frame that are pressed on."""
        return self.pressed_at or (() if self.part_at is None else (self.part_at,))


def pair(framing: Framing, asked: FocusPair, scene: Scene) -> tuple[Shot, Shot]:
    """The shot sharp in front, and the shot sharp at the back. Raises :class:`Refused` where nothing is seen there, or
    both lie equally far away."""
    shot = framing.shot
    require_stop(framing)
    if shot.focus.f_number is None:
        raise Refused(say.PAIR_NEEDS_A_STOP)
    found = axis_per_m(framing, _points(framing, asked, scene))
    near, far = 1.0 / float(found.max()), 1.0 / max(float(found.min()), 1.0e-9)
    if far <= near * (1.0 + 1.0e-6):
        raise Refused(say.BOTH_LIE_EQUALLY_FAR)
    return _called(focused(shot, near), FRONT), _called(focused(shot, far), BACK)


def _points(framing: Framing, asked: FocusPair, scene: Scene) -> Floats:
    if asked.part_at is None:
        return np.array(pressed_points(framing, asked.pressed, scene))
    seen = thing_at(framing, *asked.part_at)
    return part_corners(scene.working, seen.part)


def _called(shot: Shot, which: str) -> Shot:
    """The shot under its name and which of the two it is."""
    room = LONGEST_NAME - len(which) - 2
    return shot.model_copy(update={"name": f"{shot.name[:room].rstrip()}, {which}"})
