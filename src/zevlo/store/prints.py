"""Prints: ordered, taken up by a worker, followed, finished, failed, cancelled, tried again."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
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
from zevlo.store.jobs import enqueue_due, someone_at, someone_waits, take_back
from zevlo.store.projects import arrangement_of, lights_of, project, revision_of
from zevlo.store.shot_rows import settings_of, shot_row
from zevlo.store.tables import Piece, Print, Project

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
    return {name: told for name, told in entry.outputs.items() if name != SMALL_VIEW}


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
    told = []
    for key, recipe in made.items():
        name = f"{recipe.size_px} {recipe.quality is None} {len(recipe.stack)}"
        if name not in tiles:
            tiles[name] = tiles_made(recipe)
        told.append({"id": str(key), "tiles": name, "pieces": len(tiles[name]), "samples": recipe.samples})
    session.flush()
    session.execute(_PUT_PIECES, {"made": json.dumps(told), "tiles": json.dumps(tiles)})


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
        doing="Waiting for the lab",
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
        raise Missing("There is no such print; it may have been deleted.")
    return entry


@dataclass(frozen=True)
class Watch:
    """The machine of an attempt, and how often its kernel has ended programs for want of memory so far."""

    machine: str
    memory_kills: int


def claim_piece(
    session: Session, key: uuid.UUID, watch: Watch | None = None, number: int = 0, job: int | None = None
) -> Piece | None:
    """Start on a piece of a print; None where it needs none any more (cancelled, deleted, done), where its project was
    deleted, or where a worker is at it for another job than ``job``.

    It gets an attempt of its own: whoever was at it before and comes back is late. What ended the attempt before is
    told by ``watch``: want of memory only where the kernel of the same machine ended a program for it meanwhile.

    ``key``: the print's; ``number``: of the piece."""
    entry = session.get(Print, key, with_for_update=True)
    if entry is None or entry.deleted or entry.state not in UNFINISHED:
        return None
    owner = session.get(Project, entry.project_id)
    if owner is None or owner.deleted:
        return None
    piece = next((one for one in entry.pieces if one.number == number and one.state in UNFINISHED), None)
    if piece is None:
        return None
    interrupted = piece.state == "developing"
    if interrupted:
        if job is not None and piece.job != job and someone_at(session, piece.job):
            return None
        before = piece.watch
        for_memory = (
            watch is not None
            and before.get("machine") == watch.machine
            and watch.memory_kills > before.get("memory_kills", watch.memory_kills)
        )
        piece.interruptions = [*piece.interruptions, "memory" if for_memory else "stopped"]
    entry.state, entry.trouble = "developing", None
    if interrupted:
        entry.doing = "Taken up again after an interruption"
    elif piece.tries == 0 and entry.progress == 0.0:
        entry.doing = "Setting up the set"
    entry.started = datetime.now(UTC)
    piece.state, piece.job = "developing", job
    if not piece.gathered_any:
        piece.progress = 0.0
    piece.tries += 1
    piece.attempt = uuid.uuid4()
    piece.watch = {} if watch is None else asdict(watch)
    gather_progress(entry)
    if len(entry.pieces) > 1:
        # Its turn has come: others may be at it too.
        enqueue_due(session, [key])
    tell(session, str(entry.project_id), "prints")
    return piece


def step_back(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, job: int | None) -> bool:
    """Let a piece nobody waits for come again later, where something else waits; whether it does."""
    found = at_work(session, key, attempt)
    if found is None or not someone_waits(session, key):
        return False
    entry, piece = found
    piece.state, piece.attempt, piece.job, piece.tries = "waiting", None, None, piece.tries - 1
    piece.progress, piece.seconds_left = 0.0, None
    gather_progress(entry)
    entry.doing, entry.seconds_left = "Waiting for the lab", None
    if entry.progress == 0.0:
        entry.state = "waiting"
    enqueue_due(session, [key], ending=job)
    tell(session, str(entry.project_id), "prints")
    return True


def gather_progress(entry: Print) -> None:
    """How far a print is, from how far its pieces are; those that wait take as long as those at work."""
    entry.progress = sum(piece.progress for piece in entry.pieces) / len(entry.pieces)
    if entry.kind == "final":
        return
    begun = [piece for piece in entry.pieces if piece.seconds_left is not None and piece.progress < 1.0]
    left = [(piece.seconds_left or 0.0, piece.progress) for piece in begun]
    waiting = sum(piece.state == "waiting" for piece in entry.pieces)
    each = max((seconds / (1.0 - progress) for seconds, progress in left), default=0.0)
    entry.seconds_left = max(seconds for seconds, _ in left) + waiting * each / len(left) if left else None


