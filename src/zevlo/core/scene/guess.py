"""Unit and up axis of a file that does not say: guessed from its sizes, its names and its flat ground."""

from __future__ import annotations

import re

import numpy as np

from zevlo.core.scene.model import Floats, SetModel
from zevlo.core.scene.placing import UNITS_M, Up

DOOR_M = (1.7, 3.2)
"""Height of a door with its frame (common practice, no source)."""
_DOOR = re.compile(r"(?<![a-z])doors?(?![a-z])", re.IGNORECASE)
LIKELY_M = (0.02, 300.0)
"""Extent of what artists bring: from a cup to a city block (our convention)."""


def guess_up(model: SetModel, otherwise: Up) -> Up:
    """The axis doors are high along; else the one that the largest level plane faces along, where that is clear."""
    doors = [sizes for sizes in _door_sizes(model) if max(sizes[1], sizes[2]) > 1.3 * min(sizes[1], sizes[2])]
    if doors:
        upright = sum(1 if sizes[2] > sizes[1] else -1 for sizes in doors)
        if abs(upright) > len(doors) // 2:
            return "z" if upright > 0 else "y"
    corners = model.vertices[model.faces]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(area, axis=1)
    facing = np.abs(area) > 0.995 * np.maximum(size, 1e-300)[:, None]
    along_y = _ground(corners, size, facing[:, 1], 1)
    along_z = _ground(corners, size, facing[:, 2], 2)
    if along_y > 1.1 * along_z:
        return "y"
    if along_z > 1.1 * along_y:
        return "z"
    return otherwise


def _ground(corners: Floats, size: Floats, facing: np.ndarray, axis: int) -> float:
    """The largest area that lies at one height along an axis: a floor is one plane, walls are many."""
    if not facing.any():
        return 0.0
    height = corners[facing, 0, axis]
    span = float(height.max() - height.min())
    step = np.floor((height - height.min()) / max(span / 200.0, 1e-12)).astype(np.int64)
    return float(np.bincount(step, weights=size[facing]).max())


def guess_unit(model: SetModel, up: Up, otherwise: str) -> str:
    """Short name of the unit. A part called a door decides; then the size of the whole, with ``otherwise`` first."""
    axis = 1 if up == "y" else 2
    heights = [float(sizes[axis]) for sizes in _door_sizes(model)]
    if heights:
        middle = float(np.median(heights))
        for unit, size in UNITS_M.items():
            if DOOR_M[0] <= middle * size <= DOOR_M[1]:
                return unit
    extent = float((model.bounds[1] - model.bounds[0]).max())
    for unit in (otherwise, "m", "cm", "mm"):
        if LIKELY_M[0] <= extent * UNITS_M[unit] <= LIKELY_M[1]:
            return unit
    return otherwise


def _door_sizes(model: SetModel) -> list[Floats]:
    """Width, depth and height, (3,), of each part that is called a door."""
    found = []
    for part in model.parts:
        if part.face_count and _DOOR.search(part.name.replace("_", " ")):
            faces = model.faces[part.first_face : part.first_face + part.face_count]
            inside = model.vertices[faces.ravel()]
            found.append(inside.max(axis=0) - inside.min(axis=0))
    return found
