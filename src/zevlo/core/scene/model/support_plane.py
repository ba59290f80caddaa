"""What things stand on: the plane many parts of a set share as their lowest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.model.part_ids import STAND_INS_PATH
from zevlo.core.scene.model.set_model import SetModel

SAME_PLANE = 0.004
"""Parts whose lowest points lie within this share of the set's size stand on one plane."""
FEWEST = 3
SMALL_M = 2.0
"""A set smaller than this each way is a thing on a table, not a room to stand in (our convention)."""
CLEAR_SHARE = 0.5


@dataclass(frozen=True)
class Plane:
    """A height along an axis, and the share of the parts that stand there."""

    height: float
    share: float


def part_boxes(model: SetModel) -> Floats:
    """Lowest and highest corner of each part with faces of its own, stand-ins left out, (n, 2, 3)."""
    wanted = [
        number
        for number, (part, own) in enumerate(zip(model.parts, model.ids, strict=True))
        if part.face_count and own.partition("/")[0] != STAND_INS_PATH
    ]
    boxes: Floats = model.boxes[wanted]
    return boxes


def stood_on(boxes: Floats, axis: int) -> Plane | None:
    """The plane most parts stand on along an axis; None of fewer than three parts. ``boxes`` (n, 2, 3)."""
    if len(boxes) < FEWEST:
        return None
    size = float((boxes[:, 1].max(axis=0) - boxes[:, 0].min(axis=0)).max())
    low = np.sort(boxes[:, 0, axis])
    last = np.searchsorted(low, low + SAME_PLANE * max(size, 1.0e-9), side="right")
    count = last - np.arange(len(low))
    best = int(np.argmax(count))
    return Plane(float(low[best]), float(count[best] / len(low)))
