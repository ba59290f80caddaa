"""What a hand does to a shot or to the scout view, as data.

A gesture says what was taken hold of and where it was put. What comes of it is in :mod:`zevlo.core.follow`.
Shares are of the output frame's width or height; points are metres.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from zevlo.core.scene.placing import Placing
from zevlo.core.shot import Coordinate, PartId, Point, Settings
from zevlo.core.stand import moves


class Refused(ValueError):
    """A gesture that cannot be followed, with the reason in words for the artist.

    ``nearest``: what comes nearest to it, where it can be followed part of the way.
    """

    def __init__(self, words: str, nearest: Any = None) -> None:
        super().__init__(words)
        self.nearest = nearest


class StandTo(Settings):
    """The stand is put at a place in plan. It keeps its height above the floor; the aim stays in plan."""

    kind: Literal["stand_to"] = "stand_to"
    x: Coordinate
    y: Coordinate


class AimTo(Settings):
    """The aim is put at a place in plan, at its own height."""

    kind: Literal["aim_to"] = "aim_to"
    x: Coordinate
    y: Coordinate


class HeightTo(Settings):
    """The lens is put at a height above zero (``z``) or above the floor; the direction stays."""

    kind: Literal["height_to"] = "height_to"
    z: Coordinate | None = None
    above_floor: float | None = Field(None, ge=-1000.0, le=10000.0)


class Face(Settings):
    """The camera is turned to a heading, a pitch, or both; a missing one stays."""

    kind: Literal["face"] = "face"
    heading_deg: float | None = Field(None, ge=-3600.0, le=3600.0)
    pitch_deg: float | None = Field(None, ge=-moves.MAX_PITCH_DEG, le=moves.MAX_PITCH_DEG)


class Look(Settings):
    """The picture is pushed by shares of the frame: the camera pans and tilts so that it follows the hand."""

    kind: Literal["look"] = "look"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Shift(Settings):
    """The picture is pushed by shares of the frame: the camera moves parallel to the film."""

    kind: Literal["shift"] = "shift"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Orbit(Settings):
    """Round the aim, in shares of the frame; a whole frame is half a turn."""

    kind: Literal["orbit"] = "orbit"
    right: float = Field(ge=-20.0, le=20.0)
    up: float = Field(ge=-20.0, le=20.0)


class Dolly(Settings):
    """To ``factor`` of the distance to the aim, which stays."""

    kind: Literal["dolly"] = "dolly"
    factor: float = Field(gt=0.01, lt=100.0)


class Walk(Settings):
    """Level steps in metres; height changes only by ``up``."""

    kind: Literal["walk"] = "walk"
    ahead: float = Field(0.0, ge=-1000.0, le=1000.0)
    right: float = Field(0.0, ge=-1000.0, le=1000.0)
    up: float = Field(0.0, ge=-1000.0, le=1000.0)


class LookAt(Settings):
    """The scout view goes to where it sees a thing of a size well, from where nothing is in the way."""

    kind: Literal["look_at"] = "look_at"
    at: Point
    size_m: float = Field(gt=0.0, le=1.0e6)


class ShowAll(Settings):
    """The scout view goes back, as it looks, until all of the set is in it."""

    kind: Literal["show_all"] = "show_all"


class LookAtPart(Settings):
    """The scout view goes to where it sees a part well, from where nothing is in the way."""

    kind: Literal["look_at_part"] = "look_at_part"
    part: PartId


class WithSet(Settings):
    """The scout view goes along with a set that was corrected: it sees what it saw. ``before``: how that stood."""

    kind: Literal["with_set"] = "with_set"
    before: Placing


class AngleTo(Settings):
    """Another angle of view across the frame; the focal length follows, the back stays."""

    kind: Literal["angle_to"] = "angle_to"
    horizontal_deg: float = Field(ge=0.5, le=170.0)


class WedgeTo(Settings):
    """A side of the wedge is put through a place in plan; the focal length follows."""

    kind: Literal["wedge_to"] = "wedge_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate


class ProjectionTo(Settings):
    """Perspective, or parallel: as wide as what the frame holds at the aim. The focal length stays for the way back."""

    kind: Literal["projection_to"] = "projection_to"
    projection: Literal["perspective", "parallel"]


class FocusAt(Settings):
    """Focus on what is seen at a place in the frame, (0, 0) bottom left to (1, 1) top right."""

    kind: Literal["focus_at"] = "focus_at"
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class FocusTo(Settings):
    """Focus put at a distance along the lens axis."""

    kind: Literal["focus_to"] = "focus_to"
    distance_m: float = Field(gt=0.0, le=1.0e7)


class FocusOnPaper(Settings):
    """The focus line is put through a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["focus_on_paper"] = "focus_on_paper"
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate


class FocusOnBarrel(Settings):
    """The barrel is turned until the focus mark stands at ``at`` on its distance scale, 0 to 1 as in the sheet."""

    kind: Literal["focus_on_barrel"] = "focus_on_barrel"
    at: float = Field(ge=-10.0, le=10.0)


