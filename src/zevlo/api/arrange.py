"""The Set room: lifting off, levels and rooms, stand-ins, things to look at, sections anywhere."""

from __future__ import annotations

import secrets
import uuid
from dataclasses import replace
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query, Response
from sqlalchemy.orm import Session

from zevlo.api.desk import InTransaction, PlacingProject, TheDesk, WritingProject
from zevlo.api.messages import Seen
from zevlo.api.project_messages import ProjectOut
from zevlo.api.projects import FOREVER, NOT_KEPT
from zevlo.api.section_views import marks_of, stand_in_marks
from zevlo.api.set_messages import (
    ElevationOut,
    FloorOut,
    LeftoversOut,
    LiftAbove,
    LiftChange,
    LiftLevel,
    NewLevel,
    NewRoom,
    NewStandIn,
    OnSeen,
    Pick,
    PickOut,
    ScoutPicture,
    SectionMarks,
    SectionOut,
    ShotPicture,
    SnapOut,
    StandInMove,
    ToPlan,
    ToSection,
)
from zevlo.api.sets import standing
from zevlo.api.views import project_out, stand_ins_mark
from zevlo.core.camera.drawing import packed, thin_lines
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import ONLY_SKY, seen_from, thing_at
from zevlo.core.camera.picking import Seen as PlaceSeen
from zevlo.core.framing.scout import scout_camera
from zevlo.core.framing.solve import SECTION_DEPTH_M
from zevlo.core.refused import Refused
from zevlo.core.scene.cuts.cut import DrawingPlane, plan_plane, section_plane
from zevlo.core.scene.cuts.floor import nearest_floor
from zevlo.core.scene.cuts.snap import sides_of, snap
from zevlo.core.scene.places.levels import Places, level_at, with_level, with_room
from zevlo.core.scene.places.lifting import parts_on_level
from zevlo.core.scene.places.rooms import propose_places
from zevlo.core.scene.places.support_surface import under_it
from zevlo.core.scene.stand_ins.made import (
    LARGEST_ON_A_SWEEP_M,
    StandIn,
    beside_others,
    facing,
    new_stand_in,
    put_down,
    put_on,
    stand_ins_alone,
    sweep_under,
)
from zevlo.core.scene.stand_ins.placement import put_before
from zevlo.core.scene.working import WorkingSet
from zevlo.files.summary import body_of
from zevlo.files.view import NOTHING_TO_DRAW, stand_ins_view
from zevlo.store import projects, shot_rows
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.tables import Project
from zevlo.text import answers as say

MOST_IN_ELEVATION = 2_000_000
router = APIRouter(prefix="/api/projects/{key}")
Place = Annotated[float, Query(ge=-1.0e6, le=1.0e6)]
Heading = Annotated[float, Query(ge=-3600.0, le=3600.0)]


@router.post("/lift")
def lift(key: uuid.UUID, change: LiftChange, desk: TheDesk, session: WritingProject) -> ProjectOut:
    """Lift a level off, or everything above the plan's cut; or put all back."""
    found = projects.project(session, key)
    how = change.how
    if isinstance(how, LiftLevel):
        places = projects.places_of(found)
        if how.level not in [level.name for level in places.levels]:
            raise Missing(say.there_is_no_level(how.level))
        model = desk.shelf.model(standing(found))
        parts = [model.ids[number] for number in parts_on_level(model, places, how.level)]
        if not parts:
            raise Refused(say.no_part_lies_on_alone(how.level))
        lifted = list(dict.fromkeys([*found.lifted, *parts]))
        projects.change_project(session, key, change.version, say.lift_off(how.level), lifted=lifted)
    elif isinstance(how, LiftAbove):
        words = say.LIFT_OFF_ALL_ABOVE if how.on else say.PUT_BACK_WHAT_IS_ABOVE
        projects.change_project(session, key, change.version, words, lifted_above=how.on)
    else:
        projects.change_project(session, key, change.version, say.PUT_ALL_BACK, lifted=[], lifted_above=False)
    return project_out(session, projects.project(session, key))


