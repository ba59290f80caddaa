"""What nobody can come back to is taken away; nothing that undo, redo, the lab or a set still refers to is."""

import time
import uuid
from dataclasses import astuple
from threading import Event, Thread

import pytest
from sqlalchemy import select, text
from tests.store.conftest import BOX, _taken

from zevlo.core.documents.request import Documents, Plans
from zevlo.core.finals.naming import Called
from zevlo.core.finals.order import Order, Wanted
from zevlo.core.light.setup import LightSetup
from zevlo.core.shot import Shot
from zevlo.store import attempts, changes, documents, finals, prints, projects, shots, takes
from zevlo.store.blobs import get_blob, put_blob
from zevlo.store.cleaning import Cleaned, clean
from zevlo.store.database import transaction
from zevlo.store.finals import Pass
from zevlo.store.tables import Blob, Change, DocumentsRow, Print, Project, Revision, ShotRow, Take, Thumbnail


def cleaned(engine):
    """Cleaned, and a day later once more, when what nothing refers to any more is taken away."""
    found = []
    for hours in (0, 25):
        later(engine, hours)
        with transaction(engine) as session:
            found.append(clean(session))
    return Cleaned(*(first + second for first, second in zip(*map(astuple, found), strict=True)))


def later(engine, hours):
    """So many hours have gone by since it was found that nothing refers to a blob."""
    with transaction(engine) as session:
        session.execute(
            text("update blob set unclaimed = unclaimed - make_interval(hours => :hours)"), {"hours": hours}
        )


def long_ago(engine):
    """Everything there is was written a year ago."""
    with transaction(engine) as session:
        for table in ("change", "blob", "thumbnail"):
            session.execute(text(f"update {table} set created = now() - interval '1 year'"))


def add(engine, project, name):
    with transaction(engine) as session:
        return shots.add_shot(session, project, Shot(name=name), None, "New shot “{name}”").id


def step(engine, project, what):
    with transaction(engine) as session:
        return what(session, str(project))


def exists(engine, kind, key):
    with transaction(engine) as session:
        return session.get(kind, key) is not None


def test_a_shot_that_was_undone_and_dropped_is_gone_with_its_takes_alone(engine, project):
    kept = add(engine, project, "Kept")
    dropped = add(engine, project, "Dropped")
    with transaction(engine) as session:
        take = session.scalars(select(Take.id).where(Take.shot_id == dropped)).one()
    step(engine, project, changes.undo)
    long_ago(engine)
    cleaned(engine)
    assert exists(engine, ShotRow, dropped), "redo could bring it back"
    step(engine, project, changes.redo)
    step(engine, project, changes.undo)
    deleted = add(engine, project, "Deleted")
    with transaction(engine) as session:
        shots.delete_shot(session, deleted)
    long_ago(engine)
    cleaned(engine)
    assert not exists(engine, ShotRow, dropped)
    assert not exists(engine, Take, take)
    assert exists(engine, ShotRow, kept)
    assert step(engine, project, changes.undo) == "Delete “Deleted”"
    with transaction(engine) as session:
        assert session.get(ShotRow, deleted).deleted is False
        assert session.scalars(select(Take).where(Take.shot_id == deleted)).one().number == 1
    while step(engine, project, changes.undo):
        pass
    while step(engine, project, changes.redo):
        pass
    with transaction(engine) as session:
        assert {row.settings["name"] for row in session.scalars(select(ShotRow).where(ShotRow.project_id == project, ~ShotRow.deleted))} == {"Kept"}  # fmt: skip


def test_every_change_that_counts_can_still_be_undone_after_cleaning(engine, project):
    key = add(engine, project, "Turned")
    for angle in range(1, 6):
        with transaction(engine) as session:
            shots.change_shot(session, key, None, Shot(name="Turned", stand={"roll_deg": angle}), f"Roll {angle}")
    with transaction(engine) as session:
        takes.keep_shot(session, key, session.get(ShotRow, key).version)
        prints.delete_print(session, prints.order_proof(session, key).id)
    long_ago(engine)
    cleaned(engine)
    done = []
    while label := step(engine, project, changes.undo):
        done.append(label)
    assert len(done) == 8
    assert done[2:7] == [f"Roll {angle}" for angle in range(5, 0, -1)]


