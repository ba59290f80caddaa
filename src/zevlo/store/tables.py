"""The tables. Settings are JSONB of the core's models; pictures and models are content-addressed blobs."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, DateTime, ForeignKey, Index, LargeBinary, Text, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


class Base(DeclarativeBase):
    type_annotation_map = {dict[str, Any]: JSONB, list[Any]: JSONB, str: Text, datetime: DateTime(timezone=True)}  # noqa: RUF012


class Kept:
    """What every thing an artist makes has: an id, a version that rises with each write, and a tombstone."""

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    version: Mapped[int] = mapped_column(default=1)
    deleted: Mapped[bool] = mapped_column(default=False)
    created: Mapped[datetime] = mapped_column(server_default=func.now())


class Project(Kept, Base):
    __tablename__ = "project"
    name: Mapped[str]
    revision_id: Mapped[uuid.UUID | None]
    lifted: Mapped[list[Any]]
    lifted_above: Mapped[bool] = mapped_column(default=False)
    """Whether everything above the plan's cut is lifted off too."""
    plan_height: Mapped[float]
    arrangement: Mapped[dict[str, Any]] = mapped_column(default=dict)
    places: Mapped[dict[str, Any]] = mapped_column(default=dict)
    site: Mapped[dict[str, Any]] = mapped_column(default=dict)
    habits: Mapped[dict[str, Any]] = mapped_column(default=dict)
    kept: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """Its own formats, sizes, sets of primes and of cuts."""
    lights: Mapped[list[LightRow]] = relationship(
        primaryjoin="and_(Project.id == LightRow.project_id, ~LightRow.deleted)",
        order_by="LightRow.place",
        lazy="selectin",
        viewonly=True,
    )
    """Its light setups; the first is what a shot has that names none."""


class LightRow(Kept, Base):
    """A light setup, which shots refer to by its name. Its sun's heading counts from the project's north."""

    __tablename__ = "light_setup"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), index=True)
    place: Mapped[float] = mapped_column(default=0.0)
    name: Mapped[str]
    settings: Mapped[dict[str, Any]]


class Revision(Kept, Base):
    """One version of a project's set."""

    __tablename__ = "revision"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"))
    file_name: Mapped[str]
    source: Mapped[str]
    arrays: Mapped[str]
    views: Mapped[list[Any]]
    pictures: Mapped[list[Any]] = mapped_column(default=list)
    """Its textures, by the blobs they are in."""
    summary: Mapped[dict[str, Any]]


class ShotRow(Kept, Base):
    __tablename__ = "shot"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), index=True)
    place: Mapped[float]
    settings: Mapped[dict[str, Any]]
    locked: Mapped[bool] = mapped_column(default=False)
    kept_take: Mapped[uuid.UUID | None]
    labels: Mapped[list[Any]] = mapped_column(default=list)
    colour: Mapped[str | None]
    named_by_hand: Mapped[bool] = mapped_column(default=True)
    floor_m: Mapped[float | None]
    """Height of the floor under the stand, in the whole set; it tells the level. None: there is none."""


class Take(Kept, Base):
    """A kept framing of a shot, numbered from 1."""

    __tablename__ = "take"
    shot_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shot.id"), index=True)
    number: Mapped[int]
    name: Mapped[str | None]
    settings: Mapped[dict[str, Any]]


class OrderRow(Kept, Base):
    """Finals that were ordered together, numbered from 1 in their project."""

    __tablename__ = "picture_order"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), index=True)
    number: Mapped[int]
    settings: Mapped[dict[str, Any]]


