"""``./zevlo start``: database, migrations, demo, a lab worker and the server, watched until stopped.

Children end with this process, however it ends; the database is found again by the next start if it was left.
"""

from __future__ import annotations

import ctypes
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from zevlo.settings import ROOT
from zevlo.store import cluster
from zevlo.store.cluster import Cluster, NoServer

_PR_SET_PDEATHSIG = 1
FIRST_PORT = 8420


def say(text: str) -> None:
    print(f"zevlo: {text}", file=sys.stderr, flush=True)


def _end_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def _child(command: str, environment: dict[str, str]) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "zevlo.cli", command],
        env=environment,
        preexec_fn=_end_with_parent,
        stdin=subprocess.DEVNULL,
        start_new_session=True,
    )


def _port(host: str) -> int:
    """ZEVLO_PORT, or the first free one from 8420 on."""
    if "ZEVLO_PORT" in os.environ:
        return int(os.environ["ZEVLO_PORT"])
    for port in range(FIRST_PORT, FIRST_PORT + 50):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
                return port
            except OSError:
                continue
    raise SystemExit("zevlo: no free port from 8420 to 8469; name one with ZEVLO_PORT")


def _answers(address: str, server: subprocess.Popen[bytes]) -> bool:
    for _ in range(300):
        if server.poll() is not None:
            return False
        try:
            with urllib.request.urlopen(f"{address}/api/projects", timeout=5):
                return True
        except OSError:
            time.sleep(0.1)
    return False


def main() -> int:
    """Run until Ctrl-C or a child that will not stay up."""
    home = ROOT / ".zevlo"
    home.mkdir(exist_ok=True)
    lock = (home / "start.lock").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.seek(0)
        say(f"already running here: {lock.read().strip() or 'still starting'}")
        return 1
    lock.truncate(0)
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    own = None if "ZEVLO_DATABASE_URL" in os.environ else Cluster(cluster.home_for(ROOT))
    children: list[subprocess.Popen[bytes]] = []
    try:
        return _run(own, children, lock, home)
    except KeyboardInterrupt:
        say("stopping")
        return 0
    except NoServer as reason:
        say(str(reason))
        return 1
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        for child in children:
            child.terminate()
        for child in children:
            try:
                child.wait(6)
            except subprocess.TimeoutExpired:
                child.kill()
        if own is not None:
            cluster.stop(own)


def _run(own: Cluster | None, children: list[subprocess.Popen[bytes]], lock: object, home: Path) -> int:
    host = os.environ.get("ZEVLO_HOST", "127.0.0.1")
    environment = dict(os.environ)
    if own is not None:
        say("starting PostgreSQL on loopback")
        environment["ZEVLO_DATABASE_URL"] = cluster.ensure_database(own, cluster.start(own))
    port = _port(host)
    environment["ZEVLO_PORT"] = str(port)
    say("bringing the database up to date (the first time also compiling and making the demo: half a minute)")
    prepared = subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=environment, check=False)
    if prepared.returncode:
        say("the database could not be prepared; the lines above say why")
        return 1
    server = _child("serve", environment)
    children.append(server)
    address = f"http://{host}:{port}"
    if not _answers(address, server):
        say("the server did not come up; the lines above say why")
        return 1
    worker = _child("worker", environment)
    children.append(worker)
    lock.write(address)  # type: ignore[attr-defined]
    lock.flush()  # type: ignore[attr-defined]
    say("a lab worker is ready; Ctrl-C stops everything")
    print(f"\n  Zevlo is at {address}\n", flush=True)
    while server.poll() is None:
        time.sleep(0.5)
        if worker.poll() is not None:
            say("the lab worker stopped; starting another one")
            children.remove(worker)
            time.sleep(1.0)
            worker = _child("worker", environment)
            children.append(worker)
    say("the server stopped")
    return 1


if __name__ == "__main__":
    raise SystemExit(main())
