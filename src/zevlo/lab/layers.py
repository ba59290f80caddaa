"""What an OpenEXR tells beside the picture: depths, and which part is where, by a matte of ids.

The matte is that of the openly published specification of id mattes by coverage (version 1.2, "Cryptomatte
specification", by the letter of its text, from memory): each part is known by the hash of its name, and each pixel
tells of the parts in it, the one that covers most first, with the share that each covers.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Protocol

import mmh3
import numpy as np
from numpy.typing import NDArray

from zevlo.core.camera.camera import Frame
from zevlo.core.finals.order import Layer
from zevlo.core.finals.pieces import MOST_RAYS, Tile, frame_of, seed_of
from zevlo.core.finals.recipe import Recipe
from zevlo.core.shot import Focus
from zevlo.lab.merge import rays_of
from zevlo.lab.renderer import Image, Renderer

RANKS = 6
"""Parts that a pixel tells of, at most."""
MATTE_SAMPLES = 16
"""Rays for each pixel by which its parts are told."""
_MATTE_SEED = 90_001


def bands(size: tuple[int, int]) -> Iterator[Tile]:
    """A picture in bands so low that telling the parts of one takes no more rays than a piece does."""
    width, height = size
    rows = max(1, MOST_RAYS // (MATTE_SAMPLES * width))
    for top in range(0, height, rows):
        yield 0, top, width, min(top + rows, height)


def depth_of(renderer: Renderer, recipe: Recipe, band: Tile, frame: Frame) -> Image:
    """Depths (h, w) in metres of what middles of pixels see, as the lens's law counts them; infinite for the sky."""
    size = band[2] - band[0], band[3] - band[1]
    own = frame_of(band, recipe.size_px, frame)
    per_m = renderer.per_metre(recipe.shot, rays_of(recipe.shot, size, own)).reshape(size[1], size[0])
    with np.errstate(divide="ignore"):
        return np.asarray(1.0 / per_m, dtype=np.float32)


def parts_of(renderer: Renderer, recipe: Recipe, band: Tile, frame: Frame) -> Image:
    """Hashes of parts and the shares they cover (h, w, 2 · RANKS), the greatest share first."""
    size = band[2] - band[0], band[3] - band[1]
    seed = seed_of(recipe.seed, _MATTE_SEED, band[1])
    own = frame_of(band, recipe.size_px, frame)
    # What is merged of a stack is sharp all over, and so are its edges.
    shot = recipe.shot.with_groups(focus=Focus(f_number=None)) if recipe.stack else recipe.shot
    met = renderer.parts_met(shot, size, own, MATTE_SAMPLES, seed)
    return matte(met, hashes(renderer.part_names)).reshape(size[1], size[0], 2 * RANKS)


class ByBand(Protocol):
    """Measures a layer for a band of a picture."""

    def __call__(self, renderer: Renderer, recipe: Recipe, band: Tile, frame: Frame) -> Image: ...


MEASURED: dict[Layer, ByBand] = {"depth": depth_of, "parts": parts_of}
"""The layers that are measured when a file is written; the others are gathered with the light."""


def matte(met: NDArray[np.int32], known_by: NDArray[np.float32]) -> Image:
    """``met`` (n, samples): numbers of parts, -1 for none. Hashes and shares (n, 2 · RANKS), hash before share."""
    count, samples = met.shape
    ordered = np.sort(met, axis=1)
    run = np.zeros(ordered.shape, dtype=np.int64)
    np.cumsum(ordered[:, 1:] != ordered[:, :-1], axis=1, out=run[:, 1:])
    slot = (run + samples * np.arange(count)[:, None]).ravel()
    shares = np.bincount(slot, minlength=count * samples).reshape(count, samples)
    parts = np.full(count * samples, -1, dtype=np.int32)
    parts[slot] = ordered.ravel()
    parts = parts.reshape(count, samples)
    shares[parts < 0] = 0
    first = np.argsort(-shares, axis=1, kind="stable")[:, :RANKS]
    parts, shares = np.take_along_axis(parts, first, axis=1), np.take_along_axis(shares, first, axis=1)
    out = np.zeros((count, 2 * RANKS), dtype=np.float32)
    out[:, 0::2] = np.where(shares > 0, known_by[np.maximum(parts, 0)], np.float32(0.0))
    out[:, 1::2] = shares / np.float32(samples)
    return out


def hash_bits(name: str) -> int:
    """The hash of a name: MurmurHash3, 32 bits, so changed that it is a plain floating-point number."""
    bits = mmh3.hash(name.encode(), 0, signed=False)
    exponent = bits >> 23 & 255
    return bits ^ (1 << 23) if exponent in (0, 255) else bits


def hashes(names: Sequence[str]) -> NDArray[np.float32]:
    """The hashes of names, as floating-point numbers of the same bits."""
    return np.array([hash_bits(name) for name in names], dtype=np.uint32).view(np.float32)


def layer_id(layer: str) -> str:
    """What a matte's attributes in a header begin with."""
    return f"{hash_bits(layer):08x}"[:7]
