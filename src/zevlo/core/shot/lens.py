"""The lens: focal length, projection, what of near and far is drawn, what it does that a plain one does not."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from zevlo.core.bases import Point, Settings
from zevlo.core.refused import Refused
from zevlo.core.shot.limits import FARTHEST_M, FNumber
from zevlo.text import shot as say

SHORTEST_MM, LONGEST_MM = 1.0, 5000.0
FisheyeLaw = Literal["equidistant", "equisolid", "stereographic"]
Projection = Literal["perspective", "parallel", "fisheye", "cylindrical"]
NARROWEST_M, WIDEST_M = 1.0e-4, 1.0e6
NEAREST_M = 1.0e-6


MOST_BEND = 1.0e4
Component = Annotated[float, Field(ge=-1.0e6, le=1.0e6)]
Bend = Annotated[float, Field(ge=-MOST_BEND, le=MOST_BEND)]


class Distortion(Settings):
    """How a perspective picture is bent, by Brown and Conrady's coefficients; all 0 is not at all."""

    k1: Bend = 0.0
    """How much by the square of the distance from the middle: below 0 a barrel, above it a pincushion."""
    k2: Bend = 0.0
    """By its fourth power."""
    k3: Bend = 0.0
    """By its sixth power."""
    p1: Bend = 0.0
    """As glasses do that sit too high or too low."""
    p2: Bend = 0.0
    """As glasses do that sit too far aside."""

    @property
    def none(self) -> bool:
        """Whether nothing is bent."""
        return self.k1 == self.k2 == self.k3 == self.p1 == self.p2 == 0.0


class Falloff(Settings):
    """How the corners get less light than the middle."""

    natural: bool = False
    """As the law of the lens has it: by the fourth power of a cosine in perspective."""
    mechanical: float = Field(0.0, ge=0.0, le=1.0)
    """Share of the wide open pupil that the rim of the barrel hides from the corner; gone as it is stopped down."""
    open_f_number: FNumber = 2.8
    """The stop at which the lens is wide open."""


class Opening(Settings):
    """A plane that opens the set for one shot: what lies on the side its normal points to is not there."""

    point: Point
    """A place it goes through."""
    normal: tuple[Component, Component, Component]
    """Which way it points; how long that is does not matter."""

    @model_validator(mode="after")
    def _points_somewhere(self) -> Self:
        if sum(part * part for part in self.normal) < 1.0e-12:
            raise ValueError(say.THE_NORMAL_OF_A_CUTTING)
        return self


class Lens(Settings):
    """The lens, and what bounds what is drawn along its axis."""

    focal_length_mm: float = Field(35.0, ge=SHORTEST_MM, le=LONGEST_MM)
    """Focal length."""
    projection: Projection = "perspective"
    """How film and world belong together."""
    fisheye_law: FisheyeLaw = "equidistant"
    """Of a fisheye alone: how far from the middle it draws what it sees under an angle."""
    focus_breathing: bool = False
    """Whether focusing nearer makes the picture narrower, as with a lens that moves out as a whole."""
    near_m: float = Field(0.05, ge=NEAREST_M, le=1.0e5)
    """Nothing nearer than this is drawn, along the lens axis."""
    far_m: float | None = Field(None, ge=NEAREST_M, le=FARTHEST_M)
    """Nothing farther than this is drawn, along the lens axis; null is no bound."""
    cutting_plane: Opening | None = None
    """Opens the set: null shows all of it."""
    scale_m: float | None = Field(None, ge=NARROWEST_M, le=WIDEST_M)
    """Of a parallel picture alone: metres across the width of the fitted back, before trim and enlarge, at any
    distance."""
    distortion: Distortion = Distortion()
    """Of perspective alone: barrel, pincushion."""
    falloff: Falloff = Falloff()
    """Darker corners."""

    def called(self, digits: int) -> str:
        """As it is called in lists and names: its focal length, and what it is where that is no plain lens."""
        if self.projection == "parallel":
            return "parallel"
        length = f"{self.focal_length_mm:.{digits}g} mm"
        return length if self.projection == "perspective" else f"{length} {self.projection}"

    @model_validator(mode="after")
    def _scale_with_parallel(self) -> Self:
        if self.projection == "parallel" and self.scale_m is None:
            raise ValueError(say.A_PARALLEL_PROJECTION_NEEDS_SCALE)
        if self.projection != "parallel" and self.scale_m is not None:
            raise ValueError(say.SCALE_M_BELONGS_TO_PARALLEL)
        return self

    @model_validator(mode="after")
    def _bent_in_perspective(self) -> Self:
        if self.projection != "perspective" and not self.distortion.none:
            raise ValueError(say.DISTORTION_BELONGS_TO_PERSPECTIVE)
        return self

    @model_validator(mode="after")
    def _far_beyond_near(self) -> Self:
        if self.far_m is not None and self.far_m <= self.near_m:
            raise ValueError(say.far_m_must_be_greater(self.near_m))
        return self


def changed(old: Lens, **other: object) -> Lens:
    """The lens with other settings, checked again."""
    return Lens.model_validate({**old.model_dump(), **other})


def with_focal_length(old: Lens, focal_length_mm: float) -> Lens:
    """The lens at another focal length, checked again."""
    return changed(old, focal_length_mm=focal_length_mm)


def with_scale(old: Lens, scale_m: float) -> Lens:
    """The lens in parallel projection of a width in the world. Raises :class:`~zevlo.core.refused.Refused` where there
    can be none."""
    if not NARROWEST_M <= scale_m <= WIDEST_M:
        raise Refused(say.that_would_be_m(scale_m))
    return changed(old, projection="parallel", scale_m=scale_m, distortion=Distortion())
