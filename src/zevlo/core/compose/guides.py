"""Composition guides: lines (x0, y0, x1, y1) in the frame, (0, 0) bottom left, (1, 1) top right."""

from __future__ import annotations

from math import cos, inf, radians, sin, sqrt

import numpy as np

from zevlo.core.optics.laws import Law
from zevlo.core.optics.lens import Window
from zevlo.core.stand.pose import Pose

Line = tuple[float, float, float, float]
Lines = tuple[Line, ...]


def _grid(*shares: float) -> Lines:
    upright = tuple((share, 0.0, share, 1.0) for share in shares)
    return (*upright, *((0.0, share, 1.0, share) for share in shares))


GOLDEN_SHARE = (sqrt(5.0) - 1.0) / 2.0
"""0.618034…, the larger part of a side divided so that it is to the smaller as the whole is to it."""
THIRDS = _grid(1.0 / 3.0, 2.0 / 3.0)
GOLDEN = _grid(1.0 - GOLDEN_SHARE, GOLDEN_SHARE)
CENTRE = _grid(0.5)
DIAGONALS: Lines = ((0.0, 0.0, 1.0, 1.0), (0.0, 1.0, 1.0, 0.0))


def reciprocals(ratio: float) -> Lines:
    """From each corner the perpendicular on the diagonal it does not lie on, as far as it goes in the frame.

    ``ratio``: width over height. Where that is √2 they end in the middle of the longer sides.
    """
    # From the bottom left corner towards the diagonal from top left to bottom right, then mirrored.
    x, y = (1.0 / ratio**2, 1.0) if ratio >= 1.0 else (1.0, ratio**2)
    return ((0.0, 0.0, x, y), (1.0, 0.0, 1.0 - x, y), (0.0, 1.0, x, 1.0 - y), (1.0, 1.0, 1.0 - x, 1.0 - y))


def margin(share: float) -> Lines:
    """A frame within the frame, ``share`` of its width and of its height away from its sides."""
    low, high = share, 1.0 - share
    return ((low, low, high, low), (high, low, high, high), (high, high, low, high), (low, high, low, low))


_FAR_M = 1.0e9
_ASIDE = np.radians([-1.0, 1.0])
_AROUND = np.radians(np.arange(-180.0, 181.0, 2.0))
_NO_LEAP = 0.5


def horizon(pose: Pose, window: Window, law: Law) -> Lines:
    """Where what lies level with the lens, endlessly far away, is in the frame; nothing where it is not in it, or rays
    are parallel. In many short lines where straight lines are bent."""
    if law.angle_deg(1.0) is None:
        return ()
    pitch, roll = radians(pose.pitch_deg), radians(pose.roll_deg)
    # Level directions, a degree to either side of the heading, or all around it.
    turns = _ASIDE if law.straight else _AROUND
    level = -np.cos(turns) * sin(pitch)
    right, up = cos(roll) * np.sin(turns) - sin(roll) * level, sin(roll) * np.sin(turns) + cos(roll) * level
    ahead = np.cos(turns) * cos(pitch)
    x, y, seen = law.film(np, _FAR_M * right, _FAR_M * up, _FAR_M * ahead)
    u, v = (x - window.left) / window.width, (y - window.bottom) / window.height
    if law.straight:
        return _within_frame(u[0], v[0], u[1] - u[0], v[1] - v[0], endless=True) if seen.all() else ()
    along, over = np.diff(u), np.diff(v)
    # Where the picture's two ends meet behind the camera no line runs.
    whole = seen[1:] & seen[:-1] & (np.hypot(along, over) < _NO_LEAP)
    pieces = (_within_frame(u[n], v[n], along[n], over[n], endless=False) for n in np.flatnonzero(whole))
    return tuple(piece for found in pieces for piece in found)


def _within_frame(x: float, y: float, along: float, up: float, endless: bool) -> Lines:
    """The part in the frame of the line from a place along a way, or of the endless one through it."""
    start, end = (-inf, inf) if endless else (0.0, 1.0)
    for at, step in ((x, along), (y, up)):
        if step == 0.0:
            if not 0.0 <= at <= 1.0:
                return ()
            continue
        one, other = sorted((-at / step, (1.0 - at) / step))
        start, end = max(start, one), min(end, other)
    if start >= end:
        return ()
    found = (x + start * along, y + start * up, x + end * along, y + end * up)
    return ((float(found[0]), float(found[1]), float(found[2]), float(found[3])),)
