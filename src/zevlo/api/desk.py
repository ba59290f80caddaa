"""What every router needs of the running server: its database, its shelf of sets, its limits."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends
from sqlalchemy import Engine
from sqlalchemy.orm import Session
from starlette.requests import HTTPConnection

from zevlo.api.sets import SetShelf
from zevlo.core.follow import follow
from zevlo.core.light.setup import LightSetup
from zevlo.core.shot import Shot
from zevlo.settings import Settings
from zevlo.store.database import transaction
from zevlo.store.tables import Project


@dataclass(frozen=True)
class Desk:
    settings: Settings
    engine: Engine
    shelf: SetShelf

    def follow(self, project: Project, shot: Shot, gesture: object) -> Shot:
        """A shot after a gesture in a project's set as it is on the desk."""
        assert project.revision_id is not None
        working = self.shelf.working(project.revision_id, frozenset(project.lifted))
        lit = None
        if getattr(gesture, "kind", "") == "meter":
            lit = self.shelf.lit(project.revision_id, LightSetup.model_validate(project.light))
        return follow(shot, gesture, working, lit)  # type: ignore[arg-type]


def desk_of(connection: HTTPConnection) -> Desk:
    found: Desk = connection.app.state.desk
    return found


TheDesk = Annotated[Desk, Depends(desk_of)]


def _session(desk: TheDesk) -> Iterator[Session]:
    with transaction(desk.engine) as session:
        yield session


InTransaction = Annotated[Session, Depends(_session, scope="function")]
"""A session that is committed before the answer goes out, and rolled back if anything fails."""
