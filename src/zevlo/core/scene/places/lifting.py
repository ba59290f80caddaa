"""Lifting off: what of a set is put aside while one works, by level or above the plan's cut. Pictures never notice."""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.places.levels import KNEE_M, Places


def part_middles(model: SetModel) -> Floats:
    """Lowest, middle and highest point of each part's own faces, (P, 3); NaN for a part without faces."""
    heights = np.full((len(model.parts), 3), np.nan)
    for number, part in enumerate(model.parts):
        if part.face_count:
            z = model.vertices[model.faces[part.first_face : part.first_face + part.face_count], 2]
            low, high = float(z.min()), float(z.max())
            heights[number] = low, (low + high) / 2.0, high
    return heights


def parts_on_level(model: SetModel, places: Places, name: str) -> list[int]:
    """Numbers of the parts that belong to a level: whose middle lies between its floor and the next one's."""
    levels = places.in_order().levels
    here = next(number for number, level in enumerate(levels) if level.name == name)
    floor = levels[here].floor_m - KNEE_M
    above = levels[here + 1].floor_m - KNEE_M if here + 1 < len(levels) else np.inf
    middle = part_middles(model)[:, 1]
    with np.errstate(invalid="ignore"):
        return np.flatnonzero((middle >= floor) & (middle < above)).tolist()