class Print(Kept, Base):
    """A picture made in the lab: what kind it is, the recipe that makes it again, and what came of it."""

    __tablename__ = "print"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), index=True)
    shot_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shot.id"), index=True)
    order_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("picture_order.id"), index=True)
    """The order a final belongs to."""
    rank: Mapped[int] = mapped_column(default=0)
    """Finals are made in the order of their ranks."""
    kind: Mapped[str] = mapped_column(default="proof")
    recipe: Mapped[dict[str, Any]]
    outputs: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """Files that came of it, by their names: the blob each is in, and its media type."""
    state: Mapped[str] = mapped_column(default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    seconds_left: Mapped[float | None]
    doing: Mapped[str] = mapped_column(default="")
    trouble: Mapped[str | None]
    made_with: Mapped[dict[str, Any]] = mapped_column(default=dict)
    started: Mapped[datetime | None]
    finished: Mapped[datetime | None]
    pieces: Mapped[list[Piece]] = relationship(
        order_by="Piece.number", cascade="all, delete-orphan", passive_deletes=True
    )


class Piece(Base):
    """A part of a print that one worker makes: a tile of its pixels, some of its samples. A proof has one."""

    __tablename__ = "piece"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    print_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("print.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    tile: Mapped[list[Any]]
    """First and past the last column and row: left, top, right, bottom."""
    samples: Mapped[list[Any]]
    """The first, and past the last."""
    state: Mapped[str] = mapped_column(default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    seconds_left: Mapped[float | None]
    tries: Mapped[int] = mapped_column(default=0)
    attempt: Mapped[uuid.UUID | None]
    """Who is at it now: a worker that comes back with another one's is late, and nothing of it counts."""
    job: Mapped[int | None] = mapped_column(BigInteger)
    """The job of the queue that is at it: no other takes it up meanwhile."""
    grain: Mapped[float | None]
    """Noise left in what a tile of a final gathered, in steps of 255."""
    pictures: Mapped[int] = mapped_column(default=1)
    """Of a stack, that are made in a tile of what is merged of it: as many whole ones as their parts come to."""
    gathered: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    """What a tile of a final gathered so far."""
    interruptions: Mapped[list[Any]] = mapped_column(default=list)
    """What ended each attempt that did not come to its end: ``memory`` or ``stopped``."""
    watch: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """The machine of the attempt and how often it had ended programs for want of memory when that began."""

    @property
    def gathered_any(self) -> bool:
        """Whether a tile of a final has gathered something."""
        return self.grain is not None

    __table_args__ = (Index("piece_of_print", "print_id", "number", unique=True),)


class DocumentsRow(Kept, Base):
    """Documents of some shots, made together by a job, numbered from 1 in their project."""

    __tablename__ = "documents"
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), index=True)
    number: Mapped[int]
    settings: Mapped[dict[str, Any]]
    outputs: Mapped[dict[str, Any]] = mapped_column(default=dict)
    """Files that came of it, by their names: the blob each is in, its media type and size."""
    words: Mapped[list[Any]] = mapped_column(default=list)
    """What is to be said of them."""
    made_of: Mapped[str | None]
    """A word for all they tell, as it was when they were made."""
    state: Mapped[str] = mapped_column(default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    doing: Mapped[str] = mapped_column(default="")
    trouble: Mapped[str | None]
    tries: Mapped[int] = mapped_column(default=0)
    attempt: Mapped[uuid.UUID | None]
    """Who is at it now: one that comes back with another one's is late."""
    job: Mapped[int | None] = mapped_column(BigInteger)
    finished: Mapped[datetime | None]


class Machine(Base):
    """A worker that is, or was, there: what it is, how fast, what it does."""

    __tablename__ = "machine"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)
    name: Mapped[str]
    about: Mapped[dict[str, Any]]
    rays_per_s: Mapped[float] = mapped_column(default=0.0)
    """Rays of finals it follows; 0: none yet."""
    doing: Mapped[str] = mapped_column(default="")
    began: Mapped[datetime] = mapped_column(server_default=func.now())
    seen: Mapped[datetime] = mapped_column(server_default=func.now())


class MadeWith(Base):
    """What the pictures of this database are made with: one row."""

    __tablename__ = "made_with"
    id: Mapped[int] = mapped_column(primary_key=True, default=1)
    versions: Mapped[dict[str, Any]]


class Change(Base):
    """One change an artist made, with every row it touched before and after: what undo and redo put back."""

    __tablename__ = "change"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    scope: Mapped[str]
    label: Mapped[str]
    entries: Mapped[list[Any]]
    state: Mapped[str] = mapped_column(default="done")
    created: Mapped[datetime] = mapped_column(server_default=func.now())
    ticket: Mapped[uuid.UUID | None]
    """The id under which it was asked for: asked for again, it is not made again."""
    __table_args__ = (
        Index("change_by_scope", "scope", "state", "seq"),
        Index("change_by_ticket", "scope", "ticket"),
    )


class Blob(Base):
    __tablename__ = "blob"
    sha256: Mapped[str] = mapped_column(primary_key=True)
    size: Mapped[int]
    media_type: Mapped[str]
    created: Mapped[datetime] = mapped_column(server_default=func.now())
    unclaimed: Mapped[datetime | None]
    """Since when nothing refers to it."""


class BlobChunk(Base):
    __tablename__ = "blob_chunk"
    sha256: Mapped[str] = mapped_column(ForeignKey("blob.sha256"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)


class Thumbnail(Base):
    """Pictures the server drew itself, by a key of all that went into them; may be thrown away at any time."""

    __tablename__ = "thumbnail"
    key: Mapped[str] = mapped_column(primary_key=True)
    png: Mapped[bytes] = mapped_column(LargeBinary)
    created: Mapped[datetime] = mapped_column(server_default=func.now())


UNDOABLE: dict[str, type[Base]] = {
    "project": Project,
    "revision": Revision,
    "light_setup": LightRow,
    "shot": ShotRow,
    "take": Take,
    "picture_order": OrderRow,
    "print": Print,
    "documents": DocumentsRow,
}
