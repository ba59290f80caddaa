"""A tile of a final that is merged of a stack: what is taken of each of its pictures there, gathered and put together.

Only so many of the pictures are made in a tile as it takes for all in it to be sharp, and each only where it is taken.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from zevlo.core.camera.camera import Frame
from zevlo.core.finals.pieces import Tile, frame_of, seed_of
from zevlo.core.finals.recipe import Recipe
from zevlo.core.instruments.focus.stacks import frame_at
from zevlo.core.shot import Shot
from zevlo.lab.merge import enough, mixed, softness
from zevlo.lab.renderer import Gathered, Renderer

LEAST = 0.04
"""A smaller share of a picture is not taken."""


@dataclass(frozen=True)
class Taken:
    """What is taken of one picture of a stack: where, of the whole picture, and the share (h, w) of it there."""

    number: int
    shot: Shot
    where: Tile
    share: NDArray[np.float64]


def taken_in(renderer: Renderer, recipe: Recipe, tile: Tile, frame: Frame) -> tuple[Taken, ...]:
    """What is taken of which pictures of a stack in a tile of the picture whose frame that is."""
    shots = [frame_at(recipe.shot, distance) for distance in recipe.stack]
    soft = softness(renderer.per_metre, shots, recipe.size_px, frame, tile)
    numbers = enough(soft)
    shares = mixed(soft[numbers], tile, recipe.size_px).astype(np.float64)
    shares[shares < LEAST] = 0.0
    shares /= shares.sum(axis=0)
    taken = []
    for number, share in zip(numbers, shares, strict=True):
        rows, columns = (np.flatnonzero(share.any(axis=axis)) for axis in (1, 0))
        if len(rows) > 0:
            here = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
            left, top = tile[0] + int(columns[0]), tile[1] + int(rows[0])
            where = left, top, left + share[here].shape[1], top + share[here].shape[0]
            taken.append(Taken(number, shots[number], where, share[here]))
    return tuple(taken)


def rays_each(taken: tuple[Taken, ...], tile: Tile) -> float:
    """How many rays are followed for each pixel of a tile and each sample of it."""
    return sum(one.share.size for one in taken) / ((tile[2] - tile[0]) * (tile[3] - tile[1]))


def pictures_in(taken: tuple[Taken, ...], tile: Tile) -> int:
    """As many whole pictures as that comes to, rounded up."""
    return ceil(rays_each(taken, tile))


def gathered(
    renderer: Renderer, recipe: Recipe, taken: tuple[Taken, ...], tile: Tile, frame: Frame, samples: int,
    seed: tuple[int, int], white: float,
) -> Gathered:  # fmt: skip
    """What so many samples of each come to. ``seed``: the number of the tile, and the samples before.

    ``renderer``: of the set; ``recipe``: of the print; ``taken``: the pictures; ``tile`` of ``frame``; ``white``:
    cd/m²."""
    total = np.zeros((tile[3] - tile[1], tile[2] - tile[0], 11), dtype=np.float64)
    for one in taken:
        left, top, right, bottom = one.where
        own = frame_of(one.where, recipe.size_px, frame)
        chance = seed_of(recipe.seed, *seed, one.number + 1)
        made = renderer.tile(one.shot, (right - left, bottom - top), own, samples, chance, white)
        planes, share = made.planes.astype(np.float64), one.share
        here = total[top - tile[1] : bottom - tile[1], left - tile[0] : right - tile[0]]
        here[..., :10] += planes[..., :10] * share[..., None]
        # Scatter of sums of what is by chance: by the squares of their shares.
        here[..., 10] += share * share * np.maximum(planes[..., 10] - planes[..., 9] ** 2, 0.0)
    total[..., 10] += total[..., 9] ** 2
    return Gathered(total.astype(np.float32), samples)
