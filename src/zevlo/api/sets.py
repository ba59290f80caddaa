"""Sets held in memory while they are worked with: unpacked once, and once more for each choice of lifted parts."""

from __future__ import annotations

import hashlib
import json
import threading
import uuid
from collections import OrderedDict
from dataclasses import dataclass, replace

from sqlalchemy import Engine

from zevlo.api.set_messages import LeftoverOut, LeftoversOut, PlanOut
from zevlo.core.camera.blur_map import soft_all_over_px
from zevlo.core.camera.drawing import packed, thin_lines
from zevlo.core.camera.from_shot import Framing, cutting_of
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.as_shown import as_shown
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.lit import LitSet, light_set
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.model.visible import CuttingPlane, Lifted, Visible
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.files.arrays import unpack_set
from zevlo.store.blobs import open_blob
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.projects import arrangement_of, lights_of
from zevlo.store.tables import Project, Revision
from zevlo.text import answers as say

PLAN_DEPTH_M = 8.0


@dataclass(frozen=True)
class SetState:
    """Which set, how it stands, and what of it is there: the key of everything worked out from a set."""

    revision: uuid.UUID
    arrangement: Arrangement
    lifted: frozenset[str] = frozenset()
    lifted_above: float | None = None
    left_out: frozenset[str] = frozenset()

    def whole(self) -> SetState:
        """With nothing lifted off or left out: what heights and gestures go by."""
        return replace(self, lifted=frozenset(), lifted_above=None, left_out=frozenset())

    def shown_by(self, left_out: tuple[str, ...]) -> SetState:
        """As a shot's picture has it: nothing lifted off is missing, what it leaves out is."""
        return replace(self.whole(), left_out=frozenset(left_out))

    def without_stand_ins(self) -> SetState:
        """As the file's own set alone: what a stand-in is put on."""
        return replace(self.whole(), arrangement=self.arrangement.model_copy(update={"stand_ins": ()}))


def standing(project: Project) -> SetState:
    """A project's set as it is on the desk."""
    assert project.revision_id is not None
    above = project.plan_height if project.lifted_above else None
    return SetState(project.revision_id, arrangement_of(project), frozenset(project.lifted), above)


def mark_of(project: Project) -> str:
    """Another word for each other state of what a set shows: how it stands, what is lifted off, its light."""
    return hashlib.sha256(repr((standing(project), lights_of(project))).encode()).hexdigest()[:16]


