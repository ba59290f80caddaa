"""The one door every model comes through: read in a process of its own, with limits it cannot exceed.

A file that crashes its reader, or makes it swell, takes that process down and nothing else.
"""

from __future__ import annotations

import json
import resource
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zevlo.files.reading import Progress, unheard
from zevlo.files.refusal import CannotRead

DEFAULT_SIZE_LIMIT = 512 * 1024 * 1024
TIME_LIMIT_S = 600
MEMORY_LIMIT = 8 * 1024**3
_REFUSED = 3


@dataclass(frozen=True)
class Taken:
    """A model that came through, as files that are there while the door is open: packed arrays, the GLB files the
    desk draws, the textures by the name of their content, and what the file told of itself."""

    source: Path
    arrays: Path
    views: tuple[Path, ...]
    pictures: tuple[Path, ...]
    summary: dict[str, Any]


@contextmanager
def take_in(
    source: Path,
    name: str,
    size_limit: int = DEFAULT_SIZE_LIMIT,
    time_limit_s: float = TIME_LIMIT_S,
    memory_limit: int = MEMORY_LIMIT,
    progress: Progress = unheard,
    stop: threading.Event | None = None,
) -> Iterator[Taken]:
    """Read a model in a process of its own. Raises :class:`CannotRead` with the reason.

    ``stop`` set from another thread gives the reading up.
    """
    size = source.stat().st_size
    if size > size_limit:
        raise CannotRead(
            f"The file is {size / 1024**2:.0f} MB; up to {size_limit / 1024**2:.0f} MB are taken. "
            "Leave out what no shot sees, or make the textures smaller."
        )
    with tempfile.TemporaryDirectory(prefix="zevlo-door-") as folder:
        room = Path(folder)
        command = [
            sys.executable, "-m", "zevlo.files.door",
            str(source), name, str(room), str(memory_limit), str(int(time_limit_s) + 1),
        ]  # fmt: skip
        _watch(command, room / "trouble", time_limit_s, memory_limit, progress, stop or threading.Event())
        summary = json.loads((room / "summary.json").read_text())
        views = tuple(sorted(room.glob("view-*.glb")))
        yield Taken(source, room / "arrays", views, tuple(sorted(room.glob("picture-*"))), summary)


def _watch(
    command: list[str], trouble: Path, time_limit_s: float, memory_limit: int, progress: Progress, stop: threading.Event
) -> None:
    """Follow the reader to its end; raise :class:`CannotRead` where that is not a good one."""
    with trouble.open("wb") as errors:
        reader = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=errors, stdin=subprocess.DEVNULL)
    ended = threading.Event()
    late: list[bool] = []

    def guard() -> None:
        began = time.monotonic()
        while not ended.wait(0.05):
            if stop.is_set() or time.monotonic() - began > time_limit_s:
                late.append(not stop.is_set())
                reader.kill()
                return

    watching = threading.Thread(target=guard, daemon=True)
    watching.start()
    refusal = None
    try:
        assert reader.stdout is not None
        for line in reader.stdout:
            try:
                told = json.loads(line)
            except json.JSONDecodeError:
                continue  # a library's own chatter
            if "refused" in told:
                refusal = str(told["refused"])
            elif "doing" in told:
                progress(str(told["doing"]), told.get("share"))
        code = reader.wait()
    finally:
        ended.set()
        reader.kill()
        reader.wait()
    watching.join()
    if stop.is_set():
        raise CannotRead("Given up, as you asked. Nothing was changed.")
    if late:
        raise CannotRead(
            f"The model took longer than {time_limit_s:.0f} s to read and was given up. Try a simpler export."
        )
    if refusal is not None:
        raise CannotRead(refusal)
    if code != 0:
        raise CannotRead(_why(code, trouble.read_text("utf-8", "replace"), memory_limit))


def _why(code: int, trouble: str, memory_limit: int) -> str:
    if "MemoryError" in trouble or "bad_alloc" in trouble or "Cannot allocate" in trouble or code == -signal.SIGKILL:
        return f"The model needs more than {memory_limit / 1024**3:.1f} GB to read. Simplify it first."
    if code == -signal.SIGXCPU:
        return "The model took too long to read and was given up. Try a simpler export."
    last = trouble.strip().splitlines()[-1:] or ["no message"]
    return f"The file is broken in a way the reader did not expect ({last[0][:200]})."


def _tell(doing: str, share: float | None) -> None:
    print(json.dumps({"doing": doing, "share": share}), flush=True)


def _read(source: Path, name: str, room: Path) -> None:
    from zevlo.files.arrays import pack_set
    from zevlo.files.reading import Arrival
    from zevlo.files.recognise import read_model
    from zevlo.files.summary import summary_of
    from zevlo.files.view import origin_of, picture_name, view_files

    started = time.perf_counter()
    _tell("looking at the file", None)
    read = read_model(Arrival(source, name), room / "unpacked", _tell)
    summary = summary_of(read, 0.0)
    _tell("storing the geometry", None)
    with (room / "arrays").open("wb") as file:
        pack_set(read.model, file)
    for raw in read.model.pictures:
        (room / f"picture-{picture_name(raw)}").write_bytes(raw)
    origin = origin_of(read.model)
    drawn = 0
    for number, (view, triangles) in enumerate(view_files(read.model, origin)):
        (room / f"view-{number:05d}.glb").write_bytes(view)
        drawn += triangles
        _tell("making what is drawn", min(1.0, drawn / len(read.model.faces)))
    summary.update(drawn=drawn, view_origin=origin.tolist(), seconds=round(time.perf_counter() - started, 3))
    (room / "summary.json").write_text(json.dumps(summary))


def _main(source: str, name: str, room: str, memory: str, seconds: str) -> int:
    resource.setrlimit(resource.RLIMIT_AS, (int(memory), int(memory)))
    resource.setrlimit(resource.RLIMIT_CPU, (2 * int(seconds), 2 * int(seconds)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        _read(Path(source), name, Path(room))
    except CannotRead as refusal:
        print(json.dumps({"refused": str(refusal)}), flush=True)
        return _REFUSED
    return 0


if __name__ == "__main__":
    raise SystemExit(_main(*sys.argv[1:6]))
