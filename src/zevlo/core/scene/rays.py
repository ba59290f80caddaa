"""Rays against the set: what is hit, what is in the way. Embree does the search."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from zevlo.core.scene.model import Floats, Integers

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
        found = self._scene.run(local, np.ascontiguousarray(directions, dtype=np.float32), query="DISTANCE")
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
