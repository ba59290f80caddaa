"""Orders over HTTP: what they come to, placed, moved, paused, gone on with, forgotten; and pictures that lead back."""

import io
import json
import re
import uuid
import zipfile
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from math import prod

import numpy as np
import pytest
from PIL import Image
from sqlalchemy import text
from tests.api.asking import new, now_of, patch, prints_of, undo

from zevlo.core.camera.from_shot import Framing
from zevlo.core.finals.expected import CLOSING_S_A_MILLION, OF_A_STACK
from zevlo.core.finals.order import Formats
from zevlo.core.finals.quality import quality_named
from zevlo.core.finals.recipe import Recipe
from zevlo.core.instruments.focus.stacks import stack_distances
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import PlacedLight
from zevlo.core.shot import Shot
from zevlo.files.scratch import scratch
from zevlo.lab.history import HISTORY_KEY, History, words_of
from zevlo.lab.pictures import Layers, written
from zevlo.store import attempts, machines, prints
from zevlo.store.blobs import put_blob
from zevlo.store.database import engine_for, transaction

CUT = {"name": "1:1", "output_px": [400, 400], "size": 1.0, "at": [0.5, 0.5]}


@pytest.fixture
def shots(client, project):
    first = new(client, project)
    first = patch(client, first, patch={"back": {"output_px": [600, 400], "crops": [CUT]}}).json()
    return [first, new(client, project, stand=(0, 5))]


def ask(client, project, what="", **order):
    return client.post(f"/api/projects/{project['id']}/orders{what}", json=order if what else {"order": order})


def both(shots, **more):
    return {"pictures": [{"shot": one["id"]} for one in shots], "quality": "draft", **more}


def placed(client, project, shots, **more):
    answer = ask(client, project, **both(shots, **more))
    assert answer.status_code == 201, answer.text
    return answer.json()


def jobs(settings, key):
    """Priorities of the jobs that wait for a print, and the pieces they are for."""
    asked = "select priority, (args ->> 'piece')::int from procrastinate_jobs where status = 'todo' and args ->> 'print_id' = :key order by id"
    with engine_for(settings.database_url).begin() as connection:
        return connection.execute(text(asked), {"key": str(key)}).tuples().all()


def test_what_an_order_comes_to_is_told_before_it_starts(client, project, shots):
    pictures = [
        {"shot": shots[0]["id"]},
        {"shot": shots[0]["id"], "crop": "1:1"},
        {"shot": shots[1]["id"], "size": {"kind": "longest", "px": 100}},
    ]
    answer = ask(
        client,
        project,
        "/expected",
        pictures=pictures,
        size={"kind": "scaled", "times": 0.5},
        formats={"png": 16, "exr": "half"},
    )
    found = answer.json()
    assert [one["size_px"] for one in found["pictures"]] == [[300, 200], [200, 200], [100, 56]]
    assert [one["called"] for one in found["pictures"]] == ["01_N_35-mm", "01_N_35-mm_1-1", "02_S_35-mm"]
    assert found["pictures"][0]["warnings"] == ["Changes not kept: no take has this framing"]
    assert found["endings"] == ["png", "exr"]
    assert found["bytes"] > 0
    kept = client.post(f"/api/shots/{shots[1]['id']}/keep", json={"version": shots[1]["version"]})
    assert kept.status_code == 200
    (after,) = ask(client, project, "/expected", pictures=[{"shot": shots[1]["id"]}]).json()["pictures"]
    assert after["warnings"] == []
    stack = patch(client, shots[0], patch={"focus": {"f_number": 2.0, "stack": {"from_m": 1.0, "to_m": 2.0}}})
    assert stack.status_code == 200, stack.text
    (after,) = ask(client, project, "/expected", pictures=[{"shot": shots[0]["id"]}]).json()["pictures"]
    assert "though it has a stack" in after["warnings"][-1]
    assert (after["merged_of"], after["unkept"]) == (0, True)
    both_kinds = [{"shot": shots[0]["id"], "stacked": stacked} for stacked in (True, False)]
    answer = ask(client, project, "/expected", pictures=both_kinds, formats={"png": 8, "exr": "half"}).json()
    assert [one["merged_of"] for one in answer["pictures"]] == [
        len(stack_distances(Framing(Shot.model_validate(stack.json()["shot"])))),
        0,
    ]
    assert answer["pictures"][0]["merged_of"] > 1
    assert [len(one["warnings"]) for one in answer["pictures"]] == [1, 2]
    assert len({one["called"] for one in answer["pictures"]}) == 2
    assert answer["files"] == 4
    changed = stack
    for change, why in (
        ({"focus": {"stack": None}}, "no stack"),
        ({"lens": {"focus_breathing": True}, "focus": {"stack": {"from_m": 1.0, "to_m": 2.0}}}, "breathes"),
    ):
        changed = patch(client, changed.json(), patch=change)
        assert changed.status_code == 200, changed.text
        refused = ask(client, project, "/expected", pictures=both_kinds[:1])
        assert refused.status_code == 422
        assert why in refused.json()["detail"]
        assert ask(client, project, pictures=both_kinds[:1]).status_code == 422
    large = {"pictures": [{"shot": shots[1]["id"], "size": {"kind": "longest", "px": 12000}}]}
    (after,) = ask(client, project, "/expected", **large).json()["pictures"]
    assert "million pixels" in after["warnings"][0]
    turned = patch(client, kept.json(), gesture={"kind": "face", "heading_deg": 12})
    assert turned.status_code == 200
    (after,) = ask(client, project, "/expected", pictures=[{"shot": shots[1]["id"]}]).json()["pictures"]
    assert after["warnings"] == ["Changes not kept: no take has this framing"]


