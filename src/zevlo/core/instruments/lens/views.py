"""Parallel views: elevations, plan, axonometric views, square on to a face; and their scale on paper."""

from __future__ import annotations

from math import asin, atan, degrees, sqrt
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.camera.from_shot import Framing, width_before_enlarge_mm
from zevlo.core.camera.picking import thing_at
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.instruments.lens.projection import in_parallel
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.picture_size import mm_on_paper
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import changed, with_scale
from zevlo.core.stand.pose import direction
from zevlo.text import lens as say

View = Literal["north", "east", "south", "west", "above", "isometric", "dimetric"]
ISOMETRIC_PITCH_DEG = -degrees(atan(1.0 / sqrt(2.0)))
"""All three axes equally short (ISO 5456-3): 35.264° from above."""
DIMETRIC_PITCH_DEG = -degrees(asin(1.0 / 3.0))
DIMETRIC_TURN_DEG = degrees(asin(sqrt(1.0 / 8.0)))
"""Two axes equally long, the third drawn half as long: 19.47° from above, 20.70° beside an axis (the angles of 7° and
42° on paper of ISO 5456-3, from memory)."""
_LOOKS_DEG = {"north": 180.0, "east": 270.0, "south": 0.0, "west": 90.0}
"""Where one looks to see a side: the north side is seen looking south."""
ROUND_IT = 1.08
"""How much larger the frame is than what it holds."""
LEVEL = 1.0e-4


class ViewOffer(Settings):
    """A parallel view to choose, with its words."""

    words: str
    view: View


VIEWS = (
    ViewOffer(words=say.NORTH_ELEVATION, view="north"),
    ViewOffer(words=say.EAST_ELEVATION, view="east"),
    ViewOffer(words=say.SOUTH_ELEVATION, view="south"),
    ViewOffer(words=say.WEST_ELEVATION, view="west"),
    ViewOffer(words=say.PLAN_FROM_ABOVE, view="above"),
    ViewOffer(words=say.ISOMETRIC, view="isometric"),
    ViewOffer(words=say.DIMETRIC, view="dimetric"),
)

SCALES = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0)
"""Scales of drawings, 1 to so many (ISO 5455)."""


def _nearest(wanted_deg: float, offered_deg: list[float]) -> float:
    return min(offered_deg, key=lambda one: abs((one - wanted_deg + 180.0) % 360.0 - 180.0))


def _way(view: View, heading_deg: float, north_deg: float) -> Floats:
    """Unit way the camera looks, (3,). Elevations look square to the set's own axes, whichever lies nearest to the side
    of the compass; views from a corner come from the one the camera looks from already."""
    quarters = [90.0 * quarter for quarter in range(4)]
    if view == "above":
        return np.array([0.0, 0.0, -1.0])
    if view == "isometric":
        return direction(_nearest(heading_deg, [quarter + 45.0 for quarter in quarters]), ISOMETRIC_PITCH_DEG)
    if view == "dimetric":
        turns = [quarter + turn for quarter in quarters for turn in (-DIMETRIC_TURN_DEG, DIMETRIC_TURN_DEG)]
        return direction(_nearest(heading_deg, turns), DIMETRIC_PITCH_DEG)
    return direction(_nearest(_LOOKS_DEG[view] + north_deg, quarters), 0.0)


