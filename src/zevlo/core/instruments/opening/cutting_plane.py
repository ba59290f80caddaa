"""Opening the set for one shot: by a wall that is pressed, by a line on a drawing; and standing where a wall is."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Coordinate
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import Seen, thing_at
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.refused import Refused
from zevlo.core.scene.cuts.cut import DrawingPlane, plan_plane, section_plane
from zevlo.core.scene.model.rays import RayScene
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Opening, changed
from zevlo.text import opening as say

Drawing = Literal["plan", "section"]
OnPaper = tuple[Coordinate, Coordinate]
CLEAR_M = 1.0e-3
"""How far beyond a wall the plane lies that takes it away, in a set as large as a room."""
THICKEST_M = 3.0
"""A wall thicker than that is not looked through for its other side, in a set as large as a room."""
SHORTEST_M = 1.0e-3
LEVEL = 1.0e-4


def _opened(shot: Shot, point: Floats, normal: Floats) -> Shot:
    px, py, pz = point.tolist()
    nx, ny, nz = (normal + 0.0).tolist()
    return shot.with_groups(lens=changed(shot.lens, cutting_plane=Opening(point=(px, py, pz), normal=(nx, ny, nz))))


def _upright(normal: tuple[float, float, float]) -> Floats:
    """A normal without what rounding in a file made of upright and level."""
    found = np.array(normal)
    found[np.abs(found) < LEVEL] = 0.0
    exact: Floats = found / np.linalg.norm(found)
    return exact


def _thickness(working: WorkingSet, seen: Seen, into: Floats) -> float:
    """How far it is through the part that was pressed, in metres; 0 where its other side is not to be found.

    Among its own faces alone: what touches it from behind lies in the same place as its other side.
    """
    part = working.model.parts[seen.part]
    own = working.model.faces[part.first_face : part.first_face + part.face_count]
    step = 1.0e-4 * working.scale
    hit = RayScene(working.model.vertices, own).first((np.array(seen.at) + step * into)[None], into[None])
    return float(hit.distance[0]) + step if hit.distance[0] < THICKEST_M * working.scale else 0.0


class CutAtWall(PressedInPicture):
    """The wall that is pressed is taken away with all before it: the plane lies on its far side."""

    kind: Literal["cut_at_wall"] = "cut_at_wall"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        normal = _upright(seen.normal)
        deep = _thickness(scene.working, seen, -normal) + CLEAR_M * scene.working.scale
        return _opened(shot, np.array(seen.at) - deep * normal, normal)


class StandBehind(PressedInPicture):
    """The camera stands behind the wall that is pressed, level and square to it, as high as it was, and sees through
    it: the wall and all behind it are not there."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["stand_behind"] = "stand_behind"
    distance_m: float = Field(2.0, ge=1.0e-3, le=1.0e4)
    """How far from the face that was pressed."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        normal = _upright(seen.normal)
        normal[2] = 0.0
        if float(np.hypot(normal[0], normal[1])) < 0.5:
            raise Refused(say.THAT_IS_A_FLOOR)
        normal /= np.linalg.norm(normal)
        at = np.array(seen.at)
        away = framing.pose.aim_distance
        place = at - self.distance_m * normal
        place[2] = shot.stand.position[2]
        aim = place + max(away, self.distance_m) * normal
        stand = shot.stand.model_copy(
            update={"position": tuple(place.tolist()), "aim": tuple(aim.tolist()), "roll_deg": 0.0, "follow": None}
        )
        return _opened(shot.with_groups(stand=stand), at + CLEAR_M * scene.working.scale * normal, -normal)


def _paper(framing: Framing, drawing: Drawing) -> DrawingPlane:
    pose = framing.pose
    if drawing == "plan":
        return plan_plane(float(pose.position[2]))
    return section_plane(pose.position, pose.level_axis)


def _in_space(paper: DrawingPlane, at: OnPaper) -> Floats:
    place: Floats = paper.origin + np.array(at) @ paper.paper
    return place


class CuttingLine(Gesture):
    """The plane through a line on a drawing, square to the paper. What lies on the camera's side is taken away; where
    the line runs through the camera, what lies to its left."""

    kind: Literal["cutting_line"] = "cutting_line"
    drawing: Drawing
    start: OnPaper
    end: OnPaper

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        paper = _paper(framing, self.drawing)
        start, along = _in_space(paper, self.start), np.subtract(self.end, self.start)
        length = float(np.hypot(*along))
        if length < SHORTEST_M * scene.working.scale:
            raise Refused(say.DRAW_THE_LINE_A_LITTLE)
        across, up = (along / length).tolist()
        normal: Floats = np.array([-up, across]) @ paper.paper
        now = framing.cutting
        side = float((np.array(shot.stand.position) - start) @ normal)
        if now is not None and abs(float(np.array(now.normal) @ normal)) > 0.5:
            # A plane that is turned takes away what it took away.
            side = float(np.array(now.normal) @ normal)
        return _opened(shot, (start + _in_space(paper, self.end)) / 2.0, -normal if side < 0.0 else normal)


class CuttingTo(Gesture):
    """The cutting plane is pushed, as it is turned, to a place on a drawing."""

    kind: Literal["cutting_to"] = "cutting_to"
    drawing: Drawing
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        now = framing.cutting
        if now is None:
            raise Refused(say.THIS_SHOT_HAS_NO_CUTTING)
        normal, old = np.array(now.normal), np.array(now.point)
        paper = _paper(framing, self.drawing)
        there = _in_space(paper, (self.x, self.y))
        along_paper = normal - float(normal @ paper.toward) * paper.toward
        share = float(along_paper @ normal)
        if share < 1.0e-9:
            raise Refused(say.THE_PLANE_LIES_ALONG)
        away = float((there - old) @ normal)
        return _opened(shot, old + away * normal, normal)


class CuttingFlip(Gesture):
    """The cutting plane takes away the other side."""

    kind: Literal["cutting_flip"] = "cutting_flip"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        now = framing.cutting
        if now is None:
            raise Refused(say.THIS_SHOT_HAS_NO_CUTTING)
        return _opened(shot, np.array(now.point), -np.array(now.normal))
