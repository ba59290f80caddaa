"""A project keeps formats, sizes and sets of its own."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("project", sa.Column("kept", JSONB(), nullable=False, server_default=sa.text("'{}'::jsonb")))
    op.alter_column("project", "kept", server_default=None)


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
