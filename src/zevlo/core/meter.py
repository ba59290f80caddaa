"""The light meter: what a camera's frame shows, read by the core's own rays."""

from __future__ import annotations

import numpy as np

from zevlo.core.camera import Camera
from zevlo.core.optics import exposure
from zevlo.core.scene.lit import LitSet, middle_luminance, radiance

METER_RAYS = (24, 16)
METER_PATHS = 12
METER_BOUNCES = 4


def metered_ev(camera: Camera, lit: LitSet) -> float:
    """EV100 for the log-average luminance of a camera's frame, in thirds of a stop."""
    columns, rows = METER_RAYS
    x, y = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    rays = camera.rays(np.column_stack([x.ravel(), y.ravel()]))
    starts, ways, reach = (np.repeat(of, METER_PATHS, axis=0) for of in (rays.starts, rays.ways, rays.far - rays.near))
    colors = radiance(lit, starts, ways, METER_BOUNCES, reach=reach).reshape(-1, METER_PATHS, 3).mean(axis=1)
    return round(exposure.ev_for_luminance(middle_luminance(colors)) * 3.0) / 3.0
