"""Stand-ins: a seamless sweep, a figure for scale, a light panel, made to size and placed in the set.

Each is told in metres where it stands; ``turn_deg`` is clockwise seen from above, as headings rise, and at 0 a
sweep opens, a figure looks and a panel shines towards -Y: towards whoever stands south of it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import atan2, cos, degrees, hypot, pi, radians, sin
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from zevlo.core.arrays import Floats, Integers
from zevlo.core.bases import Coordinate, Point, Settings
from zevlo.core.scene.model.part_ids import STAND_INS_PATH
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.core.scene.stand_ins.figure import body_of
from zevlo.text import scene as say

MOST_STAND_INS = 100
GROUP_NAME = STAND_INS_PATH
_BEND_STEPS = 32
Size = Annotated[float, Field(ge=0.02, le=100.0)]


class _Placed(Settings):
    """``id``: what it is known by for good, whatever it is named; its first name where nothing else was given."""

    name: str = Field(min_length=1, max_length=120)
    id: str = Field("", max_length=120)
    at: tuple[Coordinate, Coordinate, Coordinate] = (0.0, 0.0, 0.0)
    turn_deg: float = Field(0.0, ge=-3600.0, le=3600.0)

    @model_validator(mode="before")
    @classmethod
    def _known_by_its_first_name(cls, given: Any) -> Any:
        return {**given, "id": given.get("name", "")} if isinstance(given, dict) and not given.get("id") else given

    @property
    def part_id(self) -> str:
        """What its part is known by in a shot."""
        return f"{STAND_INS_PATH}/{self.id}"


class Sweep(_Placed):
    """A seamless background: floor, bend and back in one sheet. ``at``: the middle of its level floor.

    Starts as a full roll of background paper, 2.72 m wide (common practice, no source).
    """

    kind: Literal["sweep"] = "sweep"
    width_m: Size = 2.72
    floor_m: Size = 2.0
    bend_m: Size = 0.5
    back_m: Size = 2.2

    @model_validator(mode="after")
    def _bend_below_the_top(self) -> Self:
        if self.bend_m > self.back_m:
            raise ValueError(say.THE_BEND_OF_A_SWEEP)
        return self


class Figure(_Placed):
    """A standing or seated person for scale. ``at``: between the feet, or under the middle of the seat."""

    kind: Literal["figure"] = "figure"
    pose: Literal["standing", "seated"] = "standing"
    height_m: float = Field(1.75, ge=0.5, le=2.5)
    seat_m: float = Field(0.45, ge=0.1, le=1.2)
    """Height of what it sits on."""


class Panel(_Placed):
    """A plain light panel. ``at``: its middle; ``tilt_deg`` turns its light downwards."""

    kind: Literal["panel"] = "panel"
    width_m: Size = 1.2
    height_m: Size = 0.8
    tilt_deg: float = Field(0.0, ge=-90.0, le=90.0)
    luminance_cd_m2: float = Field(3000.0, ge=0.0, le=1.0e7)


StandIn = Annotated[Sweep | Figure | Panel, Field(discriminator="kind")]


@dataclass(frozen=True)
class Shape:
    """Triangles of one stand-in in the world: ``normals`` where it is round; a surface for each face."""

    vertices: Floats
    faces: Integers
    normals: Floats
    surfaces: tuple[Material, ...]
    face_surface: Integers


PAPER = Material("Background paper", base_color=(0.82, 0.82, 0.82), roughness=0.95)
CLAY = Material("Figure", base_color=(0.42, 0.43, 0.44), roughness=0.9)
CASE = Material("Panel case", base_color=(0.03, 0.03, 0.03), roughness=0.6)


def shape_of(stand_in: StandIn) -> Shape:
    """The triangles of a stand-in where it stands."""
    if isinstance(stand_in, Sweep):
        made = _sweep(stand_in)
    elif isinstance(stand_in, Panel):
        made = _panel(stand_in)
    else:
        seat = stand_in.seat_m if stand_in.pose == "seated" else None
        vertices, faces, normals = body_of(stand_in.height_m, seat)
        made = Shape(vertices, faces, normals, (CLAY,), np.zeros(len(faces), dtype=np.int32))
    turn = _turn(stand_in.turn_deg)
    return replace(made, vertices=made.vertices @ turn.T + np.array(stand_in.at), normals=made.normals @ turn.T)


def _turn(deg: float) -> Floats:
    c, s = cos(radians(deg)), sin(radians(deg))
    return np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])


SHEET_SHARE = 2.0e-4
"""How high a sweep's sheet lies above the floor it is put on, as a share of its width: less and the two would flicker
when drawn, more and it would hide the foot of a ring's dish that stands on it."""


