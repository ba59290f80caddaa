"""The light meter: a shot exposed for what its frame shows."""

from __future__ import annotations

import numpy as np

from zevlo.core.camera import camera_of
from zevlo.core.optics import exposure
from zevlo.core.scene.lit import LitSet, middle_luminance, radiance
from zevlo.core.shot import Shot
from zevlo.core.solve import effective_f_number

METER_RAYS = (24, 16)
METER_PATHS = 12
METER_BOUNCES = 4


def exposed(shot: Shot, ev: float) -> Shot:
    """The shot at another EV100; the shutter gives way, within what a shutter can do."""
    shutter = exposure.shutter_for(ev, effective_f_number(shot), shot.exposure.iso)
    held = float(np.clip(shutter, 1.0e-6, 36000.0))
    return shot.with_groups(exposure=shot.exposure.model_copy(update={"shutter_s": held}))


def metered(shot: Shot, lit: LitSet) -> Shot:
    """The shot exposed for the log-average luminance of its frame, by the core's own rays."""
    camera = camera_of(shot)
    columns, rows = METER_RAYS
    x, y = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    rays = camera.rays(np.column_stack([x.ravel(), y.ravel()]))
    starts, ways, reach = (np.repeat(of, METER_PATHS, axis=0) for of in (rays.starts, rays.ways, rays.far - rays.near))
    colors = radiance(lit, starts, ways, METER_BOUNCES, reach=reach).reshape(-1, METER_PATHS, 3).mean(axis=1)
    return exposed(shot, round(exposure.ev_for_luminance(middle_luminance(colors)) * 3.0) / 3.0)
