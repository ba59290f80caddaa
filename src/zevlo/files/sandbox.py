"""The sandbox every model is read in: a process of its own, with limits it cannot exceed.

A file that crashes its reader, or makes it swell, takes that process down and nothing else.
"""

from __future__ import annotations

import ctypes
import json
import logging
import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zevlo.core.exchange.camera_record import PASSED, Found
from zevlo.core.exchange.receiver import Receiver
from zevlo.files.limits import (
    CAMERAS_MEMORY_LIMIT,
    CAMERAS_TIME_LIMIT_S,
    DEFAULT_SIZE_LIMIT,
    MEMORY_LIMIT,
    MOST_WRITTEN,
    MOST_WRITTEN_CAMERAS,
    TIME_LIMIT_S,
)
from zevlo.files.reading import Progress, unheard
from zevlo.files.refusal import CannotRead
from zevlo.files.scratch import scratch
from zevlo.text import models as say

_PR_SET_PDEATHSIG = 1
_TROUBLE_KEPT = 100_000
_KEPT = ("PATH", "PYTHONPATH", "LANG", "LC_ALL", "NUMBA_CACHE_DIR", "ZEVLO_LANGUAGE")
log = logging.getLogger("zevlo.files")


@dataclass(frozen=True)
class ImportedModel:
    """A model that was read, as files that are there while the sandbox is open: packed arrays, the GLB files the
    desk draws, the textures by the name of their content, and what the file told of itself."""

    source: Path
    arrays: Path
    views: tuple[Path, ...]
    pictures: tuple[Path, ...]
    summary: dict[str, Any]


@contextmanager
def import_model(
    source: Path,
    name: str,
    size_limit: int = DEFAULT_SIZE_LIMIT,
    time_limit_s: float = TIME_LIMIT_S,
    memory_limit: int = MEMORY_LIMIT,
    progress: Progress = unheard,
    stop: threading.Event | None = None,
    written_limit: int = MOST_WRITTEN,
) -> Iterator[ImportedModel]:
    """Read a model in a process of its own. Raises :class:`CannotRead` with the reason.

    ``stop`` set from another thread gives the reading up.

    ``source``, ``name``: the file and what it is called; ``size_limit``, ``memory_limit``, ``written_limit``: in bytes;
    ``time_limit_s``: in seconds; ``progress``: told how far it is."""
    size = source.stat().st_size
    if size > size_limit:
        raise CannotRead(too_large(size, size_limit))
    with scratch("sandbox") as room:
        limits = Limits(time_limit_s, memory_limit, written_limit)
        # The reader works in a folder of its own: it needs the whole way to the file.
        _watch(["model", str(source.absolute()), name, str(room)], room, limits, progress, stop or threading.Event())
        summary = json.loads((room / "summary.json").read_text())
        views = tuple(sorted(room.glob("view-*.glb")))
        yield ImportedModel(source, room / "arrays", views, tuple(sorted(room.glob("picture-*"))), summary)


def import_cameras(
    source: Path, name: str, receiver: Receiver, stop: threading.Event | None = None, *, in_the_model: bool = False
) -> Found:
    """The cameras of a file, read in a process of its own. Raises :class:`CannotRead` with the reason.

    ``receiver``: the world of a file that does not say its own; ``stop`` set from another thread gives it up;
    ``in_the_model``: the file is the model whose placing the receiver has.

    ``source``, ``name``: the file and what it is called."""
    with scratch("sandbox") as room:
        world = {"unit": receiver.metres_per_unit, "up": receiver.up, "in_the_model": in_the_model}
        if receiver.placing is not None:
            world["placing"] = receiver.placing.tolist()
        (room / "world.json").write_text(json.dumps(world))
        limits = Limits(CAMERAS_TIME_LIMIT_S, CAMERAS_MEMORY_LIMIT, MOST_WRITTEN_CAMERAS)
        _watch(["cameras", str(source.absolute()), name, str(room)], room, limits, unheard, stop or threading.Event())
        document = json.loads((room / "cameras.json").read_text())
    return PASSED.validate_python(document)


