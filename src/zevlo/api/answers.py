"""Answers that were worked out before, by a key of all that went into each: the ones used last."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Hashable, Iterable, Mapping
from typing import Generic, TypeVar

Answer = TypeVar("Answer")
MOST_KEPT = 6000


class Answers(Generic[Answer]):
    """So many answers, for whichever thread asks."""

    def __init__(self, most: int = MOST_KEPT) -> None:
        self._most, self._lock = most, threading.Lock()
        self._kept: OrderedDict[Hashable, Answer] = OrderedDict()

    def known(self, keys: Iterable[Hashable]) -> dict[Hashable, Answer]:
        """Those there are of some."""
        with self._lock:
            return {key: self._kept[key] for key in keys if key in self._kept}

    def keep(self, answers: Mapping[Hashable, Answer]) -> None:
        """Keep some, as those used last."""
        with self._lock:
            for key, one in answers.items():
                self._kept[key] = one
                self._kept.move_to_end(key)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
