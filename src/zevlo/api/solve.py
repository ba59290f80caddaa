"""The open format over HTTP: a shot, or a list of shots, in; sheets out."""

from __future__ import annotations

from fastapi import APIRouter

from zevlo.core.sheet import Sheet
from zevlo.core.shot import Shot
from zevlo.core.solve import solve

router = APIRouter(prefix="/api")


@router.post("/solve", response_model_by_alias=True)
def solve_shots(shots: Shot | list[Shot]) -> Sheet | list[Sheet]:
    """The sheet of a shot, as ``zevlo.sheet/1``."""
    return [solve(shot) for shot in shots] if isinstance(shots, list) else solve(shots)
