"""Prints: ordered, taken up by a worker, followed, finished, failed, cancelled, tried again."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import case, func, select, text, update
from sqlalchemy.orm import Session

from zevlo import __version__
from zevlo.core.camera.from_shot import Framing
from zevlo.core.finals.pieces import Tile, tiles_of
from zevlo.core.finals.recipe import Recipe
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.upgrade import renamed
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.database import tell
from zevlo.store.jobs import enqueue_due, take_back
from zevlo.store.projects import arrangement_of, lights_of, project, revision_of
from zevlo.store.shot_rows import settings_of, shot_row
from zevlo.store.tables import Piece, Print, Project
from zevlo.text import store as say

PROOF_LONG_SIDE_PX = 960
PROOF_SAMPLES = 32
PICTURE, FILM = "picture.png", "film.exr"
"""What a proof comes to, as it is seen and as it is linear."""
SMALL_VIEW = "small:view.png"
"""What the Lab shows of a final, whose files are called as the order says: no file's name has such a sign."""
UNFINISHED = ("waiting", "developing")
STOPPABLE = (*UNFINISHED, "paused")
RESTING = ("paused", "cancelled", "failed")


def proof_size(output_px: tuple[int, int]) -> tuple[int, int]:
    """Size of a proof: the frame's ratio, 960 px on the long side, never more than the output itself."""
    width, height = output_px
    share = min(1.0, PROOF_LONG_SIDE_PX / max(width, height))
    return max(1, round(width * share)), max(1, round(height * share))


def recipe_of(entry: Print) -> Recipe:
    """What makes a print again."""
    return Recipe.model_validate(entry.recipe)


def crop_of(entry: Print) -> str | None:
    """The crop of its shot that a print shows; None: the whole frame."""
    crop: str | None = renamed(entry.recipe, Recipe.former).get("crop")
    return crop


def seen_name(kind: str) -> str:
    """The file of a print of a kind that the Lab shows."""
    return SMALL_VIEW if kind == "final" else PICTURE


def files_of(entry: Print) -> dict[str, dict[str, Any]]:
    """The files of a final, by the names the order gave them; of a proof all it has."""
    return {name: output for name, output in entry.outputs.items() if name != SMALL_VIEW}


def tiles_made(recipe: Recipe) -> list[Tile]:
    """The tiles a print is made in: a picture, or each of a stack's, and behind those the merging of them; of a final
    its tiles, and behind those the closing of it."""
    whole: Tile = (0, 0, *recipe.size_px)
    if recipe.quality is not None:
        return [*tiles_of(recipe.size_px), whole]
    return [whole] * (len(recipe.stack) + 1 if recipe.stack else 1)


_PUT_PIECES = text("""
insert into piece (id, print_id, number, tile, samples, state, progress, tries, pictures, interruptions, watch)
select gen_random_uuid(), made.id, tile.number - 1, tile.of,
    jsonb_build_array(0, case when tile.number > 1 and tile.number = made.pieces then 0 else made.samples end),
    'waiting', 0, 0, 1, '[]', '{}'
from jsonb_to_recordset(cast(:made as jsonb)) as made(id uuid, tiles text, pieces int, samples int)
    cross join lateral jsonb_array_elements(cast(:tiles as jsonb) -> made.tiles) with ordinality as tile(of, number)
""")


def put_pieces(session: Session, made: Mapping[uuid.UUID, Recipe]) -> None:
    """What each of some new prints is made in, all in one question: an order has tens of thousands."""
    tiles: dict[str, list[Tile]] = {}
    queued = []
    for key, recipe in made.items():
        name = f"{recipe.size_px} {recipe.quality is None} {len(recipe.stack)}"
        if name not in tiles:
            tiles[name] = tiles_made(recipe)
        queued.append({"id": str(key), "tiles": name, "pieces": len(tiles[name]), "samples": recipe.samples})
    session.flush()
    session.execute(_PUT_PIECES, {"made": json.dumps(queued), "tiles": json.dumps(tiles)})


def merged_of(shot: Shot) -> tuple[float, ...]:
    """Metres at which the pictures of a shot's stack are focused. Raises
    :class:`~zevlo.core.refused.Refused` where there is none that can be merged."""
    try:
        return tuple(frame.focus.distance_m for frame in frames_of(Framing(shot)))
    except Refused as reason:
        raise Refused(f"“{shot.name}”: {reason}") from reason


