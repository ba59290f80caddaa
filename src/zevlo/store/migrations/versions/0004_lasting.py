"""Parts lifted off are known by lasting ids; the floor under each shot is kept; prints tell their attempts apart."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

from zevlo.core.scene.model.part_ids import ids_of

revision = "0004"
down_revision = "0003"

PROJECT = sa.table(
    "project", sa.column("id", sa.Uuid()), sa.column("revision_id", sa.Uuid()), sa.column("lifted", JSONB()),
    sa.column("arrangement", JSONB()),
)  # fmt: skip
REVISION = sa.table("revision", sa.column("id", sa.Uuid()), sa.column("summary", JSONB()))
CHANGE = sa.table("change", sa.column("seq", sa.Integer()), sa.column("entries", JSONB()))


def upgrade() -> None:
    op.add_column("shot", sa.Column("floor_m", sa.Float(), nullable=True))
    op.add_column("print", sa.Column("attempt", sa.Uuid(), nullable=True))
    op.add_column("print", sa.Column("interruptions", JSONB(), nullable=False, server_default=sa.text("'[]'::jsonb")))
    op.add_column("print", sa.Column("watch", JSONB(), nullable=False, server_default=sa.text("'{}'::jsonb")))
    for column in ("interruptions", "watch"):
        op.alter_column("print", column, server_default=None)
    connection = op.get_bind()
    ids: dict[str, list[str]] = {}
    summaries = dict(connection.execute(sa.select(REVISION.c.id, REVISION.c.summary)).all())
    for row in connection.execute(sa.select(PROJECT)).all():
        summary = summaries.get(row.revision_id)
        ids[str(row.id)] = [] if summary is None else _ids(summary, row.arrangement)
        if row.lifted:
            known = _known(row.lifted, ids[str(row.id)])
            connection.execute(sa.update(PROJECT).where(PROJECT.c.id == row.id).values(lifted=known))
    for change in connection.execute(sa.select(CHANGE)).all():
        entries = [_entry_known(entry, ids) for entry in change.entries]
        if entries != change.entries:
            connection.execute(sa.update(CHANGE).where(CHANGE.c.seq == change.seq).values(entries=entries))


def _ids(summary: dict[str, Any], arrangement: dict[str, Any]) -> list[str]:
    """Ids by the numbers parts had: the file's own, the group of stand-ins, each stand-in by its name."""
    own = list(ids_of([(part.get("id", ""), part["name"], part["parent"]) for part in summary["parts"]]))
    stand_ins = [f"Stand-ins/{one['name']}" for one in arrangement.get("stand_ins", [])]
    return [*own, "Stand-ins", *stand_ins] if stand_ins else own


def _known(numbers: list[Any], ids: list[str]) -> list[str]:
    return [ids[n] if isinstance(n, int) else n for n in numbers if not isinstance(n, int) or n < len(ids)]


def _entry_known(entry: dict[str, Any], ids: dict[str, list[str]]) -> dict[str, Any]:
    if entry["table"] != "project" or entry["id"] not in ids:
        return entry
    known = dict(entry)
    for side in ("before", "after"):
        if entry[side].get("lifted"):
            known[side] = {**entry[side], "lifted": _known(entry[side]["lifted"], ids[entry["id"]])}
    return known


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
