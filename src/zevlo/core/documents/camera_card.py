"""The camera card of a shot: where the tripod goes, off two walls, and all one sets the camera by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.documents.camera_lines import Line, camera_lines, exact, length_line
from zevlo.core.documents.contact_sheet import HEAD_MM, NOW, Heading, headed, picture_in
from zevlo.core.documents.from_walls import OffWall, faces_of
from zevlo.core.documents.page.clipping import clipped_ring
from zevlo.core.documents.page.paper import (
    INK,
    LINE,
    MARGIN_MM,
    PALE,
    QUIET,
    SMALLEST_MM,
    SPRUCE,
    WHITE,
    Area,
    Lines,
    Mark,
    Measure,
    Page,
    PaperName,
    Stroke,
    ToScale,
    Words,
    box_mm,
    fitted,
    paper_mm,
    rule_mm,
    wrapped,
)
from zevlo.core.documents.page.scale import bar, north_mark, scale_for, scale_words
from zevlo.core.documents.plan import Storey, direction_on_paper, drawn_storey, tripod_mark
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.text import documents as say

LONG_NAME_MM = 3.6
"""A name that does not go in one line of large letters goes in two of these."""
VALUES_MM = 96.0
WHAT_MM, METRIC_MM = 34.0, 33.0
ROW_MM, TEXT_MM = 4.5, 2.8
GAP_MM = 8.0
PICTURE_MM = 78.0
"""The most a picture is high."""
LEAST_AROUND_M = 1.0
TALLEST = 1.25
"""How much higher than broad the plan round the tripod is at most."""
NOTES_MM, NOTE_MM = 30.0, 7.0
MEASURED = Stroke(0.18, SPRUCE)


@dataclass(frozen=True, eq=False)
class Setting:
    """Where a camera is set up: the level round it, and the walls its tripod is measured from; None: there are none
    in reach."""

    storey: Storey | None
    walls: tuple[OffWall, OffWall] | None


def tripod_lines(summary: ShotSummary, setting: Setting) -> list[Line]:
    """Where the tripod goes: off two walls, and how the axis lies to the first; by coordinates in any case."""
    lines = []
    if setting.walls is not None:
        lines += [
            length_line(say.off_the(wall.what, wall.side), wall.distance_m, summary.ruler) for wall in setting.walls
        ]
        lines.append(Line(say.AXIS, _axis_words(setting.walls[0])))
    elif setting.storey is not None:
        lines.append(Line(say.WALLS, say.NO_TWO_IN_REACH))
        corners = near_corners(summary, setting.storey)
        for what, corner in zip((say.FROM_THE_NEAREST_CORNER, say.FROM_ANOTHER_CORNER), corners, strict=False):
            away = float(np.hypot(*(corner - np.array(summary.shot.stand.position[:2]))))
            lines.append(length_line(what, away, summary.ruler))
    x, y, _ = summary.shot.stand.position
    lines.append(Line(say.IN_THE_SET, f"x {exact(x, summary.ruler)}, y {exact(y, summary.ruler)}"))
    return lines


APART_DEG, LEAST_DEG = 30.0, 5.0
"""Corners that are measured from lie so far from each other, as seen from the tripod, where there are any; and no
nearer than the second."""


def near_corners(summary: ShotSummary, storey: Storey) -> list[Floats]:
    """The nearest corner of what a level shows, (2,) in plan, and the nearest that lies elsewhere as seen from there:
    what a tripod far from all walls is measured from."""
    faces = faces_of(storey.cut)
    if len(faces) == 0:
        return []
    ends, stand = np.unique(faces.reshape(-1, 2), axis=0), np.array(summary.shot.stand.position[:2])
    away = ends - stand
    order = np.argsort(np.hypot(*away.T), kind="stable")
    bearing = np.degrees(np.arctan2(away[:, 0], away[:, 1]))
    first = int(order[0])
    off = np.abs((bearing[order] - bearing[first] + 180.0) % 360.0 - 180.0)
    fixes = np.where(off <= 180.0 - LEAST_DEG, off, 0.0)
    if not float(fixes.max()) >= LEAST_DEG:
        return [ends[first]]
    wide = np.flatnonzero(fixes >= APART_DEG)
    # Of a set that is seen small, what lies farthest from the first.
    other = order[wide[0] if len(wide) else int(np.argmax(fixes))]
    return [ends[first], ends[int(other)]]


def _axis_words(wall: OffWall) -> str:
    """How the lens axis lies to a wall: how far turned from square to it, or from along it."""
    turned = wall.axis_off_square_deg
    return say.axis_to_wall(
        wall.what,
        wall.side,
        square=wall.side in ("ahead", "behind"),
        turned_deg=None if abs(turned) < 0.05 else abs(turned),
        clockwise=turned > 0.0,
    )


def card_page(
    summary: ShotSummary, setting: Setting, paper: PaperName, heading: Heading, number: int, of: int, measure: Measure
) -> Page:
    """The card of a shot.

    ``summary``: the shot; ``setting``: the plan it is drawn on; ``paper``: by its name; ``heading``: of the document;
    ``number`` of ``of`` pages; ``measure``: how wide words are, mm."""
    size = paper_mm(paper, False)
    marks = headed(heading, size, number, of, measure)
    top = size[1] - MARGIN_MM - HEAD_MM
    first = f"{summary.number}"
    indent = measure(first, 6.0, True) + 3.0
    marks.append(Words(first, (MARGIN_MM, top - 5.0), 6.0, bold=True))
    room = size[0] - 2.0 * MARGIN_MM - indent
    letters = 6.0 if measure(summary.name, 6.0, False) <= room else LONG_NAME_MM
    for n, words in enumerate(wrapped(summary.name, room, letters, measure, 2)):
        marks.append(Words(words, (MARGIN_MM + indent, top - (letters - 1.0) - 1.15 * letters * n), letters))
    under = " · ".join(words for words in (summary.place, summary.lens_line) if words)
    marks.append(
        Words(fitted(under, size[0] - 2.0 * MARGIN_MM, 3.0, measure), (MARGIN_MM, top - 10.5), 3.0, colour=QUIET)
    )
    top -= 17.0
    left_width = size[0] - 2.0 * MARGIN_MM - VALUES_MM - GAP_MM
    groups = [
        (name, [*tripod_lines(summary, setting), *lines] if n == 0 else lines)
        for n, (name, lines) in enumerate(camera_lines(summary))
    ]
    picture = picture_in(summary, NOW, MARGIN_MM, top - PICTURE_MM, left_width, PICTURE_MM)
    marks += picture
    ratio = summary.pictures.get(f"{summary.key}/{NOW}")
    high = PICTURE_MM if ratio is None else min(PICTURE_MM, left_width / ratio)
    low = top - high - GAP_MM
    if setting.storey is not None:
        tall = min(low - MARGIN_MM - NOTES_MM, TALLEST * left_width)
        box = (MARGIN_MM, low - tall, left_width, tall)
        marks += _round_the_tripod(summary, setting, setting.storey, box, measure)
        low -= tall + GAP_MM
    marks += _notes(MARGIN_MM, low, left_width)
    marks += _values(groups, size[0] - MARGIN_MM - VALUES_MM, top, measure)
    return Page(f"{summary.number} {summary.name}", size, tuple(marks))


def _notes(left: float, top: float, width: float) -> list[Mark]:
    """Rules to write on, down to the foot of the page."""
    marks: list[Mark] = [Words(say.NOTES, (left, top - TEXT_MM), TEXT_MM, colour=QUIET)]
    count = int((top - TEXT_MM - MARGIN_MM) / NOTE_MM)
    rules = [rule_mm(left, y, left + width, y) for y in (top - TEXT_MM - (n + 1) * NOTE_MM for n in range(count))]
    return [*marks, Lines(tuple(rules), Stroke(0.12, LINE), "frame")] if rules else []


def _values(groups: Sequence[tuple[str, list[Line]]], left: float, top: float, measure: Measure) -> list[Mark]:
    """The table of a card: what, metric, feet and inches."""
    marks: list[Mark] = []
    y = top
    for name, lines in groups:
        marks.append(Words(name, (left, y - TEXT_MM), 3.0, bold=True))
        marks.append(
            Lines((rule_mm(left, y - TEXT_MM - 1.5, left + VALUES_MM, y - TEXT_MM - 1.5),), Stroke(0.15, LINE), "frame")
        )
        y -= ROW_MM + 1.6
        for line in lines:
            marks.append(
                Words(fitted(line.what, WHAT_MM - 1.5, TEXT_MM, measure), (left, y - TEXT_MM), TEXT_MM, colour=QUIET)
            )
            room = METRIC_MM - 1.5 if line.feet else VALUES_MM - WHAT_MM
            wrapped_lines = wrapped(line.metric, room, TEXT_MM, measure, 2)
            for n, words in enumerate(wrapped_lines):
                marks.append(Words(words, (left + WHAT_MM, y - TEXT_MM - 1.2 * TEXT_MM * n), TEXT_MM))
            if line.feet:
                feet = fitted(line.feet, VALUES_MM - WHAT_MM - METRIC_MM, TEXT_MM, measure)
                marks.append(Words(feet, (left + WHAT_MM + METRIC_MM, y - TEXT_MM), TEXT_MM))
            y -= ROW_MM + 1.2 * TEXT_MM * (len(wrapped_lines) - 1)
        y -= 2.2
    return marks


def _round_the_tripod(
    summary: ShotSummary, setting: Setting, storey: Storey, box: tuple[float, float, float, float], measure: Measure
) -> list[Mark]:
    """The plan round the tripod with the distances off the walls; ``box``: left, bottom, width and height on paper."""
    left, bottom, width, height = box
    if height < 30.0:
        return []
    stand = np.array(summary.shot.stand.position[:2])
    corners = [] if setting.walls is not None else near_corners(summary, storey)
    points = [stand, *corners, *([] if setting.walls is None else [wall.foot for wall in setting.walls])]
    if summary.ruler.unit != "m":
        points += list(storey.body[:, :2])
    # By its coordinates a tripod is found from there.
    zero, far = np.zeros(2), float(np.ptp(points, axis=0).max())
    if setting.walls is None and float(np.abs(stand).max()) <= max(2.0 * far, 1.0):
        points.append(zero)
    reach = np.array([np.min(points, axis=0), np.max(points, axis=0)])
    around = max(
        LEAST_AROUND_M * (1.0 if summary.ruler.unit == "m" else 0.1), 0.25 * float(np.ptp(reach, axis=0).max())
    )
    reach = reach + np.array([[-around], [around]])
    foot = 12.0
    wide, high = (reach[1] - reach[0]).tolist()
    scale = scale_for(wide, high, (width, height - foot))
    per_mm = scale / 1000.0
    centre = np.array([left + width / 2.0, bottom + foot + (height - foot) / 2.0])
    origin = (centre - reach.mean(axis=0) / per_mm).tolist()
    to_scale = ToScale(per_mm, (origin[0], origin[1]))
    shown = np.array([[left, bottom + foot], [left + width, bottom + height]])
    in_set = to_scale.in_set(shown)
    marks: list[Mark] = []
    seen = clipped_ring(to_scale.on_paper(np.array(summary.sheet.drawings.plan.seen).reshape(-1, 2)), shown)
    if len(seen) >= 3:
        marks.append(Area((seen,), "angles", PALE, None))
    for mark in drawn_storey(storey, to_scale, in_set):
        marks += _kept_in(mark, shown)
    at = to_scale.on_paper(stand)
    for n, corner in enumerate(corners):
        away = exact(float(np.hypot(*(corner - stand))), summary.ruler)
        # Both run to one tripod: one is written on near it, the other far off.
        marks += _measured(to_scale.on_paper(corner), at, away, measure, 0.6 - 0.35 * n)
    marks += _zero(to_scale.on_paper(zero), shown)
    for wall in setting.walls or ():
        marks += _measured(to_scale.on_paper(wall.foot), at, exact(wall.distance_m, summary.ruler), measure)
    marks += tripod_mark((float(at[0]), float(at[1])), direction_on_paper(summary), INK)
    marks.append(Area((box_mm(left, bottom + foot, width, height - foot),), "frame", None, Stroke(0.15, LINE)))
    rule, _ = bar((left, bottom + 1.0), scale)
    words = scale_words(scale)
    return [
        *marks, *rule, *north_mark((left + width - 5.0, bottom + 3.0), storey.north_deg, 7.0),
        Words(words, (left + width - 12.0, bottom + 1.0), 2.8, "end", colour=QUIET),
    ]  # fmt: skip


def _zero(at: Floats, shown: Floats) -> list[Mark]:
    """The set's zero, where a drawing shows it."""
    if not ((at > shown[0] + 3.0) & (at < shown[1] - 3.0)).all():
        return []
    x, y = at.tolist()
    cross = (rule_mm(x - 2.0, y, x + 2.0, y), rule_mm(x, y - 2.0, x, y + 2.0))
    return [
        Lines(cross, Stroke(0.2, INK), "measures"),
        Words("x 0, y 0", (x + 1.2, y + 1.0), SMALLEST_MM, colour=QUIET, layer="measures", halo=True),
    ]


