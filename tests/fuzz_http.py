"""Requests made up from the API's own description, with numbers at both ends and beyond, odd words and wrong kinds:
``python -m tests.fuzz_http --requests 8000`` tells which were answered by a fault of the server, or late."""

from __future__ import annotations

import argparse
import json
import random
import sys
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import httpx

NUMBERS = (0, -0.0, 1, -1, 0.5, 1e-320, 1e308, -1e308, 1.7e308, 2**31, 2**63, -(2**63), 10**30, 1e6, 360, 89.9999999)
WORDS = (
    "",
    "x",
    "é漢字🙂",
    "\u202eabc",
    "a\nb",
    'q"uo\\te',
    "../../etc",
    "\x00",
    "\ud800",
    "=1+1",
    "x" * 3000,
    "null",
    "1e999",
)
ODD = (None, True, [], {}, "x", 1e308, [[]], {"kind": "none"}, -1)
LATE_S = 5.0
NEVER = ("/api/undo", "/api/redo")
"""What would take the project away that the others are asked of."""


@dataclass(frozen=True)
class Asked:
    """A request, as it can be sent again."""

    method: str
    path: str
    query: list[tuple[str, str]]
    body: bytes | None
    kind: str
    """The operation it is of."""


class Maker:
    """Makes requests of an API by its description. ``known``: ids that are there, by what a path calls them by."""

    def __init__(self, description: dict[str, Any], seed: int) -> None:
        self._all = description["components"]["schemas"]
        self._random = random.Random(seed)
        self.operations = [
            (method, path, given, item.get("parameters", []))
            for path, item in description["paths"].items()
            for method, given in item.items()
            if method in ("get", "post", "patch", "put", "delete") and path not in NEVER
        ]

    def request(self, known: Callable[[str], str | None]) -> Asked:
        """One more request."""
        one = self._random
        method, path, given, shared = one.choice(self.operations)
        query = []
        address = path
        for parameter in (*shared, *given.get("parameters", [])):
            name = parameter["name"]
            if parameter["in"] == "path":
                value = known(path) if name == "key" and one.random() < 0.85 else None
                text = value or str(one.choice((uuid.uuid4(), "x", "0", "%00", "picture.png")))
                address = address.replace("{" + name + "}", text)
            elif parameter["in"] == "query" and (parameter.get("required") or one.random() < 0.5):
                value = self.value(parameter["schema"])
                words = value if isinstance(value, str) else json.dumps(value)
                query.append((name, words.encode("utf-8", "replace").decode()))
        body = None
        content = given.get("requestBody", {}).get("content", {})
        if "application/json" in content:
            body = json.dumps(self.value(content["application/json"]["schema"])).encode()
        elif content:
            body = one.choice((b"", b"{}", b"\x89PNG\r\n", one.randbytes(400)))
        return Asked(method.upper(), address, query, body, f"{method} {path}")

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        """Something a schema allows, or nearly."""
        one = self._random
        if one.random() < 0.02 or depth > 12:
            return one.choice(ODD)
        if "$ref" in schema:
            return self.value(self._all[schema["$ref"].rpartition("/")[2]], depth + 1)
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self.value(one.choice(schema[several]), depth + 1)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return one.choice(schema["enum"])
        kind = schema.get("type")
        if kind == "object" or "properties" in schema:
            return self._object(schema, depth)
        if kind == "array":
            return self._array(schema, depth)
        if kind in ("number", "integer"):
            return self._number(schema, kind)
        if kind == "boolean":
            return one.random() < 0.5
        if kind == "string":
            return self._word(schema)
        return None

    def _object(self, schema: dict[str, Any], depth: int) -> dict[str, Any]:
        needed = set(schema.get("required", ()))
        few = 0.8 if depth < 2 else 0.4
        return {
            name: self.value(given, depth + 1)
            for name, given in schema.get("properties", {}).items()
            if name in needed or given.get("const") is not None or self._random.random() < few
        }

    def _array(self, schema: dict[str, Any], depth: int) -> list[Any]:
        if "prefixItems" in schema:
            return [self.value(given, depth + 1) for given in schema["prefixItems"]]
        count = max(schema.get("minItems", 0), self._random.choice((0, 1, 1, 2, 3)))
        return [self.value(schema.get("items", {}), depth + 1) for _ in range(count)]

    def _number(self, schema: dict[str, Any], kind: str) -> float:
        one = self._random
        low = schema.get("minimum", schema.get("exclusiveMinimum"))
        high = schema.get("maximum", schema.get("exclusiveMaximum"))
        draw = one.random()
        if draw < 0.25:
            found = one.choice(NUMBERS)
        elif draw < 0.45 and (low is not None or high is not None):
            end = one.choice([end for end in (low, high) if end is not None])
            found = end + one.choice((0, 0, 1e-9, -1e-9, 1, -1))
        else:
            first, last = -20.0 if low is None else low, 20.0 if high is None else high
            found = one.uniform(first, min(last, first + 100.0))
        return int(found) if kind == "integer" and abs(found) < 1e300 else found

    def _word(self, schema: dict[str, Any]) -> str:
        if schema.get("format") == "uuid":
            return str(uuid.UUID(int=self._random.getrandbits(128)))
        return self._random.choice(WORDS)


