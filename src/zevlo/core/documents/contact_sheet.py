"""Contact sheets: pictures of the shots in rows, one on a page, or each before and after."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from zevlo.core.documents.page.paper import (
    INK,
    LINE,
    MARGIN_MM,
    QUIET,
    Area,
    Lines,
    Mark,
    Measure,
    Page,
    Picture,
    Stroke,
    Words,
    box_mm,
    fitted,
    paper_mm,
    rule_mm,
    within_mm,
    wrapped,
)
from zevlo.core.documents.request import ContactSheet
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.text import documents as say

HEAD_MM, GAP_MM = 12.0, 6.0
NOTE_LINES, NOTE_MM = 3, 6.0
NOW, BEFORE = "now", "before"
"""What the picture of a shot is known by, and the one before it."""
HAIR = Stroke(0.1, LINE)


def of_crop(summary: ShotSummary, crop: str) -> ShotSummary:
    """One of a shot's crops, as a contact sheet has it after the shot: under the same number, by both names."""
    called = summary.shot.model_copy(update={"name": f"{summary.name}, {crop}"})
    return replace(summary, key=f"{summary.key}/{crop}", shot=called, pictures={}, remarks={})


@dataclass(frozen=True)
class Heading:
    """What stands at the head of every page."""

    project: str
    what: str
    day: str
    """As 2026-03-01."""


def headed(
    heading: Heading, size: tuple[float, float], number: int, of: int, measure: Measure, margin: float = MARGIN_MM
) -> list[Mark]:
    """The head of a page: project, what it is, the day, which page of how many.

    ``heading``: those words; ``size``: of the page, mm; ``number`` of ``of`` pages; ``measure``: how wide words are,
    mm; ``margin``: round the page, mm."""
    width, height = size
    y = height - margin - 3.4
    end = say.page_of(heading.day, number, of)
    room = width - 2.0 * margin - measure(end, 3.0, False) - 4.0
    name = fitted(heading.project, 0.6 * room, 4.2, measure, True)
    across = margin + measure(name, 4.2, True) + 3.0
    return [
        Words(name, (margin, y), 4.2, bold=True),
        Words(fitted(heading.what, margin + room - across, 3.0, measure), (across, y), 3.0, colour=QUIET),
        Words(end, (width - margin, y), 3.0, "end", colour=QUIET),
        Lines((rule_mm(margin, y - 2.4, width - margin, y - 2.4),), Stroke(0.25, INK), "frame"),
    ]


def picture_in(summary: ShotSummary, which: str, left: float, bottom: float, width: float, height: float) -> list[Mark]:
    """A picture of a shot as large as it goes into a box, at its upper left; its edge is drawn, so that a white one
    shows. Where there is none the box says so.

    ``summary``: the shot; ``which``: of its pictures; ``left``, ``bottom``, ``width``, ``height``: the box, mm from the
    page's lower left."""
    key = f"{summary.key}/{which}"
    ratio = summary.pictures.get(key)
    if ratio is None:
        words = summary.remarks.get(key, say.NO_PICTURE)
        return [
            Area((box_mm(left, bottom, width, height),), "frame", None, Stroke(0.15, LINE, (1.2, 1.2))),
            Words(words, (left + width / 2.0, bottom + height / 2.0), 2.8, "middle", colour=QUIET),
        ]
    wide, high = within_mm(ratio, width, height)
    top = bottom + height - high
    return [
        Picture(key, (left, top), (wide, high)),
        Area((box_mm(left, top, wide, high),), "frame", None, HAIR),
    ]


def caption(
    summary: ShotSummary,
    left: float,
    top: float,
    width: float,
    asked: ContactSheet,
    measure: Measure,
    large: bool = False,
) -> list[Mark]:
    """Number, name and lens data under a picture, from ``top`` down, and room for notes.

    ``summary``: the shot; ``left``, ``top``, ``width``: where, mm; ``asked``: what is to be told; ``measure``: how wide
    words are, mm; ``large``: whether the picture has the page for itself."""
    head, body = (4.6, 3.4) if large else (3.2, 2.6)
    y = top - head
    number = f"{summary.number}"
    indent = measure(number, head, True) + 0.5 * head
    marks: list[Mark] = [Words(number, (left, y), head, bold=True)]
    for n, words in enumerate(wrapped(summary.name, width - indent, head, measure, 2)):
        marks.append(Words(words, (left + indent, y - n * 1.2 * head), head))
    y -= 1.2 * head * max(0, len(marks) - 2)
    if asked.lens_data:
        for words in (summary.lens_line, summary.stand_line, summary.remarks.get(f"{summary.key}/{NOW}", "")):
            if words:
                y -= 1.35 * body
                marks.append(Words(fitted(words, width, body, measure), (left, y), body, colour=QUIET))
    if asked.notes:
        for n in range(NOTE_LINES):
            at = y - (n + 1.2) * NOTE_MM
            marks.append(Lines((rule_mm(left, at, left + width, at),), HAIR, "frame"))
    return marks


