"""Focus: distance and stop, how blur is judged, the sharp zone that comes of them, and both asked for backwards."""

from __future__ import annotations

from zevlo.core.instruments.focus.alternatives import SharpAnyhow, alternatives
from zevlo.core.instruments.focus.distance import (
    FocusAt,
    FocusHyperfocal,
    FocusOnBarrel,
    FocusOnPaper,
    FocusTo,
    FollowFocusPart,
    FollowFocusSeen,
    LetFocusGo,
)
from zevlo.core.instruments.focus.probes import PinProbe, ProbeAway
from zevlo.core.instruments.focus.sheet import compute_sheet, differs, staleness_key
from zevlo.core.instruments.focus.stacks import StackAway, StackBetween, StackPartSeen, StackPoints
from zevlo.core.instruments.focus.stop_solver import (
    EverythingSharp,
    PartSharp,
    PartSharpSeen,
    SharpBetween,
    SharpPoints,
    SoftWhileSharp,
)
from zevlo.core.instruments.focus.stops import SharpOnPaper, SharpTo, StopByBracket, StopTo
from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied
from zevlo.text import everywhere
from zevlo.text import focus as say

FOCUS = Instrument(
    key="focus",
    name=everywhere.FOCUS,
    gestures=(
        FocusAt, FocusTo, FocusOnPaper, FocusOnBarrel, FocusHyperfocal, FollowFocusPart, FollowFocusSeen, LetFocusGo,
        SharpTo, SharpOnPaper, StopTo, StopByBracket, SharpBetween, SharpPoints, PartSharp, PartSharpSeen,
        EverythingSharp, SoftWhileSharp, PinProbe, ProbeAway,
        SharpAnyhow, StackBetween, StackPoints, StackPartSeen, StackAway,
    ),
    part=SheetPart("focus", compute_sheet, lambda shot: bool(shot.focus.probes) or shot.focus.follow is not None),
    differs=differs,
    staleness_key=staleness_key,
    alternatives=alternatives,
    copied=(group_copied("focus", say.FOCUS_AND_STOP),),
)  # fmt: skip
