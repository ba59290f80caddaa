"""What of a shot its picture shows, by instrument: what makes a print stale, and another small picture necessary."""

from __future__ import annotations

from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.focus.stacks import frame_at, stack_distances
from zevlo.core.instruments.instrument import StalenessKey
from zevlo.core.shot import Shot
from zevlo.text import framing as say

SHARP_AS_DRAWN = tuple(one.key for one in INSTRUMENTS if one.staleness_key is not None and one.sharp_too)
"""What a small picture shows, which is sharp all over and exposed for itself."""


def shown(shot: Shot) -> dict[str, StalenessKey]:
    """What is seen of each group; equal where no picture of the shot would be other."""
    return {one.key: one.staleness_key(shot) for one in INSTRUMENTS if one.staleness_key is not None}


def shown_otherwise(then: Shot, now: Shot) -> list[str]:
    """What of a shot its picture would show otherwise than it did, as it is called within a sentence."""
    if then == now:
        return []
    before, after = shown(then), shown(now)
    return [one.noun for one in INSTRUMENTS if one.staleness_key is not None and before[one.key] != after[one.key]]


def stack_shown_otherwise(then: Shot, now: Shot) -> list[str]:
    """The same of a stack of pictures, for which it is no matter where the shot itself is focused."""
    if then == now:
        return []
    alike = then.focus.distance_m
    changed = shown_otherwise(frame_at(then, alike), frame_at(now, alike))
    other = stack_distances(Framing(then)) != stack_distances(Framing(now))
    if then.focus.stack != now.focus.stack or (other and not changed):
        changed.append(say.THE_STACK)
    return changed
