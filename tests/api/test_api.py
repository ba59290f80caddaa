"""The API: projects, shots, undo through a restart, refusals that write nothing, the live socket, the guard."""

import threading

import pytest
from fastapi.testclient import TestClient
from tests.api.asking import new, now_of, patch, undo

from zevlo.api.app import create_app
from zevlo.api.sets import SetCache
from zevlo.core.shot import Shot, Stand


def test_a_model_becomes_a_project(client, project):
    assert project["name"] == "Two boxes"
    assert project["set"]["triangles"] == 24
    assert project["shots"] == []
    assert client.get(project["set"]["views"][0]).content[:4] == b"glTF"
    plan = client.get(f"/api/projects/{project['id']}/plan", params={"height": 0.5}).json()
    assert plan["cut"]["stops"] == [8]
    assert len(plan["cut"]["numbers"]) == 8


def test_a_refused_model_leaves_nothing(client):
    before = client.get("/api/projects").json()["projects"]
    answer = client.post("/api/projects", files={"model": ("x.glb", b"not a model")})
    assert (answer.status_code, "not a glTF model" in answer.json()["detail"]) == (422, True)
    too_large = client.post("/api/projects", files={"model": ("x.glb", b"0" * (4 * 1024**2 + 1))})
    assert (too_large.status_code, "up to 4 MB are taken" in too_large.json()["detail"]) == (422, True)
    assert client.get("/api/projects").json()["projects"] == before


def test_delete_a_project_and_take_it_back(client, project):
    assert client.delete(f"/api/projects/{project['id']}").status_code == 204
    assert client.get(f"/api/projects/{project['id']}").status_code == 404
    ids = {card["id"] for card in client.post("/api/undo").json()["projects"]}
    assert project["id"] in ids
    assert client.get(f"/api/projects/{project['id']}").status_code == 200


def test_a_shot_is_placed_named_kept_and_exposed(client, project):
    shot = new(client, project)
    assert shot["shot"]["stand"]["position"] == pytest.approx([0, -5, 1.6764], abs=1e-4), "5 ft 6 in"
    assert (shot["shot"]["name"], shot["named_by_hand"]) == ("Looking N, 35 mm", False)
    assert (shot["kept"], shot["take"]["number"]) == (True, 1)
    assert new(client, project)["shot"]["name"] == "Looking N, 35 mm 2"
    assert client.get(shot["thumbnail"]).content[:8] == b"\x89PNG\r\n\x1a\n"


def test_undo_and_redo_of_every_kind_of_change_through_a_restart(client, project, settings):
    states = [now_of(client, project)["shots"]]
    shot = new(client, project)
    states.append(now_of(client, project)["shots"])

    def did(answer):
        assert answer.status_code in (200, 201, 204), answer.text
        states.append(now_of(client, project)["shots"])

    def now():
        return now_of(client, project)["shots"][0]

    did(
        patch(
            client, now(), label="Lens", patch={**shot["shot"], "lens": {**shot["shot"]["lens"], "focal_length_mm": 50}}
        )
    )
    did(client.post(f"/api/shots/{shot['id']}/keep", json={"version": now()["version"]}))
    did(patch(client, now(), label="Move", gesture={"kind": "stand_to", "x": 2, "y": -4}))
    did(client.post(f"/api/shots/{shot['id']}/back-to-kept", json={"version": now()["version"]}))
    did(client.post(f"/api/shots/{shot['id']}/duplicate"))
    did(
        client.post(
            f"/api/shots/{shot['id']}/move",
            json={"version": now()["version"], "after": now_of(client, project)["shots"][1]["id"]},
        )
    )
    first = now_of(client, project)["shots"][0]
    did(client.post(f"/api/shots/{first['id']}/lock", json={"version": first["version"], "locked": True}))
    did(client.delete(f"/api/shots/{shot['id']}"))

    def plain(rows):
        return [(r["id"], r["shot"], r["locked"], r["kept"], r["take"]) for r in rows]

    with TestClient(create_app(settings), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)) as restarted:
        for wanted in reversed(states[:-1]):
            assert plain(undo(restarted, project)["shots"]) == plain(wanted)
        assert undo(restarted, project)["undo"] is None
        for wanted in states[1:]:
            assert plain(undo(restarted, project, "redo")["shots"]) == plain(wanted)
        undo(restarted, project)
        new(restarted, project)
        assert now_of(restarted, project)["redo"] is None, "a new change drops what was undone"


def test_a_clash_is_told_and_nothing_overwritten(client, project):
    shot = new(client, project)
    good = patch(client, shot, gesture={"kind": "face", "heading_deg": 90})
    assert good.status_code == 200
    late = patch(client, shot, gesture={"kind": "face", "heading_deg": 180})
    assert (late.status_code, "changed elsewhere" in late.json()["detail"]) == (409, True)
    assert now_of(client, project)["shots"][0]["shot"]["stand"] == good.json()["shot"]["stand"]


