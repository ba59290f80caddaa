"""Rays against the set: what is hit, what is in the way, the floor under a point. Embree does the search."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from zevlo.core.scene.model import Floats, Integers

FURNITURE_CLEARANCE_M = (0.25, 1.3)
"""A surface with clear air under it in this range is a table or a bench, not a floor (our convention)."""
FURNITURE_THICKNESS_M = 0.35
_STEP_OFF_M = 1.0e-3
_MOST_SURFACES = 24
_FAR_M = 1.0e7
_NOTHING_HIT = 1.0e30


@dataclass(frozen=True)
class Hits:
    """First hits: ``distance`` (N,) along unit directions, inf for none; ``face`` (N,), -1 for none."""

    distance: Floats
    face: Integers
    normal: Floats


class RayScene:
    """The triangles of a set, searchable by ray. Coordinates are centred, so that float32 stays exact enough."""

    def __init__(self, vertices: Floats, faces: Integers) -> None:
        self._centre: Floats = (vertices.min(axis=0) + vertices.max(axis=0)) / 2.0 if len(vertices) else np.zeros(3)
        self._scene: Any = EmbreeScene(robust=True)
        if len(faces):
            self._mesh = TriangleMesh(
                self._scene,
                np.ascontiguousarray(vertices - self._centre, dtype=np.float32),
                np.ascontiguousarray(faces, dtype=np.int32),
            )
        self._empty = len(faces) == 0

    def _local(self, origins: Floats) -> NDArray[np.float32]:
        return np.array(origins - self._centre, dtype=np.float32, order="C")

    def first(self, origins: Floats, directions: Floats) -> Hits:
        """First hit of each ray; ``origins`` and unit ``directions`` (N, 3)."""
        count = len(origins)
        if self._empty or count == 0:
            return Hits(np.full(count, np.inf), np.full(count, -1, dtype=np.int32), np.zeros((count, 3)))
        found = self._scene.run(self._local(origins), np.array(directions, dtype=np.float32, order="C"), output=True)
        face = found["primID"].astype(np.int32)
        missed = face < 0
        distance = found["tfar"].astype(np.float64)
        distance[missed] = np.inf
        normal = found["Ng"].astype(np.float64)
        length = np.linalg.norm(normal, axis=1, keepdims=True)
        normal = np.divide(normal, length, out=np.zeros_like(normal), where=length > 0)
        return Hits(distance, face, normal)

    def distances(self, origins: Floats, directions: Floats) -> Floats:
        """Distance of the first hit of each ray along unit ``directions`` (N, 3), (N,); inf for none.

        ``origins`` (N, 3), or (1, 3) for all.
        """
        count = len(directions)
        if self._empty or count == 0:
            return np.full(count, np.inf)
        local = np.empty((count, 3), dtype=np.float32)
        local[:] = origins - self._centre
        found = self._scene.run(local, np.array(directions, dtype=np.float32, order="C"), query="DISTANCE")
        distance: Floats = found.astype(np.float64)
        distance[found > _NOTHING_HIT] = np.inf
        return distance

    def blocked(self, origins: Floats, directions: Floats, reach: Floats | float = _FAR_M) -> NDArray[np.bool_]:
        """Whether anything lies within ``reach`` metres of each ray, (N,)."""
        count = len(origins)
        if self._empty or count == 0:
            return np.zeros(count, dtype=bool)
        within = np.array(np.broadcast_to(reach, (count,)), dtype=np.float32)
        found = self._scene.run(
            self._local(origins),
            np.array(directions, dtype=np.float32, order="C"),
            dists=within,
            query="OCCLUDED",
        )
        blocked: NDArray[np.bool_] = np.asarray(found) >= 0
        return blocked

    def _surfaces_below(self, point: Floats) -> Iterator[tuple[float, float]]:
        """Heights and upward shares of the normals of what lies below a point (3,), going down."""
        if self._empty:
            return
        origin = self._local(point[None])
        down = np.array([[0.0, 0.0, -1.0]], dtype=np.float32)
        for _ in range(_MOST_SURFACES):
            found = self._scene.run(origin, down, output=True)
            if found["primID"][0] < 0:
                return
            normal = found["Ng"][0].astype(np.float64)
            height = float(origin[0, 2]) - float(found["tfar"][0])
            yield height + float(self._centre[2]), float(normal[2] / (np.sqrt(normal @ normal) or 1.0))
            origin[0, 2] = height - _STEP_OFF_M

    def floor_under(self, point: Floats) -> float | None:
        """Height of the floor under a point (3,), or None where nothing lies below it.

        The first surface below that is no furniture: a thin one with 0.25 to 1.3 m of clear air under it is
        passed through, because a tripod stands beside a table, not on it.
        """
        below = self._surfaces_below(point)
        surfaces: list[tuple[float, float]] = []
        top = 0
        while (top < len(surfaces)) or _one_more(below, surfaces):
            underside = _furniture_underside(below, surfaces, top)
            if underside is None:
                return surfaces[top][0]
            top = underside + 1
        return surfaces[0][0] if surfaces else None


def _one_more(below: Iterator[tuple[float, float]], surfaces: list[tuple[float, float]]) -> bool:
    """Look one surface further down, if there is one: mostly the first few already tell."""
    found = next(below, None)
    if found is not None:
        surfaces.append(found)
    return found is not None


def _furniture_underside(
    below: Iterator[tuple[float, float]], surfaces: list[tuple[float, float]], top: int
) -> int | None:
    """Number of the surface that is the underside of a table whose top is ``top``; None where that is a floor.

    ``surfaces`` are heights and upward shares of normals, going down. Boards that touch count as one: only an
    underside with air below it, down to something that faces up, ends a table.
    """
    index = top
    while index + 1 < len(surfaces) or _one_more(below, surfaces):
        index += 1
        height, facing = surfaces[index]
        if surfaces[top][0] - height >= FURNITURE_THICKNESS_M:
            return None
        if index + 1 >= len(surfaces) and not _one_more(below, surfaces):
            return None
        under, under_facing = surfaces[index + 1]
        air = facing < 0.0 < under_facing
        if air and FURNITURE_CLEARANCE_M[0] < height - under < FURNITURE_CLEARANCE_M[1]:
            return index
    return None
