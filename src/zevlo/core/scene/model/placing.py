"""How a file's own coordinates become the set's: unit, up axis, turn about the vertical, and where it lies.

World = turn about Z · up axis to Z · metres per unit · file, then moved.
"""

from __future__ import annotations

from dataclasses import replace
from math import cos, radians, sin
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.refused import Refused
from zevlo.core.scene.model.set_model import SetModel
from zevlo.text import scene as say

Up = Literal["y", "z"]
UNITS_M: dict[str, float] = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}
"""International inch and foot (exact since 1959, NIST SP 811)."""
MetresPerUnit = Annotated[float, Field(ge=1.0e-6, le=1.0e4)]
FARTHEST_M = 1.0e12
"""How far from zero a file may have its set: surveys count in thousands of kilometres, and may count them in a wrong
unit."""
Far = Annotated[float, Field(ge=-FARTHEST_M, le=FARTHEST_M)]


class Placing(Settings):
    """From a file's coordinates to the world's. ``turn_deg`` clockwise seen from above, as headings rise."""

    metres_per_unit: MetresPerUnit = 1.0
    up: Up = "z"
    turn_deg: float = Field(0.0, ge=-360.0, le=360.0)
    moved_m: tuple[Far, Far, Far] = (0.0, 0.0, 0.0)

    @property
    def unit(self) -> str | None:
        """Short name of the unit; None for one without."""
        return next((name for name, size in UNITS_M.items() if abs(size - self.metres_per_unit) < 1e-9 * size), None)


def matrix_of(placing: Placing) -> Floats:
    """File to world, (4, 4) on column vectors."""
    c, s = cos(radians(placing.turn_deg)), sin(radians(placing.turn_deg))
    turn = np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])
    upright = np.eye(3) if placing.up == "z" else np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]])
    matrix = np.eye(4)
    matrix[:3, :3] = placing.metres_per_unit * turn @ upright
    matrix[:3, 3] = placing.moved_m
    return matrix


def placed(read: SetModel, placing: Placing) -> SetModel:
    """The set in the world: vertices in metres, normals turned."""
    matrix = matrix_of(placing)
    turn = matrix[:3, :3]
    straight = np.array_equal(turn, np.eye(3))
    if straight and not any(placing.moved_m):
        return read
    vertices = read.vertices if straight else read.vertices @ turn.T
    normals = read.normals
    if normals is not None and not straight:
        normals = (normals @ (turn / placing.metres_per_unit).T.astype(np.float32)).astype(np.float32)
    return replace(read, vertices=vertices + matrix[:3, 3], normals=normals)


def bounds_in(bounds: Floats, placing: Placing) -> Floats:
    """Box (2, 3) in the world round a box (2, 3) in the file. Exact while the turn is a multiple of 90."""
    corners = np.array([[x, y, z] for x in bounds[:, 0] for y in bounds[:, 1] for z in bounds[:, 2]])
    matrix = matrix_of(placing)
    moved = corners @ matrix[:3, :3].T + matrix[:3, 3]
    return np.array([moved.min(axis=0), moved.max(axis=0)])


def transform_between(old: Placing, new: Placing) -> Floats:
    """What a correction does to the world, (4, 4)."""
    change: Floats = matrix_of(new) @ np.linalg.inv(matrix_of(old))
    return change


def corrected(
    placing: Placing, metres_per_unit: float | None = None, up: Up | None = None, turn_deg: float | None = None
) -> Placing:
    """The placing with another unit, up axis or turn; a missing one stays. The set scales and turns about zero.

    Raises :class:`Refused` where it would lie too far from its file's zero."""
    given = {"metres_per_unit": metres_per_unit, "up": up, "turn_deg": turn_deg}
    new = Placing.model_validate({**placing.model_dump(), **{k: v for k, v in given.items() if v is not None}})
    change = matrix_of(new)[:3, :3] @ np.linalg.inv(matrix_of(placing)[:3, :3])
    x, y, z = np.round(change @ np.array(placing.moved_m), 9).tolist()
    if max(map(abs, (x, y, z))) > FARTHEST_M:
        raise Refused(say.IN_THAT_UNIT_THE_SET)
    return new.model_copy(update={"moved_m": (x, y, z)})


def dropped(points: Floats, placing: Placing) -> Placing:
    """The placing with the set's lowest point at height zero. ``points`` (n, 3): the farthest out, in the file."""
    matrix = matrix_of(placing)
    low = float((points @ matrix[2, :3] + matrix[2, 3]).min())
    x, y, z = placing.moved_m
    return placing.model_copy(update={"moved_m": (x, y, z - low)})


FAR_M = 20_000.0
"""A set farther from zero than this is brought near: single precision cannot draw it where it is."""


def moved_to_origin(bounds: Floats, placing: Placing) -> Placing:
    """The placing with a set that lies far off (survey coordinates) moved to stand about zero, by whole metres.

    Raises :class:`Refused` where it lies farther off than can be."""
    box = bounds_in(bounds, placing)
    if float(np.abs(box).max()) > FARTHEST_M:
        raise Refused(say.the_model_lies_km(float(np.abs(box).max()) / 1000.0))
    if float(np.abs(box).max()) <= FAR_M:
        return placing
    middle = np.round(box.mean(axis=0))
    low = float(np.round(box[0, 2])) if abs(float(box[0, 2])) > FAR_M else 0.0
    x, y, z = placing.moved_m
    return placing.model_copy(update={"moved_m": (x - float(middle[0]), y - float(middle[1]), z - low)})
