"""What tiles, workers and the database cost a final, beside the renderer alone; and the memory of who closes one."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import uuid
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import get_args

import numpy as np
from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

from serving import demo_database
from zevlo.core.finals.order import Formats, Layer
from zevlo.core.finals.pieces import tiles_of
from zevlo.core.finals.quality import Quality
from zevlo.core.finals.recipe import Recipe
from zevlo.core.framing.solve import solve
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import LIGHT, SHOTS
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.lab.proof import passes_for
from zevlo.start import end_with_parent
from zevlo.store import prints
from zevlo.store.database import engine_for, transaction
from zevlo.store.jobs import enqueue_due, take_back
from zevlo.store.prints import merged_of, order_proof, recipe_of
from zevlo.store.tables import Piece, Print, ShotRow

Row = tuple[str, str, str, str, str]
SIZE, SAMPLES, BOUNCES = (750, 500), 64, 6
LARGE = {"4K": (3840, 2160), "8K": (7680, 4320)}
HEAVIEST = Formats(png=16, exr="float", layers=get_args(Layer))
MOST_MB = {"4K": 1536, "8K": 3072}


def _ordered(
    session: Session, shot: Shot, size: tuple[int, int], samples: int, formats: Formats, stack: tuple[float, ...] = ()
) -> uuid.UUID:
    row = session.scalars(select(ShotRow)).first()
    assert row is not None
    row.settings = shot.as_json()
    entry = order_proof(session, row.id)
    quality = Quality(name="draft", words="all of it", least=samples, samples=samples, bounces=BOUNCES, noise=1e-6)
    recipe = recipe_of(entry).model_copy(
        update={
            "size_px": size,
            "samples": samples,
            "quality": quality,
            "formats": formats,
            "called": "final",
            "stack": stack,
        }
    )
    recipe = Recipe.model_validate(recipe.model_dump(mode="json"))
    entry.kind, entry.recipe = "final", recipe.model_dump(mode="json", by_alias=True)
    entry.pieces = []
    take_back(session, [entry.id])
    prints.put_pieces(session, {entry.id: recipe})
    enqueue_due(session, [entry.id])
    return entry.id


@contextmanager
def _workers(url: str, count: int) -> Iterator[list[int]]:
    """So many workers as ./zevlo start runs them; their processes."""
    environment = {**os.environ, "ZEVLO_DATABASE_URL": url}
    with ExitStack() as running:
        started = [
            running.enter_context(
                subprocess.Popen(
                    [sys.executable, "-m", "zevlo.cli", "worker"], env=environment, preexec_fn=end_with_parent
                )
            )
            for _ in range(count)
        ]
        try:
            yield [one.pid for one in started]
        finally:
            for one in started:
                one.terminate()


def _passes_done(engine: Engine, key: uuid.UUID) -> int:
    with transaction(engine) as session:
        done = select(func.sum(Piece.samples[0].as_integer())).where(Piece.print_id == key, Piece.grain.is_not(None))
        return session.scalar(done) or 0


def _speed(
    engine: Engine, url: str, workers: int, shot: Shot = SHOTS[1], samples: int = SAMPLES, stack: tuple[float, ...] = ()
) -> float:
    """Samples a second of a final's pixels, from when every worker had its program compiled to the last tile's last."""
    with transaction(engine) as session:
        key = _ordered(session, shot, SIZE, samples, Formats(), stack)
    tiles = len(tiles_of(SIZE))
    begun: tuple[float, int] | None = None
    with _workers(url, workers):
        while True:
            done = _passes_done(engine, key)
            if begun is None and done >= 8 * tiles:
                begun = time.perf_counter(), done
            if begun is not None and done >= samples * tiles:
                taken = time.perf_counter() - begun[0]
                break
            time.sleep(0.05)
        while _state(engine, key) != "done":
            time.sleep(0.2)
    return (done - begun[1]) * SIZE[0] * SIZE[1] / tiles / taken


def _state(engine: Engine, key: uuid.UUID) -> str:
    with transaction(engine) as session:
        entry = session.get_one(Print, key)
        assert entry.state not in ("failed", "cancelled"), entry.trouble
        return entry.state


def _alone() -> float:
    """Rays a second of the renderer on the same scene, its program compiled before."""
    from zevlo.lab.renderer import MitsubaRenderer

    renderer = MitsubaRenderer(in_world(from_bytes(pottery_glb())), LIGHT, (), BOUNCES)
    plan = passes_for(SAMPLES, SIZE[0] * SIZE[1])
    passes = renderer.passes(SHOTS[1], SIZE, plan, 1)
    next(passes)
    started = time.perf_counter()
    count = sum(1 for _ in passes)
    return SIZE[0] * SIZE[1] * plan[0] * count / (time.perf_counter() - started)


def _memory(engine: Engine, url: str, size: tuple[int, int]) -> float:
    """The most memory a worker had in MB that made and closed a final of a size, in the files that need most."""
    up = SHOTS[0].stand.model_copy(
        update={"aim": tuple(a + b for a, b in zip(SHOTS[0].stand.position, (0, 3, 9), strict=True))}
    )
    with transaction(engine) as session:
        key = _ordered(session, SHOTS[0].with_groups(stand=up), size, 8, HEAVIEST)
    with _workers(url, 1) as (process,):
        while _state(engine, key) != "done":
            time.sleep(0.2)
        found = Path(f"/proc/{process}/status").read_text()
        return float(next(line.split()[1] for line in found.splitlines() if line.startswith("VmHWM"))) / 1024


def _solving(seconds: float) -> float:
    """The 95th percentile of a full solve with drawings as a hand drags, thirty a second, in ms."""
    working = WorkingSet(in_world(from_bytes(pottery_glb())))
    shot, times, began, n = SHOTS[1], [], time.perf_counter(), 0
    x, y, z = shot.stand.position
    solve(shot, working)
    while time.perf_counter() - began < seconds:
        n += 1
        moved = shot.model_copy(
            update={"stand": shot.stand.model_copy(update={"position": (x - 0.005 * (n % 200), y, z)})}
        )
        started = time.perf_counter()
        solve(moved, working).model_dump_json()
        times.append(time.perf_counter() - started)
        time.sleep(max(0.0, 1.0 / 30.0 - times[-1]))
    return float(np.percentile(times[10:], 95)) * 1000.0


def beside() -> list[Row]:
    """The live loop while a worker makes a final on the same machine, against the same alone."""
    alone = _solving(15.0)
    with demo_database() as url:
        engine = engine_for(url)
        with transaction(engine) as session:
            key = _ordered(session, SHOTS[1], (3000, 2000), SAMPLES, Formats())
        with _workers(url, 1):
            while _passes_done(engine, key) < 8 * 4:
                time.sleep(0.2)
            busy = _solving(15.0)
        engine.dispose()
    what, reference = "Solve with drawings beside a running final, p95", f"alone {alone:.1f} ms"
    return [(what, f"{busy:.1f} ms", reference, f"{busy / alone:.2f}", "under 1.5")]


def _of_a_stack(engine: Engine, url: str) -> Row:
    """A final of the demonstration's stack by one worker, against as many finals of one picture each."""
    shot = next(one for one in SHOTS if one.focus.stack is not None)
    pictures = merged_of(shot)
    samples = SAMPLES // 2
    single = _speed(engine, url, 1, shot, samples)
    merged = _speed(engine, url, 1, shot, samples, pictures)
    return (
        f"A final of {SIZE[0]} × {SIZE[1]} at {samples} of a stack of {len(pictures)}, samples a second",
        f"{merged / 1e6:.2f} M",
        f"{len(pictures)} finals one after the other {single / len(pictures) / 1e6:.2f} M",
        f"{merged / single * len(pictures):.2f}",
        "over 2",
    )


def finals() -> list[Row]:
    """A final by one worker and by two, against the renderer alone; and what closing a large one takes."""
    alone = _alone()
    with demo_database() as url:
        engine = engine_for(url)
        one, two = (_speed(engine, url, workers) for workers in (1, 2))
        merged = _of_a_stack(engine, url)
        memory = {name: _memory(engine, url, size) for name, size in LARGE.items()}
        engine.dispose()
    what, both = f"A final of {SIZE[0]} × {SIZE[1]} at {SAMPLES}, rays a second", "The same by two workers on two cores"
    closing = "A worker that makes and closes {}, memory"
    return [
        (what, f"{one / 1e6:.2f} M", f"the renderer alone {alone / 1e6:.2f} M", f"{one / alone:.2f}", "over 0.9"),
        (both, f"{two / 1e6:.2f} M", f"by one {one / 1e6:.2f} M", f"{two / one:.2f}", "over 0.95"),
        merged,
        *(
            (closing.format(name), f"{used:.0f} MB", f"{MOST_MB[name]} MB", f"{used / MOST_MB[name]:.2f}", "under 1")
            for name, used in memory.items()
        ),
    ]
