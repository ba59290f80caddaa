"""./zevlo start and what becomes of it: stopped, killed, started again; and a half-made cluster."""

import os
import re
import signal
import subprocess
import sys
import time
import urllib.request
import uuid

import psycopg
import pytest

from zevlo.demo.shots import SHOTS
from zevlo.settings import ROOT
from zevlo.store import cluster


@pytest.fixture
def environment(own_cluster):
    url = cluster.ensure_database(*own_cluster, f"zevlo_start_{uuid.uuid4().hex}")
    return {**os.environ, "ZEVLO_DATABASE_URL": url, "ZEVLO_DEMO_PROOFS": "0", "ZEVLO_PORT": str(cluster.free_port())}


def _start(environment, home, otherwise=""):
    """``otherwise``: what of the start, as ``s``, is set otherwise than for an artist."""
    # A home of its own, so that a Zevlo running from this checkout is not in the way.
    own = f"s.ROOT = pathlib.Path({str(home)!r})"
    code = f"import zevlo.start as s, pathlib; {own}; {otherwise}; raise SystemExit(s.main())".replace("; ;", ";")
    return subprocess.Popen([sys.executable, "-c", code], env=environment, stdout=subprocess.PIPE, text=True)


def _address(process):
    for line in process.stdout:
        found = re.search(r"Zevlo is at (http://\S+)", line)
        if found:
            return found[1]
    raise AssertionError(f"did not start: exit {process.wait()}")


def _answers(address):
    try:
        urllib.request.urlopen(f"{address}/api/projects", timeout=3).close()
    except OSError:
        return False
    return True


def _gone(address, seconds=60):
    deadline = time.monotonic() + seconds
    while _answers(address):
        if time.monotonic() > deadline:
            return False
        time.sleep(0.1)
    return True


def test_start_stop_kill_and_start_again(environment, tmp_path):
    first = _start(environment, tmp_path)
    address = _address(first)
    assert address.startswith("http://127.0.0.1:")
    page = urllib.request.urlopen(address, timeout=5)
    policy = page.headers["content-security-policy"]
    nonce = re.search(r"'nonce-([^']+)'", policy)[1]
    assert f'content="{nonce}"' in page.read().decode()
    second = subprocess.run(
        [sys.executable, "-c", f"import zevlo.start as s, pathlib; s.ROOT = pathlib.Path({str(tmp_path)!r}); raise SystemExit(s.main())"],
        env=environment, capture_output=True, text=True, check=False, timeout=120,
    )  # fmt: skip
    assert second.returncode == 1
    assert "already running here" in second.stderr
    first.kill()
    first.wait()
    assert _gone(address), "the children of a killed start end with it"
    third = _start(environment, tmp_path)
    assert _answers(_address(third))
    third.send_signal(signal.SIGTERM)
    assert third.wait(20) == 0
    assert _gone(address)


def test_the_demo_is_loaded_once_and_not_again_when_deleted(environment, demo_database):
    """In a database that was made ready once, as start does."""
    run, again = [sys.executable, "-m", "zevlo.cli", "prepare"], {**environment, "ZEVLO_DATABASE_URL": demo_database}
    with psycopg.connect(demo_database, autocommit=True) as connection:
        assert connection.execute("select count(*) from project").fetchone()[0] == 1
        assert connection.execute("select count(*) from shot").fetchone()[0] == len(SHOTS)
        connection.execute("update project set deleted = true")
        subprocess.run(run, env=again, check=True)
        assert connection.execute("select count(*) from project").fetchone()[0] == 1


def test_a_half_made_cluster_is_made_anew(tmp_path_factory, own_cluster):
    folder = own_cluster[0].folder.parent / f"half-{uuid.uuid4().hex}"
    half = cluster.Cluster(folder)
    (folder / "data").mkdir(parents=True)
    (folder / "data" / "PG_VERSION").write_text("15")
    try:
        assert psycopg.connect(cluster.ensure_database(half, cluster.start(half, fast=True))).execute(
            "select 1"
        ).fetchone() == (1,)
        assert cluster.running_port(half) == cluster.start(half), "a running one is found again"
    finally:
        cluster.stop(half)
    assert cluster.running_port(half) is None


def test_the_command_tells_what_it_can_do():
    ran = subprocess.run([sys.executable, str(ROOT / "zevlo")], capture_output=True, text=True, check=False)
    assert "start" in ran.stdout
    assert "solve" in ran.stdout
    assert (
        subprocess.run([sys.executable, str(ROOT / "zevlo"), "dance"], capture_output=True, check=False).returncode == 2
    )
