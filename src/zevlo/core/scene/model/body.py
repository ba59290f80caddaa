"""The body of a set: the box its building or its thing lies in, without the wide ground and water round it.

It is what one looks at first. A plain box of all corners would be the ground's, with the house a speck in it.
"""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.model.part_ids import STAND_INS_PATH
from zevlo.core.scene.model.set_model import SetModel

BODY_SHARE = 0.02
GROUND_SPAN = 0.9
"""A part is ground, or a roof, where it spans this share of the set both ways ..."""
GROUND_FLATNESS = 0.25
"""... and is lower than this share of its lesser width."""
FACES_LOOKED_AT = 4000


def body_box(model: SetModel, up: int = 2) -> Floats:
    """Lowest and highest corner (2, 3), in the units and axes the model is in, of where most of its detail lies.

    ``up``: number of the axis that is upright.
    Stand-ins do not count. Parts count by the root of their faces: neither the ground nor one finely modelled vase
    tells where the house is.
    """
    whole = np.array([model.vertices.min(axis=0), model.vertices.max(axis=0)])
    found: list[tuple[Floats, float]] = []
    ground: list[tuple[Floats, float]] = []
    for part, own in zip(model.parts, model.ids, strict=True):
        if part.face_count == 0 or own.partition("/")[0] == STAND_INS_PATH:
            continue
        step = -(-part.face_count // FACES_LOOKED_AT)
        faces = model.faces[part.first_face : part.first_face + part.face_count : step]
        corners = model.vertices[faces].reshape(-1, 3)
        (ground if _is_ground(np.ptp(corners, axis=0), whole, up) else found).append(
            (corners, float(np.sqrt(part.face_count)))
        )
    if not found:
        found = ground
    if not found:
        return whole
    points = np.concatenate([corners for corners, _ in found])
    weights = np.concatenate([np.full(len(corners), weight / len(corners)) for corners, weight in found])
    return np.stack([_between(points[:, axis], weights) for axis in range(3)], axis=1)


def has_ground(model: SetModel, up: int = 2) -> bool:
    """Whether some part is the ground, or a table or a sheet, that all else stands on."""
    whole = np.array([model.vertices.min(axis=0), model.vertices.max(axis=0)])
    full = [number for number, part in enumerate(model.parts) if part.face_count]
    return len(full) > 1 and any(_is_ground(high - low, whole, up) for low, high in model.boxes[full])


def _is_ground(size: Floats, whole: Floats, up: int) -> bool:
    level = [axis for axis in range(3) if axis != up]
    wide = np.ptp(whole, axis=0)[level]
    return bool((size[level] >= GROUND_SPAN * wide).all() and size[up] <= GROUND_FLATNESS * size[level].min())


def _between(places: Floats, weights: Floats) -> Floats:
    """The places a small share of the weight lies below and above of."""
    order = np.argsort(places)
    share = np.cumsum(weights[order]) / weights.sum()
    low, high = np.searchsorted(share, [BODY_SHARE, 1.0 - BODY_SHARE])
    return places[order][[low, min(high, len(places) - 1)]]
