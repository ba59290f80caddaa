"""Why the database does not answer, in words."""

from __future__ import annotations

from zevlo.text import answers as say

DISK_FULL = "53100"
"""PostgreSQL's word for it (SQLSTATE, class 53)."""


def away_words(error: Exception) -> str:
    """Why the database does not answer for now."""
    cause = getattr(error, "orig", None) or error
    if getattr(cause, "sqlstate", None) == DISK_FULL:
        return say.THE_DATABASES_DISK_IS_FULL
    return say.THE_DATABASE_DOES_NOT_ANSWER
