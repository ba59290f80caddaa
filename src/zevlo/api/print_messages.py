"""What goes over the wire of prints."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any, Literal

from zevlo.api.messages import Making, Message
from zevlo.core.shot.back import CropName
from zevlo.store.finals import Where


class ProofOrder(Making):
    crop: CropName | None = None
    """The crop of the shot's back that is wanted; null: the whole frame."""
    stacked: bool = False
    """Whether the shot's stack of pictures is wanted, and those merged."""


class StackFrame(Message):
    """A picture of a stack."""

    distance_m: float
    """Where it is focused."""
    picture: str | None
    film: str | None


class FileOut(Message):
    """A file of a final."""

    name: str
    address: str


PrintKind = Literal["proof", "stack", "final"]
"""A small picture of a shot, one merged of its stack, or one that was ordered."""


class PrintOut(Message):
    id: uuid.UUID
    order: int | None
    """Number of the order it belongs to; null: it was made by itself."""
    rank: int
    """Finals that are to be made come in the order of these."""
    shot_id: uuid.UUID
    kind: PrintKind
    name: str
    crop: str | None
    """The crop of the shot it shows; null: its whole frame."""
    frame: int | None
    """Number in the shot list now; none where the shot was deleted."""
    take: int | None
    """The take it shows; none where that framing was never kept."""
    size: tuple[int, int]
    line: str
    state: Literal["waiting", "developing", "paused", "done", "failed", "cancelled"]
    progress: float
    seconds_left: float | None
    doing: str
    trouble: str | None
    picture: str | None
    film: str | None
    files: list[FileOut]
    """Of a final, as they are called."""
    pieces: tuple[int, int]
    """How many of its pieces are done, and how many there are."""
    frames: list[StackFrame]
    """The pictures of a stack, the nearest first; none where it is one picture, or a final."""
    merged_of: int
    """How many pictures of a stack it is merged of; 0: it is one picture."""
    stale: str | None
    """What has changed since, in words; none where the print still shows the shot as it is."""
    made_with: dict[str, Any]
    ordered: datetime


class MovedTo(Message):
    where: Where


class PrintsOut(Message):
    prints: list[PrintOut]
