"""What goes over the wire of orders, and of the machines that make them."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from zevlo.api.document_messages import DocumentOffer, DocumentsOut
from zevlo.api.messages import Making, Message
from zevlo.core.documents.page.paper import PaperName
from zevlo.core.finals.order import Order
from zevlo.core.finals.quality import Quality
from zevlo.core.shot import Shot


class NewOrder(Making):
    order: Order


class PictureExpected(Message):
    """A picture of an order, as it would be made now."""

    shot: uuid.UUID
    crop: str | None
    called: str
    """The names of its files, without their endings."""
    size_px: tuple[int, int]
    stacked: bool
    merged_of: int
    """How many pictures of a stack it is merged of; 0: it is one picture."""
    unkept: bool
    """Whether no take has its framing."""
    warnings: list[str]
    """What speaks against printing it now."""
    already_printed: str | None
    """A final as large at least that still shows it as it is, in words."""


class OrderExpected(Message):
    """What an order comes to, before it starts."""

    pictures: list[PictureExpected]
    seconds: tuple[float, float] | None
    """From where no grain is left early, to where it is left everywhere; null: no machine has made a final yet."""
    seconds_of_one: tuple[float, float] | None
    """The same with one machine alone."""
    done_by: tuple[datetime, datetime] | None
    """When all of it is there, made after what was ordered before."""
    files: int
    bytes: int
    """All files together, about."""
    machines: int
    """How many are there."""
    endings: list[str]


class OrderOut(Message):
    """An order that was placed."""

    id: uuid.UUID
    number: int
    ordered: datetime
    order: Order
    prints: list[uuid.UUID]
    """Its finals that are there still, in the order they are made in."""
    folder: str | None
    """Where all files of those that are finished are got as one folder; null: none is finished yet."""


class MachineOut(Message):
    """A worker of the lab that is there."""

    name: str
    about: dict[str, Any]
    rays_per_s: float
    """Of finals; of the last worker of that machine, where it has made none yet, and 0 where none has."""
    doing: str
    """Empty: it waits."""
    began: datetime


class TurnedAway(Message):
    """A worker that could not join the lab."""

    name: str
    why: str


class LabOut(Message):
    """Orders of a project, the machines of the lab, and what orders choose from."""

    orders: list[OrderOut]
    documents: list[DocumentsOut]
    """Newest first."""
    document_kinds: list[DocumentOffer]
    papers: list[PaperName]
    """Papers documents may be on."""
    scales: list[float]
    """Of plans: how many times larger the set is."""
    machines: list[MachineOut]
    turned_away: list[TurnedAway]
    """Workers that could not join lately."""
    waiting: int
    """Prints that wait or are made, of all projects."""
    qualities: list[Quality]
    fields: list[str]
    """What a pattern of names can tell."""
    first: Order | None
    """The order before, but for its pictures; null: there was none."""
    first_pattern: str


class WhenceOut(Message):
    """Where a picture's file came from."""

    project: uuid.UUID | None
    """null: it, or the shot, is not here."""
    shot: uuid.UUID | None
    print: uuid.UUID | None
    take: int | None
    settings: Shot | None
    """The shot as the file tells it."""
    words: str