def test_a_picture_in_which_nothing_is_sharp_is_told_so_before_it_is_made(client, project, shots):
    """By what is seen in it, as its shot shows the set: pixels it is blurred over at the sharpest place."""
    given = {"pictures": [{"shot": shots[0]["id"]}]}
    focus = {"distance_m": 0.4, "f_number": 1.4, "blur_limit": {"px": 1.5}}
    soft = patch(client, shots[0], patch={"focus": focus, "back": {"output_px": [1920, 1080]}}).json()
    (line,) = [
        one for one in ask(client, project, "/expected", **given).json()["pictures"][0]["warnings"] if "sharp" in one
    ]
    px = float(re.search(r"blurred over ([0-9.]+) px", line)[1])
    # A floor and a block, of which nothing is nearer than some 2 m: f²/(N·c)·(1/u - 1/d) by hand, in pixels of 36 mm / 1920.
    f, n, u = soft["shot"]["lens"]["focal_length_mm"], 1.4, 400.0
    v = f * u / (u - f)
    far, near = (f / n * v * abs(1.0 / d - 1.0 / u) / (36.0 / 1920.0) for d in (1.0e9, 1200.0))
    assert near < px < far
    out = patch(client, soft, patch={"left_out": [one["id"] for one in now_of(client, project)["set"]["parts"]]})
    assert out.status_code == 200, out.text
    assert not any(
        "sharp" in one for one in ask(client, project, "/expected", **given).json()["pictures"][0]["warnings"]
    )
    undo(client, project)
    focused = patch(
        client, {**soft, "version": out.json()["version"] + 1}, patch={"focus": {"distance_m": 4.0, "f_number": 8.0}}
    )
    assert focused.status_code == 200, focused.text
    assert not any(
        "sharp" in one for one in ask(client, project, "/expected", **given).json()["pictures"][0]["warnings"]
    )


