"""A database of the tests' own, a served Zevlo, and small sets to look at.

What only some tests need is loaded where it is needed: the fast ones start at once.
"""

from __future__ import annotations

import asyncio
import fcntl
import os
import random
import shutil
import subprocess
import sys
import tempfile
import threading
import uuid
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import hypothesis
import numpy as np
import psycopg
import pytest
import trimesh
from sqlalchemy import Engine

from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.settings import ROOT, Settings
from zevlo.store import cluster
from zevlo.store.database import engine_for, migrate

if TYPE_CHECKING:
    from zevlo.api.sets import SetCache

# The page itself is composited without a graphics card: drawn by a simulated one, it changes twice a second only.
CHROMIUM = [
    "--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--no-first-run", "--disable-quic", "--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
]  # fmt: skip


# How long one example takes is no matter: nothing here is timed.
hypothesis.settings.register_profile("untimed", deadline=None)
hypothesis.settings.load_profile("untimed")

HOME = "ZEVLO_TEST_HOME"
NEEDS = {"browser": {"page", "browser"}, "db": {"own_cluster"}}


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--shuffle", type=int, help="run the tests in another order, by this seed")


def pytest_configure(config: pytest.Config) -> None:
    """A folder for the whole run, of the process that leads it; those it starts find it in their environment."""
    if not hasattr(config, "workerinput"):
        folder = Path(tempfile.mkdtemp(prefix="zevlo-test-", dir="/var/tmp"))
        folder.chmod(0o755)
        os.environ[HOME] = str(folder)


def pytest_unconfigure(config: pytest.Config) -> None:
    if not hasattr(config, "workerinput"):
        folder = Path(os.environ.pop(HOME))
        cluster.stop(cluster.Cluster(folder / "pg"))
        shutil.rmtree(folder, ignore_errors=True)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Each test is marked by what it needs, which its fixtures and its folder tell; what needs nothing is fast."""
    if config.getoption("--shuffle") is not None:
        random.Random(config.getoption("--shuffle")).shuffle(items)
    else:
        # Those that take minutes come first: behind all others the last of them is alone.
        items.sort(key=lambda item: item.path.parent.name != "start")
    for item in items:
        folder = item.path.relative_to(ROOT / "tests").parts[0]
        needs = {name for name, fixtures in NEEDS.items() if fixtures & set(item.fixturenames)}  # type: ignore[attr-defined]
        if folder == "lab":
            needs.add("lab")
        if folder in ("files", "start", "demo"):
            needs.add("reader")
        for name in needs or {"fast"}:
            item.add_marker(getattr(pytest.mark, name))


@contextmanager
def alone(what: str) -> Iterator[None]:
    """Only one of the processes that run the tests at a time."""
    with (Path(os.environ[HOME]) / f"{what}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


@pytest.fixture(scope="session")
def own_cluster() -> tuple[cluster.Cluster, int]:
    """A PostgreSQL cluster for all the processes of one run; it leaves nothing behind."""
    own = cluster.Cluster(Path(os.environ[HOME]) / "pg")
    with alone("cluster"):
        return own, cluster.start(own, fast=True)


@pytest.fixture(scope="session")
def database_url(own_cluster: tuple[cluster.Cluster, int], worker_id: str) -> str:
    """An empty database of this process."""
    url = cluster.ensure_database(*own_cluster, f"zevlo_{worker_id}")
    migrate(engine_for(url))
    return url


@pytest.fixture(scope="session")
def engine(database_url: str) -> Engine:
    return engine_for(database_url)


def settings_for(url: str, port: int = 0, upload_mb: int = 4) -> Settings:
    return Settings(url, "127.0.0.1", port, upload_mb * 1024**2, ROOT / "desk" / "dist")


@pytest.fixture(scope="session")
def settings(database_url: str) -> Settings:
    return settings_for(database_url)


@pytest.fixture(scope="session")
def template(own_cluster: tuple[cluster.Cluster, int]) -> str:
    """The name of a database as ./zevlo start makes it, with the demonstration set; copied, never used."""
    name = "zevlo_template"
    with alone(name), psycopg.connect(own_cluster[0].url(own_cluster[1], "postgres"), autocommit=True) as connection:
        if not connection.execute("select 1 from pg_database where datname = %s", (name,)).fetchone():
            url = cluster.ensure_database(*own_cluster, "zevlo_making")
            environment = {**os.environ, "ZEVLO_DATABASE_URL": url, "ZEVLO_DEMO_PROOFS": "0"}
            subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=environment, check=True)
            _draw_small_pictures(url)
            connection.execute(f"alter database zevlo_making rename to {name}")
    return name


def _draw_small_pictures(url: str) -> None:
    """The small pictures of the demonstration's shots are drawn once, not in each copy."""
    from fastapi.testclient import TestClient

    from zevlo.api.app import create_app

    with TestClient(create_app(settings_for(url)), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)) as asking:
        for card in asking.get("/api/projects").json()["projects"]:
            for shot in asking.get(f"/api/projects/{card['id']}").json()["shots"]:
                asking.get(shot["thumbnail"]).raise_for_status()


@pytest.fixture
def demo_database(own_cluster: tuple[cluster.Cluster, int], template: str) -> Iterator[str]:
    """The URL of a test's own copy of the template."""
    own, port = own_cluster
    name = f"zevlo_{uuid.uuid4().hex}"
    with psycopg.connect(own.url(port, "postgres"), autocommit=True) as connection:
        with alone(template):  # who copies must be alone with it
            connection.execute(f"create database {name} template {template} strategy file_copy")
        yield own.url(port, name)
        connection.execute(f"drop database {name} with (force)")


