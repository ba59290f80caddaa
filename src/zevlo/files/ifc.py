"""IFC: storeys, spaces, products with their names and materials, units, true north and site. ifcopenshell reads."""

from __future__ import annotations

import mmap
import multiprocessing
import re
from collections.abc import Set
from contextlib import suppress
from math import atan2, degrees
from pathlib import Path
from typing import Any

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.element
import ifcopenshell.util.placement
import ifcopenshell.util.unit
import numpy as np
import shapely

from zevlo.core.scene.model.set_model import Material
from zevlo.core.scene.places.levels import Level, Room
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.left_out import LAMPS, what_is_left_out
from zevlo.files.reading import Arrival, FromFile, Progress
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import Color, linear
from zevlo.text import everywhere
from zevlo.text import models as say

FARTHEST_M = 1.0e6
"""Storeys and rooms farther from zero than this are not told."""
_LEFT_OUT = ("IfcOpeningElement", "IfcSpace", "IfcAnnotation", "IfcGrid", "IfcVirtualElement")


_INSTANCE = re.compile(rb"^[ \t]*#(\d{1,18})[ \t]*=", re.MULTILINE)
"""Where a line of a STEP file says which number an entity has (ISO 10303-21, 11.2)."""


def _check_numbers(path: Path) -> None:
    """Refuse a file in which two entities have one number: the library takes one for the other and crashes."""
    if path.stat().st_size == 0:
        return
    with path.open("rb") as file, mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as raw:
        numbers = np.fromiter((int(found[1]) for found in _INSTANCE.finditer(raw)), dtype=np.int64)
    numbers.sort()
    twice = numbers[1:][numbers[1:] == numbers[:-1]]
    if len(twice):
        raise CannotRead(say.broken_two(twice[0]))


def read_ifc(arrival: Arrival, progress: Progress) -> FromFile:
    """Read an IFC model (STEP). Raises :class:`CannotRead`."""
    progress(say.OPENING_THE_MODEL, None)
    _check_numbers(arrival.path)
    try:
        file = ifcopenshell.open(str(arrival.path))
    except Exception:
        raise CannotRead(say.BROKEN_OR_CUT) from None
    if not isinstance(file, ifcopenshell.file) or not file.by_type("IfcProject"):
        raise CannotRead(say.BROKEN_THERE_IS_NO_PROJECT)
    scale = float(ifcopenshell.util.unit.calculate_unit_scale(file))
    if not (np.isfinite(scale) and 1e-6 <= scale <= 1e4):
        raise CannotRead(say.broken_its_unit(scale))
    build = SetBuilder()
    kinds: list[Material] = [PLAIN]
    numbers: dict[tuple[object, ...], int] = {}
    parts = _tree(file, build)
    flat: dict[int, np.ndarray] = {}
    built: set[int] = set()
    for shape, share in _shapes(file):
        progress(say.MAKING_THE_GEOMETRY, share)
        product = file.by_id(shape.id)
        vertices = np.array(shape.geometry.verts, dtype=np.float64).reshape(-1, 3) / scale
        faces = np.array(shape.geometry.faces, dtype=np.int64).reshape(-1, 3)
        if len(faces) == 0:
            continue
        built.add(shape.id)
        if product.is_a("IfcSpace"):
            flat[shape.id] = vertices[faces]
            continue
        if product.is_a() in _LEFT_OUT:
            continue
        named = [(given, _material_name(file, given, product)) for given in shape.geometry.materials]
        own = np.array([_material(m, name, kinds, numbers) for m, name in named] or [0], dtype=np.int64)
        of_face = np.array(shape.geometry.material_ids, dtype=np.int64)
        of_face = (
            np.where((of_face >= 0) & (of_face < len(own)), of_face, 0)
            if len(of_face)
            else np.zeros(len(faces), np.int64)
        )
        part = parts.get(shape.id)
        if part is None:
            part = parts[shape.id] = build.part(
                _name(product), parts.get(_owner(product) or -1), own=_global_id(product)
            )
        build.add(part, checked(Piece(vertices, faces, own[of_face])))
    levels = _levels(file, scale)
    latitude, longitude = _site(file)
    return FromFile(
        build.finish(tuple(kinds)),
        "IFC",
        metres_per_unit=scale,
        up="z",
        levels=tuple(level for _, level in levels),
        rooms=_rooms(file, levels, {space: scale * corners for space, corners in flat.items()}),
        north_deg=_north(file),
        latitude_deg=latitude,
        longitude_deg=longitude,
        remarks=_left_out(file, built),
    )


