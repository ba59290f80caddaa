"""The light of a project: sun and a plain sky, in photometric units."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.stand.pose import direction

SUN_RADIUS_DEG = 0.2665
"""Half the angle the sun fills in the sky (from memory)."""


class Sun(Settings):
    """Sun by hand: height above the horizon, heading it shines from, light on a surface facing it."""

    height_deg: float = Field(38.0, ge=-90.0, le=90.0)
    heading_deg: float = Field(122.0, ge=-360.0, le=360.0)
    """Where it shines from, clockwise from north."""
    illuminance_lx: float = Field(75_000.0, ge=0.0, le=200_000.0)
    color: tuple[float, float, float] = (1.0, 0.95, 0.87)


class Sky(Settings):
    """A sky of one luminance all over."""

    luminance_cd_m2: float = Field(5_500.0, ge=0.0, le=100_000.0)
    color: tuple[float, float, float] = (0.90, 0.98, 1.12)


class LightSetup(Settings):
    """Light shared by the shots of a project."""

    sun: Sun = Sun()
    sky: Sky = Sky()


def toward_sun(sun: Sun, north_deg: float = 0.0) -> Floats:
    """Unit vector towards the sun, (3,). ``north_deg``: where north lies, clockwise from +Y."""
    return direction(sun.heading_deg + north_deg, sun.height_deg)


def sky_radiance(sky: Sky) -> Floats:
    """Linear RGB of the sky, (3,), with the luminance it states (BT.709 weights)."""
    return _with_luminance(sky.color, sky.luminance_cd_m2)


def sun_irradiance(sun: Sun) -> Floats:
    """Linear RGB of the sunlight on a facing surface, (3,), lux; none from below the horizon."""
    return _with_luminance(sun.color, sun.illuminance_lx if sun.height_deg > 0.0 else 0.0)


LUMINANCE_WEIGHTS = np.array([0.2126, 0.7152, 0.0722])
"""Luminance of linear sRGB (ITU-R BT.709)."""


def _with_luminance(color: tuple[float, float, float], luminance: float) -> Floats:
    rgb = np.array(color)
    return rgb * (luminance / float(rgb @ LUMINANCE_WEIGHTS))
