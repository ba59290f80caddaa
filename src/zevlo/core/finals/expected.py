"""What an order will take, told before it starts: time, and room on a disk."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel, ConfigDict

from zevlo.core.finals.order import Formats
from zevlo.core.finals.quality import Quality

CLOSING_S_A_MILLION = 1.2
"""Seconds in which one machine cleans, develops and writes a million pixels: an estimate."""
OF_A_STACK = 0.35
"""Share of a stack's pictures that are made in a tile at most, all over: an estimate."""
LARGE_PX = 40_000_000
"""A picture with more pixels needs over 3 GB in the machine that closes it."""
BYTES_A_PIXEL = {
    "png8": 1.6,
    "png16": 5.6,
    "jpeg": 0.45,
    "half": 5.0,
    "float": 10.5,
    "depth": 3.3,
    "normal": 3.0,
    "albedo": 2.0,
    "parts": 4.0,
}
"""Bytes that files have for each pixel, until finals of a project tell it: estimates, told as such."""


class Expected(BaseModel):
    """What an order will take."""

    model_config = ConfigDict(frozen=True, extra="forbid", use_attribute_docstrings=True)

    seconds: tuple[float, float] | None
    """Of all machines together, from where no grain is left after the least samples, to where it is everywhere; null:
    no machine has been measured yet."""
    bytes: int
    """All files together, about."""


def expected(
    pictures: Iterable[tuple[tuple[int, int], int]], quality: Quality, formats: Formats, rays_per_s: float,
    bytes_per_pixel: float | None = None,
) -> Expected:  # fmt: skip
    """What pictures take, each told by its size and by how many of a stack it is merged of (0: it is one).
    ``rays_per_s``: of all machines together; 0: not known. ``bytes_per_pixel``: what finals in these formats came to;
    None: there is none yet.

    ``pictures``: (width, height) in pixels and that number, each; ``quality``: as ordered; ``formats``: of the files.
    """
    pixels, most = 0, 0.0
    for (width, height), merged_of in pictures:
        pixels += width * height
        most += width * height * at_most(merged_of)
    closing = pixels / 1.0e6 * CLOSING_S_A_MILLION
    seconds = None
    if rays_per_s > 0.0:
        seconds = (pixels * quality.least / rays_per_s + closing, most * quality.samples / rays_per_s + closing)
    each = bytes_a_pixel(formats) if bytes_per_pixel is None else bytes_per_pixel
    return Expected(seconds=seconds, bytes=round(pixels * each))


def at_most(merged_of: int) -> float:
    """How many times the rays of one picture it takes at most, merged of so many of a stack; 0: it is one."""
    return max(1.0, merged_of * OF_A_STACK)


def bytes_a_pixel(formats: Formats) -> float:
    """Bytes that all files of a picture have for each of its pixels, about."""
    kinds: list[str] = list(formats.layers)
    if formats.png is not None:
        kinds.append(f"png{formats.png}")
    if formats.jpeg is not None:
        kinds.append("jpeg")
    if formats.exr is not None:
        kinds.append(formats.exr)
    return sum(BYTES_A_PIXEL[kind] for kind in kinds)
