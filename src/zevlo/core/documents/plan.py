"""Plans with the stands of the shots on them: walls, rooms, numbers, what each lens sees; to scale, with a bar."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from zevlo.core.arrays import Floats
from zevlo.core.documents.contact_sheet import HEAD_MM, Heading, headed
from zevlo.core.documents.page.clipping import clipped_ring, lines_in, ring_in, run_in, touches, without_edges
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
    Stroke,
    ToScale,
    Words,
    fitted,
    paper_mm,
    ring_mm,
    rule_mm,
)
from zevlo.core.documents.page.scale import bar, north_mark, scale_for, scale_words
from zevlo.core.documents.request import Plans
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.core.measures import length_words
from zevlo.core.scene.cuts.outline import CutOutlines
from zevlo.core.scene.places.levels import Room, mark_in, signed_area
from zevlo.text import documents as say

LEGEND_MM, ENTRY_MM = 84.0, 10.5
FOOT_MM = 15.0
LEG_MM, RING_MM, NUMBER_MM = 2.6, 2.5, 2.7
AROUND_M = 0.05
"""What is left free round a plan, as a share of it."""
BEHIND, BEHIND_MM = (196, 198, 197), 1.0
"""Colour and depth of the band behind a surface that encloses nothing."""
WALL, THIN, AXIS = Stroke(0.35, INK), Stroke(0.1, QUIET), Stroke(0.13, SPRUCE, (3.0, 0.8, 0.5, 0.8))


@dataclass(frozen=True, eq=False)
class Storey:
    """What is drawn of a level, metres in plan."""

    name: str
    cut: CutOutlines
    thin: Floats
    """Lines below the cut, (n, 2, 2)."""
    rooms: tuple[Room, ...]
    north_deg: float
    body: Floats
    """The box (2, 3) of what the set is about."""
    cut_m: float
    """How high it is cut."""


def extent_of(storey: Storey, shots: Sequence[ShotSummary]) -> Floats:
    """The box (2, 2) a plan shows: what is drawn of the level, no farther out than the set is about, and all stands."""
    low, high = storey.body[0, :2], storey.body[1, :2]
    runs = [run for run in (*storey.cut.closed, *storey.cut.open, *storey.thin) if len(run)]
    if runs:
        cut = np.concatenate(runs)
        inside = cut[((cut >= low - 1.0e-6) & (cut <= high + 1.0e-6)).all(axis=1)]
        if len(inside):
            low, high = inside.min(axis=0), inside.max(axis=0)
    points = np.array([low, high, *(summary.shot.stand.position[:2] for summary in shots)])
    box = np.array([points.min(axis=0), points.max(axis=0)])
    free = max(float((box[1] - box[0]).max()) * AROUND_M, 1.0e-4)
    return np.asarray(box + np.array([[-free], [free]]))


@dataclass(frozen=True)
class PlanMade:
    """A plan's pages, its scale, and what is to be said of it."""

    pages: tuple[Page, ...]
    scale: float
    words: tuple[str, ...] = ()


