"""A plain figure for scale, standing or seated: round limbs about the joints of a body, in shares of its stature."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from math import cos, pi, sin

import numpy as np

from zevlo.core.arrays import Floats, Integers

_ROUND = 16
ANKLE, KNEE, HIP, SHOULDER, CHIN, ELBOW, WRIST = 0.039, 0.285, 0.530, 0.818, 0.870, 0.630, 0.485
"""Heights of a standing body's joints in shares of its stature: Drillis and Contini (1966), from memory."""

Ring = tuple[tuple[float, float, float], float, float]
"""Middle of a ring across a limb, and its half widths across and along the view, in shares of the stature."""


def _loft(rings: Sequence[Ring]) -> tuple[Floats, Integers, Floats]:
    """A closed body through rings of points, ends drawn to a point; the rings lie square to the way between them."""
    middles = np.array([ring[0] for ring in rings])
    direction = np.gradient(middles, axis=0)
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    points = []
    for (_, wide, deep), middle, along in zip(rings, middles, direction, strict=True):
        sideways = np.array([1.0, 0.0, 0.0])
        sideways = sideways - along * (sideways @ along)
        sideways /= np.linalg.norm(sideways)
        other = np.cross(along, sideways)
        for n in range(_ROUND):
            a = 2.0 * pi * n / _ROUND
            points.append(middle + wide * cos(a) * sideways + deep * sin(a) * other)
    body = np.array(points)
    count = len(rings)
    faces = []
    for ring in range(count - 1):
        for n in range(_ROUND):
            a, b = ring * _ROUND + n, ring * _ROUND + (n + 1) % _ROUND
            faces += [[a, b, b + _ROUND], [a, b + _ROUND, a + _ROUND]]
    ends = np.array([middles[0], middles[-1]])
    first, last = len(body), len(body) + 1
    for n in range(_ROUND):
        after = (n + 1) % _ROUND
        faces += [[first, after, n], [last, (count - 1) * _ROUND + n, (count - 1) * _ROUND + after]]
    vertices = np.concatenate([body, ends])
    triangles = np.array(faces, dtype=np.int32)
    corners = vertices[triangles]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = np.zeros_like(vertices)
    for corner in range(3):
        np.add.at(normals, triangles[:, corner], across)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    return vertices, triangles, normals


@lru_cache(maxsize=32)
def body_of(stature: float, seat: float | None) -> tuple[Floats, Integers, Floats]:
    """A person of a stature in metres, looking to -Y: vertices, faces, normals. ``seat``: the height of what it
    sits on; None where it stands."""
    # Seated, the trunk comes down to the seat and the thighs lie level on it.
    drop = 0.0 if seat is None else HIP - (seat / stature + 0.05)
    bodies = [_loft(rings) for rings in (*_trunk(drop), *_limbs(drop, None if seat is None else seat / stature))]
    vertices, faces, normals, count = [], [], [], 0
    for body, triangles, smooth in bodies:
        vertices.append(body)
        faces.append(triangles + count)
        normals.append(smooth)
        count += len(body)
    return np.concatenate(vertices) * stature, np.concatenate(faces).astype(np.int32), np.concatenate(normals)


def _trunk(drop: float) -> list[list[Ring]]:
    def at(z: float, wide: float, deep: float, y: float = 0.0) -> Ring:
        return (0.0, y, z - drop), wide, deep

    trunk = [at(0.465, 0.03, 0.03), at(0.485, 0.085, 0.06), at(0.53, 0.098, 0.068), at(0.58, 0.09, 0.06),
             at(0.63, 0.08, 0.052), at(0.70, 0.092, 0.06), at(0.76, 0.108, 0.062), at(0.80, 0.112, 0.05),
             at(0.825, 0.075, 0.04), at(0.838, 0.036, 0.032)]  # fmt: skip
    head = [at(0.825, 0.030, 0.032), at(0.862, 0.030, 0.034), at(0.872, 0.034, 0.045, -0.008),
            at(0.90, 0.043, 0.056, -0.008), at(0.936, 0.046, 0.060), at(0.968, 0.042, 0.054), at(0.99, 0.026, 0.034),
            at(1.0, 0.006, 0.008)]  # fmt: skip
    return [trunk, head]


