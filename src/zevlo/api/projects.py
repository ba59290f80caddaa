"""Projects: the first page, the set, undo and redo, the plan."""

from __future__ import annotations

import shutil
import uuid
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, File, Form, Path, Query, Request, Response, UploadFile
from sqlalchemy.orm import Session

from zevlo.api.arrivals import Coming
from zevlo.api.desk import InTransaction, TheDesk, WritingHome, WritingProject
from zevlo.api.messages import Step
from zevlo.api.print_messages import PrintsOut
from zevlo.api.print_views import prints_out
from zevlo.api.project_messages import HomeOut, ProjectChange, ProjectOut
from zevlo.api.set_messages import ArrivalOut, PlacingChange, PlanOut
from zevlo.api.sets import standing
from zevlo.api.shot_messages import ShotsOut
from zevlo.api.views import home_cards, project_out, shots_only
from zevlo.core.bases import MAX_COORDINATE_M
from zevlo.core.framing.placing_habits import marked
from zevlo.core.light.setup import LightSetup
from zevlo.core.refused import Refused
from zevlo.core.scene.model.placing import Placing, corrected, dropped
from zevlo.core.scene.model.ruler import length_on, ruler_for
from zevlo.files.limits import LARGEST_EXTENT_M
from zevlo.files.names import readable
from zevlo.files.sandbox import import_model
from zevlo.files.scratch import scratch
from zevlo.files.summary import bounds_of
from zevlo.store import changes, projects, shot_rows
from zevlo.store.blobs import get_blob
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.tables import Project
from zevlo.text import answers as say
from zevlo.text import everywhere

router = APIRouter(prefix="/api")
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}
NOT_KEPT = {"Cache-Control": "no-store"}


@router.get("/projects")
def home(session: InTransaction, desk: TheDesk) -> HomeOut:
    """All projects as contact sheets."""
    undo, redo = changes.next_changes(session, changes.HOME)
    return HomeOut(
        projects=home_cards(session),
        undo=undo.label,
        redo=redo.label,
        undo_at=undo.seq,
        redo_at=redo.seq,
        upload_limit=desk.settings.upload_limit,
    )


Ticket = Annotated[str, Path(pattern="^[A-Za-z0-9-]{8,64}$")]


@router.get("/arrivals/{ticket}")
def arrival(ticket: Ticket, desk: TheDesk) -> ArrivalOut:
    """How far a model on its way in has come."""
    coming = desk.arrivals.known(ticket)
    return (
        ArrivalOut(doing="arriving", share=None)
        if coming is None
        else ArrivalOut(doing=coming.doing, share=coming.share)
    )


@router.delete("/arrivals/{ticket}", status_code=204)
def give_up(ticket: Ticket, desk: TheDesk) -> None:
    """Give a model up that is on its way in. Nothing of it stays."""
    desk.arrivals.of(ticket).stop.set()


@router.post("/projects", status_code=201)
async def new_project(
    request: Request,
    desk: TheDesk,
    model: Annotated[UploadFile, File()],
    name: Annotated[str, Form(max_length=120)] = "",
    ticket: Annotated[str, Form(pattern="^([A-Za-z0-9-]{8,64})?$")] = "",
) -> ProjectOut:
    """A new project from a model. A model that is refused leaves nothing behind.

    ``ticket`` is any word of the desk's own, by which it asks how far the reading has come, or gives it up.
    """
    file_name = readable(model.filename or "model").replace("\\", "/").rsplit("/", 1)[-1][:200]
    stem = file_name.rsplit(".", 1)[0].replace("_", " ").replace("-", " ").strip()
    title = readable(name).strip() or stem.capitalize() or say.NEW_PROJECT
    coming = desk.arrivals.of(ticket) if ticket else Coming()

    def bring_in() -> ProjectOut:
        limit = desk.settings.upload_limit
        with scratch("arrival") as folder:
            source = folder / "model"
            with source.open("wb") as sink:
                shutil.copyfileobj(model.file, sink, 1024 * 1024)
            with import_model(source, file_name, limit, progress=coming.tell, stop=coming.stop) as taken:
                coming.tell(say.PUTTING_IT_AWAY, None)
                with transaction(desk.engine) as session:
                    made = projects.create_project(session, title, file_name, taken, LightSetup())
                    return project_out(session, made)

    return await desk.arrivals.read(request, coming, bring_in)


