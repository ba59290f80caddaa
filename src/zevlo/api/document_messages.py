"""What goes over the wire of documents."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Literal

from zevlo.api.messages import Making, Message
from zevlo.core.documents.request import CameraCards, ContactSheet, Documents, Ending, Plans, ShotListing


class NewDocuments(Making):
    documents: Documents


class DocumentFile(Message):
    """A file of documents that are there."""

    name: str
    short: str
    """Its name without the project's."""
    bytes: int
    address: str


class DocumentsOut(Message):
    """Documents that were asked for together."""

    id: uuid.UUID
    number: int
    asked: datetime
    documents: Documents
    state: Literal["waiting", "making", "done", "failed", "cancelled"]
    progress: float
    doing: str
    trouble: str | None
    words: list[str]
    """What is to be said of them."""
    files: list[DocumentFile]
    folder: str | None
    """Where all of them are to be had as one ZIP; null: there are none."""
    stale: bool
    """Whether what they tell has changed since they were made."""


class FileOffer(Message):
    """A kind of file to choose."""

    ending: Ending
    words: str


class DocumentOffer(Message):
    """A kind of document to ask for: its key, its name, its files, and how it is asked for at first."""

    key: str
    name: str
    files: list[FileOffer]
    first: ContactSheet | ShotListing | Plans | CameraCards
