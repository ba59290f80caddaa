"""This machine as a worker of the lab: it says that it is there, what it does, and how fast it is."""

from __future__ import annotations

import os
import platform
import socket
import uuid
from dataclasses import dataclass

from sqlalchemy import Engine

from zevlo import __version__
from zevlo.lab.documents import make_documents
from zevlo.lab.made_with import require_same
from zevlo.lab.proof import develop
from zevlo.store import machines
from zevlo.store.database import transaction
from zevlo.store.tables import Print
from zevlo.text import lab as say

SMOOTHING = 0.2
"""Share of the newest pass in the speed that is told."""


@dataclass
class Worker:
    """One worker of this machine, known to the database it works for."""

    engine: Engine
    key: uuid.UUID
    rays_per_s: float = 0.0
    measured: bool = False
    """Whether that is its own speed; else it is that of the last worker of this machine."""

    @classmethod
    def joining(cls, engine: Engine) -> Worker:
        """Let the lab know of it."""
        require_same(engine)
        with transaction(engine) as session:
            worker = cls(engine, uuid.uuid4(), machines.joins(session, socket.gethostname()))
        worker.still_there(rays_per_s=worker.rays_per_s)
        return worker

    def make(self, engine: Engine, print_id: uuid.UUID, piece: int, job: int | None) -> None:
        """Make a piece of a print, and say so meanwhile."""
        with transaction(engine) as session:
            entry = session.get(Print, print_id)
            doing = "" if entry is None else say.print_of(entry.kind, entry.recipe["shot"]["name"])
        self.still_there(doing=doing)
        try:
            speed = develop(engine, print_id, piece, job)
            if speed is not None:
                self.rays_per_s += (speed - self.rays_per_s) * (SMOOTHING if self.measured else 1.0)
                self.measured = True
        finally:
            self.still_there(doing="", rays_per_s=self.rays_per_s)

    def write(self, engine: Engine, key: uuid.UUID, job: int | None) -> None:
        """Make documents, and say so meanwhile."""
        self.still_there(doing="Documents")
        try:
            make_documents(engine, key, job)
        finally:
            self.still_there(doing="")

    def still_there(self, **known: str | float) -> None:
        """Say that it is there, and what is other of it by now. Raises
        :class:`~zevlo.lab.made_with.TurnedAway` where the lab makes its pictures otherwise meanwhile."""
        require_same(self.engine)
        about = {"version": __version__, "cores": os.cpu_count(), "kind": platform.machine(), "process": os.getpid()}
        with transaction(self.engine) as session:
            machines.heard_of(session, self.key, socket.gethostname(), about, **known)

    def leaving(self) -> None:
        """Say that it goes."""
        with transaction(self.engine) as session:
            machines.leave(session, self.key)
