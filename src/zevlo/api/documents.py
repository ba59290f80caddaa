"""Documents: asked for, followed, cancelled, made again, thrown away, downloaded one by one or all in a folder."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from urllib.parse import quote

from fastapi import APIRouter, Response
from fastapi.responses import StreamingResponse
from sqlalchemy.orm import Session

from zevlo.api.desk import InTransaction, TheDesk, WritingDocuments, WritingProject
from zevlo.api.document_messages import DocumentFile, DocumentOffer, DocumentsOut, FileOffer, NewDocuments
from zevlo.api.projects import FOREVER
from zevlo.api.sending import attached, sent_as_folder
from zevlo.core.documents.request import DOCUMENT_KINDS, FILE_WORDS
from zevlo.core.finals.naming import beginning, file_of
from zevlo.store import documents, projects
from zevlo.store.blobs import get_blob
from zevlo.store.changes import Missing
from zevlo.store.tables import DocumentsRow, Project
from zevlo.text import answers as say

router = APIRouter(prefix="/api")


def documents_out(session: Session, row: DocumentsRow) -> DocumentsOut:
    """Documents as the desk sees them."""
    (only,) = all_out(session, projects.project(session, row.project_id), [row])
    return only


def offers() -> list[DocumentOffer]:
    """The kinds of documents there are to ask for."""
    return [
        DocumentOffer(
            key=kind.key,
            name=kind.name,
            files=[FileOffer(ending=one, words=FILE_WORDS[one]) for one in kind.endings],
            first=kind.asked(),
        )
        for kind in DOCUMENT_KINDS
    ]


def all_out(session: Session, owner: Project, rows: Sequence[DocumentsRow]) -> list[DocumentsOut]:
    """Documents of one project."""
    present = documents.Present(session, owner)
    return [_out(owner, present, row) for row in rows]


def _out(owner: Project, present: documents.Present, row: DocumentsRow) -> DocumentsOut:
    asked = documents.asked_in(row)
    files = [
        DocumentFile(
            name=name,
            short=name.removeprefix(f"{beginning(owner.name)} "),
            bytes=output["size"],
            address=f"/api/documents/{row.id}/files/{quote(name, safe='')}?of={output['blob'][:16]}",
        )
        for name, output in sorted(row.outputs.items())
    ]
    return DocumentsOut(
        id=row.id,
        number=row.number,
        asked=row.created,
        documents=asked,
        state=row.state,
        progress=row.progress,
        doing=row.doing,
        trouble=row.trouble,
        words=row.words,
        files=files,
        folder=f"/api/documents/{row.id}/all.zip" if files else None,
        stale=row.made_of is not None and row.made_of != present.mark(asked),
    )


@router.post("/projects/{key}/documents", status_code=201)
def ask_for_documents(key: uuid.UUID, new: NewDocuments, session: WritingProject) -> DocumentsOut:
    """Ask for documents of some shots, made in the background as the shots stand then."""
    row = None if new.id is None else session.get(DocumentsRow, new.id)
    if row is None:
        row = documents.ask_for(session, key, new.documents, new.id)
    elif row.project_id != key:
        raise Missing(say.DOCUMENTS_WERE_ASKED_FOR_UNDER)
    return documents_out(session, row)


@router.get("/documents/{key}")
def read_documents(key: uuid.UUID, session: InTransaction) -> DocumentsOut:
    """Documents, how far they are, and their files."""
    return documents_out(session, documents.documents_row(session, key))


@router.post("/documents/{key}/cancel")
def cancel_documents(key: uuid.UUID, session: WritingDocuments) -> DocumentsOut:
    """Stop documents that are not finished."""
    return documents_out(session, documents.cancel(session, key))


@router.post("/documents/{key}/again")
def make_again(key: uuid.UUID, session: WritingDocuments) -> DocumentsOut:
    """Make documents once more, as the shots stand now."""
    return documents_out(session, documents.again(session, key))


@router.delete("/documents/{key}", status_code=204)
def throw_documents_away(key: uuid.UUID, session: WritingDocuments) -> None:
    """Throw documents away. Undoable."""
    documents.throw_away(session, key)


@router.get("/documents/{key}/files/{name}")
def document_file(key: uuid.UUID, name: str, session: InTransaction) -> Response:
    """A file of documents by its name."""
    output = documents.documents_row(session, key).outputs.get(name)
    if output is None:
        raise Missing(say.THESE_DOCUMENTS_HAVE_NO_SUCH_FILE)
    headers = {**FOREVER, "Content-Disposition": attached(name.rpartition(".")[0], name.rpartition(".")[2])}
    return Response(get_blob(session, output["blob"]), media_type=output["media_type"], headers=headers)


@router.get("/documents/{key}/all.zip")
def document_folder(key: uuid.UUID, session: InTransaction, desk: TheDesk) -> StreamingResponse:
    """All files of documents in one folder, as ZIP."""
    row = documents.documents_row(session, key)
    if not row.outputs:
        raise Missing(say.THESE_DOCUMENTS_HAVE_NO_FILES)
    name = file_of(projects.project(session, row.project_id).name, say.documents(row.number))
    files = {own: str(output["blob"]) for own, output in row.outputs.items()}
    return sent_as_folder(desk.engine, name, files, row.created)
