"""The store: blobs once, changes whole or not at all, names that stay unique, places that stay in order."""

import uuid

import pytest

from zevlo.core.shot import Shot
from zevlo.store import attempts, blobs, changes, prints, shot_list, shot_rows, shots, takes
from zevlo.store.database import transaction
from zevlo.store.projects import lights_of
from zevlo.store.shot_rows import settings_of
from zevlo.store.tables import Change, Print, Project, ShotRow


def _names(engine, project):
    with transaction(engine) as session:
        return [row.settings["name"] for row in shot_rows.shots_of(session, project)]


def _add(engine, project, name, after=None):
    with transaction(engine) as session:
        place = None if after is None else session.get(ShotRow, after)
        return shots.add_shot(session, project, Shot(name=name), place, "New “{name}”").id


def test_a_blob_is_kept_once_and_comes_back_in_one_piece(engine):
    data = bytes(range(256)) * 9000
    with transaction(engine) as session:
        first, second = (blobs.put_blob(session, data, "a/b") for _ in range(2))
    assert first == second
    with transaction(engine) as session:
        assert blobs.get_blob(session, first) == data
        assert blobs.get_blob(session, blobs.put_blob(session, b"", "a/b")) == b""
        with pytest.raises(KeyError):
            blobs.get_blob(session, "0" * 64)


def test_what_fails_halfway_leaves_nothing(engine, project):
    def half():
        with transaction(engine) as session:
            shots.add_shot(session, project, Shot(name="Half"), None, "New")
            raise RuntimeError("power cut")

    with pytest.raises(RuntimeError):
        half()
    assert _names(engine, project) == []
    with transaction(engine) as session:
        assert changes.next_changes(session, str(project)) == (changes.Next(), changes.Next())


def test_names_stay_unique_and_order_holds(engine, project):
    first = _add(engine, project, "Room")
    _add(engine, project, "Room")
    _add(engine, project, "Room", after=first)
    assert _names(engine, project) == ["Room", "Room 3", "Room 2"]
    for n in range(60):
        _add(engine, project, f"Between {n}", after=first)
    names = _names(engine, project)
    assert names[:2] == ["Room", "Between 59"]
    assert names[-2:] == ["Room 3", "Room 2"]
    with transaction(engine) as session:
        shot_list.move_shot(session, first, session.get(ShotRow, first).version, None)
    assert _names(engine, project)[0] == "Room"


def test_a_rename_to_a_taken_name_gets_a_number(engine, project):
    _add(engine, project, "Hall")
    other = _add(engine, project, "Stair")
    with transaction(engine) as session:
        row = session.get(ShotRow, other)
        shots.change_shot(session, other, row.version, Shot(name="Hall"), "Rename")
    assert _names(engine, project) == ["Hall", "Hall 2"]


def test_a_write_without_change_is_no_change(engine, project):
    key = _add(engine, project, "Same")
    with transaction(engine) as session:
        row = session.get(ShotRow, key)
        before = session.query(Change).filter_by(scope=str(project)).count()
        shots.change_shot(session, key, row.version, shot_rows.settings_of(row), "Nothing")
        takes.keep_shot(session, key, row.version)
        assert session.query(Change).filter_by(scope=str(project)).count() == before


def test_versions_clash(engine, project):
    key = _add(engine, project, "Clash")
    with transaction(engine) as session, pytest.raises(changes.Clash):
        shots.lock_shot(session, key, 99, True)
    with transaction(engine) as session, pytest.raises(changes.Missing):
        shots.lock_shot(session, uuid.uuid4(), 1, True)


def test_takes_are_numbered_and_back_to_kept_keeps_the_name(engine, project):
    key = _add(engine, project, "Takes")
    with transaction(engine) as session:
        row = session.get(ShotRow, key)
        row = shots.change_shot(session, key, row.version, Shot(name="Takes", back={"enlarge": 2.0}), "Enlarge")
        row = takes.keep_shot(session, key, row.version)
        row = shots.change_shot(session, key, row.version, Shot(name="New name", back={"enlarge": 3.0}), "Enlarge")
        row = takes.back_to_kept(session, key, row.version)
        assert (row.settings["name"], row.settings["back"]["enlarge"]) == ("New name", 2.0)
        assert takes.takes_by_id(session, [row])[row.kept_take].number == 2


