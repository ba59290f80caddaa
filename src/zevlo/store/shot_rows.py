"""Rows of shots as they are: in their order, held for writing, and which writing of each is the present one."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, literal_column, select
from sqlalchemy.orm import Session

from zevlo.core.bases import Point
from zevlo.core.shot import Shot
from zevlo.store.changes import Missing
from zevlo.store.tables import ShotRow, Take
from zevlo.text import store as say


class Locked(RuntimeError):
    """The shot is locked; nothing was written."""


def shots_of(session: Session, project_id: uuid.UUID) -> list[ShotRow]:
    """A project's shots in their order."""
    return list(session.scalars(_in_order(project_id)))


def stands_of(session: Session, project_id: uuid.UUID) -> list[tuple[uuid.UUID, Point, Point]]:
    """Id, position and aim of each of a project's shots, in their order: of the rest nothing is read."""
    stand = ShotRow.settings["stand"]
    chosen = select(ShotRow.id, stand["position"], stand["aim"]).where(
        ShotRow.project_id == project_id, ~ShotRow.deleted
    )
    rows = session.execute(chosen.order_by(ShotRow.place, ShotRow.created))
    return [(key, (x, y, z), (ax, ay, az)) for key, (x, y, z), (ax, ay, az) in rows]


def shots_held(session: Session, project_id: uuid.UUID) -> list[ShotRow]:
    """The same, as they are now and held for writing: nobody else's change comes between reading and writing them."""
    return list(session.scalars(_in_order(project_id).with_for_update().execution_options(populate_existing=True)))


def _in_order(project_id: uuid.UUID) -> Any:
    chosen = select(ShotRow).where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return chosen.order_by(ShotRow.place, ShotRow.created)


@dataclass(frozen=True)
class Written:
    """Which writing of a shot, and of the take it keeps, is the present one."""

    id: uuid.UUID
    mark: tuple[Any, ...]


# The version alone does not tell writings apart: a transaction that failed has used one up, and the next takes it
# again. PostgreSQL's number of the transaction that wrote a row is never used again; the version tells writings in one
# transaction apart.
_WRITTEN: Any = (
    select(
        ShotRow.id,
        literal_column("shot.xmin::text::bigint"),
        ShotRow.version,
        literal_column("take.xmin::text::bigint"),
        Take.version,
    )
    .select_from(ShotRow)
    .outerjoin(Take, Take.id == ShotRow.kept_take)
)


def written_of(session: Session, project_id: uuid.UUID) -> list[Written]:
    """The present writings of a project's shots, in their order; some hundred times less to read than the shots."""
    chosen = _WRITTEN.where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return _written(session, chosen.order_by(ShotRow.place, ShotRow.created))


def written_now(session: Session, key: uuid.UUID) -> list[Written]:
    """The present writing of one shot."""
    return _written(session, _WRITTEN.where(ShotRow.id == key))


def _written(session: Session, chosen: Any) -> list[Written]:
    return [Written(key, (key, *mark)) for key, *mark in session.execute(chosen)]


def first_shots(session: Session, most: int) -> tuple[dict[uuid.UUID, int], dict[uuid.UUID, list[ShotRow]]]:
    """How many shots each project has, and its first ones in their order."""
    order = func.row_number().over(partition_by=ShotRow.project_id, order_by=(ShotRow.place, ShotRow.created))
    ranked = select(ShotRow.id, order.label("rank")).where(~ShotRow.deleted).subquery()
    counted = select(ShotRow.project_id, func.count()).where(~ShotRow.deleted).group_by(ShotRow.project_id)
    counts = dict(session.execute(counted).tuples().all())
    first: dict[uuid.UUID, list[ShotRow]] = {}
    chosen = select(ShotRow).join(ranked, ranked.c.id == ShotRow.id).where(ranked.c.rank <= most)
    for row in session.scalars(chosen.order_by(ShotRow.project_id, ranked.c.rank)):
        first.setdefault(row.project_id, []).append(row)
    return counts, first


def rows_of(session: Session, keys: Iterable[uuid.UUID]) -> dict[uuid.UUID, ShotRow]:
    """Some shots by id, deleted ones not among them."""
    chosen = select(ShotRow).where(ShotRow.id.in_(list(keys)), ~ShotRow.deleted)
    return {row.id: row for row in session.scalars(chosen)}


def shot_row(session: Session, key: uuid.UUID) -> ShotRow:
    """A shot. Raises :class:`Missing`."""
    row = session.get(ShotRow, key)
    if row is None or row.deleted:
        raise Missing(say.THERE_IS_NO_SUCH_SHOT)
    return row


def settings_of(row: ShotRow | Take) -> Shot:
    """The shot as the core's model."""
    return Shot.model_validate(row.settings)


@dataclass(frozen=True)
class Placed:
    """What goes with a shot in its project's set: the floor under it, and what it is called by what it shows."""

    floor_of: Callable[[Shot], float | None]
    name_of: Callable[[Shot, float | None], str]
    check: Callable[[Shot], None] = lambda _: None
    """Raises :class:`~zevlo.core.refused.Refused` where the shot names what its project has not."""
