"""The lab's queue: prints as jobs on procrastinate, in the same database."""

from __future__ import annotations

import asyncio
import logging
import uuid
from collections.abc import Callable

import procrastinate
from sqlalchemy import Engine, text
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.orm import Session

from zevlo.store.database import engine_for

HEARTBEAT_S = 3.0
STALLED_AFTER_S = 10.0
DEVELOP = "zevlo.develop"
AT_LEISURE = -10
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


def lab_app(url: str, develop: Callable[[Engine, uuid.UUID, int], None]) -> procrastinate.App:
    """The worker's app on a database; ``develop`` makes one piece of a print."""
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=url))
    engine = engine_for(url)

    # A database that is away for a while ends no print: its job is tried again when it is back.
    away = {OperationalError, InterfaceError}
    again = procrastinate.RetryStrategy(max_attempts=100, wait=int(HEARTBEAT_S), retry_exceptions=away)

    @app.task(name=DEVELOP, queue="lab", retry=again)
    def develop_piece(print_id: str, piece: int = 0) -> None:
        develop(engine, uuid.UUID(print_id), piece)

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


async def work(app: procrastinate.App, name: str) -> None:
    """Work on prints until stopped by a signal."""
    async with app.open_async():
        watcher = asyncio.create_task(_take_up_stalled(app))
        try:
            await app.run_worker_async(
                queues=["lab"], name=name, concurrency=1, fetch_job_polling_interval=2.0,
                update_heartbeat_interval=HEARTBEAT_S, stalled_worker_timeout=STALLED_AFTER_S,
                shutdown_graceful_timeout=1.0, delete_jobs="successful",
            )  # fmt: skip
        finally:
            watcher.cancel()
