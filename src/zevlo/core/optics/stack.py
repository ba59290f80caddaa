"""A stack: the distances at which pictures are focused so that their sharp zones, one over the next, cover a depth."""

from __future__ import annotations

from zevlo.core.optics.focus import depth_per_mm, focus_reaching
from zevlo.core.shot.limits import NEAREST_OF_FOCAL
from zevlo.text import optics as say

MOST_FRAMES = 200
"""More are not told: nobody takes them."""
_FARTHEST_PER_MM = 1.0e-7
_ALL_BUT = 1.0e-9


def stack_mm(
    focal_length_mm: float, f_number: float, limit_mm: float, near_mm: float, far_mm: float, overlap: float,
    cosine: float = 1.0,
) -> list[float]:  # fmt: skip
    """Focus distances in mm, the nearest first: the first zone begins at ``near_mm``, each overlaps the one before by
    that share of its own depth, the last reaches ``far_mm`` (which may be infinite) or beyond. At most MOST_FRAMES.

    In inverses of distances a zone reaches from q - d(q) to q + d(q), with d(q) = N·c/f·(cos α/f - q)
    (:func:`~zevlo.core.optics.focus.depth_per_mm`): linear in q, so that each is solved for. None is focused nearer
    than a lens focuses, so that what lies before the first is then not sharp in any.

    ``focal_length_mm`` f, ``f_number`` N, ``limit_mm`` c on the film; ``cosine``: of the angle α the lens is turned by.
    """
    if not 0.0 < near_mm < far_mm:
        raise ValueError(say.the_near_end_mm(near_mm, far_mm))
    nearest_per_mm, wanted_per_mm = cosine / focal_length_mm / NEAREST_OF_FOCAL, 1.0 / far_mm
    found: list[float] = []
    begins, kept = 1.0 / near_mm, 1.0
    while len(found) < MOST_FRAMES:
        # What of its depth overlaps the zone before is taken off.
        q = focus_reaching(focal_length_mm, f_number, limit_mm * kept, begins, True, cosine)
        q = min(max(q, _FARTHEST_PER_MM), nearest_per_mm)
        found.append(1.0 / q)
        begins = q - depth_per_mm(focal_length_mm, f_number, limit_mm, 1.0 / q, cosine)
        kept = 1.0 - 2.0 * overlap
        if begins <= wanted_per_mm * (1.0 + _ALL_BUT) or q == _FARTHEST_PER_MM:
            break
    return found
