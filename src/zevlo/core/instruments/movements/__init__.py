"""Movements: the film shifted behind its lens, uprights made true, the lens tilted, what the image circle allows."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied
from zevlo.core.instruments.movements.alternatives import EnlargeInstead, TrueFromElsewhere
from zevlo.core.instruments.movements.focus_plane import (
    FocusPlaneOn,
    FocusPlaneOnPaper,
    FocusPlaneThrough,
    HingeOnPaper,
    LensParallel,
    TurnLens,
)
from zevlo.core.instruments.movements.sheet import compute_sheet, differs, staleness_key
from zevlo.core.instruments.movements.shifting import ShiftTo, Unshift
from zevlo.core.instruments.movements.straightening import SquareOn, Straighten, Unstraighten
from zevlo.text import everywhere

MOVEMENTS = Instrument(
    key="movements",
    name=everywhere.MOVEMENTS,
    gestures=(
        ShiftTo, Unshift, Straighten, SquareOn, Unstraighten, EnlargeInstead, TrueFromElsewhere, FocusPlaneThrough,
        FocusPlaneOn, FocusPlaneOnPaper, HingeOnPaper, TurnLens, LensParallel,
    ),
    part=SheetPart("movements", compute_sheet, lambda _: True),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(group_copied("movements", everywhere.MOVEMENTS),),
)  # fmt: skip
