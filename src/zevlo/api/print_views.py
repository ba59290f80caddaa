"""Prints as the Lab sees them.

Told once for each state, as shots are: a project has thousands, and all but a few are as they were.
"""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from typing import Any, cast
from urllib.parse import quote

from sqlalchemy.orm import Session

from zevlo.api.answers import Answers
from zevlo.api.print_messages import FileOut, PrintKind, PrintOut, StackFrame
from zevlo.core.framing.lens_line import lens_line
from zevlo.core.scene.model.ruler import Ruler, ruler_for
from zevlo.store.finals import every_order
from zevlo.store.prints import (
    FILM,
    PrintWritten,
    files_of,
    frame_name,
    pieces_done,
    prints_by_id,
    prints_written,
    recipe_of,
    seen_name,
)
from zevlo.store.projects import arrangement_of, body_in, lights_of
from zevlo.store.shot_rows import rows_of, written_of
from zevlo.store.stale import StalenessCheck
from zevlo.store.tables import Print, Project, ShotRow, Take
from zevlo.store.takes import takes_of

_answers: Answers[PrintOut] = Answers()


def prints_out(
    session: Session, project: Project, only: uuid.UUID | None = None, shot: uuid.UUID | None = None
) -> list[PrintOut]:
    """Prints of a project for the Lab, newest first, or one of them, or one shot's; only those not told before are
    read."""
    written = prints_written(session, project.id, only, shot)
    numbers = {one.id: n for n, one in enumerate(written_of(session, project.id), 1)}
    shared = repr((project.revision_id, arrangement_of(project), lights_of(project)))
    keys = [(*one.mark, numbers.get(one.shot_id), shared) for one in written]
    known = _answers.known(keys)
    missing = {key: one for key, one in zip(keys, written, strict=True) if key not in known}
    if missing:
        known |= _tell(session, project, missing, numbers)
    _answers.keep(known)
    return [known[key] for key in keys if key in known]


def _tell(
    session: Session,
    project: Project,
    missing: Mapping[tuple[Any, ...], PrintWritten],
    numbers: Mapping[uuid.UUID, int],
) -> dict[tuple[Any, ...], PrintOut]:
    entries = prints_by_id(session, [one.id for one in missing.values()])
    wanted = {entry.shot_id for entry in entries.values()}
    rows, takes = rows_of(session, wanted), takes_of(session, wanted)
    ruler = ruler_for(body_in(session, project))
    pieces = pieces_done(session, list(entries))
    orders, now = {row.id: row.number for row in every_order(session, project.id)}, StalenessCheck(project)
    return {
        key: _print_out(
            entries[one.id],
            orders,
            numbers.get(one.shot_id),
            rows.get(one.shot_id),
            now,
            takes[one.shot_id],
            ruler,
            pieces.get(one.id, (0, 0)),
        )
        for key, one in missing.items()
        if one.id in entries
    }


def _output(entry: Print, name: str) -> str | None:
    """Where a file of a print is to be had: another address for each other content."""
    output = entry.outputs.get(name)
    return None if output is None else f"/api/prints/{entry.id}/{quote(name)}?of={output['blob'][:16]}"


def _print_out(
    entry: Print,
    orders: Mapping[uuid.UUID, int],
    frame: int | None,
    row: ShotRow | None,
    now: StalenessCheck,
    takes: Sequence[Take],
    ruler: Ruler,
    pieces: tuple[int, int],
) -> PrintOut:
    recipe = recipe_of(entry)
    shot = recipe.shot
    return PrintOut(
        id=entry.id,
        order=None if entry.order_id is None else orders[entry.order_id],
        rank=entry.rank,
        kind=cast(PrintKind, entry.kind),
        shot_id=entry.shot_id,
        name=shot.name if row is None else str(row.settings["name"]),
        crop=recipe.crop,
        frame=frame,
        take=now.take_of(recipe, takes),
        size=recipe.size_px,
        line=lens_line(shot, ruler),
        state=entry.state,
        progress=entry.progress,
        seconds_left=entry.seconds_left,
        doing=entry.doing,
        trouble=entry.trouble,
        picture=_output(entry, seen_name(entry.kind)),
        film=None if entry.kind == "final" else _output(entry, FILM),
        files=[
            FileOut(name=name, address=f"/api/prints/{entry.id}/{quote(name)}?of={output['blob'][:16]}")
            for name, output in files_of(entry).items()
            if entry.kind == "final"
        ],
        pieces=pieces,
        frames=[
            StackFrame(
                distance_m=distance,
                picture=_output(entry, frame_name(number, "png")),
                film=_output(entry, frame_name(number, "exr")),
            )
            for number, distance in enumerate(() if recipe.quality else recipe.stack)
        ],
        merged_of=len(recipe.stack),
        stale=now.stale_words(recipe, row),
        made_with=entry.made_with,
        ordered=entry.created,
    )
