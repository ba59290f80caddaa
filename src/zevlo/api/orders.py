"""Orders of finals: what one comes to, placed, followed, stopped; and from a picture's file back to its shot."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import get_args

from fastapi import APIRouter, Body
from fastapi.responses import StreamingResponse
from sqlalchemy.orm import Session

from zevlo.api.desk import InTransaction, TheDesk, WritingOrder, WritingProject
from zevlo.api.documents import all_out, offers
from zevlo.api.order_messages import (
    LabOut,
    MachineOut,
    NewOrder,
    OrderExpected,
    OrderOut,
    PictureExpected,
    TurnedAway,
    WhenceOut,
)
from zevlo.api.sending import sent_as_folder
from zevlo.api.sets import standing
from zevlo.core.documents.page.paper import PaperName
from zevlo.core.documents.page.scale import SCALES
from zevlo.core.finals.expected import LARGE_PX, expected
from zevlo.core.finals.naming import FIELDS, FIRST_PATTERN, Called, file_of, names_of, number_words
from zevlo.core.finals.order import Order
from zevlo.core.finals.quality import QUALITIES, quality_named
from zevlo.core.framing.shot_name import place_and_direction
from zevlo.lab.history import FromFile, read_history
from zevlo.store import documents, finals, machines, prints, projects
from zevlo.store.changes import Missing
from zevlo.store.finals import Picture
from zevlo.store.shot_rows import settings_of, shots_of
from zevlo.store.stale import StalenessCheck
from zevlo.store.tables import OrderRow, Print, Project, ShotRow, Take
from zevlo.store.takes import same_framing, takes_of
from zevlo.text import answers as say

router = APIRouter(prefix="/api")
Takes = dict[uuid.UUID, list[Take]]


def _called(session: Session, project: Project, pictures: Sequence[Picture], takes: Takes, day: str) -> list[Called]:
    """What the names of pictures may tell."""
    numbers = {row.id: n for n, row in enumerate(shots_of(session, project.id), 1)}
    where, points = projects.where_of(project), projects.habits_of(project).compass_points
    return [
        Called(
            number=number_words(numbers[one.row.id], len(numbers)),
            name=one.shot.name,
            room=(place := place_and_direction(one.shot, where, one.row.floor_m, points))[0] or "",
            direction=place[1],
            lens=one.shot.lens.called(digits=3),
            crop=one.wanted.crop or "",
            take=_take(one, takes),
            date=day,
            project=project.name,
            size=f"{one.size_px[0]}x{one.size_px[1]}",
        )
        for one in pictures
    ]


def _take(picture: Picture, takes: Takes) -> str:
    own = (take.number for take in takes[picture.row.id] if same_framing(take.settings, picture.row.settings))
    return str(next(own, ""))


def _today() -> str:
    return datetime.now(UTC).date().isoformat()


def _warnings(picture: Picture, takes: Takes, soft_px: float | None) -> list[str]:
    """What speaks against printing a picture now. ``soft_px``: how soft it is, where nothing in it is sharp."""
    words = []
    if soft_px is not None and not picture.stack:
        words.append(say.nothing_in_it_is_sharp(soft_px))
    if not _take(picture, takes):
        words.append(say.CHANGES_NOT_KEPT_NO_TAKE)
    if picture.shot.focus.stack is not None and not picture.stack:
        words.append(say.ONE_PICTURE_FOCUSED_AS_THE_SHOT)
    width, height = picture.size_px
    if width * height > LARGE_PX:
        words.append(say.million_pixels_its_machine(round(width * height / 1e6)))
    return words


def _already_printed(picture: Picture, done: Sequence[Print], now: StalenessCheck) -> str | None:
    """The newest of the finals there are of a picture that is as large at least and shows it as it is, in words."""
    for entry in done:
        recipe = prints.recipe_of(entry)
        large = min(recipe.size_px[0] / picture.size_px[0], recipe.size_px[1] / picture.size_px[1])
        if large < 0.999 or bool(recipe.stack) != bool(picture.stack):
            continue
        if now.stale_words(recipe, picture.row) is None:
            quality = None if recipe.quality is None else recipe.quality.name
            return say.printed_unchanged_since(recipe.size_px[0], recipe.size_px[1], quality)
    return None


@router.post("/projects/{key}/orders/expected")
def order_expected(key: uuid.UUID, order: Order, session: InTransaction, desk: TheDesk) -> OrderExpected:
    """What an order comes to: names, sizes, what speaks against each picture, time and room."""
    project = projects.project(session, key)
    pictures = finals.pictures_of(session, key, order)
    takes = takes_of(session, {one.row.id for one in pictures})
    made = [one for one in prints.prints_of(session, key) if one.kind == "final" and one.state == "done"]
    done: dict[tuple[uuid.UUID, str | None], list[Print]] = {}
    for entry in made:
        done.setdefault((entry.shot_id, prints.crop_of(entry)), []).append(entry)
    names = names_of(order.pattern, _called(session, project, pictures, takes, _today()))
    speed, there, now = machines.speed_of_all(session), machines.there(session), datetime.now(UTC)
    asked = [(one.size_px, len(one.stack)) for one in pictures]
    quality, bytes_each = quality_named(order.quality), finals.bytes_per_pixel(session, made, order.formats)
    counted, alone = (
        expected(asked, quality, order.formats, rays, bytes_each) for rays in (speed, speed / max(1, len(there)))
    )
    before = 0.0 if counted.seconds is None else finals.seconds_before(session, speed)
    as_it_is, stands = StalenessCheck(project), standing(project)
    return OrderExpected(
        pictures=[
            PictureExpected(
                shot=one.row.id, crop=one.wanted.crop, called=name, size_px=one.size_px, stacked=one.wanted.stacked,
                merged_of=len(one.stack), unkept=not _take(one, takes),
                warnings=_warnings(one, takes, desk.shelf.soft_all_over_px(stands, one.shot, one.wanted.crop)),
                already_printed=_already_printed(one, done.get((one.row.id, one.wanted.crop), []), as_it_is),
            )
            for one, name in zip(pictures, names, strict=True)
        ],
        seconds=counted.seconds,
        seconds_of_one=alone.seconds,
        done_by=None if counted.seconds is None else _clock(now, before, counted.seconds),
        files=len(names) * len(order.formats.endings),
        bytes=counted.bytes,
        machines=len(there),
        endings=list(order.formats.endings),
    )  # fmt: skip


def _clock(now: datetime, before: float, seconds: tuple[float, float]) -> tuple[datetime, datetime]:
    early, late = (now + timedelta(seconds=before + one) for one in seconds)
    return early, late


@router.post("/projects/{key}/orders", status_code=201)
def place_order(key: uuid.UUID, new: NewOrder, session: WritingProject) -> OrderOut:
    """Order finals: every shot exactly as it stands, made in the background."""
    row = None if new.id is None else session.get(OrderRow, new.id)
    if row is None:
        project = projects.project(session, key)
        pictures = finals.pictures_of(session, key, new.order)
        takes = takes_of(session, {one.row.id for one in pictures})
        called = _called(session, project, pictures, takes, _today())
        row = finals.place_order(session, key, new.order, pictures, called, new.id)
    elif row.project_id != key:
        raise Missing(say.AN_ORDER_WAS_PLACED)
    return _out(session, row)


def files_in(entries: Sequence[Print]) -> dict[str, str]:
    """The files of finals that are finished: their names, and the blobs they are kept as."""
    return {
        name: str(output["blob"])
        for entry in entries
        if entry.state == "done"
        for name, output in prints.files_of(entry).items()
    }


def _out(session: Session, row: OrderRow) -> OrderOut:
    (only,) = _all_out(session, [row])
    return only


def _all_out(session: Session, rows: Sequence[OrderRow]) -> list[OrderOut]:
    ordered = finals.ordered_in(session, rows)
    return [
        OrderOut(
            id=row.id,
            number=row.number,
            ordered=row.created,
            order=finals.order_in(row),
            prints=[one.id for one in ordered[row.id]],
            folder=f"/api/orders/{row.id}/all.zip" if any(one.has_files for one in ordered[row.id]) else None,
        )
        for row in rows
    ]


@router.get("/projects/{key}/lab")
def lab(key: uuid.UUID, session: InTransaction) -> LabOut:
    """A project's orders, the machines of the lab, and what orders choose from."""
    owner = projects.project(session, key)
    orders = _all_out(session, finals.orders_of(session, key))
    return LabOut(
        orders=orders,
        documents=all_out(session, owner, documents.documents_of(session, key)),
        document_kinds=offers(),
        papers=list(get_args(PaperName)),
        scales=list(SCALES),
        machines=[
            MachineOut(
                name=one.name, about=one.about, rays_per_s=one.rays_per_s, doing=one.doing, began=one.began
            )
            for one in machines.there(session)
        ],
        turned_away=[
            TurnedAway(name=one.name, why=one.about[machines.REFUSED]) for one in machines.those_turned_away(session)
        ],
        waiting=prints.unfinished(session),
        qualities=list(QUALITIES),
        fields=list(FIELDS),
        first=orders[0].order if orders else None,
        first_pattern=FIRST_PATTERN,
    )  # fmt: skip


