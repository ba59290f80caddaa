"""A database of the tests' own, a served Zevlo, and small sets to look at."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
import trimesh
from sqlalchemy import Engine

from zevlo.core.scene.model import Material, Part, SetModel
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.settings import ROOT, Settings
from zevlo.store import cluster
from zevlo.store.database import engine_for, migrate

# The page itself is composited without a graphics card: drawn by a simulated one, it changes twice a second only.
CHROMIUM = [
    "--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--no-first-run", "--disable-quic", "--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
]  # fmt: skip


NEEDS = {"browser": {"page", "browser"}, "db": {"own_cluster", "database_url", "engine", "served"}}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Each test is marked by what it needs, which its fixtures and its folder tell; what needs nothing is fast."""
    for item in items:
        folder = item.path.relative_to(ROOT / "tests").parts[0]
        needs = {name for name, fixtures in NEEDS.items() if fixtures & set(item.fixturenames)}  # type: ignore[attr-defined]
        if folder == "lab":
            needs.add("lab")
        if folder in ("files", "start", "demo"):
            needs.add("reader")
        for name in needs or {"fast"}:
            item.add_marker(getattr(pytest.mark, name))


@pytest.fixture(scope="session")
def own_cluster() -> Iterator[tuple[cluster.Cluster, int]]:
    """A PostgreSQL cluster that leaves nothing behind."""
    folder = Path(tempfile.mkdtemp(prefix="zevlo-test-pg-", dir="/var/tmp"))
    folder.chmod(0o755)
    own = cluster.Cluster(folder / "pg")
    try:
        yield own, cluster.start(own, fast=True)
    finally:
        cluster.stop(own)
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def database_url(own_cluster: tuple[cluster.Cluster, int]) -> str:
    url = cluster.ensure_database(*own_cluster, "zevlo_api")
    migrate(engine_for(url))
    return url


@pytest.fixture(scope="session")
def engine(database_url: str) -> Engine:
    return engine_for(database_url)


@pytest.fixture(scope="session")
def settings(database_url: str) -> Settings:
    return Settings(database_url, "127.0.0.1", 0, 4 * 1024**2, ROOT / "desk" / "dist")


@dataclass(frozen=True)
class Served:
    address: str
    environment: dict[str, str]

    @contextmanager
    def worker(self) -> Iterator[subprocess.Popen[bytes]]:
        process = subprocess.Popen([sys.executable, "-m", "zevlo.cli", "worker"], env=self.environment)
        try:
            yield process
        finally:
            process.kill()
            process.wait()


@pytest.fixture(scope="session")
def served(own_cluster: tuple[cluster.Cluster, int]) -> Iterator[Served]:
    """A real server on a database with the demonstration set, as ./zevlo start makes it."""
    url = cluster.ensure_database(*own_cluster, "zevlo_served")
    port = cluster.free_port()
    environment = {**os.environ, "ZEVLO_DATABASE_URL": url, "ZEVLO_PORT": str(port), "ZEVLO_UPLOAD_LIMIT_MB": "8"}
    subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=environment, check=True)
    server = subprocess.Popen([sys.executable, "-m", "zevlo.cli", "serve"], env=environment)
    address = f"http://127.0.0.1:{port}"
    for _ in range(300):
        try:
            urllib.request.urlopen(f"{address}/api/projects", timeout=5).close()
            break
        except OSError:
            time.sleep(0.1)
    yield Served(address, environment)
    server.terminate()
    server.wait(10)


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
