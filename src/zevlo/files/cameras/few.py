"""How many cameras of a file are taken in: told before the first is read, as one is quick to write and slow to take."""

from __future__ import annotations

from zevlo.core.exchange.carried import NoCamera
from zevlo.files.limits import MOST_CAMERAS


def require_few(count: int) -> None:
    """Raise :class:`~zevlo.core.exchange.carried.NoCamera` where a file has more cameras than are taken at a time."""
    if count > MOST_CAMERAS:
        raise NoCamera(
            f"it has {count} cameras; up to {MOST_CAMERAS} are taken in at a time. Export those that are needed, or in "
            "several files"
        )
