"""Validation errors in words: which key, what it got, what it may be."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError


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


def in_words(error: ValidationError) -> str:
    """A validation error as text."""
    return "; ".join(error_lines(error.errors(include_url=False)))
