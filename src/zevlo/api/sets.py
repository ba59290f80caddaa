"""Sets held in memory while they are worked with: unpacked once, and once more for each choice of lifted parts."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict

from sqlalchemy import Engine

from zevlo.api.messages import PlanOut
from zevlo.core.light.setup import LightSetup
from zevlo.core.scene.cut import plan_plane
from zevlo.core.scene.lit import LitSet, light_set
from zevlo.core.scene.model import SetModel
from zevlo.core.scene.sight import packed, thin_lines
from zevlo.core.scene.working import WorkingSet
from zevlo.files.arrays import unpack_set
from zevlo.store.blobs import get_blob
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.tables import Revision

PLAN_DEPTH_M = 8.0


class SetShelf:
    """A few sets, the ones used last."""

    def __init__(self, engine: Engine, room: int = 3) -> None:
        self._engine, self._room = engine, room
        self._lock = threading.RLock()
        self._models: OrderedDict[uuid.UUID, SetModel] = OrderedDict()
        self._working: OrderedDict[tuple[uuid.UUID, frozenset[int]], WorkingSet] = OrderedDict()
        self._plans: OrderedDict[tuple[uuid.UUID, frozenset[int], float], PlanOut] = OrderedDict()

    def model(self, revision: uuid.UUID) -> SetModel:
        """The set of a revision."""
        with self._lock:
            if revision not in self._models:
                with transaction(self._engine) as session:
                    row = session.get(Revision, revision)
                    if row is None:
                        raise Missing("This set is not there any more.")
                    self._models[revision] = unpack_set(get_blob(session, row.arrays))
                _trim(self._models, self._room)
            self._models.move_to_end(revision)
            return self._models[revision]

    def working(self, revision: uuid.UUID, lifted: frozenset[int] = frozenset()) -> WorkingSet:
        """The set without the lifted parts."""
        with self._lock:
            key = (revision, lifted)
            if key not in self._working:
                self._working[key] = WorkingSet(self.model(revision), lifted)
                _trim(self._working, 2 * self._room)
            self._working.move_to_end(key)
            return self._working[key]

    def lit(self, revision: uuid.UUID, light: LightSetup) -> LitSet:
        """The whole set in its light: nothing lifted off is missing from a picture."""
        working = self.working(revision)
        return light_set(working.model, working.rays, light)

    def plan(self, revision: uuid.UUID, lifted: frozenset[int], height: float, thin: bool = True) -> PlanOut:
        """The plan cut at a height, worked out once; without the ``thin`` lines beyond it comes sooner."""
        key = (revision, lifted, height)
        with self._lock:
            if key in self._plans:
                return self._plans[key]
        working = self.working(revision, lifted)
        plane = plan_plane(height)
        closed, lines = packed(working.cut(plane))
        if not thin:
            return PlanOut(height=height, cut=closed, cut_open=lines, beyond=[])
        beyond = thin_lines(working.beyond(plane, PLAN_DEPTH_M))
        plan = PlanOut(height=height, cut=closed, cut_open=lines, beyond=beyond)
        with self._lock:
            self._plans[key] = plan
            _trim(self._plans, 24)
        return plan


def _trim(shelf: OrderedDict, room: int) -> None:  # type: ignore[type-arg]
    while len(shelf) > room:
        shelf.popitem(last=False)
