"""Uprights true in one action, partly, and back; square on to a wall."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints import uprights
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Component
from zevlo.text import movements as say

Share = float


class Straighten(Gesture):
    """A share of the pitch is taken out and becomes rise: 1 makes uprights true, 0 is as it was. What was in the middle
    of the frame stays there, and what was sharp there stays sharp."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["straighten"] = "straighten"
    amount: Share = Field(1.0, ge=0.0, le=1.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        return uprights.straightened(framing, self.amount)


class SquareOn(Gesture):
    """The camera looks straight at a wall, by its ``normal`` or by where it is seen in the frame; the film crosses, and
    what was in the middle of the frame stays there."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["square_on"] = "square_on"
    normal: tuple[Component, Component, Component] | None = None
    x: float | None = Field(None, ge=0.0, le=1.0)
    """Share of the frame's width from its left edge."""
    y: float | None = Field(None, ge=0.0, le=1.0)
    """Share of the frame's height from its bottom edge."""
    amount: Share = Field(1.0, ge=0.0, le=1.0)
    """How much of the way it is turned."""

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        pressed = bool(self.pressed)
        if (self.x is None) != (self.y is None) or pressed == (self.normal is not None):
            raise ValueError(say.SQUARE_ON_NEEDS_EITHER)
        if self.normal is not None and sum(part * part for part in self.normal) < 1.0e-12:
            raise ValueError(say.THE_NORMAL_OF_A_WALL)
        return self

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return () if self.x is None or self.y is None else ((self.x, self.y),)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        uprights.require_shift(framing.shot)
        if not self.pressed:
            return uprights.square_on(framing, np.array(self.normal), self.amount)
        seen = thing_at(framing, *self.pressed[0])
        return uprights.square_on(framing, np.array(seen.normal), self.amount)


class Unstraighten(Gesture):
    """Pitch, heading, roll and shifts as they were before straightening and squaring on; the middle of the frame
    stays."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["unstraighten"] = "unstraighten"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        if uprights.way_back(framing) is None:
            raise Refused(say.NOTHING_WAS_STRAIGHTENED_SO_THERE_IS_NOTHING)
        return uprights.before_straightening(framing)
