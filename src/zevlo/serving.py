"""``./zevlo worker``, and what ``start`` runs: the server, the database made ready; the API's description."""

from __future__ import annotations

import argparse
import asyncio
import gc
import json
import logging
import os
import sys
from pathlib import Path

STANDS_BACK = 15
"""How nice a worker is: the desk's live loop goes first. With 12 and less it waits for a turn of the renderer now and
then. Where nothing else is to be done a worker is as fast with any."""


def run(command: str, arguments: list[str]) -> int:
    """Run one of this module's commands."""
    logging.basicConfig(level=logging.WARNING, format="%(name)s: %(message)s")
    parser = argparse.ArgumentParser(prog=f"zevlo {command}")
    if command == "worker":
        parser.description = "A lab worker: makes prints and documents for a database, until it is stopped."
        parser.add_argument("--database", help="postgresql:// URL of the database to work for")
        behind = f"how far it stands back behind what else the machine does; {STANDS_BACK} if not told"
        parser.add_argument("--nice", type=int, choices=range(20), default=STANDS_BACK, metavar="0..19", help=behind)
        chosen = parser.parse_args(arguments)
        return run_worker(chosen.database, chosen.nice)
    parser.parse_args(arguments)
    return {"serve": serve, "prepare": prepare, "openapi": print_openapi}[command]()


WORKER_KEEPS, WORKER_MOST = 1, 3
"""Connections of a worker, beside its queue's: there may be any number of workers. One each, and others while its work,
its *still there* and its look for pieces without a job ask at once."""


def run_worker(database: str | None, nice: int = STANDS_BACK) -> int:
    """Work on prints until stopped."""
    from sqlalchemy.exc import OperationalError

    from zevlo.lab.machine import Worker
    from zevlo.lab.made_with import TurnedAway
    from zevlo.lab.queue import lab_app, work
    from zevlo.store import machines
    from zevlo.store.database import engine_for, other_version

    url = database or os.environ.get("ZEVLO_DATABASE_URL")
    if not url:
        print("zevlo worker: name the database with --database postgresql://…", file=sys.stderr)
        return 2
    engine = engine_for(url, kept=WORKER_KEEPS, most=WORKER_MOST)
    try:
        trouble = other_version(engine)
        if trouble is not None:
            raise TurnedAway(trouble)
        worker = Worker.joining(engine)
        os.nice(nice)
        try:
            asyncio.run(work(lab_app(engine, worker.make, worker.write), f"lab-{os.getpid()}", worker.still_there))
        finally:
            worker.leaving()
    except TurnedAway as reason:
        print(f"zevlo worker: {reason}", file=sys.stderr)
        machines.say_turned_away(engine, str(reason))
        return 2
    except OperationalError as reason:
        print(f"zevlo worker: the database does not answer: {str(reason.orig).splitlines()[0]}", file=sys.stderr)
        return 2
    return 0


def serve() -> int:
    """Serve until stopped."""
    import uvicorn

    from zevlo.api.app import SERVING, create_app
    from zevlo.core.framing.warm_up import rehearse
    from zevlo.settings import read_settings

    settings = read_settings()
    rehearse()
    # What is loaded by now stays: going through it again for rubbish would hold up live answers.
    gc.collect()
    gc.freeze()
    uvicorn.run(create_app(settings), host=settings.host, port=settings.port, **SERVING)
    return 0


def prepare() -> int:
    """Compile, migrate, and load the demonstration set into a database that has never had it."""
    from zevlo.core.framing.warm_up import rehearse
    from zevlo.demo.load import load_demo
    from zevlo.files.rehearsal import rehearse_reading
    from zevlo.files.scratch import clear_leftovers
    from zevlo.lab.made_with import made_here
    from zevlo.settings import read_settings
    from zevlo.store.cleaning import clean
    from zevlo.store.database import engine_for, migrate, transaction

    clear_leftovers()
    rehearse()
    rehearse_reading()
    settings = read_settings()
    engine = engine_for(settings.database_url)
    migrate(engine)
    made_here(engine)
    with transaction(engine) as session:
        clean(session)
    if load_demo(engine, settings.demo_proofs):
        print("made and loaded the demonstration set")
    return 0


def print_openapi() -> int:
    """Print the OpenAPI document."""
    from zevlo.api.app import create_app, openapi_of
    from zevlo.settings import Settings

    nowhere = Settings("postgresql://127.0.0.1/none", "127.0.0.1", 0, 0, Path("."))
    print(json.dumps(openapi_of(create_app(nowhere)), indent=1))
    return 0
