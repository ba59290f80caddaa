"""Content-addressed blobs in chunks, so that one dump of the database is a whole backup."""

from __future__ import annotations

import hashlib
import tempfile
from pathlib import Path
from typing import IO

from sqlalchemy import insert, select, text, update
from sqlalchemy.dialects.postgresql import insert as upsert
from sqlalchemy.orm import Session

from zevlo.store.tables import Blob, BlobChunk

CHUNK = 1024 * 1024


_PUTTING = 7_301_001
"""The advisory lock of the blobs: many may put some, who takes some away is alone."""


def _putting(session: Session) -> None:
    """Until this transaction ends nobody takes a blob away: what refers to this one is written before that."""
    session.execute(text("select pg_advisory_xact_lock_shared(:lock)"), {"lock": _PUTTING})


def alone_with_blobs(session: Session) -> None:
    """Wait for all who put blobs, and keep others out until this transaction ends."""
    session.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _PUTTING})


def _is_new(session: Session, name: str, size: int, media_type: str) -> bool:
    """Let a blob be known; whether it was not. One that is there already counts as put now: nobody takes it away before
    what is to refer to it is written, though that may be in another transaction."""
    new = upsert(Blob).values(sha256=name, size=size, media_type=media_type).on_conflict_do_nothing()
    if session.scalar(new.returning(Blob.sha256)) is not None:
        return True
    session.execute(update(Blob).where(Blob.sha256 == name, Blob.unclaimed.is_not(None)).values(unclaimed=None))
    return False


def put_blob(session: Session, data: bytes, media_type: str) -> str:
    """Store bytes once; returns their SHA-256."""
    _putting(session)
    name = hashlib.sha256(data).hexdigest()
    if _is_new(session, name, len(data), media_type):
        for number, at in enumerate(range(0, len(data), CHUNK)):
            session.execute(insert(BlobChunk).values(sha256=name, number=number, data=data[at : at + CHUNK]))
    return name


def put_file(session: Session, path: Path, media_type: str) -> str:
    """Store a file once, without holding it whole; returns its SHA-256."""
    _putting(session)
    with path.open("rb") as file:
        name = hashlib.file_digest(file, "sha256").hexdigest()
        if _is_new(session, name, file.tell(), media_type):
            file.seek(0)
            number = 0
            while chunk := file.read(CHUNK):
                session.execute(insert(BlobChunk).values(sha256=name, number=number, data=chunk))
                number += 1
    return name


def blob_size(session: Session, name: str) -> int:
    """How many bytes a blob has. Raises KeyError if there is none."""
    found = session.get(Blob, name)
    if found is None:
        raise KeyError(name)
    return found.size


def open_blob(session: Session, name: str) -> IO[bytes]:
    """A blob as a file to read, kept on disk while it is open. Raises KeyError if there is none."""
    if session.get(Blob, name) is None:
        raise KeyError(name)
    file = tempfile.TemporaryFile(prefix="zevlo-blob-")  # noqa: SIM115 - the caller closes it
    chosen = select(BlobChunk.data).where(BlobChunk.sha256 == name).order_by(BlobChunk.number)
    for chunk in session.scalars(chosen.execution_options(yield_per=8)):
        file.write(chunk)
    file.seek(0)
    return file


def get_blob(session: Session, name: str) -> bytes:
    """The bytes of a blob. Raises KeyError if there is none."""
    if session.get(Blob, name) is None:
        raise KeyError(name)
    chunks = session.scalars(select(BlobChunk.data).where(BlobChunk.sha256 == name).order_by(BlobChunk.number))
    return b"".join(chunks)
