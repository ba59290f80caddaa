"""Focus as it is set: distance, stop, what counts as sharp, what is followed, what is probed, the shape of the blur."""

from __future__ import annotations

from typing import Literal, Self

from pydantic import Field, model_validator

from zevlo.core.bases import PartId, Point, Settings
from zevlo.core.shot.limits import FARTHEST_M, Distance, FNumber
from zevlo.text import shot as say

MOST_PROBES = 10_000
MOST_SQUEEZE = 0.95


class BlurLimit(Settings):
    """What counts as sharp; exactly one criterion. Print: needs width and viewing distance together."""

    px: float | None = Field(None, ge=1.0e-4, le=1000.0)
    """Pixels of the picture."""
    mm: float | None = Field(None, ge=1.0e-6, le=10.0)
    """Millimetres on the film."""
    diagonal_over: float | None = Field(None, ge=10.0, le=100000.0)
    """The back's diagonal divided by this."""
    print_width_mm: float | None = Field(None, ge=1.0, le=1.0e5)
    """Width of a print on which nothing unsharp is to be seen."""
    seen_from_mm: float | None = Field(None, ge=1.0, le=1.0e6)
    """From how far it is seen."""

    @model_validator(mode="after")
    def _exactly_one(self) -> Self:
        for_print = (self.print_width_mm is not None) + (self.seen_from_mm is not None)
        if for_print == 1:
            raise ValueError(say.PRINT_WIDTH_MM_AND_SEEN)
        given = sum(value is not None for value in (self.px, self.mm, self.diagonal_over)) + (for_print == 2)
        if given != 1:
            raise ValueError(say.GIVE_EXACTLY_ONE_OF_PX)
        return self


class BlurLimitOffer(Settings):
    """A blur limit worth offering, with its words."""

    words: str
    limit: BlurLimit


BLUR_LIMITS = (
    BlurLimitOffer(words=say.BLUR_OF_1_5_PX, limit=BlurLimit(px=1.5)),
    BlurLimitOffer(words=say.BLUR_OF_3_PX, limit=BlurLimit(px=3.0)),
    BlurLimitOffer(words=say.BLUR_OF_0_03_MM, limit=BlurLimit(mm=0.03)),
    BlurLimitOffer(words=say.BACK_DIAGONAL_1500, limit=BlurLimit(diagonal_over=1500.0)),
    BlurLimitOffer(words=say.PRINT_400_MM_SEEN, limit=BlurLimit(print_width_mm=400.0, seen_from_mm=500.0)),
)


class FollowFocus(Settings):
    """What the focus is kept on, wherever the camera goes."""

    part: PartId | None = None
    """The part it lies on, so that it is followed when that moves; null is a point in the air."""
    point: Point
    """Metres in the world: what is sharp, as it was found last."""
    where: Literal["point", "nearest", "middle"] = "point"
    """Which place of the part: this point, whatever of it is nearest to the film, or the middle of it."""


class Stack(Settings):
    """Pictures that differ in focus alone, whose sharp zones cover a depth between them."""

    from_m: Distance
    """Where the first of them is sharp from, along the lens axis."""
    to_m: Distance
    """Where the last is sharp to, at least."""
    overlap: float = Field(0.2, ge=0.0, le=0.9)
    """Share of each sharp zone that lies within the one before."""

    @model_validator(mode="after")
    def _to_beyond_from(self) -> Self:
        if self.to_m <= self.from_m:
            raise ValueError(say.to_m_must_be_greater(self.from_m))
        return self

    def scaled(self, scale: float) -> Stack:
        """The same in a set that became so many times larger."""
        near = min(max(self.from_m * scale, 1.0e-6), 0.9e7)
        return Stack(from_m=near, to_m=min(max(self.to_m * scale, 1.001 * near), FARTHEST_M), overlap=self.overlap)


class PinnedProbe(Settings):
    """A probe that lies on a part, and goes along with it."""

    point: Point
    part: PartId


ProbePoint = Point | PinnedProbe


class Focus(Settings):
    """Focus distance along the lens axis, stop and shape of the blur."""

    distance_m: Distance = 3.0
    """Distance of what is sharpest, along the lens axis."""
    f_number: FNumber | None = 8.0
    """The stop; null: everything sharp, as a pinhole draws."""
    blur_limit: BlurLimit = BlurLimit(px=1.5)
    """What counts as sharp."""
    blades: int = Field(0, ge=0, le=32)
    """Blades of the stop that shape the blur; under three it is round."""
    blade_rotation_deg: float = Field(0.0, ge=-360.0, le=360.0)
    """How far the blades are turned."""
    rim_weight: float = Field(0.0, ge=-1.0, le=1.0)
    """Brighter rim of the blur, or below zero a brighter middle."""
    squeeze: float = Field(0.0, ge=0.0, le=MOST_SQUEEZE)
    """Share of the blur's disc that the edge of the barrel hides in the corner of the back; the picture is as bright
    for that."""
    follow: FollowFocus | None = None
    """What is kept sharp as the camera moves; null: the distance stays."""
    stack: Stack | None = None
    """What a stack of pictures is to cover; null: one picture."""
    probes: tuple[ProbePoint, ...] = Field((), max_length=MOST_PROBES)
    """Places in the world of which the sheet says where they fall in the picture, and how sharp; bare points, or pinned
    to a part."""

    @property
    def probed(self) -> tuple[Point, ...]:
        """The places probed."""
        return tuple(one.point if isinstance(one, PinnedProbe) else one for one in self.probes)
