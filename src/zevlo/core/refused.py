"""What cannot be done, in words for the artist."""

from __future__ import annotations

from typing import Any


class Refused(ValueError):
    """A gesture that cannot be followed, with the reason in words for the artist.

    ``nearest``: what comes nearest to it, where it can be followed part of the way. ``asked``: what was asked for,
    where something else may do it.
    """

    def __init__(self, words: str, nearest: Any = None, asked: Any = None) -> None:
        super().__init__(words)
        self.nearest = nearest
        self.asked = asked
