"""Jobs of the lab are found by what they are for; the Lab's small view of a final has a name no file can have."""

from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    for what in ("print_id", "documents"):
        op.execute(f"create index job_of_{what} on procrastinate_jobs ((args ->> '{what}'))")
    op.execute(
        "update print set outputs = (outputs - 'picture.png')"
        " || jsonb_build_object('small:view.png', outputs -> 'picture.png')"
        " where kind = 'final' and outputs ? 'picture.png'"
    )
    # Proofs nobody waits for had their priority in the queue alone.
    op.execute(
        "update print set rank = 1000000 where kind <> 'final' and exists (select 1 from procrastinate_jobs as job"
        " where job.args ->> 'print_id' = print.id::text and job.priority <= -1000000)"
    )


def downgrade() -> None:
    raise NotImplementedError("This migration is not taken back; restore a dump instead.")
