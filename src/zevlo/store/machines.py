"""The machines of the lab: each worker that is there, what it is, how fast, and what it does."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from zevlo.store.tables import Machine

THERE_S = 15.0
"""A machine that was not heard of for longer is not there."""
KNOWN_FOR = timedelta(days=1)


def join(session: Session, name: str, about: dict[str, Any]) -> uuid.UUID:
    """A worker is there from now on; those that were not heard of for a day are forgotten."""
    session.execute(delete(Machine).where(Machine.seen < datetime.now(UTC) - KNOWN_FOR))
    key = uuid.uuid4()
    session.add(Machine(id=key, name=name, about=about))
    session.flush()
    return key


def heard_of(session: Session, key: uuid.UUID, **known: Any) -> None:
    """A worker is still there; ``known``: its ``doing`` and ``rays_per_s``, where they are others now."""
    session.execute(update(Machine).where(Machine.id == key).values(seen=datetime.now(UTC), **known))


def leave(session: Session, key: uuid.UUID) -> None:
    """A worker has ended."""
    session.execute(delete(Machine).where(Machine.id == key))


def there(session: Session) -> list[Machine]:
    """All that are there, by their names."""
    since = datetime.now(UTC) - timedelta(seconds=THERE_S)
    return list(session.scalars(select(Machine).where(Machine.seen > since).order_by(Machine.name, Machine.began)))


def speed_of_all(session: Session) -> float:
    """Rays a second of finals that all of them together follow; 0 where none has followed any."""
    return sum(machine.rays_per_s for machine in there(session))
