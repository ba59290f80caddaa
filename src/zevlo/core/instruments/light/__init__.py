"""Light: in which of its project's light setups a shot is taken."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Instrument, group_copied
from zevlo.core.instruments.light.sheet import differs
from zevlo.text import everywhere

LIGHT = Instrument(
    key="light", name=everywhere.LIGHT, differs=differs, copied=(group_copied("light", everywhere.LIGHT),)
)
