"""Loads the demonstration project: the set read as any model is, and its shots."""

from __future__ import annotations

from sqlalchemy import Engine, delete, func, select
from sqlalchemy.orm import Session

from zevlo.demo.glb import pottery_glb
from zevlo.demo.pictures import put_pictures
from zevlo.demo.pottery import PLACES
from zevlo.demo.shots import LIGHT, PRINTED, SHOTS
from zevlo.files.sandbox import ImportedModel, import_model
from zevlo.files.scratch import scratch
from zevlo.store import prints
from zevlo.store.database import transaction
from zevlo.store.jobs import AT_LEISURE
from zevlo.store.projects import create_project
from zevlo.store.shots import add_shot
from zevlo.store.tables import Change, Project

FILE_NAME = "tide-tower-pottery.glb"


def load_demo(engine: Engine, proofs: bool = False) -> bool:
    """Load the demo into a database where nothing was ever done; False where there is something already. ``proofs``: of
    some of its shots are ordered, and made when the lab has nothing else to do."""
    with transaction(engine) as session:
        if session.scalar(select(func.count()).select_from(Project)) or session.scalar(select(func.count(Change.seq))):
            return False
    with scratch("demo") as folder:
        source = folder / FILE_NAME
        source.write_bytes(pottery_glb())
        with import_model(source, FILE_NAME) as taken, transaction(engine) as session:
            _put(session, taken, proofs)
    return True


def _put(session: Session, taken: ImportedModel, proofs: bool) -> None:
    project = create_project(session, "Tide Tower Pottery", FILE_NAME, taken, LIGHT, PLACES)
    for shot in SHOTS:
        row = add_shot(session, project.id, shot, None, "New shot “{name}”")
        if proofs and shot in PRINTED:
            prints.order_proof(session, row.id, stacked=shot.focus.stack is not None, rank=AT_LEISURE)
    put_pictures(session, project)
    # What ships is the beginning: there is nothing of the artist's to take back yet.
    session.execute(delete(Change))
