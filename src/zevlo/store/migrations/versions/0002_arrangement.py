"""Sets of every kind: views in several files, how a set is placed, levels and rooms, site; prints say how it stood."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0002"
down_revision = "0001"

_Y_UP = [1.0, 0.0, 0.0, 0.0, 0.0, 0.0, -1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0]


def _add(table: str, name: str, value: object) -> None:
    default = sa.text(f"'{json.dumps(value)}'::jsonb")
    op.add_column(table, sa.Column(name, JSONB, nullable=False, server_default=default))
    op.alter_column(table, name, server_default=None)


def upgrade() -> None:
    _add("project", "arrangement", {})
    _add("project", "places", {})
    _add("project", "site", {})
    _add("print", "arrangement", {})
    _add("revision", "views", [])
    connection = op.get_bind()
    # Sets of before: their arrays are in metres with Z up already, what is drawn is Y up and lies in one file.
    rows = connection.execute(sa.text("select id, view, summary from revision")).all()
    for key, view, summary in rows:
        (x0, y0, z0), (x1, y1, z1) = summary["bounds"]
        corners = [[x, y, z] for x in (x0, x1) for y in (y0, y1) for z in (z0, z1)]
        told = {**summary, "kind": "glTF", "extremes": corners, "view_matrix": _Y_UP, "drawn": summary["triangles"],
                "guessed": [], "remarks": [], "said": {"metres_per_unit": 1.0, "up": "z"}}  # fmt: skip
        connection.execute(
            sa.text(
                "update revision set views = cast(:views as jsonb), summary = cast(:told as jsonb) where id = :key"
            ),
            {"views": json.dumps([view]), "told": json.dumps(told), "key": key},
        )
    op.drop_column("revision", "view")


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
