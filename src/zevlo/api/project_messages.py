"""What goes over the wire of projects as a whole, and of the first page."""

from __future__ import annotations

import uuid
from datetime import datetime

from pydantic import Field

from zevlo.api.messages import Message
from zevlo.api.set_messages import SetOut
from zevlo.api.shot_messages import ShotOut
from zevlo.core.bases import PartId
from zevlo.core.framing.placing_habits import Habits
from zevlo.core.framing.presets import Presets
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import Site
from zevlo.core.scene.places.levels import Places
from zevlo.core.scene.stand_ins.made import MOST_STAND_INS, StandIn

MOST_LIFTED = 100_000


class RoomMark(Message):
    """Where the name of a room stands in plan, and its area."""

    at: tuple[float, float]
    area_m2: float


class StandInMark(Message):
    """A stand-in seen from above: its outline, and a place before it to turn it by."""

    outline: list[tuple[float, float]]
    front: tuple[float, float]
    here: bool
    """Whether it stands on the level the plan is cut on."""


class ProjectOut(Message):
    """A project whole, but for its prints: they are other far more often than it is, and many."""

    id: uuid.UUID
    version: int
    name: str
    set: SetOut
    lifted: list[str]
    hidden: list[int]
    """All parts not drawn while working: those lifted off and all below them."""
    lifted_above: bool
    """Whether all above the plan's cut is lifted off too."""
    plan_height: float
    plan_level: str | None
    """The level the plan is cut on."""
    places: Places
    room_marks: list[RoomMark]
    stand_ins: list[StandIn]
    stand_in_marks: list[StandInMark]
    site: Site
    habits: Habits
    kept: Presets
    """Its own formats, sizes and sets."""
    step_m: float
    """How far one move of a grip goes."""
    heights_by_size: bool
    """Whether new shots get their heights from the set's size, as no hand chose any."""
    light: LightSetup
    sunward: tuple[float, float, float]
    """Unit vector towards the sun."""
    shots: list[ShotOut]
    undo: str | None
    redo: str | None
    undo_at: int | None
    """The change undo would take back: told again when undo is pressed, so that nothing else is taken back."""
    redo_at: int | None


class FrameOut(Message):
    name: str
    thumbnail: str
    ratio: float


class ProjectCard(Message):
    """A project as a small contact sheet."""

    id: uuid.UUID
    name: str
    shots: int
    set_line: str
    created: datetime
    frames: list[FrameOut]


class HomeOut(Message):
    projects: list[ProjectCard]
    undo: str | None
    redo: str | None
    undo_at: int | None
    redo_at: int | None
    upload_limit: int
    """Bytes of a model that is taken in."""


class MarkChange(Message):
    """The height a shot's lens stands at is to have a mark on the staff, or none."""

    shot: uuid.UUID
    on: bool


class ProjectChange(Message):
    version: int
    name: str | None = Field(None, min_length=1, max_length=120)
    lifted: list[PartId] | None = Field(None, max_length=MOST_LIFTED)
    plan_height: float | None = Field(None, ge=-10000.0, le=10000.0)
    plan_level: str | None = None
    """Cut the plan on this level, at the usual height above its floor."""
    places: Places | None = None
    site: Site | None = None
    habits: Habits | None = None
    kept: Presets | None = None
    mark: MarkChange | None = None
    stand_ins: list[StandIn] | None = Field(None, max_length=MOST_STAND_INS)
    label: str | None = Field(None, max_length=120)
    """Words for the list of changes, where levels, rooms or stand-ins are changed."""
