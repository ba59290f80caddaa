"""The lab's jobs: which pieces of which prints have one in the queue, and which documents.

A job is put in the queue in the transaction that makes it due, so that neither is there without the other. What is due
follows from prints and pieces alone, in one place: whatever became of a job, :func:`heal` gives another to what has
none. The queue is procrastinate's, in the same database; its own functions put jobs in, as its client would use a
connection of its own.
"""

from __future__ import annotations

import uuid
from collections.abc import Collection

from sqlalchemy import text
from sqlalchemy.orm import Session

QUEUE = "lab"
DEVELOP = "zevlo.develop"
DOCUMENTS = "zevlo.documents"
FINALS = -1000
"""The priority of finals: after everything somebody waits for at the desk. Those of a higher rank come later."""
AT_LEISURE = 1_000_000
"""The rank of proofs nobody waits for."""
AHEAD = 64
"""Pieces of a print that have a job at a time: as many as machines may be at it together. The others get theirs as
those end, so that nobody waits while the jobs of a large order are written."""

_PRIORITY = f"(case print.kind when 'final' then {FINALS} else 0 end - print.rank)"
"""Where the pieces of a print come in the queue."""
_LIVE = f"job.queue_name = '{QUEUE}' and job.status in ('todo', 'doing')"
_JOB = "procrastinate_job_to_defer_v1"

# What is made of the other pieces of a print comes when all those are there; of a final the tiles that have the fewest
# samples come first.
_DUE = f"""
wanted as (
    select print.id, {_PRIORITY} as priority
    from print join project on project.id = print.project_id and not project.deleted
    where print.id = any(:keys) and print.state in ('waiting', 'developing') and not print.deleted
), busy as (
    select (job.args ->> 'print_id')::uuid as print_id, (job.args ->> 'piece')::int as number
    from procrastinate_jobs as job
    where {_LIVE} and job.id <> :ending and job.args ->> 'print_id' = any(:texts)
), every as (
    select piece.print_id, piece.number, piece.state, (piece.samples ->> 0)::int as samples,
        max(piece.number) over own as last, count(*) filter (where piece.state <> 'done') over own as unfinished
    from piece join wanted on wanted.id = piece.print_id
    window own as (partition by piece.print_id)
), due as (
    select print_id, number, row_number() over (partition by print_id order by samples, number) as place
    from every
    where state <> 'done' and (number < last or unfinished = 1)
        and (print_id, number) not in (select print_id, number from busy)
), found(jobs) as (
    select array_agg(row(
        '{QUEUE}', '{DEVELOP}', wanted.priority, null, null,
        jsonb_build_object('print_id', due.print_id, 'piece', due.number), null
    )::{_JOB} order by wanted.priority desc, due.place)
    from due join wanted on wanted.id = due.print_id
        left join (select print_id, count(*) as jobs from busy group by print_id) as has on has.print_id = due.print_id
    where due.place <= :ahead - coalesce(has.jobs, 0)
)
"""
# Held against all jobs at once: there may be thousands of both.
_WITHOUT_JOB = f"""
select print.id from print join project on project.id = print.project_id and not project.deleted
where print.state in ('waiting', 'developing') and not print.deleted
    and print.id::text not in (
        select job.args ->> 'print_id' from procrastinate_jobs as job where {_LIVE} and job.args ? 'print_id')
for update of print skip locked
"""
_DOCUMENTS_WITHOUT_JOB = f"""
select documents.id from documents join project on project.id = documents.project_id and not project.deleted
where documents.state in ('waiting', 'making') and not documents.deleted
    and documents.id::text not in (
        select job.args ->> 'documents' from procrastinate_jobs as job where {_LIVE} and job.args ? 'documents')
for update of documents skip locked
"""
# Under another number: whoever still is at the old one, and comes back, ends that one alone.
_STALLED = f"""
stalled as (
    delete from procrastinate_jobs where id in (
        select job.id
        from procrastinate_jobs as job left join procrastinate_workers as worker on worker.id = job.worker_id
        where job.queue_name = '{QUEUE}' and job.status = 'doing'
            and (worker.id is null or worker.last_heartbeat < now() - make_interval(secs => :after_s))
        for update of job skip locked)
    returning id, task_name, priority, args
), found(jobs) as (
    select array_agg(row('{QUEUE}', task_name, priority, null, null, args, null)::{_JOB} order by id) from stalled
)
"""


