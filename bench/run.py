"""./zevlo bench: speed and memory as ratios against a named reference measured in the same run."""

from __future__ import annotations

import argparse
import asyncio
import io
import json
import os
import platform
import re
import time
import traceback
from datetime import date

import numpy as np
import trimesh

from desk import desk
from finals import beside, finals
from foreign import foreign
from large import large
from laws import laws
from many import many
from papers import papers
from serving import echoing, served
from set_room import set_room
from stack import stack
from zevlo.core.camera.from_shot import camera_of
from zevlo.core.framing.solve import solve
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import LIGHT, SHOTS
from zevlo.files.arrays import pack_set
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.settings import ROOT

Row = tuple[str, str, str, str, str]
WHEEL_ROOM = SHOTS[1]


def percentile(seconds: list[float], share: float) -> float:
    return float(np.percentile(seconds, share)) * 1000.0


def moved(shot: Shot, n: int) -> Shot:
    x, y, z = shot.stand.position
    return shot.model_copy(update={"stand": shot.stand.model_copy(update={"position": (x - 0.005 * n, y, z)})})


def live_loop() -> list[Row]:
    """A full solve with drawings on the demo, against the 8 ms the live loop may take."""
    working = WorkingSet(in_world(from_bytes(pottery_glb())))
    solve(WHEEL_ROOM, working)
    batches = []
    for _ in range(5):
        times = []
        for n in range(300):
            shot = moved(WHEEL_ROOM, n)
            started = time.perf_counter()
            solve(shot, working).model_dump_json()
            times.append(time.perf_counter() - started)
        batches.append(percentile(times, 95))
    p95, low, high = float(np.median(batches)), min(batches), max(batches)
    ours = f"{p95:.1f} ms (five runs: {low:.1f} to {high:.1f})"
    return [("Solve with drawings, p95", ours, "8 ms", f"{p95 / 8:.2f}", "under 1")]


def _dragged(seq: int) -> str:
    """The stand on its way through the room: floor, wedge and section are other ones each time."""
    return json.dumps({"kind": "shot", "seq": seq, "shot": moved(WHEEL_ROOM, seq % 200).as_json()})


async def _round_trips(port: int, count: int) -> tuple[list[float], str]:
    """Seconds from question to answer, sixty questions a second, and the last answer."""
    import websockets

    times: list[float] = []
    answer = ""
    async with websockets.connect(f"ws://127.0.0.1:{port}/api/live", max_size=None) as socket:
        with_project = json.loads(await _get(port, "/api/projects"))["projects"][0]["id"]
        await socket.send(json.dumps({"kind": "open", "project": with_project}))
        await asyncio.sleep(1.5)
        for n in range(count):
            next_at = time.perf_counter() + 1 / 60
            text = _dragged(n + 1)
            started = time.perf_counter()
            await socket.send(text)
            # The head tells which question it answers; reading the whole of it is the desk's work, not the trip's.
            while not re.search(rf'"seq":{n + 1}\b', (answer := str(await socket.recv()))[:60]):
                pass
            if n > 20:
                times.append(time.perf_counter() - started)
            await asyncio.sleep(max(0.0, next_at - time.perf_counter()))
    return times, answer


async def _get(port: int, path: str) -> bytes:
    import httpx

    async with httpx.AsyncClient() as client:
        return (await client.get(f"http://127.0.0.1:{port}{path}")).content


def socket() -> list[Row]:
    """A solve over the live socket at 60 a second, against an echo: a server that answers as much, and works out
    nothing."""
    with served() as port:
        ours, bare = [], []
        for _ in range(3):
            times, answer = asyncio.run(_round_trips(port, 220))
            ours += times
            with echoing(answer) as echo:
                bare += asyncio.run(_round_trips(echo, 220))[0]
    a, b = percentile(ours, 50), percentile(bare, 50)
    c, d = percentile(ours, 95), percentile(bare, 95)
    as_long = f"echo of {len(answer) / 1024:.0f} kB"
    return [
        ("Live socket, median", f"{a:.1f} ms", f"{as_long} {b:.1f} ms", f"{a / b:.2f}", "under 1.5"),
        ("Live socket, p95 (information)", f"{c:.1f} ms", f"{as_long} {d:.1f} ms", f"{c / d:.2f}", ""),
    ]