def test_time_is_told_by_the_machines_there_are_and_what_waits(client, project, shots, settings):
    asked = {"pictures": [{"shot": shots[1]["id"]}], "quality": "draft"}
    engine, keys = engine_for(settings.database_url), [uuid.uuid4(), uuid.uuid4()]
    assert ask(client, project, "/expected", **asked).json()["seconds"] is None
    with transaction(engine) as session:
        for key, speed in zip(keys, (3.0e5, 1.0e5), strict=True):
            machines.heard_of(session, key, f"machine {speed:g}", {"cores": 2}, rays_per_s=speed)
    given = ask(client, project, "/expected", **asked).json()
    rays = prod(shots[1]["frame_px"])
    draft = quality_named("draft")
    closing = rays / 1e6 * CLOSING_S_A_MILLION
    assert given["machines"] == 2
    assert given["seconds"] == pytest.approx([rays * one / 4e5 + closing for one in (draft.least, draft.samples)])
    assert given["seconds_of_one"] == pytest.approx(
        [rays * one / 2e5 + closing for one in (draft.least, draft.samples)]
    )

    def late(given):
        return (datetime.fromisoformat(given["done_by"][1]) - datetime.now(UTC)).total_seconds()

    def waiting():
        return client.get(f"/api/projects/{project['id']}/lab").json()["waiting"]

    # Finals of all projects are made in one line: other tests may have left some.
    before, waited = late(given), waiting()
    assert before > given["seconds"][1] - 5.0
    for _ in range(3):
        assert ask(client, project, **asked).status_code == 201
    after = ask(client, project, "/expected", **asked).json()
    assert late(after) - before == pytest.approx(3 * rays * draft.samples / 4e5, abs=5.0)
    assert waiting() - waited == 3
    stack = patch(client, shots[0], patch={"focus": {"f_number": 2.0, "stack": {"from_m": 1.0, "to_m": 9.0}}}).json()
    count = len(stack_distances(Framing(Shot.model_validate(stack["shot"]))))
    assert ask(client, project, **{**asked, "pictures": [{"shot": stack["id"], "stacked": True}]}).status_code == 201
    more = ask(client, project, "/expected", **asked).json()
    share = max(1.0, OF_A_STACK * count)
    assert share > 1.0
    assert late(more) - late(after) == pytest.approx(prod(stack["frame_px"]) * draft.samples * share / 4e5, abs=5.0)
    with transaction(engine) as session:
        for key in keys:
            machines.leave(session, key)


def test_what_cannot_be_ordered_is_refused_in_words(client, project, shots):
    gone = ask(client, project, pictures=[{"shot": str(uuid.uuid4())}])
    assert (gone.status_code, gone.json()["detail"]) == (404, "A shot of this order is not there any more.")
    cut = ask(client, project, pictures=[{"shot": shots[1]["id"], "crop": "9:16"}])
    assert cut.status_code == 422
    assert "no crop “9:16”" in cut.json()["detail"]
    for wrong in (
        {"pattern": "{nr}"},
        {"pattern": "a/b"},
        {"formats": {"png": None}},
        {"size": {"kind": "longest", "px": 0}},
        {"quality": "best"},
    ):
        answer = ask(client, project, **both(shots, **wrong))
        assert answer.status_code == 422, wrong
        assert answer.json()["detail"]
    assert ask(client, project, pictures=[]).status_code == 422
    assert prints_of(client, project) == []


def test_an_order_larger_than_the_lab_takes_is_refused_with_what_would_fit(client, project, shots):
    """Told on the order's page too, before it is signed; and nothing of it is there."""
    huge = both(shots, size={"kind": "longest", "px": 32768})
    for what in ("", "/expected"):
        answer = ask(client, project, what, **huge)
        assert answer.status_code == 422
        assert "on its longer side would do" in answer.json()["detail"]
    sizes = [{"kind": "inside", "output_px": [8000 - n, 8000]} for n in range(80)]
    many = {"pictures": [{"shot": shots[0]["id"], "size": size} for size in sizes], "quality": "draft"}
    answer = ask(client, project, **many)
    assert answer.status_code == 422
    assert "more than is taken at once. Order the first" in answer.json()["detail"]
    assert prints_of(client, project) == []


