"""``./zevlo convert``: shots between JSON, glTF, OpenUSD, CSV and XLSX, without a server or a database."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import Any

from zevlo.core.exchange.carried import NoCamera, Receiver, carried_of, taken
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.placing import UNITS_M, matrix_of
from zevlo.files.cameras.formats import FORMATS, read_cameras, write_cameras
from zevlo.files.refusal import CannotRead
from zevlo.questions import CannotAnswer, set_of


def add_command(commands: Any) -> None:
    """The command, with all it may be told."""
    every = ", ".join(ending for one in FORMATS for ending in one.endings)
    converting = commands.add_parser("convert", help="take shots from one kind of file to another")
    converting.add_argument("source", type=Path, help=f"a file of cameras: {every}")
    converting.add_argument("out", type=Path, help="the file that is made; its ending says of what kind")
    ends = {"from": "a source that does not say it", "to": "what is made, where its kind leaves it open"}
    for end, whose in ends.items():
        converting.add_argument(f"--{end}-unit", choices=sorted(UNITS_M), default="m", help=f"unit of {whose} (m)")
        converting.add_argument(f"--{end}-up", choices=("y", "z"), default="z", help=f"upright axis of {whose} (z)")
    converting.add_argument("--set", type=Path, help="a model: what is made stands in its own unit, axes and origin")
    converting.add_argument("--with-set", action="store_true", help="take that model along, in a .glb")
    for option in ("unit", "up", "turn"):
        words = f"the {option} that model was corrected to, as for solve"
        converting.add_argument(f"--{option}", help=words, type=float if option == "turn" else str)


def convert(chosen: argparse.Namespace) -> int:
    """Take shots from one file to another; exit code 2 with one line for what cannot be."""
    try:
        for words in _converted(chosen):
            print(f"zevlo convert: {words}", file=sys.stderr)
    except (NoCamera, CannotRead, CannotAnswer) as reason:
        print(f"zevlo convert: {' '.join(str(reason).split())}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"zevlo convert: {error.filename}: {error.strerror}", file=sys.stderr)
        return 2
    return 0


def _converted(chosen: argparse.Namespace) -> list[str]:
    if not chosen.source.is_file():
        raise NoCamera(f"{chosen.source}: there is no such file")
    if not chosen.out.absolute().parent.is_dir():
        raise NoCamera(f"{chosen.out}: there is no such folder")
    receiver, model = Receiver(UNITS_M[chosen.to_unit], chosen.to_up), None
    if chosen.with_set and chosen.set is None:
        raise NoCamera("--with-set: name the model with --set")
    if chosen.set is not None:
        read, placing = set_of(chosen)
        if chosen.with_set:
            model = arranged(read, Arrangement(placing=placing))
        receiver = Receiver(placing.metres_per_unit, placing.up, matrix_of(placing))
    shots = [taken(one) for one in read_cameras(chosen.source, Receiver(UNITS_M[chosen.from_unit], chosen.from_up))]
    words = [f"{one.shot.name}: {what}" for one in shots for what in one.words]
    part = chosen.out.with_name(f".part-{chosen.out.name}")
    try:
        lost = write_cameras([carried_of(one.shot, one.key) for one in shots], part, receiver, model)
        part.replace(chosen.out)
    finally:
        part.unlink(missing_ok=True)
    return words + lost
