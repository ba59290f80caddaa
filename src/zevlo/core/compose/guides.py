"""Composition guides: lines (x0, y0, x1, y1) in the frame, (0, 0) bottom left, (1, 1) top right."""

from __future__ import annotations

from math import cos, inf, radians, sin, sqrt

import numpy as np

from zevlo.core.camera import Camera

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
_ASIDE = radians(1.0)


def horizon(camera: Camera) -> Lines:
    """Where what lies level with the lens, endlessly far away, is in the frame; nothing where it is not in it, or rays
    are parallel."""
    if camera.law.angle_deg(1.0) is None:
        return ()
    # Two level directions, a degree to either side of the heading: straight lines stay straight.
    pose, window = camera.pose, camera.window
    pitch, roll = radians(pose.pitch_deg), radians(pose.roll_deg)
    level = -cos(_ASIDE) * sin(pitch)
    right = [_FAR_M * (cos(roll) * aside - sin(roll) * level) for aside in (-sin(_ASIDE), sin(_ASIDE))]
    up = [_FAR_M * (sin(roll) * aside + cos(roll) * level) for aside in (-sin(_ASIDE), sin(_ASIDE))]
    ahead = _FAR_M * cos(_ASIDE) * cos(pitch)
    x, y, seen = camera.law.film(np, np.array(right), np.array(up), np.array([ahead, ahead]))
    if not seen.all():
        return ()
    (x0, x1), (y0, y1) = ((x - window.left) / window.width).tolist(), ((y - window.bottom) / window.height).tolist()
    return _within_frame(x0, y0, x1 - x0, y1 - y0)


def _within_frame(x: float, y: float, along: float, up: float) -> Lines:
    """The part in the frame of the endless line through a place, along a way."""
    start, end = -inf, inf
    for at, way in ((x, along), (y, up)):
        if way == 0.0:
            if not 0.0 <= at <= 1.0:
                return ()
            continue
        one, other = sorted((-at / way, (1.0 - at) / way))
        start, end = max(start, one), min(end, other)
    if start >= end:
        return ()
    return ((x + start * along, y + start * up, x + end * along, y + end * up),)
