"""The process a file is read in, the sandbox: it can use no more than it was given, and may fall.

What only some files need is loaded when it is needed: most of a small model's time is the start of its reader.
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
from pathlib import Path
from typing import Any

from zevlo.files.reading import Progress
from zevlo.files.refusal import CannotRead
from zevlo.text import everywhere
from zevlo.text import models as say

REFUSED = 3
"""How it ends where it told why a file cannot be read."""


class _Teller:
    """The reader's end of the pipe to its watcher."""

    def __init__(self, pipe: int) -> None:
        self._out = os.fdopen(pipe, "w", encoding="utf-8")

    def doing(self, what: str, share: float | None) -> None:
        self._line({"doing": what, "share": share})

    def refused(self, why: str) -> None:
        self._line({"refused": why})

    def _line(self, message: dict[str, Any]) -> None:
        print(json.dumps(message), file=self._out, flush=True)


def _read_cameras(source: Path, name: str, room: Path) -> None:
    import numpy as np

    from zevlo.core.exchange.camera_record import PASSED, NoCamera
    from zevlo.core.exchange.receiver import Receiver
    from zevlo.files.cameras.formats import read_cameras

    world = json.loads((room / "world.json").read_text())
    placing = np.array(world["placing"]) if "placing" in world else None
    named = room / f"given-{len(name)}{''.join(Path(name).suffixes[-2:])}"
    named.symlink_to(source)
    try:
        receiver = Receiver(world["unit"], world["up"], placing)
        found = read_cameras(named, receiver, name, in_the_model=world["in_the_model"])
    except NoCamera as reason:
        raise CannotRead(str(reason)) from reason
    (room / "cameras.json").write_text(json.dumps(PASSED.dump_python(found)))


def _read(source: Path, name: str, room: Path, tell: Progress) -> None:
    from zevlo.files.arrays import pack_set
    from zevlo.files.reading import Arrival
    from zevlo.files.recognise import read_model
    from zevlo.files.summary import summary_of
    from zevlo.files.view import origin_of, picture_name, view_files

    started = time.perf_counter()
    tell(everywhere.LOOKING_AT_THE_FILE, None)
    read = read_model(Arrival(source, name), room / "unpacked", tell)
    summary = summary_of(read, 0.0)
    tell(say.STORING_THE_GEOMETRY, None)
    with (room / "arrays").open("wb") as file:
        pack_set(read.model, file)
    for raw in read.model.pictures:
        (room / f"picture-{picture_name(raw)}").write_bytes(raw)
    origin = origin_of(read.model)
    drawn = 0
    for number, (view, triangles) in enumerate(view_files(read.model, origin)):
        (room / f"view-{number:05d}.glb").write_bytes(view)
        drawn += triangles
        tell(say.MAKING_WHAT_IS_DRAWN, min(1.0, drawn / len(read.model.faces)))
    summary.update(drawn=drawn, view_origin=origin.tolist(), seconds=round(time.perf_counter() - started, 3))
    (room / "summary.json").write_text(json.dumps(summary))


def _main(what: str, source: str, name: str, room: str, pipe: str, memory: str, seconds: str, written: str) -> int:
    resource.setrlimit(resource.RLIMIT_AS, (int(memory), int(memory)))
    resource.setrlimit(resource.RLIMIT_CPU, (2 * int(seconds), 2 * int(seconds)))
    resource.setrlimit(resource.RLIMIT_FSIZE, (int(written), int(written)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    teller = _Teller(int(pipe))
    try:
        if what == "cameras":
            _read_cameras(Path(source), name, Path(room))
        else:
            _read(Path(source), name, Path(room), teller.doing)
    except CannotRead as refusal:
        teller.refused(str(refusal))
        return REFUSED
    return 0


if __name__ == "__main__":
    raise SystemExit(_main(*sys.argv[1:9]))
