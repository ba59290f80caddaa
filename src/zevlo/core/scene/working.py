"""The set as it stands on the desk: its triangles without the parts lifted off, searchable and cuttable."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from zevlo.core.arrays import Floats, Integers
from zevlo.core.scene.cuts.beyond import Edges, edges_of, visible_beyond
from zevlo.core.scene.cuts.cut import (
    CUT_DRAWN_TO_M,
    CutIndex,
    DrawingPlane,
    cut_outlines,
    elevation_plane,
    index_for_cuts,
)
from zevlo.core.scene.cuts.cut_away import cut_away
from zevlo.core.scene.cuts.floor import floor_under
from zevlo.core.scene.cuts.opening import Cap, cap_of
from zevlo.core.scene.cuts.outline import CutOutlines
from zevlo.core.scene.model.body import body_box, has_ground
from zevlo.core.scene.model.rays import RayScene
from zevlo.core.scene.model.set_model import SetModel, with_all_below
from zevlo.core.scene.model.support_plane import CLEAR_SHARE, SMALL_M, part_boxes, stood_on
from zevlo.core.scene.model.uprights import upright_runs
from zevlo.core.scene.model.visible import CuttingPlane, Lifted, Visible

KEPT_CUTS = 6
KEPT_WITHOUT = 3
EVERYTHING = Visible()


@dataclass(frozen=True, eq=False)
class WorkingSet:
    """A set with what of it is there. What is derived from it is worked out once, when first asked for."""

    model: SetModel
    visible: Visible = EVERYTHING
    unlifted: WorkingSet | None = None
    """The same set with nothing lifted off, where somebody has it already."""
    fuller: WorkingSet | None = None
    """The same set with parts that are left out of this one."""

    @cached_property
    def whole(self) -> WorkingSet:
        """The set with nothing lifted off: what heights, floors, names and gestures go by."""
        if not self.visible.lifted.anything:
            return self
        return self.unlifted or WorkingSet(self.model, replace(self.visible, lifted=Lifted()))

    @cached_property
    def _last_without(self) -> dict[frozenset[int], WorkingSet]:
        return {}

    def without(self, gone: frozenset[int]) -> WorkingSet:
        """The same where some parts, by number, are not there, with all below them. The last few are kept."""
        if not gone:
            return self
        found = self._last_without.pop(gone, None)
        if found is None:
            left_out = replace(self.visible, left_out=self.visible.left_out | gone)
            unlifted = self.whole.without(gone) if self.whole is not self else None
            found = WorkingSet(self.model, left_out, unlifted, self)
        self._last_without[gone] = found
        # As a list: others may ask for one at the same time.
        for old in list(self._last_without)[:-KEPT_WITHOUT]:
            self._last_without.pop(old, None)
        return found

    @property
    def searched(self) -> bool:
        """Whether rays were sent into it already; the first one takes a while in a large set."""
        return "rays" in self.__dict__

    def is_lifted(self, part: int, z: float) -> bool:
        """Whether a place on a part, at a height, is put aside while one works."""
        height = self.visible.lifted.above
        return (height is not None and z > height) or part in self._lifted_whole

    @cached_property
    def _lifted_whole(self) -> frozenset[int]:
        return frozenset(with_all_below(self.visible.lifted.parts, self.model.parents))

    @cached_property
    def _here(self) -> tuple[Floats, Integers, Integers]:
        gone = self.visible.gone
        kept = np.flatnonzero(self.model.faces_without(gone)).astype(np.int32)
        vertices, faces = self.model.vertices, self.model.faces[kept] if gone else self.model.faces
        for plane in self.visible.planes:
            vertices, faces, owners = cut_away(vertices, faces, plane)
            kept = kept[owners]
        return vertices, faces, kept

    @property
    def vertices(self) -> Floats:
        return self._here[0]

    @property
    def faces(self) -> Integers:
        return self._here[1]

    @property
    def kept(self) -> Integers:
        """Number in the whole set of each face of :attr:`faces`, (n,)."""
        return self._here[2]

    @cached_property
    def rays(self) -> RayScene:
        return RayScene(self.vertices, self.faces)

    @cached_property
    def cut_index(self) -> CutIndex:
        return index_for_cuts(self.vertices, self.faces)

    @cached_property
    def edges(self) -> Edges:
        return edges_of(self.vertices, self.faces)

    @cached_property
    def uprights(self) -> Floats:
        """Its uprights (n, 2, 3), the longest first."""
        return upright_runs(self.edges.creases, self.scale)

    @property
    def uprights_known(self) -> bool:
        """Whether they were looked for already, which takes a while."""
        return "uprights" in self.__dict__

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
        found = self._last_cuts.pop(key, None) or cut_outlines(self.cut_index, plane, CUT_DRAWN_TO_M * self.scale)
        self._last_cuts[key] = found
        while len(self._last_cuts) > KEPT_CUTS:
            self._last_cuts.pop(next(iter(self._last_cuts)))
        return found

    @cached_property
    def _last_caps(self) -> dict[CuttingPlane, Cap]:
        return {}

    def cap(self, plane: CuttingPlane) -> Cap:
        """The faces a plane cuts the set open to. The last few are kept: while anything else changes, they stay."""
        if self.fuller is not None:
            return self.fuller.cap(plane).without(with_all_below(self.visible.left_out, self.model.parents))
        found = self._last_caps.pop(plane, None)
        if found is None:
            tolerance = CUT_DRAWN_TO_M * self.scale
            found = cap_of(self.cut_index, lambda faces: self.model.owner_of(self.kept[faces]), plane, tolerance)
        self._last_caps[plane] = found
        while len(self._last_caps) > KEPT_CUTS:
            self._last_caps.pop(next(iter(self._last_caps)))
        return found

    @cached_property
    def body(self) -> Floats:
        """The box (2, 3) of what the set is about, without stand-ins, and without the ground round it; of a thing on a
        table all of it, for there a ring or a plate is as flat as a ground."""
        boxes = part_boxes(self.model)
        if len(boxes):
            whole = np.array([boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)])
            if float((whole[1] - whole[0]).max()) < SMALL_M:
                return whole
        return body_box(self.model)

    @cached_property
    def scale(self) -> float:
        """1 for a room or a building; of a thing on a table its share of the smallest room. Lengths that are next to
        nothing in a room are so much of a ring."""
        low, high = self.body
        return float(np.clip((high - low).max() / SMALL_M, 1.0e-3, 1.0))

    @cached_property
    def things_stand_on(self) -> float | None:
        """The plane the set's things stand on; None where it is not clear, or a ground is there."""
        if has_ground(self.model):
            return None
        plane = stood_on(part_boxes(self.model), 2)
        return plane.height if plane is not None and plane.share >= CLEAR_SHARE else None

    def floor_under(self, point: Floats) -> float | None:
        """Height of the floor under a point (3,); where nothing lies below it, the plane the set's things stand on.

        None where neither is there, or the point lies below that plane.
        """
        found = floor_under(self.cut_index, point)
        if found is None and self.whole is self:
            plane = self.things_stand_on
            return plane if plane is not None and plane <= float(point[2]) else None
        return found

    def floor_at(self, x: float, y: float, from_z: float | None = None) -> float | None:
        """Floor height at a place in plan, looking down from ``from_z``, or from above all where that finds none."""
        found = None if from_z is None else self.floor_under(np.array([x, y, from_z]))
        return self.floor_under(np.array([x, y, self.bounds[1, 2] + 1.0])) if found is None else found

    def beyond(self, plane: DrawingPlane, depth: float, within: Floats | None = None) -> Floats:
        return visible_beyond(self.edges.seen_from(plane.toward), self.rays, plane, depth, within, self.scale)

    def elevation(self, within: Floats) -> Floats:
        """Lines (n, 2, 2), x and height, of the edges seen from the south inside a box ``within`` (2, 3)."""
        south, north = within[:, 1].tolist()
        before = 0.01 * (north - south)
        return self.beyond(elevation_plane(south - before), north - south + 2.0 * before, within[:, [0, 2]])

    def part_at(self, face: int) -> int:
        """The part that owns a face of :attr:`faces`."""
        return int(self.parts_of(np.array([face]))[0])

    def parts_of(self, faces: Integers) -> Integers:
        """The parts that own faces (n,) of :attr:`faces`."""
        return self.model.owner_of(self.kept[faces])
