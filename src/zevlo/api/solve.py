"""The open format over HTTP: a shot, or a list of shots, in; sheets out. And what the instruments offer."""

from __future__ import annotations

from fastapi import APIRouter

from zevlo.api.messages import Offer, StopOffer
from zevlo.core.compose.guides import GUIDES
from zevlo.core.optics.back import FORMATS, PICTURE_SIZES_PX
from zevlo.core.optics.focus import BLUR_LIMITS, OFFERED_STOPS, stop_name
from zevlo.core.sheet import GuideLines, Sheet
from zevlo.core.shot import Shot
from zevlo.core.solve import solve

router = APIRouter(prefix="/api")


@router.post("/solve", response_model_by_alias=True)
def solve_shots(shots: Shot | list[Shot]) -> Sheet | list[Sheet]:
    """The sheet of a shot, as ``zevlo.sheet/1``."""
    return [solve(shot) for shot in shots] if isinstance(shots, list) else solve(shots)


@router.get("/offer")
def offer() -> Offer:
    """The lists the instruments choose from: the same for every shot."""
    return Offer(
        formats=list(FORMATS),
        picture_sizes_px=list(PICTURE_SIZES_PX),
        stops=[StopOffer(f_number=n, name=stop_name(n)) for n in OFFERED_STOPS],
        blur_limits=list(BLUR_LIMITS),
        guides=[GuideLines(name=name, lines=list(lines)) for name, lines in GUIDES.items()],
    )
