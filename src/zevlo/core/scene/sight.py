"""The shot as drawn in plan and section: the wedge it sees until something is in the way, sharp zone, focus."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from zevlo.core.compiled import compiled
from zevlo.core.optics.lens import Window
from zevlo.core.scene.cut import CutOutlines, DrawingPlane, mark_bends
from zevlo.core.scene.model import Floats
from zevlo.core.scene.rays import RayScene
from zevlo.core.sheet import Drawing, Polyline
from zevlo.core.stand.pose import Pose

FAN_RAYS = 61
PLAN_ROWS = 3
_DRAWN_TO = 1.0e-4
"""How far what is drawn may lie from what was found, as a share of the farthest depth."""
_SHARES = np.linspace(0.0, 1.0, FAN_RAYS)


@dataclass(frozen=True)
class Zone:
    """Distances along the lens axis, metres: focus, and sharp from/to (``to`` may be infinite)."""

    focus: float
    sharp_from: float
    sharp_to: float


def _nearest_to_axis(low: float, high: float) -> float:
    """Where the lens axis meets the frame's side, or the end nearest to it."""
    return min(max(0.0, low), high)


def fan(pose: Pose, window: Window, sideways: bool) -> Floats:
    """Rays across the frame through the lens axis (or the frame side nearest to it), (n, 3).

    Scaled so that the component along the lens axis is 1: a ray times a depth lies at that depth.
    """
    d = window.distance_mm
    if sideways:
        x = (window.left + _SHARES * window.width) / d
        ahead: Floats = pose.forward + (_nearest_to_axis(window.bottom, window.top) / d) * pose.up
        return ahead + x[:, None] * pose.right
    y = (window.bottom + _SHARES * window.height) / d
    ahead = pose.forward + (_nearest_to_axis(window.left, window.right) / d) * pose.right
    return ahead + y[:, None] * pose.up


@dataclass(frozen=True)
class SeenDepths:
    """How deep each ray of the fans of plan and section is seen, (n,) metres along the lens axis."""

    plan: Floats
    section: Floats


@compiled
def _ways(plan: Floats, section: Floats, rows: Floats, up: Floats) -> tuple[Floats, Floats]:
    """Unit rays (m, 3) of all columns of the frame, row after row, then of the section; and their lengths before."""
    ways = np.empty((len(rows) * len(plan) + len(section), 3))
    length = np.empty(len(ways))
    count = 0
    for row in range(len(rows) + 1):
        spread = plan if row < len(rows) else section
        raised = rows[row] if row < len(rows) else 0.0
        for ray in range(len(spread)):
            square = 0.0
            for axis in range(3):
                ways[count, axis] = spread[ray, axis] + raised * up[axis]
                square += ways[count, axis] ** 2
            length[count] = np.sqrt(square)
            for axis in range(3):
                ways[count, axis] /= length[count]
            count += 1
    return ways, length


@compiled
def _deepest(depth: Floats, rows: int, straight: int, columns: int, reach: float) -> Floats:
    """For each column the greatest depth at which anything is; ``reach`` where some of it is open air."""
    deepest = np.empty(columns)
    for column in range(columns):
        solid = depth[straight * columns + column]
        for row in range(rows):
            here = depth[row * columns + column]
            if here < reach and here > solid:
                solid = here
        open_air = True
        for row in range(rows):
            open_air = open_air and depth[row * columns + column] >= reach
        deepest[column] = reach if open_air else solid
    return deepest


def seen_depths(pose: Pose, window: Window, plan: Floats, section: Floats, rays: RayScene, reach: float) -> SeenDepths:
    """Follow the fans of plan and section until something is in the way, or ``reach``.

    In plan a whole column of the frame counts, not one height: a hill in front of a tower hides its foot, not
    the tower. So it is the greatest depth at which anything in the column is.
    """
    base = _nearest_to_axis(window.bottom, window.top)
    rows = [window.bottom + n * (window.height / (PLAN_ROWS - 1)) - base for n in range(PLAN_ROWS)]
    straight = min(range(PLAN_ROWS), key=lambda n: abs(rows[n]))
    ways, length = _ways(plan, section, np.array(rows) / window.distance_mm, pose.up)
    depth = np.minimum(rays.distances(pose.position[None], ways) / length, reach)
    columns = len(plan)
    return SeenDepths(_deepest(depth, PLAN_ROWS, straight, columns, reach), depth[PLAN_ROWS * columns :])


