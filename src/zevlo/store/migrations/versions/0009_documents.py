"""Documents of a shot list, made by a job."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "documents",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("deleted", sa.Boolean(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("project_id", sa.Uuid(), sa.ForeignKey("project.id"), nullable=False, index=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("settings", JSONB(), nullable=False),
        sa.Column("outputs", JSONB(), nullable=False),
        sa.Column("words", JSONB(), nullable=False),
        sa.Column("made_of", sa.Text()),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("doing", sa.Text(), nullable=False),
        sa.Column("trouble", sa.Text()),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("attempt", sa.Uuid()),
        sa.Column("job", sa.BigInteger()),
        sa.Column("finished", sa.DateTime(timezone=True)),
    )


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
