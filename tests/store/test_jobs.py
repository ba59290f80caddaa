"""The lab's jobs: whatever becomes of one, each piece that is not finished has another, and nothing is done twice."""

import uuid

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from tests.store.test_cleaning import add

from zevlo.core.documents.request import Documents, ShotListing
from zevlo.core.finals.naming import Called
from zevlo.core.finals.order import Order, Scaled, Wanted
from zevlo.store import attempts, changes, documents, finals, jobs, prints, projects
from zevlo.store.database import transaction
from zevlo.store.tables import Print

STALLED_S = 10.0


def ordered(engine, project, count=1, times=0.5):
    """Finals of one shot, each in its own size; their ids."""
    shot = add(engine, project, f"Pot {uuid.uuid4().hex[:6]}")
    wanted = tuple(Wanted(shot=shot, size=Scaled(times=times + n / 10)) for n in range(count))
    order = Order(pictures=wanted)
    with transaction(engine) as session:
        fields = [Called(**dict.fromkeys(Called.model_fields, "x")) for _ in wanted]
        row = finals.place_order(session, project, order, finals.pictures_of(session, project, order), fields)
        return [one.id for one in finals.prints_in(session, row.id)]


def queued(engine, key, kind="print_id"):
    """The jobs of a print: number, piece, status, in the order they are taken."""
    asked = text(
        "select id, (args ->> 'piece')::int as piece, status::text from procrastinate_jobs"
        f" where args ->> '{kind}' = :key order by priority desc, id"
    )
    with transaction(engine) as session:
        return session.execute(asked, {"key": str(key)}).all()


def taken(engine, job, heard_of="now()"):
    """A worker that was heard of at a time takes a job; the worker's number."""
    with transaction(engine) as session:
        put = text(f"insert into procrastinate_workers (last_heartbeat) values ({heard_of}) returning id")
        worker = session.scalar(put)
        session.execute(
            text("update procrastinate_jobs set status = 'doing', worker_id = :worker where id = :job"),
            {"worker": worker, "job": job},
        )
    return worker


def ended(engine, job):
    """What a worker tells the queue that is through with a job."""
    with transaction(engine) as session:
        session.execute(text("select procrastinate_finish_job_v1(:job, 'succeeded', true)"), {"job": job})


def healed(engine):
    with transaction(engine) as session:
        return jobs.heal(session, STALLED_S)


@pytest.fixture(autouse=True)
def empty_queue(engine):
    with transaction(engine) as session:
        session.execute(text("delete from procrastinate_jobs"))
        session.execute(text("update print set state = 'cancelled' where state in ('waiting', 'developing')"))
        session.execute(text("update documents set state = 'cancelled' where state in ('waiting', 'making')"))


def test_a_worker_that_comes_back_late_ends_its_own_job_and_not_the_one_after(engine, project):
    """It was held up; its job was given to another, which is killed after the first has ended: none was left."""
    (key,) = ordered(engine, project, times=0.1)
    ((first, tile, _),) = queued(engine, key)
    taken(engine, first, "now() - interval '20 s'")
    with transaction(engine) as session:
        attempt = attempts.claim_piece(session, key, number=tile, job=first).attempt
    assert healed(engine) == 1
    (again,) = [one for one in queued(engine, key) if one.piece == tile]
    assert (again.id != first, again.status) == (True, "todo")
    taken(engine, again.id)
    with transaction(engine) as session:
        second = attempts.claim_piece(session, key, number=tile, job=again.id).attempt
        assert second != attempt
        # One that hears of the same tile by whatever job is not let in while the other is at it.
        assert attempts.claim_piece(session, key, number=tile, job=again.id + 1000) is None
        assert not attempts.report_progress(session, key, attempt, 0.5, None, "late")
    with pytest.raises(DBAPIError, match="not found"):
        ended(engine, first)
    assert again.id in [one.id for one in queued(engine, key)], "the job of the one that is at it is its own"
    with transaction(engine) as session:
        session.execute(text("update procrastinate_workers set last_heartbeat = now() - interval '20 s'"))
    assert healed(engine) == 1
    (third,) = [one for one in queued(engine, key) if one.piece == tile]
    taken(engine, third.id)
    with transaction(engine) as session:
        assert attempts.claim_piece(session, key, number=tile, job=third.id) is not None


