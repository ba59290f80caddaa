"""Where a hand that draws on a plan meant to put a corner: on a corner of a cut wall, on its face, or square on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.cuts.outline import CutOutlines


@dataclass(frozen=True)
class Snapped:
    x: float
    y: float
    to: Literal["corner", "wall", "square", "nothing"]


def sides_of(cut: CutOutlines) -> Floats:
    """The sides of all that a plan cuts, (n, 2, 2)."""
    found = [np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in cut.closed]
    found += [np.stack([run[:-1], run[1:]], axis=1) for run in cut.open if len(run) > 1]
    return np.concatenate(found) if found else np.zeros((0, 2, 2))


def snap(sides: Floats, x: float, y: float, reach: float, last: tuple[float, float] | None = None) -> Snapped:
    """The place meant by (x, y): a wall's corner within ``reach`` metres, else its nearest face, else square on.

    ``last`` is the corner drawn before: straight across or up from it counts as square on.

    ``sides`` (n, 2, 2): faces of cut walls from end to end; all in metres on paper."""
    place = np.array([x, y])
    if len(sides):
        corners = sides.reshape(-1, 2)
        away = np.linalg.norm(corners - place, axis=1)
        nearest = int(np.argmin(away))
        if away[nearest] <= reach:
            cx, cy = corners[nearest].tolist()
            return Snapped(cx, cy, "corner")
        along = sides[:, 1] - sides[:, 0]
        length2 = np.einsum("ij,ij->i", along, along)
        share = np.einsum("ij,ij->i", place - sides[:, 0], along) / np.maximum(length2, 1e-18)
        feet = sides[:, 0] + np.clip(share, 0.0, 1.0)[:, None] * along
        off = np.linalg.norm(feet - place, axis=1)
        foot = int(np.argmin(off))
        if off[foot] <= reach:
            fx, fy = feet[foot].tolist()
            return Snapped(*_squared(fx, fy, sides[foot], reach, last), "wall")
    if last is not None:
        if abs(x - last[0]) <= reach:
            return Snapped(last[0], y, "square")
        if abs(y - last[1]) <= reach:
            return Snapped(x, last[1], "square")
    return Snapped(x, y, "nothing")


def _squared(x: float, y: float, side: Floats, reach: float, last: tuple[float, float] | None) -> tuple[float, float]:
    """A place on a wall, moved along it to lie square to the last corner where that is near."""
    if last is None:
        return x, y
    (ax, ay), (bx, by) = side.tolist()
    if abs(x - last[0]) <= reach and abs(bx - ax) > 1e-9 and min(ax, bx) <= last[0] <= max(ax, bx):
        return last[0], ay + (last[0] - ax) / (bx - ax) * (by - ay)
    if abs(y - last[1]) <= reach and abs(by - ay) > 1e-9 and min(ay, by) <= last[1] <= max(ay, by):
        return ax + (last[1] - ay) / (by - ay) * (bx - ax), last[1]
    return x, y
