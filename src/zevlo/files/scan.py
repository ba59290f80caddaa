"""STL and PLY: triangles, names where STL has them, colours and texture where PLY has them. trimesh parses."""

from __future__ import annotations

import io
import re
from typing import Any

import numpy as np
from trimesh.exchange.ply import load_ply
from trimesh.exchange.stl import HeaderError, load_stl

from zevlo.core.scene.model import Material
from zevlo.core.scene.placing import UNITS_M
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.limits import MOST_TRIANGLES
from zevlo.files.obj import text_of, unit_in_comment
from zevlo.files.reading import Arrival, FromFile, Progress
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import linear

_HEADER_BYTES, _FACE_BYTES = 84, 50


def is_binary_stl(head: bytes, size: int) -> bool:
    """Whether the length is what a binary STL's count of triangles asks for, or nearly."""
    if len(head) < _HEADER_BYTES:
        return False
    count = int.from_bytes(head[80:84], "little")
    return size == _HEADER_BYTES + _FACE_BYTES * count


def read_stl(arrival: Arrival, progress: Progress) -> FromFile:
    """Read an STL, binary or text. Raises :class:`CannotRead`."""
    raw = arrival.path.read_bytes()
    build = SetBuilder()
    stem = arrival.name.rsplit("/", 1)[-1].rsplit(".", 1)[0]
    progress("reading the geometry", None)
    unit = None
    if raw[:5].lower() == b"solid" and b"facet" in raw[:2000]:
        text = text_of(raw)
        unit = unit_in_comment(text)
        names = [line.strip() for line in re.findall(r"^\s*solid\b(.*)$", text, re.MULTILINE | re.IGNORECASE)]
        bodies = re.split(r"^\s*solid\b.*$", text, flags=re.MULTILINE | re.IGNORECASE)[1:]
        for number, (name, body) in enumerate(zip(names, bodies, strict=True)):
            corners = _numbers_after_vertex(body)
            if len(corners):
                build.add(build.part(name or f"{stem} {number + 1}"), _welded(corners))
    else:
        if len(raw) >= _HEADER_BYTES and not is_binary_stl(raw[:_HEADER_BYTES], len(raw)):
            count = int.from_bytes(raw[80:84], "little")
            raise CannotRead(
                f"The file is cut off: it says {count} triangles, which would be {_HEADER_BYTES + _FACE_BYTES * count} "
                f"bytes, and has {len(raw)}. Copy it again."
            )
        try:
            loaded = load_stl(io.BytesIO(raw))
        except (HeaderError, ValueError) as error:
            raise CannotRead(f"The file is broken: its geometry cannot be read ({error}).") from None
        build.add(build.part(stem), _welded(np.asarray(loaded["vertices"]).reshape(-1, 3, 3)))
    return FromFile(build.finish((PLAIN,)), "STL", metres_per_unit=_metres(unit), likely_unit="mm", likely_up="z")


def _metres(unit: str | None) -> float | None:
    return None if unit is None else UNITS_M[unit]


def _numbers_after_vertex(body: str) -> np.ndarray:
    words = re.findall(r"^\s*vertex\s+(\S+)\s+(\S+)\s+(\S+)", body, re.MULTILINE | re.IGNORECASE)
    if len(words) % 3:
        raise CannotRead("The file is cut off: its last triangle has not three corners. Copy it again.")
    try:
        return np.array(words, dtype=np.float64).reshape(-1, 3, 3)
    except ValueError:
        raise CannotRead("The file is broken: some of its points are not numbers.") from None


def _welded(corners: np.ndarray) -> Piece:
    """Triangles (F, 3, 3) that share corners again: STL tells every corner anew."""
    if not np.isfinite(corners).all():
        raise CannotRead("The file is broken: some of its points are not numbers.")
    single = np.ascontiguousarray(corners.reshape(-1, 3).astype(np.float32)) + np.float32(0.0)
    keys = single.view(np.dtype((np.void, 12))).ravel()
    _, first, faces = np.unique(keys, return_index=True, return_inverse=True)
    return checked(Piece(corners.reshape(-1, 3)[first], faces.reshape(-1, 3)))


def read_ply(arrival: Arrival, progress: Progress) -> FromFile:
    """Read a PLY, text or binary. Raises :class:`CannotRead`."""
    raw = arrival.path.read_bytes()
    _check_header(raw)
    progress("reading the geometry", None)
    try:
        loaded: dict[str, Any] = load_ply(io.BytesIO(raw), skip_materials=True)
    except Exception:
        raise CannotRead(
            "The file is cut off or broken: what is in it does not fit what its header says. Copy or export it again."
        ) from None
    vertices = np.asarray(loaded.get("vertices", np.zeros((0, 3))), dtype=np.float64)
    faces = loaded.get("faces")
    if faces is None or len(faces) == 0:
        raise CannotRead("The model is empty: it has points but no surfaces. Make a mesh of the scan first.")
    faces = np.asarray(faces, dtype=np.int64)
    if faces.shape[1] == 4:
        faces = np.concatenate([faces[:, :3], faces[:, [0, 2, 3]]])
    colors = loaded.get("vertex_colors")
    if colors is None:
        colors = loaded.get("face_colors")
    material = PLAIN
    if colors is not None and len(colors):
        r, g, b = linear(np.asarray(colors, dtype=np.float64)[:, :3] / 255.0).mean(axis=0).tolist()
        material = Material("Mean colour of the scan", (r, g, b))
    build = SetBuilder()
    part = build.part(arrival.name.rsplit("/", 1)[-1].rsplit(".", 1)[0])
    normals = loaded.get("vertex_normals")
    piece = Piece(vertices, faces, 0, None if normals is None else np.asarray(normals, dtype=np.float32))
    build.add(part, checked(piece))
    unit = unit_in_comment(re.sub(r"(?m)^(?:comment|obj_info)\b", "#", text_of(raw[:4000].split(b"end_header")[0])))
    remarks = ("Its colours by point are shown as one mean colour",) if colors is not None else ()
    return FromFile(build.finish((material,)), "PLY", metres_per_unit=_metres(unit), remarks=remarks)


def _check_header(raw: bytes) -> None:
    """Counts that the file could hold: a PLY's header may claim anything."""
    head, found, _ = raw[:65536].partition(b"end_header")
    if not found:
        raise CannotRead("The file is broken: its header does not end.")
    for kind, count in re.findall(rb"^element\s+(\S+)\s+(\S+)", head, re.MULTILINE):
        if not count.isdigit() or int(count) > max(len(raw), MOST_TRIANGLES):
            raise CannotRead(f"The file is broken: it claims {count[:20].decode('ascii', 'replace')} × "
                             f"{kind[:20].decode('ascii', 'replace')}, more than it can hold.")  # fmt: skip