def sweep_profile(sweep: Sweep) -> Floats:
    """Side view of a sweep (n, 2): back from the middle of its floor, and height. The paper lies a little over the
    floor, so that it hides it."""
    arc = np.linspace(0.0, pi / 2.0, _BEND_STEPS + 1)
    half, r = sweep.floor_m / 2.0, sweep.bend_m
    bend = np.stack([half + r * np.sin(arc), r - r * np.cos(arc)], axis=1)
    ends = [[-half, 0.0]], bend, [[half + r, sweep.back_m]] if sweep.back_m > r else np.zeros((0, 2))
    profile: Floats = np.concatenate(ends) + np.array([0.0, SHEET_SHARE * sweep.width_m])
    return profile


def _sweep(sweep: Sweep) -> Shape:
    side = sweep_profile(sweep)
    count = len(side)
    across = np.array([-sweep.width_m / 2.0, sweep.width_m / 2.0])
    vertices = np.array([[x, y, z] for x in across for y, z in side])
    angle = np.concatenate([[0.0], np.linspace(0.0, pi / 2.0, _BEND_STEPS + 1), [pi / 2.0]])[:count]
    normals = np.tile(np.stack([np.zeros(count), -np.sin(angle), np.cos(angle)], axis=1), (2, 1))
    first = np.arange(count - 1)
    left, right = first, first + count
    faces = np.concatenate(
        [np.stack([left, right, right + 1], axis=1), np.stack([left, right + 1, left + 1], axis=1)]
    ).astype(np.int32)
    return Shape(vertices, faces, normals, (PAPER,), np.zeros(len(faces), dtype=np.int32))


def _panel(panel: Panel) -> Shape:
    w, h, d = panel.width_m / 2.0, panel.height_m / 2.0, 0.03
    corners = np.array([[x, y, z] for y in (0.0, d) for z in (-h, h) for x in (-w, w)])
    quads = [(0, 1, 3, 2), (5, 4, 6, 7), (4, 0, 2, 6), (1, 5, 7, 3), (4, 5, 1, 0), (2, 3, 7, 6)]
    vertices, faces, normals = [], [], []
    for number, quad in enumerate(quads):
        a, b, c, e = corners[list(quad)]
        vertices += [a, b, c, e]
        across = np.cross(b - a, c - a)
        normals += [across / np.linalg.norm(across)] * 4
        faces += [[4 * number, 4 * number + 1, 4 * number + 2], [4 * number, 4 * number + 2, 4 * number + 3]]
    t = radians(panel.tilt_deg)
    lean = np.array([[1.0, 0.0, 0.0], [0.0, cos(t), -sin(t)], [0.0, sin(t), cos(t)]])
    glow = panel.luminance_cd_m2
    light = Material(panel.name, base_color=(0.9, 0.9, 0.9), roughness=0.9, emissive=(glow, glow, glow))
    return Shape(
        np.array(vertices) @ lean.T,
        np.array(faces, dtype=np.int32),
        np.array(normals) @ lean.T,
        (light, CASE),
        np.array([0, 0] + [1] * 10, dtype=np.int32),
    )


def with_stand_ins(model: SetModel, stand_ins: Sequence[StandIn]) -> SetModel:
    """The set with its stand-ins as parts of their own, in a group after all others."""
    if not stand_ins:
        return model
    added = stand_ins_alone(stand_ins)
    points, faces, surfaces = len(model.vertices), len(model.faces), len(model.materials)
    group = len(model.parts)
    parts = tuple(
        replace(p, parent=None if p.parent is None else group + p.parent, first_face=p.first_face + faces)
        for p in added.parts
    )
    assert added.normals is not None
    normals = np.full((points, 3), np.nan, np.float32) if model.normals is None else model.normals
    uv = None if model.uv is None else np.concatenate([model.uv, np.full((len(added.vertices), 2), np.nan, np.float32)])
    return replace(
        model,
        vertices=np.concatenate([model.vertices, added.vertices]),
        faces=np.concatenate([model.faces, added.faces + points]).astype(np.int32),
        face_material=np.concatenate([model.face_material, added.face_material + surfaces]).astype(np.int32),
        parts=(*model.parts, *parts),
        materials=(*model.materials, *added.materials),
        normals=np.concatenate([normals, added.normals]),
        uv=uv,
    )


