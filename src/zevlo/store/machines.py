"""The machines of the lab: each worker that is there, what it is, how fast, and what it does."""

from __future__ import annotations

import socket
import uuid
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import Engine, delete, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from zevlo.store.database import transaction
from zevlo.store.tables import Machine, MadeWith

THERE_S = 15.0
"""A machine that was not heard of for longer is not there."""
KNOWN_FOR = timedelta(days=30)
"""So long it is known how fast one was that is not there any more."""
TOLD_FOR = timedelta(minutes=15)
"""So long it is told that a worker could not join, or until it does."""
REFUSED = "refused"
"""Why it could not."""


def heard_of(session: Session, key: uuid.UUID, name: str, about: dict[str, Any], **known: Any) -> None:
    """A worker is there, or there again after it was cut off for long; ``known``: its ``doing`` and ``rays_per_s``,
    where they are others now. Those that were not heard of for :data:`KNOWN_FOR` are forgotten."""
    now = datetime.now(UTC)
    row = insert(Machine).values(id=key, name=name, about=about, **{"rays_per_s": 0.0, "doing": "", **known})
    session.execute(row.on_conflict_do_update(index_elements=["id"], set_={"seen": now, "about": about, **known}))
    session.execute(delete(Machine).where(Machine.seen < now - KNOWN_FOR))


def joins(session: Session, name: str) -> float:
    """A worker of that name joins: that one could not before is over. The rays a second of the last one there was; 0:
    none is known."""
    session.execute(delete(Machine).where(Machine.name == name, Machine.about.has_key(REFUSED)))
    measured = select(Machine.rays_per_s).where(Machine.name == name, Machine.rays_per_s > 0.0)
    return session.scalar(measured.order_by(Machine.seen.desc()).limit(1)) or 0.0


def leave(session: Session, key: uuid.UUID) -> None:
    """A worker has ended. How fast it was is known for the next one."""
    gone = datetime.now(UTC) - timedelta(seconds=THERE_S)
    session.execute(update(Machine).where(Machine.id == key).values(seen=gone, doing=""))


def there(session: Session) -> list[Machine]:
    """All that are there, by their names."""
    since = datetime.now(UTC) - timedelta(seconds=THERE_S)
    chosen = select(Machine).where(Machine.seen > since, ~Machine.about.has_key(REFUSED))
    return list(session.scalars(chosen.order_by(Machine.name, Machine.began)))


def turned_away(session: Session, name: str, why: str) -> None:
    """A worker that cannot join: who looks after the machines is to see it too, not only who started it."""
    own = uuid.uuid5(uuid.NAMESPACE_DNS, name)
    heard_of(session, own, name, {REFUSED: why})


def say_turned_away(engine: Engine, why: str) -> None:
    """The same of this machine, as far as the database takes it."""
    with suppress(SQLAlchemyError), transaction(engine) as session:
        turned_away(session, socket.gethostname(), why)


def those_turned_away(session: Session) -> list[Machine]:
    """The newest that could not join, one for each name."""
    since = datetime.now(UTC) - TOLD_FOR
    chosen = select(Machine).where(Machine.seen > since, Machine.about.has_key(REFUSED))
    return list(session.scalars(chosen.order_by(Machine.name)))


def make_with(session: Session, versions: dict[str, str], *, anew: bool) -> dict[str, str]:
    """Note what pictures are made with, if it is not noted yet or is noted ``anew``; what it is from then on."""
    noted = select(MadeWith.versions)
    if not anew and (found := session.scalars(noted).one_or_none()) is not None:
        return dict(found)
    row = insert(MadeWith).values(id=1, versions=versions)
    if anew:
        session.execute(row.on_conflict_do_update(index_elements=["id"], set_={"versions": versions}))
    else:
        session.execute(row.on_conflict_do_nothing())
    return dict(session.scalars(noted).one())


def speed_of_all(session: Session) -> float:
    """Rays a second of finals that all of them together follow; 0 where none has followed any."""
    return sum(machine.rays_per_s for machine in there(session))
