"""Shots out as cameras of other programs, and cameras of theirs in as shots."""

from __future__ import annotations

import shutil
import uuid
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session

from zevlo.api.arrivals import Coming
from zevlo.api.desk import Desk, InTransaction, TheDesk
from zevlo.api.messages import Message
from zevlo.api.projects import NOT_KEPT
from zevlo.api.sending import attached
from zevlo.api.sets import standing
from zevlo.api.shot_views import around
from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera, Unread, camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.exchange.shot_from_camera import taken, without_number, written_elsewhere
from zevlo.core.framing.differences import differences
from zevlo.core.refused import Refused
from zevlo.core.scene.model.placing import UNITS_M, matrix_of
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.shot import Shot
from zevlo.files.cameras.formats import FORMATS, CameraFormat, format_of, write_cameras
from zevlo.files.sandbox import import_cameras
from zevlo.files.scratch import scratch
from zevlo.store import projects, shots
from zevlo.store.blobs import open_blob
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.projects import arrangement_of
from zevlo.store.shot_rows import Placed, settings_of, shots_of
from zevlo.store.tables import Project, ShotRow
from zevlo.text import answers as say

router = APIRouter(prefix="/api")
Unit = Literal["m", "cm", "mm", "in", "ft"]


@dataclass(frozen=True)
class World:
    """The other program's world, as it is asked for: unit and upright axis, or those of the model itself."""

    unit: Annotated[Unit, Query()] = "m"
    up: Annotated[Literal["y", "z"], Query()] = "z"
    own: Annotated[bool, Query()] = False

    def receiver(self, project: Project) -> Receiver:
        placing = arrangement_of(project).placing
        if self.own:
            return Receiver(placing.metres_per_unit, placing.up, matrix_of(placing))
        return Receiver(UNITS_M[self.unit], self.up)


class CameraKind(Message):
    """A kind of file cameras go out in and come in from."""

    endings: list[str]
    words: str
    in_any_world: bool
    """Whether unit and upright axis are for the other program to choose; else the kind has its own."""
    says_its_world: bool
    """Whether a file that comes tells them itself."""


class CameraKinds(Message):
    kinds: list[CameraKind]


class NotSaid(Message):
    """What a file will not tell another program of the shots in it."""

    words: list[str]


class CameraCame(Message):
    """A camera of a file that came."""

    name: str
    shot: uuid.UUID | None
    """The shot it is other settings for; null: it comes as a new one."""
    changes: list[str]
    """What it changes of that, in words."""
    words: list[str]
    """What could not be taken."""
    refused: str | None


class CamerasCame(Message):
    cameras: list[CameraCame]
    written: bool


@router.get("/cameras/kinds")
def camera_kinds() -> CameraKinds:
    """The kinds of files there are."""
    kinds = [
        CameraKind(
            endings=list(one.endings), words=one.words, in_any_world=one.in_any_world, says_its_world=one.says_its_world
        )
        for one in FORMATS
    ]  # fmt: skip
    return CameraKinds(kinds=kinds)


@dataclass(frozen=True)
class Chosen:
    """Which shots go: those that are named, or all but those; an address holds some fifteen hundred ids."""

    shot: Annotated[list[uuid.UUID] | None, Query()] = None
    but: Annotated[list[uuid.UUID] | None, Query()] = None

    def among(self, rows: Sequence[ShotRow]) -> list[ShotRow]:
        named = ({row.id for row in rows} if self.shot is None else set(self.shot)) - set(self.but or ())
        return [row for row in rows if row.id in named]


def _chosen(session: Session, key: uuid.UUID, chosen: Chosen, kind: CameraFormat) -> list[CameraRecord]:
    rows = chosen.among(shots_of(session, key))
    if not rows:
        raise Missing(say.THERE_IS_NO_SHOT)
    return [camera_record_of(settings_of(row), str(row.id), kind.says) for row in rows]


@router.get("/projects/{key}/cameras/not-said")
def not_said(
    key: uuid.UUID, session: InTransaction, world: Annotated[World, Depends()], chosen: Annotated[Chosen, Depends()],
    ending: str = Query(max_length=20),
) -> NotSaid:  # fmt: skip
    """What such a file will not tell of the shots: to be known before it is saved."""
    return NotSaid(words=_written(session, key, world, ending, chosen)[1])


@router.get("/projects/{key}/cameras/file")
def cameras_file(
    key: uuid.UUID, desk: TheDesk, session: InTransaction, world: Annotated[World, Depends()],
    chosen: Annotated[Chosen, Depends()], ending: str = Query(max_length=20), with_set: bool = False,
) -> Response:  # fmt: skip
    """Shots as a file of a kind: all, those that are named, or all but those; ``with_set``: with the set they look at,
    in .glb."""
    model = desk.shelf.model(standing(projects.project(session, key))) if with_set else None
    data, _, name = _written(session, key, world, ending, chosen, model)
    headers = {**NOT_KEPT, "Content-Disposition": attached(say.cameras(name), ending.lstrip("."))}
    return Response(data, media_type="application/octet-stream", headers=headers)


def _written(
    session: Session,
    key: uuid.UUID,
    world: World,
    ending: str,
    chosen: Chosen,
    model: SetModel | None = None,
) -> tuple[bytes, list[str], str]:
    project = projects.project(session, key)
    if not ending.startswith(".") or "/" in ending:
        raise NoCamera(say.is_no_kind_of_file(ending))
    kind = format_of(f"cameras{ending}")
    with scratch("cameras") as folder:
        path = folder / f"cameras{ending}"
        words = write_cameras(_chosen(session, key, chosen, kind), path, world.receiver(project), model)
        return path.read_bytes(), words, project.name