@dataclass(frozen=True)
class Served:
    address: str
    url: str

    @contextmanager
    def worker(self) -> Iterator[None]:
        """A lab worker in this process."""
        from zevlo.lab.documents import make_documents
        from zevlo.lab.proof import develop
        from zevlo.lab.queue import lab_app, work

        loop = asyncio.new_event_loop()
        task = loop.create_task(work(lab_app(engine_for(self.url), develop, make_documents), "lab of a test"))

        def until_told() -> None:
            with suppress(asyncio.CancelledError):
                loop.run_until_complete(task)
            loop.close()

        thread = threading.Thread(target=until_told)
        thread.start()
        try:
            yield
        finally:
            loop.call_soon_threadsafe(task.cancel)
            thread.join()

    @contextmanager
    def worker_process(self) -> Iterator[subprocess.Popen[bytes]]:
        """A lab worker of its own, to be killed. It does not stand back: other tests are not to keep it from its work."""
        environment = {**os.environ, "ZEVLO_DATABASE_URL": self.url}
        process = subprocess.Popen([sys.executable, "-m", "zevlo.cli", "worker", "--nice", "0"], env=environment)
        try:
            yield process
        finally:
            process.kill()
            process.wait()


@pytest.fixture(scope="session")
def rehearsed() -> None:
    """Nothing a test waits for is compiled while it waits."""
    from zevlo.core.framing.warm_up import rehearse

    rehearse()


DEMO_SETS: dict[str, dict[object, object]] = {}
"""What a shelf of sets has worked out of the demonstration as it comes: the same in each copy of the template."""


def _put_demo_on(shelf: SetCache) -> None:
    """The demonstration's set is unpacked once in a process, not for each test; only what holds for any copy is kept."""
    from sqlalchemy import select

    from zevlo.api.sets import standing
    from zevlo.store.database import transaction
    from zevlo.store.tables import Project

    if not DEMO_SETS:
        with transaction(shelf._engine) as session:
            project = session.scalars(select(Project)).one()
            stands, height = standing(project), project.plan_height
        _ = shelf.ready(stands).edges, shelf.plan(stands, height)
        DEMO_SETS.update({name: dict(getattr(shelf, name)) for name in ("_read", "_models", "_working", "_plans")})
    for name, kept in DEMO_SETS.items():
        getattr(shelf, name).update(kept)


@pytest.fixture(scope="session")
def own_port() -> int:
    """Where the servers of this process listen, one after the other: what a browser keeps of one is good for the next."""
    return cluster.free_port()


@pytest.fixture(scope="session")
def brought_in(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable[..., uuid.UUID]]:
    """Makes projects of models as the API does. A model is read once for all that are made of it: each
    time takes longer than most tests, and what the sandbox does is tested elsewhere."""
    from zevlo.core.light.setup import LightSetup
    from zevlo.files.sandbox import import_model
    from zevlo.store.database import transaction
    from zevlo.store.projects import create_project

    with ExitStack() as open_still:
        read: dict[str, Any] = {}

        def made(engine: Engine, file: str, title: str, write: Callable[[Path], object]) -> uuid.UUID:
            if file not in read:
                source = tmp_path_factory.mktemp("model") / file
                write(source)
                read[file] = open_still.enter_context(import_model(source, file))
            with transaction(engine) as session:
                return create_project(session, title, file, read[file], LightSetup()).id

        yield made


@pytest.fixture
def served(demo_database: str, rehearsed: None, own_port: int) -> Iterator[Served]:
    """A server of a test's own, on a database as ./zevlo start makes it."""
    import httpx
    import uvicorn

    from zevlo.api.app import SERVING, create_app

    port = own_port
    app = create_app(settings_for(demo_database, port, upload_mb=8))
    _put_demo_on(app.state.desk.shelf)
    server = uvicorn.Server(uvicorn.Config(app, port=port, **SERVING))
    thread = threading.Thread(target=server.run)
    thread.start()
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", transport=httpx.HTTPTransport(retries=10)) as asking:
            asking.get("/api/projects", timeout=30).raise_for_status()
        yield Served(f"http://127.0.0.1:{port}", demo_database)
    finally:
        server.should_exit = True
        thread.join()


def glb_set(data: bytes) -> SetModel:
    """The set of a GLB, in metres with Z up."""
    return in_world(from_bytes(data))


def set_of(*meshes: trimesh.Trimesh, materials: tuple[Material, ...] = (Material("Plain"),)) -> SetModel:
    """A set of trimesh shapes, one part each; the n-th has the n-th material, or the last."""
    parts, vertices, faces, kinds, base, first = [], [], [], [], 0, 0
    for n, mesh in enumerate(meshes):
        vertices.append(np.asarray(mesh.vertices))
        faces.append(np.asarray(mesh.faces) + base)
        kinds.append(np.full(len(mesh.faces), min(n, len(materials) - 1), dtype=np.int32))
        parts.append(Part(f"Part {n}", None, first, len(mesh.faces)))
        base, first = base + len(mesh.vertices), first + len(mesh.faces)
    joined = np.concatenate(faces).astype(np.int32)
    return SetModel(np.concatenate(vertices), joined, np.concatenate(kinds), tuple(parts), materials)


def slab(low: tuple[float, float, float], high: tuple[float, float, float]) -> trimesh.Trimesh:
    """A box between two corners."""
    return trimesh.creation.box(bounds=np.array([low, high]))
