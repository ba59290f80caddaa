"""Finals are ordered together and keep a place in the queue; a piece keeps what it gathered; machines are known."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "picture_order",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("deleted", sa.Boolean(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("project_id", sa.Uuid(), sa.ForeignKey("project.id"), nullable=False, index=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("settings", JSONB(), nullable=False),
    )
    op.add_column("print", sa.Column("order_id", sa.Uuid(), sa.ForeignKey("picture_order.id"), index=True))
    op.add_column("print", sa.Column("rank", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("print", "rank", server_default=None)
    op.add_column("piece", sa.Column("grain", sa.Float()))
    op.add_column("piece", sa.Column("job", sa.BigInteger()))
    op.add_column("piece", sa.Column("gathered", sa.LargeBinary()))
    # Grain packs badly: tried in vain, on every write.
    op.execute("alter table piece alter column gathered set storage external")
    op.create_table(
        "machine",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("about", JSONB(), nullable=False),
        sa.Column("rays_per_s", sa.Float(), nullable=False),
        sa.Column("doing", sa.Text(), nullable=False),
        sa.Column("began", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("seen", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
