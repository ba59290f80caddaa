"""Where on earth a project stands, and where its north lies."""

from __future__ import annotations

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.core.light.setup import LightSetup


class Site(Settings):
    """``north_deg``: where north lies, clockwise from the set's +Y. Latitude north and longitude east are positive."""

    north_deg: float = Field(0.0, ge=-360.0, le=360.0)
    latitude_deg: float | None = Field(None, ge=-90.0, le=90.0)
    longitude_deg: float | None = Field(None, ge=-180.0, le=180.0)
    name: str = Field("", max_length=120)


def light_at(light: LightSetup, site: Site) -> LightSetup:
    """The light with its sun's heading counted from the set's +Y instead of from north."""
    heading = (light.sun.heading_deg + site.north_deg) % 360.0
    return light.model_copy(update={"sun": light.sun.model_copy(update={"heading_deg": heading})})
