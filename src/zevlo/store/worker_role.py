"""The role of workers on other machines: they read what pictures are made of, write what comes of it, and no more."""

from __future__ import annotations

import psycopg
from psycopg import sql

from zevlo.store.cluster import WORKER_ROLE

READ = ("alembic_version", "project", "revision", "shot", "take", "light_setup", "picture_order", "made_with")
WRITTEN = ("print", "piece", "documents", "blob", "blob_chunk", "machine", "thumbnail")
"""Tables a worker writes, beside those of the queue."""


def let_workers_in(url: str, password: str | None) -> None:
    """Make the role, or bring its rights up to date, in a migrated database; without a password nobody is let in by it
    any more. Only the database's owner can."""
    with psycopg.connect(url, autocommit=True) as owner:
        role, here = sql.Identifier(WORKER_ROLE), sql.Identifier(owner.info.dbname)
        there = owner.execute("select 1 from pg_roles where rolname = %s", (WORKER_ROLE,)).fetchone()
        if password is None:
            if there:
                owner.execute(sql.SQL("alter role {} nologin").format(role))
            return
        statement = sql.SQL("{} role {} login password {} nosuperuser nocreatedb nocreaterole").format(
            sql.SQL("alter" if there else "create"), role, sql.Literal(password)
        )
        queue = owner.execute(
            "select relname from pg_class where relname like 'procrastinate%' and relkind = 'r'"
        ).fetchall()
        for words, tables in (
            ("select", READ),
            ("select, insert, update, delete", (*WRITTEN, *(name for (name,) in queue))),
        ):
            names = sql.SQL(", ").join(map(sql.Identifier, tables))
            statement += sql.SQL("; grant {} on {} to {}").format(sql.SQL(words), names, role)
        statement += sql.SQL("; grant connect on database {} to {}").format(here, role)
        statement += sql.SQL("; grant usage, select on all sequences in schema public to {}").format(role)
        owner.execute(statement)
