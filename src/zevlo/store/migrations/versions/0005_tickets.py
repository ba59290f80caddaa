"""Changes know the id under which they were asked for, so that none is made twice."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("change", sa.Column("ticket", sa.Uuid(), nullable=True))
    op.create_index("change_by_ticket", "change", ["scope", "ticket"])
