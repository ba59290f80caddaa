"""Validation errors in words: which key, what it got, what it may be."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

DISK_FULL = "53100"
"""PostgreSQL's word for it (SQLSTATE, class 53)."""


def _value(value: Any) -> str:
    text = repr(value)
    return text if len(text) <= 60 else text[:57] + "…"


def error_lines(errors: Sequence[Any]) -> list[str]:
    """One line for each error of pydantic's list."""
    lines = []
    for error in errors:
        where = ".".join(str(step) for step in error["loc"] if step not in ("body", "query", "path"))
        message = str(error["msg"]).removeprefix("Value error, ")
        if error["type"] == "extra_forbidden":
            lines.append(f"{where}: there is no such key")
        elif error["type"] in ("value_error", "missing"):
            lines.append(f"{where}: {message}" if where else message)
        else:
            lines.append(f"{where}: got {_value(error.get('input'))}; {message[0].lower()}{message[1:]}")
    return lines


def fit_to_send(words: str) -> str:
    """Words without what no answer can carry: half of a surrogate pair out of somebody's key."""
    return words.encode("utf-8", "replace").decode()


def away_words(error: Exception) -> str:
    """Why the database does not answer for now."""
    cause = getattr(error, "orig", None) or error
    if getattr(cause, "sqlstate", None) == DISK_FULL:
        return "The database's disk is full, so nothing can be written. Make room; what you did is kept and sent then."
    return "The database does not answer for now. What you do is kept and sent when it is back."


def in_words(error: ValidationError) -> str:
    """A validation error as text."""
    return fit_to_send("; ".join(error_lines(error.errors(include_url=False))))
