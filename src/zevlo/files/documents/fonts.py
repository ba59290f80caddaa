"""The letters of documents: Archivo; for what it lacks DejaVu Sans, and for Chinese, Japanese and Korean Droid Sans
Fallback. As much of each as a file needs goes into it."""

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
"""Stands for a letter no font has."""
FAMILIES = {"Archivo": "Archivo", "DejaVuSans": "DejaVu Sans", "DroidSansFallback": "Droid Sans Fallback"}
"""The fonts letters are looked for in, one after the other: what their files begin with, and what they are called."""
_ONE_WEIGHT = "DroidSansFallback"


@dataclass(frozen=True)
class Face:
    """A font: what it and its family are called, its file, how far it goes on for each letter, in shares of the
    size."""

    name: str
    family: str
    path: Path
    advances: dict[str, float]


@lru_cache(maxsize=8)
def _face(family: str, bold: bool) -> Face:
    style = "SemiBold" if bold and family != _ONE_WEIGHT else "Regular"
    path = FOLDER / f"{family}-{style}.ttf"
    with TTFont(path, lazy=True) as font:
        units, widths = font["head"].unitsPerEm, font["hmtx"]
        advances = {chr(code): widths[glyph][0] / units for code, glyph in font.getBestCmap().items()}
    return Face(f"{family}-{style}", FAMILIES[family], path, advances)


def first_face() -> Face:
    """The font nearly all is set in."""
    return _face(next(iter(FAMILIES)), False)


@lru_cache(maxsize=5000)
def _of_letter(letter: str, bold: bool) -> Face | None:
    """The first font that has a letter; the large ones are read for the letters of others alone."""
    return next((face for family in FAMILIES if letter in (face := _face(family, bold)).advances), None)


def runs_of(text: str, bold: bool) -> list[tuple[Face, str]]:
    """A text in runs of one font each."""
    runs: list[tuple[Face, str]] = []
    for letter in text:
        face = _of_letter(letter, bold)
        if face is None:
            face, letter = _of_letter(NO_LETTER, bold), NO_LETTER
            assert face is not None
        if runs and runs[-1][0] is face:
            runs[-1] = face, runs[-1][1] + letter
        else:
            runs.append((face, letter))
    return runs


def shown(text: str) -> str:
    """A text as it is drawn: with a sign for each letter no font has."""
    return "".join(run for _, run in runs_of(text, False))


@lru_cache(maxsize=20_000)
def measure(text: str, size_mm: float, bold: bool) -> float:
    """How long a text is in mm."""
    return size_mm * sum(face.advances[letter] for face, run in runs_of(text, bold) for letter in run)


def without_letters(texts: Iterable[str]) -> str:
    """The letters of some texts no font has, each once, in their order."""
    found = dict.fromkeys(letter for text in texts for letter in text if letter.isprintable())
    return "".join(letter for letter in found if _of_letter(letter, False) is None)


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
