"""Where on earth a project stands, and where its north lies."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.light.setup import LightSetup, toward_sun
from zevlo.core.refused import Refused
from zevlo.core.shot.light import ShotLight
from zevlo.text import light as say


class Site(Settings):
    """``north_deg``: where north lies, clockwise from the set's +Y. Latitude north and longitude east are positive."""

    north_deg: float = Field(0.0, ge=-360.0, le=360.0)
    latitude_deg: float | None = Field(None, ge=-90.0, le=90.0)
    longitude_deg: float | None = Field(None, ge=-180.0, le=180.0)
    name: str = Field("", max_length=120)


class PlacedLight(Settings):
    """A light setup where it shines: its sun's heading counts from north, as everywhere, and this is where north is."""

    light: LightSetup
    north_deg: float = 0.0
    """Where north lies, clockwise from the set's +Y."""

    def toward_sun(self) -> Floats:
        """Unit vector in the set towards the sun, (3,)."""
        return toward_sun(self.light.sun, self.north_deg)

    def shines_as(self, other: PlacedLight) -> bool:
        """Whether the light in the set is the same, whichever way it is told."""
        return self._in_set() == other._in_set()

    def _in_set(self) -> LightSetup:
        sun = self.light.sun
        heading = round((sun.heading_deg + self.north_deg) % 360.0, 9)
        return self.light.model_copy(update={"sun": sun.model_copy(update={"heading_deg": heading})})


@dataclass(frozen=True)
class NamedLight:
    """A light setup of a project, known for good by its id."""

    id: uuid.UUID
    name: str
    setup: LightSetup


@dataclass(frozen=True)
class Lights:
    """The light setups of a project in their order, and where its north lies."""

    setups: tuple[NamedLight, ...]
    north_deg: float = 0.0

    def of(self, wanted: ShotLight | None) -> PlacedLight:
        """The light a shot is taken in; the project's first where it names none, or one that is not there."""
        found = self._known(wanted) or self.setups[0]
        return PlacedLight(light=found.setup, north_deg=self.north_deg)

    def check(self, wanted: ShotLight | None) -> None:
        """Raises :class:`Refused` where the project has no such setup."""
        if wanted is not None and self._known(wanted) is None:
            names = ", ".join(f"“{one.name}”" for one in self.setups)
            raise Refused(say.there_is_no_light(wanted.name or wanted.id, names))

    def _known(self, wanted: ShotLight | None) -> NamedLight | None:
        """By its id; where that is not told, or is another project's, by its name."""
        if wanted is None:
            return None
        by_id = (one for one in self.setups if one.id == wanted.id)
        return next(by_id, next((one for one in self.setups if one.name == wanted.name), None))
