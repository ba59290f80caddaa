"""What goes over the wire beside the core's own models. The desk's types are generated from these."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from zevlo.core.gestures import ShotGesture, ViewGesture
from zevlo.core.light.setup import LightSetup
from zevlo.core.optics.back import Format
from zevlo.core.optics.focus import BlurLimitOffer
from zevlo.core.scout import Scout
from zevlo.core.sheet import GuideLines, Matrix, Outlines, Polyline, Sheet
from zevlo.core.shot import Back, Shot, Stand


class Message(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Trouble(Message):
    """Why a request was not followed."""

    detail: str


class PartOut(Message):
    name: str
    parent: int | None
    triangles: int


class SetOut(Message):
    """The set of a project: the desk draws ``view``; parts are the objects ``part-0``, ``part-1`` … in it."""

    revision: uuid.UUID
    file_name: str
    triangles: int
    materials: int
    textures: int
    bounds: tuple[tuple[float, float, float], tuple[float, float, float]]
    parts: list[PartOut]
    view: str


class TakeOut(Message):
    id: uuid.UUID
    number: int


class ShotOut(Message):
    id: uuid.UUID
    version: int
    shot: Shot
    locked: bool
    take: TakeOut | None
    kept: bool
    """Whether the framing is the kept one."""
    thumbnail: str
    line: str
    """One line of lens data for the shot list."""


class PrintOut(Message):
    id: uuid.UUID
    shot_id: uuid.UUID
    name: str
    frame: int | None
    """Number in the shot list now; none where the shot was deleted."""
    take: int | None
    """The take it shows; none where that framing was never kept."""
    size: tuple[int, int]
    line: str
    state: Literal["waiting", "developing", "done", "failed", "cancelled"]
    progress: float
    seconds_left: float | None
    doing: str
    trouble: str | None
    picture: str | None
    film: str | None
    stale: str | None
    """What has changed since, in words; none where the print still shows the shot as it is."""
    made_with: dict[str, Any]
    ordered: datetime


class ProjectOut(Message):
    id: uuid.UUID
    version: int
    name: str
    set: SetOut
    lifted: list[int]
    plan_height: float
    light: LightSetup
    sunward: tuple[float, float, float]
    """Unit vector towards the sun."""
    shots: list[ShotOut]
    prints: list[PrintOut]
    undo: str | None
    redo: str | None


class ProjectCard(Message):
    """A project as a small contact sheet."""

    id: uuid.UUID
    name: str
    shots: int
    set_line: str
    created: datetime
    frames: list[FrameOut]


class FrameOut(Message):
    name: str
    thumbnail: str
    ratio: float


class HomeOut(Message):
    projects: list[ProjectCard]
    undo: str | None
    redo: str | None


class ProjectChange(Message):
    version: int
    name: str | None = Field(None, min_length=1, max_length=120)
    lifted: list[Annotated[int, Field(ge=0)]] | None = None
    plan_height: float | None = Field(None, ge=-10000.0, le=10000.0)


class FromScout(Message):
    """A new shot of what the scout view shows."""

    kind: Literal["from_scout"] = "from_scout"
    scout: Scout


class FromPlan(Message):
    """A new shot from plan: stand and aim."""

    kind: Literal["from_plan"] = "from_plan"
    stand: tuple[float, float]
    aim: tuple[float, float]


class NewShot(Message):
    how: FromScout | FromPlan = Field(discriminator="kind")
    after: uuid.UUID | None = None


class ShotChange(Message):
    """Other settings (a whole shot) or a gesture that makes them, and words for the list of changes."""

    version: int
    label: str = Field("Change", max_length=120)
    shot: Shot | None = None
    gesture: ShotGesture | None = None


class Seen(Message):
    version: int


class LockChange(Seen):
    locked: bool


class MoveChange(Seen):
    after: uuid.UUID | None


class PlanOut(Message):
    """The plan: what its cut goes through, closed outlines to be filled and open lines; thin lines beyond."""

    height: float
    cut: Outlines
    cut_open: Outlines
    beyond: Polyline
    """Four numbers a line."""


class StopOffer(Message):
    f_number: float
    name: str


class Offer(Message):
    """What the instruments choose from."""

    formats: list[Format]
    picture_sizes_px: list[tuple[int, int]]
    stops: list[StopOffer]
    blur_limits: list[BlurLimitOffer]
    guides: list[GuideLines]


class OpenProject(Message):
    """First message on the live socket, and whenever another project is opened or parts are lifted off."""

    kind: Literal["open"] = "open"
    project: uuid.UUID


class AskShot(Message):
    """Solve a draft, after a gesture if there is one. ``beyond``: the thin lines of its section are to follow."""

    kind: Literal["shot"] = "shot"
    seq: int
    shot: Shot
    gesture: ShotGesture | None = None
    beyond: bool = False


class AskScout(Message):
    """The scout view after a gesture, for a picture of ratio ``ratio``."""

    kind: Literal["scout"] = "scout"
    seq: int
    scout: Scout
    ratio: float = Field(gt=0.05, lt=20.0)
    gesture: ViewGesture | None = None
    anchor: bool = False
    """First put the aim on what is in the middle of the view, so that orbit and shift go by it."""
    back: Back | None = None
    """Back of the shot that would be made of this view; its frame then lies in the picture."""


class Ping(Message):
    kind: Literal["ping"] = "ping"
    seq: int


LiveQuestion = Annotated[OpenProject | AskShot | AskScout | Ping, Field(discriminator="kind")]


class ShotAnswer(Message):
    kind: Literal["shot"] = "shot"
    seq: int
    shot: Shot
    sheet: Sheet
    refused: str | None = None


class BeyondAnswer(Message):
    """Thin lines of the section from a stand. They take longer than the sheet and come by themselves."""

    kind: Literal["beyond"] = "beyond"
    stand: Stand
    lines: Polyline
    """Four numbers a line."""


class ScoutAnswer(Message):
    kind: Literal["scout"] = "scout"
    seq: int
    scout: Scout
    view: Matrix
    projection: Matrix
    heading_deg: float
    compass: str
    above_floor_m: float | None
    frame: tuple[float, float] | None
    """Share of the picture's width and height, about its middle, that a shot of this view would show."""


class LiveTrouble(Message):
    kind: Literal["trouble"] = "trouble"
    seq: int | None
    detail: str


class News(Message):
    """Something in a project (or, without one, in the list of projects) is other than it was: ask again."""

    kind: Literal["news"] = "news"
    about: str


class Pong(Message):
    kind: Literal["pong"] = "pong"
    seq: int


LiveAnswer = Annotated[ShotAnswer | BeyondAnswer | ScoutAnswer | LiveTrouble | News | Pong, Field(discriminator="kind")]
ProjectCard.model_rebuild()
