"""A set opened by a cutting plane for one shot: the faces it cuts solids open to, and the set without what it takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import accumulate

import mapbox_earcut
import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from zevlo.core.arrays import Floats, Integers
from zevlo.core.scene.cuts.cut import CutIndex, DrawingPlane, cut_segments
from zevlo.core.scene.cuts.cut_away import cut_away
from zevlo.core.scene.cuts.outline import CutOutlines, chain, flat_segments, straight_runs
from zevlo.core.scene.model.rays import RayScene
from zevlo.core.scene.model.set_model import Material, SetModel
from zevlo.core.scene.model.visible import CuttingPlane

CUT_FACE = Material("Cut face", base_color=(0.033, 0.038, 0.037), roughness=1.0)
"""Plain and dark, as what is cut is filled in a drawing."""
SLIVER_M2 = 1.0e-10
_BESIDE_M = 1.0e-3


@dataclass(frozen=True, eq=False)
class Cap:
    """The faces a plane cuts solids open to: ``points`` (V, 3), ``triangles`` (T, 3) towards the side that is taken
    away, and the number of the ``parts`` (T,) they belong to. ``open_lines``: how many surfaces it cuts stay open."""

    points: Floats
    triangles: Integers
    parts: Integers
    open_lines: int

    @cached_property
    def rays(self) -> RayScene:
        return RayScene(self.points, self.triangles)

    def without(self, gone: list[int]) -> Cap:
        """The cap of what is still there without some parts."""
        kept = ~np.isin(self.parts, gone)
        return self if kept.all() else replace(self, triangles=self.triangles[kept], parts=self.parts[kept])

    def parts_at(self, places: Floats, normal: Floats) -> Integers:
        """The part whose cut face each of some places (n, 3) on the plane lies on, (n,); -1 for none."""
        if len(self.triangles) == 0:
            return np.full(len(places), -1, dtype=np.int32)
        hit = self.rays.first(places + _BESIDE_M * normal, np.broadcast_to(-normal, places.shape))
        met = (hit.face >= 0) & (hit.distance < 2.0 * _BESIDE_M)
        found: Integers = np.where(met, self.parts[hit.face], -1).astype(np.int32)
        return found


NO_CAP = Cap(np.zeros((0, 3)), np.zeros((0, 3), np.int32), np.zeros(0, np.int32), 0)


def paper_of(plane: CuttingPlane) -> DrawingPlane:
    """The cutting plane as a sheet of paper, read from the side that is taken away."""
    normal = np.array(plane.normal)
    across = np.cross([0.0, 0.0, 1.0], normal) if abs(normal[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    across = across - (across @ normal) * normal
    across /= np.linalg.norm(across)
    return DrawingPlane(np.array([plane.point, across, np.cross(normal, across), normal]))


def cap_of(index: CutIndex, owners_of: Callable[[Integers], Integers], plane: CuttingPlane, tolerance: float) -> Cap:
    """The cap of what a plane cuts. ``owners_of``: the parts of some faces of the index."""
    paper = paper_of(plane)
    segments, faces = cut_segments(index, paper)
    if len(segments) == 0:
        return NO_CAP
    part = owners_of(faces)
    order = np.argsort(part, kind="stable")
    numbers, starts = np.unique(part[order], return_index=True)
    origin, across, up = (np.ascontiguousarray(row) for row in paper.frame[:3])
    points, triangles, parts, opened, made = [], [], [], 0, 0
    for number, own in zip(numbers.tolist(), np.split(segments[order], starts[1:]), strict=True):
        flat = flat_segments(np.ascontiguousarray(own), origin, across, up)
        if len(flat) == 0:
            continue
        outlines = CutOutlines(*straight_runs(flat, *chain(flat), tolerance))
        solids, shells = _solid(outlines.closed)
        opened += len(outlines.open) + shells
        for solid in solids:
            corners, faces_of = _triangulated(solid)
            points.append(corners)
            triangles.append(faces_of + made)
            parts.append(np.full(len(faces_of), number, dtype=np.int32))
            made += len(corners)
    if not points:
        return replace(NO_CAP, open_lines=opened)
    on_paper = np.concatenate(points)
    places = paper.origin + on_paper @ paper.paper
    return Cap(places, np.concatenate(triangles).astype(np.int32), np.concatenate(parts), opened)


Rings = list[Floats]
"""An outline and what is hollow in it, (n, 2) each."""


def _solid(rings: tuple[Floats, ...]) -> tuple[list[Rings], int]:
    """What closed outlines of one part enclose, and how many enclose nothing. The larger come first: what lies in a
    hollow is solid again. A hollow in nothing is a shell whose faces look inwards, as a room is often modelled; to
    close that would wall the room up, so it stays open."""
    sized = [(area, ring) for area, ring in ((_area(ring), ring) for ring in rings) if abs(area) > SLIVER_M2]
    # Read from the side that is taken away, what is solid lies to the right of its outline.
    if all(area < 0.0 for area, _ in sized):
        return [[ring] for _, ring in sized], 0
    found: Polygon | MultiPolygon = Polygon()
    shells = 0
    for area, ring in sorted(sized, key=lambda one: -abs(one[0])):
        other = _polygon(ring)
        if area < 0.0:
            found = found.union(other)
        elif found.intersects(other.representative_point()):
            found = found.difference(other)
        else:
            shells += 1
    kinds = found.geoms if hasattr(found, "geoms") else [found]
    polygons = [one for one in kinds if isinstance(one, Polygon) and one.area > SLIVER_M2]
    return [[np.array(ring.coords)[:-1] for ring in (one.exterior, *one.interiors)] for one in polygons], shells


def _area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    turned = x[:-1] @ y[1:] - y[:-1] @ x[1:] + x[-1] * y[0] - y[-1] * x[0]
    return float(turned) / 2.0


def _polygon(ring: Floats) -> Polygon | MultiPolygon:
    made = Polygon(ring)
    return made if made.is_valid else shapely.make_valid(made).buffer(0)


def _triangulated(rings: Rings) -> tuple[Floats, Integers]:
    """Corners (n, 2) and triangles (m, 3), anticlockwise, of an outline with hollows."""
    corners = rings[0] if len(rings) == 1 else np.concatenate(rings)
    ends = np.array(list(accumulate(len(ring) for ring in rings)), dtype=np.uint32)
    found = mapbox_earcut.triangulate_float64(np.ascontiguousarray(corners), ends)
    faces = found.reshape(-1, 3).astype(np.int32)
    (ax, ay), (bx, by), (cx, cy) = (corners[faces[:, corner]].T for corner in range(3))
    turned = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) < 0.0
    faces[turned] = faces[turned][:, ::-1]
    return corners, faces


def opened(model: SetModel, plane: CuttingPlane, cap: Cap) -> SetModel:
    """The set without what a plane takes away, cut solids closed by dark faces of the same part. Its parts are those of
    the whole set, by number and id."""
    carried: list[Floats] = [model.vertices]
    carried += [extra.astype(np.float64) for extra in (model.normals, model.uv) if extra is not None]
    rows, faces, owners = cut_away(np.column_stack(carried), model.faces, plane)
    if len(faces) == 0 and len(cap.triangles) == 0:
        # Nothing is left: a triangle without any area, which nothing meets, stands for it.
        faces, owners = np.zeros((1, 3), dtype=np.int32), np.zeros(1, dtype=np.int32)
    capped = np.full((len(cap.points), rows.shape[1]), np.nan)
    capped[:, :3] = cap.points
    every = np.concatenate([faces, cap.triangles + len(rows)]).astype(np.int32)
    material = np.concatenate([model.face_material[owners], np.full(len(cap.triangles), len(model.materials))])
    part = np.concatenate([model.owner_of(owners), cap.parts])
    # Parts that own no faces lie between others; a stable order keeps each part's faces together.
    order = np.argsort(part, kind="stable")
    count = np.bincount(part, minlength=len(model.parts))
    first = np.cumsum(count) - count
    parts = tuple(replace(one, first_face=int(first[n]), face_count=int(count[n])) for n, one in enumerate(model.parts))
    all_rows = np.concatenate([rows, capped])
    at = 3
    normals = uv = None
    if model.normals is not None:
        normals, at = all_rows[:, at : at + 3].astype(np.float32), at + 3
    if model.uv is not None:
        uv = all_rows[:, at : at + 2].astype(np.float32)
    return replace(
        model,
        vertices=np.ascontiguousarray(all_rows[:, :3]),
        faces=every[order],
        face_material=material[order].astype(np.int32),
        parts=parts,
        materials=(*model.materials, CUT_FACE),
        normals=normals,
        uv=uv,
    )
