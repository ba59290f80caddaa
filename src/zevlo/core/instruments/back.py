"""Back: film size, how it is cut to the output ratio, and the output size in pixels."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import Field, model_validator

from zevlo.core.bases import Settings, SheetGroup
from zevlo.core.camera import WHOLE, Frame
from zevlo.core.instruments.instrument import Asked, Called, Instrument, SheetPart, Shown, group_copied
from zevlo.core.optics.back import cut_back, cut_within, format_name, ratio_name
from zevlo.core.refused import Refused

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

MAX_OUTPUT_SIDE_PX = 32768
MOST_CUTS = 50
Share = Annotated[float, Field(ge=0.0, lt=1.0)]
Place = Annotated[float, Field(ge=0.0, le=1.0)]
Pixels = Annotated[int, Field(ge=1, le=MAX_OUTPUT_SIDE_PX)]


class Trim(Settings):
    """What is taken off each side, in shares of the frame."""

    left: Share = 0.0
    right: Share = 0.0
    top: Share = 0.0
    bottom: Share = 0.0

    @model_validator(mode="after")
    def _something_left(self) -> Self:
        if self.left + self.right >= 1.0 or self.top + self.bottom >= 1.0:
            raise ValueError("opposite sides together must stay under 1, so that a picture is left")
        return self


class NamedCut(Settings):
    """A picture of its own out of the shot's frame: the largest of its ratio, times ``size``."""

    name: str = Field(min_length=1, max_length=60)
    """What it is called; no two of a back are called the same."""
    output_px: tuple[Pixels, Pixels]
    """Width and height of its picture."""
    size: float = Field(1.0, ge=1.0e-4, le=1.0)
    """Share of the largest of its ratio that the frame holds."""
    at: tuple[Place, Place] = (0.5, 0.5)
    """Where it lies in what is left over: shares from the left and from the bottom."""


class Back(Settings):
    """Film size, how it is cut to the output ratio, and the output size in pixels."""

    width_mm: float = Field(36.0, ge=0.5, le=2000.0)
    """Width of the film."""
    height_mm: float = Field(24.0, ge=0.5, le=2000.0)
    """Height of the film."""
    cut: Literal["inside", "width", "height"] = "inside"
    """How it is cut to the ratio of the picture: the largest within it, or with a side kept whole."""
    output_px: tuple[Pixels, Pixels] = (1920, 1080)
    """Width and height of the picture, before trimming."""
    enlarge: float = Field(1.0, ge=1.0, le=100.0)
    """How many times the picture is enlarged out of the cut film."""
    trim: Trim = Trim()
    """What is taken off each side of the picture."""
    cuts: tuple[NamedCut, ...] = Field((), max_length=MOST_CUTS)
    """Pictures of their own out of this one."""

    @model_validator(mode="after")
    def _cuts_have_names(self) -> Self:
        names = [cut.name for cut in self.cuts]
        if len(set(names)) < len(names):
            raise ValueError("two cuts have the same name")
        return self


class CutSheet(SheetGroup):
    """A cut as it lies in the frame."""

    name: str
    frame: tuple[float, float, float, float]
    """Left, bottom, right, top in shares of the output frame."""
    output_px: tuple[int, int]


class BackSheet(SheetGroup):
    """The back in use."""

    format: str
    """The trade's name of the film size."""
    ratio: str
    cut_mm: tuple[float, float]
    """Width and height of the film that makes the picture."""
    pixel_mm: float
    """Side of one output pixel on the film."""
    output_px: tuple[int, int]
    """Size of the picture, what is trimmed off taken off."""
    cuts: list[CutSheet]


def tell(asked: Asked) -> BackSheet:
    """The back in use."""
    cut = asked.cut
    return BackSheet(
        format=format_name(asked.shot.back.width_mm, asked.shot.back.height_mm),
        ratio=ratio_name(*cut.output_px),
        cut_mm=cut.size_mm,
        pixel_mm=cut.pixel_mm,
        output_px=cut.output_px,
        cuts=[
            CutSheet(name=one.name, frame=cut_within(cut, one.output_px, one.size, one.at), output_px=one.output_px)
            for one in asked.shot.back.cuts
        ],
    )


def picture_of(shot: Shot, cut: str | None = None) -> tuple[Frame, tuple[int, int]]:
    """What of a shot's frame a picture shows, and its pixels: a cut of its back by its name, or all of it.

    Raises :class:`Refused` where there is no such cut.
    """
    whole = cut_back(shot.back)
    if cut is None:
        return WHOLE, whole.output_px
    found = next((one for one in shot.back.cuts if one.name == cut), None)
    if found is None:
        names = ", ".join(f"“{one.name}”" for one in shot.back.cuts) or "none"
        raise Refused(f"There is no cut “{cut}” in this shot; it has {names}.")
    return cut_within(whole, found.output_px, found.size, found.at), found.output_px


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another film size, ratio, size in pixels, or cut."""
    a, b = before.back, after.back
    words = []
    if (a.width_mm, a.height_mm) != (b.width_mm, b.height_mm):
        words.append(f"{format_name(a.width_mm, a.height_mm)} → {format_name(b.width_mm, b.height_mm)}")
    if a.output_px != b.output_px:
        first, then = ratio_name(*a.output_px), ratio_name(*b.output_px)
        pixels = f"{a.output_px[0]} × {a.output_px[1]} → {b.output_px[0]} × {b.output_px[1]} px"
        words.append(pixels if first == then else f"{first} → {then}")
    if (a.cut, a.enlarge, a.trim) != (b.cut, b.enlarge, b.trim):
        words.append("cut otherwise")
    if a.cuts != b.cuts:
        words.append(f"cuts {len(a.cuts)} → {len(b.cuts)}" if len(a.cuts) != len(b.cuts) else "other cuts")
    return words


def shows(shot: Shot) -> Shown:
    """The film in use."""
    cut = cut_back(shot.back)
    return tuple(round(side, 9) for side in (cut.left, cut.right, cut.bottom, cut.top))


BACK = Instrument(
    key="back",
    name="Back",
    part=SheetPart("back", tell),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("back", "Back and size"),),
)