def test_finals_are_made_in_an_order_that_can_be_changed(client, settings, project, shots):
    order, other = placed(client, project, shots), placed(client, project, shots[:1])
    assert (order["number"], other["number"]) == (1, 2)
    a, b, c = *order["prints"], *other["prints"]
    first = [jobs(settings, key)[0][0] for key in (a, b, c)]
    assert first == sorted(first, reverse=True)
    assert len(set(first)) == 3
    proof = client.post(f"/api/shots/{shots[0]['id']}/proof").json()["id"]
    assert jobs(settings, proof)[0][0] > max(first), "what is waited for at the desk comes first"
    for key, where, wanted in (
        (c, "first", [c, a, b]),
        (a, "later", [c, b, a]),
        (a, "earlier", [c, a, b]),
        (c, "last", [a, b, c]),
    ):
        assert client.post(f"/api/prints/{key}/place", json={"where": where}).status_code == 200
        now = [jobs(settings, one)[0][0] for one in wanted]
        assert now == sorted(now, reverse=True), where
        ranks = {one["id"]: one["rank"] for one in prints_of(client, project)}
        assert sorted((a, b, c), key=ranks.__getitem__) == wanted
    client.post(f"/api/prints/{b}/cancel")
    assert client.post(f"/api/prints/{b}/place", json={"where": "first"}).status_code == 404
    client.post(f"/api/orders/{order['id']}/cancel")


@pytest.mark.parametrize("pattern", ["picture", "film", "small-view", "frame-01"])
def test_a_final_keeps_its_files_whatever_they_are_called(client, settings, project, shots, pattern):
    """What the Lab shows of it, small, is kept apart from the files."""
    order = placed(client, project, shots[:1], pattern=pattern)
    key, data = uuid.UUID(order["prints"][0]), {"file": b"\x89PNG file", "small": b"\x89PNG small"}
    with transaction(engine_for(settings.database_url)) as session:
        session.execute(text("update piece set state = 'done' where print_id = :key and number < 6"), {"key": key})
        attempt = attempts.claim_piece(session, key, number=6).attempt
        blobs = {
            name: attempts.Output(put_blob(session, given, "image/png"), "image/png") for name, given in data.items()
        }
        outputs = {f"{pattern}.png": blobs["file"], prints.SMALL_VIEW: blobs["small"]}
        assert attempts.finish(session, key, attempt, outputs, {}, True)
    (given,) = prints_of(client, project)
    assert [one["name"] for one in given["files"]] == [f"{pattern}.png"]
    got = client.get(given["files"][0]["address"], params={"download": True})
    assert (got.content, f"{pattern}.png" in got.headers["content-disposition"]) == (data["file"], True)
    assert client.get(given["picture"]).content == data["small"]
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/orders/{order['id']}/all.zip").content)) as folder:
        assert [name.rpartition("/")[2] for name in folder.namelist()] == [f"{pattern}.png"]


def test_an_order_is_paused_gone_on_with_cancelled_and_taken_off_the_list(client, settings, project, shots):
    order = placed(client, project, shots)
    a, b = order["prints"]
    pieces = jobs(settings, a)
    assert [number for _, number in pieces] == [0], "the others come when its turn has come"
    client.post(f"/api/orders/{order['id']}/pause")
    assert [jobs(settings, one) for one in (a, b)] == [[], []]
    assert {one["state"] for one in prints_of(client, project)} == {"paused"}
    client.post(f"/api/prints/{a}/retry")
    assert jobs(settings, a) == pieces
    client.post(f"/api/orders/{order['id']}/retry")
    assert len(jobs(settings, b)) > 0
    assert (order["folder"], client.get(f"/api/orders/{order['id']}/all.zip").status_code) == (None, 404)
    client.post(f"/api/orders/{order['id']}/cancel")
    assert [jobs(settings, one) for one in (a, b)] == [[], []]
    assert {one["state"] for one in prints_of(client, project)} == {"cancelled"}
    assert client.delete(f"/api/orders/{order['id']}").status_code == 204
    lab = client.get(f"/api/projects/{project['id']}/lab").json()
    assert lab["orders"] == []
    assert {one["order"] for one in prints_of(client, project)} == {1}, "prints tell of their order still"
    assert undo(client, project)["redo"] == "Forget order 1"
    lab = client.get(f"/api/projects/{project['id']}/lab").json()
    assert [one["prints"] for one in lab["orders"]] == [[a, b]]
    assert lab["first"]["quality"] == "draft"


