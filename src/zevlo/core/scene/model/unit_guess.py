"""Unit and up axis of a file that does not say: guessed from its sizes, its names and its flat ground."""

from __future__ import annotations

import re

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.model.placing import UNITS_M, Up
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.model.support_plane import CLEAR_SHARE, part_boxes, stood_on

DOOR_M = (1.7, 3.2)
"""Height of a door with its frame (common practice, no source)."""
_DOOR = re.compile(r"(?<![a-z])doors?(?![a-z])", re.IGNORECASE)


def _things(words: str) -> re.Pattern[str]:
    return re.compile(rf"(?<![a-z])(?:{words})s?(?![a-z])", re.IGNORECASE)


THINGS = (
    (_things("ring|earring|bead"), (0.008, 0.06)),
    (_things("spoon|fork|knife|pen|brush"), (0.10, 0.40)),
    (_things("cup|mug|egg ?cup|tumbler|beaker"), (0.05, 0.16)),
    (_things("saucer|bowl|jar|jug|tea ?pot|pot|candle|book|pitcher"), (0.07, 0.45)),
    (_things("plate|dish|tray|bottle|vase|carafe"), (0.12, 0.75)),
    (_things("chair|stool|armchair"), (0.40, 1.30)),
    (_things("table|desk|bench|sofa|bed|wardrobe|shelf"), (0.40, 3.50)),
)
"""Longest side of things by their names, in metres (common practice, no source). One alone proves little; they vote."""
MARGIN = 0.25
FACES_LOOKED_AT = 2_000_000
LIKELY_M = (0.02, 300.0)
"""Extent of what artists bring: from a cup to a city block (our convention)."""


def guess_up(model: SetModel, otherwise: Up) -> Up:
    """The axis doors are high along; else the one along which most parts share their lowest plane, as things on a
    table do; else the thin way of a wide flat thing, as a scan of a ground is; else the one that the largest level
    plane faces along, where that is clear."""
    doors = [sizes for sizes in _door_sizes(model) if max(sizes[1], sizes[2]) > 1.3 * min(sizes[1], sizes[2])]
    if doors:
        upright = sum(1 if sizes[2] > sizes[1] else -1 for sizes in doors)
        if abs(upright) > len(doors) // 2:
            return "z" if upright > 0 else "y"
    boxes = part_boxes(model)
    over_y, over_z = stood_on(boxes, 1), stood_on(boxes, 2)
    if over_y is not None and over_z is not None:
        if over_y.share >= CLEAR_SHARE and over_y.share >= over_z.share + MARGIN:
            return "y"
        if over_z.share >= CLEAR_SHARE and over_z.share >= over_y.share + MARGIN:
            return "z"
    faces = model.faces[:: max(1, len(model.faces) // FACES_LOOKED_AT)]
    corners = model.vertices[faces]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(area, axis=1)
    flat = _thin_axis(model.bounds, area, size)
    if flat is not None:
        return flat
    facing = np.abs(area) > 0.995 * np.maximum(size, 1e-300)[:, None]
    along_y = _ground(corners, size, facing[:, 1], 1)
    along_z = _ground(corners, size, facing[:, 2], 2)
    if along_y > 1.1 * along_z:
        return "y"
    if along_z > 1.1 * along_y:
        return "z"
    return otherwise


THIN, AS_WIDE, MOSTLY = 0.3, 2.5, 0.6


def _thin_axis(bounds: Floats, area: Floats, size: Floats) -> Up | None:
    """The axis along which a thing is thin that is about as wide as it is long, and mostly faces that way; Y or Z."""
    extent = bounds[1] - bounds[0]
    for axis, up in ((2, "z"), (1, "y")):
        others = np.delete(extent, axis)
        thin = extent[axis] < THIN * float(others.min()) and float(others.max()) < AS_WIDE * float(others.min())
        if thin and float(np.abs(area[:, axis]).sum()) > MOSTLY * float(size.sum()):
            return up  # type: ignore[return-value]
    return None


def _ground(corners: Floats, size: Floats, facing: np.ndarray, axis: int) -> float:
    """The largest area that lies at one height along an axis: a floor is one plane, walls are many."""
    if not facing.any():
        return 0.0
    height = corners[facing, 0, axis]
    span = float(height.max() - height.min())
    step = np.floor((height - height.min()) / max(span / 200.0, 1e-12)).astype(np.int64)
    return float(np.bincount(step, weights=size[facing]).max())


def guess_unit(model: SetModel, up: Up, otherwise: str) -> str:
    """Short name of the unit. A part called a door decides; then things by their names, a cup or a chair; then the size
    of the whole, with ``otherwise`` first."""
    axis = 1 if up == "y" else 2
    heights = [float(sizes[axis]) for sizes in _door_sizes(model)]
    if heights:
        middle = float(np.median(heights))
        for unit, size in UNITS_M.items():
            if DOOR_M[0] <= middle * size <= DOOR_M[1]:
                return unit
    extent = float((model.bounds[1] - model.bounds[0]).max())
    named = _unit_by_names(model, extent, otherwise)
    if named is not None:
        return named
    for unit in (otherwise, "m", "cm", "mm"):
        if LIKELY_M[0] <= extent * UNITS_M[unit] <= LIKELY_M[1]:
            return unit
    return otherwise


def _unit_by_names(model: SetModel, extent: float, otherwise: str) -> str | None:
    """The unit in which most things have the size they are known by; None where no name tells anything."""
    votes = dict.fromkeys((otherwise, *UNITS_M), 0)
    for part in model.parts:
        known = [size for words, size in THINGS if words.search(part.name.replace("_", " "))]
        if not part.face_count or len(known) != 1:
            continue
        corners = model.vertices[model.faces[part.first_face : part.first_face + part.face_count].ravel()]
        longest = float((corners.max(axis=0) - corners.min(axis=0)).max())
        for unit in votes:
            if known[0][0] <= longest * UNITS_M[unit] <= known[0][1] and extent * UNITS_M[unit] <= LIKELY_M[1]:
                votes[unit] += 1
    best = max(votes, key=lambda unit: votes[unit])
    return best if votes[best] else None


def _door_sizes(model: SetModel) -> list[Floats]:
    """Width, depth and height, (3,), of each part that is called a door."""
    found = []
    for part in model.parts:
        if part.face_count and _DOOR.search(part.name.replace("_", " ")):
            faces = model.faces[part.first_face : part.first_face + part.face_count]
            inside = model.vertices[faces.ravel()]
            found.append(inside.max(axis=0) - inside.min(axis=0))
    return found
