"""Every kind of file cameras go out in and come in from, by the ending of its name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera, Said, Unread, cannot_say
from zevlo.core.exchange.receiver import Receiver, in_another_unit
from zevlo.core.scene.model.set_model import SetModel
from zevlo.files.limits import CAMERAS_SIZE_LIMIT
from zevlo.text import cameras as say

Write = Callable[[Sequence[CameraRecord], Path, Receiver], None]
Read = Callable[[Path, Receiver], tuple[Found, Receiver]]
"""Cameras of a file, and the world they stand in: the one that was told, where the file does not say its own."""


@dataclass(frozen=True)
class CameraFormat:
    """A kind of file: its endings, what it is, and whether the receiver's unit and axis can be chosen."""

    endings: tuple[str, ...]
    words: str
    in_any_world: bool
    says_its_world: bool
    """Whether every file tells the unit and the axis it is in; tables and intrinsics do where we wrote them."""
    whole: bool
    """Whether it says all of a shot by itself."""
    says: frozenset[Said]
    """What of a camera other programs are told."""
    write: Write
    read: Read


# What one kind of file needs is loaded with the first of that kind: to start is most of a small file's time.


INTRINSICS = ".intrinsics.json"


def _write_plain(cameras: Sequence[CameraRecord], path: Path, receiver: Receiver) -> None:
    from zevlo.files.cameras.plain import write_shots, write_vision

    if path.name.lower().endswith(INTRINSICS):
        path.write_bytes(write_vision(cameras, receiver))
    else:
        path.write_bytes(write_shots(cameras))


def _read_plain(path: Path, receiver: Receiver) -> tuple[Found, Receiver]:
    from zevlo.files.cameras.plain import read_shots, read_vision

    if path.name.lower().endswith(INTRINSICS):
        return read_vision(path.read_bytes(), receiver)
    return read_shots(path.read_bytes()), receiver


def _write_table(cameras: Sequence[CameraRecord], path: Path, receiver: Receiver) -> None:
    from zevlo.files.cameras.tables import write_csv, write_xlsx

    write = write_csv if path.suffix.lower() == ".csv" else write_xlsx
    path.write_bytes(write(cameras, receiver))


def _read_table(path: Path, receiver: Receiver) -> tuple[Found, Receiver]:
    from zevlo.files.cameras.tables import read_csv, read_xlsx

    read = read_csv if path.suffix.lower() == ".csv" else read_xlsx
    return read(path.read_bytes(), receiver)


def _write_gltf(cameras: Sequence[CameraRecord], path: Path, _: Receiver) -> None:
    from zevlo.files.cameras.gltf import write_glb, write_gltf

    write = write_glb if path.suffix.lower() == ".glb" else write_gltf
    path.write_bytes(write(cameras))


def _read_gltf(path: Path, receiver: Receiver) -> tuple[Found, Receiver]:
    from zevlo.files.cameras.gltf import read_gltf_cameras

    return read_gltf_cameras(path.read_bytes()), receiver


def _write_usd(cameras: Sequence[CameraRecord], path: Path, receiver: Receiver) -> None:
    from zevlo.files.cameras.usd import write_usd

    write_usd(cameras, path, receiver)


def _read_usd(path: Path, receiver: Receiver) -> tuple[Found, Receiver]:
    from zevlo.files.cameras.usd import read_usd_cameras

    cameras, world = read_usd_cameras(path)
    return cameras, replace(world, placing=receiver.placing)


