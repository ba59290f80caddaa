"""The lab's queue: prints as jobs on procrastinate, in the same database."""

from __future__ import annotations

import asyncio
import logging
import uuid
from collections.abc import Callable, Iterable

import procrastinate
from sqlalchemy import Engine, text
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.orm import Session

from zevlo.lab.made_with import TurnedAway
from zevlo.store.database import engine_for
from zevlo.store.prints import to_make
from zevlo.store.tables import Print

HEARTBEAT_S = 3.0
STALLED_AFTER_S = 10.0
DEVELOP = "zevlo.develop"
DOCUMENTS = "zevlo.documents"
FINALS = -1000
"""The priority of finals: after everything somebody waits for at the desk. Those of a higher rank come later."""
AT_LEISURE = -1_000_000
"""The priority of what nobody waits for."""
log = logging.getLogger("zevlo.lab")


def enqueue(session: Session, print_id: uuid.UUID, piece: int = 0, priority: int = 0) -> None:
    """Put a piece of a print in the queue within the caller's transaction, so that neither exists without the other.

    procrastinate's own SQL function does it; its client would use a connection of its own.
    """
    session.execute(
        text(
            "select procrastinate_defer_jobs_v1(array[row('lab', :task, :priority, null, null, jsonb_build_object("
            "'print_id', cast(:key as text), 'piece', cast(:piece as int)), null)::procrastinate_job_to_defer_v1])"
        ),
        {"task": DEVELOP, "key": str(print_id), "piece": piece, "priority": priority},
    )


def enqueue_documents(session: Session, key: uuid.UUID) -> None:
    """Put documents in the queue within the caller's transaction: before every final, somebody waits for them."""
    session.execute(
        text(
            "select procrastinate_defer_jobs_v1(array[row('lab', :task, 0, null, null, jsonb_build_object("
            "'documents', cast(:key as text)), null)::procrastinate_job_to_defer_v1])"
        ),
        {"task": DOCUMENTS, "key": str(key)},
    )


def priority_of(entry: Print) -> int:
    """Where the pieces of a print come in the queue."""
    return FINALS - entry.rank if entry.kind == "final" else 0


def enqueue_all(session: Session, entry: Print, priority: int | None = None) -> None:
    """Put all of a print in the queue that can be made as things stand; at the priority of its kind, where none is
    told."""
    for number in to_make(entry):
        enqueue(session, entry.id, number, priority_of(entry) if priority is None else priority)


def reorder(session: Session, entries: Iterable[Print]) -> None:
    """Let the jobs of prints come where their ranks say now."""
    for entry in entries:
        session.execute(
            text(
                "update procrastinate_jobs set priority = :priority where queue_name = 'lab' and status = 'todo'"
                " and args ->> 'print_id' = :key"
            ),
            {"priority": priority_of(entry), "key": str(entry.id)},
        )


def take_back(session: Session, print_id: uuid.UUID) -> None:
    """No job that waits for a print is begun any more."""
    session.execute(
        text(
            "delete from procrastinate_jobs where queue_name = 'lab' and status = 'todo' and args ->> 'print_id' = :key"
        ),
        {"key": str(print_id)},
    )


def lab_app(
    url: str,
    develop: Callable[[Engine, uuid.UUID, int, int | None], None],
    write: Callable[[Engine, uuid.UUID, int | None], None],
) -> procrastinate.App:
    """The worker's app on a database; ``develop`` makes one piece of a print, ``write`` documents, each for the job of
    that number."""
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=url))
    engine = engine_for(url)

    # A database that is away for a while ends no print: its job is tried again when it is back; and by another worker,
    # where this one would make another picture.
    away = {OperationalError, InterfaceError, TurnedAway}
    again = procrastinate.RetryStrategy(max_attempts=100, wait=int(HEARTBEAT_S), retry_exceptions=away)

    @app.task(name=DEVELOP, queue="lab", retry=again, pass_context=True)
    def develop_piece(context: procrastinate.JobContext, print_id: str, piece: int = 0) -> None:
        develop(engine, uuid.UUID(print_id), piece, context.job.id)

    @app.task(name=DOCUMENTS, queue="lab", retry=again, pass_context=True)
    def write_documents(context: procrastinate.JobContext, documents: str) -> None:
        write(engine, uuid.UUID(documents), context.job.id)

    return app


async def _take_up_stalled(app: procrastinate.App) -> None:
    """Jobs of workers that died go back in the queue."""
    while True:
        try:
            for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
                log.info("taking up job %s of a worker that died", job.id)
                await app.job_manager.retry_job(job)
        except procrastinate.exceptions.ConnectorException:
            log.exception("could not look for stalled jobs")
        await asyncio.sleep(HEARTBEAT_S)


async def _still_there(still_there: Callable[[], None]) -> None:
    while True:
        try:
            await asyncio.to_thread(still_there)
        except TurnedAway:
            raise
        except (OperationalError, InterfaceError):
            log.warning("the database is away")
        except Exception:
            # Whatever else it is, work that goes on is no reason to end.
            log.exception("could not say that this worker is there")
        await asyncio.sleep(HEARTBEAT_S)


async def work(app: procrastinate.App, name: str, still_there: Callable[[], None] = lambda: None) -> None:
    """Work on prints until stopped by a signal; ``still_there`` is called every few seconds, and what it raises ends
    the work."""
    async with app.open_async():
        stalled, there = asyncio.create_task(_take_up_stalled(app)), asyncio.create_task(_still_there(still_there))
        working = asyncio.create_task(
            app.run_worker_async(
                queues=["lab"], name=name, concurrency=1, fetch_job_polling_interval=2.0,
                update_heartbeat_interval=HEARTBEAT_S, stalled_worker_timeout=STALLED_AFTER_S,
                shutdown_graceful_timeout=1.0, delete_jobs="successful",
            )
        )  # fmt: skip
        try:
            ended, _ = await asyncio.wait({working, there}, return_when=asyncio.FIRST_COMPLETED)
            for one in ended:
                one.result()
        finally:
            for one in (working, there, stalled):
                one.cancel()
            await asyncio.gather(working, there, stalled, return_exceptions=True)
