"""What a drawing shows thin: the edges of things beyond the cut that nothing hides from the reader."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Integers
from zevlo.core.scene.cuts.cut import DrawingPlane
from zevlo.core.scene.model.rays import RayScene

CREASE_DEG = 28.0
FLAT = 1.0 - 1.0e-7
"""Cosine of the least turn that makes an edge: triangles of one flat face make none."""
EDGE_ON = 0.02
"""Faces turned from the reader by less than one degree more or less than a right angle count as seen edge on."""
MOST_WITH_OUTLINE = 1_000_000
PIECE_M = 0.12
MAX_PIECES = 120_000
_ASIDE_M = 4.0e-3
SHORTEST_M = 2.0e-3
_RAYS_A_TURN = 4000


def _position_ids(vertices: Floats) -> NDArray[np.int64]:
    """One number for each place, (V,): vertices split for normals or textures fall together again."""
    grid = np.round(vertices * 1.0e5).astype(np.int64).astype(np.uint64)
    mixed = np.zeros(len(grid), dtype=np.uint64)
    # One 64-bit number a place (the mixing of SplitMix64): sorting those is ten times faster than sorting rows.
    for axis, factor in enumerate((0x9E3779B97F4A7C15, 0xBF58476D1CE4E5B9, 0x94D049BB133111EB)):
        mixed = (mixed + grid[:, axis]) * np.uint64(factor)
        mixed ^= mixed >> np.uint64(31)
    ids: NDArray[np.int64] = np.unique(mixed, return_inverse=True)[1]
    return ids


@dataclass(frozen=True)
class Edges:
    """The edges of a surface: ``creases`` (E, 2, 3), drawn from wherever one looks; and those it bends gently at, which
    are its outline from somewhere: numbers of their ``ends`` (S, 2) and of the faces at their ``sides`` (S, 2)."""

    creases: Floats
    vertices: Floats
    normals: NDArray[np.float32]
    ends: Integers
    sides: Integers

    def seen_from(self, toward: Floats) -> Floats:
        """Edges (n, 2, 3) a reader sees from far off: creases, and where the surface turns away. ``toward`` (3,): unit
        vector to the reader."""
        facing = self.normals @ toward.astype(np.float32)
        side = np.sign(np.where(np.abs(facing) < EDGE_ON, 0.0, facing))[self.sides]
        turns: Floats = self.vertices[self.ends[side[:, 0] != side[:, 1]]]
        return np.concatenate([self.creases, turns])


def edges_of(vertices: Floats, faces: Integers, crease_deg: float = CREASE_DEG) -> Edges:
    """Edges where the surface ends or turns by more than ``crease_deg``, and the gentle ones; none of no surface.

    A surface of millions of faces is drawn by its creases alone.
    """
    nothing = np.zeros((0, 2), dtype=np.int32)
    if len(faces) == 0:
        return Edges(np.zeros((0, 2, 3)), vertices, np.zeros((0, 3), dtype=np.float32), nothing, nothing)
    corners = vertices[faces]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(normal, axis=1)
    real = size > 0.0
    faces, normal = faces[real], normal[real] / size[real, None]
    place = _position_ids(vertices)[faces]
    ends = np.stack([place, np.roll(place, -1, axis=1)], axis=-1).reshape(-1, 2)
    where = np.stack([faces, np.roll(faces, -1, axis=1)], axis=-1).reshape(-1, 2)
    low, high = ends.min(axis=1), ends.max(axis=1)
    key = low * (int(place.max()) + 1) + high
    order = np.argsort(key, kind="stable")
    sorted_key = key[order]
    first = np.flatnonzero(np.r_[True, sorted_key[1:] != sorted_key[:-1]])
    count = np.diff(np.r_[first, len(sorted_key)])
    owner = np.repeat(np.arange(len(faces), dtype=np.int32), 3)[order]
    sharp = count != 2
    pair = first[~sharp]
    turned = np.einsum("ij,ij->i", normal[owner[pair]], normal[owner[pair + 1]])
    sharp[~sharp] = turned < np.cos(np.radians(crease_deg))
    creases: Floats = vertices[where[order[first[sharp]]]]
    gentle = pair[(turned >= np.cos(np.radians(crease_deg))) & (turned < FLAT)]
    if len(faces) > MOST_WITH_OUTLINE:
        gentle = gentle[:0]
    sides = np.stack([owner[gentle], owner[gentle + 1]], axis=1)
    return Edges(creases, vertices, normal.astype(np.float32), where[order[gentle]].astype(np.int32), sides)


def visible_beyond(
    edges: Floats, rays: RayScene, plane: DrawingPlane, depth: float, within: Floats | None = None, scale: float = 1.0
) -> Floats:
    """Lines (n, 2, 2) on paper of the edges up to ``depth`` beyond the plane that the reader can see.

    ``within`` (2, 2): lowest and highest paper corner worth drawing. Edges are tried in short pieces, each
    from both sides of the edge, by a ray towards the reader that ends at the plane. ``scale``: how large the set is,
    1 for a room.

    ``edges`` (n, 2, 3): in metres; ``rays``: of the set."""
    lines = _clipped(edges, plane, depth)
    if within is not None and len(lines):
        paper = plane.flat(lines)
        lines = lines[((paper.max(axis=1) >= within[0]) & (paper.min(axis=1) <= within[1])).all(axis=1)]
    if len(lines) == 0:
        return np.zeros((0, 2, 2))
    flat = plane.flat(lines)
    length = np.linalg.norm(flat[:, 1] - flat[:, 0], axis=1)
    drawn = length > SHORTEST_M * scale
    lines, length = lines[drawn], length[drawn]
    if len(lines) == 0:
        return np.zeros((0, 2, 2))
    piece = max(PIECE_M * scale, float(length.sum()) / MAX_PIECES)
    pieces = np.maximum(1, np.ceil(length / piece)).astype(np.int64)
    if int(pieces.sum()) > 2 * MAX_PIECES:
        longest = np.argsort(-length)[:MAX_PIECES]
        lines, pieces = lines[longest], pieces[longest]
    owner = np.repeat(np.arange(len(lines)), pieces)
    index = np.arange(len(owner)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    step = (lines[:, 1] - lines[:, 0])[owner] / pieces[owner, None]
    begin = lines[owner, 0] + index[:, None] * step
    seen = _seen(begin + step / 2.0, step, rays, plane, _ASIDE_M * scale)
    # Neighbouring pieces that are both seen become one line again.
    joined = seen[1:] & seen[:-1] & (owner[1:] == owner[:-1])
    starts = np.flatnonzero(seen & ~np.r_[False, joined])
    stops = np.flatnonzero(seen & ~np.r_[joined, False])
    return plane.flat(np.stack([begin[starts], begin[stops] + step[stops]], axis=1))


def _clipped(edges: Floats, plane: DrawingPlane, depth: float) -> Floats:
    """Edges cut down to what lies between the plane and ``depth`` beyond it."""
    height = (edges - plane.origin) @ plane.toward
    inside = (height.min(axis=1) < 0.0) & (height.max(axis=1) > -depth)
    edges, height = edges[inside], height[inside]
    span = height[:, 1] - height[:, 0]
    safe = np.where(np.abs(span) < 1.0e-12, 1.0, span)
    at_plane, at_depth = -height[:, 0] / safe, (-depth - height[:, 0]) / safe
    flat = np.abs(span) < 1.0e-12
    low = np.where(flat, 0.0, np.clip(np.minimum(at_plane, at_depth), 0.0, 1.0))
    high = np.where(flat, 1.0, np.clip(np.maximum(at_plane, at_depth), 0.0, 1.0))
    along = edges[:, 1] - edges[:, 0]
    return np.stack([edges[:, 0] + low[:, None] * along, edges[:, 0] + high[:, None] * along], axis=1)


def _seen(middle: Floats, along: Floats, rays: RayScene, plane: DrawingPlane, off: float) -> NDArray[np.bool_]:
    aside = np.cross(along, plane.toward)
    size = np.linalg.norm(aside, axis=1, keepdims=True)
    aside = np.divide(aside, size, out=np.zeros_like(aside), where=size > 0) * off
    reach = -((middle - plane.origin) @ plane.toward) - off
    toward = np.broadcast_to(plane.toward, middle.shape)
    near = reach <= off
    start = middle + off * plane.toward
    limit = np.maximum(reach, off)
    one_side, other_side = start + aside, start - aside
    hidden = np.empty(len(middle), dtype=np.bool_)
    # In short turns: whoever waits for a sheet meanwhile gets it between two of them.
    for begin in range(0, len(middle), _RAYS_A_TURN):
        turn = slice(begin, begin + _RAYS_A_TURN)
        left = rays.blocked(one_side[turn], toward[turn], limit[turn])
        hidden[turn] = left & rays.blocked(other_side[turn], toward[turn], limit[turn])
    return near | ~hidden
