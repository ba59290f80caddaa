"""Attempts at a piece of a print: claimed, reported, given up, finished; who comes back late changes nothing."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from zevlo.store.database import tell
from zevlo.store.jobs import enqueue_due, someone_at, someone_waits
from zevlo.store.prints import UNFINISHED
from zevlo.store.tables import Piece, Print, Project
from zevlo.text import store as say


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
        entry.doing = say.TAKEN_UP_AGAIN_AFTER
    elif piece.tries == 0 and entry.progress == 0.0:
        entry.doing = say.SETTING_UP_THE_SET
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
    entry.doing, entry.seconds_left = say.WAITING_FOR_THE_LAB, None
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
    words = say.the_lab_was_interrupted(count)
    if for_memory == 0:
        return say.its_program_was_stopped(words)
    times = say.EACH_TIME if for_memory == count else say.of_them(for_memory)
    return say.because_the_machine_had(words, times)


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
