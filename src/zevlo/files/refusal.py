"""Why a file is not taken: one sentence an artist can act on."""

from __future__ import annotations


class CannotRead(ValueError):
    """A file that is not taken in. The message says what is wrong with it and what to do."""
