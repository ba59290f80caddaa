"""Documents of a shot list: asked for, made by a job, kept with what they were made of."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from functools import cached_property

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from zevlo.core.documents.request import Documents
from zevlo.store.changes import Missing, Writing, hold, locked_row
from zevlo.store.database import tell
from zevlo.store.jobs import enqueue_documents, someone_at
from zevlo.store.projects import project
from zevlo.store.shot_rows import shots_of
from zevlo.store.tables import DocumentsRow, Print, Project
from zevlo.text import store as say

MOST_TRIES = 3
UNFINISHED = ("waiting", "making")


def ask_for(session: Session, project_id: uuid.UUID, asked: Documents, key: uuid.UUID | None = None) -> DocumentsRow:
    """Ask for documents of some shots. Raises :class:`Missing` for a shot that is not there."""
    project(session, project_id)
    hold(session, str(project_id))
    there = {row.id for row in shots_of(session, project_id)}
    if not there.issuperset(asked.shots):
        raise Missing(say.A_SHOT_THESE_DOCUMENTS)
    chosen = select(func.max(DocumentsRow.number)).where(DocumentsRow.project_id == project_id)
    row = DocumentsRow(
        project_id=project_id,
        number=(session.scalar(chosen) or 0) + 1,
        settings=asked.model_dump(mode="json"),
        doing=say.WAITING_FOR_THE_LAB,
    )
    if key is not None:
        row.id = key
    session.add(row)
    session.flush()
    enqueue_documents(session, [row.id])
    tell(session, str(project_id), "prints")
    return row


def asked_in(row: DocumentsRow) -> Documents:
    """What documents were asked for."""
    return Documents.model_validate(row.settings)


def documents_of(session: Session, project_id: uuid.UUID) -> list[DocumentsRow]:
    """A project's documents, newest first."""
    chosen = select(DocumentsRow).where(DocumentsRow.project_id == project_id, ~DocumentsRow.deleted)
    return list(session.scalars(chosen.order_by(DocumentsRow.number.desc())))


def documents_row(session: Session, key: uuid.UUID) -> DocumentsRow:
    """Documents that were asked for together. Raises :class:`Missing`."""
    row = session.get(DocumentsRow, key)
    if row is None or row.deleted:
        raise Missing(say.THERE_ARE_NO_SUCH)
    return row


class Present:
    """What documents of a project would tell now, read once for however many there are."""

    def __init__(self, session: Session, owner: Project) -> None:
        self._session, self._owner = session, owner

    @cached_property
    def _shots(self) -> dict[uuid.UUID, str]:
        rows = shots_of(self._session, self._owner.id)
        return {row.id: _digest([n, row.settings, row.labels, row.colour]) for n, row in enumerate(rows, 1)}

    @cached_property
    def _project(self) -> str:
        own = self._owner
        return _digest([own.name, str(own.revision_id), own.arrangement, own.places, own.site, own.plan_height])

    @cached_property
    def _prints(self) -> list[tuple[uuid.UUID, str]]:
        """Finished prints with their shots."""
        chosen = select(Print.shot_id, Print.id).where(Print.project_id == self._owner.id, ~Print.deleted)
        return [(shot, str(key)) for shot, key in self._session.execute(chosen.where(Print.state == "done"))]

    def mark(self, asked: Documents) -> str:
        """A word for all that documents tell: other where they would be."""
        wanted = set(asked.shots)
        shots = [mark for key, mark in self._shots.items() if key in wanted]
        pictures = []
        if asked.contact_sheet is not None and asked.contact_sheet.pictures == "prints":
            pictures = sorted(key for shot, key in self._prints if shot in wanted)
        return _digest([shots, self._project, pictures])


def _digest(value: object) -> str:
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:32]


TOO_OFTEN = say.the_lab_was_interrupted_times(MOST_TRIES)


