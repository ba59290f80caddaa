"""Composition guides: geometry in normalised frame coordinates, (0, 0) bottom left, (1, 1) top right."""

from __future__ import annotations

from zevlo.core.shot import Guides

Line = tuple[float, float, float, float]

_THIRD, _TWO_THIRDS = 1.0 / 3.0, 2.0 / 3.0
THIRDS: tuple[Line, ...] = (
    (_THIRD, 0.0, _THIRD, 1.0),
    (_TWO_THIRDS, 0.0, _TWO_THIRDS, 1.0),
    (0.0, _THIRD, 1.0, _THIRD),
    (0.0, _TWO_THIRDS, 1.0, _TWO_THIRDS),
)
CENTRE: tuple[Line, ...] = ((0.5, 0.0, 0.5, 1.0), (0.0, 0.5, 1.0, 0.5))


GUIDES: dict[str, tuple[Line, ...]] = {"thirds": THIRDS, "centre": CENTRE}


def guide_lines(guides: Guides) -> dict[str, tuple[Line, ...]]:
    """Lines (x0, y0, x1, y1) of each guide that is shown, by its name."""
    return {name: lines for name, lines in GUIDES.items() if getattr(guides, name)}