def test_a_locked_shot_says_so(client, project):
    shot = new(client, project)
    locked = client.post(f"/api/shots/{shot['id']}/lock", json={"version": shot["version"], "locked": True}).json()
    refused = patch(client, locked, gesture={"kind": "face", "heading_deg": 90})
    assert (refused.status_code, "is locked" in refused.json()["detail"]) == (423, True)
    assert client.delete(f"/api/shots/{shot['id']}").status_code == 423


def test_invalid_settings_name_the_key_and_write_nothing(client, project):
    shot = new(client, project)
    wrong = {**shot["shot"], "lens": {**shot["shot"]["lens"], "focal_length_mm": 0}}
    answer = patch(client, shot, patch=wrong)
    assert answer.status_code == 422
    assert "focal_length_mm: got 0" in answer.json()["detail"]
    close = patch(client, shot, gesture={"kind": "focus_to", "distance_m": 0.02})
    assert (close.status_code, "focuses no closer" in close.json()["detail"]) == (422, True)
    assert now_of(client, project)["shots"][0]["version"] == shot["version"]


def test_lifted_off_is_for_working_only(client, project):
    block = next(part["id"] for part in project["set"]["parts"] if part["name"] == "Thing 1")
    shot = new(client, project)
    before = client.get(shot["thumbnail"]).content
    lifted = client.patch(
        f"/api/projects/{project['id']}", json={"version": project["version"], "lifted": [block]}
    ).json()
    assert lifted["lifted"] == [block]
    plan = client.get(f"/api/projects/{project['id']}/plan", params={"height": 0.5}).json()
    assert plan["cut"] == {"numbers": [], "stops": []}
    assert client.get(lifted["shots"][0]["thumbnail"]).content == before
    assert undo(client, project)["lifted"] == []


def test_solve_over_http(client):
    one = client.post("/api/solve", json={"name": "One"})
    assert one.json()["schema"] == "zevlo.sheet/2"
    assert len(client.post("/api/solve", json=[{}, {}]).json()) == 2
    wrong = client.post("/api/solve", json={"lens": {"focal_length_mm": -1}})
    assert wrong.status_code == 422
    assert "focal_length_mm" in wrong.json()["detail"]


def test_live_socket_answers_with_the_models_of_the_open_format(client, project):
    shot = Shot().as_json()
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})
        socket.send_json({"kind": "shot", "seq": 1, "shot": shot, "beyond": True})
        answer = socket.receive_json()
        assert (answer["kind"], answer["seq"]) == ("shot", 1)
        assert answer["sheet"]["schema"] == "zevlo.sheet/2"
        assert answer["sheet"]["pose"]["above_floor_m"] is not None
        beyond = socket.receive_json()
        assert (beyond["kind"], beyond["stand"]) == ("beyond", shot["stand"])
        assert len(beyond["lines"]) % 4 == 0
        socket.send_json({"kind": "shot", "seq": 2, "shot": shot, "gesture": {"kind": "face", "heading_deg": 90}})
        assert socket.receive_json()["sheet"]["pose"]["heading_deg"] == pytest.approx(90)
        socket.send_json({"kind": "shot", "seq": 3, "shot": shot, "gesture": {"kind": "focus_at", "x": 0.5, "y": 0.99}})
        refused = socket.receive_json()
        assert "only sky" in refused["refused"]
        socket.send_json({"kind": "shot", "seq": 4, "shot": {"lens": {"focal_length_mm": "x"}}})
        assert "focal_length_mm" in socket.receive_json()["detail"]
        scout = {"stand": shot["stand"], "focal_length_mm": 28}
        socket.send_json(
            {"kind": "scout", "seq": 5, "scout": scout, "ratio": 1.5, "gesture": {"kind": "walk", "ahead": 1}}
        )
        assert socket.receive_json()["scout"]["stand"]["position"] == pytest.approx([0, 1, 1.6])


def test_thin_lines_come_for_the_stand_the_shot_rests_at(client, project):
    """While they are worked out sheets are answered; those of a stand that was left are not sent."""
    shots = [
        Shot().with_groups(stand=Stand(position=(0, -5 - n / 10, 1.6), aim=(0, 0, 1.6))).as_json() for n in range(12)
    ]
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})
        heard = []
        for seq, shot in enumerate(shots):
            socket.send_json({"kind": "shot", "seq": seq, "shot": shot, "beyond": True})
            while not heard or heard[-1] != ("shot", seq):
                answer = socket.receive_json()
                heard.append((answer["kind"], answer.get("seq")))
        while answer["kind"] != "beyond" or answer["stand"] != shots[-1]["stand"]:
            answer = socket.receive_json()
        assert answer["lines"]
        assert [seq for kind, seq in heard if kind == "shot"] == list(range(12))
        socket.send_json({"kind": "shot", "seq": 99, "shot": shots[0]})
        assert socket.receive_json()["seq"] == 99
        socket.send_json({"kind": "ping", "seq": 100})
        assert socket.receive_json() == {"kind": "pong", "seq": 100}, "nothing was left to come"


