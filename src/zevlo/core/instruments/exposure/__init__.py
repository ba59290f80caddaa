"""Exposure: shutter time, film speed, and the light meter."""

from __future__ import annotations

from zevlo.core.instruments.exposure.gestures import Meter
from zevlo.core.instruments.exposure.sheet import differs, shows, tell
from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied

EXPOSURE = Instrument(
    key="exposure",
    name="Exposure",
    gestures=(Meter,),
    part=SheetPart("exposure", tell),
    differs=differs,
    shows=shows,
    copied=(group_copied("exposure", "Exposure"),),
)
