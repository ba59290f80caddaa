"""Exposure: shutter time, film speed, and the light meter."""

from __future__ import annotations

from zevlo.core.instruments.exposure.gestures import Meter
from zevlo.core.instruments.exposure.sheet import compute_sheet, differs, staleness_key
from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied
from zevlo.text import everywhere

EXPOSURE = Instrument(
    key="exposure",
    name=everywhere.EXPOSURE,
    gestures=(Meter,),
    part=SheetPart("exposure", compute_sheet),
    differs=differs,
    staleness_key=staleness_key,
    copied=(group_copied("exposure", everywhere.EXPOSURE),),
)