def stand_ins_alone(stand_ins: Sequence[StandIn]) -> SetModel:
    """The stand-ins as a set of their own: a group and a part for each. The last few are kept."""
    return _alone(tuple(stand_ins))


@lru_cache(maxsize=8)
def _alone(stand_ins: tuple[StandIn, ...]) -> SetModel:
    shapes = [shape_of(one) for one in stand_ins]
    vertices, faces, surfaces, normals = [], [], [], []
    materials: list[Material] = []
    parts = [Part(GROUP_NAME, None, 0, 0, STAND_INS_PATH)]
    points = count = 0
    for one, shape in zip(stand_ins, shapes, strict=True):
        parts.append(Part(one.name, 0, count, len(shape.faces), one.part_id))
        vertices.append(shape.vertices)
        faces.append(shape.faces + points)
        surfaces.append(shape.face_surface + len(materials))
        normals.append(shape.normals)
        materials += shape.surfaces
        points += len(shape.vertices)
        count += len(shape.faces)
    return SetModel(
        vertices=np.concatenate(vertices),
        faces=np.concatenate(faces).astype(np.int32),
        face_material=np.concatenate(surfaces).astype(np.int32),
        parts=tuple(parts),
        materials=tuple(materials),
        normals=np.concatenate(normals).astype(np.float32),
    )


def footprint(stand_in: StandIn) -> Floats:
    """Outline of a stand-in seen from above, (4, 2), from its front left corner anticlockwise."""
    if isinstance(stand_in, Sweep):
        half, front, back = stand_in.width_m / 2.0, -stand_in.floor_m / 2.0, stand_in.floor_m / 2.0 + stand_in.bend_m
    elif isinstance(stand_in, Panel):
        half, front = stand_in.width_m / 2.0, -abs(sin(radians(stand_in.tilt_deg))) * stand_in.height_m / 2.0
        back = max(-front, 0.03)
    else:
        seated = stand_in.pose == "seated"
        half, front, back = stand_in.height_m * 0.15, -stand_in.height_m * (0.34 if seated else 0.12), 0.13
    flat = np.array([[-half, front], [half, front], [half, back], [-half, back]])
    outline: Floats = flat @ _turn(stand_in.turn_deg)[:2, :2].T + np.array(stand_in.at[:2])
    return outline


FRONT_M = 0.8


def front_of(stand_in: StandIn) -> tuple[float, float]:
    """A place in plan before a stand-in, a step off its middle, to turn it by."""
    x, y = (np.array([0.0, -FRONT_M]) @ _turn(stand_in.turn_deg)[:2, :2].T + np.array(stand_in.at[:2])).tolist()
    return x, y


def facing(stand_in: StandIn, x: float, y: float) -> StandIn:
    """The stand-in turned to face a place in plan, by whole tenths of a degree."""
    east, north = x - stand_in.at[0], y - stand_in.at[1]
    turn = round(degrees(atan2(-east, -north)) % 360.0, 1)
    return stand_in.model_copy(update={"turn_deg": turn})


def gone_along(before: StandIn, after: StandIn, point: Point) -> Point:
    """Where a point on a stand-in is after that moved or turned."""
    turn = _turn(after.turn_deg - before.turn_deg)
    x, y, z = (turn @ (np.array(point) - np.array(before.at)) + np.array(after.at)).tolist()
    return x, y, z


def moved_with_set(stand_in: StandIn, change: Floats) -> StandIn:
    """A stand-in that goes with its set through a correction, (4, 4): its place and way follow, its size stays."""
    x, y, z = (change[:3, :3] @ np.array(stand_in.at) + change[:3, 3]).tolist()
    turn = stand_in.turn_deg - degrees(atan2(change[1, 0], change[0, 0]))
    return stand_in.model_copy(update={"at": (x, y, z), "turn_deg": turn % 360.0})


def put_down(stand_in: StandIn, x: float, y: float, floor_here: float | None, floor_there: float | None) -> StandIn:
    """A stand-in at another place in plan, as high above the floor there as it was above its own.

    ``stand_in``: which; ``x``, ``y``: where, in metres; ``floor_here``, ``floor_there``: heights of the floors, None
    where there is none."""
    rise = 0.0 if floor_here is None or floor_there is None else floor_there - floor_here
    return stand_in.model_copy(update={"at": (x, y, stand_in.at[2] + rise)})


