"""The database: an engine, its migrations, and sessions that are transactions."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Literal

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from pydantic_core import from_json
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session

NEWS_CHANNEL = "zevlo_news"


def engine_for(url: str, kept: int = 8, most: int = 24) -> Engine:
    """Engine on psycopg for a ``postgresql://`` URL: so many connections are kept, and there are at most so many."""
    return create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_pre_ping=True,
        pool_size=kept,
        max_overflow=most - kept,
        pool_timeout=10,
        connect_args={"connect_timeout": 4},
        json_deserializer=from_json,
    )


def migrate(engine: Engine) -> None:
    """Bring the tables up to date."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def other_version(engine: Engine) -> str | None:
    """Why this program and a database do not go together; None where they do."""
    ours = ScriptDirectory(str(Path(__file__).parent / "migrations")).get_current_head()
    with engine.begin() as connection:
        there = connection.scalar(text("select to_regclass('alembic_version') is not null"))
        theirs = connection.scalar(text("select version_num from alembic_version")) if there else None
    if theirs == ours:
        return None
    if theirs is None:
        return "there is no Zevlo in this database yet: run ./zevlo start on it first"
    return (
        f"this database is of another version of Zevlo (its tables are {theirs}, these are {ours}): "
        "use the same version on every machine"
    )


@contextmanager
def transaction(engine: Engine) -> Iterator[Session]:
    """A session in which everything happens, or nothing."""
    with Session(engine, expire_on_commit=False) as session, session.begin():
        yield session


What = Literal["change", "shots", "prints", "progress"]


def tell(session: Session, about: str, what: What = "change", **more: Any) -> None:
    """Tell every listening server, once the transaction is through, what is other of ``about`` (a project's id).

    ``change``: something an artist made; ``shots``: only its shots; ``prints``: which prints there are and what came of
    them; ``progress``: how far one print is, with all there is to know of it in ``more``. ``by``, there too: the id a
    change was asked for by, so that who asked knows it for its own.
    """
    note = json.dumps({"about": about, "what": what, **more})
    session.execute(text("select pg_notify(:channel, :note)"), {"channel": NEWS_CHANNEL, "note": note})
