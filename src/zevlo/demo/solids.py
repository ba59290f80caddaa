"""Shapes the demonstration set is made of. Metres, Z up; every shape is closed and wound outwards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import mapbox_earcut
import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.sparse import coo_matrix

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Solid:
    """``vertices`` (V, 3) and ``faces`` (F, 3)."""

    vertices: Floats
    faces: NDArray[np.int64]

    def moved(self, x: float = 0.0, y: float = 0.0, z: float = 0.0) -> Solid:
        return Solid(self.vertices + [x, y, z], self.faces)

    def turned(self, degrees: float) -> Solid:
        """Turned anticlockwise about the upright axis."""
        c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        return Solid(self.vertices @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]]), self.faces)

    def mapped(self, matrix: ArrayLike) -> Solid:
        """Carried by a (3, 3) rotation on column vectors."""
        return Solid(self.vertices @ np.asarray(matrix, dtype=float).T, self.faces)

    def __add__(self, other: Solid) -> Solid:
        return Solid(
            np.vstack([self.vertices, other.vertices]),
            np.vstack([self.faces, other.faces + len(self.vertices)]),
        )


def together(solids: list[Solid]) -> Solid:
    """Several solids as one."""
    whole = solids[0]
    for solid in solids[1:]:
        whole = whole + solid
    return whole


def box(low: ArrayLike, high: ArrayLike) -> Solid:
    """An upright box between two corners."""
    low, high = np.asarray(low, dtype=float), np.asarray(high, dtype=float)
    corners = np.array([[i & 1, i >> 1 & 1, i >> 2 & 1] for i in range(8)])
    quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]]
    faces = [[q[a], q[b], q[c]] for q in quads for a, b, c in ((0, 1, 2), (0, 2, 3))]
    return Solid(low + corners * (high - low), np.array(faces))


def lathe(profile: ArrayLike, segments: int = 28) -> Solid:
    """A profile of (radius, height), from bottom to top on the outside, turned about the upright axis.

    Ends with radius 0 close to a point; other ends are closed with a disc.
    """
    rows = [tuple(p) for p in np.asarray(profile, dtype=float)]
    if rows[0][0] > 0:
        rows.insert(0, (0.0, rows[0][1]))
    if rows[-1][0] > 0:
        rows.append((0.0, rows[-1][1]))
    angle = np.linspace(0, 2 * np.pi, segments, endpoint=False)
    ring = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    vertices: list[tuple[float, float, float]] = []
    index = []
    for radius, height in rows:
        index.append(len(vertices))
        points = [(0.0, 0.0, height)] if radius == 0 else [(radius * x, radius * y, height) for x, y in ring]
        vertices.extend(points)
    faces = []
    for row in range(len(rows) - 1):
        a, b = index[row], index[row + 1]
        for n in range(segments):
            m = (n + 1) % segments
            if rows[row][0] > 0:
                faces.append([a + n, a + m, b + (m if rows[row + 1][0] > 0 else 0)])
            if rows[row + 1][0] > 0:
                faces.append([a + (n if rows[row][0] > 0 else 0), b + m, b + n])
    return Solid(np.array(vertices), np.array(faces))


def tube(path: ArrayLike, radii: ArrayLike, segments: int = 14) -> Solid:
    """A round tube along points (n, 3) with a radius at each."""
    path, radii = np.asarray(path, dtype=float), np.asarray(radii, dtype=float)
    along = np.gradient(path, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    side = np.cross(along, [0.0, 1.0, 0.0])
    weak = np.linalg.norm(side, axis=1) < 1e-6
    side[weak] = [1.0, 0.0, 0.0]
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    over = np.cross(side, along)
    angle = np.linspace(0, 2 * np.pi, segments, endpoint=False)
    rings = path[:, None] + radii[:, None, None] * (
        np.cos(angle)[None, :, None] * side[:, None] - np.sin(angle)[None, :, None] * over[:, None]
    )
    vertices = np.vstack([rings.reshape(-1, 3), path[:1], path[-1:]])
    first, last = len(vertices) - 2, len(vertices) - 1
    faces = []
    for row in range(len(path) - 1):
        for n in range(segments):
            m = (n + 1) % segments
            a, b = row * segments, (row + 1) * segments
            faces += [[a + n, b + m, a + m], [a + n, b + n, b + m]]
    end = (len(path) - 1) * segments
    for n in range(segments):
        m = (n + 1) % segments
        faces += [[first, n, m], [last, end + m, end + n]]
    return _outwards(Solid(vertices, np.array(faces)))


def _outwards(solid: Solid) -> Solid:
    a, b, c = (solid.vertices[solid.faces[:, k]] for k in range(3))
    volume = np.einsum("ij,ij->i", a, np.cross(b, c)).sum()
    return solid if volume > 0 else Solid(solid.vertices, solid.faces[:, ::-1])


def slab(outline: ArrayLike, holes: Sequence[ArrayLike], low: float, high: float) -> Solid:
    """An outline (n, 2) with holes, drawn in x and y, made solid between two heights."""
    rings = [np.asarray(ring, dtype=float) for ring in [outline, *holes]]
    flat = np.vstack(rings)
    ends = np.cumsum([len(ring) for ring in rings])
    cap = mapbox_earcut.triangulate_float64(flat, ends.astype(np.uint32)).reshape(-1, 3).astype(np.int64)
    a, b, c = (flat[cap[:, k]] for k in range(3))
    ab, ac = b - a, c - a
    turn = ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]
    cap[turn < 0] = cap[turn < 0][:, ::-1]
    count = len(flat)
    vertices = np.vstack([np.c_[flat, np.full(count, low)], np.c_[flat, np.full(count, high)]])
    faces = [cap[:, ::-1], cap + count]
    start = 0
    for number, ring in enumerate(rings):
        following = np.roll(ring, -1, axis=0)
        area = float((ring[:, 0] * following[:, 1] - following[:, 0] * ring[:, 1]).sum())
        here = start + np.arange(len(ring))
        onward = start + (np.arange(len(ring)) + 1) % len(ring)
        if (area > 0) == (number > 0):
            here, onward = onward, here
        faces.append(np.stack([here, onward, onward + count], axis=1))
        faces.append(np.stack([here, onward + count, here + count], axis=1))
        start += len(ring)
    return Solid(vertices, np.vstack(faces))


def rectangle(x0: float, y0: float, x1: float, y1: float) -> list[tuple[float, float]]:
    return [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]


EASTWARD = np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]])
"""Carries a slab drawn in (along, height) to a wall running east; its thickness goes south."""
NORTHWARD = np.array([[0, 0, 1.0], [1.0, 0, 0], [0, 1.0, 0]])
"""The same for a wall running north; its thickness goes east."""


def wall_east(y: float, thick: float, outline: ArrayLike, holes: Sequence[ArrayLike]) -> Solid:
    """A wall along x with its outline in (x, z), from ``y`` to ``y + thick``."""
    return slab(outline, holes, -y - thick, -y).mapped(EASTWARD)


def wall_north(x: float, thick: float, outline: ArrayLike, holes: Sequence[ArrayLike]) -> Solid:
    """A wall along y with its outline in (y, z), from ``x`` to ``x + thick``."""
    return slab(outline, holes, x, x + thick).mapped(NORTHWARD)


@dataclass(frozen=True)
class Shaded:
    """A solid ready for a picture: split ``vertices`` with ``normals`` (V, 3) and ``uv`` (V, 2) in metres."""

    vertices: Floats
    faces: NDArray[np.int64]
    normals: Floats
    uv: Floats


def shaded(solid: Solid, crease_deg: float = 42.0) -> Shaded:
    """Normals smooth up to the crease angle; texture laid on flat from the side each face looks to."""
    corners = solid.vertices[solid.faces]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(area, axis=1)
    faces, corners, area = solid.faces[size > 1e-12], corners[size > 1e-12], area[size > 1e-12]
    flat = area / np.linalg.norm(area, axis=1, keepdims=True)
    _, place = np.unique(np.round(solid.vertices, 6), axis=0, return_inverse=True)
    corner_place = place.ravel()[faces].ravel()
    count = len(corner_place)
    at = coo_matrix((np.ones(count), (np.arange(count), corner_place))).tocsr()
    pairs = (at @ at.T).tocoo()
    owner = np.arange(count) // 3
    agree = np.einsum("ij,ij->i", flat[owner[pairs.row]], flat[owner[pairs.col]]) > np.cos(np.radians(crease_deg))
    normals = np.zeros((count, 3))
    np.add.at(normals, pairs.row[agree], area[owner[pairs.col[agree]]])
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    points = corners.reshape(-1, 3)
    axis = np.repeat(np.abs(flat).argmax(axis=1), 3)
    u = np.where(axis == 0, points[:, 1], points[:, 0])
    v = np.where(axis == 2, points[:, 1], points[:, 2])
    rows = np.round(np.column_stack([points, normals, u, v]), 6)
    unique, inverse = np.unique(rows, axis=0, return_inverse=True)
    return Shaded(unique[:, :3], inverse.reshape(-1, 3), unique[:, 3:6], unique[:, 6:])
