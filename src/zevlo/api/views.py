"""Rows as the desk sees them."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Mapping, Sequence
from typing import Any
from urllib.parse import quote

import numpy as np
from sqlalchemy.orm import Session

from zevlo.api.parts import parts_out
from zevlo.api.print_messages import FileOut, PrintOut, StackFrame
from zevlo.api.project_messages import FrameOut, ProjectCard, ProjectOut, RoomMark, StandInMark
from zevlo.api.set_messages import SetOut
from zevlo.api.shot_messages import ShotsOut
from zevlo.api.shot_views import around, lens_line, shots_out
from zevlo.core.optics.back import cut_back
from zevlo.core.scene.levels import Level, Places, Room, level_at, mark_in, signed_area
from zevlo.core.scene.placing import Placing, matrix_of
from zevlo.core.scene.ruler import Ruler, ruler_for, usual_step
from zevlo.core.scene.stand_ins import StandIn, footprint, front_of
from zevlo.core.stand.habits import by_size, is_small
from zevlo.files.summary import body_of, bounds_of, outline_of
from zevlo.lab.thumbnail import picture_key, seen_of
from zevlo.store.changes import next_changes
from zevlo.store.finals import every_order
from zevlo.store.prints import FILM, files_of, frame_name, pieces_done, prints_of, recipe_of, seen_name
from zevlo.store.projects import (
    SetTold,
    arrangement_of,
    body_in,
    habits_of,
    kept_of,
    lights_of,
    places_of,
    projects,
    revision_of,
    sets_told,
    site_of,
)
from zevlo.store.shot_rows import Written, first_shots, rows_of, settings_of, written_of
from zevlo.store.stale import AsItIs
from zevlo.store.tables import Print, Project, Revision, ShotRow, Take
from zevlo.store.takes import takes_of


def prints_out(
    session: Session, entries: Sequence[Print], written: Sequence[Written], project: Project
) -> list[PrintOut]:
    """Prints for the lab. ``written``: all shots of their project."""
    numbers = {one.id: n for n, one in enumerate(written, 1)}
    wanted = {entry.shot_id for entry in entries}
    rows, takes = rows_of(session, wanted), takes_of(session, wanted)
    ruler = ruler_for(body_in(session, project))
    pieces = pieces_done(session, [entry.id for entry in entries])
    orders, now = {row.id: row.number for row in every_order(session, project.id)}, AsItIs(project)
    return [
        _print_out(
            entry,
            orders,
            numbers.get(entry.shot_id),
            rows.get(entry.shot_id),
            now,
            takes[entry.shot_id],
            ruler,
            pieces.get(entry.id, (0, 0)),
        )
        for entry in entries
    ]


def _output(entry: Print, name: str) -> str | None:
    """Where a file of a print is to be had: another address for each other content."""
    told = entry.outputs.get(name)
    return None if told is None else f"/api/prints/{entry.id}/{quote(name)}?of={told['blob'][:16]}"


def _print_out(
    entry: Print,
    orders: Mapping[uuid.UUID, int],
    frame: int | None,
    row: ShotRow | None,
    now: AsItIs,
    takes: Sequence[Take],
    ruler: Ruler,
    pieces: tuple[int, int],
) -> PrintOut:
    recipe = recipe_of(entry)
    shot = recipe.shot
    return PrintOut(
        id=entry.id,
        order=None if entry.order_id is None else orders[entry.order_id],
        rank=entry.rank,
        kind=entry.kind,
        shot_id=entry.shot_id,
        name=shot.name if row is None else str(row.settings["name"]),
        cut=recipe.cut,
        frame=frame,
        take=now.take_of(recipe, takes),
        size=recipe.size_px,
        line=lens_line(shot, ruler),
        state=entry.state,  # type: ignore[arg-type]
        progress=entry.progress,
        seconds_left=entry.seconds_left,
        doing=entry.doing,
        trouble=entry.trouble,
        picture=_output(entry, seen_name(entry.kind)),
        film=None if entry.kind == "final" else _output(entry, FILM),
        files=[
            FileOut(name=name, address=f"/api/prints/{entry.id}/{quote(name)}?of={told['blob'][:16]}")
            for name, told in files_of(entry).items()
            if entry.kind == "final"
        ],
        pieces=pieces,
        frames=[
            StackFrame(
                distance_m=distance,
                picture=_output(entry, frame_name(number, "png")),
                film=_output(entry, frame_name(number, "exr")),
            )
            for number, distance in enumerate(() if recipe.quality else recipe.stack)
        ],
        merged_of=len(recipe.stack),
        stale=now.stale_words(recipe, row),
        made_with=entry.made_with,
        ordered=entry.created,
    )


UNIT_WORDS = {"m": "metres", "cm": "centimetres", "mm": "millimetres", "in": "inches", "ft": "feet"}


def said_words(summary: dict[str, Any]) -> str:
    """What a file says of its unit and axis."""
    metres, up = summary["said"]["metres_per_unit"], summary["said"]["up"]
    unit = None if metres is None else Placing(metres_per_unit=metres).unit
    length = "no unit" if metres is None else UNIT_WORDS.get(unit or "", f"units of {metres:g} m")
    axis = "no up axis" if up is None else f"{up.upper()} up"
    return f"The {summary['kind']} file says {length} and {axis}."


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
        bounds=bounds_of(summary, placing),  # type: ignore[arg-type]
        body=body,  # type: ignore[arg-type]
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
    told = project.arrangement.get("stand_ins")
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()[:16] if told else None


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
        kept=kept_of(project),
        step_m=habits.step_m or usual_step(the_set.ruler),
        heights_by_size=by_size(habits, np.array(the_set.body)),
        light=lights_of(project).of(None).light,
        sunward=(float(x), float(y), float(z)),
        shots=shots_out(session, written, shared),
        prints=prints_out(session, prints_of(session, project.id), written, project),
        undo=undo.label,
        redo=redo.label,
        undo_at=undo.seq,
        redo_at=redo.seq,
    )


def shots_only(session: Session, project: Project) -> ShotsOut:
    """The shots of a project and what undo would take back."""
    undo, redo = next_changes(session, str(project.id))
    return ShotsOut(
        version=project.version,
        shots=shots_out(session, written_of(session, project.id), around(session, project)),
        undo=undo.label,
        redo=redo.label,
        undo_at=undo.seq,
        redo_at=redo.seq,
    )


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
    sets = sets_told(session, [project.revision_id for project in found if project.revision_id])
    counts, first = first_shots(session, MOST_FRAMES)
    return [_card(project, sets[project.revision_id], counts.get(project.id, 0), first.get(project.id, [])) for project
            in found if project.revision_id in sets]  # fmt: skip


def _card(project: Project, the_set: SetTold, count: int, rows: Sequence[ShotRow]) -> ProjectCard:
    drawn_of, lights = seen_of(project)
    frames = []
    for row in rows:
        shot = settings_of(row)
        columns, height = cut_back(shot.back).output_px
        address = f"/api/shots/{row.id}/thumbnail.png?of={picture_key(shot, drawn_of, lights)}"
        frames.append(FrameOut(name=shot.name, thumbnail=address, ratio=columns / height))
    return ProjectCard(
        id=project.id,
        name=project.name,
        shots=count,
        set_line=f"{the_set.file_name} · {the_set.triangles:,} triangles".replace(",", " "),
        created=project.created,
        frames=frames,
    )
