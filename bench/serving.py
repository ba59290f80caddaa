"""A Zevlo of the benchmark's own: server, database and demo, gone afterwards."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx

from zevlo.store import cluster


@contextmanager
def served() -> Iterator[int]:
    """The port of a running server with the demo."""
    with tempfile.TemporaryDirectory(dir="/var/tmp", prefix="zevlo-bench-") as folder:
        Path(folder).chmod(0o755)
        own = cluster.Cluster(Path(folder) / "pg")
        port = cluster.free_port()
        url = cluster.ensure_database(own, cluster.start(own, fast=True))
        environment = {**os.environ, "ZEVLO_DATABASE_URL": url, "ZEVLO_PORT": str(port)}
        subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=environment, check=True)
        server = subprocess.Popen([sys.executable, "-m", "zevlo.cli", "serve"], env=environment)
        try:
            _wait(port)
            yield port
        finally:
            server.terminate()
            server.wait()
            cluster.stop(own)


def _wait(port: int) -> None:
    for _ in range(600):
        try:
            httpx.get(f"http://127.0.0.1:{port}/api/projects", timeout=5)
            return
        except httpx.TransportError:
            time.sleep(0.1)
    raise SystemExit("the server to be measured did not come up")
