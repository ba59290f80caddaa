"""The letters of documents: Archivo, and DejaVu Sans for what it lacks; both go into each file that needs them."""

from __future__ import annotations

import base64
import io
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

FOLDER = Path(__file__).parent / "fonts"
NO_LETTER = "▯"
"""Stands for a letter neither font has."""


@dataclass(frozen=True)
class Face:
    """A font: what it is called, its file, how far it goes on for each letter, in shares of the size."""

    name: str
    path: Path
    advances: dict[str, float]


@lru_cache(maxsize=8)
def _face(family: str, style: str) -> Face:
    path = FOLDER / f"{family}-{style}.ttf"
    with TTFont(path, lazy=True) as font:
        units, widths = font["head"].unitsPerEm, font["hmtx"]
        advances = {chr(code): widths[glyph][0] / units for code, glyph in font.getBestCmap().items()}
    return Face(f"{family}-{style}", path, advances)


def faces(bold: bool) -> tuple[Face, Face]:
    """The font letters come from, and the one for what that lacks."""
    style = "SemiBold" if bold else "Regular"
    return _face("Archivo", style), _face("DejaVuSans", style)


def runs_of(text: str, bold: bool) -> list[tuple[Face, str]]:
    """A text in runs of one font each."""
    first, other = faces(bold)
    runs: list[tuple[Face, str]] = []
    for letter in text:
        if letter in first.advances:
            face = first
        else:
            face, letter = other, letter if letter in other.advances else NO_LETTER
        if runs and runs[-1][0] is face:
            runs[-1] = face, runs[-1][1] + letter
        else:
            runs.append((face, letter))
    return runs


def shown(text: str) -> str:
    """A text as it is drawn: with a sign for each letter neither font has."""
    return "".join(run for _, run in runs_of(text, False))


@lru_cache(maxsize=20_000)
def measure(text: str, size_mm: float, bold: bool) -> float:
    """How long a text is in mm."""
    return size_mm * sum(face.advances[letter] for face, run in runs_of(text, bold) for letter in run)


def without_letters(texts: Iterable[str]) -> str:
    """The letters of some texts neither font has, each once, in their order."""
    first, other = faces(False)
    found = dict.fromkeys(letter for text in texts for letter in text if letter.isprintable())
    return "".join(letter for letter in found if letter not in first.advances and letter not in other.advances)


def subset_of(face: Face, letters: str) -> str:
    """As much of a font as some letters need, as base64 of a TrueType file."""
    options = subset.Options(layout_features=[], hinting=False, notdef_outline=True)
    font = subset.load_font(str(face.path), options)
    chosen = subset.Subsetter(options)
    chosen.populate(text=letters)
    chosen.subset(font)
    out = io.BytesIO()
    subset.save_font(font, out, options)
    return base64.b64encode(out.getvalue()).decode()
