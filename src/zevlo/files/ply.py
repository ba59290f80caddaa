"""PLY: points and polygons of any number of corners, text or binary, with normals and the mean of its colours.

Source: the Polygon File Format as described by Greg Turk (1994), from memory; property names as commonly written.
"""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zevlo.core.compiled import compiled
from zevlo.core.scene.model.placing import UNITS_M
from zevlo.core.scene.model.set_model import Material
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.left_out import what_is_left_out
from zevlo.files.limits import MOST_POINTS, MOST_TRIANGLES
from zevlo.files.point_colors import MOST_COLOURED, coloured, in_palette
from zevlo.files.polygons import triangulated
from zevlo.files.reading import Arrival, FromFile, Progress, stem_of
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import Pictures, linear
from zevlo.files.units import unit_in_comment
from zevlo.text import models as say

_KINDS = {
    "char": "i1", "int8": "i1", "uchar": "u1", "uint8": "u1", "short": "i2", "int16": "i2", "ushort": "u2",
    "uint16": "u2", "int": "i4", "int32": "i4", "uint": "u4", "uint32": "u4", "float": "f4", "float32": "f4",
    "double": "f8", "float64": "f8",
}  # fmt: skip
_ORDERS = {"binary_little_endian": "<", "binary_big_endian": ">", "ascii": ""}
_INDICES = ("vertex_indices", "vertex_index")
_LONGEST_HEADER = 65536
_CUT_OFF = say.THE_FILE_IS_CUT


@dataclass(frozen=True)
class _Property:
    """One value of a row, or a list of them: ``count`` is the kind of number that says how many, empty for one."""

    name: str
    kind: str
    count: str = ""


@dataclass(frozen=True)
class _Element:
    name: str
    rows: int
    properties: tuple[_Property, ...]

    @property
    def has_lists(self) -> bool:
        return any(one.count for one in self.properties)


@dataclass(frozen=True)
class _Header:
    order: str
    """``<`` or ``>`` for binary; empty for text."""
    elements: tuple[_Element, ...]
    comments: str
    size: int


class _Table:
    """The rows of one element: each property's values (rows,), or for a list its counts (rows,) and all its items."""

    def __init__(self) -> None:
        self.values: dict[str, NDArray[Any]] = {}
        self.lists: dict[str, tuple[NDArray[np.int64], NDArray[Any]]] = {}

    def columns(self, *names: str) -> NDArray[np.float64] | None:
        """Some properties side by side, (rows, n); None where one is not there."""
        if not all(name in self.values for name in names):
            return None
        return np.stack([self.values[name].astype(np.float64) for name in names], axis=1)


def read_ply(arrival: Arrival, progress: Progress) -> FromFile:
    """Read a PLY, text or binary. Raises :class:`CannotRead`."""
    raw = np.memmap(arrival.path, dtype=np.uint8, mode="r")
    header = _header(raw[:_LONGEST_HEADER].tobytes())
    _check_claims(header, len(raw))
    progress(say.READING_THE_GEOMETRY, None)
    tables = _tables(raw, header)
    points = tables.get("vertex", _Table())
    vertices = points.columns("x", "y", "z")
    if vertices is None:
        raise CannotRead(say.BROKEN_ITS_POINTS)
    faces = tables.get("face", _Table())
    listed = next((faces.lists[name] for name in _INDICES if name in faces.lists), None)
    if listed is None or len(listed[0]) == 0:
        raise CannotRead(say.THE_MODEL_IS_EMPTY_IT_HAS_POINTS)
    counts, corners = listed
    if corners.dtype.kind == "f" and len(corners) and not np.isfinite(corners).all():
        raise CannotRead(say.BROKEN_SOME_POLYGONS)
    corners = corners.astype(np.int64)
    triangles, _ = triangulated(vertices, counts, corners)
    normals = points.columns("nx", "ny", "nz")
    build, pictures, remarks = SetBuilder(), Pictures(), tuple[str, ...]()
    piece = Piece(vertices, corners[triangles], 0, None if normals is None else normals.astype(np.float32))
    by_point, by_face = _colors(points), _colors(faces)
    material = PLAIN
    if by_point is not None and len(piece.faces) <= MOST_COLOURED:
        piece, mean = coloured(checked(piece), linear(by_point))
        material = Material(say.COLOURS_OF_THE_SCAN, (1.0, 1.0, 1.0), texture=in_palette(pictures), seen_tint=mean)
    elif by_point is not None or by_face is not None:
        r, g, b = linear(by_point if by_point is not None else by_face).mean(axis=0).tolist()  # type: ignore[arg-type]
        material = Material(say.MEAN_COLOUR_OF_THE_SCAN, (r, g, b))
        remarks = (say.ITS_COLOURS_ARE_SHOWN,)
    build.add(build.part(stem_of(arrival.name)), checked(piece))
    if "texturefile" in header.comments.lower():
        remarks = (*remarks, what_is_left_out(["TextureFile"]))
    unit = unit_in_comment(header.comments)
    return FromFile(
        build.finish((material,), pictures),
        "PLY",
        metres_per_unit=None if unit is None else UNITS_M[unit],
        remarks=remarks,
    )


