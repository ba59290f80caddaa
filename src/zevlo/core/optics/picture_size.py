"""Sizes of pictures: in pixels by what they are for, and on paper at a fineness of print."""

from __future__ import annotations

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.core.shot.back import Pixels
from zevlo.text import optics as say

INCH_MM = 25.4
"""By the international agreement of 1959 (NIST SP 811)."""


class PictureSize(Settings):
    """A size of a picture, by what it is for."""

    name: str = Field(min_length=1, max_length=60)
    output_px: tuple[Pixels, Pixels]
    """Width and height."""


PICTURE_SIZES = (
    PictureSize(name=say.SCREEN, output_px=(1920, 1080)),
    PictureSize(name=say.SCREEN_4K, output_px=(3840, 2160)),
    PictureSize(name=say.SCREEN_8K, output_px=(7680, 4320)),
    PictureSize(name=say.WIDE_PAGE, output_px=(2400, 1600)),
    PictureSize(name=say.SQUARE, output_px=(2000, 2000)),
    PictureSize(name=say.TALL_PAGE, output_px=(2160, 2700)),
    PictureSize(name=say.TALL_SCREEN, output_px=(1080, 1920)),
    PictureSize(name=say.VERY_WIDE, output_px=(3840, 1600)),
)
"""Sizes often asked for (common practice, no source)."""


class PaperSize(Settings):
    """A sheet of paper, lying."""

    name: str
    size_mm: tuple[float, float]


ISO_216 = (
    PaperSize(name="A5", size_mm=(210.0, 148.0)),
    PaperSize(name="A4", size_mm=(297.0, 210.0)),
    PaperSize(name="A3", size_mm=(420.0, 297.0)),
    PaperSize(name="A2", size_mm=(594.0, 420.0)),
    PaperSize(name="A1", size_mm=(841.0, 594.0)),
    PaperSize(name="A0", size_mm=(1189.0, 841.0)),
)
PAPERS = tuple(paper for paper in ISO_216 if paper.name in ("A4", "A3", "A2"))
"""Those a picture is printed on."""


def px_on_paper(length_mm: float, dpi: float, bleed_mm: float = 0.0) -> int:
    """Pixels along a side of paper, with what is cut off on both sides of it."""
    return max(1, round((length_mm + 2.0 * bleed_mm) / INCH_MM * dpi))


def mm_on_paper(pixels: float, dpi: float) -> float:
    """How long so many pixels are in print; the other way round."""
    return pixels / dpi * INCH_MM


def sides_held(output_px: tuple[int, int], wide_px: int | None, high_px: int | None) -> tuple[int, int]:
    """A size with one side other and the ratio as it was, to the nearest pixel."""
    columns, rows = output_px
    if wide_px is not None:
        return wide_px, max(1, round(rows * wide_px / columns))
    if high_px is not None:
        return max(1, round(columns * high_px / rows)), high_px
    return output_px