@router.get("/places/proposal")
def proposed_places(key: uuid.UUID, desk: TheDesk, session: InTransaction) -> Places:
    """Levels and rooms that are clear in the geometry and not there yet."""
    found = projects.project(session, key)
    there = projects.places_of(found)
    new = propose_places(desk.shelf.working(standing(found).without_stand_ins()), there)
    return Places(levels=new.levels, rooms=new.rooms)


@router.post("/places/find")
def find_places(key: uuid.UUID, seen: Seen, desk: TheDesk, session: WritingProject) -> ProjectOut:
    """Levels and rooms found in the geometry, beside those the project has. Refused where none is clear."""
    found = projects.project(session, key)
    there = projects.places_of(found)
    new = propose_places(desk.shelf.working(standing(found).without_stand_ins()), there)
    places = there.model_copy(update={"levels": new.levels, "rooms": (*there.rooms, *new.rooms)})
    if places == there:
        raise Refused(say.NO_FURTHER_LEVELS_OR_ROOMS)
    words = say.FIND_LEVELS_AND_ROOMS
    projects.change_project(session, key, seen.version, words, places=places.in_order().model_dump(mode="json"))
    return project_out(session, projects.project(session, key))


@router.post("/places/level")
def add_level(key: uuid.UUID, new: NewLevel, session: WritingProject) -> ProjectOut:
    """A level more, named by how many there are."""
    found = projects.project(session, key)
    places, name = with_level(projects.places_of(found), new.floor_m)
    return _with_places(session, found, new.version, places, say.add(name))


@router.post("/places/room")
def add_room(key: uuid.UUID, new: NewRoom, session: WritingProject) -> ProjectOut:
    """A room more, named by how many there are, on the level the plan shows."""
    found = projects.project(session, key)
    there = projects.places_of(found)
    shown = level_at(there, found.plan_height) or next(iter(there.levels), None)
    if shown is None:
        raise Refused(say.A_ROOM_LIES_ON_A_LEVEL)
    places, name = with_room(there, shown.name, new.outline)
    return _with_places(session, found, new.version, places, say.draw(name))


def _with_places(session: Session, found: Project, version: int, places: Places, words: str) -> ProjectOut:
    if places != projects.places_of(found):
        projects.change_project(session, found.id, version, words, places=places.model_dump(mode="json"))
    return project_out(session, projects.project(session, found.id))


@router.get("/snap")
def snapped(
    key: uuid.UUID,
    desk: TheDesk,
    session: InTransaction,
    height: Place,
    x: Place,
    y: Place,
    reach: Annotated[float, Query(gt=0.0, le=100.0)],
    last_x: Place | None = None,
    last_y: Place | None = None,
) -> SnapOut:
    """Where a corner drawn in plan was meant to lie, on walls cut at a height."""
    working = desk.shelf.working(standing(projects.project(session, key)))
    last = None if last_x is None or last_y is None else (last_x, last_y)
    found = snap(sides_of(working.cut(plan_plane(height))), x, y, reach, last)
    return SnapOut(x=found.x, y=found.y, to=found.to)


def _thing_at(picture: ScoutPicture | ShotPicture, x: float, y: float, working: WorkingSet) -> PlaceSeen:
    """What is pressed on in the scout view or through a lens. Raises :class:`Refused` where that is only sky."""
    if isinstance(picture, ShotPicture):
        return thing_at(Framing(picture.shot, working), x, y)
    seen = seen_from(scout_camera(picture.scout, picture.ratio, picture.back), x, y, working)
    if seen is None:
        raise Refused(ONLY_SKY)
    return seen


@router.post("/pick")
def pick(key: uuid.UUID, asked: Pick, desk: TheDesk, session: InTransaction) -> PickOut:
    """The part that is seen at a place in the scout view or through a lens."""
    found = projects.project(session, key)
    working = desk.shelf.working(standing(found))
    seen = _thing_at(asked.picture, asked.x, asked.y, working)
    parts = working.model.parts
    above, up = [], parts[seen.part].parent
    while up is not None:
        above.append(up)
        up = parts[up].parent
    return PickOut(part=seen.part, name=parts[seen.part].name, above=above, at=seen.at, depth_m=seen.depth_m)


