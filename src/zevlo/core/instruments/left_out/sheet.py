"""What is other than it was of what a shot leaves out, and what a picture shows of it."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Called, StalenessKey
from zevlo.core.shot import Shot
from zevlo.text import left_out as say


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """How many parts are left out, or that it is others."""
    if set(before.left_out) == set(after.left_out):
        return []
    a, b = len(before.left_out), len(after.left_out)
    return [say.left_out(a, b) if a != b else say.OTHERS_LEFT_OUT]


def staleness_key(shot: Shot) -> StalenessKey:
    """Which parts are not there."""
    return tuple(sorted(shot.left_out))
