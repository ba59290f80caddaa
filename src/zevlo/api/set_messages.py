"""What goes over the wire in the Set room."""

from __future__ import annotations

import uuid
from typing import Literal

from pydantic import Field

from zevlo.api.messages import Message
from zevlo.core.bases import Coordinate, Matrix, PartId
from zevlo.core.camera.drawn import Outlines, Polyline
from zevlo.core.framing.scout import Scout
from zevlo.core.scene.model.placing import MetresPerUnit, Placing, Up
from zevlo.core.scene.model.ruler import Ruler
from zevlo.core.shot import Back, Shot


class PartOut(Message):
    """``id``: what it is known by for good, in shots and among what is lifted off."""

    name: str
    parent: int | None
    triangles: int
    id: str


class SetOut(Message):
    """The set of a project: the desk draws ``views``, the largest parts first; parts are the objects ``part-0``,
    ``part-1`` … in them."""

    revision: uuid.UUID
    file_name: str
    kind: str
    triangles: int
    drawn: int
    """Triangles the desk draws: fewer where the set is thinned out for drawing."""
    materials: int
    textures: int
    bounds: tuple[tuple[float, float, float], tuple[float, float, float]]
    body: tuple[tuple[float, float, float], tuple[float, float, float]]
    """Where most of its detail lies: what drawings show first."""
    small: bool
    """Whether it is a thing on a table, which is shown whole."""
    ruler: Ruler
    """How its lengths are told."""
    parts: list[PartOut]
    views: list[str]
    view_matrix: Matrix
    """From what the views are told in to the world."""
    placing: Placing
    unit: str | None
    """Short name of the unit it is read in."""
    guessed: list[Literal["unit", "up"]]
    """What the file does not say and was guessed, and nobody has settled since."""
    stand_ins_view: str | None
    """Where the stand-ins are drawn from, in the world; their parts come after those of the file."""
    own_parts: int
    """How many of the parts are the file's."""
    outline: list[tuple[float, float]]
    """The set from the south: corners (x, z) of the smallest convex outline around it."""
    said: str
    """What the file says of its unit and axis, in words."""
    remarks: list[str]


class ArrivalOut(Message):
    """A model on its way in. ``share`` from 0 to 1, where that is known."""

    doing: str
    share: float | None


class PlacingChange(Message):
    """Another unit, up axis or turn for the set; ``drop``: its lowest point to zero; ``again``: as it first came."""

    version: int
    metres_per_unit: MetresPerUnit | None = None
    up: Up | None = None
    turn_deg: float | None = Field(None, ge=-360.0, le=360.0)
    drop: bool = False
    again: bool = False


class PlanOut(Message):
    """The plan: what its cut goes through, closed outlines to be filled and open lines; thin lines beyond."""

    height: float
    cut: Outlines
    cut_open: Outlines
    beyond: Polyline
    """Four numbers a line."""


class LiftLevel(Message):
    """All parts of a level."""

    kind: Literal["level"] = "level"
    level: str


class LiftAbove(Message):
    """Everything above the plan's cut, or no longer."""

    kind: Literal["above"] = "above"
    on: bool


class PutAllBack(Message):
    kind: Literal["none"] = "none"


class LiftChange(Message):
    version: int
    how: LiftLevel | LiftAbove | PutAllBack = Field(discriminator="kind")


class NewLevel(Message):
    """A level more, at the height of its floor."""

    version: int
    floor_m: Coordinate


class NewRoom(Message):
    """A room more, by its outline in plan."""

    version: int
    outline: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=3, max_length=500)


class LeftoverOut(Message):
    part: int
    name: str
    why: Literal["floats", "outside", "hidden", "far"]
    words: str
    at: tuple[float, float, float]
    size_m: float


class LeftoversOut(Message):
    """Things to look at."""

    found: list[LeftoverOut]


class ScoutPicture(Message):
    """What is looked at in the scout view: a picture of this ratio."""

    kind: Literal["scout"] = "scout"
    scout: Scout
    ratio: float = Field(gt=0.05, lt=20.0)
    back: Back | None = None


class ShotPicture(Message):
    """What is looked at through the lens of a shot."""

    kind: Literal["shot"] = "shot"
    shot: Shot


class Pick(Message):
    """A place in a picture, (0, 0) bottom left to (1, 1) top right."""

    picture: ScoutPicture | ShotPicture = Field(discriminator="kind")
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class PickOut(Message):
    """The part that is seen there, with those above it in the tree, and the place on it."""

    part: int
    name: str
    above: list[int]
    at: tuple[float, float, float]
    depth_m: float


class SnapOut(Message):
    x: float
    y: float
    to: Literal["corner", "wall", "square", "nothing"]


class SectionMark(Message):
    """A stand-in in a section: its place on the paper, and how far it is off the section's plane."""

    number: int
    at: tuple[float, float]
    off_m: float


class ShotMark(Message):
    """Another shot in a section: its stand and aim on the paper, and how far it stands off the section's plane."""

    shot: uuid.UUID
    at: tuple[float, float]
    aim: tuple[float, float]
    off_m: float


class SectionMarks(Message):
    """What stands near a section: its line in plan, other shots, stand-ins."""

    origin: tuple[float, float]
    heading_deg: float
    shots: list[ShotMark]
    stand_ins: list[SectionMark]


class ElevationOut(Message):
    lines: Polyline
    """Four numbers a line: x and height of both ends."""


class SectionOut(Message):
    """A section anywhere: paper x runs along its heading from the place given, y is the height above zero."""

    cut: Outlines
    cut_open: Outlines
    beyond: Polyline
    stand_ins: list[SectionMark]


class FloorOut(Message):
    """Height of the floor meant by a press on a section: of what faces up near it, else of the press itself."""

    z: float
    found: bool


class NewStandIn(Message):
    """A stand-in of usual size on the floor at a place in plan; free and facing the viewer where there is one.

    ``id``: of the asker's choice; asked again with it, as after an answer that got lost, nothing more is made.
    """

    id: uuid.UUID | None = None
    version: int
    what: Literal["sweep", "standing", "seated", "panel"]
    at: tuple[Coordinate, Coordinate]
    seen_from: tuple[Coordinate, Coordinate, Coordinate] | None = None
    under: PartId | None = None
    """What a sweep is put under; without it, under all that stands there."""


class ToPlan(Message):
    """To a place in plan, as high above the floor as before."""

    kind: Literal["plan"] = "plan"
    x: Coordinate
    y: Coordinate


class ToSection(Message):
    """To a place on the paper of a section from ``origin`` along ``heading_deg``."""

    kind: Literal["section"] = "section"
    origin: tuple[Coordinate, Coordinate]
    heading_deg: float = Field(ge=-3600.0, le=3600.0)
    x: Coordinate
    y: Coordinate


class Facing(Message):
    """Turned to a place in plan."""

    kind: Literal["facing"] = "facing"
    x: Coordinate
    y: Coordinate


class OnSeen(Message):
    """On the surface that is seen at a place in a picture."""

    kind: Literal["on_seen"] = "on_seen"
    picture: ScoutPicture | ShotPicture = Field(discriminator="kind")
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class StandInMove(Message):
    """``id``: what the stand-in is known by, wherever in the list it stands by now."""

    version: int
    id: str = Field(max_length=120)
    to: ToPlan | ToSection | Facing | OnSeen = Field(discriminator="kind")
