"""Levels and rooms found in the geometry, where it is clear: floors one can stand on, air that walls enclose."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from zevlo.core.arrays import Floats
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.cuts.outline import CutOutlines
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.places.levels import Level, Places, Room, signed_area
from zevlo.core.scene.working import WorkingSet
from zevlo.text import scene as say

STOREY_M = 2.0
"""Two floors closer than this are one level with steps in it (our convention)."""
HEADROOM_M = (1.95, 15.0)
LEAST_FLOOR_M2 = 3.0
CLOSING_HEIGHTS_M = (2.15, 2.3, 2.45, 2.6, 2.75, 2.9, 3.2, 3.6)
"""From above most doors (common practice, no source) upwards: somewhere there the walls of a room close."""
SKIRTING_M = 0.3
LEAST_ROOM_M2 = 1.0
LEAST_WIDTH_M = 0.7
GAP_M = 0.03
"""Walls that miss each other by up to twice this still close a room."""
_NAMED_LEVEL = re.compile(
    r"\b(level|storey|story|floor|ground|basement|cellar|loft|attic|mezzanine|geschoss|erdgeschoss|obergeschoss|"
    r"untergeschoss|dachgeschoss|étage|etage|piano|planta|plan)\b|^(eg|ug|og|dg|\d+\.?\s*(og|ug))$",
    re.IGNORECASE,
)
_NAMED_ROOM = re.compile(
    r"\b(room|kitchen|bath|bathroom|hall|office|bedroom|living|dining|study|stair|stairs|staircase|landing|lobby|foyer|"
    r"store|pantry|wc|toilet|corridor|loft|kiln|workshop|studio|garage|cellar|bench)\b",
    re.IGNORECASE,
)


def level_floors(model: SetModel, working: WorkingSet) -> list[float]:
    """Heights of the floors one can stand on under a roof, from the lowest up.

    Level faces that look up are gathered by height; a height counts where it has some area and, over a good part
    of it, headroom under something. Of floors within a storey of each other the larger is taken.
    """
    corners = model.vertices[model.faces]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(across, axis=1)
    level = across[:, 2] > 0.995 * np.maximum(size, 1e-300)
    if not level.any():
        return []
    faces = np.flatnonzero(level)
    heights, areas = corners[faces, 0, 2], size[faces] / 2.0
    step = np.round(heights / 0.02).astype(np.int64)
    found: list[tuple[float, float]] = []
    for value in np.unique(step):
        here = step == value
        area = float(areas[here].sum())
        if area >= LEAST_FLOOR_M2:
            found.append((float(np.average(heights[here], weights=areas[here])), area))
    rng = np.random.default_rng(3)
    floors: list[tuple[float, float]] = []
    for height, _ in found:
        here = faces[np.abs(heights - height) < 0.03]
        covered = _covered_area(corners[here], size[here] / 2.0, working, rng)
        if covered >= LEAST_FLOOR_M2:
            floors.append((height, covered))
    floors.sort(key=lambda entry: -entry[1])
    kept: list[float] = []
    largest = floors[0][1] if floors else 0.0
    for height, covered in floors:
        if covered >= 0.08 * largest and all(abs(height - other) >= STOREY_M for other in kept):
            kept.append(round(height, 4))
    return sorted(kept)


def _covered_area(corners: Floats, areas: Floats, working: WorkingSet, rng: np.random.Generator) -> float:
    """Area of level faces (n, 3, 3) that one can stand on under something, in m², by rays from places on them."""
    chosen = rng.choice(len(corners), 400, p=areas / areas.sum())
    u, v = rng.random((2, 400))
    folded = u + v > 1.0
    u, v = np.where(folded, 1.0 - u, u), np.where(folded, 1.0 - v, v)
    a, b, c = corners[chosen, 0], corners[chosen, 1], corners[chosen, 2]
    places = a + u[:, None] * (b - a) + v[:, None] * (c - a) + np.array([0.0, 0.0, 0.01])
    up = working.rays.distances(places, np.tile([0.0, 0.0, 1.0], (400, 1)))
    room = (up > HEADROOM_M[0]) & (up < HEADROOM_M[1])
    return float(areas.sum() * room.mean())


@dataclass(frozen=True)
class _Group:
    name: str
    low: Floats
    high: Floats


def _groups(model: SetModel, pattern: re.Pattern[str]) -> list[_Group]:
    """Parts with something below them that are called what a pattern looks for, with their boxes.

    Many programs write an underscore where a name has a space.
    """
    boxes = _boxes(model)
    inner = {part.parent for part in model.parts}
    names = [" ".join(part.name.replace("_", " ").split()) for part in model.parts]
    return [
        _Group(names[n], boxes[n, 0], boxes[n, 1])
        for n in range(len(model.parts))
        if n in inner and pattern.search(names[n]) and np.isfinite(boxes[n]).all()
    ]


def _boxes(model: SetModel) -> Floats:
    """Box of each part with all below it, (P, 2, 3); infinite where it is empty."""
    boxes = np.empty((len(model.parts), 2, 3))
    boxes[:, 0], boxes[:, 1] = np.inf, -np.inf
    for number, part in enumerate(model.parts):
        if part.face_count:
            inside = model.vertices[model.faces[part.first_face : part.first_face + part.face_count].ravel()]
            boxes[number] = inside.min(axis=0), inside.max(axis=0)
    for number in reversed(range(len(model.parts))):
        above = model.parts[number].parent
        if above is not None:
            boxes[above, 0] = np.minimum(boxes[above, 0], boxes[number, 0])
            boxes[above, 1] = np.maximum(boxes[above, 1], boxes[number, 1])
    return boxes


def propose_levels(working: WorkingSet) -> tuple[Level, ...]:
    """Levels for a set: floors found, called as the tree calls the group that stands on them, else by number."""
    model = working.model
    floors = level_floors(model, working)
    groups = _groups(model, _NAMED_LEVEL)
    ground = min(range(len(floors)), key=lambda n: abs(floors[n]), default=0)
    taken: set[str] = set()
    made = []
    for number, height in enumerate(floors):
        near = [g for g in groups if g.low[2] - 0.5 <= height <= g.low[2] + 0.8 and g.name not in taken]
        named = min(near, key=lambda g: abs(g.low[2] - height)).name if near else say.level(number - ground)
        name = named[:120].replace("Level -", "Level −")
        taken.add(name)
        made.append(Level(name=name, floor_m=height))
    return tuple(made)


def solid_areas(outlines: Sequence[Floats]) -> shapely.Geometry:
    """What closed outlines (n, 2) enclose, as areas: those one way round are solid, the other way holes in the smallest
    around them."""
    rings = [ring for ring in outlines if len(ring) >= 3]
    if len(rings) > 3000:
        rings = [ring for ring in rings if float(np.ptp(ring, axis=0).max()) > 0.3]
    areas = [shapely.Polygon(ring) for ring in rings]
    signed = [(signed_area(r), a if a.is_valid else a.buffer(0)) for r, a in zip(rings, areas, strict=True)]
    sense = np.sign(sum(sign for sign, _ in signed)) or 1.0
    outer = [area for sign, area in signed if sign * sense > 0]
    holes = [area for sign, area in signed if sign * sense < 0]
    tree = shapely.STRtree(outer)
    for hole in holes:
        around = tree.query(hole.representative_point(), predicate="within").tolist()
        if around:
            smallest = min(around, key=lambda n: outer[n].area)
            outer[smallest] = outer[smallest].difference(hole)
    return shapely.union_all(outer)


def enclosed(cut: CutOutlines) -> list[Floats]:
    """Outlines (n, 2) of the air that walls enclose in a plan, the largest first."""
    walls = [solid_areas(cut.closed), *(shapely.LineString(run) for run in cut.open if len(run) >= 2)]
    thick = shapely.union_all([wall.buffer(GAP_M, join_style="mitre") for wall in walls if not wall.is_empty])
    if thick.is_empty:
        return []
    x0, y0, x1, y1 = thick.bounds
    air = shapely.box(x0 - 1.0, y0 - 1.0, x1 + 1.0, y1 + 1.0).difference(thick)
    outside = shapely.Point(x0 - 0.9, y0 - 0.9)
    found = []
    for piece in getattr(air, "geoms", [air]):
        if piece.geom_type != "Polygon" or piece.contains(outside):
            continue
        whole = shapely.Polygon(piece.exterior).buffer(GAP_M, join_style="mitre")
        # What is narrower than anyone could stand in is a cavity, a niche or a shaft.
        body = whole.buffer(-LEAST_WIDTH_M / 2).buffer(LEAST_WIDTH_M / 2, join_style="mitre")
        if whole.geom_type != "Polygon" or body.is_empty or whole.area < LEAST_ROOM_M2:
            continue
        ring = np.array(whole.simplify(0.02).exterior.coords)[:-1]
        if 3 <= len(ring) <= 500:
            found.append((whole.area, np.round(ring, 3)))
    return [ring for _, ring in sorted(found, key=lambda entry: -entry[0])]


def propose_rooms(working: WorkingSet, level: Level, taken: frozenset[str] = frozenset()) -> tuple[Room, ...]:
    """Rooms on a level: what its walls enclose, with its floor under it; named as the tree names what stands in
    it, else by number."""
    groups = _groups(working.model, _NAMED_ROOM)
    used = set(taken)
    made = []
    for area in _room_areas(working, level.floor_m):
        ring = np.array(area.exterior.coords)[:-1]
        name = _named_after(groups, area, level.floor_m, used) or _numbered(used)
        used.add(name)
        made.append(Room(name=name, level=level.name, outline=tuple((float(x), float(y)) for x, y in ring)))
    return tuple(made)


def _room_areas(working: WorkingSet, floor: float) -> list[shapely.Polygon]:
    """Areas of the rooms on a floor, found first where walls close lowest: over the doors, then over the windows.

    Beams and bulkheads would part a room higher up, so what is found lower stands. Under a roof's slope a room is
    wider at the foot of its walls than over its doors: it is taken from there where nothing else shares that air.
    """
    found: list[shapely.Polygon] = []
    for height in CLOSING_HEIGHTS_M:
        for area in _standing_areas(working, floor, height):
            if not any(area.intersection(other).area > 0.1 * min(area.area, other.area) for other in found):
                found.append(area)
    feet = _standing_areas(working, floor, SKIRTING_M)
    for foot in feet:
        inside = [n for n, area in enumerate(found) if area.intersection(foot).area > 0.5 * area.area]
        if len(inside) == 1 and found[inside[0]].area < 0.85 * foot.area:
            found[inside[0]] = foot
        elif not inside and not any(area.intersects(foot) for area in found):
            found.append(foot)
    return sorted(found, key=lambda area: -area.area)


def _standing_areas(working: WorkingSet, floor: float, height: float) -> list[shapely.Polygon]:
    """What walls enclose at a height above a floor, where that floor and a ceiling are."""
    areas = []
    for ring in enclosed(working.cut(plan_plane(floor + height))):
        area = shapely.Polygon(ring)
        inside = area.representative_point()
        place = np.array([inside.x, inside.y, floor + 1.2])
        under = working.floor_under(place)
        over = working.rays.distances(place[None] + [0.0, 0.0, height - 1.2], np.array([[0.0, 0.0, 1.0]]))[0]
        if under is not None and abs(under - floor) <= 0.5 and over < HEADROOM_M[1]:
            areas.append(area)
    return areas


def _named_after(groups: list[_Group], area: shapely.Polygon, floor: float, used: set[str]) -> str | None:
    """The name of the one group that stands in a room, on its floor and mostly within it."""
    fitting = []
    for group in groups:
        box = shapely.box(group.low[0], group.low[1], group.high[0], group.high[1])
        on_floor = floor - 0.5 < group.low[2] < floor + 1.5
        if group.name not in used and on_floor and box.area > 0 and box.intersection(area).area > 0.8 * box.area:
            fitting.append(group)
    if not fitting:
        return None
    return max(fitting, key=lambda g: float(np.prod((g.high - g.low)[:2]))).name[:120]


def _numbered(used: set[str]) -> str:
    number = 1
    while f"Room {number}" in used:
        number += 1
    return say.room(number)


def propose_places(working: WorkingSet, there: Places) -> Places:
    """Levels and rooms a project does not have yet. Where it has levels, rooms are looked for on those."""
    levels = there.levels or propose_levels(working)
    rooms = []
    for level in levels:
        has = [shapely.Polygon(room.outline).buffer(0) for room in there.rooms if room.level == level.name]
        names = frozenset(room.name for room in there.rooms if room.level == level.name)
        for room in propose_rooms(working, level, names):
            inside = shapely.Polygon(room.outline).representative_point()
            if not any(area.contains(inside) for area in has):
                rooms.append(room)
    return Places(levels=levels, rooms=tuple(rooms))