@dataclass(frozen=True)
class Found:
    """A request that was answered as none may be."""

    asked: Asked
    status: int
    seconds: float
    words: str


def send(client: httpx.Client, one: Asked, statuses: Counter[int]) -> Found | None:
    """Send a request; what is wrong with its answer, if anything is."""
    began = time.monotonic()
    headers = {} if one.body is None else {"content-type": "application/json"}
    answer = client.request(one.method, one.path, params=one.query, content=one.body, headers=headers)
    took = time.monotonic() - began
    statuses[answer.status_code] += 1
    wrong = answer.status_code >= 500 or took > LATE_S
    return Found(one, answer.status_code, took, answer.text[:300]) if wrong else None


def fuzz(client: httpx.Client, requests: int, seed: int, thing: Callable[[], dict[str, str]]) -> Iterator[Found]:
    """Send requests one after the other; those that were answered as none may be. ``thing``: makes a project with a
    shot, a print, an order and documents, and tells their ids by the first word of the addresses they have."""
    maker = Maker(_description(client), seed)
    ids, statuses = thing(), Counter[int]()

    def known(path: str) -> str | None:
        return ids.get(path.split("/")[2])

    for _ in range(requests):
        if client.get(f"/api/projects/{ids['projects']}").status_code == 404:
            ids = thing()
        if (found := send(client, maker.request(known), statuses)) is not None:
            yield found
    print(f"answers: {dict(statuses.most_common())}", flush=True)
    # One that is never understood tries nothing.
    assert statuses[200] + statuses[201] + statuses[204] > requests / 10


def _description(client: httpx.Client) -> dict[str, Any]:
    from zevlo.api.app import openapi_of

    return openapi_of(client.app)  # type: ignore[attr-defined]


def main() -> int:
    """Fuzz a server of its own, on a database of its own."""
    import tempfile
    from pathlib import Path

    from fastapi.testclient import TestClient

    from tests.api.asking import things
    from tests.conftest import settings_for
    from zevlo.api.app import create_app
    from zevlo.store import cluster
    from zevlo.store.database import engine_for, migrate

    parser = argparse.ArgumentParser()
    parser.add_argument("--requests", type=int, default=8000)
    parser.add_argument("--seed", type=int, default=random.randrange(10**9))
    chosen = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="zevlo-fuzz-", dir="/var/tmp"))
    folder.chmod(0o755)
    own = cluster.Cluster(folder / "pg")
    found = 0
    try:
        url = cluster.ensure_database(own, cluster.start(own, fast=True))
        migrate(engine_for(url))
        app = create_app(settings_for(url))
        with TestClient(
            app, base_url="http://127.0.0.1", client=("127.0.0.1", 50000), raise_server_exceptions=False
        ) as client:
            for one in fuzz(client, chosen.requests, chosen.seed, lambda: things(client)):
                found += 1
                print(one.status, f"{one.seconds:.1f} s", one.asked, one.words, flush=True)
    finally:
        cluster.stop(own)
    print(f"seed {chosen.seed}: {found} of {chosen.requests} requests were answered by a fault, or late")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
