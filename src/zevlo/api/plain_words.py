"""Why the database does not answer, in words."""

from __future__ import annotations

DISK_FULL = "53100"
"""PostgreSQL's word for it (SQLSTATE, class 53)."""


def away_words(error: Exception) -> str:
    """Why the database does not answer for now."""
    cause = getattr(error, "orig", None) or error
    if getattr(cause, "sqlstate", None) == DISK_FULL:
        return "The database's disk is full, so nothing can be written. Make room; what you did is kept and sent then."
    return "The database does not answer for now. What you do is kept and sent when it is back."