def test_files_stay_as_long_as_a_set_or_a_print_refers_to_them(engine, project):
    key = add(engine, project, "Printed")
    with transaction(engine) as session:
        revision = session.scalars(select(Revision).where(Revision.project_id == project)).one()
        revision.pictures = [put_blob(session, b"a texture of the set", "image/png")]
        own = [revision.source, revision.arrays, *revision.views, *revision.pictures]
        entry = prints.order_proof(session, key)
        attempt = attempts.claim_piece(session, entry.id).attempt
        first, last = (put_blob(session, uuid.uuid4().bytes, "image/png") for _ in range(2))
        for blob, is_last in ((first, False), (last, True)):
            assert attempts.finish(
                session, entry.id, attempt, {"picture.png": attempts.Output(blob, "image/png")}, {}, is_last
            )
        nobody = put_blob(session, uuid.uuid4().bytes * 90_000, "image/png")
        session.add(Thumbnail(key=uuid.uuid4().hex, png=b"small"))
    long_ago(engine)
    found = cleaned(engine)
    assert found.blobs >= 2
    assert found.pictures >= 1
    with transaction(engine) as session:
        left = set(session.scalars(select(Blob.sha256)))
        assert {*own, last} <= left
        assert not {first, nobody} & left
        with pytest.raises(KeyError):
            get_blob(session, nobody)
    assert cleaned(engine).blobs == 0


def test_a_file_nothing_refers_to_any_more_is_there_a_day_longer(engine, project):
    """For who began to get it before."""

    def claim(*blobs):
        with transaction(engine) as session:
            session.scalars(select(Revision).where(Revision.project_id == project)).one().pictures = list(blobs)

    def after(hours):
        later(engine, hours)
        with transaction(engine) as session:
            clean(session)
        return exists(engine, Blob, blob)

    data = uuid.uuid4().bytes * 90_000
    with transaction(engine) as session:
        blob = put_blob(session, data, "image/png")
    claim(blob)
    assert after(1000)
    claim()
    assert after(0)
    assert after(23)
    with transaction(engine) as session:
        assert get_blob(session, blob) == data
    claim(blob)
    assert after(23), "it is referred to again"
    claim()
    assert after(0)
    assert after(23), "the day begins anew"
    assert not after(2)


def test_documents_keep_their_files_until_they_are_thrown_away_for_good(engine, project):
    shot = add(engine, project, "Told of")
    with transaction(engine) as session:
        row = documents.ask_for(session, project, Documents(shots=(shot,), plans=Plans()))
        attempt = documents.claim_piece(session, row.id, None).attempt
        blob = put_blob(session, uuid.uuid4().bytes, "application/pdf")
        made = documents.Made({"plan.pdf": documents.FileMade(blob, "application/pdf", 16)}, [], "as it was")
        assert documents.finish(session, row.id, attempt, made)
        key = row.id
    long_ago(engine)
    cleaned(engine)
    assert exists(engine, Blob, blob)
    with transaction(engine) as session:
        documents.throw_away(session, key)
    long_ago(engine)
    cleaned(engine)
    assert exists(engine, Blob, blob), "undo could bring them back"
    with transaction(engine) as session:
        session.execute(text("update change set state = 'dropped' where scope = :scope"), {"scope": str(project)})
    long_ago(engine)
    cleaned(engine)
    assert not exists(engine, DocumentsRow, key)
    assert not exists(engine, Blob, blob)


