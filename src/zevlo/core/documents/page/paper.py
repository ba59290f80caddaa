"""Paper, and what is drawn on it: lines, areas, words, pictures. Each kind of file draws the same pages."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.optics.picture_size import ISO_216, PaperSize

Colour = tuple[int, int, int]
INK, QUIET, LINE, SPRUCE, WHITE = (32, 35, 34), (90, 93, 91), (190, 190, 187), (30, 91, 73), (255, 255, 255)
PALE = (222, 232, 228)
"""What a wedge is filled with: spruce on white paper."""
Layer = Literal["walls", "beyond", "rooms", "stands", "angles", "measures", "words", "frame"]
MARGIN_MM = 12.0


PAPERS = (
    *ISO_216,
    PaperSize(name="Letter", size_mm=(279.4, 215.9)),
    PaperSize(name="Tabloid", size_mm=(431.8, 279.4)),
)
"""Those of ISO 216 from A5 to A0; Letter and Tabloid by ANSI/ASME Y14.1 (A and B)."""
HALO_MM = 0.7
"""How broad the white edge of words is, both sides together."""
PaperName = Literal["A5", "A4", "A3", "A2", "A1", "A0", "Letter", "Tabloid"]


def paper_mm(name: PaperName, landscape: bool) -> tuple[float, float]:
    """Width and height of a paper."""
    wide, high = next(one.size_mm for one in PAPERS if one.name == name)
    return (wide, high) if landscape else (high, wide)


@dataclass(frozen=True)
class Stroke:
    """A pen: how broad, in which colour, dashed how (mm drawn, mm left, …)."""

    width_mm: float = 0.18
    colour: Colour = INK
    dash_mm: tuple[float, ...] = ()


@dataclass(frozen=True, eq=False)
class Lines:
    """Runs of points (n, 2), drawn one after the other, none of them closed."""

    runs: tuple[Floats, ...]
    stroke: Stroke
    layer: Layer


@dataclass(frozen=True, eq=False)
class Area:
    """What closed runs of points (n, 2) enclose, by the nonzero rule; filled, outlined, or both."""

    rings: tuple[Floats, ...]
    layer: Layer
    fill: Colour | None = None
    stroke: Stroke | None = None


SMALLEST_MM = 2.5
"""Letters are no smaller: a little over 7 points."""


@dataclass(frozen=True)
class Words:
    """One line of letters, ``size_mm`` from line to line where set solid, its foot at ``at``."""

    text: str
    at: tuple[float, float]
    size_mm: float = 3.0
    anchor: Literal["start", "middle", "end"] = "start"
    bold: bool = False
    colour: Colour = INK
    layer: Layer = "words"
    halo: bool = False
    """Whether they are edged with white, to be read over what is drawn there."""


@dataclass(frozen=True)
class Picture:
    """A picture, by what it is known by, its lower left corner at ``at``."""

    key: str
    at: tuple[float, float]
    size_mm: tuple[float, float]


Mark = Lines | Area | Words | Picture


@dataclass(frozen=True)
class ToScale:
    """How a drawing lies on its page: a mm of paper is ``metres_per_mm`` of the set, its origin at ``origin_mm``."""

    metres_per_mm: float
    origin_mm: tuple[float, float]

    def on_paper(self, places: Floats) -> Floats:
        """Places of the set in plan (..., 2), metres, as mm on the page."""
        return np.asarray(places / self.metres_per_mm + np.array(self.origin_mm))

    def in_set(self, places: Floats) -> Floats:
        """The other way round."""
        return np.asarray((places - np.array(self.origin_mm)) * self.metres_per_mm)


@dataclass(frozen=True)
class Page:
    """A page: mm from its lower left corner."""

    title: str
    size_mm: tuple[float, float]
    marks: tuple[Mark, ...] = field(default=())
    scale: ToScale | None = None
    """Of a drawing to scale."""


Measure = Callable[[str, float, bool], float]
"""How long words are in mm, of a size in mm, bold or not."""


def fitted(text: str, width_mm: float, size_mm: float, measure: Measure, bold: bool = False) -> str:
    """The text, or as much of it as goes into a width, with … behind.

    ``width_mm``: the width; ``size_mm``: of the letters; ``measure``: how wide words are, mm; ``bold``: their weight.
    """
    if measure(text, size_mm, bold) <= width_mm:
        return text
    most = _longest(len(text), lambda n: measure(f"{text[:n].rstrip()}…", size_mm, bold) <= width_mm)
    return f"{text[:most].rstrip()}…"


def _longest(length: int, fits: Callable[[int], bool]) -> int:
    """The most letters that fit, of so many; where more do, fewer do too."""
    low, high = 0, length
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if fits(middle) else (low, middle - 1)
    return low


def _broken(word: str, fits: Callable[[str], bool]) -> tuple[str, str]:
    """As much of a word as fits a line, a letter at least, and what is left of it."""
    letters = max(1, _longest(len(word), lambda n: fits(word[:n])))
    return word[:letters], word[letters:]


def wrapped(
    text: str, width_mm: float, size_mm: float, measure: Measure, most: int = 100, bold: bool = False
) -> list[str]:
    """The text in lines of a width, broken between words, and within one that is longer than a line, as a name in
    Chinese is; what is left of the last of ``most`` lines is cut.

    ``width_mm``: of a line; ``size_mm``: of the letters; ``measure``: how wide words are, mm; ``bold``: their weight.
    """
    lines: list[str] = []
    rest = text.split()

    def fits(line: str) -> bool:
        return measure(line, size_mm, bold) <= width_mm

    while rest and len(lines) < most - 1:
        taken = 1
        while taken < len(rest) and fits(" ".join(rest[: taken + 1])):
            taken += 1
        line, rest = " ".join(rest[:taken]), rest[taken:]
        if not fits(line):
            line, left = _broken(line, fits)
            rest = [left, *rest] if left else rest
        lines.append(line)
    return [*lines, fitted(" ".join(rest), width_mm, size_mm, measure, bold)] if rest else lines


def ring_mm(at: tuple[float, float], radius_mm: float, corners: int = 48) -> Floats:
    """A circle as a closed run (n, 2)."""
    turn = np.linspace(0.0, 2.0 * np.pi, corners, endpoint=False)
    return np.array(at) + radius_mm * np.column_stack([np.cos(turn), np.sin(turn)])


def box_mm(left: float, bottom: float, width: float, height: float) -> Floats:
    """A rectangle as a closed run (4, 2)."""
    return np.array([[left, bottom], [left + width, bottom], [left + width, bottom + height], [left, bottom + height]])


def rule_mm(x0: float, y0: float, x1: float, y1: float) -> Floats:
    """A straight run (2, 2)."""
    return np.array([[x0, y0], [x1, y1]])


def within_mm(ratio: float, width: float, height: float) -> tuple[float, float]:
    """The largest size of a ratio (width over height) in a box."""
    return (width, width / ratio) if ratio * height >= width else (height * ratio, height)
