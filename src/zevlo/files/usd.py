"""OpenUSD (usda, usdc, usdz): names, tree, units, up axis, preview materials with textures. usd-core reads."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import trimesh
from pxr import Gf, Sdf, Tf, Usd, UsdGeom, UsdLux, UsdShade, UsdSkel

from zevlo.files.build import Piece, SetBuilder, checked
from zevlo.files.left_out import LAMPS, POSED
from zevlo.files.point_colors import MOST_COLOURED, coloured
from zevlo.files.polygons import triangulated
from zevlo.files.reading import Arrival, FromFile, Progress
from zevlo.files.refusal import CannotRead
from zevlo.files.usd_looks import USUAL_SET, Looks
from zevlo.text import models as say

MOST_LAYERS = 2000
_MANY_INSTANCES = 200_000


def read_usd(arrival: Arrival, progress: Progress) -> FromFile:
    """Read a stage. Raises :class:`CannotRead`."""
    room = arrival.path.parent.resolve()
    progress(say.OPENING_THE_STAGE, None)
    try:
        _check_layers(arrival.path, room)
        stage = Usd.Stage.Open(str(arrival.path))
    except Tf.ErrorException as error:
        raise CannotRead(_fault(error)) from None
    if stage is None:
        raise CannotRead(say.BROKEN_OPENUSD)
    reader = _StageReader(stage, room, progress)
    try:
        reader.read()
    except Tf.ErrorException as error:
        raise CannotRead(_fault(error)) from None
    model = reader.build.finish(tuple(reader.looks.materials), reader.looks.pictures)
    metres = float(UsdGeom.GetStageMetersPerUnit(stage)) if UsdGeom.StageHasAuthoredMetersPerUnit(stage) else None
    if metres is not None and not (np.isfinite(metres) and 1e-6 <= metres <= 1e4):
        metres = None
    up_said = stage.HasAuthoredMetadata("upAxis")
    up = str(UsdGeom.GetStageUpAxis(stage)).lower()
    return FromFile(
        model,
        "OpenUSD",
        metres_per_unit=metres,
        up=up if up_said and up in ("y", "z") else None,  # type: ignore[arg-type]
        likely_unit="cm",  # what OpenUSD takes where nothing is said
        likely_up="y",
        remarks=(*sorted(reader.remarks), *reader.looks.pictures.remarks()),
    )


def _fault(error: Exception) -> str:
    """Why a stage cannot be opened: the line where it stops to make sense, where OpenUSD tells one."""
    try:
        message = str(error)
    except UnicodeError:  # it quotes the file's own bytes
        message = ""
    line = re.search(r"\.usda[^:]*:(\d+):\d+|\bon line (\d+)", message)
    return say.broken_or_cut((line[1] or line[2]) if line else None)


def _check_layers(first: Path, room: Path) -> None:
    """Every layer the stage would open lies in the folder the file came in; known before any is composed."""
    waiting, seen = [str(first)], set()
    while waiting:
        name = waiting.pop()
        if name in seen:
            continue
        seen.add(name)
        if len(seen) > MOST_LAYERS:
            raise CannotRead(say.the_stage_is_made(MOST_LAYERS))
        layer = Sdf.Layer.FindOrOpen(name)
        if layer is None:
            if name == str(first):
                raise CannotRead(say.BROKEN_OPENUSD)
            continue
        for asset in layer.GetCompositionAssetDependencies():
            if not asset:
                continue  # a part of the same file
            if "://" in asset:
                raise CannotRead(say.the_model_takes_a_part_from_elsewhere(asset[:60]))
            found = layer.ComputeAbsolutePath(asset)
            on_disk = Path(found.split("[", 1)[0]).resolve()
            if not on_disk.is_relative_to(room):
                raise CannotRead(say.the_model_takes_a_part(asset[:60]))
            if not on_disk.exists():
                raise CannotRead(say.the_model_takes_a_part_from_another(asset[:60]))
            waiting.append(found)


class _StageReader:
    def __init__(self, stage: Any, room: Path, progress: Progress) -> None:
        self.stage, self._progress = stage, progress
        self.build = SetBuilder()
        self.remarks: set[str] = set()
        self._pieces: dict[Any, list[Piece]] = {}
        # What is only told for moments is read at the first: as the stage begins, or as the first sample has it.
        begins = stage.HasAuthoredTimeCodeRange()
        self._at = Usd.TimeCode(stage.GetStartTimeCode()) if begins else Usd.TimeCode.EarliestTime()
        self.looks = Looks(stage, room, self._at, self.remarks)
        self._cache = UsdGeom.XformCache(self._at)
        self._instances = 0

    def read(self) -> None:
        self._children(self.stage.GetPseudoRoot(), None)

    def _children(self, prim: Any, parent: int | None) -> None:
        """Parts from the root down, without recursion: a stage may be nested deeply."""
        whole = prim.GetFilteredChildren(Usd.TraverseInstanceProxies())
        waiting = [(child, parent) for child in reversed(whole)]
        count = 0
        while waiting:
            prim, above = waiting.pop()
            if not prim.IsA(UsdGeom.Imageable) and prim.GetTypeName():
                continue
            if prim.HasAPI(UsdLux.LightAPI):
                self.remarks.add(LAMPS)
                continue
            imageable = UsdGeom.Imageable(prim)
            if imageable and imageable.ComputeVisibility(self._at) == UsdGeom.Tokens.invisible:
                self.remarks.add(say.WHAT_IS_HIDDEN_IN_IT_IS_LEFT)
                continue
            if imageable and imageable.ComputePurpose() in (UsdGeom.Tokens.proxy, UsdGeom.Tokens.guide):
                continue
            if prim.IsA(UsdSkel.Skeleton):
                self.remarks.add(POSED)
            count += 1
            if count % 200 == 0:
                self._progress(say.READING_THE_GEOMETRY, None)
            self._notice_moves(prim)
            part = self.build.part(prim.GetDisplayName() or prim.GetName(), above, own=str(prim.GetPath()))
            if prim.IsA(UsdGeom.PointInstancer):
                self._instancer(prim, part)
                continue
            if prim.IsA(UsdGeom.Gprim):
                matrix = np.array(self._cache.GetLocalToWorldTransform(prim)).T
                for piece in self._of(prim):
                    self.build.add(part, piece, matrix)
            waiting += [(child, part) for child in reversed(prim.GetFilteredChildren(Usd.TraverseInstanceProxies()))]

    def _notice_moves(self, prim: Any) -> None:
        """Say so where a prim changes in time: it is read at one moment."""
        moving = UsdGeom.Xformable(prim) and UsdGeom.Xformable(prim).TransformMightBeTimeVarying()
        points = UsdGeom.PointBased(prim) and UsdGeom.PointBased(prim).GetPointsAttr().ValueMightBeTimeVarying()
        if moving or points:
            when = say.AT_ITS_FIRST_MOMENT if self._at.IsEarliestTime() else say.at_frame(self._at.GetValue())
            self.remarks.add(say.what_moves_in_it_is_read(when))

    def _get(self, attribute: Any, otherwise: Any = None) -> Any:
        """A value as it is at the moment that is read."""
        found = attribute.Get(self._at)
        return otherwise if found is None else found

    def _of(self, prim: Any) -> list[Piece]:
        """Pieces of a prim in its own coordinates; those of one prototype are shared, where they look alike too."""
        source = prim.GetPrimInPrototype() if prim.IsInstanceProxy() else prim
        subsets = UsdShade.MaterialBindingAPI(prim).GetMaterialBindSubsets()
        looks = tuple(self.looks.of(one) for one in (prim, *(subset.GetPrim() for subset in subsets)))
        key = (str(source.GetPath()), looks)
        if key not in self._pieces:
            self._pieces[key] = self._mesh(prim) if prim.IsA(UsdGeom.Mesh) else self._solid(prim)
        return self._pieces[key]

    def _instancer(self, prim: Any, part: int) -> None:
        instancer = UsdGeom.PointInstancer(prim)
        targets = instancer.GetPrototypesRel().GetForwardedTargets()
        moves = instancer.ComputeInstanceTransformsAtTime(self._at, self._at)
        numbers = np.array(self._get(instancer.GetProtoIndicesAttr(), []), dtype=np.int64)
        if moves is None or len(moves) > len(numbers):
            return
        world = np.array(self._cache.GetLocalToWorldTransform(prim)).T
        mask = instancer.ComputeMaskAtTime(self._at) or [True] * len(numbers)
        kept = numbers[np.array(mask, dtype=bool)] if len(mask) == len(numbers) else numbers
        pieces: dict[int, list[tuple[Piece, np.ndarray]]] = {}
        for number, target in enumerate(targets):
            root = self.stage.GetPrimAtPath(target)
            pieces[number] = self._prototype(root) if root else []
        for move, number in zip(moves, kept, strict=False):
            for piece, inner in pieces.get(int(number), []):
                self._instances += 1
                if self._instances > _MANY_INSTANCES:
                    raise CannotRead(say.the_model_scatters_more_than_pieces(_MANY_INSTANCES))
                self.build.add(part, piece, world @ np.array(move).T @ inner)

    def _prototype(self, root: Any) -> list[tuple[Piece, np.ndarray]]:
        """What an instancer scatters, each piece in its root's coordinates: the root's own move is in the instancer's.

        It may lie where nothing is drawn by itself (in a class, or only spoken over).
        """
        found: list[tuple[Piece, np.ndarray]] = []
        every = iter(Usd.PrimRange(root, Usd.TraverseInstanceProxies(Usd.PrimIsActive & Usd.PrimIsLoaded)))
        for inner in every:
            if self._get(UsdGeom.Imageable(inner).GetVisibilityAttr()) == UsdGeom.Tokens.invisible:
                every.PruneChildren()
            elif inner.IsA(UsdGeom.PointInstancer):
                self.remarks.add(say.PIECES_SCATTERED_WITHIN_SCATTERED)
                every.PruneChildren()
            elif inner.IsA(UsdGeom.Gprim):
                move = np.array(self._cache.ComputeRelativeTransform(inner, root)[0]).T
                found += [(piece, move) for piece in self._of(inner)]
        return found

    def _mesh(self, prim: Any) -> list[Piece]:
        mesh = UsdGeom.Mesh(prim)
        points = np.array(self._get(mesh.GetPointsAttr(), []), dtype=np.float64).reshape(-1, 3)
        counts = np.array(self._get(mesh.GetFaceVertexCountsAttr(), []), dtype=np.int64)
        corners = np.array(self._get(mesh.GetFaceVertexIndicesAttr(), []), dtype=np.int64)
        if len(points) == 0 or len(counts) == 0:
            return []
        holes = np.array(self._get(mesh.GetHoleIndicesAttr(), []), dtype=np.int64)
        scheme = mesh.GetSubdivisionSchemeAttr()
        if scheme.HasAuthoredValue() and scheme.Get() != UsdGeom.Tokens.none:
            self.remarks.add(say.SMOOTHED_SURFACES_SUBDIVISION_ARE_READ)
        triangles, owners = triangulated(points, counts, corners)
        if len(holes):
            kept = ~np.isin(owners, holes)
            triangles, owners = triangles[kept], owners[kept]
        if mesh.GetOrientationAttr().Get() == UsdGeom.Tokens.leftHanded:
            triangles = triangles[:, ::-1]
        colors = self._colors(prim, counts, corners, len(triangles))
        kinds = 0 if colors is not None else self._kinds(prim, len(counts))[owners]
        uv = self._uv(prim, counts, corners, triangles, kinds)
        normals = self._normals(mesh, counts, corners)
        if uv is None and normals is None and colors is None:
            return [checked(Piece(points, corners[triangles], kinds))]
        piece = Piece(
            points[corners],
            triangles,
            kinds,
            normals=None if normals is None else normals.astype(np.float32),
            uv=None if uv is None else uv.astype(np.float32),
        )
        return [checked(piece if colors is None else self._coloured(piece, colors))]

    def _uv(
        self, prim: Any, counts: np.ndarray, corners: np.ndarray, triangles: np.ndarray, kinds: int | np.ndarray
    ) -> np.ndarray | None:
        """Places on pictures of each corner, (C, 2), where each material has its own."""
        found: np.ndarray | None = None
        for number in np.unique(kinds).tolist():
            placed = self.looks.placed(number)
            if placed is None:
                continue
            own = self._primvar(prim, placed.name, counts, corners, 2)
            if own is None and placed.name != USUAL_SET:
                own = self._primvar(prim, USUAL_SET, counts, corners, 2)
            if own is None:
                self.remarks.add(say.does_not_tell_where_its_picture(prim.GetName()))
                continue
            if placed.moved is not None:
                own = np.c_[own, np.ones(len(own))] @ placed.moved.T
            here = np.unique(triangles[np.broadcast_to(kinds == number, len(triangles))])
            self.looks.note_edges(number, own[here])
            found = np.zeros((len(corners), 2)) if found is None else found
            found[here] = own[here]
        return found

    def _colors(self, prim: Any, counts: np.ndarray, corners: np.ndarray, triangles: int) -> np.ndarray | None:
        """Display colours of each corner, linear, (C, 3), where a surface that has no material has more than one."""
        binding = UsdShade.MaterialBindingAPI(prim)
        if binding.ComputeBoundMaterial()[0] or binding.GetMaterialBindSubsets():
            return None
        found = self._primvar(prim, "displayColor", counts, corners, 3)
        if found is None or len(found) == 0 or not np.ptp(found, axis=0).max() > 0.0:
            return None
        if triangles > MOST_COLOURED:
            self.remarks.add(say.has_so_many_points(prim.GetName()))
            return None
        return found

    def _coloured(self, piece: Piece, colors: np.ndarray) -> Piece:
        made, mean = coloured(piece, colors)
        return replace(made, material=self.looks.palette(mean))

    def _normals(self, mesh: Any, counts: np.ndarray, corners: np.ndarray) -> np.ndarray | None:
        found = self._primvar(mesh.GetPrim(), "normals", counts, corners, 3)
        if found is not None:
            return found
        raw = self._get(mesh.GetNormalsAttr())
        if raw is None or len(raw) == 0:
            return None
        return _by_corner(np.array(raw, dtype=np.float64), str(mesh.GetNormalsInterpolation()), counts, corners, 3)

    def _primvar(self, prim: Any, name: str, counts: np.ndarray, corners: np.ndarray, width: int) -> np.ndarray | None:
        found = UsdGeom.PrimvarsAPI(prim).GetPrimvar(name)
        if not found and name == USUAL_SET:
            others = [p for p in UsdGeom.PrimvarsAPI(prim).GetPrimvars() if p.GetTypeName().role == "TextureCoordinate"]
            found = others[0] if others else found
        if not found or not found.HasValue():
            return None
        values = found.ComputeFlattened(self._at)
        if values is None:
            return None
        return _by_corner(np.array(values, dtype=np.float64), str(found.GetInterpolation()), counts, corners, width)

    def _solid(self, prim: Any) -> list[Piece]:
        """The basic solids of OpenUSD."""

        def number(name: str) -> float:
            return float(self._get(prim.GetAttribute(name)))

        kind = prim.GetTypeName()
        if kind == "Cube":
            shape = trimesh.creation.box([number("size")] * 3)
        elif kind == "Sphere":
            shape = trimesh.creation.icosphere(4, number("radius"))
        elif kind == "Cylinder":
            shape = trimesh.creation.cylinder(number("radius"), number("height"), 64)
        elif kind == "Cone":
            shape = trimesh.creation.cone(number("radius"), number("height"), 64)
            shape.apply_translation([0, 0, -number("height") / 2])
        elif kind == "Capsule":
            shape = trimesh.creation.capsule(number("height"), number("radius"), [48, 48])
        elif kind == "Plane":
            return self._plane(prim, number("width") / 2.0, number("length") / 2.0)
        else:
            self.remarks.add(say.is_not_a_surface(kind))
            return []
        turns = {"X": [[0, 0, 1], [1, 0, 0], [0, 1, 0]], "Y": [[0, 1, 0], [0, 0, 1], [1, 0, 0]]}
        axis = str(prim.GetAttribute("axis").Get()) if prim.HasAttribute("axis") else "Z"
        vertices = np.asarray(shape.vertices) @ np.array(turns.get(axis, np.eye(3))).T
        return [checked(Piece(vertices, np.asarray(shape.faces), int(self.looks.number_of(prim))))]

    def _plane(self, prim: Any, wide: float, long: float) -> list[Piece]:
        """Across its axis: along Z as wide as X and as long as Y, along Y as long as Z, along X as wide as Z (OpenUSD's
        schema of the plane)."""
        sides = {"X": ((0, 0, wide), (0, long, 0)), "Y": ((wide, 0, 0), (0, 0, long))}
        sides["Z"] = (wide, 0, 0), (0, long, 0)
        across, up = (np.array(side) for side in sides[str(self._get(prim.GetAttribute("axis"), "Z"))])
        corners = np.array([-across - up, across - up, across + up, -across + up])
        faces = np.array([(0, 1, 2), (0, 2, 3)])
        return [checked(Piece(corners, faces, int(self.looks.number_of(prim))))]

    def _kinds(self, prim: Any, count: int) -> np.ndarray:
        """Material of each polygon: the prim's, and its subsets' over it."""
        kinds = np.full(count, self.looks.number_of(prim), dtype=np.int64)
        for subset in UsdShade.MaterialBindingAPI(prim).GetMaterialBindSubsets():
            chosen = np.array(self._get(subset.GetIndicesAttr(), []), dtype=np.int64)
            chosen = chosen[(chosen >= 0) & (chosen < count)]
            kinds[chosen] = self.looks.number_of(subset.GetPrim())
        return kinds


def _by_corner(
    values: np.ndarray, interpolation: str, counts: np.ndarray, corners: np.ndarray, width: int
) -> np.ndarray | None:
    """Values for each corner of each polygon, (C, width); None where their number does not fit."""
    values = values.reshape(-1, values.shape[-1]) if values.ndim > 1 else values[:, None]
    if values.shape[1] < width:
        return None
    values = values[:, :width]
    if interpolation == "faceVarying" and len(values) == len(corners):
        return values
    if interpolation in ("vertex", "varying") and len(corners) and int(corners.max()) < len(values):
        of_corners: np.ndarray = values[corners]
        return of_corners
    if interpolation == "uniform" and len(values) == len(counts):
        return np.repeat(values, counts, axis=0)
    if interpolation == "constant" and len(values):
        return np.tile(values[:1], (len(corners), 1))
    return None


_ = Gf  # registers the converters that turn matrices into arrays
