"""Everything above the plan's cut may be lifted off; habits of placing; labels, colour and name of a shot."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0003"
down_revision = "0002"


def _add(table: str, name: str, kind: sa.types.TypeEngine[Any], default: str) -> None:
    op.add_column(table, sa.Column(name, kind, nullable=False, server_default=sa.text(default)))
    op.alter_column(table, name, server_default=None)


def upgrade() -> None:
    _add("project", "lifted_above", sa.Boolean(), "false")
    _add("project", "habits", JSONB(), "'{}'::jsonb")
    _add("shot", "labels", JSONB(), "'[]'::jsonb")
    op.add_column("shot", sa.Column("colour", sa.Text(), nullable=True))
    # Names of before were given by hand for all one can know.
    _add("shot", "named_by_hand", sa.Boolean(), "true")
    op.add_column("take", sa.Column("name", sa.Text(), nullable=True))


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