@router.post("/orders/{key}/cancel")
def cancel_order(key: uuid.UUID, session: WritingOrder) -> OrderOut:
    """Stop all of an order that is not finished."""
    row = finals.order_row(session, key)
    prints.cancel_all(session, finals.prints_in(session, key))
    return _out(session, row)


@router.post("/orders/{key}/pause")
def pause_order(key: uuid.UUID, session: WritingOrder) -> OrderOut:
    """Let all of an order that is not finished wait."""
    row = finals.order_row(session, key)
    prints.pause_all(session, finals.prints_in(session, key))
    return _out(session, row)


@router.post("/orders/{key}/retry")
def retry_order(key: uuid.UUID, session: WritingOrder) -> OrderOut:
    """Go on with all of an order that is paused, was cancelled or failed."""
    row = finals.order_row(session, key)
    prints.again_all(session, finals.prints_in(session, key))
    return _out(session, row)


@router.get("/orders/{key}/all.zip")
def order_folder(key: uuid.UUID, session: InTransaction, desk: TheDesk) -> StreamingResponse:
    """All files there are of an order in one folder, as ZIP."""
    row = finals.order_row(session, key)
    files = files_in(finals.prints_in(session, key))
    if not files:
        raise Missing(say.NOTHING_OF_THIS_ORDER)
    name = file_of(projects.project(session, row.project_id).name, say.order(row.number))
    return sent_as_folder(desk.engine, name, files, row.created)


