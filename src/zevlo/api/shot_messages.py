"""What goes over the wire of shots and their takes."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field

from zevlo.api.messages import Making, Message, Seen, ShortOut
from zevlo.api.print_messages import PrintOut
from zevlo.api.set_messages import SectionMarks
from zevlo.core.bases import Coordinate, Matrix
from zevlo.core.framing.differences import CopyGroup
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.framing.scout import Scout
from zevlo.core.framing.sheet import Sheet
from zevlo.core.instruments.focus.pairs import FocusPair
from zevlo.core.shot import Shot, Stand
from zevlo.core.shot.patch import ShotPatch
from zevlo.text import answers as say


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
    zone: list[list[tuple[float, float, float]]]
    """Within the frame, as outlines: what is sharpest; then where the sharp zone begins and ends, as far as that is to
    be seen."""


class CropOut(Message):
    """A crop of a shot: a picture of its own."""

    name: str
    thumbnail: str
    output_px: tuple[int, int]


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
    crops: list[CropOut]
    level: str | None
    room: str | None
    compass: str
    labels: list[str]
    colour: str | None
    named_by_hand: bool
    left_out: list[int]
    """Numbers of the parts this shot does not show, with all below them."""
    view: Matrix
    projection: Matrix | None
    marker: MarkerOut


class UndoOut(Message):
    """The version of a project, and what undo and redo would take back."""

    version: int
    undo: str | None
    redo: str | None
    undo_at: int | None
    """The change undo would take back: told again when undo is pressed, so that nothing else is taken back."""
    redo_at: int | None


class ShotsOut(UndoOut):
    """A project's shots and what undo would take back, without its set, prints and light."""

    shots: list[ShotOut]


class WrittenOut(ShotOut):
    """A shot as a change left it, with all that goes by it: whoever wrote it asks for nothing more."""

    sheet: Sheet | None
    """null where that takes longer than others may wait for the project: the live socket tells it."""
    short: ShortOut | None
    """Of a change that goes part of the way alone: why, and what else there is; of any other null."""
    prints: list[PrintOut]
    """The shot's own prints, which may be stale by now."""
    section: SectionMarks | None
    """What stands near its section; null where the shot stands as it stood."""
    history: UndoOut


class FromScout(Message):
    """A new shot of what the scout view shows."""

    kind: Literal["from_scout"] = "from_scout"
    scout: Scout


class FromPlan(Message):
    """A new shot from plan: stand and aim."""

    kind: Literal["from_plan"] = "from_plan"
    stand: tuple[Coordinate, Coordinate]
    aim: tuple[Coordinate, Coordinate]


class FromStand(Message):
    """A new shot at a suggested stand."""

    kind: Literal["from_stand"] = "from_stand"
    stand: Stand


class NewShot(Making):
    how: FromScout | FromPlan | FromStand = Field(discriminator="kind")
    after: uuid.UUID | None = None


class ShotChange(Making):
    """The keys of a shot a hand changed, or a gesture that changes it, and words for the list of changes.

    ``seen``: the same keys as they were when the hand took hold of them. With it a change counts on whatever the shot
    is by now, unless somebody else changed those very keys; without it only on the version that is told.
    """

    version: int
    label: str = Field(say.CHANGE, max_length=120)
    patch: ShotPatch | None = None  # type: ignore[valid-type]
    seen: ShotPatch | None = None  # type: ignore[valid-type]
    gesture: ShotGesture | None = None


class Another(Making):
    """A second shot with one thing changed: some keys, or by a gesture."""

    patch: ShotPatch | None = None  # type: ignore[valid-type]
    gesture: ShotGesture | None = None


class Pair(Making):
    """Two shots that differ in focus alone; the id is that of the first."""

    focus: FocusPair
    """What they are focused on."""


class PairOut(Message):
    """The shot sharp in front, and the one sharp at the back."""

    front: ShotOut
    back: ShotOut


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
