"""The lab: proofs ordered, followed, cancelled, tried again, thrown away, downloaded."""

from __future__ import annotations

import re
import uuid

from fastapi import APIRouter, Response
from sqlalchemy.orm import Session

from zevlo.api.desk import InTransaction, TheDesk, WritingPrint, WritingShot
from zevlo.api.print_messages import MovedTo, PrintOut, ProofOrder
from zevlo.api.print_views import prints_out
from zevlo.api.projects import FOREVER
from zevlo.api.sending import attached, sent
from zevlo.store import finals, prints, projects
from zevlo.store.blobs import get_blob
from zevlo.store.changes import Missing
from zevlo.store.tables import Print
from zevlo.text import answers as say

router = APIRouter(prefix="/api")


def _out(session: Session, entry: Print) -> PrintOut:
    owner = projects.project(session, entry.project_id)
    return prints_out(session, owner, entry.id)[0]


@router.post("/shots/{key}/proof", status_code=201)
def order_proof(key: uuid.UUID, session: WritingShot, order: ProofOrder | None = None) -> PrintOut:
    """A proof of the shot as it stands, or of one of its crops, or of its stack, made in the background."""
    order = order or ProofOrder()
    wanted = order.id
    entry = None if wanted is None else session.get(Print, wanted)
    if entry is None:
        entry = prints.order_proof(session, key, wanted, order.crop, order.stacked)
    elif entry.shot_id != key:
        raise Missing(say.A_PRINT_WAS_ORDERED)
    return _out(session, entry)


@router.post("/prints/{key}/cancel")
def cancel(key: uuid.UUID, session: WritingPrint) -> PrintOut:
    """Stop a print that is not finished."""
    return _out(session, prints.cancel(session, key))


@router.post("/prints/{key}/pause")
def pause(key: uuid.UUID, session: WritingPrint) -> PrintOut:
    """Let a print that is not finished wait; *retry* goes on with it."""
    return _out(session, prints.pause(session, key))


@router.post("/prints/{key}/place")
def move(key: uuid.UUID, to: MovedTo, session: WritingPrint) -> PrintOut:
    """Let a final be made first, or earlier or later than it was to be."""
    finals.move(session, key, to.where)
    return _out(session, prints.print_row(session, key))


@router.post("/prints/{key}/retry")
def retry(key: uuid.UUID, session: WritingPrint) -> PrintOut:
    """Try a failed or cancelled print again, go on with a paused one."""
    return _out(session, prints.again(session, key))


@router.delete("/prints/{key}", status_code=204)
def delete_print(key: uuid.UUID, session: WritingPrint) -> None:
    """Throw a print away; undoable."""
    prints.delete_print(session, key)


@router.get("/prints/{key}/{name}")
def output(key: uuid.UUID, name: str, session: InTransaction, desk: TheDesk, download: bool | None = None) -> Response:
    """A file of a print by its name: ``picture.png`` in sRGB, ``film.exr`` linear. Films are for taking away."""
    entry = prints.print_row(session, key)
    found = entry.outputs.get(name)
    is_file = entry.kind == "final" and name != prints.SMALL_VIEW
    if found is None:
        known = name in (prints.PICTURE, prints.FILM)
        raise Missing(say.THIS_PRINT_HAS_NO_PICTURE if known else say.THIS_PRINT_HAS_NO_SUCH_FILE)
    headers = dict(FOREVER)
    kind = name.rpartition(".")[2]
    if download or (download is None and kind != "png"):
        which = name.rpartition(".")[0] if name.startswith("frame-") else None
        called = filter(None, (str(entry.recipe["shot"]["name"]), prints.crop_of(entry), which))
        title = re.sub(r"[^\w ,.()+-]", "_", " ".join(called)).strip() or entry.kind
        if is_file:
            title = name.rpartition(".")[0]
        headers["Content-Disposition"] = attached(title, kind)
        return sent(session, desk.engine, found["blob"], found["media_type"], headers)
    return Response(get_blob(session, found["blob"]), media_type=found["media_type"], headers=headers)
