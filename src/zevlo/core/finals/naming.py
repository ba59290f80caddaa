"""What the files of an order are called: a pattern of fields and words, filled in for each picture."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from zevlo.text import orders as say

MOST_LETTERS = 120
MOST_BYTES = 200
"""Of a file's name in UTF-8, without its ending: disks have room for 255 (common practice, no source)."""
_FIELD = re.compile(r"\{([^{}]*)\}")
_NOT_IN_FILES = re.compile(r'[\x00-\x1f<>:"/\\|?*\x7f]')
_TURNS = re.compile("[\u200e\u200f\u202a-\u202e\u2066-\u2069]")
"""Signs that turn the way of reading: with them a name could be shown with another ending than it has."""
_NO_NAMES = {"con", "prn", "aux", "nul", *(f"{port}{n}" for port in ("com", "lpt") for n in range(1, 10))}
"""What some systems call no file (common practice, no source)."""


class Called(BaseModel):
    """What a picture's name may tell of it. What is empty is left out, with what stands before it."""

    model_config = ConfigDict(frozen=True, extra="forbid", use_attribute_docstrings=True)

    number: str
    """Number in the shot list, all as many digits."""
    name: str
    """The shot's name."""
    room: str
    """Room it stands in, or level."""
    direction: str
    """Where it looks: a point of the compass, or up or down."""
    lens: str
    """Its focal length, or what it is."""
    crop: str
    """The crop of the frame; empty: the whole frame."""
    take: str
    """Number of its take; empty where the framing was never kept."""
    date: str
    """Day of the order, as 2026-03-01."""
    project: str
    """The project's name."""
    size: str
    """Pixels, as 3840x2160."""


FIELDS = tuple(Called.model_fields)
_FORMER_FIELDS = {"{cut}": "{crop}"}
"""What patterns that were written before call a field otherwise."""
FIRST_PATTERN = "{number}_{room}_{direction}_{lens}_{crop}"


def checked_pattern(pattern: str) -> str:
    """The pattern, where it can be filled in. Raises ValueError that says why not."""
    for before, now in _FORMER_FIELDS.items():
        pattern = pattern.replace(before, now)
    if not pattern.strip():
        raise ValueError(say.a_pattern_of_names_is_needed(FIRST_PATTERN))
    for field in _FIELD.findall(pattern):
        if field not in FIELDS:
            raise ValueError(say.is_nothing_a_name(field, ", ".join(f"{{{one}}}" for one in FIELDS)))
    rest = _FIELD.sub("", pattern)
    if "{" in rest or "}" in rest:
        raise ValueError(say.A_OR_STANDS_ALONE)
    if _NOT_IN_FILES.search(rest):
        raise ValueError(say.NAMES_OF_FILES_HAVE)
    if len(pattern) > MOST_LETTERS:
        raise ValueError(say.a_pattern_has_letters(MOST_LETTERS))
    return pattern


def filled(pattern: str, called: Called) -> str:
    """The name of one picture, without its ending.

    Fields lose what no file's name holds, and write a blank as ``-``. An empty field takes the words before it along,
    so that no ``__`` is left; where all is empty the picture is called by its number.
    """
    parts: list[str] = []
    end = 0
    for field in _FIELD.finditer(pattern):
        value = _plain(getattr(called, field.group(1)))
        before = pattern[end : field.start()]
        if value:
            parts += [before if parts or not _only_joins(before) else "", value]
        elif not parts and not _only_joins(before):
            parts.append(before)
        end = field.end()
    return _kept("".join([*parts, pattern[end:]])) or called.number


def _only_joins(words: str) -> bool:
    return re.fullmatch(r"[\s_.,+-]*", words) is not None


def _plain(value: str) -> str:
    return re.sub(r"[\s,-]+", "-", _NOT_IN_FILES.sub("-", value).replace("×", "x")).strip("-. ")


def fit_for_file(words: str) -> str:
    """Words as the name of a file, without its ending: blanks stay, what no file's name holds does not."""
    return _kept(_NOT_IN_FILES.sub("-", words)) or "-"


def file_of(project: str, what: str) -> str:
    """The name of a file of a project that is not named by a pattern, without its ending."""
    return fit_for_file(f"{beginning(project)} {what}")


def beginning(project: str) -> str:
    """What names of a project's files begin with: of a long name as much as leaves room for what each is."""
    return _kept(_NOT_IN_FILES.sub("-", project), MOST_LETTERS // 2, MOST_BYTES // 2) or "-"


def _kept(words: str, most_letters: int = MOST_LETTERS, most_bytes: int = MOST_BYTES) -> str:
    """As much of a name as every disk keeps, written one way, and no name that some systems keep for themselves."""
    plain = _TURNS.sub("", unicodedata.normalize("NFC", words)).strip(" .")[:most_letters]
    name = plain.encode()[:most_bytes].decode("utf-8", "ignore").rstrip(" .")
    stem, dot, rest = name.partition(".")
    return f"{stem}-{dot}{rest}" if stem.rstrip().lower() in _NO_NAMES else name


def names_of(pattern: str, pictures: Sequence[Called]) -> list[str]:
    """The names of an order's pictures, no two the same, also where capitals do not count: the second of a name gets
    ``-2`` behind it."""
    taken: set[str] = set()
    following: dict[str, int] = {}
    names = []
    for picture in pictures:
        wanted = filled(pattern, picture)
        name, number = wanted, following.get(wanted.casefold(), 2)
        while name.casefold() in taken:
            name, number = f"{wanted}-{number}", number + 1
        following[wanted.casefold()] = number
        taken.add(name.casefold())
        names.append(name)
    return names


def number_words(number: int, of: int) -> str:
    """A number in the shot list, with as many digits as the last one has, two at least."""
    return str(number).zfill(max(2, len(str(of))))