def _header(head: bytes) -> _Header:
    text, found, rest = head.partition(b"end_header")
    if not found:
        raise CannotRead(say.BROKEN_ITS_HEADER)
    after = 2 if rest[:2] == b"\r\n" else 1
    order: str | None = None
    comments: list[str] = []
    elements: list[tuple[str, int, list[_Property]]] = []
    for line in text.decode("ascii", "replace").splitlines()[1:]:
        words = line.split()
        if not words:
            continue
        if words[0] in ("comment", "obj_info"):
            comments.append("#" + line.strip().removeprefix(words[0]))
        elif words[0] == "format" and len(words) >= 2:
            order = _ORDERS.get(words[1])
        elif words[0] == "element" and len(words) == 3 and words[2].isdecimal():
            elements.append((words[1], int(words[2]), []))
        elif words[0] == "property" and elements:
            elements[-1][2].append(_property(words[1:]))
        else:
            raise CannotRead(say.broken_its_header_has_a_line(line.strip()[:40]))
    if order is None:
        raise CannotRead(say.BROKEN_ITS_HEADER_DOES_NOT_SAY)
    header = tuple(_Element(name, rows, tuple(properties)) for name, rows, properties in elements)
    return _Header(order, header, "\n".join(comments), len(text) + len(found) + after)


def _property(words: list[str]) -> _Property:
    if len(words) == 2 and words[0] in _KINDS:
        return _Property(words[1], _KINDS[words[0]])
    if len(words) == 4 and words[0] == "list" and _KINDS.get(words[1], "f")[0] != "f" and words[2] in _KINDS:
        return _Property(words[3], _KINDS[words[2]], _KINDS[words[1]])
    raise CannotRead(say.broken_its_header(" ".join(words)[:40]))


def _check_claims(header: _Header, size: int) -> None:
    """Counts that the file could hold: a PLY's header may claim anything."""
    for element in header.elements:
        most = MOST_POINTS if element.name == "vertex" else max(size, MOST_TRIANGLES)
        if element.rows > min(most, size) or (element.rows and not element.properties):
            raise CannotRead(say.broken_it_claims(element.rows, element.name[:20]))


def _tables(raw: NDArray[np.uint8], header: _Header) -> dict[str, _Table]:
    """Each element's rows. Of an element that comes twice the first counts."""
    body: NDArray[Any] = raw[header.size :]
    if not header.order:
        body = _numbers_of(body.tobytes())
    found: dict[str, _Table] = {}
    at = 0
    for element in header.elements:
        table, at = _rows(body, at, element, header.order)
        found.setdefault(element.name, table)
    return found


def _numbers_of(text: bytes) -> NDArray[np.float64]:
    """All numbers of a text. Raises :class:`CannotRead` at a word that is none."""
    with warnings.catch_warnings():
        warnings.simplefilter("error", DeprecationWarning)
        try:
            return np.fromstring(text, dtype=np.float64, sep=" ")
        except (DeprecationWarning, ValueError):
            raise CannotRead(say.BROKEN_WHERE_ITS_NUMBERS) from None


