"""The shot list as a table: a row for each shot, numbers as numbers, and pages of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from zevlo.core.documents.contact_sheet import HEAD_MM, NOW, Heading, headed, picture_in
from zevlo.core.documents.page.paper import (
    INK,
    LINE,
    MARGIN_MM,
    QUIET,
    SMALLEST_MM,
    Lines,
    Mark,
    Measure,
    Page,
    Stroke,
    Words,
    paper_mm,
    rule_mm,
    wrapped,
)
from zevlo.core.documents.request import ShotListing
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.core.optics.back import format_words, ratio_name

Cell = str | float | int | None


@dataclass(frozen=True)
class Column:
    """A column: its head, with the unit, and what stands in it; how broad it is on paper, 0 where it is not there."""

    head: str
    value: Callable[[ShotSummary], Cell]
    width_mm: float = 0.0
    digits: int | None = None
    """Of numbers on paper."""
    short: str | None = None
    """Its head on paper, where that is another."""


def _angle(summary: ShotSummary) -> float | None:
    return None if summary.sheet.lens.angle_deg is None else summary.sheet.lens.angle_deg.horizontal


def _lens(value: Callable[[ShotSummary], Cell]) -> Callable[[ShotSummary], Cell]:
    """What a picture along parallel rays does not have."""
    return lambda summary: None if summary.parallel else value(summary)


COLUMNS = (
    Column("number", lambda summary: summary.number, 10.0, short="no."),
    Column("name", lambda summary: summary.name, 50.0),
    Column("level", lambda summary: summary.sheet.pose.level),
    Column("room", lambda summary: summary.sheet.pose.room, 24.0),
    Column("looks", lambda summary: summary.sheet.pose.compass, 13.0),
    Column("heading, °", lambda summary: summary.sheet.pose.heading_deg, 18.0, 1),
    Column("pitch, °", lambda summary: summary.sheet.pose.pitch_deg, 13.0, 1),
    Column("roll, °", lambda summary: summary.sheet.pose.roll_deg),
    Column("lens", lambda summary: summary.lens, 22.0),
    Column("draws", lambda summary: summary.law),
    Column("focal length, mm", _lens(lambda summary: summary.shot.lens.focal_length_mm)),
    Column("angle across, °", _angle, 16.0, 1),
    Column("back", lambda summary: format_words(summary.shot.back.width_mm, summary.shot.back.height_mm)),
    Column("f-number", _lens(lambda summary: summary.shot.focus.f_number), 0.0),
    Column("stop", _lens(lambda summary: summary.stop), 13.0),
    Column("shutter", lambda summary: summary.sheet.exposure.shutter, 15.0),
    Column("shutter, s", lambda summary: summary.shot.exposure.shutter_s),
    Column("ISO", lambda summary: summary.shot.exposure.iso, 11.0, 0),
    Column("focus, m", _lens(lambda summary: summary.shot.focus.distance_m), 15.0, 3),
    Column("sharp from, m", _lens(lambda summary: summary.sheet.focus.sharp_from_m)),
    Column("sharp to, m", _lens(lambda summary: summary.sheet.focus.sharp_to_m)),
    Column("above floor, m", lambda summary: summary.sheet.pose.above_floor_m, 17.0, 3),
    Column("x, m", lambda summary: summary.shot.stand.position[0]),
    Column("y, m", lambda summary: summary.shot.stand.position[1]),
    Column("z, m", lambda summary: summary.shot.stand.position[2]),
    Column("rise, mm", _lens(lambda summary: summary.shot.movements.rise_mm), 12.0, 1),
    Column("cross, mm", _lens(lambda summary: summary.shot.movements.cross_mm), 15.0, 1),
    Column("tilt, °", _lens(lambda summary: summary.shot.movements.tilt_deg), 11.0, 1),
    Column("swing, °", _lens(lambda summary: summary.shot.movements.swing_deg), 16.0, 1),
    Column("width, px", lambda summary: summary.sheet.back.output_px[0], 14.0),
    Column("height, px", lambda summary: summary.sheet.back.output_px[1], 16.0),
    Column("ratio", lambda summary: ratio_name(*summary.sheet.back.output_px)),
    Column("crops", lambda summary: ", ".join(crop.name for crop in summary.shot.back.crops) or None),
    Column("take", lambda summary: summary.take, 11.0),
    Column("labels", lambda summary: ", ".join(summary.labels) or None),
)
"""What a table has, in its order. A number is one; empty is what there is none of, infinity among it."""
PICTURE_MM, ROW_MM, TEXT_MM = (26.0, 16.0), 7.2, SMALLEST_MM
HEAD_ROW_MM = 10.0


def row_of(summary: ShotSummary) -> list[Cell]:
    """The row of a shot."""
    return [column.value(summary) for column in COLUMNS]


def _on_paper(column: Column, summary: ShotSummary) -> str:
    value = column.value(summary)
    if value is None:
        return "–"
    if isinstance(value, float) and column.digits is not None:
        return f"{round(value, column.digits) + 0.0:.{column.digits}f}".replace("-", "−")
    return str(value)


def list_pages(shots: Sequence[ShotSummary], asked: ShotListing, heading: Heading, measure: Measure) -> list[Page]:
    """The pages of a shot list."""
    size = paper_mm(asked.paper, asked.landscape)
    width, height = size[0] - 2.0 * MARGIN_MM, size[1] - 2.0 * MARGIN_MM - HEAD_MM - HEAD_ROW_MM
    picture = PICTURE_MM[0] if asked.pictures else 0.0
    shown = [column for column in COLUMNS if column.width_mm]
    stretch = (width - picture) / sum(column.width_mm for column in shown)
    row = PICTURE_MM[1] if asked.pictures else ROW_MM
    each = max(1, int(height / row))
    count = -(-len(shots) // each)
    pages = []
    for number in range(count):
        marks = headed(heading, size, number + 1, count, measure)
        top = size[1] - MARGIN_MM - HEAD_MM
        heads = [column.short or column.head for column in shown]
        marks += _row(heads, shown, stretch, picture, top, HEAD_ROW_MM, measure, True)
        for n, summary in enumerate(shots[number * each : (number + 1) * each]):
            at = top - HEAD_ROW_MM - n * row
            if asked.pictures:
                marks += picture_in(summary, NOW, MARGIN_MM, at - row + 1.0, PICTURE_MM[0] - 3.0, row - 2.0)
            marks += _row(
                [_on_paper(column, summary) for column in shown], shown, stretch, picture, at, row, measure, False
            )
        pages.append(Page(f"{heading.what} {number + 1}", size, tuple(marks)))
    return pages


def _row(
    cells: Sequence[str], columns: Sequence[Column], stretch: float, indent: float, top: float, height: float,
    measure: Measure, head: bool,
) -> list[Mark]:  # fmt: skip
    """A row of a table from ``top`` down, with a rule under it; words go over some lines where there is room."""
    marks: list[Mark] = []
    left = MARGIN_MM + indent
    most = max(1, int((height - 1.0) / (1.25 * TEXT_MM)))
    for words, column in zip(cells, columns, strict=True):
        wide = column.width_mm * stretch
        for n, line in enumerate(wrapped(words, wide - 2.0, TEXT_MM, measure, most)):
            at = (left, top - 1.2 - TEXT_MM - 1.25 * TEXT_MM * n)
            marks.append(Words(line, at, TEXT_MM, colour=QUIET if head else INK))
        left += wide
    end = top - height
    marks.append(Lines((rule_mm(MARGIN_MM, end, left, end),), Stroke(0.12, LINE), "frame"))
    return marks
