"""Projects and the revisions of their sets."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from zevlo.core.arrays import Floats
from zevlo.core.constraints.set_moved import shot_moved
from zevlo.core.constraints.stand_in_moved import moved_along, paired
from zevlo.core.framing.placing_habits import Habits, is_small
from zevlo.core.framing.presets import Presets
from zevlo.core.framing.shot_name import proposed_name
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import Lights, NamedLight, Site
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.scene.model.placing import Placing, transform_between
from zevlo.core.scene.places.levels import Places, SetContext, places_moved
from zevlo.core.scene.stand_ins.made import StandIn, footprint, known_apart, moved_with_set
from zevlo.core.shot import Shot
from zevlo.files.sandbox import ImportedModel
from zevlo.files.summary import body_of, bounds_of
from zevlo.store.blobs import put_file
from zevlo.store.changes import HOME, Missing, Writing, hold, locked_row
from zevlo.store.shot_names import name_untouched
from zevlo.store.shot_rows import settings_of, shots_held
from zevlo.store.tables import LightRow, Project, Revision
from zevlo.store.takes import shots_with_takes
from zevlo.text import store as say

PLAN_CUT_M = 1.2
FIRST_LIGHT = say.DAYLIGHT


def add_revision(
    session: Session, project_id: uuid.UUID, file_name: str, files: Mapping[str, Any], summary: dict[str, Any]
) -> Revision:
    """A set that was read, with the file it came from, whose files are put away.

    ``project_id``: whose; ``file_name``: what the file is called; ``summary``: what is told of the set."""
    revision = Revision(project_id=project_id, file_name=file_name, **files, summary=summary)
    session.add(revision)
    session.flush()
    return revision


def _put_away(session: Session, taken: ImportedModel) -> dict[str, Any]:
    """The files of a set, by what they are."""
    return {
        "source": put_file(session, taken.source, "application/octet-stream"),
        "arrays": put_file(session, taken.arrays, "application/x-npz"),
        "views": [put_file(session, path, "model/gltf-binary") for path in taken.views],
        "pictures": [put_file(session, path, "application/octet-stream") for path in taken.pictures],
    }


def create_project(
    session: Session, name: str, file_name: str, taken: ImportedModel, light: LightSetup, places: Places | None = None
) -> Project:
    """A new project with its first set, placed as the file says or as was guessed, with the levels it brought.

    ``name``: its own; ``file_name``: of the model; ``taken``: what came of that; ``light``: it begins with; ``places``:
    levels and rooms it brings, None for those that are proposed."""
    summary = taken.summary
    placing = Placing.model_validate(summary["placing"])
    found = Places.model_validate(summary["places"]) if places is None else places
    project = Project(
        name=name,
        revision_id=None,
        lifted=[],
        plan_height=first_plan_height(summary, placing, found),
        arrangement=Arrangement(placing=placing).model_dump(mode="json"),
        places=found.model_dump(mode="json"),
        site=summary["site"],
    )
    # Hundreds of megabytes may take a while: nobody is held up meanwhile.
    files = _put_away(session, taken)
    writing = Writing(session, HOME)
    writing.add(project)
    session.add(LightRow(project_id=project.id, name=FIRST_LIGHT, settings=light.model_dump(mode="json")))
    session.flush()
    session.refresh(project, ["lights"])
    project.revision_id = add_revision(session, project.id, file_name, files, summary).id
    writing.done(say.new_project(name))
    return project


def first_plan_height(summary: dict[str, Any], placing: Placing, places: Places) -> float:
    """Where the plan is cut at first: 1.2 m above the level nearest to zero, or above the lowest likely floor; through
    the middle of a thing on a table."""
    lowest = float(bounds_of(summary, placing)[0][2])
    body = np.array(body_of(summary, placing))
    if is_small(body) and not places.levels:
        return float(body[:, 2].mean())
    floors = [level.floor_m for level in places.levels]
    return (min(floors, key=abs) if floors else max(lowest, 0.0)) + PLAN_CUT_M


def arrangement_of(found: Project) -> Arrangement:
    """How the set of a project stands."""
    return Arrangement.model_validate(found.arrangement)


def places_of(found: Project) -> Places:
    """Levels and rooms of a project."""
    return Places.model_validate(found.places)


def site_of(found: Project) -> Site:
    """North and place of a project."""
    return Site.model_validate(found.site)


def habits_of(found: Project) -> Habits:
    """How one places in a project."""
    return Habits.model_validate(found.habits)


def presets_of(found: Project) -> Presets:
    """What a project keeps of its own."""
    return Presets.model_validate(found.kept)


def body_in(session: Session, found: Project) -> Floats:
    """The box (2, 3) of a project's set, without the ground and stand-ins."""
    return np.array(body_of(revision_of(session, found).summary, arrangement_of(found).placing))


