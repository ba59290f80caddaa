"""Where on earth a project stands, and where its north lies."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.light.setup import LightSetup, toward_sun
from zevlo.core.refused import Refused


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
class Lights:
    """The light setups of a project by their names, in their order, where its north lies."""

    setups: tuple[tuple[str, LightSetup], ...]
    north_deg: float = 0.0

    def of(self, name: str | None) -> PlacedLight:
        """The setup of a name, or the first where there is none."""
        found = next((setup for known, setup in self.setups if known == name), self.setups[0][1])
        return PlacedLight(light=found, north_deg=self.north_deg)

    def check(self, name: str | None) -> None:
        """Raises :class:`Refused` where no setup has that name."""
        if name is not None and name not in [known for known, _ in self.setups]:
            names = ", ".join(f"“{known}”" for known, _ in self.setups)
            raise Refused(f"There is no light “{name}” in this project, only {names}.")
