"""What would do instead, where a shot cannot be as it is wanted: in words, at what cost, with one press."""

from __future__ import annotations

from typing import Generic, TypeVar

from zevlo.core.bases import SheetGroup
from zevlo.core.instruments.instrument import Gesture

G = TypeVar("G", bound=Gesture)


class Remedy(SheetGroup, Generic[G]):
    """One thing that would do instead, what it costs, and the gesture that does it."""

    words: str
    cost: str
    gesture: G
