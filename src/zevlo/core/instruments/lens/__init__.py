"""Lens: focal length, projection and character, and the angle of view that comes of them."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Copied, Instrument, SheetPart
from zevlo.core.instruments.lens.angle import AngleTo, WedgeTo
from zevlo.core.instruments.lens.character import BendTo, Breathing
from zevlo.core.instruments.lens.primes import PrimeStep
from zevlo.core.instruments.lens.projection import ProjectionTo
from zevlo.core.instruments.lens.sheet import compute_sheet, differs, staleness_key
from zevlo.core.instruments.lens.views import FaceOn, ScaleTo, ViewFrom
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import changed
from zevlo.text import everywhere


def _lens_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    # A cutting plane belongs to a place, not to a lens.
    return target.model_copy(update={"lens": changed(source.lens, cutting_plane=target.lens.cutting_plane)})


LENS = Instrument(
    key="lens",
    name=everywhere.LENS,
    gestures=(
        AngleTo, WedgeTo, PrimeStep, ProjectionTo, ViewFrom, FaceOn, ScaleTo, BendTo, Breathing,
    ),
    part=SheetPart("lens", compute_sheet),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(Copied("lens", everywhere.LENS, _lens_of),),
)  # fmt: skip
