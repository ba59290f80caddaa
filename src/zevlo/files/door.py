"""The one door every model comes through: read in a process of its own, with limits it cannot exceed.

A file that crashes its reader, or makes it swell, takes that process down and nothing else.
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

from zevlo.files.refusal import CannotRead

DEFAULT_SIZE_LIMIT = 256 * 1024 * 1024
TIME_LIMIT_S = 180
MEMORY_LIMIT = 8 * 1024**3


@dataclass(frozen=True)
class Taken:
    """A model that came through: packed arrays, the GLB the desk draws, and what the file told of itself."""

    arrays: bytes
    view: bytes
    summary: dict[str, object]


def take_in(
    data: bytes,
    size_limit: int = DEFAULT_SIZE_LIMIT,
    time_limit_s: float = TIME_LIMIT_S,
    memory_limit: int = MEMORY_LIMIT,
) -> Taken:
    """Read a model in a process of its own. Raises :class:`CannotRead` with the reason."""
    if len(data) > size_limit:
        raise CannotRead(
            f"The file is {len(data) / 1024**2:.0f} MB; up to {size_limit / 1024**2:.0f} MB are taken. "
            "Leave out what no shot sees, or make the textures smaller."
        )
    with tempfile.TemporaryDirectory(prefix="zevlo-door-") as folder:
        room = Path(folder)
        (room / "model").write_bytes(data)
        command = [sys.executable, "-m", "zevlo.files.door", str(room), str(memory_limit), str(int(time_limit_s) + 1)]
        try:
            done = subprocess.run(command, capture_output=True, timeout=time_limit_s, check=False)
        except subprocess.TimeoutExpired:
            raise CannotRead(
                f"The model took longer than {time_limit_s:.0f} s to read and was given up. Try a simpler export."
            ) from None
        if done.returncode == 3:
            raise CannotRead(done.stdout.decode("utf-8", "replace").strip())
        if done.returncode != 0:
            raise CannotRead(_why(done.returncode, done.stderr.decode("utf-8", "replace"), memory_limit))
        summary = json.loads((room / "summary.json").read_text())
        return Taken((room / "arrays").read_bytes(), (room / "view.glb").read_bytes(), summary)


def _why(code: int, trouble: str, memory_limit: int) -> str:
    if "MemoryError" in trouble or "bad_alloc" in trouble or code in (-9, -6):
        return f"The model needs more than {memory_limit / 1024**3:.1f} GB to read. Simplify it first."
    last = trouble.strip().splitlines()[-1:] or ["no message"]
    return f"The file is broken in a way the reader did not expect ({last[0][:200]})."


def _read(room: Path) -> None:
    from zevlo.files.arrays import pack_set
    from zevlo.files.gltf import read_gltf

    started = time.perf_counter()
    read = read_gltf((room / "model").read_bytes())
    (room / "arrays").write_bytes(pack_set(read.model))
    (room / "view.glb").write_bytes(read.view)
    low, high = read.model.bounds.tolist()
    summary = {
        "triangles": len(read.model.faces),
        "bounds": [low, high],
        "parts": [{"name": p.name, "parent": p.parent, "triangles": p.face_count} for p in read.model.parts],
        "materials": len(read.model.materials) - 1,
        "textures": len(read.model.pictures),
        "seconds": round(time.perf_counter() - started, 3),
    }
    (room / "summary.json").write_text(json.dumps(summary))


def _main(folder: str, memory: str, seconds: str) -> int:
    resource.setrlimit(resource.RLIMIT_AS, (int(memory), int(memory)))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        _read(Path(folder))
    except CannotRead as refusal:
        sys.stdout.write(str(refusal))
        return 3
    return 0


if __name__ == "__main__":
    raise SystemExit(_main(*sys.argv[1:4]))
