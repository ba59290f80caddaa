"""The order of the shot list. Each a change that can be undone."""

from __future__ import annotations

import uuid

from sqlalchemy.orm import Session

from zevlo.store.changes import Writing, locked_row
from zevlo.store.shot_rows import shot_row, shots_held, shots_of
from zevlo.store.tables import ShotRow
from zevlo.text import store as say

LEAST_GAP = 1.0e-6


def places_after(writing: Writing, rows: list[ShotRow], after: ShotRow | None, count: int = 1) -> list[float]:
    """Places behind a shot, or behind all. Where there is no room left between two, all are spread anew."""
    index = len(rows) - 1 if after is None else next((n for n, r in enumerate(rows) if r.id == after.id), len(rows) - 1)
    if index + 1 >= len(rows):
        last = rows[-1].place if rows else 0.0
        return [last + n for n in range(1, count + 1)]
    if rows[index + 1].place - rows[index].place < LEAST_GAP * (count + 1):
        for number, row in enumerate(rows):
            writing.change(row, None, place=float(number + 1))
    first, gap = rows[index].place, rows[index + 1].place - rows[index].place
    return [first + gap * n / (count + 1) for n in range(1, count + 1)]


def order_shots(session: Session, project_id: uuid.UUID, keys: list[uuid.UUID], label: str) -> None:
    """The shot list in another order; shots that are not told keep theirs behind the others."""
    rank = {key: number for number, key in enumerate(keys)}
    writing = Writing(session, str(project_id))
    rows = sorted(shots_held(session, project_id), key=lambda row: rank.get(row.id, len(rank)))
    for number, row in enumerate(rows, 1):
        writing.change(row, None, place=float(number))
    writing.done(label)


def move_shot(session: Session, key: uuid.UUID, seen: int, after: uuid.UUID | None) -> ShotRow:
    """Put a shot behind another one, or first."""
    row = locked_row(session, ShotRow, key)
    others = [r for r in shots_of(session, row.project_id) if r.id != key]
    writing = Writing(session, str(row.project_id))
    if after is None:
        place = others[0].place - 1.0 if others else row.place
    else:
        (place,) = places_after(writing, others, shot_row(session, after))
    writing.change(row, seen, place=place)
    writing.done(say.move_in_the_shot(row.settings["name"]))
    return row