def test_undo_of_nothing_and_of_a_change_to_what_is_gone(engine, project):
    with transaction(engine) as session:
        assert changes.undo(session, str(uuid.uuid4())) is None
        session.add(Change(scope="odd", label="odd", entries=[{"table": "shot", "id": str(uuid.uuid4()), "before": {}, "after": {}}]))  # fmt: skip
        session.flush()
        with pytest.raises(changes.Missing):
            changes.undo(session, "odd")


def test_the_plan_is_cut_above_the_lowest_likely_floor(engine, project):
    with transaction(engine) as session:
        assert session.get(Project, project).plan_height == 1.2


def files(blob):
    return {"picture.png": attempts.Output(blob, "image/png")}


def test_a_print_holds_all_it_needs_and_follows_its_states(engine, project):
    key = _add(engine, project, "Print")
    with transaction(engine) as session:
        entry = prints.order_proof(session, key)
        owner = session.get(Project, project)
        recipe = prints.recipe_of(entry)
        assert recipe.shot == settings_of(session.get(ShotRow, key))
        assert (recipe.light, recipe.revision) == (lights_of(owner).of(None), owner.revision_id)
        assert [(piece.tile, piece.samples) for piece in entry.pieces] == [
            ([0, 0, *recipe.size_px], [0, recipe.samples])
        ]
        assert attempts.report_progress(session, entry.id, None, 0.5, 3.0, "too early") is False
        assert attempts.claim_piece(session, entry.id).tries == 1
        here = entry.pieces[0].attempt
        assert attempts.report_progress(session, entry.id, here, 0.5, 3.0, "Light 4 of 8") is True
        assert attempts.finish(session, entry.id, here, files("p"), {"samples": 8}, last=False)
        assert (entry.state, entry.outputs["picture.png"]["blob"]) == ("developing", "p")
        assert attempts.finish(session, entry.id, here, files("p2"), {"samples": 32}, last=True)
        assert (entry.state, entry.progress, entry.outputs["picture.png"]["blob"]) == ("done", 1.0, "p2")
        assert attempts.claim_piece(session, entry.id) is None, "a finished print is not made again"
        assert prints.cancel(session, entry.id).state == "done"
        with pytest.raises(changes.Missing, match="Only a failed"):
            prints.again(session, entry.id)
        attempts.fail(session, entry.id, here, "too late")
        assert session.get(Print, entry.id).state == "done"


def test_a_worker_that_comes_back_late_counts_for_nothing(engine, project):
    """Cancelled and tried again while the first worker is still at it: only the second one's picture is hung up."""
    key = _add(engine, project, "Late")
    with transaction(engine) as session:
        entry = prints.order_proof(session, key)
        first = attempts.claim_piece(session, entry.id).attempt
        prints.cancel(session, entry.id)
        assert attempts.report_progress(session, entry.id, first, 0.5, 1.0, "cancelled") is False
        prints.again(session, entry.id)
        assert attempts.finish(session, entry.id, first, files("old"), {}, last=True) is False, "it only waits so far"
        second = attempts.claim_piece(session, entry.id).attempt
        assert second != first
        assert attempts.report_progress(session, entry.id, first, 0.9, 1.0, "late") is False
        assert attempts.finish(session, entry.id, first, files("old"), {}, last=True) is False
        attempts.fail(session, entry.id, first, "the first one's trouble")
        assert (entry.state, entry.outputs, entry.trouble) == ("developing", {}, None)
        assert attempts.finish(session, entry.id, second, files("new"), {}, last=True)
        assert (entry.state, entry.outputs["picture.png"]["blob"], entry.pieces[0].interruptions) == ("done", "new", [])


@pytest.mark.parametrize(
    ("kills", "words"),
    [
        ([0, 0, 0, 0], "not for want of memory"),
        ([0, 1, 2, 3], "each time because the machine had no memory left"),
        ([0, 0, 1, 1], "1 of them because the machine had no memory left"),
    ],
)
def test_what_interrupted_a_print_is_told_as_it_was(engine, project, kills, words):
    key = _add(engine, project, "Interrupted")
    with transaction(engine) as session:
        entry = prints.order_proof(session, key)
        for count in kills:
            attempts.claim_piece(session, entry.id, attempts.Watch("here", count))
        assert len(entry.pieces[0].interruptions) == 3
        assert words in attempts.interrupted_words(entry.pieces[0].interruptions)
        # A set too large for the machine is given up soon; a night of power cuts is not.
        assert attempts.too_often(entry.pieces[0].interruptions) == ("each time" in words)
        attempts.claim_piece(session, entry.id, attempts.Watch("another machine", 99))
        assert entry.pieces[0].interruptions[-1] == "stopped", "another machine's memory tells nothing of this one"
