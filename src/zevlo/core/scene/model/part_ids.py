"""What a part is known by for good: the file's own id where it has one, else its path, told apart by its geometry.

Never its number: that goes to another part when a stand-in comes or a file is written in another order.
"""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable, Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

STAND_INS_PATH = "Stand-ins"
"""What the group of stand-ins is known by, in every language; no part of a file is."""
LONGEST = 1900
_DIGITS = 4


def part_paths(parts: Iterable[tuple[str, int | None]]) -> list[str]:
    """Paths of parts, told as (name, parent) from the root down: ``Loft/Roof/Ridge``. Several may be equal."""
    paths: list[str] = []
    for name, parent in parts:
        step = name[:120].replace("/", "∕")
        paths.append((step if parent is None else f"{paths[parent]}/{step}")[-LONGEST:])
    return paths


def ids_of(parts: Sequence[tuple[str, str, int | None]]) -> tuple[str, ...]:
    """Ids of a set's parts, told as (id, name, parent). One read before parts had ids goes by its numbered path."""
    paths = part_paths([(name, parent) for _, name, parent in parts])
    return tuple(_numbered([one or path for (one, _, _), path in zip(parts, paths, strict=True)]))


def numbers_by_id(ids: Sequence[str], parts: Sequence[tuple[str, int | None]]) -> dict[str, int]:
    """The number of each part by its id, and by its path (name, parent) where no other has that."""
    paths = part_paths(parts)
    counts = Counter(paths)
    found = {path: number for number, path in enumerate(paths) if counts[path] == 1}
    return found | {one: number for number, one in enumerate(ids)}


def lasting_ids(
    own: Sequence[str], parts: Sequence[tuple[str, int | None]], geometry: Callable[[int], str]
) -> tuple[str, ...]:
    """Ids of parts, all different, the same in whatever order a file tells them.

    ``own``: the file's own id of each part, empty where it has none; one that comes twice counts for none.
    ``parts``: (name, parent) from the root down.
    ``geometry``: a word for the geometry of a part with all below it, asked for only where paths are equal.
    """
    times = Counter(own)
    wanted = [
        mark[-LONGEST:] if mark and times[mark] == 1 else path
        for mark, path in zip(own, part_paths(parts), strict=True)
    ]
    counts = Counter(wanted)
    told_apart = [
        f"{one}~{geometry(number)}" if counts[one] > 1 or one.partition("/")[0] == STAND_INS_PATH else one
        for number, one in enumerate(wanted)
    ]
    return tuple(_numbered(told_apart))


def geometry_word(corners: Sequence[NDArray[np.float64]], triangles: int) -> str:
    """A short word for a part's box, corners (2, 3), and number of triangles; coarse, so that rounding keeps it."""
    if not corners:
        return hashlib.sha256(str(triangles).encode()).hexdigest()[:8]
    box = np.array([np.min([c[0] for c in corners], axis=0), np.max([c[1] for c in corners], axis=0)])
    size = float(np.linalg.norm(box[1] - box[0]))
    step = 10.0 ** (np.floor(np.log10(size)) - _DIGITS) if size > 0.0 else 1.0e-9
    rounded = (np.round(box / step) + 0.0).tolist()
    return hashlib.sha256(f"{rounded}|{triangles}".encode()).hexdigest()[:8]


def _numbered(wanted: Sequence[str]) -> list[str]:
    """Every one different: the second of equal ones gets ``#2``, or the next number nobody else is called by."""
    given: list[str] = []
    taken, following = set(wanted), dict.fromkeys(wanted, 1)
    for one in wanted:
        name, number = one, following[one]
        while number > 1 and name in taken:
            name, number = f"{one}#{number}", number + 1
        taken.add(name)
        following[one] = max(number, 2)
        given.append(name)
    return given
