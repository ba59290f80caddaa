"""Errors in words: which key, what it got, what it may be; and nothing of a library's own."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

from zevlo.text import measures as say

_AN_OBJECT = say.IT_HAS_TO_BE_AN_OBJECT
_OWN = {"model_type": _AN_OBJECT, "dict_type": _AN_OBJECT, "model_attributes_type": _AN_OBJECT,
        "list_type": say.IT_HAS_TO_BE_A_LIST, "tuple_type": say.IT_HAS_TO_BE_A_LIST}  # fmt: skip
"""What is said of kinds of errors whose own words name kinds of the language."""


def _value(value: Any) -> str:
    """What was got, as it is written in JSON."""
    try:
        text = json.dumps(value, ensure_ascii=False)
    except (TypeError, ValueError, RecursionError):
        text = say.SOMETHING_THAT_IS_NO_JSON
    return text if len(text) <= 60 else text[:57] + "…"


def error_lines(errors: Sequence[Any]) -> list[str]:
    """One line for each error of pydantic's list."""
    lines = []
    for error in errors:
        where = ".".join(str(step) for step in error["loc"] if step not in ("body", "query", "path"))
        message = str(error["msg"]).removeprefix("Value error, ")
        if error["type"] == "extra_forbidden":
            lines.append(say.there_is_no_such(where))
        elif error["type"] == "missing":
            lines.append(say.it_is_missing(where) if where else say.SOMETHING_IS_MISSING)
        elif error["type"] == "value_error":
            lines.append(f"{where}: {message}" if where else message)
        else:
            words = _OWN.get(error["type"], f"{message[0].lower()}{message[1:]}")
            lines.append(say.got(where, _value(error.get("input")), words).removeprefix(": "))
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
        return fit_to_send(say.it_has_no(error.args[0]) if error.args else say.SOMETHING_IS_MISSING_IN_IT)
    if isinstance(error, IndexError):
        return say.IT_REFERS_TO_SOMETHING
    if isinstance(error, ZeroDivisionError):
        return say.A_NUMBER_IN_IT_IS_0
    if isinstance(error, OverflowError):
        return say.A_NUMBER_IN_IT_IS_OUT
    return say.SOMETHING_IN_IT_IS_OF_ANOTHER
