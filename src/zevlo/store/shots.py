"""Shots: made, changed, labelled, locked, deleted. Each a change that can be undone."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session

from zevlo.core.shot import Shot
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.shot_list import places_after
from zevlo.store.shot_names import free_name, unique_names
from zevlo.store.shot_rows import Locked, Placed, shots_of
from zevlo.store.tables import ShotRow, Take
from zevlo.text import store as say


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

    ``project_id``: whose; ``label``: what undo calls it; ``placed``: names shots by what they show; ``named_by_hand``:
    whether a hand named it; ``key``: it is known by, where one is given."""
    writing = Writing(session, str(project_id))
    (row,) = _added(session, writing, project_id, [shot], after, placed, like, named_by_hand, [key])
    writing.done(label.format(name=row.settings["name"]))
    return row


def add_pair(
    session: Session, row: ShotRow, pair: tuple[Shot, Shot], placed: Placed, key: uuid.UUID | None = None
) -> tuple[ShotRow, ShotRow]:
    """Two shots behind another, with its labels and colour, in one change; the first known by ``key``.

    ``row``: that shot; ``pair``: both; ``placed``: names shots by what they show."""
    writing = Writing(session, str(row.project_id))
    second = None if key is None else _second(key)
    front, back = _added(session, writing, row.project_id, pair, row, placed, row, True, [key, second])
    writing.done(say.a_pair_of_front(row.settings["name"]))
    return front, back


def pair_again(session: Session, front: ShotRow) -> tuple[ShotRow, ShotRow]:
    """The pair whose first shot was made before. Raises :class:`Missing` where the other was taken away since."""
    back = made_before(session, front.project_id, _second(front.id))
    if back is None:
        raise Missing(say.NO_PAIR_WAS_MADE)
    return front, back


def _second(key: uuid.UUID) -> uuid.UUID:
    """The id of the second shot of a pair, by that of the first."""
    return uuid.uuid5(key, "back")


def _added(
    session: Session,
    writing: Writing,
    project_id: uuid.UUID,
    shots: Sequence[Shot],
    after: ShotRow | None,
    placed: Placed | None,
    like: ShotRow | None,
    named_by_hand: bool,
    keys: Sequence[uuid.UUID | None],
) -> list[ShotRow]:
    """New shots, one behind the other, as part of a change; the project's are read once, however many those are."""
    present = shots_of(session, project_id)
    floors = [None if placed is None else placed.floor_of(shot) for shot in shots]
    wanted = []
    for shot, floor in zip(shots, floors, strict=True):
        if placed is not None:
            placed.check(shot)
        wanted.append(shot.name if named_by_hand or placed is None else placed.name_of(shot, floor))
    names = unique_names(session, project_id, wanted)
    places = places_after(writing, present, after, len(shots))
    rows, takes = [], []
    for shot, floor, name, place, key in zip(shots, floors, names, places, keys, strict=True):
        settings = shot.model_copy(update={"name": name}).as_json()
        row = ShotRow(
            id=key or uuid.uuid4(), project_id=project_id, place=place, settings=settings, locked=False, kept_take=None,
            named_by_hand=named_by_hand, floor_m=floor, labels=[] if like is None else list(like.labels),
            colour=None if like is None else like.colour,
        )  # fmt: skip
        take = Take(id=uuid.uuid4(), shot_id=row.id, number=1, settings=settings)
        row.kept_take = take.id
        rows.append(row)
        takes.append(take)
    writing.add_all(rows)
    writing.add_all(takes)
    return rows


