"""A stack's pictures made one that is sharp all over: each place from the picture that draws it sharpest, by its depth.

How soft a place is in each picture follows from its depth and the lens. What lies before it counts too: blurred wider
than it is away, it spreads over that place. So each place is taken from where the worse of both is least, and pictures
that are as good as each other are mixed, so that no seam is to be seen.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, maximum_filter

from zevlo.core.camera import Frame, Rays, camera_of
from zevlo.core.optics.back import cut_back
from zevlo.core.sharp_zone import blur_law_of
from zevlo.core.shot import Shot
from zevlo.lab.renderer import Image

Depths = NDArray[np.float64]
REACHES_PX = (1, 2, 4, 8, 16, 32)
"""How far off it is looked for what lies before a place."""
NEARER = 1.02
"""What is this many times nearer lies before something."""
ALIKE_PX = 0.3
"""Pictures whose blur differs by less are mixed."""
SMOOTHED_PX = 0.6


def middles(size: tuple[int, int]) -> Depths:
    """The middles (n, 2) of a picture's pixels in its frame, row by row from the top."""
    width, height = size
    x, y = np.meshgrid((np.arange(width) + 0.5) / width, 1.0 - (np.arange(height) + 0.5) / height)
    return np.column_stack([x.ravel(), y.ravel()])


def rays_of(shot: Shot, size: tuple[int, int], frame: Frame) -> Rays:
    """What the middles of a picture's pixels look along, row by row from the top."""
    return camera_of(shot).within(frame).rays(middles(size))


def shares(shots: Sequence[Shot], per_m: Depths, size: tuple[int, int], frame: Frame) -> NDArray[np.float32]:
    """How much of each picture (pictures, H, W) is taken where; 1 in all. ``per_m`` (H, W): the inverses of the depths,
    1/m, 0 for the sky."""
    width, height = size
    camera, rays = camera_of(shots[0]), rays_of(shots[0], size, frame)
    ahead = rays.ways @ camera.pose.forward
    before = np.where(ahead > 1.0e-6, ahead, 1.0)
    across, up = (((rays.ways @ axis) / before).reshape(height, width) for axis in (camera.pose.right, camera.pose.up))
    nearest = [(reach, maximum_filter(per_m, size=2 * reach + 1)) for reach in REACHES_PX]
    cost = np.empty((len(shots), height, width), dtype=np.float32)
    for number, shot in enumerate(shots):
        law = blur_law_of(shot, cut_back(shot.back))
        # In pixels of this picture, not of the final one.
        times = law.times * width / (shot.back.output_px[0] * (frame[2] - frame[0]))
        focus = law.focus + law.lean[0] * across + law.lean[1] * up
        worst = times * np.abs(focus - per_m)
        for reach, near in nearest:
            spread = times * np.abs(focus - near)
            over = (near > per_m * NEARER) & (spread / 2.0 >= 0.5 * reach)
            worst = np.where(over, np.maximum(worst, spread), worst)
        cost[number] = worst
    taken = np.exp(-(cost - cost.min(axis=0)) / ALIKE_PX)
    for number in range(len(shots)):
        taken[number] = gaussian_filter(taken[number], SMOOTHED_PX)
    return np.asarray(taken / taken.sum(axis=0), dtype=np.float32)


def merged(pictures: Iterable[Image], taken: NDArray[np.float32]) -> Image:
    """The pictures (H, W, 3), one after the other, as one."""
    total = np.zeros((*taken.shape[1:], 3), dtype=np.float32)
    for picture, share in zip(pictures, taken, strict=True):
        total += picture * share[..., None]
    return total