def frame_name(number: int, kind: str) -> str:
    """The file of a picture of a stack, the first is 0."""
    return f"frame-{number + 1:02d}.{kind}"


def order_proof(
    session: Session,
    shot_id: uuid.UUID,
    key: uuid.UUID | None = None,
    crop: str | None = None,
    stacked: bool = False,
    rank: int = 0,
) -> Print:
    """A proof of the shot exactly as it stands, or of one of its crops, known by ``key`` where one is given; with
    ``stacked`` of its stack of pictures, merged. It is put in the queue, behind those of a lower ``rank``.

    Raises :class:`~zevlo.core.refused.Refused` where there is no such crop, or no stack that can be made."""
    row = shot_row(session, shot_id)
    shot = settings_of(row)
    owner = project(session, row.project_id)
    _, output_px = picture_of(shot, crop)
    recipe = Recipe(
        shot=shot,
        crop=crop,
        revision=revision_of(session, owner).id,
        arrangement=arrangement_of(owner),
        light=lights_of(owner).of(shot.light),
        stack=merged_of(shot) if stacked else (),
        size_px=proof_size(output_px),
        samples=PROOF_SAMPLES,
        versions={"zevlo": __version__},
    )
    entry = Print(
        project_id=owner.id,
        shot_id=row.id,
        kind="stack" if stacked else "proof",
        recipe=recipe.model_dump(mode="json", by_alias=True),
        doing=say.WAITING_FOR_THE_LAB,
        rank=rank,
    )
    if key is not None:
        entry.id = key
    session.add(entry)
    session.flush()
    put_pieces(session, {entry.id: recipe})
    enqueue_due(session, [entry.id])
    tell(session, str(owner.id), "prints")
    return entry


@dataclass(frozen=True)
class PrintWritten:
    """Which writing of a print is the present one, and of the shot and takes it is held against."""

    id: uuid.UUID
    shot_id: uuid.UUID
    mark: tuple[Any, ...]


# PostgreSQL's number of the transaction that wrote a row is never used again; pieces are written with their print.
_WRITTEN = """
select print.id, print.shot_id, print.xmin::text::bigint, print.version, shot.xmin::text::bigint, shot.version,
    taken.count, taken.newest, done.count
from print left join shot on shot.id = print.shot_id
    left join (
        select take.shot_id, count(*) as count, max(take.xmin::text::bigint) as newest
        from take join shot as own on own.id = take.shot_id and own.project_id = :project group by take.shot_id
    ) as taken on taken.shot_id = print.shot_id
    left join lateral (
        select count(*) as count from piece where piece.print_id = print.id and piece.state = 'done'
    ) as done on print.state not in ('done', 'cancelled', 'failed')
where print.project_id = :project and not print.deleted
    and (cast(:only as uuid) is null or print.id = :only) and (cast(:shot as uuid) is null or print.shot_id = :shot)
order by print.created desc, print.rank
"""


def prints_written(
    session: Session, project_id: uuid.UUID, only: uuid.UUID | None = None, shot: uuid.UUID | None = None
) -> list[PrintWritten]:
    """The present writings of a project's prints, newest first, or of one, or of one shot's; far less to read than they
    are."""
    session.flush()
    rows = session.execute(text(_WRITTEN), {"project": project_id, "only": only, "shot": shot})
    return [PrintWritten(key, shot, (key, *mark)) for key, shot, *mark in rows]


def prints_by_id(session: Session, keys: Sequence[uuid.UUID]) -> dict[uuid.UUID, Print]:
    """Some prints by id."""
    return {entry.id: entry for entry in session.scalars(select(Print).where(Print.id.in_(keys)))}


def prints_of(session: Session, project_id: uuid.UUID) -> list[Print]:
    """A project's prints, newest first."""
    chosen = select(Print).where(Print.project_id == project_id, ~Print.deleted)
    return list(session.scalars(chosen.order_by(Print.created.desc(), Print.rank)))


def unfinished(session: Session) -> int:
    """How many prints wait or are made, of all projects."""
    chosen = select(func.count()).where(Print.state.in_(UNFINISHED), ~Print.deleted)
    return session.scalar(chosen.where(Print.project_id == Project.id, ~Project.deleted)) or 0


