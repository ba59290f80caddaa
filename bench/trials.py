"""Trials by hand of what must not fail: python bench/trials.py kills | apart. They take minutes and need root.

``kills``: twenty times a worker, the server or the database is killed while a final is made; it is the same picture to
the bit as one nobody disturbed. ``apart``: three workers in network namespaces of their own, one killed, one cut off
for a while and back; the picture is the same, and the lab shows who is there.
"""

from __future__ import annotations

import contextlib
import io
import os
import random
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import numpy as np
from PIL import Image

from serving import demo_database, served_on
from zevlo.settings import ROOT
from zevlo.store import cluster

KILLS, BETWEEN_S, REST_S = 20, (14.0, 24.0), 62.0
SIZE_PX, APART_PX = 600, 1300
BRIDGE, HOST = "zevlo-bridge", "10.77.0.1"


def _ordered(asking: httpx.Client, px: int = SIZE_PX) -> str:
    project = asking.get("/api/projects").json()["projects"][0]["id"]
    shot = asking.get(f"/api/projects/{project}/shots").json()["shots"][1]
    order = {
        "pictures": [{"shot": shot["id"]}],
        "size": {"kind": "longest", "px": px},
        "quality": "good",
        "formats": {"png": 16},
    }
    return str(asking.post(f"/api/projects/{project}/orders", json={"order": order}).json()["prints"][0])


def _print(asking: httpx.Client, key: str) -> dict[str, object]:
    project = asking.get("/api/projects").json()["projects"][0]["id"]
    prints = asking.get(f"/api/projects/{project}/prints").json()["prints"]
    return next(one for one in prints if one["id"] == key)


def _asked(asking: httpx.Client, key: str) -> dict[str, object]:
    """The same, however often the server is away meanwhile."""
    while True:
        with contextlib.suppress(httpx.HTTPError, KeyError, ValueError, StopIteration):
            return _print(asking, key)
        time.sleep(0.5)


def _finished(asking: httpx.Client, key: str) -> np.ndarray:
    while True:
        answer = _asked(asking, key)
        if answer["state"] == "done":
            break
        assert answer["state"] in ("waiting", "developing"), answer["trouble"]
        time.sleep(0.5)
    (file,) = answer["files"]  # type: ignore[misc]
    data = asking.get(file["address"]).content
    return np.asarray(Image.open(io.BytesIO(data)))


def _words(same: bool) -> str:
    return "the same to the bit" if same else "ANOTHER"


def _processes(start: subprocess.Popen[str]) -> dict[str, int]:
    ran = subprocess.run(["ps", "-o", "pid=,args=", "--ppid", str(start.pid)], capture_output=True, text=True)
    return {line.split()[-1]: int(line.split()[0]) for line in ran.stdout.splitlines() if "zevlo.cli" in line}


def kills() -> None:
    """Twenty kills while a final is made."""
    with tempfile.TemporaryDirectory(dir="/var/tmp", prefix="zevlo-trial-") as home:
        own = cluster.Cluster(cluster.home_for(Path(home)))
        port = cluster.free_port()
        environment = {name: value for name, value in os.environ.items() if name != "ZEVLO_DATABASE_URL"}
        environment |= {"ZEVLO_DEMO_PROOFS": "0", "ZEVLO_PORT": str(port)}
        code = f"import zevlo.start as s, pathlib; s.ROOT = pathlib.Path({home!r}); raise SystemExit(s.main())"
        start = subprocess.Popen([sys.executable, "-c", code], env=environment, text=True)
        chance, killed = random.Random(7), dict[str, float]()
        try:
            with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=30) as asking:
                while True:
                    with contextlib.suppress(httpx.HTTPError):
                        asking.get("/api/projects").raise_for_status()
                        break
                    time.sleep(1)
                undisturbed = _finished(asking, _ordered(asking))
                done = 0
                while done < KILLS:
                    key = _ordered(asking)
                    while done < KILLS and _asked(asking, key)["state"] in ("waiting", "developing"):
                        time.sleep(chance.uniform(*BETWEEN_S))
                        done += _kill_one(chance, start, own, killed)
                        print(f"{done} kills, {_asked(asking, key)['doing']}", flush=True)
                    same = np.array_equal(_finished(asking, key), undisturbed)
                    print(f"after {done} kills the picture is {_words(same)}", flush=True)
                    assert same
        finally:
            start.send_signal(signal.SIGTERM)
            start.wait(30)
            cluster.stop(own)


KINDS = ("worker", "serve", "database")


