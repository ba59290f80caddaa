"""What nobody can come back to any more is not kept for ever: undone changes that were dropped, rows only they knew,
small pictures, and blobs no set and no print refers to. Nothing that undo or redo could put back is touched."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import text
from sqlalchemy.orm import Session

from zevlo.store.blobs import alone_with_blobs

DROPPED_AFTER = "1 day"
"""A dropped change is known for so long, for whoever asks for it again because the answer got lost."""
GATHERED_FOR = "7 days"
"""What the tiles of a final gathered that was cancelled or failed is there for so long, for who goes on with it."""
PICTURES_FOR = "30 days"
"""A small picture is drawn again after that, if it is asked for."""
UNCLAIMED_FOR = "1 day"
"""A blob nothing refers to is there for so long, for who began to get it before."""


@dataclass(frozen=True)
class Cleaned:
    """How many of each were taken away."""

    changes: int
    rows: int
    pictures: int
    blobs: int


_CHANGES = "delete from change where state = 'dropped' and created < now() - cast(:age as interval)"
_KNOWN = (
    "(select (entry ->> 'id')::uuid from change, jsonb_array_elements(change.entries) as entry"
    " where entry ->> 'table' = '{table}')"
)
"""Rows that some change could still put back."""


def _gone(table: str) -> str:
    """Rows nobody can come back to: deleted, and known to no change."""
    return f"(select id from {table} where deleted and id not in {_KNOWN.format(table=table)})"


# What hangs on another row goes before it.
_ROWS = (
    f"delete from change where scope in (select id::text from {_gone('project')} as gone)",
    f"delete from take using shot where take.shot_id = shot.id and shot.project_id in {_gone('project')}",
    f"delete from print where project_id in {_gone('project')}",
    f"delete from picture_order where project_id in {_gone('project')}",
    f"delete from documents where project_id in {_gone('project')}",
    f"delete from shot where project_id in {_gone('project')}",
    f"delete from light_setup where project_id in {_gone('project')}",
    f"delete from revision where project_id in {_gone('project')}",
    f"delete from project where id in {_gone('project')}",
    f"delete from print where id in {_gone('print')}",
    f"delete from take where id in {_gone('take')}",
    # A print hangs in the lab also when its shot is gone; that stays for its sake.
    f"delete from take where shot_id in {_gone('shot')} and id not in {_KNOWN.format(table='take')}"
    " and not exists (select 1 from print where print.shot_id = take.shot_id)",
    f"delete from shot where id in {_gone('shot')} and not exists (select 1 from print where print.shot_id = shot.id)"
    " and not exists (select 1 from take where take.shot_id = shot.id)",
    f"delete from light_setup where id in {_gone('light_setup')}",
    f"delete from documents where id in {_gone('documents')}",
    f"delete from picture_order where id in {_gone('picture_order')}"
    " and not exists (select 1 from print where print.order_id = picture_order.id)",
)
_GATHERED = (
    "update piece set gathered = null, grain = null, state = 'waiting', progress = 0,"
    " samples = jsonb_build_array(0, samples -> 1) from print"
    " where print.id = piece.print_id and piece.gathered is not null and print.kind = 'final'"
    " and print.state in ('cancelled', 'failed') and print.finished < now() - cast(:age as interval)"
)
_PICTURES = "delete from thumbnail where created < now() - cast(:age as interval)"
_REFERRED = (
    "select source from revision union select arrays from revision"
    " union select jsonb_array_elements_text(views || pictures) from revision"
    " union select file ->> 'blob' from print, jsonb_each(outputs) as outputs(name, file)"
    " union select file ->> 'blob' from documents, jsonb_each(outputs) as outputs(name, file)"
)
_CLAIMS = (
    f"create temp table claimed on commit drop as {_REFERRED}",
    "update blob set unclaimed = null where unclaimed is not null and sha256 in (select * from claimed)",
    "update blob set unclaimed = now() where unclaimed is null and sha256 not in (select * from claimed)",
)
_UNCLAIMED = "unclaimed < now() - cast(:age as interval)"


def clean(session: Session) -> Cleaned:
    """Take away what nobody can come back to. In one transaction, alone with the blobs."""
    alone_with_blobs(session)
    changes = _count(session, _CHANGES, age=DROPPED_AFTER)
    rows = sum(_count(session, words) for words in _ROWS)
    _count(session, _GATHERED, age=GATHERED_FOR)
    pictures = _count(session, _PICTURES, age=PICTURES_FOR)
    for words in _CLAIMS:
        session.execute(text(words))
    chunks = f"delete from blob_chunk where sha256 in (select sha256 from blob where {_UNCLAIMED})"
    _count(session, chunks, age=UNCLAIMED_FOR)
    blobs = _count(session, f"delete from blob where {_UNCLAIMED}", age=UNCLAIMED_FOR)
    return Cleaned(changes, rows, pictures, blobs)


def _count(session: Session, words: str, **values: str) -> int:
    return int(session.execute(text(words), values).rowcount)  # type: ignore[attr-defined]
