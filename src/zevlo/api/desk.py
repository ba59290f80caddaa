"""What every router needs of the running server: its database, its shelf of sets, its limits."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends
from sqlalchemy import Engine
from sqlalchemy.orm import Session
from starlette.requests import HTTPConnection

from zevlo.api.arrivals import Arrivals
from zevlo.api.sets import SetShelf, standing
from zevlo.core.follow import follow
from zevlo.core.shot import Shot
from zevlo.settings import Settings
from zevlo.store.database import transaction
from zevlo.store.projects import light_of, where_of
from zevlo.store.tables import Project


@dataclass(frozen=True)
class Desk:
    settings: Settings
    engine: Engine
    shelf: SetShelf
    arrivals: Arrivals

    def follow(self, project: Project, shot: Shot, gesture: object) -> Shot:
        """A shot after a gesture in a project's set as it is on the desk."""
        stands = standing(project)
        metering = getattr(gesture, "kind", "") == "meter"
        lit = self.shelf.lit(stands, light_of(project), shot.left_out) if metering else None
        return follow(shot, gesture, self.shelf.working(stands), lit, where_of(project))  # type: ignore[arg-type]


def desk_of(connection: HTTPConnection) -> Desk:
    found: Desk = connection.app.state.desk
    return found


TheDesk = Annotated[Desk, Depends(desk_of)]


def _session(desk: TheDesk) -> Iterator[Session]:
    with transaction(desk.engine) as session:
        yield session


InTransaction = Annotated[Session, Depends(_session, scope="function")]
"""A session that is committed before the answer goes out, and rolled back if anything fails."""
