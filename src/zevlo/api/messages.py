"""What every message over the wire is, and what is told of any change. The desk's types are generated from these."""

from __future__ import annotations

import uuid

from pydantic import ConfigDict

from zevlo.core.bases import StrictModel
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.instruments.remedy import Remedy


class Message(StrictModel):
    model_config = ConfigDict(extra="forbid")


class Trouble(Message):
    """Why a request was not followed."""

    detail: str


class Step(Message):
    """Undo or redo of the change that was seen as the newest; without one, of whatever is."""

    change: int | None = None


class Making(Message):
    """``id``: what is made is known by it, where whoever asks chose it. Asked again, as after an answer that got lost,
    nothing more is made."""

    id: uuid.UUID | None = None


class Seen(Message):
    version: int


class ShotRemedy(Remedy[ShotGesture]):
    """What else does what was asked for, and what that costs."""


class ShortOut(Message):
    """Why a change goes part of the way alone, and what else does what was asked for."""

    words: str
    alternatives: list[ShotRemedy]