def test_a_project_whose_making_was_undone_for_good_is_gone_with_all_it_had(engine, tmp_path):
    with transaction(engine) as session:
        key = projects.create_project(session, "Undone", "a.glb", _taken(tmp_path, BOX), LightSetup()).id
        arrays = session.scalars(select(Revision).where(Revision.project_id == key)).one().arrays
    shot = add(engine, key, "Of the undone one")
    with transaction(engine) as session:
        entry = prints.order_proof(session, shot).id
        found = documents.ask_for(session, key, Documents(shots=(shot,), plans=Plans())).id
    step(engine, changes.HOME, changes.undo)
    long_ago(engine)
    cleaned(engine)
    assert exists(engine, Project, key), "redo could bring it back"
    with transaction(engine) as session:
        projects.create_project(session, "Next", "b.glb", _taken(tmp_path, BOX), LightSetup())
    long_ago(engine)
    cleaned(engine)
    gone = ((Project, key), (ShotRow, shot), (Print, entry), (DocumentsRow, found), (Blob, arrays))
    assert [exists(engine, kind, one) for kind, one in gone] == [False] * 5
    with transaction(engine) as session:
        assert session.scalars(select(Change).where(Change.scope == str(key))).all() == []


WAITING = (
    "select count(*) from pg_locks join pg_database on pg_database.oid = pg_locks.database"
    " where datname = current_database() and locktype = 'advisory' and not granted"
)


def _until_one_waits(engine):
    """Until some transaction waits for a lock that another one holds."""
    deadline = time.monotonic() + 20
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        while not connection.scalar(text(WAITING)):
            assert time.monotonic() < deadline, "nobody waits"


def test_a_file_that_is_being_referred_to_anew_while_it_is_cleaned_stays(engine, project):
    """Two at once: one puts a blob that lay there unclaimed for long, the other is about to take it away."""
    data = uuid.uuid4().bytes
    with transaction(engine) as session:
        blob = put_blob(session, data, "image/png")
    long_ago(engine)
    put, go, over = Event(), Event(), Event()

    def claim():
        with transaction(engine) as session:
            assert put_blob(session, data, "image/png") == blob
            put.set()
            go.wait(20)
            revision = session.scalars(select(Revision).where(Revision.project_id == project)).one()
            revision.pictures = [blob]

    def sweep():
        with transaction(engine) as session:
            clean(session)
        over.set()

    threads = [Thread(target=claim), Thread(target=sweep)]
    threads[0].start()
    assert put.wait(20)
    threads[1].start()
    _until_one_waits(engine)
    assert not over.is_set(), "it waits for who is at the blobs"
    go.set()
    for one in threads:
        one.join(20)
    assert over.is_set()
    with transaction(engine) as session:
        assert get_blob(session, blob) == data


def test_what_a_cancelled_final_gathered_is_there_for_a_week(engine, project):
    shot = add(engine, project, "Pot")
    fields = dict.fromkeys(Called.model_fields, "x")
    with transaction(engine) as session:
        order = Order(pictures=(Wanted(shot=shot),))
        row = finals.place_order(
            session, project, order, finals.pictures_of(session, project, order), [Called(**fields)]
        )
        (entry,) = finals.prints_in(session, row.id)
        key = entry.id
        tile = attempts.claim_piece(session, key, number=0)
        finals.gather(session, key, tile.attempt, Pass(b"light", 4, 1, 30.0, False), 1.0e6)
        prints.cancel(session, key)
    cleaned(engine)
    with transaction(engine) as session:
        assert finals.gathered(session, key, 0) == (b"light", 4)
        session.execute(text("update print set finished = finished - interval '8 days'"))
    cleaned(engine)
    with transaction(engine) as session:
        assert finals.gathered(session, key, 0) is None
        entry = prints.again(session, key)
        assert [piece.samples[0] for piece in entry.pieces] == [0] * len(entry.pieces)
        assert entry.progress == 0.0


def test_a_blob_put_again_is_kept_until_what_refers_to_it_is_written(engine, project):
    """It was there for long, and nothing referred to it: put again, it is not cleaned away before that is finished."""
    data = uuid.uuid4().bytes
    with transaction(engine) as session:
        name = put_blob(session, data, "image/png")
    with transaction(engine) as session:
        session.execute(
            text("update blob set unclaimed = now() - interval '2 days' where sha256 = :name"), {"name": name}
        )
    with transaction(engine) as session:
        assert put_blob(session, data, "image/png") == name
    with transaction(engine) as session:
        clean(session)
    with transaction(engine) as session:
        assert get_blob(session, name) == data