def claim_piece(session: Session, key: uuid.UUID, job: int | None) -> DocumentsRow | None:
    """Start on documents; None where they need nothing any more, their project was deleted, or a worker is at them for
    another job. What was interrupted too often says so."""
    row = session.get(DocumentsRow, key, with_for_update=True)
    if row is None or row.deleted or row.state not in UNFINISHED:
        return None
    owner = session.get(Project, row.project_id)
    if owner is None or owner.deleted:
        return None
    if row.state == "making":
        if job is not None and row.job != job and someone_at(session, row.job):
            return None
        if row.tries >= MOST_TRIES:
            _end(session, row, "failed", TOO_OFTEN)
            return None
    row.state, row.trouble, row.job, row.doing = "making", None, job, say.BEGINNING
    row.tries += 1
    row.attempt = uuid.uuid4()
    tell(session, str(row.project_id), "prints")
    return row


def _end(session: Session, row: DocumentsRow, state: str, trouble: str | None = None) -> None:
    row.state, row.trouble, row.doing, row.attempt = state, trouble, "", None
    row.finished = datetime.now(UTC)
    tell(session, str(row.project_id), "prints")


def _at_work(session: Session, key: uuid.UUID, attempt: uuid.UUID | None) -> DocumentsRow | None:
    row = session.get(DocumentsRow, key, with_for_update=True)
    late = row is None or row.deleted or row.state != "making" or attempt is None or row.attempt != attempt
    return None if late else row


def report_progress(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, progress: float, doing: str) -> bool:
    """Note progress; False where they were cancelled, thrown away, or taken up by another.

    ``key``: theirs; ``attempt``: whose; ``progress``: 0 to 1; ``doing``: in words."""
    row = _at_work(session, key, attempt)
    if row is None:
        return False
    row.progress, row.doing = progress, doing
    return True


@dataclass(frozen=True)
class FileMade:
    """A file of documents: the blob it is in."""

    blob: str
    media_type: str
    size: int


@dataclass(frozen=True)
class Made:
    """Documents that are there: their files by name, what is to be said of them, and a word for what they tell."""

    files: Mapping[str, FileMade]
    words: Sequence[str]
    made_of: str


def finish(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, made: Made) -> bool:
    """Keep the files of documents. False as for :func:`report_progress`."""
    row = _at_work(session, key, attempt)
    if row is None:
        return False
    row.outputs = {name: asdict(one) for name, one in made.files.items()}
    row.words, row.made_of, row.progress = list(made.words), made.made_of, 1.0
    _end(session, row, "done")
    return True


def fail(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, trouble: str) -> None:
    """Documents that could not be made say why; not where another is at them."""
    row = _at_work(session, key, attempt)
    if row is not None:
        _end(session, row, "failed", trouble[:600])


def cancel(session: Session, key: uuid.UUID) -> DocumentsRow:
    """Cancel unfinished documents; finished ones stay as they are."""
    row = locked_row(session, DocumentsRow, key)
    if row.state in UNFINISHED:
        _end(session, row, "cancelled")
    return row


def again(session: Session, key: uuid.UUID) -> DocumentsRow:
    """Make documents once more, as things are now: those that failed or were cancelled, and those that are there. Files
    that are there stay until the new ones are."""
    row = locked_row(session, DocumentsRow, key)
    if row.state in UNFINISHED:
        raise Missing(say.THESE_DOCUMENTS_ARE_BEING)
    row.state, row.trouble, row.doing, row.progress = "waiting", None, say.WAITING_FOR_THE_LAB, 0.0
    row.tries, row.attempt, row.job, row.finished = 0, None, None, None
    enqueue_documents(session, [row.id])
    tell(session, str(row.project_id), "prints")
    return row


def throw_away(session: Session, key: uuid.UUID) -> None:
    """Throw documents away; undoable. What is being made is cancelled first."""
    row = cancel(session, key)
    writing = Writing(session, str(row.project_id))
    writing.change(row, None, deleted=True)
    writing.done(say.throw_away_documents(row.number))
