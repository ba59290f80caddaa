"""The back: film size, how it is fitted to the output ratio, enlarge and trim."""

from __future__ import annotations

from dataclasses import dataclass
from math import gcd

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.core.shot import Back


class Format(Settings):
    """A film or sensor format, lying."""

    name: str = Field(min_length=1, max_length=60)
    width_mm: float = Field(ge=0.5, le=2000.0)
    """Width of the film."""
    height_mm: float = Field(ge=0.5, le=2000.0)
    """Height of the film."""


FORMATS = (
    Format(name="17.3 × 13", width_mm=17.3, height_mm=13.0),
    Format(name="23.6 × 15.7", width_mm=23.6, height_mm=15.7),
    Format(name="36 × 24", width_mm=36.0, height_mm=24.0),
    Format(name="43.8 × 32.9", width_mm=43.8, height_mm=32.9),
    Format(name="53.4 × 40", width_mm=53.4, height_mm=40.0),
    Format(name="56 × 41.5", width_mm=56.0, height_mm=41.5),
    Format(name="56 × 56", width_mm=56.0, height_mm=56.0),
    Format(name="56 × 67", width_mm=67.0, height_mm=56.0),
    Format(name="4 × 5 in", width_mm=120.0, height_mm=95.0),
    Format(name="8 × 10 in", width_mm=244.0, height_mm=193.0),
)
"""Formats by the size of their picture (common practice, no source). A sheet holder covers some of the inches."""


@dataclass(frozen=True)
class FittedBack:
    """The film rectangle in use, relative to its own unshifted centre.

    ``left``..``top`` in mm on the film seen upright; ``pixel_mm`` side of one (square) output pixel;
    ``output_px`` size of the picture after trimming; ``whole_mm`` size before trimming.
    """

    left: float
    right: float
    bottom: float
    top: float
    pixel_mm: float
    output_px: tuple[int, int]
    whole_mm: tuple[float, float]

    @property
    def size_mm(self) -> tuple[float, float]:
        return self.right - self.left, self.top - self.bottom


def fitted_size(width_mm: float, height_mm: float, fit: str, ratio: float) -> tuple[float, float]:
    """Size in mm of a back fitted to ``ratio`` = W/H.

    ``inside``: largest such rectangle within the back; ``width``/``height``: that side kept whole.
    """
    by_width = (width_mm, width_mm / ratio)
    by_height = (height_mm * ratio, height_mm)
    if fit == "width":
        return by_width
    if fit == "height":
        return by_height
    return by_width if by_width[1] <= height_mm else by_height


def fit_back(back: Back) -> FittedBack:
    """The film rectangle that makes the picture.

    Trim is rounded to whole output pixels, so that pixels stay square and the edges exact.
    """
    columns, rows = back.output_px
    width, height = fitted_size(back.width_mm, back.height_mm, back.fit, columns / rows)
    width, height = width / back.enlarge, height / back.enlarge
    pixel = width / columns
    left, right = round(back.trim.left * columns), round(back.trim.right * columns)
    top, bottom = round(back.trim.top * rows), round(back.trim.bottom * rows)
    left, top = min(left, columns - right - 1), min(top, rows - bottom - 1)
    return FittedBack(
        left=-width / 2 + left * pixel,
        right=width / 2 - right * pixel,
        bottom=-height / 2 + bottom * pixel,
        top=height / 2 - top * pixel,
        pixel_mm=pixel,
        output_px=(columns - left - right, rows - top - bottom),
        whole_mm=(width, height),
    )


def crop_frame(
    fitted: FittedBack, output_px: tuple[int, int], size: float, at: tuple[float, float]
) -> tuple[float, float, float, float]:
    """Left, bottom, right, top, in shares of the frame, of the largest rectangle of a ratio in it, times ``size``, at
    shares of what is left over."""
    frame = fitted.size_mm[0] / fitted.size_mm[1]
    wanted = output_px[0] / output_px[1]
    wide, high = (size, size * frame / wanted) if wanted >= frame else (size * wanted / frame, size)
    left, bottom = at[0] * (1.0 - wide), at[1] * (1.0 - high)
    return left, bottom, left + wide, bottom + high


def format_name(width_mm: float, height_mm: float) -> str:
    """The trade's name for a back size, else its size."""
    for known in FORMATS:
        if {known.width_mm, known.height_mm} == {width_mm, height_mm}:
            return known.name
    return f"{width_mm:g} × {height_mm:g}"


def format_words(width_mm: float, height_mm: float) -> str:
    """The same with its unit: ``36 × 24 mm``, ``4 × 5 in``."""
    name = format_name(width_mm, height_mm)
    return name if name[-1].isalpha() else f"{name} mm"


def ratio_name(columns: int, rows: int) -> str:
    """The output ratio as people say it: ``16:9``, ``1:1``, else ``2.39:1`` or ``1:1.85``."""
    divisor = gcd(columns, rows)
    a, b = columns // divisor, rows // divisor
    if max(a, b) <= 21:
        return f"{a}:{b}"
    return f"{columns / rows:.2f}:1" if columns >= rows else f"1:{rows / columns:.2f}"
