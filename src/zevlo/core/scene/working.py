"""The set as it stands on the desk: its triangles without the parts lifted off, searchable and cuttable."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zevlo.core.scene.beyond import crease_edges, visible_beyond
from zevlo.core.scene.cut import CutIndex, DrawingPlane, cut_outlines, index_for_cuts
from zevlo.core.scene.floor import floor_under
from zevlo.core.scene.model import Floats, Integers, SetModel
from zevlo.core.scene.outline import CutOutlines
from zevlo.core.scene.rays import RayScene

KEPT_CUTS = 6


@dataclass(frozen=True, eq=False)
class WorkingSet:
    """A set without some parts. What is derived from it is worked out once, when first asked for."""

    model: SetModel
    lifted: frozenset[int] = frozenset()

    @cached_property
    def kept(self) -> Integers:
        """Numbers in the whole set of the faces that are here, (n,)."""
        return np.flatnonzero(self.model.faces_without(self.lifted)).astype(np.int32)

    @cached_property
    def faces(self) -> Integers:
        return self.model.faces[self.kept] if self.lifted else self.model.faces

    @cached_property
    def rays(self) -> RayScene:
        return RayScene(self.model.vertices, self.faces)

    @cached_property
    def cut_index(self) -> CutIndex:
        return index_for_cuts(self.model.vertices, self.faces)

    @cached_property
    def creases(self) -> Floats:
        return crease_edges(self.model.vertices, self.faces)

    @cached_property
    def bounds(self) -> Floats:
        return self.model.bounds

    @cached_property
    def reach(self) -> float:
        """How far a line of sight is followed, in metres: past everything there is."""
        return float(np.linalg.norm(self.bounds[1] - self.bounds[0])) * 1.5 + 5.0

    @cached_property
    def _last_cuts(self) -> dict[bytes, CutOutlines]:
        return {}

    def cut(self, plane: DrawingPlane) -> CutOutlines:
        """What a plane cuts. The last few are kept: while only lens or focus change, the section stays."""
        key = plane.frame.tobytes()
        found = self._last_cuts.pop(key, None) or cut_outlines(self.cut_index, plane)
        self._last_cuts[key] = found
        while len(self._last_cuts) > KEPT_CUTS:
            self._last_cuts.pop(next(iter(self._last_cuts)))
        return found

    def floor_under(self, point: Floats) -> float | None:
        """Height of the floor under a point (3,), or None where nothing lies below it."""
        return floor_under(self.cut_index, point)

    def beyond(self, plane: DrawingPlane, depth: float, within: Floats | None = None) -> Floats:
        return visible_beyond(self.creases, self.rays, plane, depth, within)

    def part_at(self, face: int) -> int:
        """The part that owns a face of :attr:`faces`."""
        whole = int(self.kept[face])
        for index, part in enumerate(self.model.parts):
            if part.first_face <= whole < part.first_face + part.face_count:
                return index
        raise IndexError(f"no part owns face {whole}")
