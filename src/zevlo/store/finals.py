"""Finals: ordered from a list, gathered tile by tile, closed when none is left, in an order that can be changed."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from math import prod
from typing import Literal

from sqlalchemy import cast, func, select, text, update
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session, undefer

from zevlo import __version__
from zevlo.core.finals.expected import CLOSING_S_A_MILLION, at_most
from zevlo.core.finals.naming import Called, names_of
from zevlo.core.finals.order import Formats, Order, Wanted
from zevlo.core.finals.pieces import require_room
from zevlo.core.finals.quality import quality_named
from zevlo.core.finals.recipe import Recipe
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.shot import Shot
from zevlo.store.attempts import Output, at_work, gather_progress
from zevlo.store.changes import Missing, Writing, hold, locked_row
from zevlo.store.database import tell
from zevlo.store.jobs import enqueue_due, reorder
from zevlo.store.prints import SMALL_VIEW, STOPPABLE, UNFINISHED, files_of, merged_of, put_pieces, recipe_of
from zevlo.store.projects import arrangement_of, lights_of, project, revision_of
from zevlo.store.shot_rows import settings_of, shots_of
from zevlo.store.tables import Blob, OrderRow, Piece, Print, Project, ShotRow
from zevlo.text import store as say

MOST_WEIGHED = 100
"""Finals that tell how large files come to be, the newest."""
LOOKS_AT = (8, 32, 128)
"""Samples everywhere at which a picture is worth looking at."""
Where = Literal["first", "earlier", "later", "last"]


@dataclass(frozen=True)
class Picture:
    """A picture of an order as it would be made now."""

    wanted: Wanted
    row: ShotRow
    shot: Shot
    own_px: tuple[int, int]
    """What the shot or crop asks for."""
    size_px: tuple[int, int]
    """What the order makes of it."""
    stack: tuple[float, ...]
    """Metres at which the pictures it is merged of are focused; none: it is one picture."""


def pictures_of(session: Session, project_id: uuid.UUID, order: Order) -> list[Picture]:
    """The pictures an order asks for. Raises :class:`Missing` for a shot that is not there, and
    :class:`~zevlo.core.refused.Refused` for a crop that is not, a stack that cannot be merged, and more than the lab
    takes."""
    rows = {row.id: row for row in shots_of(session, project_id)}
    found = []
    for wanted in order.pictures:
        row = rows.get(wanted.shot)
        if row is None:
            raise Missing(say.A_SHOT_OF_THIS_ORDER)
        shot = settings_of(row)
        _, own = picture_of(shot, wanted.crop)
        stack = merged_of(shot) if wanted.stacked else ()
        found.append(Picture(wanted, row, shot, own, order.size_of(wanted, own), stack))
    require_room([one.size_px for one in found])
    return found


def place_order(
    session: Session,
    project_id: uuid.UUID,
    order: Order,
    pictures: Sequence[Picture],
    called: Sequence[Called],
    key: uuid.UUID | None = None,
) -> OrderRow:
    """Order finals and put them in the queue. ``pictures``: those the order asks for, as they are while the project is
    held; ``called``: what each one's name may tell.

    ``project_id``: whose; ``key``: it is known by, where one is given."""
    owner = project(session, project_id)
    hold(session, str(project_id))
    last = session.scalar(select(func.max(OrderRow.number)).where(OrderRow.project_id == project_id)) or 0
    row = OrderRow(project_id=project_id, number=last + 1, settings=order.model_dump(mode="json"))
    if key is not None:
        row.id = key
    session.add(row)
    session.flush()
    revision, arrangement, lights = revision_of(session, owner).id, arrangement_of(owner), lights_of(owner)
    quality = quality_named(order.quality)
    rank = _last_rank(session)
    entries: dict[uuid.UUID, Recipe] = {}
    for n, (picture, name) in enumerate(zip(pictures, names_of(order.pattern, called), strict=True), 1):
        recipe = Recipe(
            shot=picture.shot,
            crop=picture.wanted.crop,
            revision=revision,
            arrangement=arrangement,
            light=lights.of(picture.shot.light),
            stack=picture.stack,
            size_px=picture.size_px,
            samples=quality.samples,
            quality=quality,
            formats=order.formats,
            called=name,
            versions={"zevlo": __version__},
        )
        entry = Print(
            id=uuid.uuid4(),
            project_id=project_id,
            shot_id=picture.row.id,
            order_id=row.id,
            rank=rank + n,
            kind="final",
            recipe=recipe.model_dump(mode="json", by_alias=True),
            doing=say.WAITING_FOR_THE_LAB,
        )
        session.add(entry)
        entries[entry.id] = recipe
    put_pieces(session, entries)
    # The others of each come when it is its turn.
    enqueue_due(session, entries, ahead=1)
    tell(session, str(project_id), "prints")
    return row


def bytes_per_pixel(session: Session, entries: Sequence[Print], formats: Formats) -> float | None:
    """What the files of finals in these formats came to for each of their pixels; None where there are none."""
    pixels, names = 0, []
    for entry in entries[:MOST_WEIGHED]:
        recipe = recipe_of(entry)
        if recipe.formats == formats:
            pixels += recipe.size_px[0] * recipe.size_px[1]
            names += [output["blob"] for output in files_of(entry).values()]
    if not names:
        return None
    sizes = dict(session.execute(select(Blob.sha256, Blob.size).where(Blob.sha256.in_(names))).tuples().all())
    return sum(sizes[name] for name in names) / pixels


def orders_of(session: Session, project_id: uuid.UUID) -> list[OrderRow]:
    """A project's orders, newest first."""
    chosen = select(OrderRow).where(OrderRow.project_id == project_id, ~OrderRow.deleted)
    return list(session.scalars(chosen.order_by(OrderRow.number.desc())))


