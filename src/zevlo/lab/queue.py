"""The lab's queue at work: prints and documents as jobs on procrastinate, in the same database."""

from __future__ import annotations

import asyncio
import logging
import signal
import uuid
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

import procrastinate
from sqlalchemy import Engine
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from zevlo.lab.made_with import TurnedAway
from zevlo.settings import is_loopback
from zevlo.store.database import transaction
from zevlo.store.jobs import DEVELOP, DOCUMENTS, QUEUE, heal

POLLS_EVERY_S = 2.0
HEARTBEAT_S = 3.0
STALLED_AFTER_S = 10.0
log = logging.getLogger("zevlo.lab")


@dataclass(frozen=True)
class Lab:
    """A worker's part in the queue: its app, and the engine for all else it asks the database. ``listens``: it hears of
    new jobs at once, by a connection of its own; one on another machine looks for them every :data:`POLLS_EVERY_S`,
    because there may be any number of those."""

    app: procrastinate.App
    engine: Engine
    listens: bool


def lab_app(
    engine: Engine,
    develop: Callable[[Engine, uuid.UUID, int, int | None], None],
    write: Callable[[Engine, uuid.UUID, int | None], None],
) -> Lab:
    """A worker's part on a database; ``develop`` makes one piece of a print, ``write`` documents, each for the job of
    that number."""
    url = engine.url.set(drivername="postgresql").render_as_string(hide_password=False)
    listens = engine.url.host is None or is_loopback(engine.url.host)
    connections = 2 if listens else 1
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=url, min_size=1, max_size=connections))

    # A database that is away for a while ends no print: its job is tried again when it is back; and by another worker,
    # where this one would make another picture.
    away = {OperationalError, InterfaceError, TurnedAway}
    again = procrastinate.RetryStrategy(max_attempts=100, wait=int(HEARTBEAT_S), retry_exceptions=away)

    @app.task(name=DEVELOP, queue=QUEUE, retry=again, pass_context=True)  # type: ignore[untyped-decorator]
    def develop_piece(context: procrastinate.JobContext, print_id: str, piece: int = 0) -> None:
        develop(engine, uuid.UUID(print_id), piece, context.job.id)

    @app.task(name=DOCUMENTS, queue=QUEUE, retry=again, pass_context=True)  # type: ignore[untyped-decorator]
    def write_documents(context: procrastinate.JobContext, documents: str) -> None:
        write(engine, uuid.UUID(documents), context.job.id)

    return Lab(app, engine, listens)


def _heal(engine: Engine) -> None:
    with transaction(engine) as session:
        if count := heal(session, STALLED_AFTER_S):
            log.info("gave a job to %s pieces that had none", count)


async def _healing(engine: Engine) -> None:
    """What has no job, or one at a worker that died, gets one."""
    while True:
        try:
            await asyncio.to_thread(_heal, engine)
        except (OperationalError, InterfaceError, PoolTimeout):
            log.warning("could not look for pieces without a job: the database is away")
        except Exception:
            log.exception("could not look for pieces without a job")
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


async def _working(lab: Lab, name: str) -> None:
    """Work until cancelled. A worker that was held up for long was struck off the list meanwhile and can fetch nothing
    any more; one that lost the database ends too: it is put on the list again and goes on."""
    while True:
        try:
            await lab.app.run_worker_async(
                queues=[QUEUE], name=name, concurrency=1, fetch_job_polling_interval=POLLS_EVERY_S,
                update_heartbeat_interval=HEARTBEAT_S, stalled_worker_timeout=STALLED_AFTER_S,
                shutdown_graceful_timeout=1.0, delete_jobs="successful", install_signal_handlers=False,
                listen_notify=lab.listens,
            )  # fmt: skip
        except procrastinate.exceptions.ConnectorException as error:
            log.warning("the queue could not be asked: %s", str(error.__cause__ or error).splitlines()[0])
        await asyncio.sleep(HEARTBEAT_S)


async def _until_stopped() -> None:
    """Wait for a signal that asks this process to end; for ever, where others heed them."""
    stopping, loop = asyncio.Event(), asyncio.get_running_loop()
    for one in (signal.SIGINT, signal.SIGTERM):
        with suppress(ValueError, RuntimeError, NotImplementedError):
            loop.add_signal_handler(one, stopping.set)
    await stopping.wait()


async def work(lab: Lab, name: str, still_there: Callable[[], None] = lambda: None) -> None:
    """Work on prints until stopped by a signal; ``still_there`` is called every few seconds, and what it raises ends
    the work."""
    async with lab.app.open_async():
        parts = [
            asyncio.create_task(one)
            for one in (
                _working(lab, name), _still_there(still_there), _until_stopped(), _healing(lab.engine)
            )
        ]  # fmt: skip
        try:
            ended, _ = await asyncio.wait(parts, return_when=asyncio.FIRST_COMPLETED)
            for one in ended:
                one.result()
        finally:
            for one in parts:
                one.cancel()
            await asyncio.gather(*parts, return_exceptions=True)
