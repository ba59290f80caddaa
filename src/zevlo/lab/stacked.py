"""A tile of a final that is merged of a stack: what is taken of each of its pictures there, gathered and put together.

Only so many of the pictures are made in a tile as it takes for all in it to be sharp.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.camera import Frame
from zevlo.core.finals.pieces import Tile, frame_of, seed_of
from zevlo.core.instruments.focus.stacks import frame_at
from zevlo.core.recipe import Recipe
from zevlo.core.shot import Shot
from zevlo.lab.merge import enough, mixed, softness
from zevlo.lab.renderer import Gathered, Renderer


@dataclass(frozen=True)
class Takes:
    """The pictures of a stack that are made in a tile, by their numbers, and the share (n, h, w) of each."""

    numbers: tuple[int, ...]
    shots: tuple[Shot, ...]
    shares: NDArray[np.float32]


def taken_in(renderer: Renderer, recipe: Recipe, tile: Tile, frame: Frame) -> Takes:
    """Which pictures of a stack are taken in a tile of the picture whose frame that is."""
    shots = [frame_at(recipe.shot, distance) for distance in recipe.stack]
    soft = softness(renderer.per_metre, shots, recipe.size_px, frame, tile)
    numbers = enough(soft)
    return Takes(tuple(numbers), tuple(shots[n] for n in numbers), mixed(soft[numbers], tile, recipe.size_px))


def gathered(
    renderer: Renderer, recipe: Recipe, takes: Takes, tile: Tile, frame: Frame, samples: int,
    seed: tuple[int, int], white: float,
) -> Gathered:  # fmt: skip
    """What so many samples of each come to. ``seed``: the number of the tile, and the samples before."""
    size = tile[2] - tile[0], tile[3] - tile[1]
    own = frame_of(tile, recipe.size_px, frame)
    total = np.zeros((size[1], size[0], 11), dtype=np.float64)
    scatter = np.zeros(total.shape[:2], dtype=np.float64)
    for number, shot, share in zip(takes.numbers, takes.shots, takes.shares, strict=True):
        made = renderer.tile(shot, size, own, samples, seed_of(recipe.seed, *seed, number + 1), white)
        planes, part = made.planes.astype(np.float64), share.astype(np.float64)
        total[..., :10] += planes[..., :10] * part[..., None]
        # Grain of sums of what is by chance: by the squares of their shares.
        scatter += part * part * np.maximum(planes[..., 10] - planes[..., 9] ** 2, 0.0)
    total[..., 10] = total[..., 9] ** 2 + scatter
    return Gathered(total.astype(np.float32), samples)
