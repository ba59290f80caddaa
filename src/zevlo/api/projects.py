"""Projects: the first page, the set, undo and redo, the plan."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, File, Form, Query, Response, UploadFile

from zevlo.api.desk import InTransaction, TheDesk
from zevlo.api.messages import HomeOut, PlanOut, ProjectChange, ProjectOut
from zevlo.api.views import project_card, project_out
from zevlo.core.light.setup import LightSetup
from zevlo.files.door import take_in
from zevlo.files.refusal import CannotRead
from zevlo.store import changes, projects
from zevlo.store.blobs import get_blob
from zevlo.store.database import transaction

router = APIRouter(prefix="/api")
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}


@router.get("/projects")
def home(session: InTransaction) -> HomeOut:
    """All projects as contact sheets."""
    undo_label, redo_label = changes.next_labels(session, changes.HOME)
    cards = [project_card(session, project) for project in projects.projects(session)]
    return HomeOut(projects=cards, undo=undo_label, redo=redo_label)


@router.post("/projects", status_code=201)
def new_project(
    desk: TheDesk, model: Annotated[UploadFile, File()], name: Annotated[str, Form(max_length=120)] = ""
) -> ProjectOut:
    """A new project from a model. A model that is refused leaves nothing behind."""
    limit = desk.settings.upload_limit
    data = model.file.read(limit + 1)
    if len(data) > limit:
        raise CannotRead(
            f"The file is larger than {limit // 1024**2} MB, which is what is taken. "
            "Leave out what no shot sees, or make the textures smaller."
        )
    file_name = (model.filename or "model.glb").replace("\\", "/").rsplit("/", 1)[-1][:200]
    taken = take_in(data, limit)
    stem = file_name.rsplit(".", 1)[0].replace("_", " ").replace("-", " ").strip()
    title = name.strip() or stem.capitalize() or "New project"
    incoming = projects.IncomingSet(file_name, data, taken.arrays, taken.view, taken.summary)
    with transaction(desk.engine) as session:
        return project_out(session, projects.create_project(session, title, incoming, LightSetup()))


@router.get("/projects/{key}")
def one_project(key: uuid.UUID, session: InTransaction) -> ProjectOut:
    """A project whole."""
    return project_out(session, projects.project(session, key))


@router.patch("/projects/{key}")
def change_project(key: uuid.UUID, change: ProjectChange, session: InTransaction) -> ProjectOut:
    """Rename, lift parts off or put them back, cut the plan at another height."""
    found = projects.project(session, key)
    if change.lifted is not None:
        count = len(projects.revision_of(session, found).summary["parts"])
        lifted = sorted({n for n in change.lifted if n < count})
        label = "Lift off" if len(lifted) > len(found.lifted) else "Put back"
        projects.change_project(session, key, change.version, label, lifted=lifted)
    elif change.plan_height is not None:
        words = f"Cut the plan at {change.plan_height:.2f} m"
        projects.change_project(session, key, change.version, words, plan_height=change.plan_height)
    elif change.name is not None:
        words = f"Rename the project “{change.name}”"
        projects.change_project(session, key, change.version, words, name=change.name)
    return project_out(session, projects.project(session, key))


@router.delete("/projects/{key}", status_code=204)
def delete_project(key: uuid.UUID, session: InTransaction) -> None:
    """Delete a project. Undone from the first page."""
    projects.delete_project(session, key)


@router.post("/undo")
def undo_home(session: InTransaction) -> HomeOut:
    """Take back the newest change to the list of projects."""
    changes.undo(session, changes.HOME)
    return home(session)


@router.post("/redo")
def redo_home(session: InTransaction) -> HomeOut:
    """Do it again."""
    changes.redo(session, changes.HOME)
    return home(session)


@router.post("/projects/{key}/undo")
def undo_project(key: uuid.UUID, session: InTransaction) -> ProjectOut:
    """Take back the newest change in a project."""
    changes.undo(session, str(key))
    return project_out(session, projects.project(session, key))


@router.post("/projects/{key}/redo")
def redo_project(key: uuid.UUID, session: InTransaction) -> ProjectOut:
    """Do it again."""
    changes.redo(session, str(key))
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
    assert found.revision_id is not None
    chosen = found.plan_height if height is None else height
    return desk.shelf.plan(found.revision_id, frozenset(found.lifted), round(chosen, 4), thin)


@router.get("/sets/{name}/view.glb")
def set_view(name: str, session: InTransaction) -> Response:
    """The set as the desk draws it."""
    try:
        return Response(get_blob(session, name), media_type="model/gltf-binary", headers=FOREVER)
    except KeyError:
        raise changes.Missing("There is no such set.") from None