def too_large(size: int | None, limit: int) -> str:
    """Why a file of that many bytes is not taken; None where it is not known yet how many they are."""
    size_words = say.MORE_THAN_THAT if size is None else f"{size / 1024**2:.0f} MB"
    return say.the_file_is_up_to_mb(size_words, limit / 1024**2)


@dataclass(frozen=True)
class Limits:
    """What a reader may use: seconds, bytes of memory, bytes it writes."""

    seconds: float
    memory: int
    written: int


def _clean_environment(room: Path) -> dict[str, str]:
    """What a reader needs and nothing else: no address of the database, no word of whoever started the server."""
    kept = {name: os.environ[name] for name in _KEPT if name in os.environ}
    return {"LANG": "C.UTF-8", **kept, "HOME": str(room), "TMPDIR": str(room), "OMP_NUM_THREADS": "2"}


def _end_with_server() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)


def _watch(what: list[str], room: Path, limits: Limits, progress: Progress, stop: threading.Event) -> None:
    """Follow the reader to its end; raise :class:`CannotRead` where that is not a good one.

    What it tells comes through a pipe of its own: libraries print whatever they like on the usual ones.
    """
    heard, telling = os.pipe()
    command = [
        sys.executable, "-m", "zevlo.files.reader", *what,
        str(telling), str(limits.memory), str(int(limits.seconds) + 1), str(limits.written),
    ]  # fmt: skip
    trouble = room / "trouble"
    try:
        with trouble.open("wb") as errors:
            reader = subprocess.Popen(
                command, stdout=errors, stderr=errors, stdin=subprocess.DEVNULL, pass_fds=[telling], cwd=room,
                env=_clean_environment(room), preexec_fn=_end_with_server,
            )  # fmt: skip
    except BaseException:
        os.close(heard)
        raise
    finally:
        os.close(telling)
    ended = threading.Event()
    reasons: list[str] = []

    def guard() -> None:
        began, looked = time.monotonic(), 0
        while not ended.wait(0.05):
            looked += 1
            if stop.is_set():
                reasons.append(say.GIVEN_UP_AS_YOU_ASKED)
            elif time.monotonic() - began > limits.seconds:
                reasons.append(say.the_file_took_longer(limits.seconds))
            elif looked % 10 == 0 and _written(room) > limits.written:
                reasons.append(_too_much_written(limits.written))
            if reasons:
                reader.kill()
                return

    watching = threading.Thread(target=guard, daemon=True)
    watching.start()
    refusal = None
    try:
        with os.fdopen(heard, "rb") as lines:
            for line in lines:
                message = json.loads(line)
                if "refused" in message:
                    refusal = str(message["refused"])
                else:
                    progress(str(message["doing"]), message.get("share"))
        code = reader.wait()
    finally:
        ended.set()
        reader.kill()
        reader.wait()
    watching.join()
    if reasons:
        raise CannotRead(reasons[0])
    if refusal is not None:
        raise CannotRead(refusal)
    if code != 0:
        raise CannotRead(why_it_ended(code, trouble.read_bytes()[-_TROUBLE_KEPT:].decode("utf-8", "replace"), limits))


def _written(room: Path) -> int:
    return sum(path.stat().st_size for path in room.rglob("*") if path.is_file())


def _too_much_written(limit: int) -> str:
    return say.the_file_unpacks_to_more_than_gb(limit / 1024**3)


def why_it_ended(code: int, trouble: str, limits: Limits) -> str:
    """Why a reader ended with a code that is not zero, in the artist's words; ``trouble`` is what it printed."""
    if "MemoryError" in trouble or "bad_alloc" in trouble or "Cannot allocate" in trouble or code == -signal.SIGKILL:
        return say.the_file_needs_more_than_gb(limits.memory / 1024**3)
    if code == -signal.SIGXCPU:
        return say.THE_FILE_TOOK_TOO
    if code == -signal.SIGXFSZ or "File too large" in trouble:
        return _too_much_written(limits.written)
    if "No space left" in trouble:
        return say.THE_SERVERS_DISK_IS_FULL
    log.warning("a reader ended with %s: %s", code, trouble.strip()[-2000:])
    if code < 0:
        return say.BROKEN_ITS_READER
    return say.BROKEN_WHAT_WAS_READ
