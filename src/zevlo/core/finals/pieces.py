"""What a final is made in: tiles of its pixels, each by some samples at a time, so few that a machine stays calm."""

from __future__ import annotations

from collections.abc import Sequence
from math import sqrt

import numpy as np

from zevlo.core.camera.camera import Frame
from zevlo.core.refused import Refused
from zevlo.text import orders as say

MOST_RAYS = 2_000_000
"""Rays a piece follows at most."""
TILE_PX = 250
"""Side of a tile."""
MOST_PX = 16384 * 16384
"""Pixels of one picture: the machine that closes it needs about 90 bytes of memory for each."""
MOST_PIECES = 40_000
"""Of one order: about 2500 million pixels. While they are written the project is held, for seconds and no longer."""
FIRST_SAMPLES = 8
MOST_SAMPLES = MOST_RAYS // TILE_PX**2
"""Samples a pixel that a tile gets at a time."""
Tile = tuple[int, int, int, int]
"""The first and past the last column and row: left, top, right, bottom."""


def tiles_of(size: tuple[int, int]) -> list[Tile]:
    """The tiles of a picture, those in its middle first: there is what it is of."""
    width, height = size
    across, down = (range(0, side, TILE_PX) for side in size)
    tiles = [(x, y, min(x + TILE_PX, width), min(y + TILE_PX, height)) for y in down for x in across]

    def off_middle(tile: Tile) -> float:
        return abs(tile[0] + tile[2] - width) / width + abs(tile[1] + tile[3] - height) / height

    return sorted(tiles, key=off_middle)


def pieces_in(size: tuple[int, int]) -> int:
    """How many pieces a picture is made in: its tiles, and the closing of it."""
    across, down = (-(-side // TILE_PX) for side in size)
    return across * down + 1


def require_room(sizes: Sequence[tuple[int, int]]) -> None:
    """Raise :class:`~zevlo.core.refused.Refused` where a picture of one of these sizes, or an order of all of them, is
    larger than the lab takes, with what would fit."""
    for width, height in sizes:
        if width * height > MOST_PX:
            side = int(sqrt(MOST_PX / (width * height)) * max(width, height))
            raise Refused(say.a_picture_of_px(width, height, _millions(width * height), _millions(MOST_PX), side))
    pieces = np.cumsum([pieces_in(size) for size in sizes])
    if len(sizes) and pieces[-1] > MOST_PIECES:
        fit = int(np.searchsorted(pieces, MOST_PIECES, side="right"))
        all_px = sum(width * height for width, height in sizes)
        smaller = int(100.0 * sqrt(MOST_PIECES / pieces[-1]))
        while smaller > 1 and sum(pieces_in((w * smaller // 100, h * smaller // 100)) for w, h in sizes) > MOST_PIECES:
            smaller -= 1
        raise Refused(say.this_order_comes_to_pixels(_millions(all_px), len(sizes), fit, smaller))


def _millions(pixels: int) -> str:
    return say.million(pixels / 1.0e6).replace(",", " ")


def samples_next(done: int, most: int, pictures: int = 1) -> int:
    """How many samples a pixel a tile gets after ``done``: as many again as it has, so that a whole picture is there
    early and each look at it is twice as good as the one before. ``pictures``: of a stack, each of which gets them."""
    return min(max(done, FIRST_SAMPLES), max(1, MOST_SAMPLES // pictures), most - done)


def frame_of(tile: Tile, size: tuple[int, int], frame: Frame) -> Frame:
    """What of a shot's frame a tile of its picture shows; ``frame``: what the picture does."""
    width, height = size
    left, low, right, high = frame
    x, y = (right - left) / width, (high - low) / height
    return left + tile[0] * x, high - tile[3] * y, left + tile[2] * x, high - tile[1] * y


def grown(tile: Tile, by: int, size: tuple[int, int]) -> Tile:
    """A tile with so many pixels around it, as far as the picture goes."""
    left, top, right, bottom = tile
    return max(0, left - by), max(0, top - by), min(size[0], right + by), min(size[1], bottom + by)


def seed_of(seed: int, number: int, first: int, *picture: int) -> int:
    """The seed of a tile's samples from ``first`` on, and of a picture of a stack: nobody else's, and the same whoever
    makes it."""
    return int(np.random.SeedSequence([seed, number, first, *picture]).generate_state(1)[0])
