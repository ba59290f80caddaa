"""Left out: parts of the set a shot does not show."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Instrument, group_copied
from zevlo.core.instruments.left_out.gestures import LeaveOut, LeaveOutSeen, PutBackAll
from zevlo.core.instruments.left_out.sheet import differs, staleness_key
from zevlo.text import everywhere
from zevlo.text import left_out as say

LEFT_OUT = Instrument(
    key="left_out",
    name=say.LEFT_OUT,
    noun=everywhere.WHAT_IS_LEFT_OUT,
    gestures=(LeaveOutSeen, LeaveOut, PutBackAll),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(group_copied("left_out", say.WHAT_IS_LEFT_OUT),),
)
