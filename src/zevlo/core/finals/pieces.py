"""What a final is made in: tiles of its pixels, each by some samples at a time, so few that a machine stays calm."""

from __future__ import annotations

import numpy as np

from zevlo.core.camera import Frame

MOST_RAYS = 2_000_000
"""Rays a piece follows at most."""
TILE_PX = 250
"""Side of a tile."""
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


def samples_next(done: int, most: int) -> int:
    """How many samples a pixel a tile gets after ``done``: as many again as it has, so that a whole picture is there
    early and each look at it is twice as good as the one before."""
    return min(max(done, FIRST_SAMPLES), MOST_SAMPLES, most - done)


def frame_of(tile: Tile, size: tuple[int, int], frame: Frame) -> Frame:
    """What of a shot's frame a tile of its picture shows; ``frame``: what the picture does."""
    width, height = size
    left, low, right, high = frame
    x, y = (right - left) / width, (high - low) / height
    return left + tile[0] * x, high - tile[3] * y, left + tile[2] * x, high - tile[1] * y


def seed_of(seed: int, number: int, first: int) -> int:
    """The seed of a tile's samples from ``first`` on: nobody else's, and the same whoever makes it."""
    return int(np.random.SeedSequence([seed, number, first]).generate_state(1)[0])
