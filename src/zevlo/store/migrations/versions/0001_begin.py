"""Begin: projects, revisions, shots, takes, prints, changes, blobs, thumbnails; procrastinate's job tables."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects.postgresql import JSONB

revision = "0001"
down_revision = None


def _kept() -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Uuid, primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("deleted", sa.Boolean, nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    ]


def _json(name: str) -> sa.Column[Any]:
    return sa.Column(name, JSONB, nullable=False)


def _text(name: str, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Text, nullable=nullable)


def _to(name: str, table: str, index: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Uuid, sa.ForeignKey(f"{table}.id"), nullable=False, index=index)


def upgrade() -> None:
    op.create_table(
        "project", *_kept(), _text("name"), sa.Column("revision_id", sa.Uuid), _json("light"), _json("lifted"),
        sa.Column("plan_height", sa.Float, nullable=False),
    )  # fmt: skip
    op.create_table(
        "revision", *_kept(), _to("project_id", "project"), _text("file_name"), _text("source"), _text("arrays"),
        _text("view"), _json("summary"),
    )  # fmt: skip
    op.create_table(
        "shot", *_kept(), _to("project_id", "project", index=True), sa.Column("place", sa.Float, nullable=False),
        _json("settings"), sa.Column("locked", sa.Boolean, nullable=False), sa.Column("kept_take", sa.Uuid),
    )  # fmt: skip
    op.create_table(
        "take", *_kept(), _to("shot_id", "shot", index=True), sa.Column("number", sa.Integer, nullable=False),
        _json("settings"), sa.UniqueConstraint("shot_id", "number"),
    )  # fmt: skip
    op.create_table(
        "print", *_kept(), _to("project_id", "project", index=True), _to("shot_id", "shot", index=True),
        _to("revision_id", "revision"), _json("settings"), _json("light"),
        sa.Column("seed", sa.Integer, nullable=False), sa.Column("width", sa.Integer, nullable=False),
        sa.Column("height", sa.Integer, nullable=False), sa.Column("samples", sa.Integer, nullable=False),
        _text("state"), sa.Column("progress", sa.Float, nullable=False), sa.Column("seconds_left", sa.Float),
        _text("doing"), _text("trouble", True), sa.Column("tries", sa.Integer, nullable=False),
        _text("png", True), _text("exr", True), _json("made_with"),
        sa.Column("started", sa.DateTime(timezone=True)), sa.Column("finished", sa.DateTime(timezone=True)),
    )  # fmt: skip
    op.create_table(
        "change", sa.Column("seq", sa.Integer, primary_key=True, autoincrement=True), _text("scope"),
        _text("label"), _json("entries"), _text("state"),
        sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Index("change_by_scope", "scope", "state", "seq"),
    )  # fmt: skip
    op.create_table(
        "blob", sa.Column("sha256", sa.Text, primary_key=True), sa.Column("size", sa.BigInteger, nullable=False),
        _text("media_type"),
    )  # fmt: skip
    op.create_table(
        "blob_chunk", sa.Column("sha256", sa.Text, sa.ForeignKey("blob.sha256"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True), sa.Column("data", sa.LargeBinary, nullable=False),
    )  # fmt: skip
    op.create_table(
        "thumbnail", sa.Column("key", sa.Text, primary_key=True), sa.Column("png", sa.LargeBinary, nullable=False)
    )
    op.get_bind().exec_driver_sql(SchemaManager.get_schema().replace("%", "%%"))


def downgrade() -> None:
    raise NotImplementedError("The first migration is not taken back; restore a dump instead.")