@router.delete("/orders/{key}", status_code=204)
def forget_order(key: uuid.UUID, session: WritingOrder) -> None:
    """Take an order off the list; its prints stay. Undoable."""
    finals.forget_order(session, key)


@router.post("/whence")
def whence(session: InTransaction, beginning: bytes = Body(b"", media_type="application/octet-stream")) -> WhenceOut:
    """Where a picture's file came from, by its first few million bytes."""
    history = read_history(beginning)
    row = None if history.history is None else session.get(ShotRow, uuid.UUID(history.history.shot))
    owner = None if row is None else session.get(Project, row.project_id)
    if row is None or row.deleted or owner is None or owner.deleted:
        gone = say.THAT_SHOT_IS_NOT_HERE if history.history else say.THE_FILE_TELLS_A_SHOT
        return WhenceOut(project=None, shot=None, print=None, take=None, settings=history.shot, words=gone)
    return _whence(session, history, row, owner)


def _whence(session: Session, history: FromFile, row: ShotRow, owner: Project) -> WhenceOut:
    assert history.history is not None
    entry = session.get(Print, uuid.UUID(history.history.print))
    settings = None if history.shot is None else history.shot.as_json()
    own = takes_of(session, {row.id})[row.id]
    take = next((one.number for one in own if settings and same_framing(one.settings, settings)), None)
    name = row.settings["name"]
    if settings is None or same_framing(settings, settings_of(row).as_json()):
        words = say.from_shot_as_it_is_now(name, take)
    else:
        words = say.from_shot_framed_otherwise(name, take)
    there = None if entry is None or entry.deleted else entry.id
    return WhenceOut(project=owner.id, shot=row.id, print=there, take=take, settings=history.shot, words=words)
