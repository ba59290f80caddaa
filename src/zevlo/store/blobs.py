"""Content-addressed blobs in chunks, so that one dump of the database is a whole backup."""

from __future__ import annotations

import hashlib

from sqlalchemy import insert, select
from sqlalchemy.dialects.postgresql import insert as upsert
from sqlalchemy.orm import Session

from zevlo.store.tables import Blob, BlobChunk

CHUNK = 1024 * 1024


def put_blob(session: Session, data: bytes, media_type: str) -> str:
    """Store bytes once; returns their SHA-256."""
    name = hashlib.sha256(data).hexdigest()
    new = upsert(Blob).values(sha256=name, size=len(data), media_type=media_type).on_conflict_do_nothing()
    if session.scalar(new.returning(Blob.sha256)) is not None:
        for number, at in enumerate(range(0, len(data), CHUNK)):
            session.execute(insert(BlobChunk).values(sha256=name, number=number, data=data[at : at + CHUNK]))
    return name


def get_blob(session: Session, name: str) -> bytes:
    """The bytes of a blob. Raises KeyError if there is none."""
    if session.get(Blob, name) is None:
        raise KeyError(name)
    chunks = session.scalars(select(BlobChunk.data).where(BlobChunk.sha256 == name).order_by(BlobChunk.number))
    return b"".join(chunks)
