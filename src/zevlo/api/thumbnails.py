"""Small pictures of shots, takes and suggested stands, drawn by the server and kept by what they show."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Query, Response
from sqlalchemy.dialects.postgresql import insert as upsert

from zevlo.api.desk import Desk, TheDesk
from zevlo.api.projects import FOREVER, NOT_KEPT
from zevlo.api.sets import mark_of, standing
from zevlo.api.shot_views import around
from zevlo.core.framing.new_shot import new_shot_at
from zevlo.core.shot import Shot, Stand
from zevlo.lab.thumbnail import draw_thumbnail
from zevlo.store import projects, shot_rows
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.tables import ShotRow, Take, Thumbnail
from zevlo.text import answers as say

router = APIRouter(prefix="/api")
"""A picture asked for by the address of another state: shown once, never kept under that address."""


@router.get("/shots/{key}/thumbnail.png")
def thumbnail(
    key: uuid.UUID, desk: TheDesk, of: str = Query(max_length=200), crop: str | None = Query(None, max_length=60)
) -> Response:
    """The shot's thumbnail, or that of one of its crops, in the state ``of``; of the shot as it is now, where that
    state was never drawn."""
    return _thumbnail(desk, ShotRow, key, of, crop)


@router.get("/takes/{key}/thumbnail.png")
def take_thumbnail(key: uuid.UUID, desk: TheDesk, of: str = Query(max_length=200)) -> Response:
    """A take's thumbnail, in the set as it stood in the state ``of``."""
    return _thumbnail(desk, Take, key, of)


def _thumbnail(
    desk: Desk, kind: type[ShotRow] | type[Take], key: uuid.UUID, of: str, crop: str | None = None
) -> Response:
    with transaction(desk.engine) as session:
        drawn = session.get(Thumbnail, of)
        if drawn is not None:
            return Response(drawn.png, media_type="image/png", headers=FOREVER)
        row = session.get(ShotRow, key) if kind is ShotRow else session.get(Take, key)
        if row is None:
            raise Missing(say.THERE_IS_NO_SUCH_SHOT)
        shot_row = row if isinstance(row, ShotRow) else session.get_one(ShotRow, row.shot_id)
        owner = projects.project(session, shot_row.project_id)
        shot, stands = shot_rows.settings_of(row), standing(owner)
        light = projects.lights_of(owner).of(shot.light)
        name = around(session, owner).thumbnail(shot, crop)
        drawn = session.get(Thumbnail, name)
        stored = None if drawn is None else drawn.png
    png = draw_thumbnail(shot, desk.shelf.lit(stands, light, shot), crop=crop) if stored is None else stored
    with transaction(desk.engine) as session:
        session.execute(upsert(Thumbnail).values(key=name, png=png).on_conflict_do_nothing())
    return Response(png, media_type="image/png", headers=FOREVER if name == of else NOT_KEPT)


@router.get("/projects/{key}/look.png")
def look(
    key: uuid.UUID, desk: TheDesk, stand: str = Query(max_length=2000), of: str = Query("", max_length=100)
) -> Response:
    """A small picture from a stand, as a new shot there would show it."""
    with transaction(desk.engine) as session:
        owner = projects.project(session, key)
        light, stands, habits = projects.lights_of(owner).of(None), standing(owner), projects.habits_of(owner)
        headers = FOREVER if of == mark_of(owner) else NOT_KEPT
    shot = new_shot_at(Shot(), desk.shelf.working(stands), Stand.model_validate_json(stand), habits)
    png = draw_thumbnail(shot, desk.shelf.lit(stands, light), long_side=168, paths=3)
    return Response(png, media_type="image/png", headers=headers)