def _kept_in(mark: Mark, box: Floats) -> list[Mark]:
    """What of walls lies in a box of the page; lines are drawn no farther as it is."""
    if isinstance(mark, Area):
        rings = [ring for ring in (clipped_ring(ring, box) for ring in mark.rings) if len(ring) >= 3]
        return [Area(tuple(rings), mark.layer, mark.fill, mark.stroke)] if rings else []
    return [mark]


def _measured(foot: Floats, at: Floats, words: str, measure: Measure, share: float = 0.5) -> list[Mark]:
    """A measured distance: a line with ticks at its ends and its length on it, that ``share`` of the way from the
    foot."""
    direction = (at - foot) / max(float(np.hypot(*(at - foot))), 1.0e-9)
    slant = 1.1 * np.array([direction[0] - direction[1], direction[0] + direction[1]]) / np.sqrt(2.0)
    ticks = tuple(np.array([end - slant, end + slant]) for end in (foot, at))
    wide = measure(words, 3.0, True)
    needed = (wide + 3.0) * abs(float(direction[0])) + 7.0 * abs(float(direction[1]))
    # Too short to be written on, it is written beyond the wall.
    fits = float(np.hypot(*(at - foot))) >= needed
    x, y = (foot + share * (at - foot) if fits else foot - (needed / 2.0) * direction).tolist()
    return [
        Lines((np.array([foot, at]), *ticks), MEASURED, "measures"),
        Area((box_mm(x - wide / 2.0 - 0.8, y - 1.6, wide + 1.6, 3.6),), "measures", WHITE, None),
        Words(words, (x, y - 1.0), 3.0, "middle", bold=True, colour=SPRUCE, layer="measures"),
    ]