def test_a_fault_of_ours_is_told_and_the_socket_goes_on(client, project, monkeypatch, caplog):
    def broken(*_):
        raise ZeroDivisionError("a rule nobody thought of")

    ask = {"kind": "shot", "shot": Shot().as_json(), "beyond": True}
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})
        monkeypatch.setattr("zevlo.api.live.solve", broken)
        socket.send_json({**ask, "seq": 1})
        answer = socket.receive_json()
        assert (answer["kind"], answer["seq"]) == ("trouble", 1)
        assert "stays as it was" in answer["detail"]
        monkeypatch.undo()
        monkeypatch.setattr("zevlo.api.live.section_beyond", broken)
        socket.send_json({**ask, "seq": 2})
        assert socket.receive_json()["kind"] == "shot"
        while "thin lines could not" not in caplog.text:
            socket.send_json({"kind": "ping", "seq": 3})
            assert socket.receive_json()["kind"] == "pong"
        monkeypatch.undo()
        moved = Shot().with_groups(stand=Stand(position=(0, -4, 1.6), aim=(0, 0, 1.6))).as_json()
        socket.send_json({**ask, "seq": 4, "shot": moved})
        assert [socket.receive_json()["kind"] for _ in range(2)] == ["shot", "beyond"]


def test_a_set_that_was_left_while_it_loaded_never_comes_in_front_of_the_newer_one(client, project, house, monkeypatch):
    ready, loading, go_on, done = SetCache.ready, threading.Event(), threading.Event(), threading.Event()

    def slow(shelf, stands):
        found = ready(shelf, stands)
        if str(stands.revision) == project["set"]["revision"]:
            loading.set()
            go_on.wait(20)
            done.set()
        return found

    monkeypatch.setattr(SetCache, "ready", slow)
    ask = {"kind": "shot", "shot": Shot().with_groups(stand=Stand(position=(0.5, 0.5, 1.6), aim=(2, 2, 1.6))).as_json()}
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})
        assert loading.wait(20)
        socket.send_json({"kind": "open", "project": house["id"]})
        socket.send_json({**ask, "seq": 1})
        assert socket.receive_json()["sheet"]["pose"]["above_floor_m"] == pytest.approx(1.6), "over the house's floor"
        go_on.set()
        assert done.wait(20)
        socket.send_json({"kind": "ping", "seq": 2})
        assert socket.receive_json() == {"kind": "pong", "seq": 2}
        socket.send_json({**ask, "seq": 3})
        assert socket.receive_json()["sheet"]["pose"]["above_floor_m"] == pytest.approx(1.6), "not over the block, 1 m"


def test_only_the_newest_question_is_answered(client, project):
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})
        for seq in range(40):
            socket.send_json({"kind": "shot", "seq": seq, "shot": Shot().as_json()})
        seen = []
        while not seen or seen[-1] != 39:
            seen.append(socket.receive_json()["seq"])
        assert seen == sorted(seen)


def test_the_guard(client):
    assert client.get("/api/projects", headers={"Host": "evil.example"}).status_code == 403
    assert client.get("/api/projects", headers={"Origin": "http://evil.example"}).status_code == 403
    assert client.get("/api/projects", headers={"Origin": "http://127.0.0.1"}).status_code == 200
    policy = client.get("/api/projects").headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy
    assert client.get("/api/nothing").status_code == 404


def test_a_print_names_the_take_it_shows(client, project):
    shot = client.get(f"/api/projects/{project['id']}").json()["shots"]
    shot = (
        shot[0]
        if shot
        else client.post(
            f"/api/projects/{project['id']}/shots",
            json={"how": {"kind": "from_plan", "stand": [0.2, 0.2], "aim": [3, 2]}},
        ).json()
    )
    first = client.post(f"/api/shots/{shot['id']}/proof").json()
    assert first["take"] == 1
    moved = patch(client, shot, gesture={"kind": "dolly", "factor": 0.9}).json()
    assert client.post(f"/api/shots/{shot['id']}/proof").json()["take"] is None
    client.post(f"/api/shots/{shot['id']}/keep", json={"version": moved["version"]})
    takes = [entry["take"] for entry in client.get(f"/api/projects/{project['id']}/prints").json()["prints"]]
    assert takes == [2, 1]


def test_the_offer_is_what_the_core_knows(client):
    offer = client.get("/api/offer").json()
    assert {"name": "36 × 24", "width_mm": 36.0, "height_mm": 24.0} in offer["formats"]
    assert {"f_number": 2.0**2.5, "name": "f/5.6"} in offer["stops"]
