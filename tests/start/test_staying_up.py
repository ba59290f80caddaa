"""What dies is brought back, and nothing that was written is lost; what does not stay up is given up in words."""

import itertools
import os
import shutil
import signal
import subprocess
import sys
import threading
import urllib.error
import urllib.request

import httpx
import pytest
import trimesh
from tests.files.test_import_model import glb_of
from tests.files.test_sandbox_limits import until
from tests.start.test_start import _address, _start

from zevlo import start
from zevlo.start import MOST_FALLS, GivenUp, Watched
from zevlo.store import cluster

FALLS = 2


@pytest.fixture
def running(tmp_path, request):
    """A Zevlo with a PostgreSQL of its own, as an artist starts it; but for what a test wants otherwise."""
    environment = {name: value for name, value in os.environ.items() if name != "ZEVLO_DATABASE_URL"} | {
        "ZEVLO_DEMO_PROOFS": "0"
    }
    own = cluster.Cluster(cluster.home_for(tmp_path))
    otherwise = getattr(request, "param", "")
    process = _start({**environment, "ZEVLO_PORT": str(cluster.free_port())}, tmp_path, otherwise)
    try:
        yield _address(process), process, own
    finally:
        process.send_signal(signal.SIGTERM)
        process.wait(30)
        cluster.stop(own)
        shutil.rmtree(own.folder, ignore_errors=True)


def children(process):
    """Process ids of the programs a start runs, by their command."""
    ran = subprocess.run(
        ["ps", "-o", "pid=,args=", "--ppid", str(process.pid)], capture_output=True, text=True, check=False
    )
    return {line.split()[-1]: int(line.split()[0]) for line in ran.stdout.splitlines() if "zevlo.cli" in line}


def answered(address, path="/api/projects"):
    try:
        with urllib.request.urlopen(f"{address}{path}", timeout=60) as found:
            return found.status, "", found.headers
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode(), error.headers
    except OSError:
        return None, "", {}


class Writer:
    """A hand that goes on writing whatever happens: one focal length after the other, each for the one before."""

    def __init__(self, address, project, shot):
        self.address, self.project, self.key = address, project, shot["id"]
        self.sent, self.acknowledged, self.told, self.odd, self.on = 100, 100, 0, [], True
        self.thread = threading.Thread(target=self.write, daemon=True)
        self.thread.start()

    def write(self):
        while self.on:
            try:
                with httpx.Client(base_url=self.address, timeout=10) as client:
                    version = client.get(f"/api/projects/{self.project}").json()["shots"][0]["version"]
                    while self.on:
                        self.sent += 1
                        wanted = {"version": version, "patch": {"lens": {"focal_length_mm": self.sent}}}
                        answer = client.patch(f"/api/shots/{self.key}", json=wanted)
                        if answer.status_code == 200:
                            self.acknowledged, version = self.sent, answer.json()["version"]
                            self.told += 1
                        elif answer.status_code == 409:
                            break  # written before it was killed, and not told any more
                        elif answer.status_code != 503:
                            self.odd.append(answer.text)
            except (httpx.HTTPError, KeyError):
                continue

    def end(self):
        self.on = False
        self.thread.join()


