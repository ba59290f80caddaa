"""The shot as drawn on paper, in plan and section: what is told of it."""

from __future__ import annotations

from zevlo.core.bases import SheetGroup

Polyline = list[float]
"""x0, y0, x1, y1 … on paper, metres."""


class Outlines(SheetGroup):
    """Many runs of points in one list, x0, y0, x1, y1 …; run n ends before the number ``stops[n]``."""

    numbers: list[float]
    stops: list[int]


NOTHING = Outlines(numbers=[], stops=[])


class Drawing(SheetGroup):
    """The shot as drawn on paper. Plan: x east, y north. Section: x level distance from the stand, y height."""

    stand: tuple[float, float]
    aim: tuple[float, float]
    sides: list[tuple[float, float, float, float]]
    """The two sides of the wedge: where each begins and ends."""
    seen: Polyline
    sharp: Polyline
    focus: Polyline
    near: Polyline
    far: Polyline | None
    hinge: tuple[float, float] | None = None
    """Where the hinge of a tilted lens crosses the drawing; null where it runs beside, or too far off."""
    near_clip: Polyline | None = None
    """The near clip of what is drawn, where it is far enough from the camera to be taken hold of."""
    far_clip: Polyline | None = None
    """The far clip, where there is one within reach."""
    cutting_line: tuple[float, float, float, float] | None = None
    """Where the cutting plane crosses the drawing; what lies to the left of this line is not there."""
    cut: Outlines = NOTHING
    """What its plane cuts, to be filled by the nonzero rule."""
    cut_open: Outlines = NOTHING
    """Sheets without thickness that its plane cuts."""


class CapSheet(SheetGroup):
    """The faces a cutting plane cuts solids open to."""

    points: list[float]
    """x, y, z … in metres."""
    triangles: list[int]
    """Three numbers of points each, anticlockwise from the side that is taken away."""
    open_lines: int
    """How many surfaces it cuts are not closed, and stay open."""


class Drawings(SheetGroup):
    """The shot in plan, and in section along its lens axis."""

    plan: Drawing
    section: Drawing
    cap: CapSheet | None = None
    """Null where no plane opens the set."""
