"""The shot as drawn in plan and section: the wedge it sees until something is in the way, sharp zone, focus."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot, inf

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera, Rays
from zevlo.core.camera.drawn import NOTHING, Drawing, Outlines, Polyline
from zevlo.core.camera.on_paper import ACROSS, FAN_RAYS, axis_in_frame, frame_places, levelled_lean, steepness
from zevlo.core.camera.sharp_zone import SharpZone
from zevlo.core.compiled import compiled
from zevlo.core.scene.cuts.cut import DrawingPlane
from zevlo.core.scene.cuts.outline import CutOutlines, mark_bends
from zevlo.core.scene.working import WorkingSet

PLAN_ROWS = 3
_DRAWN_TO = 1.0e-4
"""How far what is drawn may lie from what was found, as a share of the nearest depth."""


@dataclass(frozen=True)
class Fan:
    """Rays across the frame on a drawing, and how far along each is seen, (n,) metres."""

    rays: Rays
    seen: Floats


@compiled
def _deepest(depth: Floats, straight: int, reach: float, alone: bool) -> Floats:
    """For each column of the frame the greatest depth at which anything is; ``reach`` where all of it is open air.

    ``straight``: the row that counts where no row meets anything nearer; ``alone``: it counts alone.
    """
    deepest = np.empty(FAN_RAYS)
    for column in range(FAN_RAYS):
        solid = depth[straight * FAN_RAYS + column]
        if alone:
            deepest[column] = solid
            continue
        open_air = True
        for row in range(PLAN_ROWS):
            here = depth[row * FAN_RAYS + column]
            open_air = open_air and here >= reach
            if solid < here < reach:
                solid = here
        deepest[column] = reach if open_air else solid
    return deepest


_ROWS_AND_SIDES = np.empty(((PLAN_ROWS + 2) * FAN_RAYS, 2))
"""Shares across a plan and up a section: rows of the frame, then where the fan of the section runs upright, then that
of the plan across."""
_ROWS_AND_SIDES[: PLAN_ROWS * FAN_RAYS, 0] = np.tile(ACROSS, PLAN_ROWS)
_ROWS_AND_SIDES[: PLAN_ROWS * FAN_RAYS, 1] = np.repeat(np.linspace(0.0, 1.0, PLAN_ROWS), FAN_RAYS)
_ROWS_AND_SIDES[-2 * FAN_RAYS : -FAN_RAYS, 1] = _ROWS_AND_SIDES[-FAN_RAYS:, 0] = ACROSS


ON_PLANE_M = 1.0e-6


def fans(camera: Camera, working: WorkingSet | None, reach: float) -> tuple[Fan, Fan]:
    """The fans of plan and section, from the near clip until something is in the way, the far clip or ``reach``.

    They run through the lens axis, or along the frame's side nearest to it. In plan a whole column of the frame counts,
    not one height: a hill in front of a tower hides its foot, not the tower. So it is seen to the greatest depth at
    which anything in the column is. Where distances count from the stand a column looks up and down as well, and only
    the row along the lens axis counts.
    """
    u, v = axis_in_frame(camera)
    places = _ROWS_AND_SIDES.copy()
    places[-2 * FAN_RAYS : -FAN_RAYS, 0], places[-FAN_RAYS:, 1] = u, v
    straight, alone = round(v * (PLAN_ROWS - 1)), camera.law.radial
    if alone:
        places[straight * FAN_RAYS : (straight + 1) * FAN_RAYS, 1] = v
    rays = camera.rays(frame_places(camera, places))
    plan, section = rays[-FAN_RAYS:], rays[-2 * FAN_RAYS : -FAN_RAYS]
    if working is None:
        return Fan(plan, camera.distances(plan, reach)), Fan(section, camera.distances(section, reach))
    traced = rays[:-FAN_RAYS]
    starts = traced.starts
    met = np.minimum(traced.near + working.rays.distances(starts, traced.directions), traced.far)
    if camera.cutting is not None:
        capped = working.cap(camera.cutting).parts_at(starts, np.array(camera.cutting.normal)) >= 0
        met = np.where(capped & (np.abs(camera.cutting.over(starts)) < ON_PLANE_M), traced.near, met)
    depth = np.minimum(camera.depths(traced, met), reach)
    seen = _deepest(depth, straight, reach, alone)
    return Fan(plan, camera.distances(plan, seen)), Fan(section, camera.distances(section, depth[-FAN_RAYS:]))


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
    origins: Floats,
    directions: Floats,
    stand: Floats,
    aim: Floats,
    frame: Floats,
    seen: Floats,
    reach: Floats,
    lines: Floats,
    wide: bool,
) -> tuple[Floats, int, int]:
    """Points of a drawing in a row: where what is seen begins, and its outline; the sharp zone there and back; three
    lines; the stand and the aim.

    Many neighbouring rays end on one straight wall; only where the outline bends are points kept. ``lines`` (3, n): how
    far along the rays lie focus, sharp from and sharp to; drawn no farther than ``reach`` (n,). ``wide``: the rays do
    not all begin in one place. Also gives how many points what is seen takes, and where the three lines begin.
    """
    n = len(directions)
    points = np.empty((3 * n + 10, 2))
    for axis in range(2):
        ax, ay, az = frame[1 + axis, 0], frame[1 + axis, 1], frame[1 + axis, 2]
        from_origin = -(frame[0, 0] * ax + frame[0, 1] * ay + frame[0, 2] * az)
        points[3 * n + 8, axis] = stand[0] * ax + stand[1] * ay + stand[2] * az + from_origin
        points[3 * n + 9, axis] = aim[0] * ax + aim[1] * ay + aim[2] * az + from_origin
        for ray in range(n):
            place = origins[ray, 0] * ax + origins[ray, 1] * ay + origins[ray, 2] * az + from_origin
            direction = directions[ray, 0] * ax + directions[ray, 1] * ay + directions[ray, 2] * az
            if ray == 0:
                points[0, axis] = place
            if ray == n - 1:
                points[n + 1, axis] = place
            points[1 + ray, axis] = place + seen[ray] * direction
            points[2 + n + ray, axis] = place + min(seen[ray], lines[2, ray]) * direction
            points[3 * n + 1 - ray, axis] = place + min(seen[ray], min(lines[1, ray], reach[ray])) * direction
            if ray == 0 or ray == n - 1:
                for line in range(3):
                    at = min(lines[line, ray], reach[ray])
                    points[3 * n + 2 + 2 * line + (0 if ray == 0 else 1), axis] = place + at * direction
    needed = np.zeros(len(points), dtype=np.bool_)
    needed[0] = True
    needed[n + 1] = wide
    needed[3 * n + 2 :] = True
    tolerance = _DRAWN_TO * seen.min()
    mark_bends(points, 1, n, tolerance, needed)
    mark_bends(points, n + 2, 2 * n + 1, tolerance, needed)
    mark_bends(points, 2 * n + 2, 3 * n + 1, tolerance, needed)
    outline, sharp = int(needed[: n + 2].sum()), int(needed[: 3 * n + 2].sum())
    return rounded(points[needed], TENTH_MM), outline, sharp


NEAR_ENOUGH = 0.02
"""A near clip that is nearer than this share of the focused distance is not drawn: it lies on the camera."""


def draw_sight(
    camera: Camera,
    aim: Floats,
    zone: SharpZone,
    plane: DrawingPlane,
    fan: Fan,
    reach: float,
    outlines: CutOutlines | None = None,
) -> Drawing:
    """The shot on one drawing: what its fan sees, the sharp zone between the focus surfaces, what its plane cuts.

    ``camera``: of the shot; ``aim`` (3,): in metres; ``zone``: what it draws sharp; ``plane``: of the drawing; ``fan``:
    its rays in that plane; ``reach``: how far it is drawn where nothing is in the way, m; ``outlines``: of what the
    plane cuts, None where there is no set."""
    rays = fan.rays
    on_paper = rays if zone.lean == (0.0, 0.0) else _on_the_paper(camera, rays, plane)
    lines = zone.along(camera, on_paper)
    wide = rays.origins[0].tolist() != rays.origins[-1].tolist()
    limit = camera.distances(rays, reach)
    points, seen, sharp = _drawn(
        rays.origins, rays.directions, camera.pose.position, aim, plane.frame, fan.seen, limit, lines, wide
    )
    numbers: Polyline = points.tolist()
    focus, near, far = (numbers[2 * sharp + 4 * k : 2 * sharp + 4 * k + 4] for k in range(3))
    bent = not camera.law.straight
    if bent:
        bows = (rays.at(np.where(rays.sees, np.minimum(line, limit), 0.0)) for line in lines)
        focus, near, far = (rounded(plane.flat(bow), TENTH_MM).tolist() for bow in bows)

    nowhere = not (rays.sees & (lines[2] < limit)).any() if bent else zone.sharp_to == inf or zone.sharp_to > reach
    drawn_far = None if nowhere else far
    if zone.lean != (0.0, 0.0):
        across_wedge = [_where_met(rays, line, limit, plane, bent) for line in lines]
        focus, near, drawn_far = across_wedge[0] or focus, across_wedge[1] or near, across_wedge[2]

    def across(depth: float) -> Polyline:
        """Where a depth lies on the rays: on all of them where it is a bow, else on the first and the last."""
        places = rays.at(np.where(rays.sees, np.minimum(camera.distances(rays, depth), limit), 0.0))
        line: Polyline = rounded(plane.flat(places if camera.law.radial else places[[0, -1]]), TENTH_MM).tolist()
        return line

    cut, cut_open = (NOTHING, NOTHING) if outlines is None else packed(outlines)
    last = 2 * (seen - 1 - wide)
    begins, ends = numbers[:2], numbers[2 * seen - 2 : 2 * seen] if wide else numbers[:2]
    # Thousands of numbers of our own making, sixty times a second: there is nothing in them to check.
    return Drawing.model_construct(
        stand=(numbers[-4], numbers[-3]),
        aim=(numbers[-2], numbers[-1]),
        sides=[(begins[0], begins[1], numbers[2], numbers[3]), (ends[0], ends[1], numbers[last], numbers[last + 1])],
        seen=numbers[: 2 * seen],
        sharp=numbers[2 * seen : 2 * sharp],
        focus=focus,
        near=near,
        far=drawn_far,
        hinge=_hinge_on(camera, zone, plane),
        cutting_line=_cutting_line(camera, plane, reach),
        near_clip=across(camera.near_m) if camera.near_m > NEAR_ENOUGH * zone.focus else None,
        far_clip=None if camera.far_m is None or camera.far_m > reach else across(camera.far_m),
        cut=cut,
        cut_open=cut_open,
    )


def _where_met(rays: Rays, line: Floats, limit: Floats, plane: DrawingPlane, bent: bool) -> Polyline | None:
    """A line of the wedge of a tilted lens, from the first to the last ray of the fan that meets it within reach; a
    ``bent`` one from ray to ray."""
    met = np.flatnonzero(rays.sees & (line < limit))
    if len(met) < 2:
        return None
    ends = rays.at(np.where(rays.sees, np.minimum(line, limit), 0.0))[met if bent else met[[0, -1]]]
    polyline: Polyline = rounded(plane.flat(ends), TENTH_MM).tolist()
    return polyline


def _on_the_paper(camera: Camera, rays: Rays, plane: DrawingPlane) -> Rays:
    """Rays moved across a drawing until they lie on its plane, drawn as they were; in plan on the plane that holds the
    lens axis and the level across it. Planes that lean are cut there."""
    directions = rays.directions - (rays.directions @ plane.toward)[:, None] * plane.toward
    if abs(plane.toward[2]) > 0.5:
        directions = directions + (rays.directions @ camera.pose.level_axis * steepness(camera))[:, None] * np.array(
            [0.0, 0.0, 1.0]
        )
    return replace(rays, directions=directions)


_HINGE_NO_NEARER_PER_M = 1.0e-4


def _hinge_on(camera: Camera, zone: SharpZone, plane: DrawingPlane) -> tuple[float, float] | None:
    """Where the hinge crosses a drawing: in section the upright through the lens, in plan the level through it."""
    upright, pose = abs(plane.toward[2]) < 0.5, camera.pose
    side = np.array([pose.level_axis[1], -pose.level_axis[0], 0.0])
    leans = levelled_lean(camera, zone.lean)
    lean, axis = (leans[1], np.cross(side, pose.forward)) if upright else (leans[0], side)
    if abs(lean) < _HINGE_NO_NEARER_PER_M:
        return None
    x, y = rounded(plane.flat((pose.position + axis / lean)[None]), TENTH_MM).tolist()
    return x, y


def _cutting_line(camera: Camera, plane: DrawingPlane, reach: float) -> tuple[float, float, float, float] | None:
    """Where the cutting plane crosses a drawing, ``reach`` to both sides of its own point; None where it lies along."""
    if camera.cutting is None:
        return None
    across, up = (plane.paper @ np.array(camera.cutting.normal)).tolist()
    steep = hypot(across, up)
    if steep < 1.0e-6:
        return None
    at = np.array(camera.cutting.point)
    # In plan a slanting plane is drawn where it is at the height of the lens.
    rise = float((camera.pose.position - at) @ plane.toward) if abs(plane.toward[2]) > 0.5 else 0.0
    off = -rise * float(np.array(camera.cutting.normal) @ plane.toward) / steep
    x, y = (plane.flat(at[None])[0] + off * np.array([across, up]) / steep).tolist()
    dx, dy = reach * up / steep, -reach * across / steep
    return x - dx, y - dy, x + dx, y + dy


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