@router.get("/projects/{key}", response_model=ProjectOut)
def one_project(key: uuid.UUID, session: InTransaction) -> Response:
    """A project whole."""
    # Asked for after every change: written out once, not checked and turned over a second time on its way.
    whole = project_out(session, projects.project(session, key))
    return Response(whole.model_dump_json(by_alias=True), media_type="application/json")


@router.get("/projects/{key}/shots", response_model=ShotsOut)
def shots_of_project(key: uuid.UUID, session: InTransaction) -> Response:
    """The shots of a project alone: where only they are other than they were."""
    listed = shots_only(session, projects.project(session, key))
    return Response(listed.model_dump_json(by_alias=True), media_type="application/json")


@router.get("/projects/{key}/prints", response_model=PrintsOut)
def prints_of_project(key: uuid.UUID, session: InTransaction) -> Response:
    """The prints of a project."""
    listed = PrintsOut(prints=prints_out(session, projects.project(session, key)))
    return Response(listed.model_dump_json(by_alias=True), media_type="application/json")


@router.patch("/projects/{key}")
def change_project(key: uuid.UUID, change: ProjectChange, desk: TheDesk, session: WritingProject) -> ProjectOut:
    """Rename, lift parts off or put them back, cut the plan at another height; all the keys that are told count."""
    found = projects.project(session, key)
    values, words = _changed(session, found, change, desk.placed(found).floor_of)
    if not values and change.stand_ins is None:
        return project_out(session, found)
    if change.label is not None and set(values) <= {"places", "habits", "kept"}:
        words = [change.label]
    stand_ins = None if change.stand_ins is None else tuple(change.stand_ins)
    if stand_ins is not None:
        words.append(change.label or everywhere.STAND_INS)
    label = ", ".join(dict.fromkeys(words))[:200]
    projects.change_project(session, key, change.version, label, stand_ins, desk.floors(found), **values)
    return project_out(session, projects.project(session, key))


def _changed(
    session: Session, found: Project, change: ProjectChange, floor_of: projects.FloorOf
) -> tuple[dict[str, Any], list[str]]:
    """The columns a change writes, and its words."""
    values: dict[str, Any] = {}
    words: list[str] = []
    ruler = ruler_for(projects.body_in(session, found))
    if change.lifted is not None:
        values["lifted"] = list(dict.fromkeys(change.lifted))
        words.append(say.LIFT_OFF if len(values["lifted"]) > len(found.lifted) else say.PUT_BACK)
    if change.plan_height is not None:
        values["plan_height"] = change.plan_height
        words.append(say.cut_the_plan_at(length_on(ruler, change.plan_height)))
    places = projects.places_of(found)
    if change.places is not None:
        places = change.places.in_order()
        values["places"] = places.model_dump(mode="json")
        words.append(say.LEVELS_AND_ROOMS)
    if change.plan_level is not None:
        levels = {level.name: level.floor_m for level in places.levels}
        if change.plan_level not in levels:
            raise Missing(say.there_is_no_level(change.plan_level))
        values["plan_height"] = levels[change.plan_level] + projects.PLAN_CUT_M
        words.append(say.cut_the_plan_on(change.plan_level))
    for key, value in (
        ("habits", say.HEIGHTS_AND_STEPS),
        ("site", say.NORTH_AND_PLACE),
        ("kept", say.WHAT_THE_PROJECT_KEEPS),
    ):
        given = getattr(change, key)
        if given is not None:
            values[key] = given.model_dump(mode="json")
            words.append(value)
    if change.mark is not None:
        height = _lens_height(session, found, change.mark.shot, floor_of)
        habits = marked(change.habits or projects.habits_of(found), height, ruler, change.mark.on)
        values["habits"] = habits.model_dump(mode="json")
        words.append(f"{say.MARK if change.mark.on else say.REMOVE_THE_MARK_AT} {length_on(ruler, height)}")
    if change.name is not None:
        values["name"] = change.name
        words.append(say.rename_the_project(change.name))
    return values, words


