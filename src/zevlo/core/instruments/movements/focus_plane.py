"""The plane of focus laid where the sharp zone is wanted, on points, a surface or a drawing: tilt, swing and distance
are solved for it."""

from __future__ import annotations

from abc import abstractmethod
from typing import ClassVar, Literal

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import Coordinate, Point
from zevlo.core.camera.depth_of_field import keep_centre_sharp
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import Paper, levelled_lean, place_on_paper, rolled
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.focus_plane import plane_laid, require_tilt
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene, SharePlace
from zevlo.core.optics.tilt import lean_per_m
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.movements import Turn
from zevlo.text import movements as say

IN_LINE = 1.0e-4
"""Three points count as lying in line where the third is this much nearer to the line than the first two are apart."""


def _through(framing: Framing, points: Floats) -> Shot:
    """The plane of focus through three points (3, 3) of the world."""
    shot = framing.shot
    own = framing.camera.camera_space(points)
    if float(own[:, 2].min()) <= 1.0e-4:
        raise Refused(say.A_POINT_LIES_BESIDE)
    sides = own[1:] - own[0]
    area = float(np.linalg.norm(np.cross(*sides)))
    longest = max(float(np.linalg.norm(side)) for side in (*sides, sides[1] - sides[0]))
    if area < IN_LINE * longest**2:
        raise Refused(say.THE_THREE_POINTS_LIE)
    if abs(float(np.linalg.det(own))) < 1.0e-6 * float(np.prod(np.linalg.norm(own, axis=1))):
        raise Refused(say.THE_PLANE_THROUGH_THESE)
    across, up, per_m = np.linalg.solve(own, np.ones(3)).tolist()
    return plane_laid(shot, (across, up, per_m), own)


class FocusPlaneThrough(Gesture):
    """The focus laid on three points: places in the world, or places in the frame at which something is seen."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["focus_plane"] = "focus_plane"
    points: tuple[Point, Point, Point] | None = None
    """Metres in the world."""
    pressed_at: tuple[SharePlace, SharePlace, SharePlace] | None = None
    """Places in the frame, (0, 0) bottom left; instead of points."""

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        require_tilt(shot)
        if (self.points is None) == (self.pressed_at is None):
            raise Refused(say.THE_FOCUS_IS_LAID)
        if self.points is not None:
            return _through(framing, np.array(self.points))
        seen = [thing_at(framing, *at) for at in self.pressed_at or ()]
        return _through(framing, np.array([one.at for one in seen if one is not None]))


class FocusPlaneOn(PressedInPicture):
    """The focus laid on the surface that is seen at a place in the frame."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["focus_plane_on"] = "focus_plane_on"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        require_tilt(shot)
        seen = thing_at(framing, self.x, self.y)
        camera = framing.camera
        pose = camera.pose
        normal = np.stack([pose.right, pose.up, pose.forward]) @ np.array(seen.normal)
        own = camera.camera_space(np.array([seen.at]))
        away = float(normal @ own[0])
        if abs(away) < 1.0e-4 * float(np.linalg.norm(own[0])):
            raise Refused(say.THE_LENS_LIES_IN_THE_PLANE)
        across, up, per_m = (normal / away).tolist()
        return plane_laid(shot, (across, up, per_m), own)


class TiltOnPaper(Gesture):
    """A gesture that turns the lens by a place on a drawing: in section it tilts, in plan it swings; of a rolled camera
    it does both, so that the other drawing stays. The focus stays where it crosses the lens axis."""

    sets_attitude: ClassVar[bool] = True
    kind: str
    drawing: Paper
    x: Coordinate
    y: Coordinate

    @abstractmethod
    def lean(self, shot: Shot, aside: float, ahead: float) -> float:
        """The lean that way of the plane it asks for; the place lies so many metres aside and ahead of the lens."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        require_tilt(shot)
        camera = framing.camera
        across, up = levelled_lean(camera, lean_per_m(shot.lens.focal_length_mm, framing.tilt))
        aside, above, ahead = place_on_paper(camera, self.drawing, self.x, self.y).tolist()
        section = self.drawing == "section"
        lean = self.lean(shot, above if section else aside, ahead)
        a, b = rolled(camera, np.array((across, lean) if section else (lean, up))).tolist()
        at = np.array([[0.0, 0.0, shot.focus.distance_m]])
        return plane_laid(shot, (a, b, 1.0 / shot.focus.distance_m), at)


class FocusPlaneOnPaper(TiltOnPaper):
    """The plane of focus turned, about where it crosses the lens axis, through a place on a drawing: in section the
    lens tilts, in plan it swings."""

    kind: Literal["focus_plane_on_paper"] = "focus_plane_on_paper"

    def lean(self, shot: Shot, aside: float, ahead: float) -> float:
        if abs(aside) < 1.0e-6 * max(abs(ahead), 1.0e-3):
            raise Refused(say.TAKE_HOLD_OF_THE_PLANE)
        return (1.0 - ahead / shot.focus.distance_m) / aside


class HingeOnPaper(TiltOnPaper):
    """The hinge line put through a place on a drawing, as far from the lens as that: in section below or above it, in
    plan beside it."""

    kind: Literal["hinge_on_paper"] = "hinge_on_paper"

    def lean(self, shot: Shot, aside: float, ahead: float) -> float:
        if abs(aside) < shot.lens.focal_length_mm / 1000.0:
            raise Refused(say.THE_HINGE_COMES_NO_NEARER)
        return 1.0 / aside


class TurnLens(Gesture):
    """Tilt, swing or both, in degrees; the focus stays where it crosses the lens axis."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["turn_lens"] = "turn_lens"
    tilt_deg: Turn | None = None
    swing_deg: Turn | None = None

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        require_tilt(shot)
        turned = {"tilt_deg": self.tilt_deg, "swing_deg": self.swing_deg}
        own = shot.movements.model_copy(update={key: angle for key, angle in turned.items() if angle is not None})
        return shot.with_groups(movements=own)


class LensParallel(Gesture):
    """The lens parallel to the film again; what was sharp in the middle of the frame stays sharp."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["lens_parallel"] = "lens_parallel"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return keep_centre_sharp(framing, Framing(shot.with_groups(movements=shot.movements.unturned)))
