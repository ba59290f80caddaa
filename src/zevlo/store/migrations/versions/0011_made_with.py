"""What the pictures of this database are made with: workers that have other versions of it do not join."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "made_with",
        sa.Column("id", sa.Integer(), sa.CheckConstraint("id = 1", name="made_with_one"), primary_key=True),
        sa.Column("versions", JSONB(), nullable=False),
    )


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
