"""Every write as a change that can be undone, after a restart too.

A change holds each row it touched, before and after. Undo writes the before back, redo the after. A new
change drops what was undone. Whoever writes says which version of a row they saw; a clash is told.

Every write and every undo holds its scope: one comes after the other, and each reads what the one before it left.
"""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar

from sqlalchemy import inspect, select, text, update
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from zevlo.store.database import What, tell
from zevlo.store.tables import UNDOABLE, Change, Kept, Project, ShotRow, Take
from zevlo.text import store as say

Row = TypeVar("Row", bound=Kept)
HOME = "home"
"""Scope of changes to the list of projects; a project's own changes have its id as scope."""


LOCK_NOT_AVAILABLE = "55P03"
"""PostgreSQL's word for it (SQLSTATE, class 55)."""


class Missing(LookupError):
    """There is no such thing, or it was deleted."""


class Clash(RuntimeError):
    """Someone else changed it meanwhile; nothing was written."""


class Busy(RuntimeError):
    """Somebody has been writing in a scope for long; nothing was written, and the same may be asked again."""

    def __init__(self, scope: str) -> None:
        what = say.THE_LIST_OF_PROJECTS if scope == HOME else say.THIS_PROJECT
        super().__init__(say.is_busy_something_large(what))


WAITS_S = 5.0
"""So long a write waits for others of its scope."""
_TAKE = "select {take}(hashtextextended(:scope, 0))"


def hold(session: Session, scope: str) -> None:
    """Wait for every other write of a scope, and keep others out until this transaction ends.

    What was read before is read anew from then on: it may have been written meanwhile. Raises :class:`Busy` where that
    takes longer than :data:`WAITS_S`.
    """
    held: set[str] = session.info.setdefault("held", set())
    if scope in held:
        return
    if not session.scalar(text(_TAKE.format(take="pg_try_advisory_xact_lock")), {"scope": scope}):
        session.execute(text(f"set local lock_timeout = '{WAITS_S}s'"))
        try:
            session.execute(text(_TAKE.format(take="pg_advisory_xact_lock")), {"scope": scope})
        except OperationalError as error:
            if getattr(error.orig, "sqlstate", None) == LOCK_NOT_AVAILABLE:
                raise Busy(scope) from error
            raise
        session.execute(text("set local lock_timeout = 0"))
    held.add(scope)
    session.expire_all()


@dataclass
class Writing:
    """Collects the rows one change touches. Use within one transaction, then :meth:`done`."""

    session: Session
    scope: str
    entries: list[dict[str, Any]] = field(default_factory=list)

    def __post_init__(self) -> None:
        hold(self.session, self.scope)

    def add(self, row: Kept) -> None:
        """A new row. Undoing its change deletes it."""
        self.add_all([row])

    def add_all(self, rows: Sequence[Kept]) -> None:
        """New rows, written together."""
        self.session.add_all(rows)
        self.session.flush()
        for row in rows:
            self._note(row, {"deleted": True}, {"deleted": False})

    def change(self, row: Kept, seen: int | None = None, **values: Any) -> None:
        """Change columns of a row. Raises :class:`Clash` where ``seen`` is no longer its version."""
        if seen is not None and row.version != seen:
            raise Clash(say.THIS_WAS_CHANGED_ELSEWHERE)
        before = {name: _plain(getattr(row, name)) for name in values}
        after = {name: _plain(value) for name, value in values.items()}
        if before == after:
            return
        for name, value in values.items():
            setattr(row, name, value)
        row.version += 1
        self._note(row, before, after)

    def done(self, label: str, ticket: uuid.UUID | None = None) -> bool:
        """Write the change down, with the id under which it was asked for; False if nothing changed."""
        if not self.entries:
            return False
        self.session.execute(
            update(Change).where(Change.scope == self.scope, Change.state == "undone").values(state="dropped")
        )
        self.session.add(Change(scope=self.scope, label=label, entries=self.entries, ticket=ticket))
        self.session.flush()
        by = {} if ticket is None else {"by": str(ticket)}
        tell(self.session, self.scope, _what(self.entries), **by)
        return True

    def _note(self, row: Kept, before: dict[str, Any], after: dict[str, Any]) -> None:
        table = inspect(type(row)).local_table.name
        self.entries.append({"table": table, "id": str(row.id), "before": before, "after": after})


def was_made(session: Session, scope: str, ticket: uuid.UUID | None) -> bool:
    """Whether a change that is asked for under an id was made before, by someone who did not hear of it."""
    if ticket is None:
        return False
    return session.scalar(select(Change.seq).where(Change.scope == scope, Change.ticket == ticket).limit(1)) is not None


def _what(entries: list[dict[str, Any]]) -> What:
    """What of a scope is other after rows were written: only its shots, or anything."""
    return "shots" if {entry["table"] for entry in entries} <= {"shot", "take"} else "change"


