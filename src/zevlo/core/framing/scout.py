"""The scout view: looking around without any shot."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING, Annotated, Literal, TypeAlias, Union

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import PartId, Point, Settings
from zevlo.core.camera.camera import Camera
from zevlo.core.constraints.set_moved import stand_moved
from zevlo.core.instruments.stand import STAND
from zevlo.core.instruments.stand.looking import InPicture
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.laws import Perspective
from zevlo.core.optics.lens import Window
from zevlo.core.refused import Refused
from zevlo.core.scene.model.placing import Placing, transform_between
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Shot
from zevlo.core.shot.stand import Stand
from zevlo.core.stand.pose import direction, resolve
from zevlo.text import framing as say

SHORTEST_MM, LONGEST_MM = 8.0, 400.0


class Scout(Settings):
    """The scout view: looking around without any shot."""

    stand: Stand = Stand()
    focal_length_mm: float = Field(28.0, ge=SHORTEST_MM, le=LONGEST_MM)


def scout_from(shot: Shot) -> Scout:
    """The scout view that begins with what a shot sees, upright, as far as it can be that wide or narrow."""
    stand = shot.stand.model_copy(update={"roll_deg": 0.0})
    return Scout(stand=stand, focal_length_mm=min(max(shot.lens.focal_length_mm, SHORTEST_MM), LONGEST_MM))


def first_scout(body: Floats) -> Scout:
    """The scout view where there is no shot yet: the box (2, 3) of the set from the south-east, a little from above."""
    x, y, z = body.mean(axis=0).tolist()
    size = float((body[1] - body[0]).max())
    return Scout(stand=Stand(position=(x + 0.8 * size, y - size, z + 0.5 * size), aim=(x, y, z)))


SCOUT_FILM_MM = 36.0
SCOUT_FRAME_SHARE = 0.86
SCOUT_NEAR_M = 0.03


def scout_near(stand: Stand) -> float:
    """Where the scout view begins: 3 cm before the lens, nearer where it looks at something small."""
    return min(SCOUT_NEAR_M, max(0.02 * resolve(stand).aim_distance, 5.0e-4))


def scout_view(scout: Scout, ratio: float, back: Back | None) -> tuple[float, float, tuple[float, float] | None]:
    """Width and height of the scout view at distance 1 from the lens, for a picture of ``ratio``.

    With the ``back`` of the shot that would be made of it, the view is that shot's frame with some surroundings,
    and the third value is the frame's share of the view's width and height.
    """
    if back is None:
        width = SCOUT_FILM_MM / scout.focal_length_mm
        return width, width / ratio, None
    wide, high = (side / scout.focal_length_mm for side in fit_back(back).size_mm)
    height = max(high, wide / ratio) / SCOUT_FRAME_SHARE
    width = height * ratio
    return width, height, (wide / width, high / height)


def scout_camera(scout: Scout, ratio: float, back: Back | None) -> Camera:
    """The scout view's camera: its window lies at distance 1 before the lens."""
    width, height, _ = scout_view(scout, ratio, back)
    window = Window(-width / 2, width / 2, -height / 2, height / 2)
    return Camera(resolve(scout.stand), window, Perspective(1.0), scout_near(scout.stand), None)


LOOKS_FROM_DEG = tuple((pan, tilt) for tilt in (-20.0, -45.0, -5.0, 20.0, 60.0) for pan in range(0, 360, 30))


def looked_at(stand: Stand, at: Point, size_m: float, working: WorkingSet) -> Stand:
    """A view of a thing of a size, from a few times its size away: from this side if it is free, else from another."""
    heading = resolve(stand).heading_deg
    target = np.array(at)
    away = max(3.0 * size_m, 0.02)
    directions = np.array([-direction(heading + pan, tilt) for pan, tilt in LOOKS_FROM_DEG])
    # From a little outside the thing itself, which is in no one's way.
    start = target + (0.6 * size_m + 1.0e-3) * directions
    free = working.rays.distances(start, directions) + 0.6 * size_m
    best = int(np.argmax(free >= away)) if (free >= away).any() else int(np.argmax(free))
    far = min(away, max(float(free[best]) * 0.9, 0.7 * size_m + min(0.05, size_m)))
    x, y, z = (target + far * directions[best]).tolist()
    return Stand(position=(x, y, z), aim=at)


STEEPEST_LOOK_DEG = 70.0
AROUND_IT = 1.25


