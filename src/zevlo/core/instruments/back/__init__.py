"""Back: film size, how it is cut to the output ratio, the output size in pixels, trim and cuts of its own."""

from __future__ import annotations

from zevlo.core.instruments.back.crops import CutAway, CutBy, CutCorner, CutsAdd, CutSize
from zevlo.core.instruments.back.one_side import SideTo
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.back.sheet import differs, shows, tell
from zevlo.core.instruments.back.trimming import EdgeTo, TrimRatio, WholeFrame
from zevlo.core.instruments.instrument import Copied, Instrument, SheetPart
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot


def _back_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    return target.model_copy(update={"back": source.back.model_copy(update={"cuts": target.back.cuts})})


def _cuts_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    return target.model_copy(update={"back": target.back.model_copy(update={"cuts": source.back.cuts})})


BACK = Instrument(
    key="back",
    name="Back",
    gestures=(FocalKeep, EdgeTo, TrimRatio, WholeFrame, SideTo, CutsAdd, CutBy, CutCorner, CutSize, CutAway),
    part=SheetPart("back", tell),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(Copied("back", "Back and size", _back_of), Copied("cuts", "Cuts", _cuts_of)),
)
