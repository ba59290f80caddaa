"""A model in a .zip with what belongs to it: unpacked into a folder of its own, and nothing outside it."""

from __future__ import annotations

import stat
import zipfile
from pathlib import Path

from zevlo.files.limits import MOST_ARCHIVE_FILES, MOST_RATIO, MOST_UNPACKED
from zevlo.files.reading import Arrival
from zevlo.files.refusal import CannotRead
from zevlo.text import models as say

MODEL_ENDINGS = (".ifc", ".usdz", ".usdc", ".usda", ".usd", ".glb", ".gltf", ".obj", ".ply", ".stl")
"""Read from an archive, in this order where there are several kinds."""
_SMALL = 1024 * 1024
_READ = 1024 * 1024
NO_ARCHIVE = (zipfile.BadZipFile, OSError, ValueError, NotImplementedError)
"""What the library says of a file that is no archive, or one made by rules of a later day."""


def unpack(path: Path, folder: Path) -> Arrival:
    """The model in an archive and the files beside it. Raises :class:`CannotRead`.

    Names that lead outside the folder are refused before anything is written.
    """
    try:
        archive = zipfile.ZipFile(path)
    except NO_ARCHIVE:
        raise CannotRead(say.THE_ARCHIVE_IS_BROKEN) from None
    folder.mkdir()
    with archive:
        entries = [entry for entry in archive.infolist() if entry.filename and not entry.is_dir()]
        _check(entries)
        beside: dict[str, Path] = {}
        total = 0
        for entry in entries:
            name = entry.filename.replace("\\", "/")
            if _is_litter(name):
                continue
            target = folder / name
            total += _take(archive, entry, target, MOST_UNPACKED - total)
            beside[name.lower()] = target
    models = [name for name in beside if name.endswith(MODEL_ENDINGS)]
    if not models:
        if any(name.endswith(".zip") for name in beside):
            raise CannotRead(say.THE_ARCHIVE_HOLDS_ANOTHER)
        raise CannotRead(say.THERE_IS_NO_MODEL)
    chosen = min(
        models,
        key=lambda name: (_rank(name), name.count("/"), -beside[name].stat().st_size, name),
    )
    return Arrival(beside[chosen], chosen, beside)


def _rank(name: str) -> int:
    return next(n for n, ending in enumerate(MODEL_ENDINGS) if name.endswith(ending))


def _is_litter(name: str) -> bool:
    last = name.rsplit("/", 1)[-1]
    return name.startswith("__MACOSX/") or last in (".DS_Store", "Thumbs.db")


def _check(entries: list[zipfile.ZipInfo]) -> None:
    if not entries:
        raise CannotRead(say.THE_ARCHIVE_IS_EMPTY)
    if len(entries) > MOST_ARCHIVE_FILES:
        raise CannotRead(say.the_archive_holds_files(len(entries), MOST_ARCHIVE_FILES))
    for entry in entries:
        name = entry.filename.replace("\\", "/")
        if name.startswith("/") or ".." in name.split("/") or ":" in name.split("/")[0] or "\0" in name:
            raise CannotRead(say.the_archive_names_a_file(name[:60]))
        if stat.S_ISLNK(entry.external_attr >> 16):
            raise CannotRead(say.the_archive_holds_a_link(name[:60]))
        if entry.flag_bits & 0x1:
            raise CannotRead(say.THE_ARCHIVE_IS_LOCKED)
        if entry.file_size > _SMALL and entry.file_size > MOST_RATIO * max(entry.compress_size, 1):
            raise CannotRead(say.THE_ARCHIVE_UNPACKS_TO_FAR)
    if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
        raise CannotRead(say.the_archive_unpacks_to_more_than_gb(MOST_UNPACKED // 1024**3))


def _take(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, target: Path, room: int) -> int:
    """Unpack one file, counting what really comes out: the directory of an archive may lie about sizes."""
    written = 0
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with archive.open(entry) as source, target.open("xb") as sink:
            while chunk := source.read(_READ):
                written += len(chunk)
                if written > room or written > max(entry.file_size, _SMALL):
                    raise CannotRead(say.THE_ARCHIVE_UNPACKS_TO_MORE_THAN_IT_SAYS)
                sink.write(chunk)
    except CannotRead:
        raise
    except Exception:
        raise CannotRead(say.the_archive_is_broken(entry.filename[:60])) from None
    return written
