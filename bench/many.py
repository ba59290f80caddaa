"""Many desks at once, many projects, many shots: each against one, or few, in the same run."""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import Callable

import httpx
import numpy as np
import trimesh
import websockets

from serving import served
from zevlo.demo.shots import SHOTS

Row = tuple[str, str, str, str, str]
DESKS, QUESTIONS_A_SECOND, SECONDS = 20, 30, 8


async def _one_desk(address: str, project: str, number: int, waits: list[float]) -> None:
    """A hand that drags: a question thirty times a second, the next when the last was answered."""
    shot = SHOTS[1].as_json()
    x, y, z = shot["stand"]["position"]  # type: ignore[index]
    async with websockets.connect(address, max_size=None) as socket:
        await socket.send(json.dumps({"kind": "open", "project": project}))
        ends, seq = time.perf_counter() + SECONDS, 0
        await asyncio.sleep(number / DESKS / QUESTIONS_A_SECOND)
        while time.perf_counter() < ends:
            seq += 1
            shot["stand"]["position"] = [x - 0.004 * (seq % 100), y + 0.001 * number, z]  # type: ignore[index]
            asked = time.perf_counter()
            await socket.send(json.dumps({"kind": "shot", "seq": seq, "shot": shot}))
            while True:
                found = json.loads(await socket.recv())
                if found.get("seq") == seq:
                    break
            waited = time.perf_counter() - asked
            if seq > 10:
                waits.append(waited)
            await asyncio.sleep(max(0.0, 1.0 / QUESTIONS_A_SECOND - waited))


async def _desks(address: str, project: str, count: int) -> list[float]:
    waits: list[float] = []
    await asyncio.gather(*[_one_desk(address, project, n, waits) for n in range(count)])
    return waits


def _seconds(action: Callable[[], object], times: int = 5) -> float:
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        action()
        took.append(time.perf_counter() - begun)
    return float(np.median(took))


def many() -> list[Row]:
    """Twenty desks beside one; a room full of figures beside an empty one; two hundred projects beside one."""
    rows: list[Row] = []
    with served() as port, httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=120) as client:
        demo = client.get("/api/projects").json()["projects"][0]["id"]
        address = f"ws://127.0.0.1:{port}/api/live"
        one = asyncio.run(_desks(address, demo, 1))
        all_of_them = asyncio.run(_desks(address, demo, DESKS))
        a, b = (float(np.percentile(waits, 95)) * 1e3 for waits in (all_of_them, one))
        asked = len(all_of_them) / SECONDS
        rows.append(
            (
                f"{DESKS} desks dragging, p95 of waiting ({asked:.0f} answers a second)",
                f"{a:.0f} ms",
                f"one desk {b:.1f} ms",
                f"{a / b:.1f}",
                "under 80 ms",
            )
        )

        def whole() -> httpx.Response:
            return client.get(f"/api/projects/{demo}").raise_for_status()

        whole()
        bare = _seconds(whole)
        for n in range(10):
            now = client.get(f"/api/projects/{demo}").json()["version"]
            client.post(
                f"/api/projects/{demo}/stand-ins", json={"version": now, "what": "seated", "at": [n, 0]}
            ).raise_for_status()
        whole()
        seated = _seconds(whole)
        rows.append(
            (
                "A project with ten seated figures",
                f"{seated * 1e3:.0f} ms",
                f"without {bare * 1e3:.0f} ms",
                f"{seated / bare:.2f}",
                "under 2",
            )
        )
        far = {
            "version": client.get(f"/api/projects/{demo}").json()["version"],
            "what": "standing",
            "at": [0, 0],
            "seen_from": [1e6, 1e6, 1e6],
        }
        begun = time.perf_counter()
        client.post(f"/api/projects/{demo}/stand-ins", json=far).raise_for_status()
        rows.append(
            (
                "A stand-in seen from 1,700 km away",
                f"{time.perf_counter() - begun:.2f} s",
                "1 s",
                f"{time.perf_counter() - begun:.2f}",
                "under 1",
            )
        )

        box = trimesh.creation.box().export(file_type="glb")
        few = _seconds(lambda: client.get("/api/projects").raise_for_status())
        for n in range(199):
            client.post("/api/projects", files={"model": (f"box {n}.glb", box)}).raise_for_status()
        full = _seconds(lambda: client.get("/api/projects").raise_for_status())
        rows.append(
            (
                "First page of 200 projects",
                f"{full * 1e3:.0f} ms",
                f"of one {few * 1e3:.0f} ms",
                f"{full / few:.1f}",
                "under 200 ms",
            )
        )

        made = client.post("/api/projects", files={"model": ("many.glb", box)}).json()["id"]
        how = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}
        row = client.post(f"/api/projects/{made}/shots", json={"how": how}).json()
        for _ in range(499):
            client.post(f"/api/shots/{row['id']}/duplicate").raise_for_status()
        client.post(f"/api/projects/{made}/order", json={"by": "name"}).raise_for_status()
        back = _seconds(lambda: client.post(f"/api/projects/{made}/undo").raise_for_status(), 1)
        rows.append(("Undo of an order of 500 shots", f"{back:.2f} s", "0.6 s", f"{back / 0.6:.2f}", "under 1"))

        rows += _with_prints(client, demo)
        rows += _large_writes(client, demo)
    return rows


