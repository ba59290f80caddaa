"""``./zevlo convert``: shots between JSON, glTF, OpenUSD, CSV and XLSX, without a server or a database."""

from __future__ import annotations

import argparse
import sys
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

from zevlo.core.exchange.camera_record import Found, NoCamera, Unread, camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.exchange.shot_from_camera import taken
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.model.placing import UNITS_M, matrix_of
from zevlo.files.cameras.formats import FORMATS, format_of, read_cameras, write_cameras
from zevlo.files.limits import CAMERAS_SIZE_LIMIT
from zevlo.files.refusal import CannotRead
from zevlo.questions import CannotAnswer, add_placing, set_of

_ENDINGS = tuple(ending for one in FORMATS for ending in one.endings)


def _parser() -> argparse.ArgumentParser:
    """What the command may be told."""
    every = ", ".join(_ENDINGS)
    parser = argparse.ArgumentParser(
        prog="zevlo convert", description="Takes shots from one kind of file to another.",
        epilog="Exit code 1: written, but for the cameras that are told; 2: nothing was written.",
    )  # fmt: skip
    parser.add_argument("source", help=f"a file of cameras ({every}), or - for standard input")
    parser.add_argument("out", help="the file that is made, by its ending of what kind; or - for standard output")
    ends = {"from": "a source that does not say it", "to": "what is made, where its kind leaves it open"}
    for end, whose in ends.items():
        parser.add_argument(f"--{end}-unit", choices=sorted(UNITS_M), default="m", help=f"unit of {whose} (m)")
        parser.add_argument(f"--{end}-up", choices=("y", "z"), default="z", help=f"upright axis of {whose} (z)")
    for end, flow in (("from", "standard input"), ("to", "standard output")):
        words = f"the ending of the kind {flow} has, as .csv"
        parser.add_argument(f"--{end}-kind", choices=_ENDINGS, metavar=".KIND", help=words)
    parser.add_argument("--set", type=Path, help="a model: what is made stands in its own unit, axes and origin")
    parser.add_argument("--from-set", action="store_true", help="the source stands in those of that model too")
    parser.add_argument("--with-set", action="store_true", help="take that model along, in a .glb")
    add_placing(parser)
    return parser


PIPE = "-"


def run(_: str, arguments: list[str]) -> int:
    """Take shots from one file to another. Exit code 2 with one line for what cannot be; 1 where some cameras could
    not be taken, and the others were."""
    chosen = _parser().parse_args(arguments)
    try:
        done = _converted(chosen)
    except (NoCamera, CannotRead, CannotAnswer) as reason:
        _say(str(reason))
        return 2
    except OSError as error:
        _say(f"{error.filename}: {error.strerror}")
        return 2
    for words in (*done.refused, *done.words):
        _say(words)
    return 1 if done.refused else 0


def _say(words: str) -> None:
    print(f"zevlo convert: {' '.join(words.split())}", file=sys.stderr)


@dataclass(frozen=True)
class _Done:
    words: list[str]
    """What the file that was made does not say."""
    refused: list[str]
    """Cameras that are not in it, and why."""


def _converted(chosen: argparse.Namespace) -> _Done:
    out = _out_name(chosen)
    receiver, model = Receiver(UNITS_M[chosen.to_unit], chosen.to_up), None
    giver = Receiver(UNITS_M[chosen.from_unit], chosen.from_up)
    for option in ("with_set", "from_set"):
        if getattr(chosen, option) and chosen.set is None:
            raise NoCamera(f"--{option.replace('_', '-')}: name the model with --set")
    if chosen.set is not None:
        read, placing = set_of(chosen)
        if chosen.with_set:
            model = arranged(read, Arrangement(placing=placing))
        receiver = Receiver(placing.metres_per_unit, placing.up, matrix_of(placing))
        giver = receiver if chosen.from_set else giver
    shots, words, refused = [], [], []
    for camera in _source(chosen, giver):
        if isinstance(camera, Unread):
            refused.append(f"{camera.name} is left out: it {camera.why}")
            continue
        try:
            shots.append(one := taken(camera))
            words += [f"{one.shot.name}: {what}" for what in one.words]
        except NoCamera as reason:
            refused.append(f"{camera.name} is left out: {reason}")
    if not shots:
        raise NoCamera("; ".join(refused))
    cameras = [camera_record_of(one.shot, one.key, format_of(out).says) for one in shots]
    # Written under its own name, which some kinds tell in the file, in a folder beside where it goes.
    where = None if chosen.out == PIPE else Path(chosen.out).absolute().parent
    with TemporaryDirectory(prefix=".zevlo-", dir=where) as folder:
        made = Path(folder) / out
        words += write_cameras(cameras, made, receiver, model)
        if where is None:
            sys.stdout.buffer.write(made.read_bytes())
            sys.stdout.flush()
        else:
            made.replace(where / out)
    return _Done(words, refused)


def _out_name(chosen: argparse.Namespace) -> str:
    """What the file that is made is called. Raises :class:`NoCamera` where it cannot be made."""
    if chosen.out == PIPE:
        if chosen.to_kind is None:
            raise NoCamera("-: tell with --to-kind what is to be written")
        return f"cameras{chosen.to_kind}"
    path = Path(chosen.out)
    if path.is_dir() or not path.absolute().parent.is_dir():
        raise NoCamera(f"{chosen.out}: there is no such folder" if not path.is_dir() else f"{chosen.out} is a folder")
    format_of(path.name)
    return path.name


def _source(chosen: argparse.Namespace, giver: Receiver) -> Found:
    if chosen.source != PIPE:
        path = Path(chosen.source)
        if not path.is_file():
            raise NoCamera(f"{path}: there is no such file")
        return read_cameras(path, giver, in_the_model=chosen.from_set and path.samefile(chosen.set))
    if chosen.from_kind is None:
        raise NoCamera("-: tell with --from-kind of what kind it is")
    with TemporaryDirectory(prefix="zevlo-") as folder:
        path = Path(folder) / f"given{chosen.from_kind}"
        path.write_bytes(sys.stdin.buffer.read(CAMERAS_SIZE_LIMIT + 1))
        return read_cameras(path, giver, f"standard input{chosen.from_kind}")
