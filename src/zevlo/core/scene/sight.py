"""The shot as drawn in plan and section: the wedge it sees until something is in the way, sharp zone, focus."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

import numpy as np

from zevlo.core.compiled import compiled
from zevlo.core.optics.lens import Window
from zevlo.core.scene.cut import DrawingPlane
from zevlo.core.scene.model import Floats
from zevlo.core.scene.outline import CutOutlines, mark_bends
from zevlo.core.scene.rays import RayScene
from zevlo.core.sheet import NOTHING, Drawing, Outlines, Polyline
from zevlo.core.stand.pose import Pose

FAN_RAYS = 61
PLAN_ROWS = 3
_DRAWN_TO = 1.0e-4
"""How far what is drawn may lie from what was found, as a share of the nearest depth."""


@dataclass(frozen=True)
class Zone:
    """Distances along the lens axis, metres: focus, and sharp from/to (``to`` may be infinite)."""

    focus: float
    sharp_from: float
    sharp_to: float


def _nearest_to_axis(low: float, high: float) -> float:
    """Where the lens axis meets the frame's side, or the end nearest to it."""
    return min(max(0.0, low), high)


@compiled
def _fan(ahead: Floats, aside: Floats, off_axis: float, along: Floats, low: float, width: float) -> Floats:
    fan = np.empty((FAN_RAYS, 3))
    for ray in range(FAN_RAYS):
        across = low + width * ray / (FAN_RAYS - 1)
        for axis in range(3):
            fan[ray, axis] = ahead[axis] + off_axis * aside[axis] + across * along[axis]
    return fan


def fan(pose: Pose, window: Window, sideways: bool) -> Floats:
    """Rays across the frame through the lens axis (or the frame side nearest to it), (n, 3).

    Scaled so that the component along the lens axis is 1: a ray times a depth lies at that depth.
    """
    d = window.distance_mm
    if sideways:
        off_axis = _nearest_to_axis(window.bottom, window.top) / d
        return _fan(pose.forward, pose.up, off_axis, pose.right, window.left / d, window.width / d)
    off_axis = _nearest_to_axis(window.left, window.right) / d
    return _fan(pose.forward, pose.right, off_axis, pose.up, window.bottom / d, window.height / d)


@dataclass(frozen=True)
class SeenDepths:
    """How deep each ray of the fans of plan and section is seen, (n,) metres along the lens axis."""

    plan: Floats
    section: Floats


@compiled
def _ways(plan: Floats, section: Floats, lowest: float, step: float, up: Floats) -> tuple[Floats, Floats]:
    """Unit rays (m, 3) of all columns of the frame, row after row, then of the section; and their lengths before.

    Rows lie ``lowest``, ``lowest`` + ``step`` … above the fan of the plan.
    """
    ways = np.empty(((PLAN_ROWS + 1) * FAN_RAYS, 3))
    length = np.empty(len(ways))
    for row in range(PLAN_ROWS + 1):
        spread = plan if row < PLAN_ROWS else section
        raised = lowest + row * step if row < PLAN_ROWS else 0.0
        for ray in range(FAN_RAYS):
            here = row * FAN_RAYS + ray
            square = 0.0
            for axis in range(3):
                ways[here, axis] = spread[ray, axis] + raised * up[axis]
                square += ways[here, axis] ** 2
            length[here] = np.sqrt(square)
            for axis in range(3):
                ways[here, axis] /= length[here]
    return ways, length


@compiled
def _depths(distance: Floats, length: Floats, straight: int, reach: float) -> tuple[Floats, Floats]:
    """For each column of the frame the greatest depth at which anything is; ``reach`` where all of it is open air.

    ``straight``: the row that counts where no row meets anything nearer. Then the depths of the section.
    """
    depth = np.minimum(distance / length, reach)
    deepest = np.empty(FAN_RAYS)
    for column in range(FAN_RAYS):
        solid = depth[straight * FAN_RAYS + column]
        open_air = True
        for row in range(PLAN_ROWS):
            here = depth[row * FAN_RAYS + column]
            open_air = open_air and here >= reach
            if solid < here < reach:
                solid = here
        deepest[column] = reach if open_air else solid
    return deepest, depth[PLAN_ROWS * FAN_RAYS :]


def seen_depths(pose: Pose, window: Window, plan: Floats, section: Floats, rays: RayScene, reach: float) -> SeenDepths:
    """Follow the fans of plan and section until something is in the way, or ``reach``.

    In plan a whole column of the frame counts, not one height: a hill in front of a tower hides its foot, not
    the tower. So it is the greatest depth at which anything in the column is.
    """
    base, step = _nearest_to_axis(window.bottom, window.top), window.height / (PLAN_ROWS - 1)
    straight = min(PLAN_ROWS - 1, max(0, round((base - window.bottom) / step)))
    d = window.distance_mm
    ways, length = _ways(plan, section, (window.bottom - base) / d, step / d, pose.up)
    return SeenDepths(*_depths(rays.distances(pose.position[None], ways), length, straight, reach))


