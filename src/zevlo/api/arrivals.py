"""Models on their way in: two are read at once, the others wait in line; each can be followed and given up."""

from __future__ import annotations

import asyncio
import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import TypeVar

from starlette.requests import Request

from zevlo.text import answers as say
from zevlo.text import everywhere

AT_ONCE = 2
MOST_REMEMBERED = 64
_LOOKS_EVERY_S = 0.25
Result = TypeVar("Result")


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
        self._readers = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="model")
        self._line: list[Coming] = []

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

    async def read(self, request: Request, coming: Coming, work: Callable[[], Result]) -> Result:
        """Do the ``work`` of reading a model when its turn has come; given up where whoever sent it is gone.

        It ends where ``coming.stop`` is set, which ``work`` has to heed.
        """
        with self._lock:
            self._line.append(coming)
        self._tell_line()
        try:
            done = asyncio.get_running_loop().run_in_executor(self._readers, self._in_turn, coming, work)
            while not (await asyncio.wait({done}, timeout=_LOOKS_EVERY_S))[0]:
                if await request.is_disconnected():
                    coming.stop.set()
            return await done
        finally:
            with self._lock:
                if coming in self._line:
                    self._line.remove(coming)

    def _in_turn(self, coming: Coming, work: Callable[[], Result]) -> Result:
        with self._lock:
            self._line.remove(coming)
        coming.tell(everywhere.LOOKING_AT_THE_FILE, None)
        self._tell_line()
        return work()

    def _tell_line(self) -> None:
        with self._lock:
            for before, coming in enumerate(self._line):
                coming.tell(say.waiting_in_line(AT_ONCE, before), None)

    def close(self) -> None:
        """Give up all that is on its way, so that the server can end."""
        with self._lock:
            waiting = list(self._coming.values()) + self._line
        for coming in waiting:
            coming.stop.set()
        self._readers.shutdown(wait=False, cancel_futures=True)
