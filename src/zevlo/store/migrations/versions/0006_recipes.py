"""Light setups are rows that shots name; a print has a kind, a recipe, outputs and pieces; blobs know their age.

A print told its sun's heading from the set's +Y: that is its heading from north where north is +Y, and so it is told
now. What was being made is made again from its beginning, as after any interruption.
"""

import json
import re

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0006"
down_revision = "0005"

OLD = ("revision_id", "settings", "light", "arrangement", "seed", "width", "height", "samples", "png", "exr", "tries",
       "attempt", "interruptions", "watch")  # fmt: skip


def upgrade() -> None:
    _textures()
    _lights()
    _prints()
    for table in ("blob", "thumbnail"):
        op.add_column(
            table, sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False)
        )


def _textures() -> None:
    """A set's textures are told beside its views, which named them alone so far: in the JSON that a GLB begins with."""
    op.add_column("revision", sa.Column("pictures", JSONB(), server_default="[]", nullable=False))
    connection = op.get_bind()
    for key, views in connection.execute(sa.text("select id, views from revision")).all():
        found: dict[str, None] = {}
        for name in views:
            parts = connection.execute(
                sa.text("select data from blob_chunk where sha256 = :name order by number"), {"name": name}
            ).scalars()
            glb = bytes(next(parts, b""))
            end = 20 + int.from_bytes(glb[12:16], "little")
            while len(glb) < end and (more := next(parts, None)):
                glb += bytes(more)
            text = glb[20:end].decode("utf-8", "replace")
            found |= dict.fromkeys(re.findall(r"\.\./([0-9a-f]{64})/picture", text))
        told = {"key": key, "pictures": json.dumps(list(found))}
        connection.execute(sa.text("update revision set pictures = cast(:pictures as jsonb) where id = :key"), told)
    op.alter_column("revision", "pictures", server_default=None)


def _lights() -> None:
    op.create_table(
        "light_setup",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("deleted", sa.Boolean(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("project_id", sa.Uuid(), sa.ForeignKey("project.id"), nullable=False, index=True),
        sa.Column("place", sa.Float(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("settings", JSONB(), nullable=False),
    )
    op.execute(
        "insert into light_setup (id, version, deleted, project_id, place, name, settings)"
        " select gen_random_uuid(), 1, false, id, 0, 'Daylight', light from project"
    )
    op.drop_column("project", "light")


def _prints() -> None:
    op.create_table(
        "piece",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("print_id", sa.Uuid(), sa.ForeignKey("print.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("tile", JSONB(), nullable=False),
        sa.Column("samples", JSONB(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("seconds_left", sa.Float()),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("attempt", sa.Uuid()),
        sa.Column("interruptions", JSONB(), nullable=False),
        sa.Column("watch", JSONB(), nullable=False),
    )
    op.create_index("piece_of_print", "piece", ["print_id", "number"], unique=True)
    op.execute(
        "insert into piece (id, print_id, number, tile, samples, state, progress, seconds_left, tries, attempt,"
        " interruptions, watch) select gen_random_uuid(), id, 0, jsonb_build_array(0, 0, width, height),"
        " jsonb_build_array(0, samples), state, progress, seconds_left, tries, attempt, interruptions, watch from print"
    )
    op.add_column("print", sa.Column("kind", sa.Text(), server_default="proof", nullable=False))
    op.add_column("print", sa.Column("recipe", JSONB(), server_default="{}", nullable=False))
    op.add_column("print", sa.Column("outputs", JSONB(), server_default="{}", nullable=False))
    op.execute(
        "update print set recipe = jsonb_build_object('shot', settings, 'cut', null, 'revision', revision_id,"
        " 'arrangement', arrangement, 'light', jsonb_build_object('light', light, 'north_deg', 0), 'seed', seed,"
        " 'size_px', jsonb_build_array(width, height), 'samples', samples, 'versions', '{}'::jsonb)"
    )
    for name, column, media in (("picture.png", "png", "image/png"), ("film.exr", "exr", "image/x-exr")):
        op.execute(
            f"update print set outputs = outputs || jsonb_build_object('{name}', jsonb_build_object('blob', {column},"
            f" 'media_type', '{media}')) where {column} is not null"
        )
    for column in ("kind", "recipe", "outputs"):
        op.alter_column("print", column, server_default=None)
    for column in OLD:
        op.drop_column("print", column)
