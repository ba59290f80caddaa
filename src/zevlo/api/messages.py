"""What goes over the wire beside the core's own models. The desk's types are generated from these."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from zevlo.core.differences import CopyGroup
from zevlo.core.gestures import ShotGesture
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import Site
from zevlo.core.optics.back import Format
from zevlo.core.optics.focus import BlurLimitOffer
from zevlo.core.patch import ShotPatch
from zevlo.core.scene.levels import Places
from zevlo.core.scene.placing import MetresPerUnit, Placing, Up
from zevlo.core.scene.stand_ins import MOST_STAND_INS, StandIn
from zevlo.core.scout import Scout
from zevlo.core.sheet import GuideLines, Matrix, Outlines, Polyline
from zevlo.core.shot import PartId, Shot, Stand
from zevlo.core.stand.habits import Habits, HeightPair, Mark

MOST_LIFTED = 100_000


class Message(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Trouble(Message):
    """Why a request was not followed."""

    detail: str


class PartOut(Message):
    """``id``: what it is known by for good, in shots and among what is lifted off."""

    name: str
    parent: int | None
    triangles: int
    id: str


class SetOut(Message):
    """The set of a project: the desk draws ``views``, the largest parts first; parts are the objects ``part-0``,
    ``part-1`` … in them."""

    revision: uuid.UUID
    file_name: str
    kind: str
    triangles: int
    drawn: int
    """Triangles the desk draws: fewer where the set is thinned out for drawing."""
    materials: int
    textures: int
    bounds: tuple[tuple[float, float, float], tuple[float, float, float]]
    body: tuple[tuple[float, float, float], tuple[float, float, float]]
    """Where most of its detail lies: what drawings show first."""
    small: bool
    """Whether it is a thing on a table, which is shown whole."""
    parts: list[PartOut]
    views: list[str]
    view_matrix: Matrix
    """From what the views are told in to the world."""
    placing: Placing
    unit: str | None
    """Short name of the unit it is read in."""
    guessed: list[Literal["unit", "up"]]
    """What the file does not say and was guessed, and nobody has settled since."""
    stand_ins_view: str | None
    """Where the stand-ins are drawn from, in the world; their parts come after those of the file."""
    own_parts: int
    """How many of the parts are the file's."""
    outline: list[tuple[float, float]]
    """The set from the south: corners (x, z) of the smallest convex outline around it."""
    said: str
    """What the file says of its unit and axis, in words."""
    remarks: list[str]


class ArrivalOut(Message):
    """A model on its way in. ``share`` from 0 to 1, where that is known."""

    doing: str
    share: float | None


class TakeOut(Message):
    id: uuid.UUID
    number: int
    name: str | None


class TakeCard(TakeOut):
    """A take beside the shot as it is now."""

    kept: bool
    """Whether it is the kept one."""
    thumbnail: str
    line: str
    differs: list[str]
    """What the shot has other than this take, in words."""


class MarkerOut(Message):
    """A shot's marker in space: the lens, and the corners of its frame a step ahead, anticlockwise from bottom left."""

    at: tuple[float, float, float]
    frame: list[tuple[float, float, float]]


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
    ratio: str
    frame_px: tuple[int, int]
    """Pixels of the picture, what is trimmed off taken off."""
    level: str | None
    room: str | None
    compass: str
    labels: list[str]
    colour: str | None
    named_by_hand: bool
    left_out: list[int]
    """Numbers of the parts this shot does not show, with all below them."""
    view: Matrix
    projection: Matrix
    marker: MarkerOut


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


class RoomMark(Message):
    """Where the name of a room stands in plan, and its area."""

    at: tuple[float, float]
    area_m2: float


class StandInMark(Message):
    """A stand-in seen from above: its outline, and a place before it to turn it by."""

    outline: list[tuple[float, float]]
    front: tuple[float, float]


class ProjectOut(Message):
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
    heights_by_size: bool
    """Whether new shots get their heights from the set's size, as no hand chose any."""
    light: LightSetup
    sunward: tuple[float, float, float]
    """Unit vector towards the sun."""
    shots: list[ShotOut]
    prints: list[PrintOut]
    undo: str | None
    redo: str | None
    undo_at: int | None
    """The change undo would take back: told again when undo is pressed, so that nothing else is taken back."""
    redo_at: int | None