def _kill_one(
    chance: random.Random, start: subprocess.Popen[str], own: cluster.Cluster, killed: dict[str, float]
) -> int:
    """Kill a program by chance, but none that was killed within the last minute: what falls again and again in so short
    a time is given up, and should be. How many were killed."""
    ready = [what for what in KINDS if time.monotonic() - killed.get(what, -REST_S) >= REST_S]
    if not ready:
        return 0
    what = chance.choice(ready)
    if what == "database":
        pid = int((own.data / "postmaster.pid").read_text().splitlines()[0])
    else:
        pid = _processes(start)[what]
    with contextlib.suppress(ProcessLookupError):
        os.kill(pid, signal.SIGKILL)
        killed[what] = time.monotonic()
        return 1
    return 0


def _run(*command: str) -> None:
    subprocess.run(command, check=True)


@contextlib.contextmanager
def _networks(count: int) -> Iterator[list[str]]:
    """So many machines with nothing but a line to this one, each by its name."""
    names = [f"zevlo-{n}" for n in range(count)]
    try:
        _run("ip", "link", "add", BRIDGE, "type", "bridge")
        _run("ip", "addr", "add", f"{HOST}/24", "dev", BRIDGE)
        _run("ip", "link", "set", BRIDGE, "up")
        for n, name in enumerate(names):
            _run("ip", "netns", "add", name)
            _run("ip", "link", "add", f"zv{n}", "type", "veth", "peer", "name", "eth0", "netns", name)
            _run("ip", "link", "set", f"zv{n}", "master", BRIDGE, "up")
            _run("ip", "-n", name, "addr", "add", f"10.77.0.{n + 2}/24", "dev", "eth0")
            _run("ip", "-n", name, "link", "set", "eth0", "up")
            _run("ip", "-n", name, "link", "set", "lo", "up")
        yield names
    finally:
        for name in names:
            subprocess.run(["ip", "netns", "del", name], check=False)
        subprocess.run(["ip", "link", "del", BRIDGE], check=False)


def _forward(port: int) -> int:
    """A door on the bridge to the database, which listens on loopback only; bytes through it are counted."""
    door = socket.create_server((HOST, 0))

    def pump(source: socket.socket, target: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while data := source.recv(65536):
                target.sendall(data)
        for one in (source, target):
            with contextlib.suppress(OSError):
                one.shutdown(socket.SHUT_RDWR)

    def listen() -> None:
        while True:
            near, _ = door.accept()
            far = socket.create_connection(("127.0.0.1", port))
            for pair in ((near, far), (far, near)):
                threading.Thread(target=pump, args=pair, daemon=True).start()

    threading.Thread(target=listen, daemon=True).start()
    return int(door.getsockname()[1])


def apart() -> None:
    """Three workers elsewhere, one killed, one cut off and back."""
    with contextlib.ExitStack() as stack:
        url = stack.enter_context(demo_database())
        port = stack.enter_context(served_on(url))
        names = stack.enter_context(_networks(3))
        at = httpx.URL(url)
        elsewhere = str(at.copy_with(host=HOST, port=_forward(at.port or 5432)))
        asking = stack.enter_context(httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=30))
        workers = []
        for name in names:
            kept = stack.enter_context(tempfile.TemporaryDirectory(prefix="zevlo-kept-"))
            command = ["ip", "netns", "exec", name, "unshare", "--uts", "sh", "-c"]
            command.append(f"hostname {name}; exec {ROOT / 'zevlo'} worker --database '{elsewhere}'")
            workers.append(subprocess.Popen(command, env={**os.environ, "ZEVLO_CACHE": kept}, start_new_session=True))
        try:
            key = _ordered(asking, APART_PX)
            project = asking.get("/api/projects").json()["projects"][0]["id"]

            def machines(words: str) -> None:
                answer = asking.get(f"/api/projects/{project}/lab").json()["machines"]
                rows = [f"{one['name']}: {one['doing'] or 'waits'}, {one['rays_per_s'] / 1e6:.2f} M" for one in answer]
                print(f"{words}: {_print(asking, key)['doing']} | {'; '.join(rows)}", flush=True)

            def after(words: str, seconds: float) -> None:
                time.sleep(seconds)
                machines(words)

            after("three there", 45)
            os.killpg(workers[0].pid, signal.SIGKILL)
            after("one killed", 25)
            _run("ip", "link", "set", "zv1", "down")
            after("one cut off", 40)
            _run("ip", "link", "set", "zv1", "up")
            after("it is back", 40)
            disturbed = _finished(asking, key)
            machines("done")
            same = np.array_equal(_finished(asking, _ordered(asking, APART_PX)), disturbed)
            print(f"made again undisturbed, the picture is {_words(same)}")
            assert same
        finally:
            for one in workers:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(one.pid, signal.SIGTERM)
            time.sleep(3)


if __name__ == "__main__":
    {"kills": kills, "apart": apart}[sys.argv[1]]()