def beside_others(at: tuple[float, float], others: Sequence[StandIn]) -> tuple[float, float]:
    """A place in plan, or one east of it that no other stand-in has."""
    x, y = at
    while any(hypot(one.at[0] - x, one.at[1] - y) < 0.5 for one in others):
        x += 0.8
    return x, y


PANEL_MIDDLE_M = 1.8
_KNOWN_AS = {"sweep": "Sweep", "standing": "Figure", "seated": "Seated figure", "panel": "Light panel"}
"""What ids begin with, in every language."""


def new_stand_in(
    kind: Literal["sweep", "standing", "seated", "panel"],
    x: float,
    y: float,
    floor: float,
    taken: Sequence[str],
    mark: str = "",
) -> StandIn:
    """A stand-in of usual size on the floor at a place, with a free name.

    ``mark``: a word no stand-in of the set ever had, so that none is taken for one that is gone.

    ``kind``: what it is; ``x``, ``y``, ``floor``: where it stands, in metres; ``taken``: names there are."""
    stem = {"sweep": say.SWEEP, "standing": say.FIGURE, "seated": say.SEATED_FIGURE, "panel": say.LIGHT_PANEL}[kind]
    known_as = _KNOWN_AS[kind]
    name, number = stem, 2
    while name in taken:
        name, number = f"{stem} {number}", number + 1
    own = f"{known_as} {mark}" if mark else name
    if kind == "sweep":
        return Sweep(name=name, id=own, at=(x, y, floor))
    if kind == "panel":
        return Panel(name=name, id=own, at=(x, y, floor + PANEL_MIDDLE_M), tilt_deg=15.0)
    return Figure(name=name, id=own, at=(x, y, floor), pose=kind)


LARGEST_ON_A_SWEEP_M = 8.0
"""A set wider than this is a building, and gets no sweep under all of it unless a part is chosen (our convention)."""
SWEEP_OVER_SUBJECT = 4.0
"""How many times wider than its subject a sweep is, so that it fills the frame (common practice, no source)."""


def sweep_under(
    subject: Floats, viewer: tuple[float, float], name: str, mark: str = "", floor_z: float | None = None
) -> Sweep:
    """A sweep under a subject's box (2, 3), open towards a viewer in plan, as wide, deep and high as its frame needs.

    What is smaller than a finger's breadth, or larger than a lorry, gets the smallest or largest there is. ``floor_z``:
    the height it lies at, where that is not the subject's lowest.

    ``name``: what it is called; ``mark``: as for :func:`new_stand_in`; all in metres."""
    middle = subject.mean(axis=0)
    size = float(np.clip(np.linalg.norm((subject[1] - subject[0])[:2]), 0.03, 12.0))
    tall = float(np.clip(subject[1, 2] - subject[0, 2], 0.01, 12.0))
    width, back = SWEEP_OVER_SUBJECT * size, max(2.5 * size, 2.5 * tall)
    width, floor, bend, back = (round(side, 3) for side in (width, 3.0 * size, 0.8 * size, back))
    x, y, z = middle[0], middle[1], subject[0, 2] if floor_z is None else floor_z
    known_as, at = f"{_KNOWN_AS['sweep']} {mark}" if mark else name, (float(x), float(y), float(z))
    made = Sweep(name=name, id=known_as, at=at, width_m=width, floor_m=floor, bend_m=bend, back_m=max(back, bend))
    return Sweep.model_validate(facing(made, *viewer).model_dump())


def put_on(stand_in: StandIn, point: Point) -> StandIn:
    """The stand-in on a surface at a point; a panel hangs as high above it as it is tall."""
    x, y, z = point
    lift = stand_in.height_m if isinstance(stand_in, Panel) else 0.0
    return stand_in.model_copy(update={"at": (x, y, z + lift)})


def known_apart(stand_ins: Sequence[StandIn]) -> tuple[StandIn, ...]:
    """The stand-ins, each with an id of its own: of two that were told the same one the second gets another."""
    given: list[StandIn] = []
    taken = {one.id for one in stand_ins}
    seen: set[str] = set()
    for one in stand_ins:
        own, number = one.id, 2
        while own in seen or (number > 2 and own in taken):
            own, number = f"{one.id}#{number}", number + 1
        seen.add(own)
        given.append(one.model_copy(update={"id": own}))
    return tuple(given)
