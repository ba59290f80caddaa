"""Takes of shots: kept, named, gone back to. Each a change that can be undone."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from zevlo.core.shot import Shot
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.shot_names import free_name
from zevlo.store.shot_rows import Locked, Placed, settings_of, shot_row, shots_held
from zevlo.store.tables import ShotRow, Take
from zevlo.text import store as say


def shots_with_takes(session: Session, project_id: uuid.UUID) -> list[tuple[ShotRow, list[Take]]]:
    """A project's shots in their order, held for writing, each with all its takes."""
    rows = shots_held(session, project_id)
    takes = takes_of(session, {row.id for row in rows})
    return [(row, takes[row.id]) for row in rows]


def take_shot(session: Session, key: uuid.UUID) -> ShotRow:
    """The shot of a take. Raises :class:`Missing`."""
    take = session.get(Take, key)
    if take is None or take.deleted:
        raise Missing(say.THERE_IS_NO_SUCH_TAKE)
    return shot_row(session, take.shot_id)


def name_take(session: Session, key: uuid.UUID, name: str) -> Take:
    """Name a take; an empty name takes it away."""
    take = locked_row(session, Take, key)
    row = shot_row(session, take.shot_id)
    writing = Writing(session, str(row.project_id))
    writing.change(take, None, name=name or None)
    if row.kept_take == take.id:
        # What is told of the shot is other now.
        row.version += 1
    writing.done(say.name_take_of(take.number, row.settings["name"]))
    return take


def back_to_take(session: Session, key: uuid.UUID, placed: Placed | None = None) -> ShotRow:
    """Put a kept framing back; it is the kept one from then on. A name given by hand stays."""
    take = locked_row(session, Take, key)
    row = locked_row(session, ShotRow, take.shot_id)
    if row.locked:
        raise Locked(say.is_locked_unlock_it_to_change(row.settings["name"]))
    writing = Writing(session, str(row.project_id))
    settings, floor = _with_its_name(session, row, take, placed)
    writing.change(row, None, settings=settings, kept_take=take.id, floor_m=floor)
    writing.done(say.back_to_take(settings["name"], take.number))
    return row


def _with_its_name(
    session: Session, row: ShotRow, take: Take, placed: Placed | None
) -> tuple[dict[str, Any], float | None]:
    """A take's settings under the name of its shot, that given by hand or the one by what the take shows; its floor."""
    name, floor = str(row.settings["name"]), row.floor_m
    if placed is not None:
        floor = placed.floor_of(settings_of(take))
        if not row.named_by_hand:
            name = free_name(session, row, placed.name_of(settings_of(take), floor))
    return {**take.settings, "name": name}, floor


def keep_shot(session: Session, key: uuid.UUID, seen: int) -> ShotRow:
    """Keep the framing as the next take. Keeping what is kept already changes nothing."""
    row = locked_row(session, ShotRow, key)
    kept = None if row.kept_take is None else session.get(Take, row.kept_take)
    if kept is not None and not kept.deleted and same_framing(kept.settings, row.settings):
        return row
    number = (session.scalar(select(func.max(Take.number)).where(Take.shot_id == key)) or 0) + 1
    writing = Writing(session, str(row.project_id))
    take = Take(shot_id=row.id, number=number, settings=row.settings)
    writing.add(take)
    writing.change(row, seen, kept_take=take.id)
    writing.done(say.keep_as_take(row.settings["name"], number))
    return row


def back_to_kept(session: Session, key: uuid.UUID, seen: int, placed: Placed | None = None) -> ShotRow:
    """Put the last kept framing back; a name given by hand stays."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(say.is_locked_unlock_it_to_change(row.settings["name"]))
    take = None if row.kept_take is None else session.get(Take, row.kept_take)
    if take is None:
        raise Missing(say.NOTHING_WAS_KEPT_OF_THIS_SHOT)
    writing = Writing(session, str(row.project_id))
    settings, floor = _with_its_name(session, row, take, placed)
    writing.change(row, seen, settings=settings, floor_m=floor)
    writing.done(say.back_to_take(settings["name"], take.number))
    return row


def same_framing(a: Mapping[str, Any] | Shot, b: Mapping[str, Any] | Shot) -> bool:
    """Whether two settings are the same shot but for the name. Settings of before new keys came count with defaults."""
    one, other = (s if isinstance(s, Shot) else Shot.model_validate(s) for s in (a, b))
    return one.model_copy(update={"name": "-"}) == other.model_copy(update={"name": "-"})


def takes_by_id(session: Session, rows: Iterable[ShotRow]) -> dict[uuid.UUID, Take]:
    """The kept takes of shots, by id."""
    keys = [row.kept_take for row in rows if row.kept_take is not None]
    return {take.id: take for take in session.scalars(select(Take).where(Take.id.in_(keys)))}


def takes_of(session: Session, shots: set[uuid.UUID]) -> dict[uuid.UUID, list[Take]]:
    """All takes of some shots, by shot, in their order."""
    found: dict[uuid.UUID, list[Take]] = {key: [] for key in shots}
    chosen = select(Take).where(Take.shot_id.in_(shots), ~Take.deleted).order_by(Take.number)
    for take in session.scalars(chosen) if shots else ():
        found[take.shot_id].append(take)
    return found