def _lens_height(session: Session, found: Project, key: uuid.UUID, floor_of: projects.FloorOf) -> float:
    """Height of a shot's lens above the floor, above zero where there is none."""
    row = shot_rows.shot_row(session, key)
    if row.project_id != found.id:
        raise Missing(say.THAT_SHOT_IS_NOT_IN_THIS_PROJECT)
    shot = shot_rows.settings_of(row)
    return float(shot.stand.position[2]) - (floor_of(shot) or 0.0)


@router.post("/projects/{key}/placing")
def place_set(key: uuid.UUID, change: PlacingChange, desk: TheDesk, session: WritingProject) -> ProjectOut:
    """Correct unit, up axis or turn of the set, or drop it to the ground; every framing stays as it is."""
    found = projects.project(session, key)
    summary = projects.revision_of(session, found).summary
    points = np.array(summary["extremes"])
    placing = projects.arrangement_of(found).placing
    if change.again:
        placing = Placing.model_validate(summary.get("placing", {}))
    placing = corrected(placing, change.metres_per_unit, change.up, change.turn_deg)
    if change.drop:
        placing = dropped(points, placing)
    box = np.array(bounds_of(summary, placing))
    if float((box[1] - box[0]).max()) > LARGEST_EXTENT_M or float(np.abs(box).max()) > MAX_COORDINATE_M:
        raise Refused(say.THAT_WOULD_MAKE_THE_SET)
    projects.place_set(session, key, change.version, placing, desk.floors(found))
    return project_out(session, projects.project(session, key))


@router.delete("/projects/{key}", status_code=204)
def delete_project(key: uuid.UUID, session: WritingHome) -> None:
    """Delete a project. Undone from the first page."""
    projects.delete_project(session, key)


@router.post("/undo")
def undo_home(session: WritingHome, desk: TheDesk, step: Step | None = None) -> HomeOut:
    """Take back the newest change to the list of projects."""
    changes.undo(session, changes.HOME, None if step is None else step.change)
    return home(session, desk)


@router.post("/redo")
def redo_home(session: WritingHome, desk: TheDesk, step: Step | None = None) -> HomeOut:
    """Do it again."""
    changes.redo(session, changes.HOME, None if step is None else step.change)
    return home(session, desk)


@router.post("/projects/{key}/undo")
def undo_project(key: uuid.UUID, session: WritingProject, step: Step | None = None) -> ProjectOut:
    """Take back the newest change in a project."""
    changes.undo(session, str(key), None if step is None else step.change)
    return project_out(session, projects.project(session, key))


@router.post("/projects/{key}/redo")
def redo_project(key: uuid.UUID, session: WritingProject, step: Step | None = None) -> ProjectOut:
    """Do it again."""
    changes.redo(session, str(key), None if step is None else step.change)
    return project_out(session, projects.project(session, key))


@router.get("/projects/{key}/plan")
def plan(
    key: uuid.UUID,
    desk: TheDesk,
    height: Annotated[float | None, Query(ge=-10000, le=10000)] = None,
    thin: bool = True,
) -> PlanOut:
    """The plan of the set as it is on the desk, cut at the project's height or at another one.

    Without its ``thin`` lines the cut of a large set comes much sooner.
    """
    with transaction(desk.engine) as session:
        found = projects.project(session, key)
    chosen = found.plan_height if height is None else height
    return desk.shelf.plan(standing(found), round(chosen, 4), thin)


@router.get("/sets/{name}/view.glb")
def set_view(name: str, session: InTransaction) -> Response:
    """The set as the desk draws it."""
    try:
        return Response(get_blob(session, name), media_type="model/gltf-binary", headers=FOREVER)
    except KeyError:
        raise changes.Missing(say.THERE_IS_NO_SUCH_SET) from None


@router.get("/sets/{name}/picture")
def set_picture(name: str, session: InTransaction) -> Response:
    """A texture of a set, as it came."""
    try:
        raw = get_blob(session, name)
    except KeyError:
        raise changes.Missing(say.THERE_IS_NO_SUCH_PICTURE) from None
    kind = "image/png" if raw[:4] == b"\x89PNG" else "image/jpeg" if raw[:2] == b"\xff\xd8" else "image/webp"
    return Response(raw, media_type=kind, headers=FOREVER)
