"""The lab: proofs ordered, followed, cancelled, tried again, thrown away, downloaded."""

from __future__ import annotations

import re
import uuid
from urllib.parse import quote

from fastapi import APIRouter, Response
from sqlalchemy.orm import Session

from zevlo.api.desk import InTransaction, WritingPrint, WritingShot
from zevlo.api.messages import Making
from zevlo.api.print_messages import PrintOut
from zevlo.api.projects import FOREVER
from zevlo.api.views import prints_out
from zevlo.lab.queue import enqueue
from zevlo.store import prints, projects
from zevlo.store.blobs import get_blob
from zevlo.store.changes import Missing
from zevlo.store.shot_rows import written_of
from zevlo.store.tables import Print

router = APIRouter(prefix="/api")


def _out(session: Session, entry: Print) -> PrintOut:
    owner = projects.project(session, entry.project_id)
    return prints_out(session, [entry], written_of(session, owner.id), owner)[0]


@router.post("/shots/{key}/proof", status_code=201)
def order_proof(key: uuid.UUID, session: WritingShot, order: Making | None = None) -> PrintOut:
    """A proof of the shot as it stands, made in the background."""
    wanted = None if order is None else order.id
    entry = None if wanted is None else session.get(Print, wanted)
    if entry is None:
        entry = prints.order_proof(session, key, wanted)
        enqueue(session, entry.id)
    elif entry.shot_id != key:
        raise Missing("A print was ordered under that id before, of another shot.")
    return _out(session, entry)


@router.post("/prints/{key}/cancel")
def cancel(key: uuid.UUID, session: WritingPrint) -> PrintOut:
    """Stop a print that is not finished."""
    return _out(session, prints.cancel(session, key))


@router.post("/prints/{key}/retry")
def retry(key: uuid.UUID, session: WritingPrint) -> PrintOut:
    """Try a failed or cancelled print again."""
    entry = prints.again(session, key)
    enqueue(session, entry.id)
    return _out(session, entry)


@router.delete("/prints/{key}", status_code=204)
def delete_print(key: uuid.UUID, session: WritingPrint) -> None:
    """Throw a print away; undoable."""
    prints.delete_print(session, key)


def _file(session: Session, key: uuid.UUID, kind: str, download: bool) -> Response:
    entry = prints.print_row(session, key)
    name = entry.png if kind == "png" else entry.exr
    if name is None:
        raise Missing("This print has no picture yet.")
    media = "image/png" if kind == "png" else "image/x-exr"
    headers = dict(FOREVER)
    if download:
        title = re.sub(r"[^\w ,.()+-]", "_", str(entry.settings["name"])).strip() or "proof"
        plain = title.encode("ascii", "replace").decode().replace("?", "_")
        headers["Content-Disposition"] = (
            f"attachment; filename=\"{plain}.{kind}\"; filename*=UTF-8''{quote(title)}.{kind}"
        )
    return Response(get_blob(session, name), media_type=media, headers=headers)


@router.get("/prints/{key}/picture.png")
def picture(key: uuid.UUID, session: InTransaction, download: bool = False) -> Response:
    """The picture as PNG in sRGB."""
    return _file(session, key, "png", download)


@router.get("/prints/{key}/film.exr")
def film(key: uuid.UUID, session: InTransaction, download: bool = True) -> Response:
    """The picture as OpenEXR, linear."""
    return _file(session, key, "exr", download)
