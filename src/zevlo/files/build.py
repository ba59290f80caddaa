"""Pieces of geometry put together to one set, without holding any of it twice for longer than a piece takes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.scene.model.part_ids import geometry_word, lasting_ids
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.files.limits import MOST_PARTS, MOST_POINTS, MOST_TRIANGLES
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import Pictures
from zevlo.text import models as say

Numbers = NDArray[np.floating]
PLAIN = Material("Plain", (0.6, 0.6, 0.6))
"""For faces without a material."""


@dataclass(frozen=True)
class Piece:
    """Triangles of one material: ``vertices`` (V, 3), ``faces`` (F, 3), and where it has them ``normals`` (V, 3)
    and ``uv`` (V, 2) with v upwards. ``material`` a number, or (F,) numbers."""

    vertices: Numbers
    faces: NDArray[np.integer]
    material: int | NDArray[np.integer] = 0
    normals: Numbers | None = None
    uv: Numbers | None = None


def checked(piece: Piece) -> Piece:
    """The piece, or :class:`CannotRead` where its numbers make no sense."""
    if not np.isfinite(piece.vertices).all():
        raise CannotRead(say.BROKEN_SOME_OF_ITS_POINTS)
    if len(piece.faces) and (int(piece.faces.min()) < 0 or int(piece.faces.max()) >= len(piece.vertices)):
        raise CannotRead(say.BROKEN_SOME_TRIANGLES)
    return piece


class SetBuilder:
    """Takes parts with their pieces from the root down; a piece may be placed many times."""

    def __init__(self) -> None:
        self._names: list[str] = []
        self._shown: list[str] = []
        self._own: list[str] = []
        self._parents: list[int | None] = []
        self._pieces: list[list[tuple[Piece, NDArray[np.float64] | None]]] = []
        self._triangles = 0
        self._points = 0

    def part(self, name: str, parent: int | None = None, shown: str = "", own: str = "") -> int:
        """A new part; its number.

        ``shown``: what one without a name is called by; ``own``: the file's own lasting id of it.
        """
        if len(self._names) >= MOST_PARTS:
            raise CannotRead(say.the_model_has_more_than_parts(MOST_PARTS))
        given = name.strip()[:200]
        self._names.append(given)
        self._shown.append(given or shown[:200] or say.part(len(self._names)))
        self._own.append(own)
        self._parents.append(parent)
        self._pieces.append([])
        return len(self._names) - 1

    def add(self, part: int, piece: Piece, matrix: NDArray[np.float64] | None = None) -> None:
        """A checked piece for a part, placed by ``matrix`` (4, 4) on column vectors."""
        if len(piece.faces) == 0:
            return
        self._triangles += len(piece.faces)
        self._points += len(piece.vertices)
        if self._triangles > MOST_TRIANGLES:
            raise CannotRead(say.the_model_has_more_than_triangles(MOST_TRIANGLES))
        if self._points > MOST_POINTS:
            raise CannotRead(say.the_model_has_more_than_points(MOST_POINTS))
        self._pieces[part].append((piece, matrix))

    def _prune(self) -> None:
        """Drop parts with nothing on or below them: cameras, lamps, scopes of materials."""
        full = [bool(pieces) for pieces in self._pieces]
        for number in reversed(range(len(full))):
            parent = self._parents[number]
            if full[number] and parent is not None:
                full[parent] = True
        kept = [number for number, has in enumerate(full) if has]
        renumbered = {old: new for new, old in enumerate(kept)}
        self._names, self._shown, self._own = (
            [values[n] for n in kept] for values in (self._names, self._shown, self._own)
        )
        self._parents = [None if (above := self._parents[n]) is None else renumbered[above] for n in kept]
        self._pieces = [self._pieces[n] for n in kept]

    def finish(self, materials: tuple[Material, ...], pictures: Pictures | None = None) -> SetModel:
        """The whole set. The builder is empty after this."""
        if self._triangles == 0:
            raise CannotRead(say.THE_MODEL_IS_EMPTY)
        self._prune()
        every = [piece for pieces in self._pieces for piece, _ in pieces]
        vertices = np.empty((self._points, 3))
        faces = np.empty((self._triangles, 3), dtype=np.int32)
        kinds = np.empty(self._triangles, dtype=np.int32)
        normals = (
            np.full((self._points, 3), np.nan, dtype=np.float32) if any(p.normals is not None for p in every) else None
        )
        uv = np.full((self._points, 2), np.nan, dtype=np.float32) if any(p.uv is not None for p in every) else None
        del every
        spans: list[tuple[int, int, int, int]] = []
        point = first = 0
        for pieces in self._pieces:
            begin, begin_point = first, point
            while pieces:
                piece, matrix = pieces.pop(0)
                here, these = slice(point, point + len(piece.vertices)), slice(first, first + len(piece.faces))
                turn = None if matrix is None else matrix[:3, :3]
                vertices[here] = piece.vertices if turn is None else piece.vertices @ turn.T + matrix[:3, 3]  # type: ignore[index]
                # Widened first: a file's own sixteen bits would run over where many parts come together.
                faces[these] = piece.faces
                faces[these] += point
                if turn is not None and np.linalg.det(turn) < 0.0:
                    faces[these] = faces[these][:, [0, 2, 1]]
                kinds[these] = piece.material
                if piece.normals is not None and normals is not None:
                    normals[here] = piece.normals if turn is None else _turned(piece.normals, turn)
                if piece.uv is not None and uv is not None:
                    uv[here] = piece.uv
                point, first = here.stop, these.stop
            spans.append((begin, first, begin_point, point))
        if not np.isfinite(vertices).all():
            raise CannotRead(say.BROKEN_SOME_OF_ITS_POINTS_ARE)
        extent = vertices.max(axis=0) - vertices.min(axis=0)
        if float(extent.max()) <= 0.0:
            raise CannotRead(say.THE_MODEL_HAS_NO_SIZE)
        kinds[(kinds < 0) | (kinds >= len(materials))] = 0
        parts = tuple(
            Part(shown, parent, begin, end - begin, id_)
            for shown, parent, (begin, end, _, _), id_ in zip(
                self._shown, self._parents, spans, self._ids(vertices, spans), strict=True
            )
        )
        files, tinted = ((), materials) if pictures is None else pictures.settled(materials)
        return SetModel(vertices, faces, kinds, parts, tinted, normals, uv, files)

    def _ids(self, vertices: NDArray[np.float64], spans: list[tuple[int, int, int, int]]) -> tuple[str, ...]:
        """Lasting ids. ``spans``: first and last face, first and last point of each part's own geometry."""
        children: dict[int, list[int]] = {}
        for number, parent in enumerate(self._parents):
            if parent is not None:
                children.setdefault(parent, []).append(number)

        def geometry(part: int) -> str:
            waiting, boxes, triangles = [part], [], 0
            while waiting:
                here = waiting.pop()
                waiting += children.get(here, ())
                begin, end, low, high = spans[here]
                triangles += end - begin
                if high > low:
                    boxes.append(np.array([vertices[low:high].min(axis=0), vertices[low:high].max(axis=0)]))
            return geometry_word(boxes, triangles)

        return lasting_ids(self._own, list(zip(self._names, self._parents, strict=True)), geometry)


def _turned(normals: Numbers, turn: NDArray[np.float64]) -> Numbers:
    """Normals after a transform: by the inverse of its transpose, unit length; NaN where it flattens."""
    if abs(np.linalg.det(turn)) < 1e-30:
        return np.full(normals.shape, np.nan)
    turned = normals @ np.linalg.inv(turn)
    size = np.linalg.norm(turned, axis=1, keepdims=True)
    unit: Numbers = np.divide(turned, size, out=np.full_like(turned, np.nan), where=size > 0)
    return unit
