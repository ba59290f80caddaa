"""Suggested stands for a room: from its corners, through its doorways, square on to each long wall."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely

from zevlo.core.arrays import Floats
from zevlo.core.framing.placing_habits import Habits
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.cuts.snap import sides_of
from zevlo.core.scene.places.levels import Level, Room
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Stand
from zevlo.core.stand.pose import compass_point, resolve
from zevlo.text import framing as say

INSET_M = 0.45
"""A tripod and whoever stands at it need about this much before a wall (our convention)."""
LONG_WALL_SHARE = 0.55
DOOR_WIDTH_M = (0.55, 2.6)
CLEAR_M = 0.25
INSIDE_M = 2.0
LONGEST_SIDE_M = 500.0
LOW_M = 1.2
MOST_SUGGESTED = 16
NEARER = (0.0, 0.1, 0.2, 0.3, 0.4, 0.5)
_STEP_M = 0.05


@dataclass(frozen=True)
class Suggestion:
    """A stand worth a look, and what it is."""

    what: Literal["corner", "doorway", "square on"]
    words: str
    stand: Stand


def suggested_stands(
    room: Room, level: Level, working: WorkingSet, habits: Habits, north_deg: float = 0.0
) -> list[Suggestion]:
    """Stands for a room at the habitual lens height, looking level; none that is inside something or against it.

    Where something stands in the way, as a sloping roof does, the stand is taken nearer to what it looks at. Where
    nothing is free at that height, a seated eye's is tried.

    ``room``, ``level``: which; ``working``: the set; ``habits``: the height in metres; ``north_deg``: the set's north,
    clockwise from +y."""
    outline = np.array(room.outline)
    if not shapely.LinearRing(outline).is_ccw:
        outline = outline[::-1]
    area = shapely.Polygon(outline).buffer(0)
    inner = area.buffer(-INSET_M, join_style="mitre")
    if inner.is_empty:
        return []
    for height in (habits.lens_m, LOW_M):
        z = level.floor_m + height
        doors = _doorways(outline, area, level, z, working)
        wanted = (*_square_on(outline, area, z), *_corners(outline, area, z), *doors)
        free = [found for found in (_freed(one, level.floor_m, working) for one in wanted) if found is not None]
        if free:
            return [_with_its_direction(one, north_deg) for one in free[:MOST_SUGGESTED]]
    return []


def _with_its_direction(one: Suggestion, north_deg: float) -> Suggestion:
    direction = compass_point((resolve(one.stand).heading_deg - north_deg) % 360.0)
    return replace(one, words=say.looking_of(one.words, direction))


def _freed(wanted: Suggestion, floor_m: float, working: WorkingSet) -> Suggestion | None:
    """The suggestion where it is free, or as little nearer to its aim as frees it; up to half of the way."""
    position, aim = np.array(wanted.stand.position), np.array(wanted.stand.aim)
    for share in NEARER:
        x, y, z = (position + share * (aim - position)).tolist()
        stand = wanted.stand.model_copy(update={"position": (x, y, z)})
        if _free(stand, floor_m, working):
            return Suggestion(wanted.what, wanted.words, stand)
    return None


def _stand(place: Floats, aim: Floats, z: float) -> Stand:
    (x, y), (ax, ay) = place.tolist(), aim.tolist()
    return Stand(position=(x, y, z), aim=(ax, ay, z))


def _corners(outline: Floats, area: shapely.Polygon, z: float) -> list[Suggestion]:
    """From each corner that points outwards, along its bisector, to where that meets the far side."""
    found = []
    count = len(outline)
    for n in range(count):
        before, here, after = outline[n - 1], outline[n], outline[(n + 1) % count]
        a, b = _unit(before - here), _unit(after - here)
        if a[0] * b[1] - a[1] * b[0] > -0.2:
            continue
        direction = _unit(a + b)
        off = INSET_M / max(0.3, float(np.sqrt(max(0.0, (1.0 - float(a @ b)) / 2.0))))
        place = here + off * direction
        far = _across(area, place, direction)
        if far > 1.2:
            found.append(Suggestion("corner", say.FROM_A_CORNER, _stand(place, place + 0.8 * far * direction, z)))
    return found


def _square_on(outline: Floats, area: shapely.Polygon, z: float) -> list[Suggestion]:
    """Opposite the middle of each long wall, as far back as the room goes."""
    sides = np.roll(outline, -1, axis=0) - outline
    length = np.linalg.norm(sides, axis=1)
    found = []
    for n in np.flatnonzero(length >= LONG_WALL_SHARE * length.max()).tolist():
        middle = outline[n] + sides[n] / 2.0
        into = np.array([-sides[n][1], sides[n][0]]) / length[n]
        far = 0.01 + _across(area, middle + 0.01 * into, into)
        if far > INSET_M + 0.8:
            place = middle + (far - INSET_M) * into
            words = say.square_on_to_the_m(length[n])
            found.append(Suggestion("square on", words, _stand(place, middle, z)))
    return found


def _doorways(outline: Floats, area: shapely.Polygon, level: Level, z: float, working: WorkingSet) -> list[Suggestion]:
    """In the middle of each gap, as wide as a door, that walls leave at knee height along the outline."""
    walls = sides_of(working.cut(plan_plane(level.floor_m + 0.4)))
    if len(walls) == 0:
        return []
    solid = shapely.STRtree([shapely.LineString(side) for side in walls])
    found = []
    count = len(outline)
    for n in range(count):
        start, end = outline[n], outline[(n + 1) % count]
        length = float(np.linalg.norm(end - start))
        along = _unit(end - start)
        into = np.array([-along[1], along[0]])
        if length > LONGEST_SIDE_M:
            continue  # no wall has doors one would look for by the hand's breadth over such a length
        at = np.arange(_STEP_M / 2.0, length, _STEP_M)
        probes = shapely.points(start + at[:, None] * along)
        near = np.zeros(len(at), dtype=bool)
        near[np.unique(solid.query(probes, predicate="dwithin", distance=0.08)[0])] = True
        for low, high in _runs(~near, at):
            if DOOR_WIDTH_M[0] <= high - low <= DOOR_WIDTH_M[1]:
                place = start + (low + high) / 2.0 * along + 0.02 * into
                far = _across(area, place, into)
                if far > 1.2:
                    found.append(Suggestion("doorway", say.FROM_A_DOORWAY, _stand(place, place + 0.7 * far * into, z)))
    return found


def _runs(mask: np.ndarray, at: Floats) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    half = _STEP_M / 2.0
    return [(float(at[a]) - half, float(at[b - 1]) + half) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _unit(v: Floats) -> Floats:
    unit: Floats = v / max(float(np.linalg.norm(v)), 1e-12)
    return unit


def _across(area: shapely.Polygon, place: Floats, direction: Floats) -> float:
    """How far one sees from a place before the outline is met."""
    line = shapely.LineString([place, place + 1000.0 * direction]).intersection(area.boundary)
    return 0.0 if line.is_empty else float(shapely.Point(place).distance(line))


def _free(stand: Stand, floor_m: float, working: WorkingSet) -> bool:
    """Whether the lens is inside nothing, with room around it and before it."""
    position, aim = np.array(stand.position), np.array(stand.aim)
    around = np.arange(16) * (2.0 * np.pi / 16)
    directions = np.stack([np.cos(around), np.sin(around), np.zeros(16)], axis=1)
    hits = working.rays.first(np.tile(position, (16, 1)), directions)
    if float(hits.distance.min()) < CLEAR_M / 2.0:
        return False
    # From inside a cupboard one sees the backs of its faces all around, close by.
    backs = (np.einsum("ij,ij->i", hits.normal, directions) > 0.0) & (hits.distance < INSIDE_M)
    if np.count_nonzero(backs) > 12:
        return False
    ahead = aim - position
    middle = np.array([*(position + ahead / 2.0)[:2], min(position[2], floor_m + LOW_M)])
    # Above a sloping roof the lens sees only sky overhead, where the middle of the room does not.
    open_here, open_there = np.isinf(
        working.rays.distances(np.stack([position, middle]), np.tile([0.0, 0.0, 1.0], (2, 1)))
    )
    if open_here and not open_there:
        return False
    return bool(working.rays.distances(position[None], ahead[None] / np.linalg.norm(ahead))[0] > 2.0 * CLEAR_M)
