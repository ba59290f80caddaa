"""Where the camera is and looks, and what it holds on to."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from zevlo.core.bases import PartId, Point, Settings
from zevlo.text import shot as say

MIN_AIM_DISTANCE_M = 1.0e-4
FramePlace = tuple[Annotated[float, Field(ge=-4.0, le=5.0)], Annotated[float, Field(ge=-4.0, le=5.0)]]


class FollowAim(Settings):
    """A point that keeps its place in the frame when the stand moves."""

    part: PartId | None = None
    """The part it lies on, so that it is followed when that part moves; null is a point in the air."""
    point: Point
    """Metres in the world."""
    at: FramePlace = (0.5, 0.5)
    """Its place in the frame, (0, 0) bottom left to (1, 1)."""


class Stand(Settings):
    """Where the camera is and looks."""

    position: Point = (0.0, 0.0, 1.6)
    """The lens, metres in the world."""
    aim: Point = (0.0, 3.0, 1.6)
    """A point on the lens axis, metres in the world."""
    roll_deg: float = Field(0.0, ge=-180.0, le=180.0)
    """Degrees clockwise about the lens axis, seen from behind the camera."""
    above_floor_m: float | None = Field(None, ge=-1000.0, le=10000.0)
    """The stand stays this high above the floor found under it; null lets its height be free."""
    follow: FollowAim | None = None
    """What keeps its place in the frame."""

    @model_validator(mode="after")
    def _aim_is_elsewhere(self) -> Self:
        gap = sum((a - b) ** 2 for a, b in zip(self.aim, self.position, strict=True)) ** 0.5
        if gap < MIN_AIM_DISTANCE_M:
            raise ValueError(say.AIM_MUST_BE_AT_LEAST)
        return self