def _name(thing: Any) -> str:
    return str(thing.Name or getattr(thing, "LongName", None) or thing.is_a().removeprefix("Ifc"))


def _global_id(thing: Any) -> str:
    return str(getattr(thing, "GlobalId", None) or "")


def _owner(product: Any) -> int | None:
    """Id of what a product belongs to: the whole it is part of, or the storey it stands on."""
    above = ifcopenshell.util.element.get_aggregate(product) or ifcopenshell.util.element.get_container(product)
    return None if above is None else int(above.id())


def _tree(file: Any, build: SetBuilder) -> dict[int, int]:
    """Parts for project, site, buildings, storeys and assemblies, from the root down; products follow when made."""
    parts: dict[int, int] = {}
    waiting: list[tuple[Any, int | None]] = [(project, None) for project in file.by_type("IfcProject")[:1]]
    seen: set[int] = set()
    while waiting:
        thing, above = waiting.pop()
        if thing.id() in seen or thing.is_a("IfcSpace"):
            continue
        seen.add(thing.id())
        parts[thing.id()] = build.part(_name(thing), above, own=_global_id(thing))
        inner = [part for relation in (thing.IsDecomposedBy or ()) for part in relation.RelatedObjects]
        # Storeys from the lowest up, as one climbs them; everything else as the file has it.
        inner.sort(key=lambda part: _floor_of(part) if part.is_a("IfcBuildingStorey") else -np.inf)
        waiting += [(part, parts[thing.id()]) for part in reversed(inner)]
        for relation in getattr(thing, "ContainsElements", ()) or ():
            waiting += [
                (part, parts[thing.id()]) for part in reversed(relation.RelatedElements) if part.is_a("IfcProduct")
            ]
    return parts


def _with_shapes(file: Any) -> list[Any]:
    """What has a shape that is looked for."""
    return [
        p for p in file.by_type("IfcProduct") if (p.Representation and p.is_a() not in _LEFT_OUT) or p.is_a("IfcSpace")
    ]


def _shapes(file: Any) -> Any:
    """Shapes with their share done, in world coordinates and metres."""
    settings = ifcopenshell.geom.settings()
    settings.set("use-world-coords", True)
    products = _with_shapes(file)
    if not products:
        return
    iterator = ifcopenshell.geom.iterator(settings, file, min(2, multiprocessing.cpu_count()), include=products)
    if not iterator.initialize():
        return
    while True:
        yield iterator.get(), iterator.progress() / 100.0
        if not iterator.next():
            return


def _left_out(file: Any, built: Set[int]) -> tuple[str, ...]:
    """What is not taken, in words; ``built``: what is, by numbers of the file."""
    missing = [
        _name(product)
        for product in _with_shapes(file)
        if product.id() not in built and not product.is_a("IfcSpace") and _has_body(product)
    ]
    found = []
    if missing:
        named = ", ".join(missing[:3]) + (" …" if len(missing) > 3 else "")
        found.append(say.shape_of_parts_not_built(len(missing), named))
    if file.by_type("IfcSurfaceTexture"):
        found.append(what_is_left_out(["IfcSurfaceTexture"]))
    if file.by_type("IfcLightSource"):
        found.append(LAMPS)
    return tuple(found)


def _has_body(product: Any) -> bool:
    """Whether it has a shape in space, not only an axis or a drawing."""
    shapes = product.Representation.Representations if product.Representation else ()
    return any(one.RepresentationIdentifier in ("Body", "Facetation", "Tessellation") and one.Items for one in shapes)


def _material_name(file: Any, given: Any, product: Any) -> str:
    """What a surface is called: as its style, else as what the product is made of; empty where nobody says."""
    try:
        style = file.by_id(given.instance_id()) if given.instance_id() > 0 else None
    except RuntimeError:
        style = None
    if style is not None and not getattr(style, "Name", None):
        # A shading or rendering has no name of its own; the style it belongs to has.
        style = next((one for one in file.get_inverse(style) if getattr(one, "Name", None)), None)
    if style is not None and style.Name:
        return str(style.Name)
    made_of = ifcopenshell.util.element.get_materials(product)
    return next((str(one.Name) for one in made_of if getattr(one, "Name", None)), "")


