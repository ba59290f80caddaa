"""What shots are called: no two of a project the same, given by hand or by what they show."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from zevlo.core.shot import Shot
from zevlo.store.changes import Writing, locked_row
from zevlo.store.shot_rows import Placed, settings_of, shots_held
from zevlo.store.tables import ShotRow
from zevlo.text import store as say


def unique_names(session: Session, project_id: uuid.UUID, wanted: Sequence[str]) -> list[str]:
    """Each name, or with the first free number behind it."""
    taken, found = _names(session, project_id), []
    for name in wanted:
        found.append(free := _free_among(taken, name))
        taken.add(free)
    return found


def _names(session: Session, project_id: uuid.UUID, but: uuid.UUID | None = None) -> set[str]:
    """What the shots of a project are called, one of them left out."""
    chosen = select(ShotRow.settings["name"].astext).where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return set(session.scalars(chosen if but is None else chosen.where(ShotRow.id != but)))


def _free_among(taken: set[str], wanted: str) -> str:
    if wanted not in taken:
        return wanted
    stem = re.sub(r" \d+$", "", wanted)[:110]
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"


def name_itself(session: Session, key: uuid.UUID, seen: int, placed: Placed) -> ShotRow:
    """Let a shot be named by what it shows again."""
    row = locked_row(session, ShotRow, key)
    shot = settings_of(row)
    name = free_name(session, row, placed.name_of(shot, row.floor_m))
    writing = Writing(session, str(row.project_id))
    settings = shot.model_copy(update={"name": name}).as_json()
    writing.change(row, seen, settings=settings, named_by_hand=False)
    writing.done(say.name_by_what_it_shows(name))
    return row


def name_untouched(
    session: Session, writing: Writing, project_id: uuid.UUID, name_of: Callable[[Shot, float | None], str]
) -> None:
    """Shots named by what they show get the names that go with how their project is now; locked ones keep theirs."""
    rows = shots_held(session, project_id)
    loose = [row for row in rows if not row.named_by_hand and not row.locked]
    names = {row.id: str(row.settings["name"]) for row in rows}
    wanted = {row.id: name_of(settings_of(row), row.floor_m) for row in loose}
    # One that has its name with a number behind it keeps that number.
    loose = [row for row in loose if not re.fullmatch(re.escape(wanted[row.id]) + r"( \d+)?", names[row.id])]
    taken = set(names.values()) - {names[row.id] for row in loose}
    for row in loose:
        name = _free_among(taken, wanted[row.id])
        taken.add(name)
        writing.change(row, None, settings={**row.settings, "name": name})


def free_name(session: Session, row: ShotRow, wanted: str) -> str:
    return _free_among(_names(session, row.project_id, row.id), wanted)