class FocusHyperfocal(Settings):
    """Focus at the hyperfocal distance: sharp from half of it to infinity."""

    kind: Literal["focus_hyperfocal"] = "focus_hyperfocal"


class SharpTo(Settings):
    """One end of the sharp zone is moved, the other stays: stop and focus follow, the exposure is held."""

    kind: Literal["sharp_to"] = "sharp_to"
    end: Literal["near", "far"]
    distance_m: float = Field(gt=0.0, le=1.0e7)


class SharpOnPaper(Settings):
    """As :class:`SharpTo`, to a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["sharp_on_paper"] = "sharp_on_paper"
    end: Literal["near", "far"]
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate


class StopTo(Settings):
    """Another stop (null: everything sharp); the shutter gives way, so that the exposure is held."""

    kind: Literal["stop_to"] = "stop_to"
    f_number: float | None = Field(ge=0.5, le=512.0)


class Meter(Settings):
    """Expose for what the frame shows; the shutter gives way."""

    kind: Literal["meter"] = "meter"


class TurnBy(Settings):
    """Turned by exact angles: pan to the right, tilt up, roll clockwise. The roll stays in -180 to 180."""

    kind: Literal["turn_by"] = "turn_by"
    pan_deg: float = Field(0.0, ge=-360.0, le=360.0)
    tilt_deg: float = Field(0.0, ge=-180.0, le=180.0)
    roll_deg: float = Field(0.0, ge=-360.0, le=360.0)


class Level(Settings):
    """Pitch and roll to zero; the heading stays."""

    kind: Literal["level"] = "level"


class AimDistance(Settings):
    """The aim at another distance along the lens axis; the stand stays."""

    kind: Literal["aim_distance"] = "aim_distance"
    distance_m: float = Field(ge=1.0e-3, le=1.0e6)


class EndTo(Settings):
    """One end of the shot, stand or aim, put at a coordinate or more; a missing one stays. ``both``: the other end
    moves along by as much."""

    kind: Literal["end_to"] = "end_to"
    end: Literal["stand", "aim"]
    x: Coordinate | None = None
    y: Coordinate | None = None
    z: Coordinate | None = None
    both: bool = False


class AimAtPart(Settings):
    """The aim in the middle of a part's box."""

    kind: Literal["aim_at_part"] = "aim_at_part"
    part: PartId


class AimAtSeen(Settings):
    """The aim on what is seen at a place in the frame; ``part``: in the middle of the part that is seen there."""

    kind: Literal["aim_at_seen"] = "aim_at_seen"
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)
    part: bool = False


GripMove = Literal["dolly", "truck", "pedestal", "pan", "tilt", "roll", "orbit", "over", "east", "north", "up"]


class Grip(Settings):
    """One move of a grip by so many metres or degrees. ``both``: the aim goes along; else it stays and is faced."""

    kind: Literal["grip"] = "grip"
    move: GripMove
    by: float = Field(ge=-10000.0, le=10000.0)
    both: bool = True


class StayAbove(Settings):
    """From now on the stand stays as high above the floor as it is, or no longer."""

    kind: Literal["stay_above"] = "stay_above"
    on: bool


class FollowSeen(Settings):
    """Follow what is seen at a place in the frame: it keeps that place."""

    kind: Literal["follow_seen"] = "follow_seen"
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class FollowPart(Settings):
    """Follow the middle of a part at the place in the frame it has now."""

    kind: Literal["follow_part"] = "follow_part"
    part: PartId


class LetGo(Settings):
    """Follow nothing any more."""

    kind: Literal["let_go"] = "let_go"


class LeaveOutSeen(Settings):
    """Leave the part out that is seen at a place in the frame."""

    kind: Literal["leave_out_seen"] = "leave_out_seen"
    x: float = Field(ge=0.0, le=1.0)
    y: float = Field(ge=0.0, le=1.0)


class LeaveOut(Settings):
    """Leave a part out of this shot, or put it back."""

    kind: Literal["leave_out"] = "leave_out"
    part: PartId
    out: bool = True


class PutBackAll(Settings):
    """Nothing is left out any more."""

    kind: Literal["put_back_all"] = "put_back_all"


HoldGesture = StayAbove | FollowSeen | FollowPart | LetGo
LeaveGesture = LeaveOutSeen | LeaveOut | PutBackAll
CameraGesture = (
    StandTo | AimTo | HeightTo | Face | TurnBy | Level | AimDistance | EndTo | AimAtPart | AimAtSeen | Grip | Look
    | Shift | Orbit | Dolly | Walk | AngleTo | WedgeTo | ProjectionTo | FocusAt | FocusTo | FocusOnPaper
    | FocusOnBarrel | FocusHyperfocal | SharpTo | SharpOnPaper | StopTo | Meter
)  # fmt: skip
ShotGesture = Annotated[CameraGesture | HoldGesture | LeaveGesture, Field(discriminator="kind")]
ViewGesture = Annotated[
    Look | Shift | Orbit | Dolly | Walk | LookAt | LookAtPart | ShowAll | WithSet, Field(discriminator="kind")
]