def _material(given: Any, name: str, kinds: list[Material], numbers: dict[tuple[object, ...], int]) -> int:
    """Number of a surface style. IFC gives display colours; they are taken as sRGB (common practice, no source)."""
    diffuse = given.diffuse
    parts = [diffuse.r(), diffuse.g(), diffuse.b()] if callable(getattr(diffuse, "r", None)) else list(diffuse)
    through = float(given.transparency) if given.has_transparency() else 0.0
    through = through if np.isfinite(through) else 0.0
    shown = np.clip(np.nan_to_num(np.array(parts[:3], dtype=np.float64), nan=0.6), 0.0, 1.0)
    key = (name or given.name, *shown.round(4).tolist(), round(through, 4))
    if key not in numbers:
        r, g, b = linear(shown).tolist()
        color: Color = (r, g, b)
        numbers[key] = len(kinds)
        called = (name or str(given.name))[:200] or say.material_number(len(kinds))
        kinds.append(Material(called, color, alpha=float(np.clip(1.0 - through, 0.02, 1.0))))
    return numbers[key]


def _floor_of(storey: Any) -> float:
    """The height of a storey in the file's unit; not finite where nobody can say."""
    height = float(storey.Elevation or 0.0)
    if storey.ObjectPlacement is not None:
        # A placement that hangs on nothing leaves the height the storey tells by itself.
        with suppress(AttributeError, TypeError, ValueError):
            height = float(ifcopenshell.util.placement.get_local_placement(storey.ObjectPlacement)[2, 3])
    return height


def _levels(file: Any, scale: float) -> list[tuple[int, Level]]:
    """Storeys with their heights in metres, from the lowest up; a name that comes twice gets a number."""
    found = []
    taken: set[str] = set()
    for storey in file.by_type("IfcBuildingStorey"):
        height = _floor_of(storey) * scale
        if not abs(height) <= FARTHEST_M:
            continue
        stem = _name(storey)[:110]
        name, number = stem, 2
        while name in taken:
            name, number = f"{stem} {number}", number + 1
        taken.add(name)
        found.append((storey.id(), Level(name=name, floor_m=height)))
    return sorted(found, key=lambda entry: entry[1].floor_m)


def _rooms(file: Any, levels: list[tuple[int, Level]], flat: dict[int, np.ndarray]) -> tuple[Room, ...]:
    """Spaces as outlines in plan: what all their triangles cover, seen from above."""
    names = dict(levels)
    rooms: list[Room] = []
    taken: set[tuple[str, str]] = set()
    for space in file.by_type("IfcSpace"):
        corners = flat.get(space.id())
        level = names.get(_owner(space) or -1)
        if corners is None or level is None or float(np.abs(corners).max(initial=0.0)) > FARTHEST_M:
            continue
        outline = _footprint(corners[:, :, :2])
        if outline is None:
            continue
        stem = str(getattr(space, "LongName", None) or space.Name or everywhere.ROOM)[:110]
        name, number = stem, 2
        while (level.name, name) in taken:
            name, number = f"{stem} {number}", number + 1
        taken.add((level.name, name))
        rooms.append(Room(name=name, level=level.name, outline=outline))
    return tuple(rooms)


def _footprint(corners: np.ndarray) -> tuple[tuple[float, float], ...] | None:
    """Outline of triangles (n, 3, 2) laid over each other; None where they cover nothing."""
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    real = corners[np.abs(area) > 1e-9 * max(1.0, float(np.abs(area).max(initial=0.0)))]
    if len(real) == 0:
        return None
    whole = shapely.union_all(shapely.polygons(real))
    if whole.geom_type != "Polygon":
        whole = max(getattr(whole, "geoms", []), key=lambda g: g.area, default=None)
    if whole is None or whole.geom_type != "Polygon" or whole.is_empty:
        return None
    simple = whole.simplify(1e-4 * float(np.sqrt(whole.area)))
    ring = np.array(simple.exterior.coords)[:-1]
    return tuple((float(x), float(y)) for x, y in ring) if 3 <= len(ring) <= 500 else None


def _north(file: Any) -> float | None:
    for context in file.by_type("IfcGeometricRepresentationContext", include_subtypes=False):
        if context.TrueNorth is not None:
            x, y = (float(v) for v in context.TrueNorth.DirectionRatios[:2])
            if np.hypot(x, y) > 1e-9:
                return degrees(atan2(x, y))
    return None


def _site(file: Any) -> tuple[float | None, float | None]:
    """Latitude and longitude in degrees: IFC's degrees, minutes, seconds and millionths."""
    for site in file.by_type("IfcSite"):
        if site.RefLatitude and site.RefLongitude:
            both = []
            for given in (site.RefLatitude, site.RefLongitude):
                steps = [float(v) for v in given] + [0.0] * 4
                both.append(steps[0] + steps[1] / 60 + steps[2] / 3600 + steps[3] / 3.6e9)
            if abs(both[0]) <= 90 and abs(both[1]) <= 180:
                return both[0], both[1]
    return None, None
