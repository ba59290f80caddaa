"""Back: film size, how the picture lies in it, the output size in pixels, trim and crops of its own."""

from __future__ import annotations

from zevlo.core.instruments.back.crops import CropAway, CropBy, CropCorner, CropsAdd, CropSize
from zevlo.core.instruments.back.one_side import SideTo
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.back.sheet import compute_sheet, differs, staleness_key
from zevlo.core.instruments.back.trimming import EdgeTo, TrimRatio, WholeFrame
from zevlo.core.instruments.instrument import Copied, Instrument, SheetPart
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.text import back as say
from zevlo.text import everywhere


def _back_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    return target.model_copy(update={"back": source.back.model_copy(update={"crops": target.back.crops})})


def _crops_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    return target.model_copy(update={"back": target.back.model_copy(update={"crops": source.back.crops})})


BACK = Instrument(
    key="back",
    name=everywhere.BACK,
    gestures=(FocalKeep, EdgeTo, TrimRatio, WholeFrame, SideTo, CropsAdd, CropBy, CropCorner, CropSize, CropAway),
    part=SheetPart("back", compute_sheet),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(Copied("back", say.BACK_AND_SIZE, _back_of), Copied("crops", say.CROPS, _crops_of)),
)
