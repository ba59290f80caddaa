"""The open format over HTTP: a shot, or a list of shots, in; sheets out. And what the instruments offer."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import Field

from zevlo.api.offer_messages import CopyOffer, InstrumentOffer, MeasureOut, Offer, StopOffer
from zevlo.core.framing.placing_habits import NAMED_HEIGHTS, OFFERED_PAIRS, HeightPair
from zevlo.core.framing.sheet import Sheet
from zevlo.core.framing.solve import solve
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.back.crops import OFFERED_CROPS, OFFERED_SETS
from zevlo.core.instruments.lens.primes import PRIME_SETS
from zevlo.core.instruments.lens.projection import PROJECTIONS
from zevlo.core.instruments.lens.views import SCALES, VIEWS
from zevlo.core.instruments.movements.sheet import CIRCLES
from zevlo.core.measures import USUAL_DPI, Kind, NotAMeasure, feet_and_inches, measure
from zevlo.core.optics.back import FORMATS
from zevlo.core.optics.focus import OFFERED_HALVES, OFFERED_STOPS, stop_name
from zevlo.core.optics.picture_size import PAPERS, PICTURE_SIZES
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import BLUR_LIMITS
from zevlo.text import answers as say

router = APIRouter(prefix="/api")
MOST_SOLVED = 1000
"""Shots in one request; a longer list is solved by the command line."""


@router.post("/solve", response_model_by_alias=True)
def solve_shots(shots: Shot | Annotated[list[Shot], Field(max_length=MOST_SOLVED)]) -> Sheet | list[Sheet]:
    """The sheet of a shot, as ``zevlo.sheet/2``."""
    return [solve(shot) for shot in shots] if isinstance(shots, list) else solve(shots)


@router.get("/offer")
def offer() -> Offer:
    """The lists the instruments choose from: the same for every shot."""
    return Offer(
        instruments=[
            InstrumentOffer(
                key=one.key,
                name=one.name,
                copied=[CopyOffer(name=group.name, words=group.words) for group in one.copied],
            )
            for one in INSTRUMENTS
        ],
        first_back=Shot().back,
        projections=list(PROJECTIONS),
        formats=list(FORMATS),
        picture_sizes=list(PICTURE_SIZES),
        papers=list(PAPERS),
        crops=list(OFFERED_CROPS),
        crop_sets=list(OFFERED_SETS),
        prime_sets=list(PRIME_SETS),
        views=list(VIEWS),
        scales=list(SCALES),
        stops=[StopOffer(f_number=n, name=stop_name(n)) for n in OFFERED_STOPS],
        half_stops=[StopOffer(f_number=n, name=stop_name(n)) for n in OFFERED_HALVES],
        blur_limits=list(BLUR_LIMITS),
        image_circles=list(CIRCLES),
        named_heights=list(NAMED_HEIGHTS),
        height_pairs=list(OFFERED_PAIRS),
        height_words=[_pair_words(pair) for pair in OFFERED_PAIRS],
    )


def _pair_words(pair: HeightPair) -> str:
    lens = say.lens_at(pair.lens_m, feet_and_inches(pair.lens_m))
    if pair.aim_m is None:
        return say.aim_level_with_it(lens)
    return say.aim_at(lens, pair.aim_m, feet_and_inches(pair.aim_m))


@router.get("/measure")
def read_measure(
    kind: Kind,
    text: Annotated[str, Query(max_length=400)],
    unit: Annotated[str | None, Query(max_length=8)] = None,
    dpi: Annotated[float, Query(ge=1.0, le=10000.0, allow_inf_nan=False)] = USUAL_DPI,
) -> MeasureOut:
    """What was typed into a field: units and arithmetic are understood."""
    try:
        return MeasureOut(value=measure(text, kind, unit, dpi))
    except NotAMeasure as reason:
        raise Refused(str(reason)) from reason
