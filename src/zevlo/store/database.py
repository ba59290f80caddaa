"""The database: an engine, its migrations, and sessions that are transactions."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Literal

from alembic import command
from alembic.config import Config
from pydantic_core import from_json
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session

NEWS_CHANNEL = "zevlo_news"


def engine_for(url: str) -> Engine:
    """Engine on psycopg for a ``postgresql://`` URL."""
    return create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_pre_ping=True,
        pool_size=8,
        max_overflow=16,
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


@contextmanager
def transaction(engine: Engine) -> Iterator[Session]:
    """A session in which everything happens, or nothing."""
    with Session(engine, expire_on_commit=False) as session, session.begin():
        yield session


What = Literal["change", "shots", "prints", "progress"]


def tell(session: Session, about: str, what: What = "change", **more: Any) -> None:
    """Tell every listening server, once the transaction is through, what is other of ``about`` (a project's id).

    ``change``: something an artist made; ``shots``: only its shots; ``prints``: which prints there are and what came of
    them; ``progress``: how far one print is, with all there is to know of it in ``more``.
    """
    note = json.dumps({"about": about, "what": what, **more})
    session.execute(text("select pg_notify(:channel, :note)"), {"channel": NEWS_CHANNEL, "note": note})
