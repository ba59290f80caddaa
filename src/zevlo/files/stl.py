"""STL, binary or text: triangles, and the names of its solids where it is text."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from zevlo.core.compiled import compiled
from zevlo.core.scene.model.placing import UNITS_M
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.limits import MOST_TRIANGLES
from zevlo.files.reading import Arrival, FromFile, Progress, stem_of
from zevlo.files.refusal import CannotRead
from zevlo.files.units import text_of, unit_in_comment
from zevlo.text import models as say

_HEADER_BYTES, _FACE_BYTES = 84, 50
_FACET = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])
_SOLID = re.compile(rb"^[ \t]*solid\b([^\r\n]*)", re.MULTILINE | re.IGNORECASE)
_VERTEX = re.compile(rb"\bvertex[ \t]+(\S+)[ \t]+(\S+)[ \t]+(\S+)", re.IGNORECASE)
_AT_ONCE = 16 * 1024 * 1024


def read_stl(arrival: Arrival, progress: Progress) -> FromFile:
    """Read an STL. Raises :class:`CannotRead`."""
    raw = np.memmap(arrival.path, dtype=np.uint8, mode="r")
    head = raw[:2000].tobytes()
    build = SetBuilder()
    stem = stem_of(arrival.name)
    progress(say.READING_THE_GEOMETRY, None)
    unit = None
    if head[:5].lower() == b"solid" and b"facet" in head.lower():
        unit = unit_in_comment(text_of(raw[:4000].tobytes()))
        for number, (name, body) in enumerate(_solids(raw.tobytes())):
            corners = _corners(body)
            if len(corners):
                build.add(build.part(name, shown=f"{stem} {number + 1}"), _welded(corners))
    else:
        build.add(build.part(stem), _welded(_facets(raw)))
    metres = None if unit is None else UNITS_M[unit]
    return FromFile(build.finish((PLAIN,)), "STL", metres_per_unit=metres, likely_unit="mm", likely_up="z")


def _facets(raw: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Corners (F, 3, 3) of a binary STL."""
    if len(raw) < _HEADER_BYTES:
        raise CannotRead(say.THE_FILE_IS_CUT_OFF)
    count = int.from_bytes(raw[80:84].tobytes(), "little")
    if len(raw) != _HEADER_BYTES + _FACE_BYTES * count:
        raise CannotRead(say.the_file_is_cut_off(count, _HEADER_BYTES + _FACE_BYTES * count, len(raw)))
    if count > MOST_TRIANGLES:
        raise CannotRead(say.the_model_has_more_than_triangles(MOST_TRIANGLES))
    return np.ascontiguousarray(raw[_HEADER_BYTES:].view(_FACET)["corners"])


def _solids(raw: bytes) -> list[tuple[str, memoryview]]:
    """Name and text of each solid."""
    found = list(_SOLID.finditer(raw))
    ends = [*(one.start() for one in found[1:]), len(raw)]
    whole = memoryview(raw)
    return [(text_of(one[1]).strip(), whole[one.end() : end]) for one, end in zip(found, ends, strict=True)]


def _corners(body: memoryview) -> NDArray[np.float64]:
    """Corners (F, 3, 3) of a solid told as text, in pieces that end with a line."""
    pieces, at = [], 0
    while at < len(body):
        end = min(at + _AT_ONCE, len(body))
        if end < len(body):
            rest = bytes(body[end : end + _AT_ONCE])
            line = rest.find(b"\n")
            end = len(body) if line < 0 else end + line + 1
        words = _VERTEX.findall(bytes(body[at:end]))
        try:
            pieces.append(np.array(words, dtype="S32").astype(np.float64).reshape(-1, 3))
        except ValueError:
            raise CannotRead(say.BROKEN_SOME_OF_ITS_POINTS) from None
        at = end
    points = np.concatenate(pieces) if pieces else np.zeros((0, 3))
    if len(points) % 3:
        raise CannotRead(say.THE_FILE_IS_CUT_OFF_ITS_LAST)
    return points.reshape(-1, 3, 3)


def _welded(corners: NDArray[np.floating]) -> Piece:
    """Triangles (F, 3, 3) that share corners again: STL tells every corner anew. Places count in single precision."""
    if not np.isfinite(corners).all():
        raise CannotRead(say.BROKEN_SOME_OF_ITS_POINTS)
    points = corners.reshape(-1, 3)
    # Adding zero makes a zero of every minus zero, whose bits would be others.
    bits = (points.astype(np.float32) + np.float32(0.0)).view(np.uint32)
    first, faces = _places(bits)
    return checked(Piece(points[first].astype(np.float64), faces.reshape(-1, 3)))


@compiled
def _places(bits: NDArray[np.uint32]) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """The row at which each different row of (n, 3) comes first, and which of those each row is.

    A table with open addresses, at most half full (Knuth 6.4): sorting tens of millions of rows takes ten times longer.
    """
    rows = len(bits)
    room = 16
    while room < 2 * rows:
        room *= 2
    table = np.full(room, -1, dtype=np.int32)
    first = np.empty(rows, dtype=np.int64)
    which = np.empty(rows, dtype=np.int32)
    count = 0
    last = np.uint64(room - 1)
    for row in range(rows):
        a, b, c = bits[row, 0], bits[row, 1], bits[row, 2]
        mixed = np.uint64(a) * np.uint64(0x9E3779B97F4A7C15)
        mixed ^= mixed >> np.uint64(29)
        mixed = (mixed + np.uint64(b)) * np.uint64(0xBF58476D1CE4E5B9)
        mixed ^= mixed >> np.uint64(32)
        mixed = (mixed + np.uint64(c)) * np.uint64(0x94D049BB133111EB)
        mixed ^= mixed >> np.uint64(29)
        slot = mixed & last
        while True:
            known = table[slot]
            if known < 0:
                table[slot] = count
                first[count] = row
                which[row] = count
                count += 1
                break
            at = first[known]
            if bits[at, 0] == a and bits[at, 1] == b and bits[at, 2] == c:
                which[row] = known
                break
            slot = (slot + np.uint64(1)) & last
    return first[:count].copy(), which