TENTH_MM, MM = 1.0e4, 1.0e3


@compiled
def rounded(points: Floats, parts: float) -> Floats:
    """All numbers of ``points`` in one row, to ``parts`` of a metre."""
    flat = points.ravel()
    out = np.empty(len(flat))
    for n in range(len(flat)):
        out[n] = np.rint(flat[n] * parts) / parts
    return out


@compiled
def _drawn(
    position: Floats, aim: Floats, frame: Floats, spread: Floats, depth: Floats, lines: Floats, beyond: float
) -> tuple[Floats, int, int]:
    """Points of a drawing in a row: the stand; what is seen; the sharp zone there and back; three lines; the aim.

    Many neighbouring rays end on one straight wall; only where the outline bends are points kept.
    ``lines``: focus, sharp from, sharp to within reach; ``beyond``: where the sharp zone really ends.
    Also gives how many points what is seen takes, and where the three lines begin.
    """
    n = len(spread)
    points = np.empty((3 * n + 8, 2))
    for axis in range(2):
        ax, ay, az = frame[1 + axis, 0], frame[1 + axis, 1], frame[1 + axis, 2]
        from_origin = -(frame[0, 0] * ax + frame[0, 1] * ay + frame[0, 2] * az)
        place = position[0] * ax + position[1] * ay + position[2] * az + from_origin
        points[0, axis] = place
        points[3 * n + 7, axis] = aim[0] * ax + aim[1] * ay + aim[2] * az + from_origin
        for ray in range(n):
            way = spread[ray, 0] * ax + spread[ray, 1] * ay + spread[ray, 2] * az
            points[1 + ray, axis] = place + depth[ray] * way
            points[1 + n + ray, axis] = place + min(depth[ray], beyond) * way
            points[3 * n - ray, axis] = place + min(depth[ray], lines[1]) * way
            if ray == 0 or ray == n - 1:
                for line in range(3):
                    points[3 * n + 1 + 2 * line + (0 if ray == 0 else 1), axis] = place + lines[line] * way
    needed = np.zeros(len(points), dtype=np.bool_)
    needed[0] = True
    needed[3 * n + 1 :] = True
    tolerance = _DRAWN_TO * depth.min()
    for run in range(3):
        mark_bends(points, 1 + run * n, (run + 1) * n, tolerance, needed)
    seen, sharp = int(needed[: n + 1].sum()), int(needed[: 3 * n + 1].sum())
    return rounded(points[needed], TENTH_MM), seen, sharp


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
    lines = np.array([min(zone.focus, reach), min(zone.sharp_from, reach), min(zone.sharp_to, reach)])
    points, seen, sharp = _drawn(pose.position, aim, plane.frame, spread, depth, lines, zone.sharp_to)
    numbers: Polyline = points.tolist()
    focus, near, far = (numbers[2 * sharp + 4 * k : 2 * sharp + 4 * k + 4] for k in range(3))
    cut, cut_open = (NOTHING, NOTHING) if outlines is None else packed(outlines)
    # Thousands of numbers of our own making, sixty times a second: there is nothing in them to check.
    return Drawing.model_construct(
        stand=(numbers[0], numbers[1]),
        aim=(numbers[-2], numbers[-1]),
        edges=[(numbers[2], numbers[3]), (numbers[2 * seen - 2], numbers[2 * seen - 1])],
        seen=numbers[: 2 * seen],
        sharp=numbers[2 * seen : 2 * sharp],
        focus=focus,
        near=near,
        far=None if zone.sharp_to == inf or zone.sharp_to > reach else far,
        cut=cut,
        cut_open=cut_open,
    )


def packed(outlines: CutOutlines) -> tuple[Outlines, Outlines]:
    """The outlines that close and the open lines, as finely as they are told."""
    numbers = rounded(outlines.points, outlines.parts).tolist()
    stops = (2 * outlines.stops).tolist()
    half = stops[outlines.closing - 1] if outlines.closing else 0
    opening = [stop - half for stop in stops[outlines.closing :]]
    return (
        Outlines.model_construct(numbers=numbers[:half], stops=stops[: outlines.closing]),
        Outlines.model_construct(numbers=numbers[half:], stops=opening),
    )


def thin_lines(lines: Floats, scale: float = 1.0) -> Polyline:
    """Thin lines (n, 2, 2) in one list, four numbers each, to a millimetre; finer by ``scale`` in a small set."""
    flat: Polyline = rounded(lines, MM * 10.0 ** np.ceil(-np.log10(scale))).tolist()
    return flat