def caption_height(asked: ContactSheet, large: bool = False) -> float:
    """How much room a caption needs under its picture, at most."""
    head, body = (4.6, 3.4) if large else (3.2, 2.6)
    return (
        2.4 * head + 1.0 + (3.0 * 1.35 * body if asked.lens_data else 0.0)
        + ((NOTE_LINES + 0.6) * NOTE_MM if asked.notes else 0.0)
    )  # fmt: skip


@dataclass(frozen=True)
class _Grid:
    """How cells lie on a page: so many beside and below each other, each of a size in mm."""

    columns: int
    rows: int
    cell: tuple[float, float]


LARGE_ENOUGH = 0.6
"""A row more goes on a page where pictures stay so much of what their column allows."""


def _grid(shots: Sequence[ShotSummary], asked: ContactSheet, room: tuple[float, float], under: float) -> _Grid:
    """The cells of a contact sheet in a room on paper, rows as high as most pictures need."""
    width, height = room
    if asked.layout == "one" or (asked.layout == "pairs" and asked.landscape):
        return _Grid(1, 1, room)
    if asked.layout == "pairs":
        return _Grid(1, 2, (width, (height - GAP_MM) / 2.0))
    across = (width - (asked.columns - 1) * GAP_MM) / asked.columns
    ratios = sorted(summary.pictures.get(f"{summary.key}/{NOW}", 1.5) for summary in shots)
    high = across / ratios[len(ratios) // 2]
    rows = max(1, int((height + GAP_MM) / (LARGE_ENOUGH * high + under + GAP_MM)))
    return _Grid(asked.columns, rows, (across, min(high + under, (height - (rows - 1) * GAP_MM) / rows)))


def contact_pages(shots: Sequence[ShotSummary], asked: ContactSheet, heading: Heading, measure: Measure) -> list[Page]:
    """The pages of a contact sheet."""
    size = paper_mm(asked.paper, asked.landscape)
    under = caption_height(asked, asked.layout != "grid")
    room = size[0] - 2.0 * MARGIN_MM, size[1] - 2.0 * MARGIN_MM - HEAD_MM
    grid = _grid(shots, asked, room, under)
    each = grid.columns * grid.rows
    count = -(-len(shots) // each)
    pages = []
    for number in range(count):
        marks = headed(heading, size, number + 1, count, measure)
        own = shots[number * each : (number + 1) * each]
        for row in range(-(-len(own) // grid.columns)):
            beside = own[row * grid.columns : (row + 1) * grid.columns]
            top = size[1] - MARGIN_MM - HEAD_MM - row * (grid.cell[1] + GAP_MM)
            marks += _row(beside, asked, top, grid.cell, under, measure)
        pages.append(Page(f"{heading.what} {number + 1}", size, tuple(marks)))
    return pages


def _row(
    shots: Sequence[ShotSummary], asked: ContactSheet, top: float, cell: tuple[float, float], under: float,
    measure: Measure,
) -> list[Mark]:  # fmt: skip
    """Shots beside each other: their pictures stand on one line, and what is told of them begins on one."""
    high = max(10.0, cell[1] - under)
    if asked.layout == "pairs":
        return _pair(shots[0], asked, top, cell, high, measure)
    ratios = [summary.pictures.get(f"{summary.key}/{NOW}") for summary in shots]
    line = max(high if ratio is None else within_mm(ratio, cell[0], high)[1] for ratio in ratios)
    marks: list[Mark] = []
    for n, (summary, ratio) in enumerate(zip(shots, ratios, strict=True)):
        left = MARGIN_MM + n * (cell[0] + GAP_MM)
        own = line if ratio is None else within_mm(ratio, cell[0], high)[1]
        marks += picture_in(summary, NOW, left, top - line, cell[0], own)
        marks += caption(summary, left, top - line - 1.0, cell[0], asked, measure, asked.layout == "one")
    return marks


def _pair(
    summary: ShotSummary, asked: ContactSheet, top: float, cell: tuple[float, float], high: float, measure: Measure
) -> list[Mark]:
    """A shot before and after, beside each other."""
    half = (cell[0] - GAP_MM) / 2.0
    marks: list[Mark] = []
    low = 0.0
    for n, (which, words) in enumerate(((BEFORE, say.BEFORE), (NOW, say.AFTER))):
        left = MARGIN_MM + n * (half + GAP_MM)
        said = summary.remarks.get(f"{summary.key}/{which}", "")
        ratio = summary.pictures.get(f"{summary.key}/{which}")
        head = words if ratio is None or not said else f"{words}: {said}"
        marks.append(Words(fitted(head, half, 2.8, measure), (left, top - 2.8), 2.8, colour=QUIET))
        marks += picture_in(summary, which, left, top - high, half, high - 4.4)
        low = max(low, high - 4.4 if ratio is None else within_mm(ratio, half, high - 4.4)[1])
    return [*marks, *caption(summary, MARGIN_MM, top - 4.4 - low - 1.0, cell[0], asked, measure, True)]
