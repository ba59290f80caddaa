"""Rows as the desk sees them."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from zevlo.api.parts import parts_out
from zevlo.api.project_messages import FrameOut, ProjectCard, ProjectOut, RoomMark, StandInMark
from zevlo.api.set_messages import SetOut
from zevlo.api.shot_messages import ShotsOut, UndoOut
from zevlo.api.shot_views import around, shots_out
from zevlo.core.framing.placing_habits import by_size, is_small
from zevlo.core.optics.back import fit_back
from zevlo.core.scene.model.placing import Placing, matrix_of
from zevlo.core.scene.model.ruler import ruler_for, usual_step
from zevlo.core.scene.places.levels import Level, Places, Room, level_at, mark_in, signed_area
from zevlo.core.scene.stand_ins.made import StandIn, footprint, front_of
from zevlo.files.summary import body_of, bounds_of, outline_of
from zevlo.lab.thumbnail import picture_key, seen_of
from zevlo.store.changes import next_changes
from zevlo.store.projects import (
    SetLine,
    arrangement_of,
    habits_of,
    lights_of,
    places_of,
    presets_of,
    projects,
    revision_of,
    set_lines,
    site_of,
)
from zevlo.store.shot_rows import first_shots, settings_of, written_of
from zevlo.store.tables import Project, Revision, ShotRow
from zevlo.text import answers as say
from zevlo.text import everywhere

UNIT_WORDS = {"m": "metres", "cm": "centimetres", "mm": "millimetres", "in": "inches", "ft": "feet"}


def said_words(summary: dict[str, Any]) -> str:
    """What a file says of its unit and axis."""
    metres, up = summary["said"]["metres_per_unit"], summary["said"]["up"]
    unit = None if metres is None else Placing(metres_per_unit=metres).unit
    length = say.NO_UNIT if metres is None else UNIT_WORDS.get(unit or "", say.units_of_m(metres))
    axis = say.NO_UP_AXIS if up is None else everywhere.up(up.upper())
    return say.the_file_says_and(summary["kind"], length, axis)


def set_out(revision: Revision, project: Project) -> SetOut:
    """A project's set as it stands."""
    summary = revision.summary
    arrangement = arrangement_of(project)
    placing = arrangement.placing
    first = Placing.model_validate(summary.get("placing", {}))
    to_file = np.eye(4)
    if "view_matrix" in summary:
        to_file = np.array(summary["view_matrix"]).reshape(4, 4)
    to_file[:3, 3] += summary.get("view_origin", (0.0, 0.0, 0.0))
    body = body_of(summary, placing)
    settled = {"unit": placing.metres_per_unit != first.metres_per_unit, "up": placing.up != first.up}
    return SetOut(
        revision=revision.id,
        file_name=revision.file_name,
        triangles=summary["triangles"],
        materials=summary["materials"],
        textures=summary["textures"],
        kind=summary["kind"],
        drawn=summary["drawn"],
        bounds=bounds_of(summary, placing),
        body=body,
        small=is_small(np.array(body)),
        ruler=ruler_for(np.array(body)),
        parts=parts_out(summary, arrangement),
        own_parts=len(summary["parts"]),
        views=[f"/api/sets/{name}/view.glb" for name in revision.views],
        view_matrix=(matrix_of(placing) @ to_file).ravel().tolist(),
        stand_ins_view=stand_ins_address(project),
        outline=outline_of(summary, placing),
        placing=placing,
        unit=placing.unit,
        guessed=[what for what in summary["guessed"] if not settled[what]],
        said=said_words(summary),
        remarks=summary["remarks"],
    )


def stand_ins_address(project: Project) -> str | None:
    """Where the stand-ins of a project are drawn from; another address for each change to them."""
    mark = stand_ins_mark(project)
    return None if mark is None else f"/api/projects/{project.id}/stand-ins.glb?of={mark}"