def pieces_done(session: Session, keys: Sequence[uuid.UUID]) -> dict[uuid.UUID, tuple[int, int]]:
    """How many pieces of each print are done, and how many it has: counted where they are, a final has hundreds."""
    done = func.count().filter(Piece.state == "done")
    chosen = select(Piece.print_id, done, func.count()).where(Piece.print_id.in_(keys)).group_by(Piece.print_id)
    return {key: (ready, every) for key, ready, every in session.execute(chosen)}


def print_row(session: Session, key: uuid.UUID) -> Print:
    """A print. Raises :class:`Missing`."""
    entry = session.get(Print, key)
    if entry is None or entry.deleted:
        raise Missing(say.THERE_IS_NO_SUCH_PRINT)
    return entry


def cancel(session: Session, key: uuid.UUID) -> Print:
    """Cancel an unfinished print; a finished one stays as it is."""
    entry = locked_row(session, Print, key)
    cancel_all(session, [entry])
    return entry


def cancel_all(session: Session, entries: Sequence[Print]) -> None:
    """Cancel those of some prints of a project that are not finished. Their scope is held."""
    _rest(session, entries, STOPPABLE, {"state": "cancelled", "finished": datetime.now(UTC)})


def pause(session: Session, key: uuid.UUID) -> Print:
    """Let an unfinished print wait until :func:`again`; what it has gathered stays."""
    entry = locked_row(session, Print, key)
    if entry.state not in UNFINISHED:
        raise Missing(say.ONLY_A_PRINT_THAT_IS_WAITING)
    pause_all(session, [entry])
    return entry


def pause_all(session: Session, entries: Sequence[Print]) -> None:
    """Let those of some prints of a project wait that are not finished. Their scope is held."""
    _rest(session, entries, UNFINISHED, {"state": "paused"})


def _rest(session: Session, entries: Sequence[Print], states: Sequence[str], values: Mapping[str, object]) -> None:
    take_back(session, _written(session, entries, states, {**values, "seconds_left": None, "doing": ""}))


def _written(
    session: Session, entries: Sequence[Print], states: Sequence[str], values: Mapping[str, object]
) -> list[uuid.UUID]:
    """Write the same for those of many prints that are in one of some states, as they are by then: they may be at work.
    Which those were."""
    if not entries:
        return []
    session.flush()
    chosen = update(Print).where(Print.id.in_([entry.id for entry in entries]), Print.state.in_(states))
    keys = list(session.scalars(chosen.values(**values).returning(Print.id)))
    for entry in entries:
        session.expire(entry)
    tell(session, str(entries[0].project_id), "prints")
    return keys


def again(session: Session, key: uuid.UUID) -> Print:
    """Put a failed, cancelled or paused print back in the queue; pieces that are there are not made again."""
    entry = locked_row(session, Print, key)
    if entry.state not in RESTING:
        raise Missing(say.ONLY_A_FAILED_CANCELLED)
    again_all(session, [entry])
    return entry


# Whoever still is at a piece is late. How far a print is: what its pieces have gathered.
_PIECES_AGAIN = text("""
update piece set state = 'waiting', attempt = null, job = null, tries = 0, interruptions = '[]', watch = '{}',
    seconds_left = null,
    progress = case when grain is null then 0 else (samples ->> 0)::float / (samples ->> 1)::float end
where state <> 'done' and print_id = any(:keys)
""")
_PROGRESS = text("""
update print set progress = (select avg(piece.progress) from piece where piece.print_id = print.id)
where id = any(:keys)
""")


def again_all(session: Session, entries: Sequence[Print]) -> None:
    """The same for those of some prints of a project that rest. Their scope is held."""
    # Somebody waits for it now, if nobody did before.
    rank = case((Print.kind == "final", Print.rank), else_=0)
    waiting = {"state": "waiting", "trouble": None, "doing": say.WAITING_FOR_THE_LAB, "finished": None, "rank": rank}
    keys = _written(session, entries, RESTING, waiting)
    session.execute(_PIECES_AGAIN, {"keys": keys})
    session.execute(_PROGRESS, {"keys": keys})
    for entry in entries:
        session.expire(entry)
    enqueue_due(session, keys, ahead=1)


def delete_print(session: Session, key: uuid.UUID) -> None:
    """Throw a print away; undoable. One that is being made is cancelled first."""
    entry = cancel(session, key)
    writing = Writing(session, str(entry.project_id))
    writing.change(entry, None, deleted=True)
    writing.done(say.throw_away_a_of(entry.kind, entry.recipe["shot"]["name"]))
