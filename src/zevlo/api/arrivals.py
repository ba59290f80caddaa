"""Models on their way in: what is being done with each, and how to give one up."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass, field

MOST_REMEMBERED = 64


@dataclass
class Coming:
    """One model on its way in. ``stop`` gives its reading up."""

    doing: str = "arriving"
    share: float | None = None
    stop: threading.Event = field(default_factory=threading.Event)

    def tell(self, doing: str, share: float | None) -> None:
        self.doing, self.share = doing, share


class Arrivals:
    """Models on their way in, by the ticket the desk gave each."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._coming: OrderedDict[str, Coming] = OrderedDict()

    def of(self, ticket: str) -> Coming:
        """The arrival with a ticket; a new one where it is not known yet."""
        with self._lock:
            found = self._coming.setdefault(ticket, Coming())
            self._coming.move_to_end(ticket)
            while len(self._coming) > MOST_REMEMBERED:
                self._coming.popitem(last=False)
            return found

    def known(self, ticket: str) -> Coming | None:
        """The arrival with a ticket, or None."""
        with self._lock:
            return self._coming.get(ticket)
