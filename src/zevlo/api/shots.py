"""Shots: new, changed, kept, back to kept, locked, ordered, deleted; their thumbnails."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Response
from sqlalchemy.dialects.postgresql import insert as upsert
from sqlalchemy.orm import Session

from zevlo.api.desk import Desk, InTransaction, TheDesk
from zevlo.api.messages import FromScout, LockChange, MoveChange, NewShot, Seen, ShotChange, ShotOut
from zevlo.api.projects import FOREVER
from zevlo.api.views import shot_out
from zevlo.core.light.setup import LightSetup
from zevlo.core.meter import metered
from zevlo.core.new_shot import new_shot_from_scout, new_shot_in_plan
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import compass_point, resolve
from zevlo.lab.thumbnail import draw_thumbnail, thumbnail_key
from zevlo.store import projects, shots
from zevlo.store.database import transaction
from zevlo.store.tables import ShotRow, Thumbnail

router = APIRouter(prefix="/api")


def _out(session: Session, row: ShotRow) -> ShotOut:
    owner = projects.project(session, row.project_id)
    return shot_out(row, owner, shots.takes_by_id(session, [row]))


@router.post("/projects/{key}/shots", status_code=201)
def new_shot(key: uuid.UUID, new: NewShot, desk: TheDesk, session: InTransaction) -> ShotOut:
    """A new shot from the scout view, or from stand and aim in plan; exposed for what it sees."""
    owner = projects.project(session, key)
    assert owner.revision_id is not None
    after = None if new.after is None else shots.shot_row(session, new.after)
    start = Shot()
    if after is not None:
        # What a roll of film keeps from frame to frame: the back, the guides, how blur is judged.
        last = shots.settings_of(after)
        start = start.model_copy(update={"back": last.back, "guides": last.guides})
    working = desk.shelf.working(owner.revision_id, frozenset(owner.lifted))
    if isinstance(new.how, FromScout):
        made = new_shot_from_scout(start, working, new.how.scout)
    else:
        made = new_shot_in_plan(start, working, new.how.stand, new.how.aim, owner.plan_height)
    made = metered(made, desk.shelf.lit(owner.revision_id, LightSetup.model_validate(owner.light)))
    made = made.model_copy(update={"name": f"Looking {compass_point(resolve(made.stand).heading_deg)}"})
    return _out(session, shots.add_shot(session, key, made, after, "New shot “{name}”"))


@router.patch("/shots/{key}")
def change_shot(key: uuid.UUID, change: ShotChange, desk: TheDesk, session: InTransaction) -> ShotOut:
    """Other settings, or what a gesture makes of them."""
    row = shots.shot_row(session, key)
    shot = shots.settings_of(row) if change.shot is None else change.shot
    if change.gesture is not None:
        shot = desk.follow(projects.project(session, row.project_id), shot, change.gesture)
    return _out(session, shots.change_shot(session, key, change.version, shot, change.label))


@router.post("/shots/{key}/lock")
def lock_shot(key: uuid.UUID, change: LockChange, session: InTransaction) -> ShotOut:
    """Lock or unlock a shot."""
    return _out(session, shots.lock_shot(session, key, change.version, change.locked))


@router.post("/shots/{key}/keep")
def keep_shot(key: uuid.UUID, seen: Seen, session: InTransaction) -> ShotOut:
    """Keep the framing as the next take."""
    return _out(session, shots.keep_shot(session, key, seen.version))


@router.post("/shots/{key}/back-to-kept")
def back_to_kept(key: uuid.UUID, seen: Seen, session: InTransaction) -> ShotOut:
    """Put the last kept framing back."""
    return _out(session, shots.back_to_kept(session, key, seen.version))


@router.post("/shots/{key}/duplicate", status_code=201)
def duplicate_shot(key: uuid.UUID, session: InTransaction) -> ShotOut:
    """A second shot with the same settings, behind the first."""
    row = shots.shot_row(session, key)
    words = "Duplicate as “{name}”"
    return _out(session, shots.add_shot(session, row.project_id, shots.settings_of(row), row, words))


@router.post("/shots/{key}/move")
def move_shot(key: uuid.UUID, change: MoveChange, session: InTransaction) -> ShotOut:
    """Another place in the shot list."""
    return _out(session, shots.move_shot(session, key, change.version, change.after))


@router.delete("/shots/{key}", status_code=204)
def delete_shot(key: uuid.UUID, session: InTransaction) -> None:
    """Delete a shot; undoable."""
    shots.delete_shot(session, key)


@router.get("/shots/{key}/thumbnail.png")
def thumbnail(key: uuid.UUID, desk: TheDesk) -> Response:
    """The shot's thumbnail, drawn by the server."""
    return Response(thumbnail_of(desk, key), media_type="image/png", headers=FOREVER)


def thumbnail_of(desk: Desk, key: uuid.UUID) -> bytes:
    """PNG of a shot's frame, drawn once for each framing."""
    with transaction(desk.engine) as session:
        row = session.get(ShotRow, key)
        if row is None:
            raise shots.Missing("There is no such shot.")
        owner = projects.project(session, row.project_id)
        shot, light = shots.settings_of(row), LightSetup.model_validate(owner.light)
        name = thumbnail_key(shot, str(owner.revision_id), light.model_dump_json())
        stored = session.get(Thumbnail, name)
        if stored is not None:
            return stored.png
    assert owner.revision_id is not None
    png = draw_thumbnail(shot, desk.shelf.lit(owner.revision_id, light))
    with transaction(desk.engine) as session:
        session.execute(upsert(Thumbnail).values(key=name, png=png).on_conflict_do_nothing())
    return png