def _plain(value: Any) -> Any:
    return str(value) if isinstance(value, uuid.UUID) else value


def scope_of(session: Session, kind: type[Kept], key: uuid.UUID) -> str:
    """The scope changes to a row belong to: its project. Raises :class:`Missing`."""
    if kind is Project:
        return str(key)
    if kind is Take:
        chosen = select(ShotRow.project_id).join(Take, Take.shot_id == ShotRow.id).where(Take.id == key)
    else:
        chosen = select(kind.project_id).where(kind.id == key)  # type: ignore[attr-defined]
    found = session.scalar(chosen)
    if found is None:
        raise Missing(say.THAT_IS_NOT_THERE_ANY_MORE_IT_MAY_HAVE)
    return str(found)


def locked_row(session: Session, kind: type[Row], key: uuid.UUID) -> Row:
    """A row held for writing, and its scope before it, so that nobody waits crosswise. Raises :class:`Missing`."""
    hold(session, scope_of(session, kind, key))
    row = session.get(kind, key, with_for_update=True, populate_existing=True)
    if row is None or row.deleted:
        raise Missing(say.THAT_IS_NOT_THERE_ANY_MORE_IT_MAY_HAVE)
    return row


def undo(session: Session, scope: str, seen: int | None = None) -> str | None:
    """Take the newest change back; returns its label, None where there is none.

    ``seen``: the change that is meant. It is taken back once, however often that is asked for. Raises :class:`Clash`
    where another one is the newest by now.
    """
    return _step(session, scope, "done", "undone", "before", newest=True, seen=seen)


def redo(session: Session, scope: str, seen: int | None = None) -> str | None:
    """Do again what was undone last; returns its label, None where there is none. ``seen`` as for :func:`undo`."""
    return _step(session, scope, "undone", "done", "after", newest=False, seen=seen)


def _step(session: Session, scope: str, state: str, then: str, side: str, newest: bool, seen: int | None) -> str | None:
    hold(session, scope)
    order = Change.seq.desc() if newest else Change.seq.asc()
    change = session.scalar(
        select(Change).where(Change.scope == scope, Change.state == state).order_by(order).limit(1).with_for_update()
    )
    if seen is not None and (change is None or change.seq != seen):
        # Whoever asks again, because the answer got lost, is told what was done.
        asked = session.scalar(select(Change).where(Change.scope == scope, Change.seq == seen))
        if asked is not None and asked.state == then:
            return asked.label
        now = say.THERE_IS_NOTHING_TO_TAKE if change is None else say.the_newest_change_is(change.label)
        raise Clash(say.something_was_changed_elsewhere(now))
    if change is None:
        return None
    rows = _rows_of(session, change.entries)
    for entry in reversed(change.entries) if newest else change.entries:
        _write_back(rows.get((entry["table"], entry["id"])), entry[side])
    change.state = then
    session.flush()
    tell(session, scope, _what(change.entries))
    return change.label


def _rows_of(session: Session, entries: list[dict[str, Any]]) -> dict[tuple[str, str], Any]:
    """The rows a change touched, held, by table and id; all of a table at once."""
    found: dict[tuple[str, str], Any] = {}
    for table in sorted({entry["table"] for entry in entries}):
        kind: Any = UNDOABLE[table]
        keys = sorted({uuid.UUID(entry["id"]) for entry in entries if entry["table"] == table})
        chosen = select(kind).where(kind.id.in_(keys)).order_by(kind.id).with_for_update()
        for row in session.scalars(chosen.execution_options(populate_existing=True)):
            found[table, str(row.id)] = row
    return found


def _write_back(row: Any, values: dict[str, Any]) -> None:
    if row is None:
        raise Missing(say.WHAT_THIS_CHANGE_WAS_ABOUT)
    columns = inspect(type(row)).columns
    for name, value in values.items():
        is_id = isinstance(value, str) and columns[name].type.python_type is uuid.UUID
        setattr(row, name, uuid.UUID(value) if is_id else value)
    row.version += 1


@dataclass(frozen=True)
class Next:
    """What undo or redo would act on: its words, and the number by which whoever saw it tells it."""

    label: str | None = None
    seq: int | None = None


def next_changes(session: Session, scope: str) -> tuple[Next, Next]:
    """What undo and redo would act on."""

    def found(state: str, newest: bool) -> Next:
        order = Change.seq.desc() if newest else Change.seq.asc()
        chosen = select(Change.label, Change.seq).where(Change.scope == scope, Change.state == state)
        row = session.execute(chosen.order_by(order).limit(1)).one_or_none()
        return Next() if row is None else Next(row.label, row.seq)

    return found("done", True), found("undone", False)