def plan_pages(
    storey: Storey, shots: Sequence[ShotSummary], asked: Plans, heading: Heading, measure: Measure
) -> PlanMade:
    """A plan of a level, and where the legend does not hold all shots, pages that go on with it.

    Where it does not go on the paper at the scale that is asked for, it is drawn at the next that does, and said so.

    ``storey``: what is drawn of the level; ``shots``: those that stand on it; ``asked``: paper, scale and what is
    shown; ``heading``: of the document; ``measure``: how wide words are, mm."""
    size = paper_mm(asked.paper, asked.landscape)
    extent = extent_of(storey, shots)
    wide, high = (extent[1] - extent[0]).tolist()
    beside = _legend_places(size, asked.landscape, len(shots))
    room = _room(size, asked.landscape, beside)
    fits = scale_for(wide, high, room)
    scale, said = fits, []
    if asked.scale is not None:
        needs = 1000.0 * wide / asked.scale, 1000.0 * high / asked.scale
        if needs[0] <= room[0] + 1.0e-6 and needs[1] <= room[1] + 1.0e-6:
            scale = asked.scale
        else:
            takes, has = (f"{wide:.0f} × {high:.0f} mm" for wide, high in (needs, room))
            asked_for, drawn = scale_words(asked.scale), scale_words(fits)
            said.append(say.takes_at_has_it_is_drawn(storey.name, takes, asked_for, asked.paper, has, drawn))
    per_mm = scale / 1000.0
    middle = extent.mean(axis=0) / per_mm
    top = size[1] - MARGIN_MM - HEAD_MM
    centre = np.array([MARGIN_MM + room[0] / 2.0, top - room[1] / 2.0])
    origin = (centre - middle).tolist()
    to_scale = ToScale(per_mm, (origin[0], origin[1]))
    box = to_scale.on_paper(extent)
    seen = _seen(shots, to_scale, box) if asked.angles else []
    # All fillings under the set, all outlines over it: nothing hides anything.
    marks: list[Mark] = [Area((ring,), "angles", PALE, None) for ring in seen]
    marks += drawn_storey(storey, to_scale, extent, asked.thin_lines)
    edges = [run for ring in seen for run in without_edges(ring, box)]
    marks += [Lines(tuple(edges), Stroke(0.13, SPRUCE), "angles")] if edges else []
    if asked.angles:
        marks += _aims(shots, to_scale, box)
    # Over all lines: no name is struck through.
    marks += _room_words(storey, to_scale, measure)
    marks += _tripods(shots, to_scale)
    whole = _columns(size, top - 2.0, int((top - MARGIN_MM) / ENTRY_MM), int((size[0] - 2.0 * MARGIN_MM) / LEGEND_MM))
    count = 1 + -(-max(0, len(shots) - len(beside)) // len(whole))
    marks += headed(heading, size, 1, count, measure)
    marks += _foot(storey, scale, size[0], shots, measure)
    marks += _legend(shots, beside, measure)
    pages = [Page(storey.name, size, tuple(marks), to_scale)]
    for n in range(1, count):
        rest = shots[len(beside) + (n - 1) * len(whole) :]
        more = [*headed(heading, size, n + 1, count, measure), *_legend(rest, whole, measure)]
        pages.append(Page(f"{storey.name} {n + 1}", size, tuple(more)))
    return PlanMade(tuple(pages), scale, tuple(said))


Spots = list[tuple[float, float]]
"""Upper left corners on a page."""


def _columns(size: tuple[float, float], top: float, rows: int, columns: int) -> Spots:
    """Where entries of a legend begin, their upper left corners, in columns from ``top`` down."""
    return [
        (MARGIN_MM + column * LEGEND_MM, top - row * ENTRY_MM)
        for column in range(max(1, columns))
        for row in range(max(1, rows))
    ]


LEGEND_SHARE = 0.3
"""Of a standing page the legend takes at most so much."""


def _legend_places(size: tuple[float, float], landscape: bool, count: int) -> Spots:
    """Where the legend of a plan's first page has its entries: beside the plan, on a standing page below it."""
    top = size[1] - MARGIN_MM - HEAD_MM - 2.0
    if landscape:
        rows = int((top - MARGIN_MM - FOOT_MM) / ENTRY_MM)
        return [(size[0] - MARGIN_MM - LEGEND_MM, top - row * ENTRY_MM) for row in range(rows)]
    columns = max(1, int((size[0] - 2.0 * MARGIN_MM) / LEGEND_MM))
    rows = min(-(-count // columns), int(LEGEND_SHARE * size[1] / ENTRY_MM))
    return _columns(size, MARGIN_MM + FOOT_MM + rows * ENTRY_MM, rows, columns)


def _room(size: tuple[float, float], landscape: bool, legend: Spots) -> tuple[float, float]:
    """The room on paper that is left for a plan."""
    width, height = size[0] - 2.0 * MARGIN_MM, size[1] - 2.0 * MARGIN_MM - HEAD_MM - FOOT_MM
    if landscape:
        return width - LEGEND_MM - 6.0, height
    return width, height - ENTRY_MM * len({y for _, y in legend}) - 4.0


def drawn_storey(storey: Storey, to_scale: ToScale, extent: Floats, thin: bool = True) -> list[Mark]:
    """Walls and ``thin`` lines of a level, no farther out than ``extent`` (2, 2)."""
    cut = [ring_in(run, extent) for run in storey.cut.closed if touches(run, extent)]
    inside = [run for run in cut if len(run) >= 3]
    marks: list[Mark] = []
    if thin and len(storey.thin):
        lines = lines_in(storey.thin, extent)
        if len(lines):
            marks.append(Lines(tuple(to_scale.on_paper(lines)), THIN, "beyond"))
    sheets = [
        to_scale.on_paper(piece) for run in storey.cut.open if touches(run, extent) for piece in run_in(run, extent)
    ]
    bands = [ring for run in sheets for ring in band_behind(run)]
    if bands:
        marks.append(Area(tuple(bands), "walls", BEHIND))
    if inside:
        marks.append(Area(tuple(to_scale.on_paper(run) for run in inside), "walls", INK, Stroke(0.18, INK)))
    if sheets:
        marks.append(Lines(tuple(sheets), WALL, "walls"))
    return marks


def band_behind(run: Floats) -> list[Floats]:
    """A band along what is solid behind a line (n, 2) on paper whose surface encloses nothing, as closed runs: to the
    right of it, as deep as may be seen. What is hardly longer than that, as a leaf, has none."""
    if float(np.ptp(run, axis=0).max()) < 3.0 * BEHIND_MM:
        return []
    if len(run) > 3 and np.array_equal(run[0], run[-1]):
        # Round a room the band has no beginning that would show.
        within = shapely.make_valid(shapely.Polygon(run))
        band = within.buffer(BEHIND_MM, join_style="mitre").difference(within)
    else:
        band = shapely.LineString(run).simplify(0.1).buffer(-BEHIND_MM, join_style="mitre", single_sided=True)
    pieces = [piece for piece in getattr(band, "geoms", [band]) if piece.geom_type == "Polygon" and not piece.is_empty]
    rings = [(piece.exterior, *piece.interiors) for piece in map(orient, pieces)]
    return [np.array(ring.coords)[:-1] for piece in rings for ring in piece]


def _room_words(storey: Storey, to_scale: ToScale, measure: Measure) -> list[Mark]:
    """The names of the rooms and how large they are, where there is room for that."""
    marks: list[Mark] = []
    for room in storey.rooms:
        outline = np.array(room.outline)
        at = to_scale.on_paper(np.array(mark_in(outline)))
        width = float(np.ptp(to_scale.on_paper(outline)[:, 0]))
        size = 2.8 if measure(room.name, 2.8, False) < width else SMALLEST_MM
        if measure(room.name, size, False) > 1.2 * width:
            continue
        x, y = at.tolist()
        marks.append(Words(room.name, (x, y), size, "middle", colour=QUIET, layer="rooms", halo=True))
        area = f"{abs(signed_area(outline)):.1f} m²"
        marks.append(Words(area, (x, y - 1.25 * size), SMALLEST_MM, "middle", colour=QUIET, layer="rooms", halo=True))
    return marks


def _seen(shots: Sequence[ShotSummary], to_scale: ToScale, box: Floats) -> list[Floats]:
    """What the lenses see, as closed runs on paper, no farther out than a box of the page."""
    rings = [to_scale.on_paper(np.array(summary.sheet.drawings.plan.seen).reshape(-1, 2)) for summary in shots]
    return [ring for ring in (clipped_ring(ring, box) for ring in rings) if len(ring) >= 3]


def _aims(shots: Sequence[ShotSummary], to_scale: ToScale, box: Floats) -> list[Mark]:
    """Chain lines from the stands to their aims, no farther than a box of the page."""
    ends = [
        np.array([_at(summary, to_scale), to_scale.on_paper(np.array(summary.shot.stand.aim[:2]))]) for summary in shots
    ]
    long = [line for line in ends if np.hypot(*(line[1] - line[0])) > LEG_MM]
    lines = list(lines_in(np.array(long), box)) if long else []
    return [Lines(tuple(lines), AXIS, "angles")] if lines else []


def _tripods(shots: Sequence[ShotSummary], to_scale: ToScale) -> list[Mark]:
    """Tripods seen from above with their numbers, none on another."""
    marks: list[Mark] = []
    taken: list[tuple[float, float]] = [tuple(_at(summary, to_scale).tolist()) for summary in shots]
    for summary in shots:
        at, axis = _at(summary, to_scale), direction_on_paper(summary)
        x, y = at.tolist()
        marks += tripod_mark((x, y), axis, summary.colour)
        place = _free_place(at, axis, taken)
        taken.append(place)
        if np.hypot(place[0] - x, place[1] - y) > 2.0 * LEG_MM + RING_MM:
            marks.append(Lines((rule_mm(x, y, *place),), Stroke(0.13, summary.colour), "stands"))
        marks.append(Area((ring_mm(place, RING_MM),), "stands", WHITE, Stroke(0.25, summary.colour)))
        marks.append(
            Words(
                f"{summary.number}", (place[0], place[1] - 0.36 * NUMBER_MM), NUMBER_MM, "middle", True, INK, "stands"
            )
        )
    return marks


def _at(summary: ShotSummary, to_scale: ToScale) -> Floats:
    return to_scale.on_paper(np.array(summary.shot.stand.position[:2]))


def direction_on_paper(summary: ShotSummary) -> Floats:
    """Which way it looks on paper, of length 1; up the page where it looks straight up or down."""
    direction = np.array(summary.shot.stand.aim[:2]) - np.array(summary.shot.stand.position[:2])
    long = float(np.hypot(*direction))
    return direction / long if long > 1.0e-9 else np.array([0.0, 1.0])


def tripod_mark(at: tuple[float, float], axis: Floats, colour: tuple[int, int, int]) -> list[Mark]:
    """A tripod seen from above, one leg ahead along ``axis`` (2,)."""
    middle = np.array(at)
    legs = []
    for turn in (0.0, 2.0 * np.pi / 3.0, -2.0 * np.pi / 3.0):
        c, s = np.cos(turn), np.sin(turn)
        direction = np.array([c * axis[0] - s * axis[1], s * axis[0] + c * axis[1]])
        legs.append(np.array([middle, middle + LEG_MM * direction]))
    return [
        Lines(tuple(legs), Stroke(0.3, colour), "stands"),
        Area((ring_mm(at, 0.6, 16),), "stands", colour, None),
    ]


def _free_place(at: Floats, axis: Floats, taken: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Where a number stands: behind the camera, else round it and farther out until it is clear of all others."""
    for away in (LEG_MM + RING_MM + 0.6, LEG_MM + 3.0 * RING_MM + 1.2, LEG_MM + 5.0 * RING_MM + 1.8):
        for turn in np.radians([180.0, 135.0, -135.0, 90.0, -90.0, 157.5, -157.5, 45.0, -45.0]):
            c, s = np.cos(turn), np.sin(turn)
            x, y = (at + away * np.array([c * axis[0] - s * axis[1], s * axis[0] + c * axis[1]])).tolist()
            if all(np.hypot(x - other[0], y - other[1]) > 2.0 * RING_MM + 0.3 for other in taken):
                return x, y
    x, y = (at - (LEG_MM + RING_MM + 0.6) * axis).tolist()
    return x, y


def _legend(shots: Sequence[ShotSummary], places: Spots, measure: Measure) -> list[Mark]:
    """Number, name, lens and stand of shots, as many as there are places for."""
    marks: list[Mark] = []
    for summary, (left, y) in zip(shots, places, strict=False):
        x = left + RING_MM
        marks.append(Area((ring_mm((x, y - RING_MM), RING_MM),), "words", WHITE, Stroke(0.25, summary.colour)))
        marks.append(
            Words(f"{summary.number}", (x, y - RING_MM - 0.36 * NUMBER_MM), NUMBER_MM, "middle", True, INK, "words")
        )
        beside, room = x + RING_MM + 2.0, LEGEND_MM - 2.0 * RING_MM - 6.0
        marks.append(Words(fitted(summary.name, room, 2.8, measure), (beside, y - 2.2), 2.8))
        angle = summary.sheet.lens.angle_deg
        sees = "" if angle is None else f" · {angle.horizontal:.0f}°"
        line = f"{summary.lens}{sees} · {summary.stand_line}"
        marks.append(Words(fitted(line, room, SMALLEST_MM, measure), (beside, y - 5.6), SMALLEST_MM, colour=QUIET))
    return marks


def _foot(storey: Storey, scale: float, width: float, shots: Sequence[ShotSummary], measure: Measure) -> list[Mark]:
    """Name of the level, scale, where it is cut, bar and north."""
    y = MARGIN_MM
    rule, _ = bar((MARGIN_MM + 58.0, y), scale)
    height = shots[0].length(storey.cut_m) if shots else length_words(storey.cut_m)
    words = say.cut_at(scale_words(scale), height)
    right = width - MARGIN_MM
    return [
        Lines((rule_mm(MARGIN_MM, y + 9.0, right, y + 9.0),), Stroke(0.12, LINE), "frame"),
        Words(fitted(storey.name, 54.0, 4.0, measure, True), (MARGIN_MM, y + 4.0), 4.0, bold=True),
        Words(fitted(words, 56.0, 2.8, measure), (MARGIN_MM, y), 2.8, colour=QUIET),
        *rule,
        *north_mark((right - 6.0, y + 1.5), storey.north_deg, 7.0),
    ]


def levels_asked(
    shots: Sequence[ShotSummary], names: Sequence[str], asked: Plans
) -> list[tuple[str, list[ShotSummary]]]:
    """The levels to draw, from ``names`` in their order, and the shots that stand on each. A shot that stands on none
    goes with the lowest."""
    chosen = [name for name in names if asked.levels is None or name in asked.levels]
    on: dict[str, list[ShotSummary]] = {name: [] for name in chosen}
    for summary in shots:
        name = summary.level.name if summary.level is not None else names[0] if names else None
        if name in on:
            on[name].append(summary)
    return [(name, own) for name, own in on.items() if own or asked.levels is not None]