def _rows(body: NDArray[Any], at: int, element: _Element, order: str) -> tuple[_Table, int]:
    """The rows of an element from a place in the body on, and where the next one begins."""
    table = _Table()
    sizes = np.array([[_size(one.count, order), _size(one.kind, order)] for one in element.properties], dtype=np.int64)
    if not element.has_lists:
        width = int(sizes[:, 1].sum()) if len(sizes) else 0
        end = at + width * element.rows
        if end > len(body):
            raise CannotRead(_CUT_OFF)
        row = at
        for one, (_, size) in zip(element.properties, sizes.tolist(), strict=True):
            starts = row + width * np.arange(element.rows)
            table.values.setdefault(one.name, _decoded(body, starts, one.kind, order))
            row += size
        return table, end
    signed = np.array([one.count[:1] == "i" for one in element.properties])
    starts, counts, end = _walked(body, at, element.rows, sizes, signed, order == ">", not order)
    if end < 0:
        raise CannotRead(_CUT_OFF)
    for n, one in enumerate(element.properties):
        if not one.count:
            table.values.setdefault(one.name, _decoded(body, starts[:, n], one.kind, order))
            continue
        own = counts[:, n]
        inside = np.arange(int(own.sum())) - np.repeat(np.cumsum(own) - own, own)
        places = np.repeat(starts[:, n], own) + inside * int(sizes[n, 1])
        table.lists.setdefault(one.name, (own, _decoded(body, places, one.kind, order)))
    return table, int(end)


def _size(kind: str, order: str) -> int:
    """How many steps of the body a number takes: bytes, or in a text one word; none where there is no number."""
    if not kind:
        return 0
    return int(kind[1]) if order else 1


def _decoded(body: NDArray[Any], starts: NDArray[np.int64], kind: str, order: str) -> NDArray[Any]:
    """Numbers that begin at places in the body."""
    if not order:
        return np.asarray(body[starts])
    size = int(kind[1])
    if len(starts) > 1 and bool((np.diff(starts) == starts[1] - starts[0]).all()):
        step = int(starts[1] - starts[0])
        first = int(starts[0])
        rows = np.lib.stride_tricks.as_strided(body[first:], (len(starts), size), (step, 1))
        return np.ascontiguousarray(rows).view(f"{order}{kind}").ravel()
    picked = np.ascontiguousarray(body[starts[:, None] + np.arange(size)])
    return picked.view(f"{order}{kind}").ravel()


@compiled
def _walked(
    body: NDArray[Any], at: int, rows: int, sizes: NDArray[np.int64], signed: NDArray[np.bool_], big: bool, words: bool
) -> tuple[NDArray[np.int64], NDArray[np.int64], int]:
    """Where each property of each row begins, and how many items it has; the end is -1 where the body is too short.

    ``sizes`` (P, 2): steps the count of a list takes (0: one value), and steps of a value. In a text (``words``)
    a count is the number itself.
    """
    properties = len(sizes)
    starts = np.zeros((rows, properties), dtype=np.int64)
    counts = np.ones((rows, properties), dtype=np.int64)
    end = len(body)
    for row in range(rows):
        for n in range(properties):
            long = sizes[n, 0]
            many = 1
            if long > 0:
                if at + long > end:
                    return starts, counts, -1
                if words:
                    value = float(body[at])
                    if not 0.0 <= value <= end:
                        return starts, counts, -1
                    many = int(value)
                else:
                    many = 0
                    for k in range(long):
                        byte = int(body[at + k])
                        many += byte << (8 * (long - 1 - k if big else k))
                    if signed[n] and many >= 1 << (8 * long - 1):
                        return starts, counts, -1
                at += long
            starts[row, n] = at
            counts[row, n] = many
            at += many * sizes[n, 1]
            if at > end:
                return starts, counts, -1
    return starts, counts, at


def _colors(table: _Table) -> np.ndarray | None:
    """Colours (n, 3) as sRGB, 0 to 1, of what carries any: told as bytes, or as shares."""
    colors = table.columns("red", "green", "blue")
    if colors is None or len(colors) == 0:
        return None
    whole = table.values["red"].dtype.kind != "f" or float(np.nan_to_num(colors).max()) > 1.0
    return np.clip(np.nan_to_num(colors) / (255.0 if whole else 1.0), 0.0, 1.0)
