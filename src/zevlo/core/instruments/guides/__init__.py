"""Guides: which composition guides are shown in the frame."""

from __future__ import annotations

from zevlo.core.instruments.guides.sheet import compute_sheet, differs
from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied
from zevlo.text import guides as say

GUIDE_LINES = Instrument(
    key="guides",
    name=say.GUIDES,
    part=SheetPart("guides", compute_sheet, lambda _: True),
    differs=differs,
    copied=(group_copied("guides", say.GUIDES),),
)
