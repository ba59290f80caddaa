"""Writes of one scope come one after the other already before they reach the database: those that wait hold no
connection and no thread, so that other projects go on however many wait for one."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass, field

from zevlo.store.changes import WAITS_S, Busy


@dataclass
class _Line:
    lock: asyncio.Lock = field(default_factory=asyncio.Lock)
    length: int = 0
    """Who waits, and who has their turn."""


class Lines:
    """The lines of those who write, one for each scope somebody writes in."""

    def __init__(self) -> None:
        self._lines: dict[str, _Line] = {}

    @asynccontextmanager
    async def turn(self, scope: str) -> AsyncIterator[None]:
        """Wait for one's turn in a scope, and have it until the end. Raises
        :class:`~zevlo.store.changes.Busy` where it does not come in time."""
        line = self._lines.setdefault(scope, _Line())
        line.length += 1
        try:
            try:
                async with asyncio.timeout(WAITS_S):
                    await line.lock.acquire()
            except TimeoutError:
                raise Busy(scope) from None
            try:
                yield
            finally:
                line.lock.release()
        finally:
            line.length -= 1
            if line.length == 0:
                del self._lines[scope]
