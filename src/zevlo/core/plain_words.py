"""Errors in words: which key, what it got, what it may be; and nothing of a library's own."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

_AN_OBJECT = "it has to be an object, { … }"
_OWN = {"model_type": _AN_OBJECT, "dict_type": _AN_OBJECT, "model_attributes_type": _AN_OBJECT,
        "list_type": "it has to be a list, [ … ]", "tuple_type": "it has to be a list, [ … ]"}  # fmt: skip
"""What is said of kinds of errors whose own words name kinds of the language."""


def _value(value: Any) -> str:
    """What was got, as it is written in JSON."""
    try:
        text = json.dumps(value, ensure_ascii=False)
    except (TypeError, ValueError, RecursionError):
        text = "something that is no JSON"
    return text if len(text) <= 60 else text[:57] + "…"


def error_lines(errors: Sequence[Any]) -> list[str]:
    """One line for each error of pydantic's list."""
    lines = []
    for error in errors:
        where = ".".join(str(step) for step in error["loc"] if step not in ("body", "query", "path"))
        message = str(error["msg"]).removeprefix("Value error, ")
        if error["type"] == "extra_forbidden":
            lines.append(f"{where}: there is no such key")
        elif error["type"] == "missing":
            lines.append(f"{where}: it is missing" if where else "something is missing")
        elif error["type"] == "value_error":
            lines.append(f"{where}: {message}" if where else message)
        else:
            words = _OWN.get(error["type"], f"{message[0].lower()}{message[1:]}")
            lines.append(f"{where}: got {_value(error.get('input'))}; {words}".removeprefix(": "))
    return lines


def fit_to_send(words: str) -> str:
    """Words without what no answer can carry: half of a surrogate pair out of somebody's key."""
    return words.encode("utf-8", "replace").decode()


def in_words(error: ValidationError) -> str:
    """A validation error as text."""
    return fit_to_send("; ".join(error_lines(error.errors(include_url=False))))


class InWords(ValueError):
    """What is wrong with something that was read, in words that can be told as they are."""


def why(error: Exception) -> str:
    """What an error met while reading something means, in words: those of a library tell nothing to who reads them."""
    if isinstance(error, ValidationError):
        return in_words(error)
    if isinstance(error, InWords):
        return fit_to_send(str(error))
    if isinstance(error, KeyError):
        return fit_to_send(f"it has no “{error.args[0]}”" if error.args else "something is missing in it")
    if isinstance(error, IndexError):
        return "it refers to something that is not there"
    if isinstance(error, ZeroDivisionError):
        return "a number in it is 0 that must not be"
    if isinstance(error, OverflowError):
        return "a number in it is out of all range"
    return "something in it is of another kind than it should be"