def stand_ins_mark(project: Project) -> str | None:
    """Another word for each state of a project's stand-ins; None where there are none."""
    stand_ins = project.arrangement.get("stand_ins")
    return hashlib.sha256(json.dumps(stand_ins, sort_keys=True).encode()).hexdigest()[:16] if stand_ins else None


def project_out(session: Session, project: Project) -> ProjectOut:
    """A project whole."""
    written = written_of(session, project.id)
    undo, redo = next_changes(session, str(project.id))
    x, y, z = lights_of(project).of(None).toward_sun()
    revision = revision_of(session, project)
    places = places_of(project)
    level = level_at(places, project.plan_height)
    the_set = set_out(revision, project)
    shared = around(session, project)
    stand_ins, habits = arrangement_of(project).stand_ins, habits_of(project)
    return ProjectOut(
        id=project.id,
        version=project.version,
        name=project.name,
        set=the_set,
        lifted=project.lifted,
        hidden=shared.parts.with_all_below(project.lifted),
        lifted_above=project.lifted_above,
        plan_height=project.plan_height,
        plan_level=None if level is None else level.name,
        places=places,
        room_marks=[_room_mark(room) for room in places.rooms],
        stand_ins=list(stand_ins),
        stand_in_marks=[_stand_in_mark(one, places, level) for one in stand_ins],
        site=site_of(project),
        habits=habits,
        kept=presets_of(project),
        step_m=habits.step_m or usual_step(the_set.ruler),
        heights_by_size=by_size(habits, np.array(the_set.body)),
        light=lights_of(project).of(None).light,
        sunward=(float(x), float(y), float(z)),
        shots=shots_out(session, written, shared),
        undo=undo.label,
        redo=redo.label,
        undo_at=undo.seq,
        redo_at=redo.seq,
    )


def shots_only(session: Session, project: Project) -> ShotsOut:
    """The shots of a project and what undo would take back."""
    shots = shots_out(session, written_of(session, project.id), around(session, project))
    return ShotsOut(shots=shots, **vars(undo_now(session, project)))


def undo_now(session: Session, project: Project) -> UndoOut:
    """What undo and redo of a project would take back."""
    undo, redo = next_changes(session, str(project.id))
    return UndoOut(version=project.version, undo=undo.label, redo=redo.label, undo_at=undo.seq, redo_at=redo.seq)


def _stand_in_mark(one: StandIn, places: Places, cut_on: Level | None) -> StandInMark:
    own = level_at(places, one.at[2])
    here = own is None or cut_on is None or own.name == cut_on.name
    return StandInMark(outline=footprint(one).tolist(), front=front_of(one), here=here)


def _room_mark(room: Room) -> RoomMark:
    outline = np.array(room.outline)
    return RoomMark(at=mark_in(outline), area_m2=abs(signed_area(outline)))


MOST_FRAMES = 6


def home_cards(session: Session) -> list[ProjectCard]:
    """All projects as small contact sheets; four questions to the database, however many there are."""
    found = projects(session)
    sets = set_lines(session, [project.revision_id for project in found if project.revision_id])
    counts, first = first_shots(session, MOST_FRAMES)
    return [_card(project, sets[project.revision_id], counts.get(project.id, 0), first.get(project.id, [])) for project
            in found if project.revision_id in sets]  # fmt: skip


def _card(project: Project, the_set: SetLine, count: int, rows: Sequence[ShotRow]) -> ProjectCard:
    drawn_of, lights = seen_of(project)
    frames = []
    for row in rows:
        shot = settings_of(row)
        columns, height = fit_back(shot.back).output_px
        address = f"/api/shots/{row.id}/thumbnail.png?of={picture_key(shot, drawn_of, lights)}"
        frames.append(FrameOut(name=shot.name, thumbnail=address, ratio=columns / height))
    return ProjectCard(
        id=project.id,
        name=project.name,
        shots=count,
        set_line=say.triangles(the_set.file_name, the_set.triangles).replace(",", " "),
        created=project.created,
        frames=frames,
    )
