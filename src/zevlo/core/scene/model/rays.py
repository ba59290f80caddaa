"""Rays against the set: what is hit, what is in the way. Embree does the search."""

from __future__ import annotations

from dataclasses import dataclass
from time import sleep
from typing import Any

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Integers

_FAR_M = 1.0e7
_NOTHING_HIT = 1.0e30


@dataclass(frozen=True)
class Hits:
    """First hits: ``distance`` (N,) along unit directions, inf for none; ``face`` (N,), -1 for none."""

    distance: Floats
    face: Integers
    normal: Floats


MOST_FACES = 800_000
"""Embree builds its search tree without letting go of Python: of a large set in shares, so that others get a turn."""


class RayScene:
    """The triangles of a set, searchable by ray. Coordinates are centred, so that float32 stays exact enough."""

    def __init__(self, vertices: Floats, faces: Integers, most: int = MOST_FACES) -> None:
        self._centre: Floats = (vertices.min(axis=0) + vertices.max(axis=0)) / 2.0 if len(vertices) else np.zeros(3)
        self._scenes: list[tuple[Any, Any, int]] = []
        if len(faces) == 0:
            return
        centred = np.ascontiguousarray(vertices - self._centre, dtype=np.float32)
        own = np.ascontiguousarray(faces, dtype=np.int32)
        shares = -(-len(own) // most)
        for share in np.array_split(np.arange(len(own)), shares):
            first, last = int(share[0]), int(share[-1]) + 1
            scene = EmbreeScene(robust=True)
            # Faces follow their parts, so a share needs only a stretch of the corners.
            low, high = int(own[first:last].min()), int(own[first:last].max()) + 1
            mesh = TriangleMesh(scene, centred[low:high], own[first:last] - np.int32(low))
            if shares > 1:
                scene.run(np.zeros((1, 3), np.float32), np.array([[0.0, 0.0, 1.0]], np.float32), query="DISTANCE")
                sleep(0.005)
            self._scenes.append((scene, mesh, first))

    def _local(self, origins: Floats) -> NDArray[np.float32]:
        return np.array(origins - self._centre, dtype=np.float32, order="C")

    def first(self, origins: Floats, directions: Floats) -> Hits:
        """First hit of each ray; ``origins`` and unit ``directions`` (N, 3)."""
        count = len(origins)
        distance = np.full(count, np.inf)
        face = np.full(count, -1, dtype=np.int32)
        normal = np.zeros((count, 3))
        if count == 0:
            return Hits(distance, face, normal)
        local, along = self._local(origins), np.array(directions, dtype=np.float32, order="C")
        for scene, _, first in self._scenes:
            found = scene.run(local, along, output=True)
            met = (found["primID"] >= 0) & (found["tfar"] < distance)
            distance[met] = found["tfar"][met]
            face[met] = found["primID"][met] + first
            normal[met] = found["Ng"][met]
        length = np.linalg.norm(normal, axis=1, keepdims=True)
        normal = np.divide(normal, length, out=np.zeros_like(normal), where=length > 0)
        return Hits(distance, face, normal)

    def distances(self, origins: Floats, directions: Floats) -> Floats:
        """Distance of the first hit of each ray along unit ``directions`` (N, 3), (N,); inf for none.

        ``origins`` (N, 3), or (1, 3) for all.
        """
        count = len(directions)
        distance = np.full(count, np.inf)
        if count == 0:
            return distance
        local = np.empty((count, 3), dtype=np.float32)
        local[:] = origins - self._centre
        along = np.ascontiguousarray(directions, dtype=np.float32)
        for scene, _, _ in self._scenes:
            found = scene.run(local, along, query="DISTANCE").astype(np.float64)
            np.minimum(distance, np.where(found > _NOTHING_HIT, np.inf, found), out=distance)
        return distance

    def blocked(self, origins: Floats, directions: Floats, reach: Floats | float = _FAR_M) -> NDArray[np.bool_]:
        """Whether anything lies within ``reach`` metres of each ray, (N,)."""
        count = len(origins)
        blocked = np.zeros(count, dtype=bool)
        if count == 0:
            return blocked
        local, along = self._local(origins), np.array(directions, dtype=np.float32, order="C")
        for scene, _, _ in self._scenes:
            within = np.array(np.broadcast_to(reach, (count,)), dtype=np.float32)
            blocked |= np.asarray(scene.run(local, along, dists=within, query="OCCLUDED")) >= 0
        return blocked
