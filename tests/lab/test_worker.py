"""Prints through a real worker: made, followed, killed and taken up again, failed with a reason, cancelled."""

import io
import signal
import time
import uuid

import numpy as np
from PIL import Image
from sqlalchemy import delete, text

from zevlo.lab.proof import develop
from zevlo.store import attempts, prints
from zevlo.store.attempts import MOST_STOPS
from zevlo.store.database import engine_for, transaction
from zevlo.store.tables import BlobChunk, Print, Revision


def _print(client, shot, key):
    rows = client.get(f"/api/projects/{shot['project']}/prints").json()["prints"]
    return next(row for row in rows if row["id"] == key)


def _until(client, shot, key, states, seconds=240):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        row = _print(client, shot, key)
        if row["state"] in states:
            return row
        time.sleep(0.1)
    raise AssertionError(f"print stayed {row}")


def test_a_proof_is_made_goes_stale_and_downloads(client, served, shot):
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    assert (ordered["state"], ordered["size"]) == ("waiting", [960, 540])
    with served.worker():
        done = _until(client, shot, ordered["id"], {"done", "failed"})
    assert done["state"] == "done", done["trouble"]
    assert done["stale"] is None
    assert Image.open(io.BytesIO(client.get(done["picture"]).content)).size == (960, 540)
    film = client.get(done["film"])
    assert film.content[:4] == bytes([0x76, 0x2F, 0x31, 0x01]), "OpenEXR's magic number"
    assert "attachment" in film.headers["content-disposition"]
    turned = client.patch(
        f"/api/shots/{shot['id']}", json={"version": shot["version"], "gesture": {"kind": "face", "heading_deg": 12}}
    )
    assert turned.status_code == 200
    assert _print(client, shot, done["id"])["stale"] == "Changed since: stand"
    client.post(f"/api/projects/{shot['project']}/undo")
    assert _print(client, shot, done["id"])["stale"] is None
    assert client.delete(f"/api/prints/{done['id']}").status_code == 204
    assert client.post(f"/api/projects/{shot['project']}/undo").status_code == 200
    assert _print(client, shot, done["id"])["state"] == "done"


def sized(client, shot, width, height):
    """The shot with another size of its picture; its proof has that size."""
    small = {"version": shot["version"], "patch": {"back": {"output_px": [width, height]}}}
    changed = client.patch(f"/api/shots/{shot['id']}", json=small)
    assert changed.status_code == 200, changed.text
    return {**shot, **changed.json()}


def test_a_proof_shows_what_the_shot_leaves_out_no_more(client, served, shot):
    shot = sized(client, shot, 320, 180)
    whole = client.post(f"/api/shots/{shot['id']}/proof").json()
    gesture = {"kind": "leave_out_seen", "x": 0.5, "y": 0.12}
    out = client.patch(f"/api/shots/{shot['id']}", json={"version": shot["version"], "gesture": gesture}).json()
    assert len(out["shot"]["left_out"]) == 1
    bare = client.post(f"/api/shots/{shot['id']}/proof").json()
    assert bare["id"] != whole["id"]
    with served.worker():
        prints = [_until(client, shot, one["id"], {"done", "failed"}) for one in (whole, bare)]
    assert [one["state"] for one in prints] == ["done", "done"]
    assert prints[0]["stale"] == "Changed since: what is left out"
    assert prints[1]["stale"] is None
    with_block, without = (
        np.asarray(Image.open(io.BytesIO(client.get(one["picture"]).content)).convert("L"), dtype=float)
        for one in prints
    )
    # Where the block was one sees past it now; the sky above it is the same in both.
    assert abs(with_block[81:87, 157:163].mean() - without[81:87, 157:163].mean()) > 5
    assert abs(with_block[:13].mean() - without[:13].mean()) < 2


def test_a_killed_workers_print_is_taken_up_again(client, served, shot):
    sized(client, shot, 320, 180)
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    with served.worker_process():
        _until(client, shot, ordered["id"], {"developing"})
    assert _print(client, shot, ordered["id"])["state"] == "developing"
    with served.worker():
        done = _until(client, shot, ordered["id"], {"done", "failed"})
    assert done["state"] == "done"
    with transaction(engine_for(served.url)) as session:
        assert session.get(Print, uuid.UUID(ordered["id"])).pieces[0].tries == 2