def _put_in(session: Session, found: str, **values: object) -> int:
    """Put in the queue what a question ``found`` tells as an array of jobs; how many those were."""
    put = text(f"with {found} select cardinality(procrastinate_defer_jobs_v1(jobs)) from found where jobs is not null")
    return session.scalar(put, values) or 0


def enqueue_due(session: Session, keys: Collection[uuid.UUID], ahead: int = AHEAD, ending: int | None = None) -> int:
    """Put the pieces of prints in the queue that can be made as things stand and have no job, of each print so many
    that it has ``ahead`` of them there; how many that were. ``ending``: the number of a job that is about to end."""
    session.flush()
    texts = [str(key) for key in keys]
    return _put_in(session, _DUE, keys=list(keys), texts=texts, ahead=ahead, ending=ending or 0)


def enqueue_documents(session: Session, keys: Collection[uuid.UUID]) -> None:
    """Put documents in the queue: before every final, somebody waits for them."""
    found = (
        f"found(jobs) as (select array_agg(row('{QUEUE}', '{DOCUMENTS}', 0, null, null,"
        f" jsonb_build_object('documents', wanted.key), null)::{_JOB})"
        " from unnest(cast(:keys as uuid[])) as wanted(key))"
    )
    _put_in(session, found, keys=list(keys))


def heal(session: Session, stalled_after_s: float) -> int:
    """Give a job to everything unfinished that has none, and another to what was at a worker that was not heard of for
    so long; how many that were. Projects that were deleted rest, and go on where that is undone."""
    count = _put_in(session, _STALLED, after_s=stalled_after_s)
    prints = list(session.scalars(text(_WITHOUT_JOB)))
    documents = list(session.scalars(text(_DOCUMENTS_WITHOUT_JOB)))
    if prints:
        count += enqueue_due(session, prints, ahead=1)
    if documents:
        enqueue_documents(session, documents)
    return count + len(documents)


def someone_at(session: Session, job: int | None) -> bool:
    """Whether a worker is at a job, by its number: it has not ended, and was not given to another."""
    at_it = text(f"select exists (select 1 from procrastinate_jobs as job where {_LIVE} and job.id = :job)")
    return job is not None and bool(session.scalar(at_it, {"job": job}))


def someone_waits(session: Session, key: uuid.UUID) -> bool:
    """Whether anything waits in the queue that comes before a print."""
    before = text(
        "select exists (select 1 from procrastinate_jobs as job, print where print.id = :key"
        f" and job.queue_name = '{QUEUE}' and job.status = 'todo' and job.priority > {_PRIORITY}"
        " and (job.scheduled_at is null or job.scheduled_at <= now()))"
    )
    return bool(session.scalar(before, {"key": key}))


def reorder(session: Session, keys: Collection[uuid.UUID]) -> None:
    """Let the jobs of prints come where their ranks say now."""
    session.flush()
    moved = text(
        f"update procrastinate_jobs as job set priority = {_PRIORITY} from print"
        f" where job.queue_name = '{QUEUE}' and job.status = 'todo' and job.args ->> 'print_id' = any(:texts)"
        f" and print.id::text = job.args ->> 'print_id' and job.priority <> {_PRIORITY}"
    )
    session.execute(moved, {"texts": [str(key) for key in keys]})


def take_back(session: Session, keys: Collection[uuid.UUID]) -> None:
    """No job that waits for one of these prints is begun any more."""
    gone = text(
        f"delete from procrastinate_jobs as job where job.queue_name = '{QUEUE}' and job.status = 'todo'"
        " and job.args ->> 'print_id' = any(:texts)"
    )
    session.execute(gone, {"texts": [str(key) for key in keys]})
