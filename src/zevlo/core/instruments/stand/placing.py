"""Gestures that put the camera somewhere or turn it, by place, number or part."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from zevlo.core.bases import Coordinate, PartId
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.follow_aim import middle_of
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.stand import moves
from zevlo.text import stand as say


class StandTo(Gesture):
    """The stand is put at a place in plan. It keeps its height above the floor; the aim stays in plan."""

    kind: Literal["stand_to"] = "stand_to"
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        position = np.array(shot.stand.position)
        here = scene.working.floor_under(position)
        there = scene.working.floor_under(np.array([self.x, self.y, position[2]]))
        if there is None:
            there = scene.working.floor_at(self.x, self.y)
        rise = 0.0 if here is None or there is None else there - here
        return shot.with_groups(stand=moves.put_stand(shot.stand, self.x, self.y, rise))


class AimTo(Gesture):
    """The aim is put at a place in plan, at its own height."""

    kind: Literal["aim_to"] = "aim_to"
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        there = (self.x, self.y, shot.stand.aim[2])
        return shot.with_groups(stand=moves.put_end(shot.stand, "aim", there, both=False))


class HeightTo(Gesture):
    """The lens is put at a height above zero (``z``) or above the floor; the direction stays."""

    kind: Literal["height_to"] = "height_to"
    z: Coordinate | None = None
    above_floor: float | None = Field(None, ge=-1000.0, le=10000.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if self.z is not None:
            return shot.with_groups(stand=moves.put_height(shot.stand, self.z))
        if self.above_floor is None:
            raise Refused(say.A_HEIGHT_IS_NEEDED)
        here = scene.working.floor_under(np.array(shot.stand.position))
        if here is None:
            raise Refused(say.THERE_IS_NO_FLOOR_UNDER)
        return shot.with_groups(stand=moves.put_height(shot.stand, here + self.above_floor))


class Face(Gesture):
    """The camera is turned to a heading, a pitch, or both; a missing one stays."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["face"] = "face"
    heading_deg: float | None = Field(None, ge=-3600.0, le=3600.0)
    """Degrees clockwise from the set's north."""
    pitch_deg: float | None = Field(None, ge=-moves.MAX_PITCH_DEG, le=moves.MAX_PITCH_DEG)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        pose = framing.pose
        heading = pose.heading_deg if self.heading_deg is None else self.heading_deg + scene.where.north_deg
        pitch = pose.pitch_deg if self.pitch_deg is None else self.pitch_deg
        if self.heading_deg is not None and abs(pitch) > moves.MAX_PITCH_DEG:
            raise Refused(say.THE_CAMERA_LOOKS_STRAIGHT)
        return shot.with_groups(stand=moves.face(shot.stand, heading, pitch))


class TurnBy(Gesture):
    """Turned by exact angles: pan to the right, tilt up, roll clockwise. The roll stays in -180 to 180."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["turn_by"] = "turn_by"
    pan_deg: float = Field(0.0, ge=-360.0, le=360.0)
    tilt_deg: float = Field(0.0, ge=-180.0, le=180.0)
    roll_deg: float = Field(0.0, ge=-360.0, le=360.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(stand=moves.turn_exactly(shot.stand, self.pan_deg, self.tilt_deg, self.roll_deg))


class LevelCamera(Gesture):
    """Pitch and roll to zero; the heading stays."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["level"] = "level"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        upright = moves.face(shot.stand, framing.pose.heading_deg, 0.0)
        return shot.with_groups(stand=upright.model_copy(update={"roll_deg": 0.0}))


class AimDistance(Gesture):
    """The aim at another distance along the lens axis; the stand stays."""

    kind: Literal["aim_distance"] = "aim_distance"
    distance_m: float = Field(ge=1.0e-3, le=1.0e6)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(stand=moves.reach(shot.stand, self.distance_m))


class EndTo(Gesture):
    """One end of the shot, stand or aim, put at a coordinate or more; a missing one stays. ``both``: the other end
    moves along by as much."""

    kind: Literal["end_to"] = "end_to"
    end: Literal["stand", "aim"]
    x: Coordinate | None = None
    y: Coordinate | None = None
    z: Coordinate | None = None
    both: bool = False

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        old = shot.stand.position if self.end == "stand" else shot.stand.aim
        given = (self.x, self.y, self.z)
        x, y, z = (was if now is None else now for was, now in zip(old, given, strict=True))
        return shot.with_groups(stand=moves.put_end(shot.stand, self.end, (x, y, z), self.both))


class AimAtPart(Gesture):
    """The aim in the middle of a part's box."""

    kind: Literal["aim_at_part"] = "aim_at_part"
    part: PartId

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(stand=moves.put_end(shot.stand, "aim", middle_of(scene.working, self.part), False))


class AimAtSeen(PressedInPicture):
    """The aim on what is seen at a place in the frame; ``part``: in the middle of the part that is seen there."""

    kind: Literal["aim_at_seen"] = "aim_at_seen"
    part: bool = False

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        at = middle_of(scene.working, scene.working.model.ids[seen.part]) if self.part else seen.at
        return shot.with_groups(stand=moves.put_end(shot.stand, "aim", at, both=False))


GripMove = Literal["dolly", "truck", "pedestal", "pan", "tilt", "roll", "orbit", "over", "east", "north", "up"]


class Grip(Gesture):
    """One move of a grip by so many metres or degrees. ``both``: the aim goes along; else it stays and is faced."""

    kind: Literal["grip"] = "grip"
    move: GripMove
    by: float = Field(ge=-10000.0, le=10000.0)
    both: bool = True

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        try:
            return shot.with_groups(stand=moves.grip(shot.stand, self.move, self.by, self.both))
        except ValueError as reason:
            raise Refused(str(reason)) from reason