def every_order(session: Session, project_id: uuid.UUID) -> list[OrderRow]:
    """The same with those that were taken off the list: prints tell of them still."""
    return list(session.scalars(select(OrderRow).where(OrderRow.project_id == project_id)))


def order_row(session: Session, key: uuid.UUID) -> OrderRow:
    """An order. Raises :class:`Missing`."""
    row = session.get(OrderRow, key)
    if row is None or row.deleted:
        raise Missing(say.THERE_IS_NO_SUCH)
    return row


def order_in(row: OrderRow) -> Order:
    """What an order asks for."""
    return Order.model_validate(row.settings)


def prints_in(session: Session, order_id: uuid.UUID) -> list[Print]:
    """The finals of an order, in the order they are made in."""
    chosen = select(Print).where(Print.order_id == order_id, ~Print.deleted)
    return list(session.scalars(chosen.order_by(Print.rank)))


@dataclass(frozen=True)
class Ordered:
    """A final of an order, as far as a list of orders tells of it."""

    id: uuid.UUID
    has_files: bool


def ordered_in(session: Session, orders: Sequence[OrderRow]) -> dict[uuid.UUID, list[Ordered]]:
    """The finals of orders, in the order they are made in: asked for at once, and without what they are made by."""
    has_files = (Print.state == "done") & (Print.outputs.op("-")(SMALL_VIEW) != cast({}, JSONB))
    chosen = select(Print.order_id, Print.id, has_files).where(~Print.deleted)
    found: dict[uuid.UUID, list[Ordered]] = {row.id: [] for row in orders}
    rows = session.execute(chosen.where(Print.order_id.in_(found)).order_by(Print.rank)).tuples()
    for order, key, files in rows:
        assert order is not None
        found[order].append(Ordered(key, files))
    return found


def _waiting(session: Session) -> list[Print]:
    """All finals that are to be made, in their order, held."""
    _hold_ranks(session)
    chosen = select(Print).where(Print.kind == "final", Print.state.in_(STOPPABLE), ~Print.deleted)
    chosen = chosen.where(Print.project_id == Project.id, ~Project.deleted)
    return list(session.scalars(chosen.order_by(Print.rank, Print.created).execution_options(populate_existing=True)))


def _hold_ranks(session: Session) -> None:
    """Nobody else gives finals their order until this transaction ends."""
    session.execute(text("select pg_advisory_xact_lock(hashtextextended('zevlo finals', 0))"))


def _last_rank(session: Session) -> int:
    _hold_ranks(session)
    chosen = select(func.max(Print.rank)).where(Print.kind == "final", Print.state.in_(STOPPABLE), ~Print.deleted)
    return session.scalar(chosen) or 0


def move(session: Session, key: uuid.UUID, where: Where) -> None:
    """Let a final be made first, or earlier or later than it was to be."""
    waiting = _waiting(session)
    at = next((n for n, one in enumerate(waiting) if one.id == key), None)
    if at is None:
        raise Missing(say.THIS_PRINT_IS_NOT_WAITING)
    entry = waiting.pop(at)
    to = {"first": 0, "earlier": max(0, at - 1), "later": min(len(waiting), at + 1), "last": len(waiting)}[where]
    waiting.insert(to, entry)
    moved = {one.id: rank for rank, one in enumerate(waiting, 1) if one.rank != rank}
    session.execute(update(Print), [{"id": one, "rank": rank} for one, rank in moved.items()])
    reorder(session, moved)
    for scope in {str(one.project_id) for one in waiting}:
        tell(session, scope, "prints")


@dataclass(frozen=True)
class Pass:
    """What a tile has gathered after a pass."""

    packed: bytes
    samples: int
    pictures: int
    """Of a stack, that got those samples, by their parts in the tile."""
    grain: float
    enough: bool
    """Whether it needs no more."""


@dataclass(frozen=True)
class Following:
    """What follows a pass: the samples everywhere at which a look is due."""

    look: int | None