MOST_FOR_MEMORY, MOST_STOPS = 3, 6
"""How often a piece may be interrupted, one attempt after the other: for want of memory, and at all. A night has power
crops and updates; a set that ends its program each time must not go on for ever, nor until ``start`` gives up."""


def too_often(interruptions: Sequence[str]) -> bool:
    """Whether a piece is given up: what ended its attempts."""
    for_memory = sum(one == "memory" for one in interruptions)
    return for_memory >= MOST_FOR_MEMORY or len(interruptions) >= MOST_STOPS


def interrupted_words(interruptions: Sequence[str]) -> str:
    """Why a print was given up: what ended its attempts."""
    for_memory, count = sum(one == "memory" for one in interruptions), len(interruptions)
    told = f"The lab was interrupted {count} times while making this print"
    if for_memory == 0:
        return f"{told}: its program was stopped each time, and not for want of memory. Retry when the lab stays up."
    times = "each time" if for_memory == count else f"{for_memory} of them"
    return (
        f"{told}, {times} because the machine had no memory left. The set may be too large for it: use a simpler one, "
        "or close other programs, and retry."
    )


def at_work(session: Session, key: uuid.UUID, attempt: uuid.UUID | None) -> tuple[Print, Piece] | None:
    """The print, held, and its piece, where that attempt is still the one at it."""
    entry = session.get(Print, key, with_for_update=True)
    if entry is None or entry.deleted or entry.state != "developing" or attempt is None:
        return None
    return next(((entry, one) for one in entry.pieces if one.attempt == attempt and one.state == "developing"), None)


def report_progress(
    session: Session, key: uuid.UUID, attempt: uuid.UUID | None, progress: float, seconds_left: float | None, doing: str
) -> bool:
    """Note progress; False where the print was cancelled, deleted or its piece taken up by another worker meanwhile.

    ``key``: the print's; ``attempt``: whose; ``progress``: 0 to 1; ``doing``: in words."""
    found = at_work(session, key, attempt)
    if found is None:
        return False
    entry, piece = found
    piece.progress, piece.seconds_left = progress, seconds_left
    entry.doing = doing
    gather_progress(entry)
    more = {"print": str(key), "progress": entry.progress, "seconds_left": entry.seconds_left, "doing": doing}
    tell(session, str(entry.project_id), "progress", **more)
    return True


@dataclass(frozen=True)
class Output:
    """A file that came of a print: the blob it is in."""

    blob: str
    media_type: str


def finish(
    session: Session,
    key: uuid.UUID,
    attempt: uuid.UUID | None,
    outputs: Mapping[str, Output],
    made_with: dict[str, object],
    last: bool,
) -> bool:
    """Hang up a picture: a first clean one, or with ``last`` the finished one. ``outputs``: its files, by their names.
    False as for :func:`report_progress`.

    ``key``: the print's; ``attempt``: whose; ``made_with``: versions and how long it took."""
    found = at_work(session, key, attempt)
    if found is None:
        return False
    entry, piece = found
    entry.outputs = {**entry.outputs, **{name: asdict(one) for name, one in outputs.items()}}
    entry.made_with = made_with
    if last:
        piece.state, piece.progress, piece.seconds_left = "done", 1.0, None
        gather_progress(entry)
        if all(one.state == "done" for one in entry.pieces):
            entry.state, entry.doing, entry.seconds_left = "done", "", None
            entry.finished = datetime.now(UTC)
    tell(session, str(entry.project_id), "prints")
    return True


def fail(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, trouble: str) -> None:
    """A print that could not be made says why; not where another attempt is at it."""
    found = at_work(session, key, attempt)
    if found is None:
        return
    entry, piece = found
    piece.state = "failed"
    entry.state, entry.trouble, entry.seconds_left, entry.doing = "failed", trouble[:600], None, ""
    entry.finished = datetime.now(UTC)
    tell(session, str(entry.project_id), "prints")


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
        raise Missing("Only a print that is waiting or being made can be paused.")
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
        raise Missing("Only a failed, cancelled or paused print can be put back in the queue.")
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
    waiting = {"state": "waiting", "trouble": None, "doing": "Waiting for the lab", "finished": None, "rank": rank}
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
    writing.done(f"Throw away a {entry.kind} of “{entry.recipe['shot']['name']}”")
