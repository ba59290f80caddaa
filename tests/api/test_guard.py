"""Who may talk to the server, what an address may hold, what comes back whatever happens."""

import asyncio
import itertools
import json
from urllib.parse import quote

import pytest
import trimesh
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy.exc import OperationalError
from tests.api.asking import in_a_loop, new, patch, until
from tests.files.test_import_model import glb_of

from zevlo.api import live
from zevlo.api.bodies import MOST_ELSEWHERE
from zevlo.api.guard import Guard, Names, host_name
from zevlo.api.live import Deaf, Outbox, spread_news

SAFE = ("content-security-policy", "x-content-type-options", "referrer-policy", "cross-origin-resource-policy")


@pytest.mark.parametrize(
    "host",
    [
        "",
        "[",
        "[::1",
        "[::1]x",
        "a@127.0.0.1",
        "127.0.0.1:99999999",
        "evil.example",
        "127.0.0.1/x",
        "127.0.0.1 x",
        "testclient",
    ],
)
def test_a_host_that_is_not_ours_is_refused_and_never_raised(client, host):
    answer = client.get("/api/offer", headers={"host": host})
    assert answer.status_code == 403, answer.text
    assert all(name in answer.headers for name in SAFE)


@pytest.mark.parametrize(
    "origin", ["http://[", "null", "http://evil.example", "https://127.0.0.1.evil.example", "\u00e9".encode()]
)
def test_requests_from_other_pages_are_refused(client, origin):
    answer = client.get("/api/offer", headers={"origin": origin})
    assert answer.status_code == 403
    assert all(name in answer.headers for name in SAFE)


def test_loopback_is_for_this_machine_and_names_for_all_who_know_them():
    names = Names(frozenset({"studio.lan", "192.0.2.5", "2001:db8::5"}))
    for host in ("studio.lan", "STUDIO.lan:8420", "192.0.2.5:8420", "[2001:db8::5]:8420"):
        assert names.allow(host, "192.0.2.77"), host
    for host in ("localhost", "127.0.0.1:8420", "[::1]:8420"):
        assert names.allow(host, "127.0.0.1"), host
        assert not names.allow(host, "192.0.2.77"), "somebody far off who only says localhost"
    assert not names.allow("192.0.2.6", "192.0.2.77")


@given(st.text(max_size=40))
def test_no_host_raises(host):
    name = host_name(host)
    assert name is None or name == name.lower()


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=20))
def test_no_path_or_query_ends_in_a_fault(client, text):
    for path in ("/api/sets/{}/view.glb", "/api/arrivals/{}", "/{}", "/assets/{}"):
        answer = client.get(path.format(quote(text, safe="", errors="surrogatepass") or "x"))
        assert answer.status_code < 500
        assert all(name in answer.headers for name in SAFE)


NOTHING = "00000000-0000-4000-8000-000000000000"
CASES = [
    ("/docs", 404), ("/redoc", 404), ("/assets/nothing.js", 404), ("/wp-login.php", 404), (f"/{NOTHING}/frame", 200), ("/", 200),
    (f"/{NOTHING}", 200), (f"/{NOTHING}/frame/{NOTHING}", 200), (f"/{NOTHING}/lab/order", 200), (f"/{NOTHING}/frame/x/y", 404), ("/api/sets/%00/view.glb", 400),
    ("/api/sets/a%00b/picture", 400), (f"/api/projects/{NOTHING}/stand-ins.glb?of=%00", 400), (f"/api/projects/{NOTHING}?x=%ED%A0%80", 400),
    ("/api/measure?kind=length&text=%FF", 400), (f"/api/shots/{NOTHING}/thumbnail.png?of=x", 404),
]  # fmt: skip


@pytest.mark.parametrize(("path", "status"), CASES)
def test_addresses_answer_as_they_should_with_their_headers(client, path, status):
    answer = client.get(path)
    assert answer.status_code == status, answer.text
    assert all(name in answer.headers for name in SAFE)


def test_a_fault_of_ours_is_told_in_words_with_the_headers():
    async def broken(scope, receive, send):
        raise ZeroDivisionError

    client = TestClient(
        Guard(broken, Names()), base_url="http://127.0.0.1", client=("127.0.0.1", 50000), raise_server_exceptions=False
    )
    answer = client.get("/api/anything")
    assert answer.status_code == 500
    assert "a fault of the server" in answer.json()["detail"]
    assert all(name in answer.headers for name in SAFE)


SIGNS = ["\0", "a\0b", "\ud800", "x\udfffy", "🫖", "‮rtl", "'; drop table shot; --", "../../etc", '"', "a" * 120]
BODIES = {
    "name of a project": lambda c, p, s, text: c.patch(f"/api/projects/{p['id']}", content=_json({"version": p["version"], "name": text})),
    "key nobody knows": lambda c, p, s, text: c.patch(f"/api/projects/{p['id']}", content=_json({"version": p["version"], text: 1})),
    "name of a shot": lambda c, p, s, text: c.patch(f"/api/shots/{s['id']}", content=_json({"version": s["version"], "patch": {"name": text}})),
    "part": lambda c, p, s, text: c.patch(f"/api/shots/{s['id']}", content=_json({"version": s["version"], "gesture": {"kind": "leave_out", "part": text}})),
    "label of a change": lambda c, p, s, text: c.patch(f"/api/shots/{s['id']}", content=_json({"version": s["version"], "label": text, "patch": {"back": {"enlarge": 1.5}}})),
    "own label": lambda c, p, s, text: c.post(f"/api/shots/{s['id']}/card", content=_json({"version": s["version"], "labels": [text[:40]]})),
    "lifted": lambda c, p, s, text: c.patch(f"/api/projects/{p['id']}", content=_json({"version": p["version"], "lifted": [text]})),
    "room": lambda c, p, s, text: c.patch(f"/api/projects/{p['id']}", content=_json({"version": p["version"], "places": {"levels": [{"name": text, "floor_m": 0}]}})),
    "solve": lambda c, p, s, text: c.post("/api/solve", content=_json({"name": text, "left_out": [text]})),
}  # fmt: skip