class ShotsOut(Message):
    """A project's shots and what undo would take back, without its set, prints and light."""

    version: int
    shots: list[ShotOut]
    undo: str | None
    redo: str | None
    undo_at: int | None
    redo_at: int | None


class PrintsOut(Message):
    prints: list[PrintOut]


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
    undo_at: int | None
    redo_at: int | None
    upload_limit: int
    """Bytes of a model that is taken in."""


class Step(Message):
    """Undo or redo of the change that was seen as the newest; without one, of whatever is."""

    change: int | None = None


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
    stand_ins: list[StandIn] | None = Field(None, max_length=MOST_STAND_INS)
    label: str | None = Field(None, max_length=120)
    """Words for the list of changes, where levels, rooms or stand-ins are changed."""


class PlacingChange(Message):
    """Another unit, up axis or turn for the set; ``drop``: its lowest point to zero; ``again``: as it first came."""

    version: int
    metres_per_unit: MetresPerUnit | None = None
    up: Up | None = None
    turn_deg: float | None = Field(None, ge=-360.0, le=360.0)
    drop: bool = False
    again: bool = False


class FromScout(Message):
    """A new shot of what the scout view shows."""

    kind: Literal["from_scout"] = "from_scout"
    scout: Scout


class FromPlan(Message):
    """A new shot from plan: stand and aim."""

    kind: Literal["from_plan"] = "from_plan"
    stand: tuple[float, float]
    aim: tuple[float, float]


class FromStand(Message):
    """A new shot at a suggested stand."""

    kind: Literal["from_stand"] = "from_stand"
    stand: Stand


class Making(Message):
    """``id``: what is made is known by it, where whoever asks chose it. Asked again, as after an answer that got lost,
    nothing more is made."""

    id: uuid.UUID | None = None


class NewShot(Making):
    how: FromScout | FromPlan | FromStand = Field(discriminator="kind")
    after: uuid.UUID | None = None


class ShotChange(Making):
    """The keys of a shot a hand changed, or a gesture that changes it, and words for the list of changes.

    ``seen``: the same keys as they were when the hand took hold of them. With it a change counts on whatever the shot
    is by now, unless somebody else changed those very keys; without it only on the version that is told.
    """

    version: int
    label: str = Field("Change", max_length=120)
    patch: ShotPatch | None = None  # type: ignore[valid-type]
    seen: ShotPatch | None = None  # type: ignore[valid-type]
    gesture: ShotGesture | None = None


class Seen(Message):
    version: int


class Another(Making):
    """A second shot with one thing changed: some keys, or by a gesture."""

    patch: ShotPatch | None = None  # type: ignore[valid-type]
    gesture: ShotGesture | None = None


class CardChange(Seen):
    """Own labels, the colour of the marker ("" is the usual one), or the name by what the shot shows again."""

    labels: list[Annotated[str, Field(min_length=1, max_length=40)]] | None = Field(None, max_length=20)
    colour: Annotated[str, Field(pattern="^(|#[0-9A-Fa-f]{6})$")] | None = None
    name_itself: bool = False


class TakeName(Message):
    name: str = Field(max_length=80)


class CopyChange(Message):
    """Groups of settings copied from one shot to others. ``only_try``: nothing is written."""

    source: uuid.UUID
    targets: list[uuid.UUID] = Field(min_length=1, max_length=1000)
    groups: list[CopyGroup] = Field(min_length=1)
    only_try: bool = False


class CopiedOut(Message):
    """What copying changes in one shot, or why it cannot be done there."""

    shot: uuid.UUID
    name: str
    changes: list[str]
    refused: str | None


class CopyOut(Message):
    shots: list[CopiedOut]
    written: bool


class OrderChange(Message):
    by: Literal["name", "room", "lens", "label"]


class SuggestionOut(Message):
    """A stand worth a look, with its picture."""

    what: Literal["corner", "doorway", "square on"]
    words: str
    stand: Stand
    picture: str


class SuggestionsOut(Message):
    found: list[SuggestionOut]


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


class MeasureOut(Message):
    """What was written, in metres, millimetres of film, degrees or seconds."""

    value: float


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
    named_heights: list[Mark]
    height_pairs: list[HeightPair]
    height_words: list[str]
    """Those pairs in metres and feet, for reading."""


ProjectCard.model_rebuild()