def lights_of(found: Project) -> Lights:
    """The light setups of a project, where its north lies."""
    setups = tuple(NamedLight(one.id, one.name, LightSetup.model_validate(one.settings)) for one in found.lights)
    return Lights(setups, site_of(found).north_deg)


def where_of(found: Project) -> SetContext:
    """What places in a project are called by."""
    return SetContext(places_of(found), site_of(found).north_deg, presets_of(found).primes_mm)


def name_of(found: Project) -> Callable[[Shot, float | None], str]:
    """What a shot of a project is called by what it shows, on a floor."""
    where, points = where_of(found), habits_of(found).compass_points
    return lambda shot, floor: proposed_name(shot, where, floor, points)


def _names_come_from(found: Project) -> tuple[Places, float, int]:
    return places_of(found), site_of(found).north_deg, habits_of(found).compass_points


def projects(session: Session) -> list[Project]:
    """All projects that are not deleted, newest first."""
    return list(session.scalars(select(Project).where(~Project.deleted).order_by(Project.created.desc())))


@dataclass(frozen=True)
class SetLine:
    """What the first page says of a set."""

    file_name: str
    triangles: int


def set_lines(session: Session, keys: Sequence[uuid.UUID]) -> dict[uuid.UUID, SetLine]:
    """A line of each of some sets, without their parts."""
    chosen = select(Revision.id, Revision.file_name, Revision.summary["triangles"].as_integer())
    return {key: SetLine(name, count) for key, name, count in session.execute(chosen.where(Revision.id.in_(keys)))}


def project(session: Session, key: uuid.UUID) -> Project:
    """A project. Raises :class:`Missing`."""
    found = session.get(Project, key)
    if found is None or found.deleted:
        raise Missing(say.THERE_IS_NO_SUCH_PROJECT)
    return found


def revision_of(session: Session, found: Project) -> Revision:
    """The set a project stands on now."""
    revision = session.get(Revision, found.revision_id)
    if revision is None:
        raise Missing(say.THIS_PROJECT_HAS_NO_SET)
    return revision


def change_project(
    session: Session,
    key: uuid.UUID,
    seen: int,
    label: str,
    stand_ins: tuple[StandIn, ...] | None = None,
    floors: Floors | None = None,
    **values: Any,
) -> Project:
    """Change what a project is called or how it stands, in one change. Shots named by what they show get the names
    that go with it. ``floors``: asked for shots above a stand-in that changed.

    ``key``: whose; ``seen``: the version the change was made from; ``label``: what undo calls it; ``stand_ins``:
    others, None where they stay."""
    found = locked_row(session, Project, key)
    writing = Writing(session, str(key))
    before = _names_come_from(found)
    writing.change(found, seen, **values)
    if stand_ins is not None:
        _put_stand_ins(session, writing, found, None if values else seen, stand_ins, floors)
    if _names_come_from(found) != before:
        name_untouched(session, writing, key, name_of(found))
    writing.done(label)
    return found


FloorOf = Callable[[Shot], float | None]
"""Height of the floor under a shot."""
Floors = Callable[[Arrangement], FloorOf]
"""The floors of a project's set as it stands in an arrangement."""