def _limbs(drop: float, seat: float | None) -> list[list[Ring]]:
    limbs: list[list[Ring]] = []
    for side in (-1.0, 1.0):
        if seat is None:
            limbs += [*_standing_leg(side * 0.052), _foot(side * 0.052, 0.035), _hanging_arm(side * 0.118)]
        else:
            limbs += [
                *_seated_leg(side * 0.052, seat),
                _foot(side * 0.052, -0.19),
                *_resting_arm(side * 0.118, drop, seat),
            ]
    return limbs


def _standing_leg(x: float) -> list[list[Ring]]:
    return [[((x, 0.0, 0.50), 0.05, 0.056), ((x, 0.0, 0.42), 0.048, 0.054), ((x, 0.0, KNEE), 0.032, 0.036),
             ((x, 0.008, 0.21), 0.034, 0.04), ((x, 0.008, 0.10), 0.024, 0.027), ((x, 0.004, ANKLE), 0.02, 0.023),
             ((x, 0.0, 0.012), 0.02, 0.024)]]  # fmt: skip


def _seated_leg(x: float, seat: float) -> list[list[Ring]]:
    thigh = [((x, 0.02, seat + 0.05), 0.05, 0.046), ((x, -0.10, seat + 0.05), 0.048, 0.046),
             ((x, -0.235, seat + 0.045), 0.034, 0.034), ((x, -0.26, seat + 0.04), 0.02, 0.02)]  # fmt: skip
    shank = [((x, -0.235, seat + 0.06), 0.02, 0.02), ((x, -0.235, seat + 0.035), 0.034, 0.036),
             ((x, -0.23, seat * 0.62), 0.032, 0.036), ((x, -0.225, ANKLE + 0.01), 0.021, 0.024),
             ((x, -0.225, 0.012), 0.02, 0.024)]  # fmt: skip
    return [thigh, shank]


def _foot(x: float, heel: float) -> list[Ring]:
    return [((x, heel, 0.016), 0.014, 0.014), ((x, heel - 0.015, 0.02), 0.022, 0.02),
            ((x, heel - 0.09, 0.019), 0.027, 0.0185), ((x, heel - 0.135, 0.013), 0.024, 0.0125),
            ((x, heel - 0.15, 0.009), 0.01, 0.007)]  # fmt: skip


def _hanging_arm(x: float) -> list[Ring]:
    return [((x * 0.93, 0.0, SHOULDER - 0.004), 0.024, 0.03), ((x, 0.005, 0.78), 0.03, 0.032),
            ((x * 1.06, 0.012, ELBOW), 0.023, 0.025), ((x * 1.12, -0.004, WRIST), 0.0155, 0.018),
            ((x * 1.13, -0.012, 0.43), 0.014, 0.024), ((x * 1.12, -0.016, 0.385), 0.009, 0.014)]  # fmt: skip


def _resting_arm(x: float, drop: float, seat: float) -> list[list[Ring]]:
    elbow = ELBOW - drop
    upper = [((x * 0.93, 0.0, SHOULDER - drop - 0.004), 0.024, 0.03), ((x, 0.005, 0.78 - drop), 0.03, 0.032),
             ((x * 1.05, 0.01, elbow + 0.01), 0.023, 0.025),
             ((x * 1.05, 0.0, elbow - 0.015), 0.014, 0.014)]  # fmt: skip
    lower = [((x * 1.05, 0.025, elbow), 0.012, 0.012), ((x * 1.05, 0.0, elbow), 0.024, 0.024),
             ((x * 0.78, -0.10, seat + 0.125), 0.02, 0.02), ((x * 0.58, -0.16, seat + 0.105), 0.022, 0.013),
             ((x * 0.5, -0.20, seat + 0.10), 0.013, 0.008)]  # fmt: skip
    return [upper, lower]
