"""Two workers on other machines, each in a network of its own, for a Zevlo that lets them in: by their own role."""

import ctypes
import json
import os
import re
import shutil
import signal
import subprocess
import sys
from contextlib import ExitStack

import httpx
import psycopg
import pytest
import trimesh
from tests.files.test_import_model import glb_of
from tests.files.test_sandbox_limits import until

from zevlo.lab.documents import KINDS
from zevlo.serving import WORKER_KEEPS, WORKER_MOST
from zevlo.store import cluster
from zevlo.store.cluster import NoServer, Shared
from zevlo.store.worker_role import READ, WRITTEN

WORKERS = 2
QUEUE = 1
"""The connection of a worker elsewhere to its queue."""
NET = "10.213.77"
BRIDGE = "zevlo-br"
NEW_NETWORK = 0x40000000  # CLONE_NEWNET of <linux/sched.h>


def ip(*arguments):
    return subprocess.run(["ip", *arguments], check=False, capture_output=True, text=True)


def take_down():
    for n in range(WORKERS + 1):
        ip("netns", "del", f"zevlo-{n}")
    ip("link", "del", BRIDGE)


@pytest.fixture
def network():
    """A network of this test's own: a new link in the machine's makes every browser beside it drop what it loads."""
    if os.geteuid() != 0:
        pytest.skip("networks of their own cannot be made here: only root may")
    kernel = ctypes.CDLL(None, use_errno=True)
    with open("/proc/thread-self/ns/net") as before:
        assert kernel.unshare(NEW_NETWORK) == 0, os.strerror(ctypes.get_errno())
        try:
            assert ip("link", "set", "lo", "up").returncode == 0
            yield
        finally:
            assert kernel.setns(before.fileno(), NEW_NETWORK) == 0, os.strerror(ctypes.get_errno())


@pytest.fixture
def machines(network):
    """Machines of their own beside this one, as namespaces on a bridge; the last is in none of the networks told."""
    take_down()
    made = ip("link", "add", BRIDGE, "type", "bridge")
    assert made.returncode == 0, made.stderr
    try:
        ip("addr", "add", f"{NET}.1/24", "dev", BRIDGE)
        ip("link", "set", BRIDGE, "up")
        names = []
        for n in range(WORKERS + 1):
            name, ours = f"zevlo-{n}", f"zevlo-v{n}"
            address = f"{NET}.{16 + n if n < WORKERS else 200}/24"
            for step in (
                ("netns", "add", name), ("link", "add", ours, "type", "veth", "peer", "name", "eth0", "netns", name),
                ("link", "set", ours, "master", BRIDGE), ("link", "set", ours, "up"),
                ("-n", name, "addr", "add", address, "dev", "eth0"), ("-n", name, "link", "set", "eth0", "up"),
                ("-n", name, "link", "set", "lo", "up"),
            ):  # fmt: skip
                done = ip(*step)
                assert done.returncode == 0, (step, done.stderr)
            names.append(name)
        yield names
    finally:
        take_down()


def at(machine, *arguments, **options):
    """A program on another machine."""
    return subprocess.Popen(["ip", "netns", "exec", machine, *arguments], **options)


def reached(machine, url):
    """What comes of reaching the database from a machine: empty, where it lets one in."""
    code = "import sys, psycopg; psycopg.connect(sys.argv[1], connect_timeout=5).close()"
    done = at(machine, sys.executable, "-c", code, url, stderr=subprocess.PIPE, text=True)
    return done.communicate()[1]


def test_workers_of_other_machines_work_on_one_database(machines, tmp_path):
    environment = {name: value for name, value in os.environ.items() if name != "ZEVLO_DATABASE_URL"}
    environment |= {"ZEVLO_DEMO_PROOFS": "0", "ZEVLO_PORT": str(cluster.free_port())}
    own = cluster.Cluster(cluster.home_for(tmp_path))
    arguments = f"['--workers-from', '{NET}.16/28']"
    code = f"import zevlo.start as s, pathlib; s.ROOT = pathlib.Path({str(tmp_path)!r}); raise SystemExit(s.main({arguments}))"
    process = subprocess.Popen([sys.executable, "-c", code], env=environment, stdout=subprocess.PIPE, text=True)
    try:
        said = ""
        while "not encrypted" not in said:
            line = process.stdout.readline()
            assert line, f"did not start: {said}"
            said += line
        address = re.search(r"Zevlo is at (\S+)", said)[1]
        (url,) = re.findall(r"\./zevlo worker --database (\S+)", said)
        assert "zevlo_worker:" in url
        assert f"@{NET}.1:" in url
        with ExitStack() as running, httpx.Client(base_url=address, timeout=60) as client:
            _work(running, client, machines, url, own, tmp_path)
    finally:
        process.send_signal(signal.SIGTERM)
        process.wait(60)
        cluster.stop(own)
        shutil.rmtree(own.folder, ignore_errors=True)


