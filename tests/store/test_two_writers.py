"""Two hands at once: nothing acknowledged is lost, no name comes twice, no wait is crosswise."""

import threading
import uuid
from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import text
from tests.store.test_changes import _add, _names

from zevlo.core.shot import Shot
from zevlo.store import changes, projects, shot_list, shot_rows, shots, takes
from zevlo.store.database import transaction
from zevlo.store.tables import Change, Project, ShotRow, Take


def waits_for_a_lock(engine):
    with engine.begin() as connection:
        asked = "select count(*) from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()"
        return connection.scalar(text(asked)) > 0


def beside(engine, first, second):
    """Run ``first`` in a transaction that stays open until ``second``, begun after it, waits for it."""
    with ThreadPoolExecutor(1) as other:
        with transaction(engine) as session:
            first(session)
            running = other.submit(second)
            while not waits_for_a_lock(engine):
                assert not running.done(), running.result()
        return running.result(20)


def test_undo_beside_a_write_in_flight_takes_that_write_back_and_loses_nothing(engine, project):
    key = _add(engine, project, "Room")

    def write(session):
        row = session.get(ShotRow, key)
        shots.change_shot(session, key, row.version, Shot(name="Room", back={"enlarge": 2.0}), "Enlarge")

    def undo():
        with transaction(engine) as session:
            return changes.undo(session, str(project))

    assert beside(engine, write, undo) == "Enlarge"
    with transaction(engine) as session:
        assert shot_rows.settings_of(session.get(ShotRow, key)).back.enlarge == 1.0
        assert changes.redo(session, str(project)) == "Enlarge"
        assert shot_rows.settings_of(session.get(ShotRow, key)).back.enlarge == 2.0


def test_a_write_beside_an_undo_in_flight_is_told_of_the_clash(engine, project):
    key = _add(engine, project, "Room")
    with transaction(engine) as session:
        version = session.get(ShotRow, key).version
        shots.lock_shot(session, key, version, True)

    def late():
        with transaction(engine) as session:
            takes.keep_shot(session, key, version + 1)
            shots.change_shot(session, key, version + 1, Shot(name="Room", back={"enlarge": 3.0}), "Enlarge")

    with pytest.raises(changes.Clash):
        beside(engine, lambda session: changes.undo(session, str(project)), late)
    with transaction(engine) as session:
        row = session.get(ShotRow, key)
        assert (row.locked, shot_rows.settings_of(row).back.enlarge) == (False, 1.0)


def test_undo_takes_back_only_what_was_seen(engine, project):
    _add(engine, project, "One")
    with transaction(engine) as session:
        seen = changes.next_changes(session, str(project))[0]
    _add(engine, project, "Two")
    with transaction(engine) as session, pytest.raises(changes.Clash, match="New “Two”"):
        changes.undo(session, str(project), seen.seq)
    assert _names(engine, project) == ["One", "Two"]
    with transaction(engine) as session:
        newest = changes.next_changes(session, str(project))[0]
        assert changes.undo(session, str(project), newest.seq) == "New “Two”"


def test_names_stay_unique_with_many_hands(engine, project):
    ready = threading.Barrier(6)

    def add(_):
        ready.wait()
        _add(engine, project, "Room")

    with ThreadPoolExecutor(6) as hands:
        list(hands.map(add, range(6)))
    names = _names(engine, project)
    assert sorted(names) == ["Room", *(f"Room {n}" for n in range(2, 7))]


WRITES = {
    "new shot": lambda session, project, shot, take: shots.add_shot(session, project, Shot(name="X"), None, "New"),
    "settings": lambda session, project, shot, take: shots.change_shot(session, shot, None, Shot(name="Y"), "Change"),
    "name take": lambda session, project, shot, take: takes.name_take(session, take, uuid.uuid4().hex),
    "back to take": lambda session, project, shot, take: takes.back_to_take(session, take),
    "order": lambda session, project, shot, take: shot_list.order_shots(session, project, [shot], "Order"),
    "rename project": lambda session, project, shot, take: projects.change_project(
        session, project, session.get(Project, project).version, "Rename", name=uuid.uuid4().hex
    ),
    "undo": lambda session, project, shot, take: changes.undo(session, str(project)),
    "redo": lambda session, project, shot, take: changes.redo(session, str(project)),
}


def test_all_kinds_of_writes_at_once_wait_for_each_other_and_none_crosswise(engine, project):
    """Every kind from four hands at once: a crosswise wait would end in PostgreSQL's deadlock, a lost one in the log."""
    shot = _add(engine, project, "Busy")
    with transaction(engine) as session:
        take = session.query(Take).filter_by(shot_id=shot).one().id
    ready = threading.Barrier(4)

    def hand(turn):
        ready.wait()
        for name in [*WRITES][turn:] + [*WRITES][:turn]:
            try:
                with transaction(engine) as session:
                    WRITES[name](session, project, shot, take)
            except (changes.Clash, changes.Missing):
                continue

    with ThreadPoolExecutor(4) as hands:
        list(hands.map(hand, range(4)))
    with transaction(engine) as session:
        states = [change.state for change in session.query(Change).filter_by(scope=str(project)).order_by(Change.seq)]
        assert len(set(_names(engine, project))) == len(_names(engine, project))
        # Undone changes come after all that are done; nothing done rests on something undone.
        kept = [state for state in states if state != "dropped"]
        assert kept == sorted(kept)