def _corners(body: Floats) -> Floats:
    """The corners (8, 3) of a box (2, 3)."""
    return np.array([[body[i, 0], body[j, 1], body[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])


def _ends_of(body: Floats, position: Floats, direction: Floats) -> tuple[float, float]:
    """How far along a way the near and the far end of a box (2, 3) lie from a camera."""
    along = (_corners(body) - position) @ direction
    return float(along.min()), float(along.max())


def _clear_of(body: Floats, aim: Floats, direction: Floats) -> float:
    """How far before an aim a camera looking along ``direction`` stands clear of a box (2, 3)."""
    size = float(np.linalg.norm(body[1] - body[0]))
    return max(float(((aim - _corners(body)) @ direction).max()), 0.0) + max(0.1 * size, 0.01)


class ViewFrom(Gesture):
    """A parallel view of all of the set, in one action: an elevation, the plan, or from a corner. A shot that is
    parallel already keeps its width and its aim. The camera stands clear of the set and holds on to nothing then."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["view_from"] = "view_from"
    view: View

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        body = scene.working.body
        already = shot.lens.scale_m is not None
        aim = np.array(shot.stand.aim) if already else body.mean(axis=0)
        direction = _way(self.view, framing.pose.heading_deg, scene.where.north_deg)
        turned = _standing(shot, aim, direction, _clear_of(body, aim, direction))
        # All of the set is seen: neither clip may end before it.
        nearest, farthest = _ends_of(body, np.array(turned.stand.position), direction)
        own = turned.lens
        far = None if own.far_m is None or own.far_m < farthest else own.far_m
        turned = turned.with_groups(lens=changed(own, near_m=min(own.near_m, 0.5 * nearest), far_m=far))
        if already:
            return turned
        # A frame that is trimmed lies beside its lens: shifted until its middle lies on the axis.
        fitted = fit_back(turned.back)
        middle = {"rise_mm": -(fitted.bottom + fitted.top) / 2.0, "cross_mm": -(fitted.left + fitted.right) / 2.0}
        centred = turned.movements.model_copy(update={**middle, "before_straightening": None})
        return _holding(Framing(turned.with_groups(movements=centred)), body)


def _standing(shot: Shot, aim: Floats, direction: Floats, distance: float) -> Shot:
    stand = shot.stand.model_copy(
        update={
            "position": tuple((aim - distance * direction).tolist()),
            "aim": tuple(aim.tolist()),
            "roll_deg": 0.0,
            "above_floor_m": None,
            "follow": None,
        }
    )
    return shot.with_groups(stand=stand)


def _holding(framing: Framing, body: Floats) -> Shot:
    """The shot in parallel projection, as wide as it has to be for a box (2, 3) about its aim."""
    shot = framing.shot
    camera = framing.camera
    half = (body[1] - body[0]) / 2.0
    wide, high = (2.0 * float(np.abs(axis) @ half) for axis in (camera.pose.right, camera.pose.up))
    window = camera.window
    width = ROUND_IT * max(wide, high * window.width / window.height, 1.0e-3)
    return in_parallel(shot, width * width_before_enlarge_mm(shot) / window.width)


class FaceOn(PressedInPicture):
    """The camera is put square before the face that is pressed, as far from it as the aim was, and aims at it."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["face_on"] = "face_on"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        direction = -np.array(seen.normal)
        # What is meant to be upright or level is, however the file rounded it.
        if abs(direction[2]) < LEVEL:
            direction[2] = 0.0
        if np.hypot(direction[0], direction[1]) < LEVEL:
            direction[:2] = 0.0
        direction /= np.linalg.norm(direction)
        return _standing(shot, np.array(seen.at), direction, framing.pose.aim_distance)


def scale_on_paper(shot: Shot) -> float | None:
    """How many times larger the world is than a parallel picture in print; None for any other picture."""
    if shot.lens.scale_m is None:
        return None
    back = shot.back
    return shot.lens.scale_m * 1000.0 / back.enlarge / mm_on_paper(back.output_px[0], back.dpi)


class ScaleTo(Gesture):
    """A parallel picture at a scale on paper, 1 to so many, as fine as the back says it is printed."""

    kind: Literal["scale_to"] = "scale_to"
    over: float = Field(ge=1.0e-3, le=1.0e6)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        now = scale_on_paper(shot)
        if now is None or shot.lens.scale_m is None:
            raise Refused(say.ONLY_A_PARALLEL_PICTURE)
        return shot.with_groups(lens=with_scale(shot.lens, shot.lens.scale_m * self.over / now))
