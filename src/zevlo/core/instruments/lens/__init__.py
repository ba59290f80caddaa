"""Lens: focal length, projection, what is drawn of near and far, and the angle of view that comes of them."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Instrument, SheetPart, group_copied
from zevlo.core.instruments.lens.angle import AngleTo, WedgeTo
from zevlo.core.instruments.lens.bounds import BoundOnPaper
from zevlo.core.instruments.lens.character import BendTo, Breathing
from zevlo.core.instruments.lens.cutting import CutAtWall, CuttingFlip, CuttingLine, CuttingTo, StandBehind
from zevlo.core.instruments.lens.primes import PrimeStep
from zevlo.core.instruments.lens.projection import ProjectionTo
from zevlo.core.instruments.lens.told import differs, shows, tell
from zevlo.core.instruments.lens.views import FaceOn, ScaleTo, ViewFrom

LENS = Instrument(
    key="lens",
    name="Lens",
    gestures=(
        AngleTo, WedgeTo, PrimeStep, ProjectionTo, ViewFrom, FaceOn, ScaleTo, BoundOnPaper, CutAtWall, StandBehind,
        CuttingLine, CuttingTo, CuttingFlip, BendTo, Breathing,
    ),
    part=SheetPart("lens", tell),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("lens", "Lens"),),
)  # fmt: skip
