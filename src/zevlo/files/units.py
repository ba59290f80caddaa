"""The unit a text file names in a comment at its head: nothing in OBJ, STL or PLY says it otherwise."""

from __future__ import annotations

import re

_UNIT_WORDS = (
    ("mm", r"milli?met(?:er|re)s?|mm"),
    ("cm", r"centimet(?:er|re)s?|cm"),
    ("in", r"inch(?:es)?|in"),
    ("ft", r"feet|foot|ft"),
    ("m", r"met(?:er|re)s?|m"),
)
_BETWEEN = ("are", "is", "in", "of")
_HEAD = 4000


def unit_in_comment(text: str) -> str | None:
    """Unit a comment at the head of a text names, as ``# units: mm`` or ``# unit is in metres``."""
    for line in text[:_HEAD].splitlines():
        if not line.startswith("#"):
            continue
        words = re.findall(r"[a-z]+", line.lower())
        for n, word in enumerate(words[:-1]):
            if word not in ("unit", "units"):
                continue
            # "units in": inches, unless a unit follows.
            said = words[n + 2] if words[n + 1] in _BETWEEN and n + 2 < len(words) else words[n + 1]
            for unit, pattern in _UNIT_WORDS:
                if re.fullmatch(pattern, said):
                    return unit
    return None


def text_of(raw: bytes) -> str:
    """Text in UTF-8, or where it is not, in Latin-1."""
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("latin-1")