PRINTS = 1000


def _with_prints(client: httpx.Client, project: str) -> list[Row]:
    """What a project with many prints takes, against the same with none."""
    address = f"/api/projects/{project}"
    shots = client.get(address).json()["shots"]

    def changed() -> None:
        row = client.get(f"{address}/shots").json()["shots"][0]
        patch = {"lens": {"focal_length_mm": row["shot"]["lens"]["focal_length_mm"] + 0.01}}
        client.patch(f"/api/shots/{row['id']}", json={"version": row["version"], "patch": patch}).raise_for_status()

    asked: dict[str, Callable[[], object]] = {
        "GET": lambda: client.get(address).raise_for_status(),
        "PATCH of a shot, and its list": changed,
        "undo": lambda: client.post(f"{address}/undo").raise_for_status(),
    }
    changed()
    none = {name: _seconds(ask) for name, ask in asked.items()}
    order = {"pictures": [{"shot": shot["id"]} for shot in shots], "quality": "draft"}
    order["size"] = {"kind": "longest", "px": 400}
    for _ in range(-(-PRINTS // len(shots))):
        client.post(f"{address}/orders", json={"order": order}).raise_for_status()
    for _ in range(3):
        changed()
    many = {name: _seconds(ask) for name, ask in asked.items()}
    found = _seconds(lambda: client.get(f"{address}/prints").raise_for_status())
    count = len(client.get(f"{address}/prints").json()["prints"])
    rows = [
        (
            f"{name}, of a project with {count} prints",
            f"{many[name] * 1e3:.0f} ms",
            f"with none {none[name] * 1e3:.0f} ms",
            f"{many[name] / none[name]:.2f}",
            "under 1.5",
        )
        for name in asked
    ]
    return [*rows, (f"Its {count} prints", f"{found * 1e3:.0f} ms", "100 ms", f"{found / 0.1:.2f}", "under 1")]


def _large_writes(client: httpx.Client, project: str) -> list[Row]:
    """What holds a project for long: an order of many tiles, a file of many cameras."""
    address = f"/api/projects/{project}"
    shot = client.get(address).json()["shots"][0]
    sizes = [{"kind": "inside", "output_px": [7680, 7680 - n]} for n in range(12)]
    order = {"pictures": [{"shot": shot["id"], "size": size} for size in sizes], "quality": "draft"}
    placed = _seconds(lambda: client.post(f"{address}/orders", json={"order": order}).raise_for_status(), 1)
    rows = [{**SHOTS[1].as_json(), "name": f"Camera {n}"} for n in range(1000)]
    body, query = json.dumps(rows).encode(), {"name": "cameras.json", "only_try": "false"}
    came = _seconds(lambda: client.post(f"{address}/cameras", params=query, content=body).raise_for_status(), 1)
    return [
        ("An order of 12 pictures at 8K", f"{placed:.2f} s", "2 s", f"{placed / 2.0:.2f}", "under 1"),
        ("1,000 cameras out of a file", f"{came:.2f} s", "2 s", f"{came / 2.0:.2f}", "under 1"),
    ]
