"""The back: film size, how the picture's ratio lies in it, its pixels, what is trimmed off, its crops."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from zevlo.core.bases import Settings
from zevlo.text import shot as say

MAX_OUTPUT_SIDE_PX = 32768
Pixels = Annotated[int, Field(ge=1, le=MAX_OUTPUT_SIDE_PX)]
MOST_CROPS = 50
Share = Annotated[float, Field(ge=0.0, lt=1.0)]
Place = Annotated[float, Field(ge=0.0, le=1.0)]
CropName = Annotated[str, Field(min_length=1, max_length=60)]
SideMm = Annotated[float, Field(ge=0.5, le=2000.0)]
Enlarge = Annotated[float, Field(ge=1.0, le=100.0)]
Dpi = Annotated[float, Field(ge=10.0, le=4800.0)]
Bleed = Annotated[float, Field(ge=0.0, le=100.0)]
Fit = Literal["inside", "width", "height"]


class Trim(Settings):
    """What is taken off each side, in shares of the frame."""

    left: Share = 0.0
    """Share of the width taken off at the left."""
    right: Share = 0.0
    """Share of the width taken off at the right."""
    top: Share = 0.0
    """Share of the height taken off at the top."""
    bottom: Share = 0.0
    """Share of the height taken off at the bottom."""

    @model_validator(mode="after")
    def _something_left(self) -> Self:
        if self.left + self.right >= 1.0 or self.top + self.bottom >= 1.0:
            raise ValueError(say.OPPOSITE_SIDES_TOGETHER_MUST_STAY)
        return self


class Crop(Settings):
    """A picture of its own out of the shot's frame: the largest of its ratio, times ``size``."""

    name: CropName
    """What it is called; no two of a back are called the same."""
    output_px: tuple[Pixels, Pixels]
    """Width and height of its picture."""
    size: float = Field(1.0, ge=1.0e-4, le=1.0)
    """Share of the largest of its ratio that the frame holds."""
    at: tuple[Place, Place] = (0.5, 0.5)
    """Where it lies in what is left over: shares from the left and from the bottom."""


class Back(Settings):
    """Film size, how the picture lies in it, and the output size in pixels."""

    width_mm: SideMm = 36.0
    """Width of the film."""
    height_mm: SideMm = 24.0
    """Height of the film."""
    fit: Fit = "inside"
    """How the ratio of the picture lies in it: the largest within it, or with a side kept whole."""
    output_px: tuple[Pixels, Pixels] = (1920, 1080)
    """Width and height of the picture, before trimming."""
    enlarge: Enlarge = 1.0
    """How many times the picture is enlarged out of the fitted back."""
    trim: Trim = Trim()
    """What is taken off each side of the picture."""
    crops: tuple[Crop, ...] = Field((), max_length=MOST_CROPS)
    """Pictures of their own out of this one."""
    dpi: Dpi = 300.0
    """Pixels per inch of a print on paper; no picture is other for it."""
    bleed_mm: Bleed = 0.0
    """What a printer cuts off each side of such a print, part of the picture until then."""

    @model_validator(mode="after")
    def _crops_have_names(self) -> Self:
        names = [crop.name for crop in self.crops]
        if len(set(names)) < len(names):
            raise ValueError(say.TWO_CROPS_HAVE_THE_SAME)
        return self
