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

from zevlo.start import end_with_parent
from zevlo.store import cluster


@contextmanager
def demo_database() -> Iterator[str]:
    """The address of a database with the demo, of which no proofs wait."""
    with tempfile.TemporaryDirectory(dir="/var/tmp", prefix="zevlo-bench-") as folder:
        Path(folder).chmod(0o755)
        own = cluster.Cluster(Path(folder) / "pg")
        url = cluster.ensure_database(own, cluster.start(own, fast=True))
        try:
            subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=_environment(url), check=True)
            yield url
        finally:
            cluster.stop(own)


def _environment(url: str) -> dict[str, str]:
    return {**os.environ, "ZEVLO_DATABASE_URL": url, "ZEVLO_DEMO_PROOFS": "0"}


@contextmanager
def served() -> Iterator[int]:
    """The port of a running server with the demo."""
    with demo_database() as url, served_on(url) as port:
        yield port


@contextmanager
def served_on(url: str) -> Iterator[int]:
    """The port of a running server on a database."""
    port = cluster.free_port()
    environment = {**_environment(url), "ZEVLO_PORT": str(port)}
    server = subprocess.Popen([sys.executable, "-m", "zevlo.cli", "serve"], env=environment, preexec_fn=end_with_parent)
    with _answering(server, port):
        yield port


ECHO = """
import json, sys
answer = sys.stdin.read()
head, _, tail = answer.partition('"seq":')
tail = tail.lstrip("0123456789")

async def app(scope, receive, send):
    if scope["type"] == "http":
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b'{"projects": [{"id": "none"}]}'})
    elif scope["type"] == "websocket":
        await receive()
        await send({"type": "websocket.accept"})
        while (message := await receive())["type"] == "websocket.receive":
            asked = json.loads(message["text"])
            if "seq" in asked:
                await send({"type": "websocket.send", "text": f'{head}"seq":{asked["seq"]}{tail}'})

import uvicorn
from zevlo.api.app import SERVING
uvicorn.run(app, host="127.0.0.1", port=int(sys.argv[1]), lifespan="off", **SERVING)
"""
"""The same web server, answering each question with as much as ours, and nothing worked out."""


@contextmanager
def echoing(answer: str) -> Iterator[int]:
    """The port of a server that answers whatever is asked over the socket with the same words, and the question's
    number."""
    port = cluster.free_port()
    server = subprocess.Popen(
        [sys.executable, "-c", ECHO, str(port)], stdin=subprocess.PIPE, text=True, preexec_fn=end_with_parent
    )
    assert server.stdin is not None
    server.stdin.write(answer)
    server.stdin.close()
    with _answering(server, port):
        yield port


@contextmanager
def _answering(server: subprocess.Popen[str] | subprocess.Popen[bytes], port: int) -> Iterator[None]:
    """From when a server answers until it is not needed any more."""
    try:
        _wait(port)
        yield
    finally:
        server.terminate()
        server.wait()


def _wait(port: int) -> None:
    for _ in range(600):
        try:
            httpx.get(f"http://127.0.0.1:{port}/api/projects", timeout=5)
            return
        except httpx.TransportError:
            time.sleep(0.1)
    raise SystemExit("the server to be measured did not come up")
