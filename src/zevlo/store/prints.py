"""Prints: ordered, taken up by a worker, followed, finished, failed, cancelled, tried again."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from zevlo import __version__
from zevlo.core.finals.pieces import tiles_of
from zevlo.core.instruments.back.cuts import picture_of
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.recipe import Recipe
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.database import tell
from zevlo.store.projects import arrangement_of, lights_of, project, revision_of
from zevlo.store.shot_rows import settings_of, shot_row
from zevlo.store.tables import Piece, Print

PROOF_LONG_SIDE_PX = 960
PROOF_SAMPLES = 32
SEEN = "picture.png"
"""The file of a print that the Lab shows."""
UNFINISHED = ("waiting", "developing")
STOPPABLE = (*UNFINISHED, "paused")


def proof_size(output_px: tuple[int, int]) -> tuple[int, int]:
    """Size of a proof: the frame's ratio, 960 px on the long side, never more than the output itself."""
    width, height = output_px
    share = min(1.0, PROOF_LONG_SIDE_PX / max(width, height))
    return max(1, round(width * share)), max(1, round(height * share))


def recipe_of(entry: Print) -> Recipe:
    """What makes a print again."""
    return Recipe.model_validate(entry.recipe)


def pieces_of(recipe: Recipe) -> list[Piece]:
    """What a print is made in: a picture, or each of a stack's, and behind those the merging of them; of a final its
    tiles, and behind those the closing of it."""
    whole = [0, 0, *recipe.size_px]
    if recipe.quality is not None:
        tiles = tiles_of(recipe.size_px)
        made = [Piece(number=n, tile=list(tile), samples=[0, recipe.samples]) for n, tile in enumerate(tiles)]
        return [*made, Piece(number=len(made), tile=whole, samples=[0, 0])]
    made = [Piece(number=n, tile=whole, samples=[0, recipe.samples]) for n in range(max(1, len(recipe.stack)))]
    return [*made, Piece(number=len(made), tile=whole, samples=[0, 0])] if recipe.stack else made


def merged_of(shot: Shot) -> tuple[float, ...]:
    """Metres at which the pictures of a shot's stack are focused. Raises
    :class:`~zevlo.core.refused.Refused` where there is none that can be merged."""
    try:
        return tuple(frame.focus.distance_m for frame in frames_of(shot))
    except Refused as reason:
        raise Refused(f"“{shot.name}”: {reason}") from reason


def frame_name(number: int, kind: str) -> str:
    """The file of a picture of a stack, the first is 0."""
    return f"frame-{number + 1:02d}.{kind}"


def to_make(entry: Print) -> list[int]:
    """The pieces of a print that can be made as things stand: what is made of the others comes when all those are
    there."""
    left = [piece.number for piece in entry.pieces if piece.state != "done"]
    last = len(entry.pieces) - 1
    return left if len(left) < 2 or last == 0 else [number for number in left if number < last]


def order_proof(
    session: Session, shot_id: uuid.UUID, key: uuid.UUID | None = None, cut: str | None = None, stacked: bool = False
) -> Print:
    """A proof of the shot exactly as it stands, or of one of its cuts, known by ``key`` where one is given; with
    ``stacked`` of its stack of pictures, merged.

    Raises :class:`~zevlo.core.refused.Refused` where there is no such cut, or no stack that can be made."""
    row = shot_row(session, shot_id)
    shot = settings_of(row)
    owner = project(session, row.project_id)
    _, output_px = picture_of(shot, cut)
    recipe = Recipe(
        shot=shot,
        cut=cut,
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
        pieces=pieces_of(recipe),
    )
    if key is not None:
        entry.id = key
    session.add(entry)
    session.flush()
    tell(session, str(owner.id), "prints")
    return entry


def prints_of(session: Session, project_id: uuid.UUID) -> list[Print]:
    """A project's prints, newest first."""
    chosen = select(Print).where(Print.project_id == project_id, ~Print.deleted)
    return list(session.scalars(chosen.order_by(Print.created.desc(), Print.rank)))


def unfinished(session: Session) -> int:
    """How many prints wait or are made, of all projects."""
    return session.scalar(select(func.count()).where(Print.state.in_(UNFINISHED), ~Print.deleted)) or 0


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


def take_up(
    session: Session, key: uuid.UUID, watch: Watch | None = None, number: int = 0, job: int | None = None
) -> Piece | None:
    """Start on a piece of a print; None where it needs none any more (cancelled, deleted, done), or where another job
    than ``job`` is at it.

    It gets an attempt of its own: whoever was at it before and comes back is late. What ended the attempt before is
    told by ``watch``: want of memory only where the kernel of the same machine ended a program for it meanwhile.
    """
    entry = session.get(Print, key, with_for_update=True)
    if entry is None or entry.deleted or entry.state not in UNFINISHED:
        return None
    piece = next((one for one in entry.pieces if one.number == number and one.state in UNFINISHED), None)
    if piece is None:
        return None
    interrupted = piece.state == "developing"
    if interrupted:
        if job is not None and piece.job not in (None, job):
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
    tell(session, str(entry.project_id), "prints")
    return piece


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
cuts and updates; a set that ends its program each time must not go on for ever, nor until ``start`` gives up."""


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


def follow_up(
    session: Session, key: uuid.UUID, attempt: uuid.UUID | None, progress: float, seconds_left: float | None, doing: str
) -> bool:
    """Note progress; False where the print was cancelled, deleted or its piece taken up by another worker meanwhile."""
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
    False as for :func:`follow_up`."""
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
    if entry.state in STOPPABLE:
        entry.state, entry.seconds_left, entry.doing = "cancelled", None, ""
        entry.finished = datetime.now(UTC)
        tell(session, str(entry.project_id), "prints")
    return entry


def again(session: Session, key: uuid.UUID) -> Print:
    """Put a failed, cancelled or paused print back in the queue; pieces that are there are not made again."""
    entry = locked_row(session, Print, key)
    if entry.state not in ("failed", "cancelled", "paused"):
        raise Missing("Only a failed, cancelled or paused print can be put back in the queue.")
    entry.state, entry.trouble, entry.doing = "waiting", None, "Waiting for the lab"
    entry.finished = None
    for piece in entry.pieces:
        if piece.state == "done":
            continue
        # Whoever still is at it is late.
        piece.state, piece.attempt, piece.job = "waiting", None, None
        piece.progress = piece.samples[0] / piece.samples[1] if piece.gathered_any else 0.0
        piece.tries, piece.interruptions, piece.watch, piece.seconds_left = 0, [], {}, None
    session.flush()
    gather_progress(entry)
    tell(session, str(entry.project_id), "prints")
    return entry


def pause(session: Session, key: uuid.UUID) -> Print:
    """Let an unfinished print wait until :func:`again`; what it has gathered stays."""
    entry = locked_row(session, Print, key)
    if entry.state not in UNFINISHED:
        raise Missing("Only a print that is waiting or being made can be paused.")
    entry.state, entry.seconds_left, entry.doing = "paused", None, ""
    tell(session, str(entry.project_id), "prints")
    return entry


def delete_print(session: Session, key: uuid.UUID) -> None:
    """Throw a print away; undoable. One that is being made is cancelled first."""
    entry = cancel(session, key)
    writing = Writing(session, str(entry.project_id))
    writing.change(entry, None, deleted=True)
    writing.done(f"Throw away a {entry.kind} of “{entry.recipe['shot']['name']}”")
