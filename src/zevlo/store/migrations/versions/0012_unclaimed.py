"""Since when nothing refers to a file: it is kept a day longer, for whoever is getting it."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.add_column("blob", sa.Column("unclaimed", sa.DateTime(timezone=True)))


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