_A_FILE = {"requestBody": {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}


@router.post("/projects/{key}/cameras", openapi_extra=_A_FILE)
async def bring_cameras_in(
    key: uuid.UUID, request: Request, desk: TheDesk, world: Annotated[World, Depends()],
    name: str = Query(max_length=200), only_try: bool = True,
) -> CamerasCame:  # fmt: skip
    """Cameras of a file as shots: those that came from here, or have a shot's name, as other settings for that, the
    others as new ones. With ``only_try`` it is only told what that would be."""
    with scratch("cameras") as folder:
        path = folder / "given"
        with path.open("wb") as file:
            async for piece in request.stream():
                await run_in_threadpool(file.write, piece)

        def read(coming: Coming) -> Found:
            with transaction(desk.engine) as session:
                receiver = world.receiver(projects.project(session, key))
            return import_cameras(path, name.replace("\\", "/").rsplit("/", 1)[-1], receiver, coming.stop)

        return await _came(desk, request, key, read, only_try)


@router.post("/projects/{key}/cameras/of-set")
async def bring_in_cameras_of_set(
    key: uuid.UUID, request: Request, desk: TheDesk, only_try: bool = True
) -> CamerasCame:
    """The cameras of the model that was brought in as shots, where they stand in it. With ``only_try`` it is only told
    what that would be."""

    def read(coming: Coming) -> Found:
        with transaction(desk.engine) as session:
            project = projects.project(session, key)
            revision = projects.revision_of(session, project)
            name, receiver = revision.file_name, World(own=True).receiver(project)
            try:
                format_of(name)
            except NoCamera as reason:
                words = say.the_set_came_from_models(name)
                raise NoCamera(words) from reason
            source = open_blob(session, revision.source)
        with scratch("cameras") as folder, source:
            path = folder / "given"
            with path.open("wb") as copy:
                shutil.copyfileobj(source, copy)
            return import_cameras(path, name, receiver, coming.stop, in_the_model=True)

    return await _came(desk, request, key, read, only_try)


async def _came(
    desk: Desk, request: Request, key: uuid.UUID, read: Callable[[Coming], Found], only_try: bool
) -> CamerasCame:
    """Cameras that are read in line with the models that come, before anything is held, and then written."""
    coming = Coming()
    found = await desk.arrivals.read(request, coming, lambda: read(coming))
    async with desk.placing_project(key) as session:
        return await run_in_threadpool(_brought_in, desk, session, key, found, only_try)


def _brought_in(desk: Desk, session: Session, key: uuid.UUID, found: Found, only_try: bool) -> CamerasCame:
    project = projects.project(session, key)
    rows = shots_of(session, key)
    called = around(session, project).parts.called
    came, wanted, placed = [], [], desk.placed(project)
    for camera, row in zip(found, _rows_for(found, rows), strict=True):
        before = None if row is None else settings_of(row)
        shot_key = None if row is None else row.id
        if isinstance(camera, Unread):
            came.append(CameraCame(name=camera.name, shot=None, changes=[], words=[], refused=say.reason(camera.why)))
            continue
        try:
            one = taken(camera, before)
        except NoCamera as reason:
            came.append(CameraCame(name=camera.name, shot=shot_key, changes=[], words=[], refused=str(reason)))
            continue
        shot, changes = one.shot, list[str]()
        if before is not None and row is not None:
            if not row.named_by_hand and camera.shot is not None and camera.shot.name == shot.name:
                # Nobody gave it a name, here or elsewhere: it goes on to be called by what it shows.
                shot = shot.model_copy(update={"name": before.name})
            changes = [say.called(shot.name)] if shot.name != before.name else []
            changes += [change.words for change in differences(before, shot, called)]
        refused = _refused(placed, shot)
        if row is not None and row.locked and changes:
            refused = say.is_locked(row.settings["name"])
        if refused is None and (row is None or changes):
            wanted.append((shot_key, shot))
        came.append(CameraCame(name=shot.name, shot=shot_key, changes=changes, words=list(one.words), refused=refused))
    write = not only_try and bool(wanted)
    if write:
        shots.bring_in(session, key, wanted, say.bring_in(len(wanted)), placed)
    return CamerasCame(cameras=came, written=write)


def _rows_for(cameras: Sequence[CameraRecord | Unread], rows: Sequence[ShotRow]) -> list[ShotRow | None]:
    """The shots cameras are other settings for: by their ids, then by their names; each shot only once."""
    by_id = {str(row.id): row for row in rows}
    found = [None if isinstance(one, Unread) or one.key is None else by_id.pop(one.key, None) for one in cameras]
    free = dict.fromkeys(by_id)
    ours: dict[str, list[str]] = {}
    elsewhere: dict[str, list[str]] = {}
    for name, row in by_id.items():
        ours.setdefault(row.settings["name"], []).append(name)
        for written in written_elsewhere(row.settings["name"]):
            elsewhere.setdefault(written, []).append(name)
    for index, called in ((ours, str), (elsewhere, without_number)):
        for n, one in enumerate(cameras):
            if found[n] or isinstance(one, Unread):
                continue
            theirs = next((name for name in index.get(called(one.name), ()) if name in free), None)
            if theirs is not None:
                found[n] = by_id[theirs]
                del free[theirs]
    return found


def _refused(placed: Placed, shot: Shot) -> str | None:
    try:
        placed.check(shot)
    except Refused as reason:
        return str(reason)
    return None