def place_set(session: Session, key: uuid.UUID, seen: int, placing: Placing, floors: Floors | None = None) -> Project:
    """Correct how the set is placed. Shots, their takes, levels and the plan's cut go with it: no framing changes.

    ``floors``: asked where another side is up, so that other floors lie under the shots.

    ``key``: of the project; ``seen``: the version it was made from; ``placing``: the new one."""
    found = locked_row(session, Project, key)
    old = arrangement_of(found)
    change = transform_between(old.placing, placing)
    writing = Writing(session, str(key))
    moved = places_of(found)
    goes = {"placing": placing, "stand_ins": tuple(moved_with_set(one, change) for one in old.stand_ins)}
    new = old.model_copy(update=goes)
    values: dict[str, Any] = {"arrangement": new.model_dump(mode="json")}
    if old.placing.up == placing.up:
        moved = places_moved(moved, change)
        values["plan_height"] = float(change[2, 2] * found.plan_height + change[2, 3])
        values["places"] = moved.model_dump(mode="json")
    else:
        values["plan_height"] = first_plan_height(revision_of(session, found).summary, placing, Places())
        values["places"] = Places().model_dump(mode="json")
    writing.change(found, seen, **values)
    for row, takes in shots_with_takes(session, key):
        moved_shot = shot_moved(settings_of(row), change)
        floor: float | None = None
        if old.placing.up != placing.up:
            floor = None if floors is None else floors(new)(moved_shot)
        elif row.floor_m is not None:
            floor = float(change[2, 2] * row.floor_m + change[2, 3])
        writing.change(row, None, settings=moved_shot.as_json(), floor_m=floor)
        for take in takes:
            writing.change(take, None, settings=shot_moved(settings_of(take), change).as_json())
    name_untouched(session, writing, key, name_of(found))
    writing.done(say.CORRECT_HOW_THE_SET)
    return found


def put_stand_ins(
    session: Session,
    key: uuid.UUID,
    seen: int,
    stand_ins: tuple[StandIn, ...],
    label: str,
    floors: Floors | None = None,
) -> Project:
    """Other stand-ins, and with them the shots that follow one.

    One that is gone is not among what is lifted off any more. A locked shot does not move. ``floors``: asked for shots
    above a stand-in that changed.

    ``key``: of the project; ``seen``: the version it was made from; ``label``: what undo calls it."""
    return change_project(session, key, seen, label, stand_ins, floors)


def _put_stand_ins(
    session: Session, writing: Writing, found: Project, seen: int | None, stand_ins: tuple[StandIn, ...],
    floors: Floors | None,
) -> None:  # fmt: skip
    key, old = found.id, arrangement_of(found)
    stand_ins = known_apart(stand_ins)
    gone = {one.part_id for one in old.stand_ins} - {one.part_id for one in stand_ins}
    new = old.model_copy(update={"stand_ins": stand_ins})
    values: dict[str, Any] = {"arrangement": new.model_dump(mode="json")}
    if gone & set(found.lifted):
        values["lifted"] = [part for part in found.lifted if part not in gone]
    writing.change(found, seen, **values)
    pairs = paired(old.stand_ins, stand_ins)
    changed = [one for one in (*old.stand_ins, *stand_ins) if (one in stand_ins) != (one in old.stand_ins)]
    for row in shots_held(session, key) if changed else ():
        before = settings_of(row)
        after = before if row.locked else moved_along(before, pairs)
        floor = row.floor_m
        if floors is not None and any(_under(one, after) for one in changed):
            floor = floors(new)(after)
        if after != before or floor != row.floor_m:
            writing.change(row, None, settings=after.as_json(), floor_m=floor)
    if changed:
        name_untouched(session, writing, key, name_of(found))


def _under(one: StandIn, shot: Shot) -> bool:
    """Whether a stand-in may be what a shot stands on."""
    outline = footprint(one)
    low, high = outline.min(axis=0) - 0.01, outline.max(axis=0) + 0.01
    x, y, _ = shot.stand.position
    return bool(low[0] <= x <= high[0] and low[1] <= y <= high[1])


def delete_project(session: Session, key: uuid.UUID) -> None:
    """Delete a project; undone from the first page."""
    hold(session, HOME)
    found = locked_row(session, Project, key)
    writing = Writing(session, HOME)
    writing.change(found, None, deleted=True)
    writing.done(say.delete_project(found.name))