def shown_all(stand: Stand, body: Floats, width: float, height: float) -> Stand:
    """A view of a whole box (2, 3) along the way it looks, from as near as holds it with some air.

    ``width``, ``height``: the picture's at distance 1 from the lens.
    """
    pose = resolve(stand)
    middle, half = body.mean(axis=0), max(float(np.linalg.norm(body[1] - body[0])) / 2.0, 1.0e-3)
    pitch = min(max(pose.pitch_deg, -STEEPEST_LOOK_DEG), 0.0) or -15.0
    away = AROUND_IT * half / float(np.sin(np.arctan(min(width, height) / 2.0)))
    x, y, z = middle.tolist()
    px, py, pz = (middle - away * direction(pose.heading_deg, pitch)).tolist()
    return Stand(position=(px, py, pz), aim=(x, y, z))


@dataclass(frozen=True)
class View:
    """What the scout view looks at: no set yet, or one as it stands; and how wide and high the picture is at distance 1
    from the lens."""

    working: WorkingSet | None
    placing: Placing
    width: float
    height: float


class ScoutGesture(Settings):
    """What a hand does to the scout view alone."""

    @abstractmethod
    def look(self, stand: Stand, view: View) -> Stand:
        """The view after it; as it was where there is no set yet to look at."""


class LookAt(ScoutGesture):
    """The scout view goes to where it sees a thing of a size well, from where nothing is in the way."""

    kind: Literal["look_at"] = "look_at"
    at: Point
    size_m: float = Field(gt=0.0, le=1.0e6)

    def look(self, stand: Stand, view: View) -> Stand:
        return stand if view.working is None else looked_at(stand, self.at, self.size_m, view.working)


class LookAtPart(ScoutGesture):
    """The scout view goes to where it sees a part well, from where nothing is in the way."""

    kind: Literal["look_at_part"] = "look_at_part"
    part: PartId

    def look(self, stand: Stand, view: View) -> Stand:
        if view.working is None:
            return stand
        found = view.working.model.parts_at([self.part])
        if not found:
            raise Refused(say.THAT_PART_IS_NOT_IN_THE_SET)
        try:
            box = view.working.model.box_of(next(iter(found)))
        except ValueError:
            raise Refused(say.THERE_IS_NOTHING_IN_THAT_PART) from None
        x, y, z = box.mean(axis=0).tolist()
        return looked_at(stand, (x, y, z), max(float((box[1] - box[0]).max()), 1.0e-3), view.working)


class ShowAll(ScoutGesture):
    """The scout view goes back, as it looks, until all of the set is in it."""

    kind: Literal["show_all"] = "show_all"

    def look(self, stand: Stand, view: View) -> Stand:
        return stand if view.working is None else shown_all(stand, view.working.body, view.width, view.height)


class WithSet(ScoutGesture):
    """The scout view goes along with a set that was corrected: it sees what it saw. ``before``: how that stood."""

    kind: Literal["with_set"] = "with_set"
    before: Placing

    def look(self, stand: Stand, view: View) -> Stand:
        if self.before.up != view.placing.up:
            # Another side is up: nothing is where it was.
            return ShowAll().look(stand, view)
        moved = stand_moved(stand, transform_between(self.before, view.placing))
        return moved.model_copy(update={"roll_deg": 0.0, "above_floor_m": None, "follow": None})


IN_PICTURE: tuple[type[InPicture], ...] = tuple(kind for kind in STAND.gestures if issubclass(kind, InPicture))
OF_SCOUT: tuple[type[ScoutGesture], ...] = (LookAt, LookAtPart, ShowAll, WithSet)

if TYPE_CHECKING:
    ViewGesture: TypeAlias = InPicture | ScoutGesture
else:
    ViewGesture = Annotated[Union[(*IN_PICTURE, *OF_SCOUT)], Field(discriminator="kind")]


def followed(stand: Stand, gesture: ViewGesture, view: View) -> Stand:
    """The scout view after any of its gestures."""
    if isinstance(gesture, InPicture):
        return gesture.moved(stand, view.width, view.height)
    return gesture.look(stand, view)


def anchored(stand: Stand, working: WorkingSet) -> Stand:
    """The same view with its aim on what is in the middle of it; as it was where that is only sky."""
    pose = resolve(stand)
    ahead = float(working.rays.first(pose.position[None], pose.forward[None]).distance[0])
    if ahead == inf or ahead < 0.002:
        return stand
    x, y, z = (pose.position + ahead * pose.forward).tolist()
    return stand.model_copy(update={"aim": (x, y, z)})