def gather(
    session: Session, key: uuid.UUID, attempt: uuid.UUID | None, made: Pass, speed: float, ending: int | None = None
) -> Following | None:
    """Keep what a tile gathered, and put in the queue what can be made now; None where the print was cancelled or
    paused, or the tile taken up by another.

    ``speed``: rays a second of all machines together; ``ending``: the job this was done for.

    ``key``: the tile's; ``attempt``: whose."""
    found = at_work(session, key, attempt)
    if found is None:
        return None
    entry, piece = found
    most = recipe_of(entry).samples
    piece.gathered, piece.grain, piece.pictures = made.packed, made.grain, made.pictures
    piece.samples = [made.samples, most]
    piece.state, piece.progress = ("done", 1.0) if made.enough else ("waiting", made.samples / most)
    piece.attempt, piece.job, piece.interruptions = None, None, []
    tiles, closing = entry.pieces[:-1], entry.pieces[-1]
    done = sum(one.state == "done" for one in tiles)
    everywhere = min(most if one.state == "done" else one.samples[0] if one.gathered_any else 0 for one in tiles)
    look = max((level for level in LOOKS_AT if closing.samples[0] < level <= everywhere), default=None)
    if done == len(tiles):
        look = None
    elif look is not None:
        closing.samples = [look, 0]
    gather_progress(entry)
    enqueue_due(session, [key], ending=ending)
    entry.seconds_left = _seconds_left(entry, most, speed)
    entry.doing = say.tile_by_tile_of_without(done, len(tiles), everywhere)
    more = {"progress": entry.progress, "seconds_left": entry.seconds_left, "doing": entry.doing}
    tell(session, str(entry.project_id), "progress", print=str(key), **more)
    return Following(look)


def _seconds_left(entry: Print, most: int, speed: float) -> float | None:
    """What is left of a final at that speed; tiles at work need as much as those that are done did."""
    if speed <= 0.0:
        return None
    tiles = entry.pieces[:-1]
    done = [one.samples[0] for one in tiles if one.state == "done"]
    usual = sum(done) / len(done) if done else float(most)
    known = [one.pictures for one in tiles if one.gathered_any]
    pictures = sum(known) / len(known) if known else 1.0
    rays = 0.0
    for one in tiles:
        has = one.samples[0] if one.gathered_any else 0
        if one.state != "done":
            each = max(usual - has, 0.1 * most if has else usual)
            rays += _pixels(one) * each * (one.pictures if has else pictures)
    return rays / speed + sum(_pixels(one) for one in tiles) / 1.0e6 * CLOSING_S_A_MILLION


def seconds_before(session: Session, speed: float) -> float:
    """What finals that are ordered already take at most, of all projects; ``speed``: rays a second of all machines."""
    chosen = select(Print.recipe, Print.seconds_left)
    chosen = chosen.where(Print.project_id == Project.id, ~Project.deleted)
    rows = session.execute(chosen.where(Print.kind == "final", Print.state.in_(UNFINISHED), ~Print.deleted))
    seconds: float = sum(
        prod(recipe["size_px"]) * recipe["samples"] * at_most(len(recipe["stack"])) / speed if left is None else left
        for recipe, left in rows
    )
    return seconds


def _pixels(piece: Piece) -> int:
    left, top, right, bottom = piece.tile
    return int((right - left) * (bottom - top))


def gathered(session: Session, key: uuid.UUID, number: int) -> tuple[bytes, int] | None:
    """What a tile of a print has gathered, and the samples of that; None where nothing."""
    chosen = select(Piece).where(Piece.print_id == key, Piece.number == number).options(undefer(Piece.gathered))
    piece = session.scalars(chosen.execution_options(populate_existing=True)).one()
    return None if piece.gathered is None else (piece.gathered, piece.samples[0])


def store_outputs(session: Session, key: uuid.UUID, outputs: dict[str, Output], made_with: dict[str, object]) -> None:
    """Hang up a look at a final that is still gathered; not where it is cancelled, or finished meanwhile."""
    entry = session.get(Print, key, with_for_update=True, populate_existing=True)
    if entry is None or entry.deleted or entry.state not in STOPPABLE:
        return
    entry.outputs = {**entry.outputs, **{name: asdict(one) for name, one in outputs.items()}}
    entry.made_with = made_with
    tell(session, str(entry.project_id), "prints")


def drop_samples(session: Session, key: uuid.UUID) -> None:
    """What the tiles of a finished print gathered is not needed any more."""
    session.execute(text("update piece set gathered = null where print_id = :key"), {"key": key})


def forget_order(session: Session, key: uuid.UUID) -> None:
    """Take an order off the list; its prints stay. Undoable."""
    row = locked_row(session, OrderRow, key)
    writing = Writing(session, str(row.project_id))
    writing.change(row, None, deleted=True)
    writing.done(say.forget_order(row.number))