_OF_TABLES: frozenset[Said] = frozenset({"window", "focus", "exposure"})
FORMATS = (
    CameraFormat(
        (INTRINSICS,),
        say.INTRINSICS_JSON,
        True,
        False,
        False,
        frozenset({"window", "distortion", "equidistant"}),
        _write_plain,
        _read_plain,
    ),
    CameraFormat((".json",), say.SHOTS_JSON, False, True, True, frozenset(), _write_plain, _read_plain),
    CameraFormat((".csv",), say.A_TABLE_CSV, True, False, False, _OF_TABLES, _write_table, _read_table),
    CameraFormat((".xlsx",), say.A_TABLE_XLSX, True, False, False, _OF_TABLES, _write_table, _read_table),
    CameraFormat((".gltf",), "glTF 2.0", False, True, False, frozenset(), _write_gltf, _read_gltf),
    CameraFormat((".glb",), say.GLTF_2_0_BINARY, False, True, False, frozenset(), _write_gltf, _read_gltf),
    CameraFormat((".usda", ".usdc", ".usdz", ".usd"), "OpenUSD", True, True, False, _OF_TABLES, _write_usd, _read_usd),
)
WITH_SET = ".glb"
"""The kind the set can go along in."""


def format_of(name: str) -> CameraFormat:
    """The kind of a file by its name. Raises :class:`NoCamera`."""
    found = next((one for one in FORMATS if name.lower().endswith(one.endings)), None)
    if found is None:
        every = ", ".join(ending for one in FORMATS for ending in one.endings)
        raise NoCamera(say.cameras_go_out_in_and_come(name, every))
    return found


def _world(kind: CameraFormat, receiver: Receiver) -> Receiver:
    if ".gltf" in kind.endings or ".glb" in kind.endings:
        return receiver.in_metres_with_y_up()
    return receiver if kind.in_any_world else Receiver()


def write_cameras(
    cameras: Sequence[CameraRecord], path: Path, receiver: Receiver, model: SetModel | None = None
) -> list[str]:
    """Write cameras to a file of the kind its name says, with the set they look at where one is given; what that cannot
    say of them, in words."""
    kind = format_of(path.name)
    world = _world(kind, receiver)
    given = [world.give(one) for one in cameras]
    if model is None:
        kind.write(given, path, world)
    elif WITH_SET not in kind.endings:
        raise NoCamera(say.the_set_goes_along(WITH_SET))
    else:
        from zevlo.files.cameras.gltf import write_glb_with_set

        path.write_bytes(write_glb_with_set(given, model, world.of_places))
    if kind.whole:
        return []
    words = []
    for one in cameras:
        lost = [] if one.shot is None else cannot_say(one.shot, kind.says)
        if INTRINSICS in kind.endings and one.distance_mm is None:
            words.append(say.is_parallel_it_has_no_intrinsics(one.name))
        elif lost:
            words.append(say.this_format_does_not_hold(one.name, ", ".join(lost)))
    return words


def read_cameras(path: Path, receiver: Receiver, called: str | None = None, *, in_the_model: bool = False) -> Found:
    """The cameras of a file, in our world. ``receiver``: the world of what does not say its own; ``called``: what the
    file is called, where that is not its name here; ``in_the_model``: the file is the very model whose placing the
    receiver has. Raises :class:`NoCamera`, which begins with the name."""
    name = path.name if called is None else called
    kind = format_of(name)
    try:
        if path.stat().st_size > CAMERAS_SIZE_LIMIT:
            raise NoCamera(say.it_has_over_mb(CAMERAS_SIZE_LIMIT // 1024**2))
        cameras, world = kind.read(path, _world(kind, receiver))
        corrected = 1.0
        if in_the_model:
            # Its numbers count in the unit the model was given, whatever the file says.
            corrected, world = receiver.metres_per_unit / world.metres_per_unit, receiver
        if not cameras:
            raise NoCamera(say.THERE_IS_NO_CAMERA)
        if all(isinstance(one, Unread) for one in cameras):
            raise NoCamera("; ".join(f"“{one.name}” {one.why}" for one in cameras[:3] if isinstance(one, Unread)))
        if kind.whole:
            return cameras
        return [one if isinstance(one, Unread) else world.take(in_another_unit(one, corrected)) for one in cameras]
    except NoCamera as reason:
        raise NoCamera(f"{name}: {reason}") from reason