@router.get("/leftovers")
def leftovers(key: uuid.UUID, desk: TheDesk) -> LeftoversOut:
    """Things to look at: small parts that float, lie in no room, or are nearly hidden."""
    # It takes seconds of a large set: worked out once for each state, and nobody's rows are held meanwhile.
    with transaction(desk.engine) as session:
        found = projects.project(session, key)
    return desk.shelf.leftovers(standing(found).without_stand_ins(), projects.where_of(found))


@router.get("/section")
def section(
    key: uuid.UUID, desk: TheDesk, session: InTransaction, x: Place, y: Place, heading: Heading, thin: bool = True
) -> SectionOut:
    """The section of the set as it is on the desk, from a place in plan along a heading counted from +Y.

    Without its ``thin`` lines the section of a large set comes much sooner.
    """
    found = projects.project(session, key)
    working = desk.shelf.working(standing(found))
    plane = _section_at(x, y, heading)
    closed, lines = packed(working.cut(plane))
    marks = stand_in_marks(plane, projects.arrangement_of(found).stand_ins)
    beyond = thin_lines(working.beyond(plane, SECTION_DEPTH_M), working.scale) if thin else []
    return SectionOut(cut=closed, cut_open=lines, beyond=beyond, stand_ins=marks)


@router.get("/elevation")
def elevation(key: uuid.UUID, desk: TheDesk) -> ElevationOut:
    """The set with nothing lifted off, seen from the south: its doors tell whether its unit is right.

    Nothing of a very large set: it would take a minute, and its outline is there.
    """
    with transaction(desk.engine) as session:
        found = projects.project(session, key)
        summary = projects.revision_of(session, found).summary
    if summary["triangles"] > MOST_IN_ELEVATION:
        return ElevationOut(lines=[])
    body = np.array(body_of(summary, projects.arrangement_of(found).placing))
    working = desk.shelf.working(standing(found).whole())
    return ElevationOut(lines=thin_lines(working.elevation(body), working.scale))


@router.get("/section/marks")
def section_marks(key: uuid.UUID, shot: uuid.UUID, session: InTransaction) -> SectionMarks | None:
    """What stands near the section of a shot, for drawing it there; nothing where it was undone a moment ago."""
    try:
        return marks_of(session, projects.project(session, key), shot_rows.shot_row(session, shot))
    except Missing:
        return None


@router.get("/section/floor")
def floor_in_section(
    key: uuid.UUID, desk: TheDesk, session: InTransaction, x: Place, y: Place, heading: Heading, across: Place, z: Place
) -> FloorOut:
    """The floor meant by a press at (across, z) on a section: the surface that faces up within 40 cm of it."""
    working = desk.shelf.working(standing(projects.project(session, key)))
    plane = _section_at(x, y, heading)
    east, north = (plane.origin + across * plane.paper[0])[:2].tolist()
    found = nearest_floor(working.cut_index, east, north, z)
    return FloorOut(z=z if found is None else found, found=found is not None)


def _section_at(x: float, y: float, heading_deg: float) -> DrawingPlane:
    a = np.radians(heading_deg)
    return section_plane(np.array([x, y, 0.0]), np.array([np.sin(a), np.cos(a), 0.0]))