def proof() -> list[Row]:
    """Samples per second of the proof, against Mitsuba's own thin-lens sensor on the same scene and settings."""
    import drjit as dr

    from zevlo.lab.develop import clean, expose, png
    from zevlo.lab.mitsuba_setup import mitsuba
    from zevlo.lab.proof import FIRST_CLEAN_AT, passes_for
    from zevlo.lab.renderer import MitsubaRenderer

    mi = mitsuba()
    model = in_world(from_bytes(pottery_glb()))
    size, samples = (960, 540), 16
    started = time.perf_counter()
    renderer = MitsubaRenderer(model, LIGHT)
    first = None
    for exposure in renderer.passes(WHEEL_ROOM, size, passes_for(32, 960 * 540), 1):
        if exposure.samples >= FIRST_CLEAN_AT:
            png(expose(clean(exposure), solve(WHEEL_ROOM).exposure.white_cd_m2), {})
            first = time.perf_counter() - started
            break
    camera = camera_of(WHEEL_ROOM)
    theirs = mi.load_dict(
        {
            "type": "thinlens",
            "fov": solve(WHEEL_ROOM).lens.angle_deg.horizontal,
            "aperture_radius": WHEEL_ROOM.lens.focal_length_mm / 2000 / (WHEEL_ROOM.focus.f_number or 8),
            "focus_distance": WHEEL_ROOM.focus.distance_m,
            "to_world": mi.ScalarTransform4f().look_at(
                list(WHEEL_ROOM.stand.position), list(WHEEL_ROOM.stand.aim), camera.pose.up.tolist()
            ),
            "film": {"type": "hdrfilm", "width": 960, "height": 540, "rfilter": {"type": "box"}},
            "sampler": {"type": "independent"},
        }
    )

    def ours() -> None:
        for _ in renderer.passes(WHEEL_ROOM, size, [4] * (samples // 4), 5):
            pass

    def reference() -> None:
        for n in range(samples // 4):
            image = mi.render(renderer._scene.inside, sensor=theirs, integrator=renderer._integrator, spp=4, seed=n)
            dr.eval(image)
            dr.sync_thread()

    rates = []
    for run in (ours, reference, ours, reference):
        begun = time.perf_counter()
        run()
        rates.append(samples * size[0] * size[1] / (time.perf_counter() - begun) / 1e6)
    a, b = max(rates[0], rates[2]), max(rates[1], rates[3])
    return [
        ("Proof 960 × 540, million samples/s", f"{a:.2f}", f"Mitsuba thinlens {b:.2f}", f"{a / b:.2f}", "over 0.8"),
        ("First clean picture", f"{first:.1f} s", "15 s", f"{(first or 99) / 15:.2f}", "under 1"),
    ]


def imports() -> list[Row]:
    """A million triangles in, against bare trimesh; and the plan cut of them."""
    ball = trimesh.creation.icosphere(subdivisions=8)
    rng = np.random.default_rng(2)
    ball.vertices = ball.vertices * (8 + 0.02 * rng.normal(size=(len(ball.vertices), 1))) + [0, 8, 0]
    extra = ball.copy().apply_translation([20, 0, 0])
    extra.update_faces(np.arange(1_000_000 - len(ball.faces)))
    data = trimesh.Scene([ball, extra]).export(file_type="glb")
    ours, bare, world = [], [], []
    for _ in range(3):
        started = time.perf_counter()
        trimesh.load(io.BytesIO(data), file_type="glb")
        bare.append(time.perf_counter() - started)
        started = time.perf_counter()
        trimesh.load_scene(io.BytesIO(data), file_type="glb").to_mesh()
        world.append(time.perf_counter() - started)
        started = time.perf_counter()
        model = in_world(from_bytes(data))
        pack_set(model, io.BytesIO())
        ours.append(time.perf_counter() - started)
    a, b, joined = min(ours), min(bare), min(world)
    working = WorkingSet(model)
    started = time.perf_counter()
    working.cut(plan_plane(8.0))
    cut = time.perf_counter() - started
    started = time.perf_counter()
    working.beyond(plan_plane(8.0), 8.0)
    beyond = time.perf_counter() - started
    return [
        (
            f"Import of {len(model.faces):,} triangles, to the world",
            f"{a:.2f} s",
            f"trimesh.load_scene().to_mesh() {joined:.2f} s",
            f"{a / joined:.2f}",
            "under 1.2",
        ),
        ("The same (information)", f"{a:.2f} s", f"trimesh.load alone {b:.2f} s", f"{a / b:.2f}", ""),
        ("Plan cut of it", f"{cut:.2f} s", "1 s", f"{cut:.2f}", "under 1"),
        ("Its thin lines, once (information)", f"{beyond:.2f} s", "no limit set", "", ""),
    ]


def _kept(rows: list[Row], again: list[str]) -> str:
    """The table as it is kept now: of these rows, or, where benchmarks were run ``again`` by their names, with these in
    the place of those of before."""
    path = ROOT / "bench" / "last.md"
    machine = f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}"
    head = f"{date.today()}, {machine}. Made by `./zevlo bench`."
    lines = [f"| {' | '.join(row)} |" for row in rows]
    if again:
        before = path.read_text().splitlines()
        head = f"{before[2]} Run again on {date.today()}: {', '.join(again)}."
        measured = {_what(line): line for line in lines}
        stay = [line for line in before[6:] if _what(line) not in again]
        lines = [measured.pop(_what(line), line) for line in stay] + list(measured.values())
    table = ["| what | ours | reference | ratio | wanted |", "|---|---|---|---|---|", *lines]
    text = "\n".join(["# Last benchmark", "", head, "", *table, ""])
    path.write_text(text)
    return text


def _what(line: str) -> str:
    """What a line of the table is about, without the numbers that come out otherwise each time."""
    return re.sub(r"[\d,.]+", "0", line.split("|")[1]).strip()


def main() -> int:
    benchmarks = {
        "live_loop": live_loop,
        "laws": laws,
        "socket": socket,
        "desk": desk,
        "imports": imports,
        "large": large,
        "foreign": foreign,
        "set_room": set_room,
        "many": many,
        "proof": proof,
        "stack": stack,
        "finals": finals,
        "beside": beside,
        "papers": papers,
    }
    parser = argparse.ArgumentParser(
        prog="zevlo bench", description="The benchmarks, each against its reference in the same run.",
        epilog="Without names all are run, for most of an hour, and bench/last.md is written; else those rows of it.",
    )  # fmt: skip
    parser.add_argument("name", nargs="*", choices=[[], *benchmarks], help=f"of {', '.join(benchmarks)}")
    chosen: list[str] = parser.parse_args().name
    rows: list[Row] = []
    for name in chosen or benchmarks:
        try:
            rows += benchmarks[name]()
        except Exception as broke:
            # The others take the better part of an hour: they are not lost for one.
            traceback.print_exc()
            rows.append((name, f"broke: {type(broke).__name__}", "", "", ""))
        print(*("  ".join(row) for row in rows[-8:]), sep="\n", flush=True)
    print(_kept(rows, again=chosen))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