def test_server_worker_and_database_killed_come_back_with_all_that_was_written(running):
    address, process, own = running
    with httpx.Client(base_url=address, timeout=60) as client:
        made = client.post("/api/projects", files={"model": ("box.glb", glb_of(trimesh.creation.box()))}).json()
        how = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}
        written = client.post(f"/api/projects/{made['id']}/shots", json={"how": how}).json()
    writer = Writer(address, made["id"], written)
    before = children(process)
    assert set(before) == {"serve", "worker"}
    for name in ("serve", "worker"):
        os.kill(before[name], signal.SIGKILL)
    until(
        lambda: (
            set(children(process)) == {"serve", "worker"} and not set(children(process).values()) & set(before.values())
        )
    )
    until(lambda: answered(address)[0] == 200)

    postmaster = int((own.data / "postmaster.pid").read_text().split("\n")[0])
    os.kill(postmaster, signal.SIGKILL)
    seen = []

    def away_then_back():
        status, words, headers = answered(address)
        if status == 503:
            seen.append((words, headers["Retry-After"], headers["Content-Security-Policy"]))
        assert status in (200, 503), words
        return status == 200 and bool(seen)

    until(away_then_back)
    assert "database does not answer for now" in seen[0][0]
    assert int(seen[0][1]) >= 1
    assert "default-src" in seen[0][2]
    until(lambda at=writer.told: writer.told > at + 3)
    writer.end()
    assert writer.odd == []
    with httpx.Client(base_url=address, timeout=60) as client:
        now = client.get(f"/api/projects/{made['id']}").json()
        assert now["name"] == made["name"]
        focal = now["shots"][0]["shot"]["lens"]["focal_length_mm"]
        assert writer.acknowledged <= focal <= writer.sent, "the last that was acknowledged, or one after it"
        first, steps = written["shot"]["lens"]["focal_length_mm"], 0
        while focal != first and steps < 5:
            # Each write is one change to take back, and leaves one that was sent before it.
            assert client.post(f"/api/projects/{made['id']}/undo").status_code == 200
            before = client.get(f"/api/projects/{made['id']}").json()["shots"][0]["shot"]["lens"]["focal_length_mm"]
            assert 100 <= before < focal or before == first
            focal, steps = before, steps + 1
        assert steps >= 4
        shot = client.post(
            f"/api/projects/{made['id']}/shots", json={"how": {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}}
        )
        assert shot.status_code == 201
        small = {"version": shot.json()["version"], "patch": {"back": {"output_px": [64, 36]}}}
        assert client.patch(f"/api/shots/{shot.json()['id']}", json=small).status_code == 200
        ordered = client.post(f"/api/shots/{shot.json()['id']}/proof").json()
        until(lambda: client.get(f"/api/projects/{made['id']}/prints").json()["prints"][0]["state"] == "done", 600)
        assert client.get(f"/api/prints/{ordered['id']}/picture.png").content[:4] == b"\x89PNG"


class Clock:
    now = 0.0


def falling(lives):
    said, revived = [], []
    one = Watched("the thing", lambda: lives(Clock.now), lambda: revived.append(Clock.now))
    return one, said, revived


def test_pauses_grow_and_what_falls_again_and_again_is_given_up(monkeypatch):
    monkeypatch.setattr(start, "say", lambda text: None)
    Clock.now = 0.0
    one, _, revived = falling(lambda now: False)

    def watch():
        while Clock.now < 10_000:
            one.look(Clock.now)
            Clock.now += 0.25

    with pytest.raises(GivenUp, match="the thing does not stay up: it stopped"):
        watch()
    assert len(revived) == MOST_FALLS
    gaps = [b - a for a, b in itertools.pairwise(revived)]
    assert gaps == sorted(gaps)
    assert gaps[-1] >= 4 * gaps[0]


def test_one_the_others_can_do_without_is_given_up_alone_and_tried_again_slowly(monkeypatch):
    monkeypatch.setattr(start, "say", lambda text: None)
    Clock.now = 0.0
    given = []
    one, _, revived = falling(lambda now: now > 1500.0)
    one.give_up = given.append
    while Clock.now < 2000:
        one.look(Clock.now)
        Clock.now += 0.25
    assert given
    assert "the thing does not stay up: it stopped 9 times in a row" in given[0]
    slow = [b - a for a, b in itertools.pairwise(revived)][MOST_FALLS:]
    assert slow
    assert all(gap >= start.TRIED_AGAIN_S for gap in slow)
    assert len(given) - (len(revived) - MOST_FALLS) in (0, 1), "each time, in words"


