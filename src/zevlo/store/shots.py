"""Shots and their takes: made, changed, kept, put back, ordered, deleted. Each a change that can be undone."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Select, func, literal_column, select
from sqlalchemy.orm import Session

from zevlo.core.shot import Shot
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.tables import ShotRow, Take


class Locked(RuntimeError):
    """The shot is locked; nothing was written."""


def shots_of(session: Session, project_id: uuid.UUID) -> list[ShotRow]:
    """A project's shots in their order."""
    return list(session.scalars(_in_order(project_id)))


def shots_held(session: Session, project_id: uuid.UUID) -> list[ShotRow]:
    """The same, as they are now and held for writing: nobody else's change comes between reading and writing them."""
    return list(session.scalars(_in_order(project_id).with_for_update().execution_options(populate_existing=True)))


def _in_order(project_id: uuid.UUID) -> Select[tuple[ShotRow]]:
    chosen = select(ShotRow).where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return chosen.order_by(ShotRow.place, ShotRow.created)


@dataclass(frozen=True)
class Written:
    """Which writing of a shot, and of the take it keeps, is the present one."""

    id: uuid.UUID
    mark: tuple[Any, ...]


def written_of(session: Session, project_id: uuid.UUID) -> list[Written]:
    """The present writings of a project's shots, in their order; some hundred times less to read than the shots."""
    chosen = _WRITTEN.where(ShotRow.project_id == project_id, ~ShotRow.deleted)
    return _written(session, chosen.order_by(ShotRow.place, ShotRow.created))


def written_now(session: Session, key: uuid.UUID) -> list[Written]:
    """The present writing of one shot."""
    return _written(session, _WRITTEN.where(ShotRow.id == key))