def _work(running, client, machines, url, own, tmp_path):
    owner = own.url(cluster.running_port(own))
    assert "no pg_hba.conf entry" in reached(machines[-1], url), "one that was not told of"
    assert "no pg_hba.conf entry" in reached(machines[0], owner.replace("127.0.0.1", f"{NET}.1")), "nobody but workers"
    assert reached(machines[0], url) == ""
    _can_do_no_more(url.replace(f"{NET}.1", "127.0.0.1"))
    model = ("box.glb", glb_of(trimesh.creation.box(bounds=[[-2, 0, -2], [2, 1, 2]])))
    project = client.post("/api/projects", files={"model": model}).json()["id"]
    how = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}
    shot = client.post(f"/api/projects/{project}/shots", json={"how": how}).json()
    # The machine's own worker is not to be quicker than those.
    for child in _children("worker"):
        os.kill(child, signal.SIGSTOP)
    for n, machine in enumerate(machines[:WORKERS]):
        environment = {**os.environ, "ZEVLO_CACHE": str(tmp_path / f"cache{n}")}
        worker = at(machine, sys.executable, "-m", "zevlo.cli", "worker", "--database", url, env=environment)
        running.callback(worker.wait)
        running.callback(worker.terminate)

    def there():
        return client.get(f"/api/projects/{project}/lab").json()["machines"]

    until(lambda: len(there()) >= WORKERS, 300)
    sizes = [{"kind": "inside", "output_px": [64 + n, 64]} for n in range(6)]
    order = {"pictures": [{"shot": shot["id"], "size": size} for size in sizes], "quality": "draft"}
    assert client.post(f"/api/projects/{project}/orders", json={"order": order}).status_code == 201
    assert client.post(f"/api/shots/{shot['id']}/proof").status_code == 201
    documents = {"shots": [shot["id"]], **{kind: {} for kind in KINDS}}
    assert client.post(f"/api/projects/{project}/documents", json={"documents": documents}).status_code == 201
    most_of_one = [0]

    def connections():
        """How many each machine has, most first."""
        asked = (
            "select count(*) from pg_stat_activity where usename = 'zevlo_worker' group by client_addr order by 1 desc"
        )
        with psycopg.connect(owner) as connection:
            return [count for (count,) in connection.execute(asked)]

    def all_done():
        each = connections()
        most_of_one[0] = max([most_of_one[0], *each])
        assert len(each) <= WORKERS
        prints = client.get(f"/api/projects/{project}/prints").json()["prints"]
        assert {one["state"] for one in prints} <= {"waiting", "developing", "done"}, prints
        made = client.get(f"/api/projects/{project}/lab").json()["documents"]
        assert made[0]["state"] != "failed", made
        return {one["state"] for one in (*prints, *made)} == {"done"}

    until(all_done, 600)
    assert most_of_one[0] <= WORKER_MOST + QUEUE
    until(lambda: connections() == [WORKER_KEEPS + QUEUE] * WORKERS, 60)


def _children(command):
    ran = subprocess.run(["ps", "-eo", "pid=,args="], capture_output=True, text=True, check=True).stdout
    mine = "--database"
    return [
        int(line.split()[0])
        for line in ran.splitlines()
        if line.endswith(f"zevlo.cli {command}") and mine not in line and _is_ours(int(line.split()[0]))
    ]


def _is_ours(process):
    """Whether a program was started by one of this test's."""
    with open(f"/proc/{process}/stat") as file:
        parent = int(file.read().rpartition(")")[2].split()[1])
    with open(f"/proc/{parent}/stat") as file:
        return int(file.read().rpartition(")")[2].split()[1]) == os.getpid()


def _can_do_no_more(url):
    """What the role must not do, each by itself."""
    with psycopg.connect(url, autocommit=True) as worker:
        for table in READ:
            worker.execute(f"select * from {table} limit 1")
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                worker.execute(f"delete from {table}")
        for table in WRITTEN:
            worker.execute(f"select * from {table} limit 1")
        for words in ("select * from change", "select * from pg_authid", "create table mine (a int)", "drop table print",
                      "truncate print", "create role other", "copy blob to '/tmp/x'"):  # fmt: skip
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                worker.execute(words)


@pytest.mark.parametrize(
    ("given", "words"),
    [
        ("workers", "is no address of a worker"),
        ("0.0.0.0/0", "every machine there is"),
        ("2001:db8::/200", "is no address"),
    ],
)
def test_who_is_let_in_is_said_by_address(given, words):
    with pytest.raises(NoServer, match=words):
        Shared.with_workers([given])


def test_workers_of_another_database_are_told_that(tmp_path):
    code = f"import zevlo.start as s, pathlib; s.ROOT = pathlib.Path({str(tmp_path)!r}); raise SystemExit(s.main(['--workers-from', '192.0.2.1']))"
    environment = {**os.environ, "ZEVLO_DATABASE_URL": "postgresql://127.0.0.1:1/none"}
    done = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=False)
    assert (done.returncode, "names another" in done.stderr) == (2, True), json.dumps(done.stderr)