@pytest.mark.parametrize("running", [f"s.MOST_FALLS = {FALLS}"], indirect=True, ids=["given up soon"])
def test_the_desk_goes_on_where_its_lab_worker_does_not_stay_up(running):
    """As many quick ends of the worker as are borne, and one: the desk's server and PostgreSQL stay, and the Lab says
    so."""
    address, process, _ = running
    ended = set()

    def given_up():
        found = children(process).get("worker")
        if found is not None and found not in ended:
            ended.add(found)
            os.kill(found, signal.SIGKILL)
        return len(ended) > FALLS

    until(given_up)
    with httpx.Client(base_url=address, timeout=60) as client:
        made = client.post("/api/projects", files={"model": ("box.glb", glb_of(trimesh.creation.box()))}).json()
        until(lambda: client.get(f"/api/projects/{made['id']}/lab").json()["turned_away"])
        words = client.get(f"/api/projects/{made['id']}/lab").json()["turned_away"][0]["why"]
    assert "does not stay up: it stopped" in words
    assert process.poll() is None
    assert set(children(process)) == {"serve"}


def test_one_that_stayed_up_has_its_falls_forgotten(monkeypatch):
    monkeypatch.setattr(start, "say", lambda text: None)
    Clock.now = 0.0
    # Down for one look every two minutes: never given up.
    one, _, revived = falling(lambda now: now % 120.0 >= 0.25 and (not revived or now % 120.0 > 0.25))
    for _ in range(40 * 480):
        one.look(Clock.now)
        Clock.now += 0.25
    assert one.falls <= 2


def comes_up(code, monkeypatch, slow_after, waits_for=60.0):
    """What is said, and what is raised, while a program is awaited that does what the code says at ``PORT``."""
    said = []
    monkeypatch.setattr(start, "say", said.append)
    monkeypatch.setattr(start, "SLOW_AFTER_S", slow_after)
    monkeypatch.setattr(start, "WAITS_FOR_S", waits_for)
    port = cluster.free_port()
    program = subprocess.Popen([sys.executable, "-c", code.replace("PORT", str(port))])
    try:
        start._await_answer(f"http://127.0.0.1:{port}", program)
    except GivenUp as reason:
        return said, str(reason)
    finally:
        program.kill()
        program.wait()
    return said, None


SERVES = "from http.server import *; HTTPServer(('127.0.0.1', PORT), SimpleHTTPRequestHandler).serve_forever()"


def test_a_server_that_is_slow_to_come_up_is_waited_for_and_said_to_be(monkeypatch):
    said, raised = comes_up(f"import time; time.sleep(1.5); {SERVES}", monkeypatch, slow_after=0.3)
    assert raised is None
    assert said == ["the server is still coming up: this machine is busy"]


@pytest.mark.parametrize(
    ("code", "given"),
    [
        ("raise SystemExit(3)", "did not come up: it ended with 3; the lines above say why"),
        ("import os; os.kill(os.getpid(), 9)", "did not come up: it was ended by SIGKILL"),
        ("import time; time.sleep(60)", "does not answer at http://127.0.0.1:"),
    ],
)
def test_a_server_that_does_not_come_up_is_given_up_in_words(code, given, monkeypatch):
    said, raised = comes_up(code, monkeypatch, slow_after=30.0, waits_for=1.5 if "sleep" in code else 60.0)
    assert given in raised
    assert said == []


@pytest.mark.parametrize("host", ["0.0.0.0", "192.0.2.7"])
def test_a_start_beyond_this_machine_says_what_it_means_and_is_asked_for(host, tmp_path):
    code = f"import zevlo.start as s, pathlib; s.ROOT = pathlib.Path({str(tmp_path)!r}); raise SystemExit(s.main(['--host', {host!r}]))"
    ran = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False, timeout=60)
    assert ran.returncode == 2
    assert "no sign-in yet: whoever reaches that address may see and change every project" in ran.stderr
    assert "--without-sign-in" in ran.stderr


def test_help_explains():
    ran = subprocess.run([sys.executable, "-m", "zevlo.start", "--help"], capture_output=True, text=True, check=False)
    assert ran.returncode == 0
    for word in ("--host", "--port", "--name", "--without-sign-in", "ZEVLO_DATABASE_URL"):
        assert word in ran.stdout
