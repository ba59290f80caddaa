"""The cameras of a file, one by one: how many are taken in is told before the first is read, as one is quick to write
and slow to take, and one that cannot be read does not keep the others back."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera, Unread
from zevlo.core.plain_words import why
from zevlo.files.limits import MOST_CAMERAS
from zevlo.text import cameras as say

One = TypeVar("One")
_BROKEN = (ValueError, KeyError, IndexError, TypeError, AttributeError, ArithmeticError, RecursionError)


def require_few(count: int) -> None:
    """Raise :class:`~zevlo.core.exchange.camera_record.NoCamera` where a file has more cameras than are taken."""
    if count > MOST_CAMERAS:
        raise NoCamera(say.it_has_cameras_up_to_are_taken(count, MOST_CAMERAS))


def each(rows: Sequence[One], read: Callable[[One], CameraRecord], name_of: Callable[[int, One], str]) -> Found:
    """Each camera that is told, read, or why it cannot be; ``name_of``: what one is called, that is told by its number
    from 1. Raises :class:`~zevlo.core.exchange.camera_record.NoCamera` where there are too many."""
    require_few(len(rows))
    found: Found = []
    for n, one in enumerate(rows, 1):
        try:
            found.append(read(one))
        except _BROKEN as reason:
            found.append(Unread(name_of(n, one), say.cannot_be_read(why(reason))))
    return found
