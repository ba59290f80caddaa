"""Shots and their takes: made, changed, kept, put back, ordered, deleted. Each a change that can be undone."""

from __future__ import annotations

import re
import uuid

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from zevlo.core.shot import Shot
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.tables import ShotRow, Take


class Locked(RuntimeError):
    """The shot is locked; nothing was written."""


def shots_of(session: Session, project_id: uuid.UUID) -> list[ShotRow]:
    """A project's shots in their order."""
    chosen = select(ShotRow).where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return list(session.scalars(chosen.order_by(ShotRow.place, ShotRow.created)))


def shot_row(session: Session, key: uuid.UUID) -> ShotRow:
    """A shot. Raises :class:`Missing`."""
    row = session.get(ShotRow, key)
    if row is None or row.deleted:
        raise Missing("There is no such shot; it may have been deleted.")
    return row


def settings_of(row: ShotRow | Take) -> Shot:
    """The shot as the core's model."""
    return Shot.model_validate(row.settings)


def unique_name(session: Session, project_id: uuid.UUID, wanted: str) -> str:
    """``wanted``, or with the first free number behind it."""
    taken = {str(row.settings["name"]) for row in shots_of(session, project_id)}
    if wanted not in taken:
        return wanted
    stem = re.sub(r" \d+$", "", wanted)[:110]
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"


def add_shot(session: Session, project_id: uuid.UUID, shot: Shot, after: ShotRow | None, label: str) -> ShotRow:
    """A new shot behind ``after``, or last; kept at once as take 1."""
    rows = shots_of(session, project_id)
    named = shot.model_copy(update={"name": unique_name(session, project_id, shot.name)})
    writing = Writing(session, str(project_id))
    place = _place_after(writing, rows, after)
    row = ShotRow(project_id=project_id, place=place, settings=named.as_json(), locked=False, kept_take=None)
    writing.add(row)
    take = Take(shot_id=row.id, number=1, settings=named.as_json())
    writing.add(take)
    row.kept_take = take.id
    writing.done(label.format(name=named.name))
    return row


LEAST_GAP = 1.0e-6


def _place_after(writing: Writing, rows: list[ShotRow], after: ShotRow | None) -> float:
    """A place behind a shot, or behind all. Where there is no room left between two, all are spread anew."""
    index = len(rows) - 1 if after is None else next((n for n, r in enumerate(rows) if r.id == after.id), len(rows) - 1)
    if index + 1 >= len(rows):
        return rows[-1].place + 1.0 if rows else 1.0
    if rows[index + 1].place - rows[index].place < LEAST_GAP:
        for number, row in enumerate(rows):
            writing.change(row, None, place=float(number + 1))
    return (rows[index].place + rows[index + 1].place) / 2.0


def change_shot(session: Session, key: uuid.UUID, seen: int, shot: Shot, label: str) -> ShotRow:
    """Other settings for a shot. Raises :class:`Locked`, :class:`~zevlo.store.changes.Clash`."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to change it.")
    if shot.name != row.settings["name"]:
        shot = shot.model_copy(update={"name": _free_name(session, row, shot.name)})
    writing = Writing(session, str(row.project_id))
    writing.change(row, seen, settings=shot.as_json())
    writing.done(label)
    return row


def _free_name(session: Session, row: ShotRow, wanted: str) -> str:
    others = {str(r.settings["name"]) for r in shots_of(session, row.project_id) if r.id != row.id}
    return wanted if wanted not in others else unique_name(session, row.project_id, wanted)


def lock_shot(session: Session, key: uuid.UUID, seen: int, locked: bool) -> ShotRow:
    """Lock or unlock."""
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    writing.change(row, seen, locked=locked)
    writing.done(("Lock" if locked else "Unlock") + f" “{row.settings['name']}”")
    return row


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
    writing.done(f"Keep “{row.settings['name']}” as take {number}")
    return row


def back_to_kept(session: Session, key: uuid.UUID, seen: int) -> ShotRow:
    """Put the last kept framing back; the name stays."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to change it.")
    take = None if row.kept_take is None else session.get(Take, row.kept_take)
    if take is None:
        raise Missing("Nothing was kept of this shot yet.")
    writing = Writing(session, str(row.project_id))
    writing.change(row, seen, settings={**take.settings, "name": row.settings["name"]})
    writing.done(f"“{row.settings['name']}” back to take {take.number}")
    return row


def same_framing(a: dict[str, object], b: dict[str, object]) -> bool:
    """Whether two settings are the same shot but for the name."""
    return {**a, "name": ""} == {**b, "name": ""}


def move_shot(session: Session, key: uuid.UUID, seen: int, after: uuid.UUID | None) -> ShotRow:
    """Put a shot behind another one, or first."""
    row = locked_row(session, ShotRow, key)
    others = [r for r in shots_of(session, row.project_id) if r.id != key]
    writing = Writing(session, str(row.project_id))
    if after is None:
        place = others[0].place - 1.0 if others else row.place
    else:
        place = _place_after(writing, others, shot_row(session, after))
    writing.change(row, seen, place=place)
    writing.done(f"Move “{row.settings['name']}” in the shot list")
    return row


def delete_shot(session: Session, key: uuid.UUID) -> ShotRow:
    """Delete a shot. Raises :class:`Locked`."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to delete it.")
    writing = Writing(session, str(row.project_id))
    writing.change(row, None, deleted=True)
    writing.done(f"Delete “{row.settings['name']}”")
    return row


def takes_by_id(session: Session, rows: list[ShotRow]) -> dict[uuid.UUID, Take]:
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