def made_before(session: Session, project_id: uuid.UUID, key: uuid.UUID | None) -> ShotRow | None:
    """The shot somebody made under an id they chose and did not hear of: asked for again, it is not made again.

    Raises :class:`Missing` where it was taken away since, or the id is another project's.
    """
    row = None if key is None else session.get(ShotRow, key)
    if row is not None and (row.deleted or row.project_id != project_id):
        raise Missing(say.A_SHOT_WAS_MADE)
    return row


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

    ``key``: the shot's; ``seen``: the version it was changed from, None for whichever there is; ``label``: what undo
    calls it; ``ticket``: known to who asked for it."""
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    write_shot(session, writing, row, seen, shot, placed)
    writing.done(label, ticket)
    return row


def write_shot(
    session: Session, writing: Writing, row: ShotRow, seen: int | None, shot: Shot, placed: Placed | None
) -> None:
    """Other settings for a shot, as part of a larger change. Raises :class:`Locked`.

    ``writing``: that change; ``row``: the shot's; ``seen``, ``placed``: as for :func:`change_shot`."""
    if row.locked:
        raise Locked(say.is_locked_unlock_it_to_change(row.settings["name"]))
    if placed is not None:
        placed.check(shot)
    named_by_hand = row.named_by_hand
    floor = row.floor_m if placed is None else placed.floor_of(shot)
    if shot.name != row.settings["name"]:
        shot = shot.model_copy(update={"name": free_name(session, row, shot.name)})
        named_by_hand = True
    elif not named_by_hand and placed is not None:
        shot = shot.model_copy(update={"name": free_name(session, row, placed.name_of(shot, floor))})
    writing.change(row, seen, settings=shot.as_json(), named_by_hand=named_by_hand, floor_m=floor)


def card_shot(session: Session, key: uuid.UUID, seen: int, labels: list[str] | None, colour: str | None) -> ShotRow:
    """Own labels and the colour of the marker; a missing one stays, an empty colour is the usual one.

    ``key``: the shot's; ``seen``: the version they were changed from."""
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    values: dict[str, Any] = {}
    if labels is not None:
        values["labels"] = list(dict.fromkeys(labels))
    if colour is not None:
        values["colour"] = colour or None
    writing.change(row, seen, **values)
    writing.done(say.thing_of(say.LABELS if labels is not None else say.COLOUR, row.settings["name"]))
    return row


def write_many(
    session: Session, project_id: uuid.UUID, shots: Mapping[uuid.UUID, Shot], label: str, placed: Placed
) -> None:
    """Other settings for many shots in one change. Raises :class:`Locked` where one is locked; then none is written.

    ``project_id``: whose; ``label``: what undo calls it; ``placed``: names shots by what they show."""
    writing = Writing(session, str(project_id))
    for key, shot in shots.items():
        write_shot(session, writing, locked_row(session, ShotRow, key), None, shot, placed)
    writing.done(label)


def bring_in(
    session: Session, project_id: uuid.UUID, found: Sequence[tuple[uuid.UUID | None, Shot]], label: str, placed: Placed
) -> None:
    """Cameras that came, in one change: each as other settings for a shot, or as a new one behind the others. Raises
    :class:`Locked` where one of the shots is locked; then none is written.

    ``project_id``: whose; ``found``: the shot's key, None for a new one, and its settings; ``label``: what undo calls
    it; ``placed``: names shots by what they show."""
    writing = Writing(session, str(project_id))
    for key, shot in found:
        if key is not None:
            write_shot(session, writing, locked_row(session, ShotRow, key), None, shot, placed)
    new = [shot for key, shot in found if key is None]
    _added(session, writing, project_id, new, None, placed, None, True, [None] * len(new))
    writing.done(label)


def lock_shot(session: Session, key: uuid.UUID, seen: int, locked: bool) -> ShotRow:
    """Lock or unlock."""
    row = locked_row(session, ShotRow, key)
    writing = Writing(session, str(row.project_id))
    writing.change(row, seen, locked=locked)
    writing.done((say.LOCK if locked else say.UNLOCK) + f" “{row.settings['name']}”")
    return row


def delete_shot(session: Session, key: uuid.UUID) -> ShotRow:
    """Delete a shot. Raises :class:`Locked`."""
    row = locked_row(session, ShotRow, key)
    if row.locked:
        raise Locked(say.is_locked_unlock_it_to_delete(row.settings["name"]))
    writing = Writing(session, str(row.project_id))
    writing.change(row, None, deleted=True)
    writing.done(say.delete(row.settings["name"]))
    return row
