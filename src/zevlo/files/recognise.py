"""Which kind of model a file is: told by what is in it first, by its name only where that says nothing."""

from __future__ import annotations

import traceback
import zipfile
from collections.abc import Callable
from pathlib import Path

from zevlo.files import archive
from zevlo.files.names import kept_readable
from zevlo.files.reading import Arrival, FromFile, Progress
from zevlo.files.refusal import CannotRead
from zevlo.text import everywhere
from zevlo.text import models as say

KINDS = say.GLTF_GLB_GLTF_OPENUSD
_HEAD = 4096
_STL_HEADER, _STL_FACE = 84, 50


def kind_of(path: Path, name: str) -> str:
    """``gltf``, ``usd``, ``ifc``, ``obj``, ``stl``, ``ply`` or ``zip``. Raises :class:`CannotRead`."""
    size = path.stat().st_size
    if size == 0:
        raise CannotRead(say.THE_FILE_IS_EMPTY)
    with path.open("rb") as file:
        head = file.read(_HEAD)
    ending = name.lower().rsplit(".", 1)[-1]
    text = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    if head[:4] == b"glTF" or (text[:1] == b"{" and ending != "zip"):
        return "gltf"
    if head[:2] == b"PK":
        return "usd" if ending == "usdz" or _is_usdz(path) else "zip"
    if head[:8] == b"PXR-USDC" or text[:5] == b"#usda":
        return "usd"
    if text[:12] == b"ISO-10303-21":
        return "ifc"
    if head[:3] == b"ply" and head[3:4] in (b"\n", b"\r"):
        return "ply"
    if is_binary_stl(head, size) or (text[:5].lower() == b"solid" and b"facet" in head):
        return "stl"
    if ending == "stl":
        return "stl"
    if b"\0" not in head and _looks_like_obj(head):
        return "obj"
    what = {"usd": say.AN_OPENUSD_STAGE, "usda": say.AN_OPENUSD_STAGE, "usdc": say.AN_OPENUSD_STAGE,
            "usdz": say.AN_OPENUSD_STAGE, "ifc": say.AN_IFC_MODEL, "glb": say.A_GLTF_MODEL, "gltf": say.A_GLTF_MODEL,
            "obj": say.AN_OBJ_MODEL, "ply": say.A_PLY_MODEL, "zip": say.AN_ARCHIVE}.get(ending)  # fmt: skip
    if what:
        raise CannotRead(say.this_is_not_whatever(what))
    raise CannotRead(say.this_is_not_a_model(KINDS))


def is_binary_stl(head: bytes, size: int) -> bool:
    """Whether the length is what a binary STL's count of triangles asks for."""
    if len(head) < _STL_HEADER:
        return False
    count = int.from_bytes(head[80:84], "little")
    return size == _STL_HEADER + _STL_FACE * count


_OBJ_WORDS = {b"v", b"vt", b"vn", b"vp", b"f", b"o", b"g", b"s", b"l", b"p", b"mtllib", b"usemtl", b"usemap", b"cstype",
              b"deg", b"bmat", b"step", b"curv", b"curv2", b"surf", b"parm", b"trim", b"hole", b"end", b"con", b"mg",
              b"bevel", b"lod", b"shadow_obj", b"trace_obj", b"c_interp", b"d_interp"}  # fmt: skip


def _looks_like_obj(head: bytes) -> bool:
    # A line may go on behind a backslash.
    head = head.replace(b"\\\r\n", b" ").replace(b"\\\n", b" ")
    starts = {line.split(maxsplit=1)[0] for line in head.splitlines() if line.strip()}
    return bool(starts & {b"v", b"mtllib", b"o", b"g"}) and starts <= _OBJ_WORDS | {
        word for word in starts if word.startswith(b"#")
    } | {head.splitlines()[-1].split(maxsplit=1)[0] if head.splitlines()[-1].strip() else b"v"}


def _is_usdz(path: Path) -> bool:
    """A .usdz is a zip, stored without packing, whose first file is a stage."""
    try:
        with zipfile.ZipFile(path) as opened:
            entries = opened.infolist()
    except archive.NO_ARCHIVE:
        return False
    first = entries[0] if entries else None
    return first is not None and first.compress_type == zipfile.ZIP_STORED and first.filename.lower().endswith(
        (".usdc", ".usda", ".usd")
    )  # fmt: skip


def _reader(kind: str) -> Callable[[Arrival, Progress], FromFile]:
    """The reader of a kind. Each brings its own library, so that only the one that is needed is loaded."""
    if kind == "gltf":
        from zevlo.files.gltf import read_gltf

        return read_gltf
    if kind == "usd":
        from zevlo.files.usd import read_usd

        return read_usd
    if kind == "ifc":
        from zevlo.files.ifc import read_ifc

        return read_ifc
    if kind == "obj":
        from zevlo.files.obj import read_obj

        return read_obj
    if kind == "ply":
        from zevlo.files.ply import read_ply

        return read_ply
    from zevlo.files.stl import read_stl

    return read_stl


def read_model(arrival: Arrival, unpacked: Path, progress: Progress) -> FromFile:
    """Read a model of any kind; an archive is unpacked into the folder ``unpacked``. Raises :class:`CannotRead`."""
    kind = kind_of(arrival.path, arrival.name)
    if kind == "zip":
        progress("unpacking", None)
        arrival = archive.unpack(arrival.path, unpacked)
        kind = kind_of(arrival.path, arrival.name)
    if kind == "zip":
        raise CannotRead(say.THE_ARCHIVE_HOLDS_ANOTHER)
    if kind == "usd":
        arrival = _named_as_stage(arrival)
    doing = everywhere.LOOKING_AT_THE_FILE

    def follow(what: str, share: float | None) -> None:
        nonlocal doing
        doing = what
        progress(what, share)

    try:
        return kept_readable(_reader(kind)(arrival, follow))
    except (CannotRead, MemoryError):
        raise
    except Exception:
        # What libraries and arrays say of numbers and words that fit nothing is no use to an artist.
        traceback.print_exc()
        raise CannotRead(say.broken_something(doing)) from None


def _named_as_stage(arrival: Arrival) -> Arrival:
    """OpenUSD goes by endings: a stage that came under another name is linked to one it knows."""
    if arrival.path.suffix.lower() in (".usd", ".usda", ".usdc", ".usdz"):
        return arrival
    with arrival.path.open("rb") as file:
        head = file.read(8)
    ending = ".usdz" if head[:2] == b"PK" else ".usdc" if head == b"PXR-USDC" else ".usda"
    alias = arrival.path.with_name(arrival.path.name + ending)
    if not alias.exists():
        alias.hardlink_to(arrival.path)
    return Arrival(alias, arrival.name, arrival.beside)
