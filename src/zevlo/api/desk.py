"""What every router needs of the running server: its database, its shelf of sets, its limits."""

from __future__ import annotations

import uuid
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager, contextmanager
from dataclasses import dataclass, replace
from typing import Annotated, Any

import numpy as np
from fastapi import Depends
from fastapi.concurrency import contextmanager_in_threadpool, run_in_threadpool
from sqlalchemy import Engine
from sqlalchemy.orm import Session
from starlette.requests import HTTPConnection

from zevlo.api.arrivals import Arrivals
from zevlo.api.messages import ShortOut, ShotRemedy
from zevlo.api.sets import SetCache, standing
from zevlo.api.waiting import Lines
from zevlo.core.framing.apply import alternatives_to, apply_gesture
from zevlo.core.framing.focus_pair import pair_made
from zevlo.core.instruments.focus.pairs import FocusPair
from zevlo.core.instruments.instrument import Gesture
from zevlo.core.refused import Refused
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.shot import Shot
from zevlo.settings import Settings
from zevlo.store.changes import HOME, hold, scope_of
from zevlo.store.database import transaction
from zevlo.store.projects import FloorOf, Floors, arrangement_of, lights_of, name_of, where_of
from zevlo.store.shot_rows import Placed
from zevlo.store.tables import DocumentsRow, Kept, OrderRow, Print, Project, ShotRow, Take


@dataclass(frozen=True)
class Desk:
    settings: Settings
    engine: Engine
    shelf: SetCache
    arrivals: Arrivals
    lines: Lines

    def apply(self, project: Project, shot: Shot, gesture: Gesture) -> Shot:
        """A shot after a gesture in a project's set as it is on the desk; as far as it goes, where it goes part of the
        way."""
        return self.followed(project, shot, gesture)[0]

    def followed(self, project: Project, shot: Shot, gesture: Gesture) -> tuple[Shot, ShortOut | None]:
        """The same, and where it goes part of the way alone: why, and what else would do."""
        stands = standing(project)
        lit = self.shelf.lit(stands, lights_of(project).of(shot.light), shot) if gesture.needs_light else None
        try:
            return apply_gesture(shot, gesture, self.shelf.working(stands), lit, where_of(project)), None
        except Refused as reason:
            if reason.nearest is None:
                raise
            instead = alternatives_to(shot, reason, self.shelf.working(stands), where_of(project))
            return reason.nearest, ShortOut(
                words=str(reason), alternatives=[ShotRemedy(**vars(one)) for one in instead]
            )

    @asynccontextmanager
    async def placing_project(self, key: uuid.UUID) -> AsyncIterator[Session]:
        """What :data:`PlacingProject` gives, for what does a part of its work before it holds the project."""
        async with _session_holding(Project, True, key, self) as session:
            yield session

    def pair(self, project: Project, shot: Shot, asked: FocusPair) -> tuple[Shot, Shot]:
        """The two shots of a pair, in a project's set as it is on the desk."""
        return pair_made(shot, asked, self.shelf.working(standing(project)), where_of(project))

    def placed(self, project: Project) -> Placed:
        """What goes with a shot of a project: the floor under it in the whole set, and its name by what it shows."""
        lights = lights_of(project)
        floor_of = self.floors(project)(arrangement_of(project))
        return Placed(floor_of, name_of(project), lambda shot: lights.check(shot.light))

    def floors(self, project: Project) -> Floors:
        """The floors of a project's set however it stands; the set is looked at only when one is asked for."""

        def of(arrangement: Arrangement) -> FloorOf:
            whole = replace(standing(project).whole(), arrangement=arrangement)
            return lambda shot: self.shelf.working(whole).floor_under(np.array(shot.stand.position))

        return of


def desk_of(connection: HTTPConnection) -> Desk:
    found: Desk = connection.app.state.desk
    return found


TheDesk = Annotated[Desk, Depends(desk_of)]


def _session(desk: TheDesk) -> Iterator[Session]:
    with transaction(desk.engine) as session:
        yield session


InTransaction = Annotated[Session, Depends(_session, scope="function")]
"""A session that is committed before the answer goes out, and rolled back if anything fails."""


@contextmanager
def _holding(desk: Desk, scope: str) -> Iterator[Session]:
    with transaction(desk.engine) as session:
        hold(session, scope)
        yield session


def _scope_at_hand(kind: type[Kept], places: bool, key: uuid.UUID, desk: Desk) -> str:
    """The scope of a thing; with ``places`` its project's set is at hand from then on."""
    with transaction(desk.engine) as reading:
        scope = scope_of(reading, kind, key)
        project = reading.get(Project, uuid.UUID(scope)) if places else None
    if project is not None and project.revision_id is not None:
        # Nobody waits while others have a set read: that is done before the scope is held.
        desk.shelf.ready(standing(project))
    return scope


@asynccontextmanager
async def _session_holding(kind: type[Kept], places: bool, key: uuid.UUID, desk: Desk) -> AsyncIterator[Session]:
    scope = await run_in_threadpool(_scope_at_hand, kind, places, key, desk)
    async with desk.lines.turn(scope), contextmanager_in_threadpool(_holding(desk, scope)) as session:
        yield session


def _held(kind: type[Kept], places: bool) -> Any:
    async def session_of(key: uuid.UUID, desk: TheDesk) -> AsyncIterator[Session]:
        async with _session_holding(kind, places, key, desk) as session:
            yield session

    return Depends(session_of, scope="function")


async def _held_home(desk: TheDesk) -> AsyncIterator[Session]:
    async with desk.lines.turn(HOME), contextmanager_in_threadpool(_holding(desk, HOME)) as session:
        yield session


WritingHome = Annotated[Session, Depends(_held_home, scope="function")]
"""A transaction that holds the list of projects."""


WritingProject = Annotated[Session, _held(Project, False)]
"""A transaction that holds the project ``key`` of the path: nobody else writes in it until it is through."""
WritingShot = Annotated[Session, _held(ShotRow, False)]
"""The same, by a shot."""
WritingTake = Annotated[Session, _held(Take, False)]
WritingPrint = Annotated[Session, _held(Print, False)]
WritingOrder = Annotated[Session, _held(OrderRow, False)]
WritingDocuments = Annotated[Session, _held(DocumentsRow, False)]
PlacingProject = Annotated[Session, _held(Project, True)]
"""The same, with the set at hand before: for what looks at it."""
PlacingShot = Annotated[Session, _held(ShotRow, True)]
PlacingTake = Annotated[Session, _held(Take, True)]