def test_two_who_order_at_once_both_get_theirs(client, settings, project, shots):
    with ThreadPoolExecutor(4) as hands:
        orders = list(hands.map(lambda _: placed(client, project, shots), range(4)))
    assert sorted(one["number"] for one in orders) == [1, 2, 3, 4]
    ranks = [one["rank"] for one in prints_of(client, project)]
    assert len(set(ranks)) == 8
    for one in orders:
        client.post(f"/api/orders/{one['id']}/cancel")


PIXELS = np.full((4, 6, 3), 0.5, dtype=np.float32)


EVERY = Formats(png=8, jpeg=90, exr="half")
assert all(getattr(EVERY, kind) is not None for kind in Formats.model_fields), "each kind of file there is"


def files_of(words, formats=EVERY):
    """A file of every kind a final is written to, telling these words."""
    recipe = Recipe(
        shot=Shot(), revision=uuid.uuid4(), light=PlacedLight(light=LightSetup()), size_px=(6, 4), samples=8, formats=formats
    )  # fmt: skip
    with scratch("files") as folder:
        made = written(folder, PIXELS.copy(), 100.0, recipe, words, Layers(), (), lambda *_: None)
        return {one.ending: one.path.read_bytes() for one in made}


def whence(client, data):
    return client.post("/api/whence", content=data, headers={"Content-Type": "application/octet-stream"})


@pytest.mark.parametrize("kind", EVERY.endings)
def test_a_picture_leads_back_to_its_shot(client, project, shots, kind):
    row = shots[0]
    history = History(str(uuid.uuid4()), row["id"], project["id"], None, project["set"]["revision"], None)
    data = files_of(words_of(Shot.model_validate(row["shot"]), history))[kind]
    answer = whence(client, data).json()
    assert (answer["project"], answer["shot"], answer["print"], answer["take"]) == (
        project["id"],
        row["id"],
        None,
        None,
    )
    assert answer["words"].endswith("as it is now.")
    patch(client, row, gesture={"kind": "face", "heading_deg": 40})
    assert whence(client, data).json()["words"].endswith("it is framed otherwise now.")
    now = now_of(client, project)["shots"][0]
    client.request("DELETE", f"/api/shots/{row['id']}", json={"version": now["version"]})
    gone = whence(client, data).json()
    assert (gone["shot"], gone["words"]) == (None, "That shot is not here any more.")
    assert gone["settings"] == row["shot"], "the file tells it all the same"


ODD_KEYS = json.dumps(dict.fromkeys(("print", "shot", "project", "order", "revision", "light"), 5))


@pytest.mark.parametrize("odd", [ODD_KEYS, "[" * 9000, "null", "{}", "5", ODD_KEYS.replace("5", '"x"'), "{"])
@pytest.mark.parametrize("kind", EVERY.endings)
def test_a_picture_that_tells_oddly_where_it_came_from_still_tells_its_shot(client, kind, odd):
    data = files_of({**words_of(Shot(name="Odd")), HISTORY_KEY: odd})[kind]
    answer = whence(client, data)
    assert answer.status_code == 200, answer.text
    assert answer.json()["settings"]["name"] == "Odd"
    assert "not of which project" in answer.json()["words"]


def test_files_that_tell_of_no_shot_are_refused_and_none_does_harm(client):
    plain = io.BytesIO()
    Image.new("RGB", (3, 3)).save(plain, "PNG")
    good = files_of(words_of(Shot()))
    hostile = good["exr"].replace(b"zevloShot\0string\0", b"zevloShot\0string\0" + b"\xff\xff\xff\x7f", 1)
    for data in (
        b"",
        b"x" * 5000,
        plain.getvalue(),
        good["png"][:40],
        good["exr"][:40],
        hostile,
        b"\x76\x2f\x31\x01" + b"\0" * 20,
        b"\xff\xd8\xff\xe1",
    ):
        answer = whence(client, data)
        assert answer.status_code == 422, data[:30]
        assert "picture" in answer.json()["detail"] or "PNG" in answer.json()["detail"]
    assert "not of which project" in whence(client, good["png"]).json()["words"]