# The version alone does not tell writings apart: a transaction that failed has used one up, and the next takes it
# again. PostgreSQL's number of the transaction that wrote a row is never used again; the version tells writings in one
# transaction apart.
_WRITTEN = (
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


def _written(session: Session, chosen: Any) -> list[Written]:
    return [Written(key, (key, *mark)) for key, *mark in session.execute(chosen)]


def shots_with_takes(session: Session, project_id: uuid.UUID) -> list[tuple[ShotRow, list[Take]]]:
    """A project's shots in their order, held for writing, each with all its takes."""
    rows = shots_held(session, project_id)
    takes = takes_of(session, {row.id for row in rows})
    return [(row, takes[row.id]) for row in rows]


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
        raise Missing("There is no such shot; it may have been deleted.")
    return row


def take_shot(session: Session, key: uuid.UUID) -> ShotRow:
    """The shot of a take. Raises :class:`Missing`."""
    take = session.get(Take, key)
    if take is None or take.deleted:
        raise Missing("There is no such take; it may have been deleted.")
    return shot_row(session, take.shot_id)


def settings_of(row: ShotRow | Take) -> Shot:
    """The shot as the core's model."""
    return Shot.model_validate(row.settings)


def unique_name(session: Session, project_id: uuid.UUID, wanted: str) -> str:
    """``wanted``, or with the first free number behind it."""
    return _free_among(_names(session, project_id), wanted)


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


def add_shot(
    session: Session,
    project_id: uuid.UUID,
    shot: Shot,
    after: ShotRow | None,
    label: str,
    placed: Placed | None = None,
    like: ShotRow | None = None,
    named_by_hand: bool = True,
    key: uuid.UUID | None = None,
) -> ShotRow:
    """A new shot behind ``after``, or last; kept at once as take 1. Labels and colour are those of ``like``.

    It is named by what it shows where no hand named it.
    """
    writing = Writing(session, str(project_id))
    rows = shots_of(session, project_id)
    floor = None if placed is None else placed.floor_of(shot)
    wanted = shot.name if named_by_hand or placed is None else placed.name_of(shot, floor)
    named = shot.model_copy(update={"name": unique_name(session, project_id, wanted)})
    place = _place_after(writing, rows, after)
    row = ShotRow(project_id=project_id, place=place, settings=named.as_json(), locked=False, kept_take=None)
    row.named_by_hand, row.floor_m = named_by_hand, floor
    if key is not None:
        row.id = key
    if like is not None:
        row.labels, row.colour = list(like.labels), like.colour
    writing.add(row)
    take = Take(shot_id=row.id, number=1, settings=named.as_json())
    writing.add(take)
    row.kept_take = take.id
    writing.done(label.format(name=named.name))
    return row


def made_before(session: Session, project_id: uuid.UUID, key: uuid.UUID | None) -> ShotRow | None:
    """The shot somebody made under an id they chose and did not hear of: asked for again, it is not made again.

    Raises :class:`Missing` where it was taken away since, or the id is another project's.
    """
    row = None if key is None else session.get(ShotRow, key)
    if row is not None and (row.deleted or row.project_id != project_id):
        raise Missing("A shot was made under that id before, and is not there any more.")
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


@dataclass(frozen=True)
class Placed:
    """What goes with a shot in its project's set: the floor under it, and what it is called by what it shows."""

    floor_of: Callable[[Shot], float | None]
    name_of: Callable[[Shot, float | None], str]


def change_shot(
    session: Session,
    key: uuid.UUID,
    seen: int | None,
    shot: Shot,
    label: str,
    placed: Placed | None = None,
    ticket: uuid.UUID | None = None,
) -> ShotRow:
    """Other settings for a shot. Raises :class:`Locked`, :class:`~zevlo.store.changes.Clash`.

    A name given by hand stays; one that was proposed goes with the shot, as it is ``placed``.
    """
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    write_shot(session, writing, row, seen, shot, placed)
    writing.done(label, ticket)
    return row


def write_shot(
    session: Session, writing: Writing, row: ShotRow, seen: int | None, shot: Shot, placed: Placed | None
) -> None:
    """Other settings for a shot, as part of a larger change. Raises :class:`Locked`."""
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to change it.")
    named_by_hand = row.named_by_hand
    floor = row.floor_m if placed is None else placed.floor_of(shot)
    if shot.name != row.settings["name"]:
        shot = shot.model_copy(update={"name": _free_name(session, row, shot.name)})
        named_by_hand = True
    elif not named_by_hand and placed is not None:
        shot = shot.model_copy(update={"name": _free_name(session, row, placed.name_of(shot, floor))})
    writing.change(row, seen, settings=shot.as_json(), named_by_hand=named_by_hand, floor_m=floor)


def name_itself(session: Session, key: uuid.UUID, seen: int, placed: Placed) -> ShotRow:
    """Let a shot be named by what it shows again."""
    row = locked_row(session, ShotRow, key)
    shot = settings_of(row)
    name = _free_name(session, row, placed.name_of(shot, row.floor_m))
    writing = Writing(session, str(row.project_id))
    settings = shot.model_copy(update={"name": name}).as_json()
    writing.change(row, seen, settings=settings, named_by_hand=False)
    writing.done(f"Name “{name}” by what it shows")
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


def card_shot(session: Session, key: uuid.UUID, seen: int, labels: list[str] | None, colour: str | None) -> ShotRow:
    """Own labels and the colour of the marker; a missing one stays, an empty colour is the usual one."""
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    values: dict[str, Any] = {}
    if labels is not None:
        values["labels"] = list(dict.fromkeys(labels))
    if colour is not None:
        values["colour"] = colour or None
    writing.change(row, seen, **values)
    writing.done(f"{'Labels' if labels is not None else 'Colour'} of “{row.settings['name']}”")
    return row


def write_many(
    session: Session, project_id: uuid.UUID, shots: Mapping[uuid.UUID, Shot], label: str, placed: Placed
) -> None:
    """Other settings for many shots in one change. Raises :class:`Locked` where one is locked; then none is written."""
    writing = Writing(session, str(project_id))
    for key, shot in shots.items():
        write_shot(session, writing, locked_row(session, ShotRow, key), None, shot, placed)
    writing.done(label)


def order_shots(session: Session, project_id: uuid.UUID, keys: list[uuid.UUID], label: str) -> None:
    """The shot list in another order; shots that are not told keep theirs behind the others."""
    rank = {key: number for number, key in enumerate(keys)}
    writing = Writing(session, str(project_id))
    rows = sorted(shots_held(session, project_id), key=lambda row: rank.get(row.id, len(rank)))
    for number, row in enumerate(rows, 1):
        writing.change(row, None, place=float(number))
    writing.done(label)


def name_take(session: Session, key: uuid.UUID, name: str) -> Take:
    """Name a take; an empty name takes it away."""
    take = locked_row(session, Take, key)
    row = shot_row(session, take.shot_id)
    writing = Writing(session, str(row.project_id))
    writing.change(take, None, name=name or None)
    if row.kept_take == take.id:
        # What is told of the shot is other now.
        row.version += 1
    writing.done(f"Name take {take.number} of “{row.settings['name']}”")
    return take


def back_to_take(session: Session, key: uuid.UUID, placed: Placed | None = None) -> ShotRow:
    """Put a kept framing back; it is the kept one from then on. A name given by hand stays."""
    take = locked_row(session, Take, key)
    row = locked_row(session, ShotRow, take.shot_id)
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to change it.")
    writing = Writing(session, str(row.project_id))
    settings, floor = _with_its_name(session, row, take, placed)
    writing.change(row, None, settings=settings, kept_take=take.id, floor_m=floor)
    writing.done(f"“{settings['name']}” back to take {take.number}")
    return row


def _with_its_name(
    session: Session, row: ShotRow, take: Take, placed: Placed | None
) -> tuple[dict[str, Any], float | None]:
    """A take's settings under the name of its shot, that given by hand or the one by what the take shows; its floor."""
    name, floor = str(row.settings["name"]), row.floor_m
    if placed is not None:
        floor = placed.floor_of(settings_of(take))
        if not row.named_by_hand:
            name = _free_name(session, row, placed.name_of(settings_of(take), floor))
    return {**take.settings, "name": name}, floor


def _free_name(session: Session, row: ShotRow, wanted: str) -> str:
    return _free_among(_names(session, row.project_id, row.id), wanted)


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


def back_to_kept(session: Session, key: uuid.UUID, seen: int, placed: Placed | None = None) -> ShotRow:
    """Put the last kept framing back; a name given by hand stays."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(f"“{row.settings['name']}” is locked. Unlock it to change it.")
    take = None if row.kept_take is None else session.get(Take, row.kept_take)
    if take is None:
        raise Missing("Nothing was kept of this shot yet.")
    writing = Writing(session, str(row.project_id))
    settings, floor = _with_its_name(session, row, take, placed)
    writing.change(row, seen, settings=settings, floor_m=floor)
    writing.done(f"“{settings['name']}” back to take {take.number}")
    return row


def same_framing(a: Mapping[str, Any] | Shot, b: Mapping[str, Any] | Shot) -> bool:
    """Whether two settings are the same shot but for the name. Settings of before new keys came count with defaults."""
    one, other = (s if isinstance(s, Shot) else Shot.model_validate(s) for s in (a, b))
    return one.model_copy(update={"name": "-"}) == other.model_copy(update={"name": "-"})


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