@router.post("/stand-ins", status_code=201)
def add_stand_in(key: uuid.UUID, new: NewStandIn, desk: TheDesk, session: PlacingProject) -> ProjectOut:
    """A stand-in of usual size on the floor at a place in plan; before a viewer nearer to them, where it is free."""
    found = projects.project(session, key)
    there = projects.arrangement_of(found).stand_ins
    mark = secrets.token_hex(4) if new.id is None else new.id.hex
    if any(one.id.endswith(f" {mark}") for one in there):
        return project_out(session, found)
    bare = desk.shelf.working(standing(found).without_stand_ins())
    chosen = bare.model.parts_at([new.under] if new.under else [])
    under = next(iter(chosen), None)
    subject = bare.body if under is None else bare.model.box_of(under)
    # Nobody has paper to put under a house: there a sweep is a roll of usual size before the viewer.
    if new.what == "sweep" and (chosen or float((subject[1] - subject[0])[:2].max()) <= LARGEST_ON_A_SWEEP_M):
        low = subject.mean(axis=0)
        viewer = (float(low[0]), float(low[1]) - 1.0) if new.seen_from is None else new.seen_from[:2]
        names = [one.name for one in there]
        plain = new_stand_in("sweep", 0.0, 0.0, 0.0, names)
        lies_at = None if under is None else under_it(bare, under)
        made: StandIn = sweep_under(subject, viewer, plain.name, mark, lies_at)
        projects.put_stand_ins(session, key, new.version, (*there, made), say.add(made.name), desk.floors(found))
        return project_out(session, projects.project(session, key))
    x, y = beside_others(new.at, there)
    from_z = found.plan_height if new.seen_from is None else new.seen_from[2]
    floor = bare.floor_at(x, y, from_z=from_z)
    made = new_stand_in(new.what, x, y, 0.0 if floor is None else floor, [one.name for one in there], mark)
    if new.seen_from is not None:
        made = put_before(made, new.seen_from, desk.shelf.working(standing(found)))
    projects.put_stand_ins(session, key, new.version, (*there, made), say.add(made.name), desk.floors(found))
    return project_out(session, projects.project(session, key))


@router.post("/stand-ins/move")
def move_stand_in(key: uuid.UUID, move: StandInMove, desk: TheDesk, session: PlacingProject) -> ProjectOut:
    """Move a stand-in in plan or in section, or turn it to a place."""
    found = projects.project(session, key)
    there = list(projects.arrangement_of(found).stand_ins)
    number = next((n for n, one in enumerate(there) if one.id == move.id), None)
    if number is None:
        raise Missing(say.THERE_IS_NO_SUCH_STAND_IN)
    one, to = there[number], move.to
    if isinstance(to, ToPlan):
        bare = desk.shelf.working(standing(found).without_stand_ins())
        here = bare.floor_under(np.array([*one.at[:2], one.at[2] + 0.05]))
        there[number] = put_down(one, to.x, to.y, here, bare.floor_at(to.x, to.y, from_z=one.at[2] + 0.05))
    elif isinstance(to, ToSection):
        plane = _section_at(*to.origin, to.heading_deg)
        u, v = plane.flat(np.array(one.at)).tolist()
        east, north, up = (np.array(one.at) + np.array([to.x - u, to.y - v]) @ plane.paper).tolist()
        there[number] = one.model_copy(update={"at": (east, north, up)})
    elif isinstance(to, OnSeen):
        rest = [other for n, other in enumerate(there) if n != number]
        others = standing(found)
        without = replace(others, arrangement=others.arrangement.model_copy(update={"stand_ins": tuple(rest)}))
        seen = _thing_at(to.picture, to.x, to.y, desk.shelf.working(without))
        there[number] = put_on(one, seen.at)
    else:
        there[number] = facing(one, to.x, to.y)
    words = f"{say.MOVE if to.kind != 'facing' else say.TURN} “{one.name}”"
    projects.put_stand_ins(session, key, move.version, tuple(there), words, desk.floors(found))
    return project_out(session, projects.project(session, key))


@router.get("/stand-ins.glb")
def stand_ins(key: uuid.UUID, session: InTransaction, of: str = Query("", max_length=100)) -> Response:
    """The stand-ins as the desk draws them, in the state ``of``; none at all while the last one is being undone."""
    found = projects.project(session, key)
    there = projects.arrangement_of(found).stand_ins
    headers = FOREVER if of == stand_ins_mark(found) else NOT_KEPT
    own = len(projects.revision_of(session, found).summary["parts"])
    drawn = stand_ins_view(stand_ins_alone(there), own) if there else NOTHING_TO_DRAW
    return Response(drawn, media_type="model/gltf-binary", headers=headers)
