"""Things to look at: small parts that float, lie outside every room, or are nearly hidden under others.

Models arrive with what was forgotten in them. None of it is wrong for sure, so it is only listed, with where it is.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats, Integers
from zevlo.core.scene.places.levels import KNEE_M, SetContext, level_at
from zevlo.core.scene.working import WorkingSet
from zevlo.text import scene as say

SMALL_M = 1.5
"""A part larger than this is no leftover; of a set smaller than a room, a part as large as most of it."""
FLOATS_M = 0.02
NEAR_M = 0.02
HIDDEN_SHARE = 0.95
COVERED_M = 0.05
MOST_LISTED = 200
_RAYS = 48


@dataclass(frozen=True)
class Leftover:
    """A part worth a look: why, and its middle."""

    part: int
    why: Literal["floats", "outside", "hidden", "far"]
    words: str
    at: tuple[float, float, float]
    size_m: float


def find_leftovers(working: WorkingSet, where: SetContext) -> list[Leftover]:
    """Small parts worth a look, the surest first: far off, floating, hidden, outside every room."""
    model = working.model
    found: list[Leftover] = []
    boxes, numbers = _small_parts(working)
    if len(numbers) == 0:
        return []
    far = _far(boxes, working.scale)
    for box, number, is_far in zip(boxes, numbers, far, strict=True):
        middle = box.mean(axis=0)
        x, y, z = middle.tolist()
        name = model.parts[number].name
        at, size = (x, y, z), float((box[1] - box[0]).max())
        if is_far:
            found.append(Leftover(number, "far", say.lies_far_from_everything(name), at, size))
            continue
        gap = _gap_below(working, number, box)
        if gap is not None:
            below = say.NOTHING_UNDER_IT if gap == np.inf else say.of_air_under_it(_air(gap))
            found.append(Leftover(number, "floats", say.floats(name, below), at, size))
            continue
        if _hidden(working, number):
            found.append(Leftover(number, "hidden", say.is_nearly_hidden_under(name), at, size))
            continue
        if (
            where.places.rooms
            and where.room_at(x, y, float(box[0, 2]) + 0.05) is None
            and _indoors(working, box, where)
        ):
            found.append(Leftover(number, "outside", say.is_indoors_but_in_none(name), at, size))
    order = {"far": 0, "floats": 1, "hidden": 2, "outside": 3}
    return sorted(found, key=lambda leftover: order[leftover.why])[:MOST_LISTED]


def _small_parts(working: WorkingSet) -> tuple[Floats, list[int]]:
    """Boxes (n, 2, 3) and numbers of the small parts that are on the desk."""
    here = np.zeros(len(working.model.faces), dtype=bool)
    here[working.kept] = True
    boxes, numbers = [], []
    for number, part in enumerate(working.model.parts):
        if part.face_count == 0 or not here[part.first_face]:
            continue
        inside = working.model.vertices[
            working.model.faces[part.first_face : part.first_face + part.face_count].ravel()
        ]
        box = np.array([inside.min(axis=0), inside.max(axis=0)])
        if float((box[1] - box[0]).max()) <= SMALL_M * working.scale:
            boxes.append(box)
            numbers.append(number)
    return np.array(boxes).reshape(-1, 2, 3), numbers


def _far(boxes: Floats, scale: float) -> list[bool]:
    """Which parts lie farther from the middle of the small ones than ten times where most of them lie."""
    middle = boxes.mean(axis=1)
    away = np.linalg.norm(middle - np.median(middle, axis=0), axis=1)
    typical = max(float(np.quantile(away, 0.9)), 5.0 * scale)
    return [bool(is_far) for is_far in away > 10.0 * typical]


def _own_faces(working: WorkingSet, number: int) -> tuple[int, int]:
    part = working.model.parts[number]
    return part.first_face, part.first_face + part.face_count


def _others(working: WorkingSet, number: int, origins: Floats, directions: Floats) -> Floats:
    """Distance along rays to the first face of another part, (n,); inf for none. Own faces are passed through."""
    first, last = _own_faces(working, number)
    distance = np.zeros(len(origins))
    found = np.full(len(origins), np.inf)
    alive = np.arange(len(origins))
    for _ in range(24):
        hits = working.rays.first(origins[alive] + distance[alive, None] * directions[alive], directions[alive])
        met = hits.face >= 0
        whole = np.where(met, working.kept[np.maximum(hits.face, 0)], -1)
        own = met & (whole >= first) & (whole < last)
        other = met & ~own
        found[alive[other]] = distance[alive[other]] + hits.distance[other]
        distance[alive[own]] += hits.distance[own] + 1e-4 * working.scale
        alive = alive[own]
        if len(alive) == 0:
            break
    return found


def _touches(working: WorkingSet, number: int, box: Floats) -> bool:
    """Whether another part comes within two centimetres of this one, less in a set smaller than a room.

    Only triangles near the part's box are tried: places on either surface against the triangles of the other, and
    the part's own edges as rays, which find what passes through it.
    """
    first, last = _own_faces(working, number)
    near = _faces_near(working, box, first, last)
    if len(near) == 0:
        return False
    own = working.model.vertices[working.model.faces[first:last]]
    others = working.model.vertices[working.model.faces[near]]
    rng = np.random.default_rng(number)
    own, others = _some(own, 400, rng), _some(others, 400, rng)
    near_m = NEAR_M * working.scale
    if _closest(_places_on(own), others) <= near_m or _closest(_places_on(others), own) <= near_m:
        return True
    edges = np.stack([own, np.roll(own, -1, axis=1)], axis=2).reshape(-1, 2, 3)
    along = edges[:, 1] - edges[:, 0]
    length = np.linalg.norm(along, axis=1)
    real = length > 1e-6
    reach = _others(working, number, edges[real, 0], along[real] / length[real, None])
    return bool((reach <= length[real]).any())


def _some(triangles: Floats, most: int, rng: np.random.Generator) -> Floats:
    if len(triangles) <= most:
        return triangles
    return triangles[rng.choice(len(triangles), most, replace=False)]


def _places_on(triangles: Floats) -> Floats:
    """Corners, middles of sides and middles of triangles (n, 3, 3), each place once, (m, 3)."""
    sides = (triangles + np.roll(triangles, -1, axis=1)) / 2.0
    every = np.concatenate([triangles.reshape(-1, 3), sides.reshape(-1, 3), triangles.mean(axis=1)])
    return np.unique(np.round(every, 6), axis=0)


def _faces_near(working: WorkingSet, box: Floats, first: int, last: int) -> Integers:
    """Faces of other parts that are here and whose own boxes come within two centimetres, or less, of a box (2, 3)."""
    index, near_m = working.cut_index, NEAR_M * working.scale
    close = (np.abs(index.middle - box.mean(axis=0)) <= index.half + (box[1] - box[0]) / 2.0 + near_m).all(axis=1)
    corners = index.corners[close]
    low, high = corners.min(axis=2), corners.max(axis=2)
    meets = ((low <= box[1][:, None] + near_m) & (high >= box[0][:, None] - near_m)).all(axis=1)
    faces = np.unique(working.kept[index.order[close][meets]])
    others: Integers = faces[(faces < first) | (faces >= last)]
    return others


def _closest(places: Floats, triangles: Floats) -> float:
    """Least distance from places (n, 3) to triangles (m, 3, 3); each triangle by its plane and its sides."""
    least = np.inf
    for start in range(0, len(places), 256):
        least = min(least, float(_distances(places[start : start + 256, None], triangles[None]).min()))
    return least


def _distances(places: Floats, triangles: Floats) -> Floats:
    sides = np.roll(triangles, -1, axis=-2) - triangles
    across = np.cross(sides[..., 0, :], -sides[..., 2, :])
    size = np.linalg.norm(across, axis=-1)
    normal = across / np.maximum(size, 1e-300)[..., None]
    from_corner = places[..., None, :] - triangles
    share = np.einsum("...i,...i->...", from_corner, sides) / np.maximum((sides**2).sum(axis=-1), 1e-300)
    to_side = from_corner - np.clip(share, 0.0, 1.0)[..., None] * sides
    beside = np.linalg.norm(to_side, axis=-1).min(axis=-1)
    inside = (np.einsum("...i,...i->...", np.cross(sides, from_corner), normal[..., None, :]) >= 0.0).all(axis=-1)
    height = np.abs(np.einsum("...i,...i->...", from_corner[..., 0, :], normal))
    found: Floats = np.where(inside & (size > 0.0), height, beside)
    return found


def _gap_below(working: WorkingSet, number: int, box: Floats) -> float | None:
    """Air under a part that touches nothing, in metres; inf where nothing is below; None where it stands or hangs."""
    plane = working.whole.things_stand_on
    if plane is not None and abs(float(box[0, 2]) - plane) <= NEAR_M * working.scale:
        return None
    if _touches(working, number, box):
        return None
    x, y = np.meshgrid(np.linspace(box[0, 0], box[1, 0], 5)[1:-1], np.linspace(box[0, 1], box[1, 1], 5)[1:-1])
    origins = np.stack([x.ravel(), y.ravel(), np.full(x.size, box[0, 2])], axis=1)
    down = np.tile([0.0, 0.0, -1.0], (len(origins), 1))
    above = 1e-3 * working.scale
    gap = float(_others(working, number, origins + np.array([0, 0, above]), down).min()) - above
    return gap if gap > FLOATS_M * working.scale else None


def _hidden(working: WorkingSet, number: int) -> bool:
    """Whether hardly any ray that leaves the part's surface gets farther than a few centimetres."""
    first, last = _own_faces(working, number)
    rng = np.random.default_rng(number)
    corners = working.model.vertices[working.model.faces[first:last]]
    chosen = rng.integers(0, len(corners), _RAYS)
    places = corners[chosen].mean(axis=1)
    normal = np.cross(corners[chosen, 1] - corners[chosen, 0], corners[chosen, 2] - corners[chosen, 0])
    size = np.linalg.norm(normal, axis=1, keepdims=True)
    outward = np.divide(normal, size, out=np.tile([0.0, 0.0, 1.0], (_RAYS, 1)), where=size > 0)
    direction = outward + 0.7 * rng.normal(size=(_RAYS, 3))
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    # Faces may be turned inside out, so the more covered of both sides counts.
    off, covered = 1e-3 * working.scale, COVERED_M * working.scale
    outside = _others(working, number, places + off * outward, direction)
    inside = _others(working, number, places - off * outward, -direction)
    return bool(max(np.mean(outside < covered), np.mean(inside < covered)) >= HIDDEN_SHARE)


def _air(gap: float) -> str:
    return f"{gap * 100:.0f} cm" if gap >= 0.0095 else f"{gap * 1000:.1f} mm"


def _indoors(working: WorkingSet, box: Floats, where: SetContext) -> bool:
    """Whether a part stands on a level's floor with a roof over it."""
    x, y, z = box.mean(axis=0).tolist()
    level = level_at(where.places, float(box[0, 2]) + 0.05)
    floor = working.floor_under(np.array([x, y, z]))
    if level is None or floor is None or abs(floor - level.floor_m) > KNEE_M:
        return False
    top = np.array([[x, y, box[1, 2] + 1e-3]])
    return bool(working.rays.distances(top, np.array([[0.0, 0.0, 1.0]]))[0] < 15.0)