def _json(body):
    return json.dumps(body).encode()


def test_no_sign_in_a_body_ends_in_a_fault(client):
    project = client.post("/api/projects", files={"model": ("a.glb", glb_of(trimesh.creation.box()))}).json()
    new(client, project)
    client.headers["content-type"] = "application/json"
    for where, asked in BODIES.items():
        for text in SIGNS:
            now = client.get(f"/api/projects/{project['id']}").json()
            answer = asked(client, now, now["shots"][0], text)
            assert answer.status_code < 500, (where, text, answer.text)
            answer.json()
    assert client.get(f"/api/projects/{project['id']}").status_code == 200


def test_a_file_of_any_name_comes_in(client):
    for name in ("a\0b.glb", "../../x.glb", "🫖.glb", "‮blg.a", "a" * 300 + ".glb", '"; rm -rf.glb'):
        answer = client.post(
            "/api/projects", files={"model": (name, glb_of(trimesh.creation.box()))}, data={"name": name[:50]}
        )
        assert answer.status_code in (201, 400, 422), answer.text


def test_what_is_too_large_is_refused_before_it_has_all_come(client):
    whole = client.patch(
        f"/api/projects/{NOTHING}", content=b" " * (MOST_ELSEWHERE + 1), headers={"content-type": "application/json"}
    )
    assert (whole.status_code, "16 MB" in whole.json()["detail"]) == (413, True)
    sent = itertools.count()

    def endless():
        head = b'--x\r\nContent-Disposition: form-data; name="model"; filename="a.glb"\r\n\r\n'
        yield head
        while True:
            next(sent)
            yield b"0" * 262_144

    limit = client.app.state.desk.settings.upload_limit
    streamed = client.post(
        "/api/projects",
        content=itertools.islice(endless(), 200),
        headers={"content-type": "multipart/form-data; boundary=x"},
    )
    assert (streamed.status_code, "up to 4 MB are taken" in streamed.json()["detail"]) == (413, True)
    assert limit == 4 * 1024**2


def test_lists_to_solve_are_bounded(client):
    many = client.post("/api/solve", json=[{}] * 1001)
    assert many.status_code == 422
    assert client.post("/api/solve", json=[{}] * 20).status_code == 200


def test_while_the_database_is_away_it_says_so_and_when_to_ask_again(client, project, monkeypatch):
    shot = new(client, project)

    class Full(Exception):
        sqlstate = "53100"

    for cause, words in ((Exception("gone"), "does not answer for now"), (Full("no space left"), "disk is full")):

        def away(*_, cause=cause):
            raise OperationalError("select 1", {}, cause)

        with monkeypatch.context() as patched:
            patched.setattr("zevlo.store.shots.write_shot", away)
            answer = patch(client, shot, patch={"back": {"enlarge": 2}})
        assert answer.status_code == 503
        assert words in answer.json()["detail"]
        assert int(answer.headers["retry-after"]) >= 1
    assert patch(client, shot, patch={"back": {"enlarge": 2}}).status_code == 200


def test_a_desk_that_does_not_read_holds_nobody_up_and_is_let_go(monkeypatch):
    class Socket:
        def __init__(self, deaf):
            self.deaf, self.heard = deaf, []

        async def send_text(self, text):
            if self.deaf:
                await asyncio.sleep(60)
            self.heard.append(text)

    async def both():
        monkeypatch.setattr(live, "DEAF_AFTER_S", 0.2)
        deaf, keen = (live.LiveDesk(None, Socket(is_deaf)) for is_deaf in (True, False))
        works = [asyncio.create_task(desk.deliver()) for desk in (deaf, keen)]
        for n in range(1000):
            spread_news({deaf, keen}, json.dumps({"about": f"project {n % 10}", "what": "change"}))
            await asyncio.sleep(0)
        await until(lambda: len(keen._socket.heard) >= 10)
        assert len(deaf._outbox._waiting) <= 10, "only the newest of a kind waits"
        with pytest.raises(Deaf):
            await asyncio.wait_for(works[0], 2)
        works[1].cancel()

    in_a_loop(both())


def test_of_a_kind_only_the_newest_waits():
    class Socket:
        heard = []  # noqa: RUF012

        async def send_text(self, text):
            self.heard.append(text)

    async def run():
        box, socket = Outbox(), Socket()
        for n in range(5000):
            box.put(f"kind {n % 3}", str(n))
        box.put("other", "x")
        for n in range(1000):
            box.put(f"flood {n}", "f")
        assert len(box._waiting) == live.MOST_WAITING
        task = asyncio.create_task(box.deliver(socket))
        await until(lambda: not box._waiting)
        task.cancel()
        assert len(socket.heard) == live.MOST_WAITING

    in_a_loop(run())


def test_odd_frames_on_the_live_socket_are_refused_in_words(client):
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_bytes(b"\x00\x01")
        assert "Only text" in socket.receive_json()["detail"]
        for text, seq in (
            ("no json", None),
            ('{"kind": "shot", "seq": 7, "shot": 5}', 7),
            ('{"seq": true}', None),
            ("[" * 50_000, None),
            ('{"kind":"shot","seq":8,"shot":{"name":"\\ud800"}}', 8),
        ):
            socket.send_text(text)
            answer = socket.receive_json()
            assert (answer["kind"], answer["seq"]) == ("trouble", seq), answer
        socket.send_json({"kind": "ping", "seq": 9})
        assert socket.receive_json()["kind"] == "pong"
