"""The light meter: what a camera's frame shows, read by the core's own rays."""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera
from zevlo.core.optics import exposure
from zevlo.core.scene.lit import LitSet, luminance_of, middle_luminance, radiance

METER_RAYS = (24, 16)
METER_PATHS = 12
METER_BOUNCES = 6
"""As often as the light of a print is scattered: a room lit round a corner lives on the last of them."""

_BLOCKS = (8, 4, 2, 1)
_SURE = 0.25
_SURE_OF_FRAME = 0.1
_MOST_PATHS = 16 * METER_PATHS


def _mean_and_doubt(luminance: Floats) -> tuple[Floats, Floats]:
    """Mean over the paths (N, …) and its standard error as a share of it; without any light the doubt is whole."""
    mean = luminance.mean(axis=0)
    error = luminance.std(axis=0, ddof=1) / np.sqrt(len(luminance))
    return mean, np.where(mean > 0.0, error / np.maximum(mean, 1e-300), np.inf)


def even_luminance(luminance: Floats) -> Floats:
    """Luminance of a frame (rows, columns) from single paths (N, rows, columns), each place as fine as it is sure.

    Few paths find the light of a room lit through a door; the logarithm of a place where none did would tell night.
    So a place takes the mean of the block around it until its own is sure to a quarter.
    """
    even = np.full(luminance.shape[1:], luminance.mean())
    for size in _BLOCKS:
        count, rows, columns = luminance.shape
        blocks = luminance.reshape(count, rows // size, size, columns // size, size).mean(axis=(2, 4))
        mean, doubt = (np.kron(of, np.ones((size, size))) for of in _mean_and_doubt(blocks))
        even = np.where(doubt <= _SURE, mean, even)
    return even


def metered_ev(camera: Camera, lit: LitSet) -> float:
    """EV100 for the log-average luminance of a camera's frame, in thirds of a stop.

    Where little light finds its way, more paths are followed, until the frame's mean is sure.
    """
    columns, rows = METER_RAYS
    x, y = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    places = np.column_stack([x.ravel(), y.ravel()])
    rays = camera.rays(places)
    starts, directions, reach = (
        np.repeat(of, METER_PATHS, axis=0) for of in (rays.starts, rays.directions, rays.far - rays.near)
    )
    seen = np.repeat(rays.sees * camera.light(places), METER_PATHS)
    read = np.empty((0, rows, columns))
    while len(read) < _MOST_PATHS:
        colors = radiance(lit, starts, directions, METER_BOUNCES, seed=len(read), reach=reach)
        paths = (luminance_of(colors) * seen).reshape(rows, columns, METER_PATHS)
        read = np.concatenate([read, np.moveaxis(paths, 2, 0)])
        if _mean_and_doubt(read.mean(axis=(1, 2)))[1] <= _SURE_OF_FRAME:
            break
    read_even = even_luminance(read).ravel()[camera.in_circle(places)]
    return round(exposure.ev_for_luminance(middle_luminance(read_even)) * 3.0) / 3.0
