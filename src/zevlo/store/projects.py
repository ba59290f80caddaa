"""Projects and the revisions of their sets."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from zevlo.core.light.setup import LightSetup
from zevlo.store.blobs import put_blob
from zevlo.store.changes import HOME, Missing, Writing, locked_row
from zevlo.store.tables import Project, Revision

PLAN_CUT_M = 1.2


@dataclass(frozen=True)
class IncomingSet:
    """A set as it came through the door, with the file it came from."""

    file_name: str
    source: bytes
    arrays: bytes
    view: bytes
    summary: dict[str, Any]


def create_project(
    session: Session, name: str, incoming: IncomingSet, light: LightSetup, plan_height: float | None = None
) -> Project:
    """A new project with its first set. The plan is cut 1.2 m above the lowest likely floor unless told."""
    low = float(incoming.summary["bounds"][0][2])
    height = max(low, 0.0) + PLAN_CUT_M if plan_height is None else plan_height
    project = Project(name=name, revision_id=None, light=light.model_dump(mode="json"), lifted=[], plan_height=height)
    writing = Writing(session, HOME)
    writing.add(project)
    revision = Revision(
        project_id=project.id,
        file_name=incoming.file_name,
        source=put_blob(session, incoming.source, "application/octet-stream"),
        arrays=put_blob(session, incoming.arrays, "application/x-npz"),
        view=put_blob(session, incoming.view, "model/gltf-binary"),
        summary=incoming.summary,
    )
    session.add(revision)
    session.flush()
    project.revision_id = revision.id
    writing.done(f"New project “{name}”")
    return project


def projects(session: Session) -> list[Project]:
    """All projects that are not deleted, newest first."""
    return list(session.scalars(select(Project).where(~Project.deleted).order_by(Project.created.desc())))


def project(session: Session, key: uuid.UUID) -> Project:
    """A project. Raises :class:`Missing`."""
    found = session.get(Project, key)
    if found is None or found.deleted:
        raise Missing("There is no such project; it may have been deleted.")
    return found


def revision_of(session: Session, found: Project) -> Revision:
    """The set a project stands on now."""
    revision = session.get(Revision, found.revision_id)
    if revision is None:
        raise Missing("This project has no set.")
    return revision


def change_project(session: Session, key: uuid.UUID, seen: int, label: str, **values: Any) -> Project:
    """Change a project's name, light, lifted parts or plan height."""
    found = locked_row(session, Project, key)
    writing = Writing(session, str(key))
    writing.change(found, seen, **values)
    writing.done(label)
    return found


def delete_project(session: Session, key: uuid.UUID) -> None:
    """Delete a project; undone from the first page."""
    found = locked_row(session, Project, key)
    writing = Writing(session, HOME)
    writing.change(found, None, deleted=True)
    writing.done(f"Delete project “{found.name}”")