@compiled
def _bends(points: Floats, first: int, last: int, tolerance: float, needed: NDArray[np.bool_]) -> None:
    """Mark what of the points ``first`` to ``last`` is drawn: the ends, and where the line between them bends."""
    needed[first] = needed[last] = True
    mark_bends(points, first, last, tolerance, needed)


@compiled
def _drawn(
    place: Floats, spread: Floats, axes: Floats, depth: Floats, lines: Floats, beyond: float
) -> tuple[Floats, int, int]:
    """Points of a drawing one after the other: the stand; what is seen; the sharp zone there and back; three lines.

    Many neighbouring rays end on one straight wall; only where the outline bends are points kept.
    ``lines``: focus, sharp from, sharp to within reach; ``beyond``: where the sharp zone really ends.
    Also gives how many points what is seen takes, and where the three lines begin.
    """
    n = len(spread)
    points = np.empty((3 * n + 7, 2))
    for axis in range(2):
        points[0, axis] = place[axis]
        for ray in range(n):
            way = spread[ray, 0] * axes[axis, 0] + spread[ray, 1] * axes[axis, 1] + spread[ray, 2] * axes[axis, 2]
            points[1 + ray, axis] = place[axis] + depth[ray] * way
            points[1 + n + ray, axis] = place[axis] + min(depth[ray], beyond) * way
            points[3 * n - ray, axis] = place[axis] + min(depth[ray], lines[1]) * way
            if ray == 0 or ray == n - 1:
                for line in range(3):
                    points[3 * n + 1 + 2 * line + (0 if ray == 0 else 1), axis] = place[axis] + lines[line] * way
    needed = np.zeros(len(points), dtype=np.bool_)
    needed[0] = True
    needed[3 * n + 1 :] = True
    tolerance = _DRAWN_TO * depth.max()
    for run in range(3):
        _bends(points, 1 + run * n, (run + 1) * n, tolerance, needed)
    seen, sharp = int(needed[: n + 1].sum()), int(needed[: 3 * n + 1].sum())
    return np.round(points[needed], 4), seen, sharp


def draw_sight(
    pose: Pose,
    aim: Floats,
    zone: Zone,
    plane: DrawingPlane,
    spread: Floats,
    depth: Floats,
    reach: float,
    outlines: CutOutlines | None = None,
) -> Drawing:
    """The shot on one drawing: the rays ``spread`` (n, 3) seen as deep as ``depth`` (n,), and what its plane cuts."""
    axes = np.array([plane.across, plane.up])
    place, flat_aim = (np.array([pose.position, aim]) - plane.origin) @ axes.T
    lines = np.array([min(zone.focus, reach), min(zone.sharp_from, reach), min(zone.sharp_to, reach)])
    points, seen, sharp = _drawn(place, spread, axes, depth, lines, zone.sharp_to)
    numbers: Polyline = points.ravel().tolist()
    focus, near, far = (numbers[2 * sharp + 4 * k : 2 * sharp + 4 * k + 4] for k in range(3))
    cut, cut_open = ([], []) if outlines is None else polylines(outlines)
    # Thousands of numbers of our own making, sixty times a second: there is nothing in them to check.
    return Drawing.model_construct(
        stand=(numbers[0], numbers[1]),
        aim=tuple(flat_aim.tolist()),
        edges=[(numbers[2], numbers[3]), (numbers[2 * seen - 2], numbers[2 * seen - 1])],
        seen=numbers[: 2 * seen],
        sharp=numbers[2 * seen : 2 * sharp],
        focus=focus,
        near=near,
        far=None if zone.sharp_to == inf or zone.sharp_to > reach else far,
        cut=cut,
        cut_open=cut_open,
    )


def polylines(outlines: CutOutlines) -> tuple[list[Polyline], list[Polyline]]:
    """Closed outlines and open lines, flat, rounded to a tenth of a millimetre."""
    # Rounded all at once: there are hundreds of short ones in a live answer.
    flat: Polyline = np.round(outlines.points, 4).ravel().tolist()
    runs: tuple[list[Polyline], list[Polyline]] = ([], [])
    begin = 0
    for stop, closes in zip((2 * outlines.stops).tolist(), outlines.closes.tolist(), strict=True):
        runs[0 if closes else 1].append(flat[begin:stop])
        begin = stop
    return runs


def segments_as_polylines(lines: Floats) -> list[Polyline]:
    """Thin lines (n, 2, 2) flat, rounded to a millimetre."""
    rounded: list[Polyline] = lines.round(3).reshape(len(lines), 4).tolist()
    return rounded