def test_a_worker_that_slept_through_is_late_and_changes_nothing(client, served, shot):
    """Two workers on one print: the one that was held up comes back when the other has finished it."""
    shot = sized(client, shot, 320, 180)
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    with served.worker_process() as sleeper:
        _until(client, shot, ordered["id"], {"developing"})
        sleeper.send_signal(signal.SIGSTOP)
        with served.worker():
            done = _until(client, shot, ordered["id"], {"done", "failed"})
        picture = client.get(done["picture"]).content
        sleeper.send_signal(signal.SIGCONT)
        # It is through with the first when it has made another.
        sized(client, shot, 64, 36)
        after = client.post(f"/api/shots/{shot['id']}/proof").json()
        assert _until(client, shot, after["id"], {"done", "failed"})["state"] == "done"
    now = _print(client, shot, ordered["id"])
    assert (now["state"], now["picture"], now["trouble"]) == ("done", done["picture"], None)
    assert client.get(now["picture"]).content == picture
    with transaction(engine_for(served.url)) as session:
        assert session.get(Print, uuid.UUID(ordered["id"])).pieces[0].tries == 2


def test_a_worker_struck_off_the_list_goes_on(client, served, shot):
    """Held up for long it was taken for dead, and what it is known by taken off the queue's list."""
    sized(client, shot, 64, 36)
    with served.worker_process() as process:
        first = client.post(f"/api/shots/{shot['id']}/proof").json()["id"]
        assert _until(client, shot, first, {"done", "failed"})["state"] == "done"
        with transaction(engine_for(served.url)) as session:
            assert session.execute(text("delete from procrastinate_workers")).rowcount == 1
        after = client.post(f"/api/shots/{shot['id']}/proof").json()["id"]
        assert _until(client, shot, after, {"done", "failed"})["state"] == "done"
        assert process.poll() is None
        process.send_signal(signal.SIGTERM)
        assert process.wait(60) == 0, "it ends when it is told to"


def test_two_workers_share_the_prints_and_make_each_once(client, served, shot):
    sized(client, shot, 64, 36)
    orders = [client.post(f"/api/shots/{shot['id']}/proof").json()["id"] for _ in range(6)]
    with served.worker_process(), served.worker_process():
        assert [_until(client, shot, key, {"done", "failed"})["state"] for key in orders] == ["done"] * 6
    with transaction(engine_for(served.url)) as session:
        assert [session.get(Print, uuid.UUID(key)).pieces[0].tries for key in orders] == [1] * 6


def test_a_print_that_cannot_be_made_says_why_and_can_be_retried(client, served, shot):
    sized(client, shot, 64, 36)
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    engine, key = engine_for(served.url), uuid.UUID(ordered["id"])
    with transaction(engine) as session:
        arrays = session.get(Revision, prints.recipe_of(session.get(Print, key)).revision).arrays
        kept = [(c.number, c.data) for c in session.query(BlobChunk).filter_by(sha256=arrays)]
        session.execute(delete(BlobChunk).where(BlobChunk.sha256 == arrays))
    develop(engine, key)
    failed = _print(client, shot, ordered["id"])
    assert failed["state"] == "failed"
    assert "The renderer stopped" in failed["trouble"]
    with transaction(engine) as session:
        session.add_all(BlobChunk(sha256=arrays, number=n, data=d) for n, d in kept)
    assert client.post(f"/api/prints/{ordered['id']}/retry").json()["state"] == "waiting"
    with served.worker():
        assert _until(client, shot, ordered["id"], {"done", "failed"})["state"] == "done"


def test_a_print_that_kills_its_worker_is_given_up_in_words(client, served, shot):
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    engine, key = engine_for(served.url), uuid.UUID(ordered["id"])
    for _ in range(MOST_STOPS):
        with transaction(engine) as session:
            attempts.claim_piece(session, key)
    develop(engine, key)
    assert f"interrupted {MOST_STOPS} times" in _print(client, shot, ordered["id"])["trouble"]


def test_cancel_while_waiting_and_no_worker_takes_it(client, served, shot):
    ordered = client.post(f"/api/shots/{shot['id']}/proof").json()
    assert client.post(f"/api/prints/{ordered['id']}/cancel").json()["state"] == "cancelled"
    develop(engine_for(served.url), uuid.UUID(ordered["id"]))
    assert _print(client, shot, ordered["id"])["state"] == "cancelled"
