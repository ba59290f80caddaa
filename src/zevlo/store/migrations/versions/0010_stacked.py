"""Finals that are merged of a stack: how many of its pictures are made in a tile."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.add_column("piece", sa.Column("pictures", sa.Integer(), server_default="1", nullable=False))


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
