"""A stack's pictures made one that is sharp all over: each place from the picture that draws it sharpest, by its depth.

How soft a place is in each picture follows from its depth and the lens. What lies before it counts too: blurred wider
than it is away, it spreads over that place. So each place is taken from where the worse of both is least, and pictures
that are as good as each other are mixed, so that no seam is to be seen.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, maximum_filter

from zevlo.core.camera.camera import Frame, Rays
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.finals.pieces import Tile, frame_of, grown
from zevlo.core.optics.back import fit_back
from zevlo.core.shot import Shot
from zevlo.lab.renderer import Image

Depths = NDArray[np.float64]
REACHES_PX = (1, 2, 4, 8, 16, 32)
"""How far off it is looked for what lies before a place, in a picture of this size and below:"""
REACHING_PX = 960
"""on its longest side; in larger ones farther by as much."""
NEARER = 1.02
"""What is this many times nearer lies before something."""
ALIKE_PX = 0.3
"""Pictures whose blur differs by less are mixed."""
SPARED_PX = 0.15
"""So much softer a place may be for a picture less that has to be made,"""
SHARP_PX = 0.5
"""or as soft as this: its pixels are no sharper."""
SMOOTHED_PX = 0.6
SMOOTHED_OVER_PX = 3
"""No farther off does it matter what is smoothed."""


def middles(size: tuple[int, int]) -> Depths:
    """The middles (n, 2) of a picture's pixels in its frame, row by row from the top."""
    width, height = size
    x, y = np.meshgrid((np.arange(width) + 0.5) / width, 1.0 - (np.arange(height) + 0.5) / height)
    return np.column_stack([x.ravel(), y.ravel()])


def rays_of(shot: Shot, size: tuple[int, int], frame: Frame) -> Rays:
    """What the middles of a picture's pixels look along, row by row from the top."""
    return camera_of(shot).within(frame).rays(middles(size))


def shares(
    measured: Callable[[Shot, Rays], Depths], shots: Sequence[Shot], size: tuple[int, int], frame: Frame,
) -> NDArray[np.float32]:  # fmt: skip
    """How much of each picture (pictures, H, W) is taken where; 1 in all. ``measured`` gives the inverses of the depths
    of what rays of a shot meet, 1/m, 0 for the sky."""
    whole = 0, 0, *size
    return mixed(softness(measured, shots, size, frame, whole), whole, size)


def softness(
    measured: Callable[[Shot, Rays], Depths], shots: Sequence[Shot], size: tuple[int, int], frame: Frame, tile: Tile
) -> NDArray[np.float32]:
    """How soft the pictures (pictures, h, w) are in a tile of theirs and what of it lies :data:`SMOOTHED_OVER_PX`
    around it, in pixels.

    ``measured``: the depths of rays; ``shots``: a picture each; ``size``: (width, height) of the whole in pixels;
    ``frame``: what of it is shown; ``tile``: which."""
    times_farther = max(1.0, max(size) / REACHING_PX)
    reaches = [round(reach * times_farther) for reach in REACHES_PX]
    wide, near_by = grown(tile, reaches[-1] + SMOOTHED_OVER_PX, size), grown(tile, SMOOTHED_OVER_PX, size)
    all_round, own = _rays_in(shots[0], wide, size, frame), _rays_in(shots[0], near_by, size, frame)
    inner = _within(near_by, wide)
    depths = measured(shots[0], all_round).reshape(_shape(wide))
    per_m = depths[inner]
    nearest = [(reach, maximum_filter(depths, size=2 * reach + 1)[inner]) for reach in reaches]
    pose, shape = camera_of(shots[0]).pose, per_m.shape
    ahead = own.directions @ pose.forward
    before = np.where(ahead > 1.0e-6, ahead, 1.0)
    across, up = (((own.directions @ axis) / before).reshape(shape) for axis in (pose.right, pose.up))
    larger = (
        camera_of(shots[0])
        .drawn_larger(own.directions @ np.stack([pose.right, pose.up, pose.forward]).T)
        .reshape(shape)
    )
    soft = np.empty((len(shots), *shape), dtype=np.float32)
    for number, shot in enumerate(shots):
        fitted = fit_back(shot.back)
        law = Framing(shot).blur_law
        # In pixels of this picture, not of the final one.
        times = larger * law.times * size[0] / (fitted.output_px[0] * (frame[2] - frame[0]))
        focus = law.focus + law.lean[0] * across + law.lean[1] * up
        worst = times * np.abs(focus - per_m)
        for reach, near in nearest:
            spread = times * np.abs(focus - near)
            over = (near > per_m * NEARER) & (spread / 2.0 >= 0.5 * reach)
            worst = np.where(over, np.maximum(worst, spread), worst)
        soft[number] = worst
    return soft


def mixed(soft: NDArray[np.float32], tile: Tile, size: tuple[int, int]) -> NDArray[np.float32]:
    """How much of each picture (pictures, h, w) is taken in a tile: of the sharpest most, and 1 in all. ``soft``: as
    :func:`softness` has it."""
    taken = np.exp(-(soft - soft.min(axis=0)) / ALIKE_PX)
    for number in range(len(taken)):
        taken[number] = gaussian_filter(taken[number], SMOOTHED_PX)
    inner = _within(tile, grown(tile, SMOOTHED_OVER_PX, size))
    return np.asarray((taken / taken.sum(axis=0))[:, *inner], dtype=np.float32)


def enough(soft: NDArray[np.float32]) -> list[int]:
    """So few of the pictures that with them alone no place is softer by more than :data:`SPARED_PX`, or as sharp as
    its pixels."""
    as_good = (soft <= np.maximum(soft.min(axis=0) + SPARED_PX, SHARP_PX)).reshape(len(soft), -1)
    left, chosen = np.ones(as_good.shape[1], dtype=bool), []
    while left.any():
        chosen.append(int(np.argmax(as_good[:, left].sum(axis=1))))
        left &= ~as_good[chosen[-1]]
    return sorted(chosen)


def _rays_in(shot: Shot, tile: Tile, size: tuple[int, int], frame: Frame) -> Rays:
    return rays_of(shot, _shape(tile)[::-1], frame_of(tile, size, frame))


def _shape(tile: Tile) -> tuple[int, int]:
    """Rows and columns of a tile."""
    return tile[3] - tile[1], tile[2] - tile[0]


def _within(tile: Tile, larger: Tile) -> tuple[slice, slice]:
    """Where a tile lies in an array of a larger one."""
    left, top = tile[0] - larger[0], tile[1] - larger[1]
    rows, columns = _shape(tile)
    return slice(top, top + rows), slice(left, left + columns)


def merged(pictures: Iterable[Image], taken: NDArray[np.float32]) -> Image:
    """The pictures (H, W, 3), one after the other, as one."""
    total = np.zeros((*taken.shape[1:], 3), dtype=np.float32)
    for picture, share in zip(pictures, taken, strict=True):
        total += picture * share[..., None]
    return total
