"""Prints: ordered, taken up by a worker, followed, finished, failed, cancelled, tried again."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from zevlo.core.optics.back import cut_back
from zevlo.store.changes import Missing, Writing, locked_row
from zevlo.store.database import tell
from zevlo.store.projects import light_of, project, revision_of
from zevlo.store.shot_rows import settings_of, shot_row
from zevlo.store.tables import Print

PROOF_LONG_SIDE_PX = 960
PROOF_SAMPLES = 32
UNFINISHED = ("waiting", "developing")


def proof_size(output_px: tuple[int, int]) -> tuple[int, int]:
    """Size of a proof: the frame's ratio, 960 px on the long side, never more than the output itself."""
    width, height = output_px
    share = min(1.0, PROOF_LONG_SIDE_PX / max(width, height))
    return max(1, round(width * share)), max(1, round(height * share))


def order_proof(session: Session, shot_id: uuid.UUID, key: uuid.UUID | None = None) -> Print:
    """A proof of the shot exactly as it stands, known by ``key`` where one is given."""
    row = shot_row(session, shot_id)
    shot = settings_of(row)
    owner = project(session, row.project_id)
    width, height = proof_size(cut_back(shot.back).output_px)
    entry = Print(
        project_id=owner.id,
        shot_id=row.id,
        revision_id=revision_of(session, owner).id,
        settings=row.settings,
        light=light_of(owner).model_dump(mode="json"),
        arrangement=owner.arrangement,
        seed=1,
        width=width,
        height=height,
        samples=PROOF_SAMPLES,
        doing="Waiting for the lab",
        made_with={},
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
    return list(session.scalars(chosen.order_by(Print.created.desc())))


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


def take_up(session: Session, key: uuid.UUID, watch: Watch | None = None) -> Print | None:
    """Start developing a print; None where it needs none any more (cancelled, deleted, done).

    It gets an attempt of its own: whoever was at it before and comes back is late. What ended the attempt before is
    told by ``watch``: want of memory only where the kernel of the same machine ended a program for it meanwhile.
    """
    entry = session.get(Print, key, with_for_update=True)
    if entry is None or entry.deleted or entry.state not in UNFINISHED:
        return None
    if entry.state == "developing":
        before = entry.watch
        for_memory = (
            watch is not None
            and before.get("machine") == watch.machine
            and watch.memory_kills > before.get("memory_kills", watch.memory_kills)
        )
        entry.interruptions = [*entry.interruptions, "memory" if for_memory else "stopped"]
    entry.state, entry.progress, entry.trouble = "developing", 0.0, None
    entry.doing = "Setting up the set" if entry.tries == 0 else "Taken up again after an interruption"
    entry.tries += 1
    entry.attempt = uuid.uuid4()
    entry.watch = {} if watch is None else asdict(watch)
    entry.started = datetime.now(UTC)
    tell(session, str(entry.project_id), "prints")
    return entry


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


def _at_work(session: Session, key: uuid.UUID, attempt: uuid.UUID | None) -> Print | None:
    """The print, held, where that attempt is still the one at it."""
    entry = session.get(Print, key, with_for_update=True)
    if entry is None or entry.deleted or entry.state != "developing" or entry.attempt != attempt:
        return None
    return entry


def follow_up(
    session: Session, key: uuid.UUID, attempt: uuid.UUID | None, progress: float, seconds_left: float | None, doing: str
) -> bool:
    """Note progress; False where the print was cancelled, deleted or taken up by another worker meanwhile."""
    entry = _at_work(session, key, attempt)
    if entry is None:
        return False
    entry.progress, entry.seconds_left, entry.doing = progress, seconds_left, doing
    more = {"print": str(key), "progress": progress, "seconds_left": seconds_left, "doing": doing}
    tell(session, str(entry.project_id), "progress", **more)
    return True


def finish(
    session: Session,
    key: uuid.UUID,
    attempt: uuid.UUID | None,
    png: str,
    exr: str,
    made_with: dict[str, object],
    last: bool,
) -> bool:
    """Hang up a picture: a first clean one, or with ``last`` the finished one. False as for :func:`follow_up`."""
    entry = _at_work(session, key, attempt)
    if entry is None:
        return False
    entry.png, entry.exr, entry.made_with = png, exr, made_with
    if last:
        entry.state, entry.progress, entry.seconds_left, entry.doing = "done", 1.0, None, ""
        entry.finished = datetime.now(UTC)
    tell(session, str(entry.project_id), "prints")
    return True


def fail(session: Session, key: uuid.UUID, attempt: uuid.UUID | None, trouble: str) -> None:
    """A print that could not be made says why; not where another attempt is at it."""
    entry = _at_work(session, key, attempt)
    if entry is not None:
        entry.state, entry.trouble, entry.seconds_left, entry.doing = "failed", trouble[:600], None, ""
        entry.finished = datetime.now(UTC)
        tell(session, str(entry.project_id), "prints")


def cancel(session: Session, key: uuid.UUID) -> Print:
    """Cancel an unfinished print; a finished one stays as it is."""
    entry = locked_row(session, Print, key)
    if entry.state in UNFINISHED:
        entry.state, entry.seconds_left, entry.doing = "cancelled", None, ""
        entry.finished = datetime.now(UTC)
        tell(session, str(entry.project_id), "prints")
    return entry


def again(session: Session, key: uuid.UUID) -> Print:
    """Put a failed or cancelled print back in the queue."""
    entry = locked_row(session, Print, key)
    if entry.state not in ("failed", "cancelled"):
        raise Missing("Only a failed or cancelled print can be tried again.")
    entry.state, entry.progress, entry.trouble, entry.doing = "waiting", 0.0, None, "Waiting for the lab"
    entry.finished = None
    entry.tries, entry.attempt, entry.interruptions = 0, None, []
    tell(session, str(entry.project_id), "prints")
    return entry


def delete_print(session: Session, key: uuid.UUID) -> None:
    """Throw a print away; undoable. One that is being made is cancelled first."""
    entry = cancel(session, key)
    writing = Writing(session, str(entry.project_id))
    writing.change(entry, None, deleted=True)
    writing.done(f"Throw away a proof of “{entry.settings['name']}”")