class SetCache:
    """A few sets, the ones used last."""

    def __init__(self, engine: Engine, room: int = 3) -> None:
        self._engine, self._room = engine, room
        self._lock = threading.RLock()
        self._read: OrderedDict[uuid.UUID, SetModel] = OrderedDict()
        self._models: OrderedDict[SetState, SetModel] = OrderedDict()
        self._working: OrderedDict[SetState, WorkingSet] = OrderedDict()
        self._opened: OrderedDict[tuple[SetState, CuttingPlane], WorkingSet] = OrderedDict()
        self._plans: OrderedDict[tuple[SetState, float], PlanOut] = OrderedDict()
        self._soft: OrderedDict[tuple[SetState, str, str | None], float | None] = OrderedDict()
        self._looking = threading.Lock()
        self._leftovers: OrderedDict[tuple[SetState, str], LeftoversOut] = OrderedDict()

    def model(self, stands: SetState) -> SetModel:
        """The whole set as it stands."""
        key = stands.whole()
        with self._lock:
            if key not in self._models:
                self._models[key] = arranged(self._as_read(key.revision), key.arrangement)
                _trim(self._models, self._room)
            self._models.move_to_end(key)
            return self._models[key]

    def _as_read(self, revision: uuid.UUID) -> SetModel:
        """The set as its file tells it. However it stands, most of its arrays are these."""
        if revision not in self._read:
            with transaction(self._engine) as session:
                row = session.get(Revision, revision)
                if row is None:
                    raise Missing(say.THIS_SET_IS_NOT_THERE_ANY_MORE)
                with open_blob(session, row.arrays) as file:
                    self._read[revision] = unpack_set(file)
            _trim(self._read, self._room)
        self._read.move_to_end(revision)
        return self._read[revision]

    def working(self, stands: SetState) -> WorkingSet:
        """The set without what is lifted off and left out."""
        with self._lock:
            if stands not in self._working:
                model = self.model(stands)
                unlifted = replace(stands, lifted=frozenset(), lifted_above=None)
                lifted = Lifted(model.parts_at(stands.lifted), stands.lifted_above)
                visible = Visible(lifted, model.parts_at(stands.left_out))
                self._working[stands] = WorkingSet(
                    model, visible, None if stands == unlifted else self.working(unlifted)
                )
                _trim(self._working, 2 * self._room)
            self._working.move_to_end(stands)
            return self._working[stands]

    def ready(self, stands: SetState) -> WorkingSet:
        """The working set with what gestures ask of it worked out, and of the whole it is a part of."""
        working = self.working(stands)
        for one in (working, working.whole):
            _ = one.rays, one.cut_index
        _ = working.whole.things_stand_on, working.whole.body
        return working

    def lit(self, stands: SetState, light: PlacedLight, shot: Shot | None = None) -> LitSet:
        """The set in its light as a shot shows it; whole, without one."""
        plane = None if shot is None else cutting_of(shot)
        left_out = () if shot is None else shot.left_out
        if plane is None:
            return light_set(self.working(stands.shown_by(left_out)), light)
        key = (stands.shown_by(left_out), plane)
        with self._lock:
            found = self._opened.get(key)
        if found is None:
            # Not while others wait: to open a large set takes a while.
            found = as_shown(self.working(stands.whole()), left_out, plane)
        with self._lock:
            self._opened[key] = found
            self._opened.move_to_end(key)
            _trim(self._opened, self._room)
        return light_set(found, light)

    def soft_all_over_px(self, stands: SetState, shot: Shot, cut: str | None = None) -> float | None:
        """How soft a picture, or a cut of it, is in which nothing is sharp, as the shot shows the set; kept, as it is
        asked for after every change of an order."""
        shown = stands.shown_by(shot.left_out)
        key = (shown, shot.model_dump_json(), cut)
        with self._lock:
            if key in self._soft:
                return self._soft[key]
        frame, size_px = picture_of(shot, cut)
        found = soft_all_over_px(Framing(shot, self.working(shown)), frame, size_px[0])
        with self._lock:
            self._soft[key] = found
            _trim(self._soft, 4000)
        return found

    def leftovers(self, stands: SetState, where: SetContext) -> LeftoversOut:
        """Things to look at in a set with its rooms, worked out once."""
        key = (stands, json.dumps(where.places.model_dump(mode="json"), sort_keys=True))
        with self._looking:
            if key not in self._leftovers:
                working = self.working(stands)
                names = [part.name for part in working.model.parts]
                listed = [
                    LeftoverOut(part=one.part, name=names[one.part], why=one.why, words=one.words, at=one.at,
                                size_m=one.size_m)
                    for one in find_leftovers(working, where)
                ]  # fmt: skip
                self._leftovers[key] = LeftoversOut(found=listed)
                _trim(self._leftovers, 8)
            self._leftovers.move_to_end(key)
            return self._leftovers[key]

    def plan(self, stands: SetState, height: float, thin: bool = True) -> PlanOut:
        """The plan cut at a height, worked out once; without the ``thin`` lines beyond it comes sooner."""
        key = (stands, height)
        with self._lock:
            if key in self._plans:
                return self._plans[key]
        working = self.working(stands)
        plane = plan_plane(height)
        closed, lines = packed(working.cut(plane))
        if not thin:
            return PlanOut(height=height, cut=closed, cut_open=lines, beyond=[])
        beyond = thin_lines(working.beyond(plane, PLAN_DEPTH_M), working.scale)
        plan = PlanOut(height=height, cut=closed, cut_open=lines, beyond=beyond)
        with self._lock:
            self._plans[key] = plan
            _trim(self._plans, 24)
        return plan


def _trim(shelf: OrderedDict, room: int) -> None:  # type: ignore[type-arg]
    while len(shelf) > room:
        shelf.popitem(last=False)