@pytest.mark.parametrize("status", ["gone", "failed", "aborted", "succeeded"])
def test_whatever_became_of_its_job_a_piece_gets_another(engine, project, status):
    (key,) = ordered(engine, project, times=0.1)
    ((job, tile, _),) = queued(engine, key)
    taken(engine, job)
    with transaction(engine) as session:
        attempts.claim_piece(session, key, number=tile, job=job)
    assert healed(engine) == 0, "somebody is at it"
    with transaction(engine) as session:
        if status == "gone":
            session.execute(text("delete from procrastinate_jobs where id = :job"), {"job": job})
        else:
            session.execute(
                text("update procrastinate_jobs set status = cast(:status as procrastinate_job_status)"),
                {"status": status},
            )
    assert healed(engine) == 1
    (again,) = [one for one in queued(engine, key) if one.status == "todo"]
    taken(engine, again.id)
    with transaction(engine) as session:
        assert attempts.claim_piece(session, key, number=tile, job=again.id).tries == 2


def test_documents_get_another_job_too(engine, project):
    shot = add(engine, project, "Cup")
    with transaction(engine) as session:
        key = documents.ask_for(session, project, Documents(shots=(shot,), shot_list=ShotListing())).id
    ((job, _, _),) = queued(engine, key, "documents")
    taken(engine, job)
    with transaction(engine) as session:
        assert documents.claim_piece(session, key, job) is not None
        session.execute(text("delete from procrastinate_jobs"))
    assert healed(engine) == 1
    ((again, _, _),) = queued(engine, key, "documents")
    with transaction(engine) as session:
        assert documents.claim_piece(session, key, again) is not None
    assert healed(engine) == 0


def test_tiles_are_queued_as_they_come_due(engine, project):
    """An order puts one job in for each picture; the others come when its turn has come, the least sampled first, and
    the closing when every tile is there."""
    key, other = ordered(engine, project, count=2, times=2.0)
    assert [len(queued(engine, one)) for one in (key, other)] == [1, 1]
    with transaction(engine) as session:
        every = len(session.get(Print, key).pieces)
    assert every > jobs.AHEAD
    job = queued(engine, key)[0].id
    taken(engine, job)
    with transaction(engine) as session:
        attempt = attempts.claim_piece(session, key, number=0, job=job).attempt
    found = queued(engine, key)
    assert [one.piece for one in found] == list(range(jobs.AHEAD))
    assert len(queued(engine, other)) == 1, "its turn has not come"
    with transaction(engine) as session:
        made = finals.Pass(b"x", 8, 1, 99.0, False)
        finals.gather(session, key, attempt, made, 0.0, ending=job)
    ended(engine, job)
    assert [one.piece for one in queued(engine, key)] == list(range(1, jobs.AHEAD + 1)), (
        "those with fewer samples first"
    )
    with transaction(engine) as session:
        session.execute(
            text("update piece set state = 'done' where print_id = :key and number < :last"),
            {"key": key, "last": every - 1},
        )
        session.execute(text("delete from procrastinate_jobs"))
    assert healed(engine) == 2
    assert [one.piece for one in queued(engine, key)] == [every - 1]


def test_prints_of_a_deleted_project_rest_and_go_on_where_that_is_undone(engine, project):
    (key,) = ordered(engine, project, times=0.1)
    before = _waiting(engine)
    with transaction(engine) as session:
        projects.delete_project(session, project)
    ((job, tile, _),) = queued(engine, key)
    taken(engine, job)
    with transaction(engine) as session:
        assert attempts.claim_piece(session, key, number=tile, job=job) is None
    ended(engine, job)
    assert healed(engine) == 0
    assert _waiting(engine) == before - 1
    with transaction(engine) as session:
        changes.undo(session, changes.HOME)
    assert healed(engine) == 1
    ((job, tile, _),) = queued(engine, key)
    with transaction(engine) as session:
        assert attempts.claim_piece(session, key, number=tile, job=job).tries == 1, "resting was no interruption"


def _waiting(engine):
    with transaction(engine) as session:
        return prints.unfinished(session)


def test_a_proof_nobody_waits_for_steps_back_for_one_somebody_does(engine, project):
    shot = add(engine, project, "Jug")
    with transaction(engine) as session:
        idle = prints.order_proof(session, shot, rank=jobs.AT_LEISURE).id
    ((job, _, _),) = queued(engine, idle)
    taken(engine, job)
    with transaction(engine) as session:
        attempt = attempts.claim_piece(session, idle, job=job).attempt
        assert not attempts.step_back(session, idle, attempt, job), "nothing waits"
    with transaction(engine) as session:
        wanted = prints.order_proof(session, shot).id
    with transaction(engine) as session:
        assert attempts.step_back(session, idle, attempt, job)
        assert not attempts.report_progress(session, idle, attempt, 0.5, None, "late")
    ended(engine, job)
    with transaction(engine) as session:
        waiting = session.scalars(
            text("select args ->> 'print_id' from procrastinate_jobs order by priority desc, id")
        ).all()
        assert waiting == [str(wanted), str(idle)]
        entry = session.get(Print, idle)
        assert (entry.state, entry.pieces[0].tries, entry.pieces[0].interruptions) == ("waiting", 0, [])
