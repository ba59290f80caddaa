"""JSON as somebody wrote it: a key that is told twice is refused, as nobody knows which of the two is meant."""

from __future__ import annotations

import json
from collections import Counter
from typing import Any

from zevlo.core.plain_words import InWords
from zevlo.text import models as say


class NotANumber(InWords):
    """There is something else where a number stands; the message says what."""


class KeyTwice(InWords):
    """A key is told twice in one object; the message says which."""


def parsed(text: str | bytes) -> Any:
    """What a text of JSON tells. Raises :class:`KeyTwice`, and :class:`ValueError` where it is no JSON."""
    return json.loads(text, object_pairs_hook=_once)


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        counted = Counter(key for key, _ in pairs)
        raise KeyTwice(say.the_key_is_told(counted.most_common(1)[0][0]))
    return found


def numbers(value: Any) -> Any:
    """What a file tells where numbers stand, as it is: lists of them too. Raises :class:`NotANumber` where there
    is text instead, also such as reads like a number, or true and false."""
    if isinstance(value, str | bool):
        raise NotANumber(say.it_has_where_a_number(json.dumps(value, ensure_ascii=False)))
    for one in value if isinstance(value, list) else ():
        numbers(one)
    return value
