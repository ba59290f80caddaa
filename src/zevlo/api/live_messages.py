"""What goes over the live socket: questions from the desk, answers and news to it."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field

from zevlo.api.messages import Message
from zevlo.core.bases import Matrix
from zevlo.core.camera.drawn import Polyline
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.framing.scout import Scout, ViewGesture
from zevlo.core.framing.sheet import Sheet
from zevlo.core.shot import Back, Shot, Stand


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


class AskWhatIf(Message):
    """What a gesture would make of a shot: nothing comes of it."""

    kind: Literal["what_if"] = "what_if"
    seq: int
    shot: Shot
    gesture: ShotGesture


class AskScout(Message):
    """The scout view after a gesture, for a picture of ratio ``ratio``: from where it was, else from what a shot sees,
    else from where the whole set is seen."""

    kind: Literal["scout"] = "scout"
    seq: int
    scout: Scout | None = None
    shot: Shot | None = None
    """Begins with what this shot sees."""
    ratio: float = Field(gt=0.05, lt=20.0)
    gesture: ViewGesture | None = None
    anchor: bool = False
    """First put the aim on what is in the middle of the view, so that orbit and shift go by it."""
    back: Back | None = None
    """Back of the shot that would be made of this view; its frame then lies in the picture."""


class Ping(Message):
    kind: Literal["ping"] = "ping"
    seq: int


LiveQuestion = Annotated[OpenProject | AskShot | AskWhatIf | AskScout | Ping, Field(discriminator="kind")]


class ShotAnswer(Message):
    kind: Literal["shot"] = "shot"
    seq: int
    shot: Shot
    sheet: Sheet
    refused: str | None = None


class WhatIfAnswer(Message):
    kind: Literal["what_if"] = "what_if"
    seq: int
    outline: list[tuple[float, float]]
    """The frame's edge as it would lie in the picture there is, in shares of the frame; (0, 0) bottom left."""
    words: str
    """What would be other; or why it cannot be."""


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


class Progress(Message):
    """How far a print is."""

    print: uuid.UUID
    progress: float
    seconds_left: float | None
    doing: str


class News(Message):
    """What is other in a project (its id), or in the list of projects (``home``).

    ``change``: something an artist made: ask for the project anew; ``shots``, ``prints``: ask for those alone.
    ``progress``: one print is that far, and nothing needs to be asked.
    """

    kind: Literal["news"] = "news"
    about: str
    what: Literal["change", "shots", "prints", "progress"] = "change"
    progress: Progress | None = None
    by: uuid.UUID | None = None
    """The id the change was asked for by, where whoever asked chose one."""


class Pong(Message):
    kind: Literal["pong"] = "pong"
    seq: int


LiveAnswer = Annotated[
    ShotAnswer | WhatIfAnswer | BeyondAnswer | ScoutAnswer | LiveTrouble | News | Pong, Field(discriminator="kind")
]
