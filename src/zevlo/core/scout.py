"""The scout view: looking around without any shot."""

from __future__ import annotations

from math import inf

import numpy as np
from pydantic import Field

from zevlo.core.camera import Camera
from zevlo.core.gestures import (
    Dolly,
    Look,
    LookAt,
    LookAtPart,
    Orbit,
    Refused,
    Shift,
    ShowAll,
    ViewGesture,
    Walk,
    WithSet,
)
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.laws import Perspective
from zevlo.core.optics.lens import Window
from zevlo.core.scene.model import Floats
from zevlo.core.scene.placing import Placing, change_between, stand_moved
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Point, Settings, Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import direction, resolve


class Scout(Settings):
    """The scout view: looking around without any shot."""

    stand: Stand = Stand()
    focal_length_mm: float = Field(28.0, ge=8.0, le=400.0)


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
    wide, high = (side / scout.focal_length_mm for side in cut_back(back).size_mm)
    height = max(high, wide / ratio) / SCOUT_FRAME_SHARE
    width = height * ratio
    return width, height, (wide / width, high / height)


def scout_camera(scout: Scout, ratio: float, back: Back | None) -> Camera:
    """The scout view's camera: its window lies at distance 1 before the lens."""
    width, height, _ = scout_view(scout, ratio, back)
    window = Window(-width / 2, width / 2, -height / 2, height / 2)
    return Camera(resolve(scout.stand), window, Perspective(1.0), scout_near(scout.stand), None)


def move_view(stand: Stand, gesture: Look | Shift | Orbit | Dolly | Walk, width: float, height: float) -> Stand:
    """Follow a gesture in a picture ``width`` × ``height`` wide at distance 1 from the lens."""
    if isinstance(gesture, Look):
        across, upright = 2.0 * np.degrees(np.arctan([width / 2.0, height / 2.0]))
        return moves.turn(stand, -gesture.right * float(across), -gesture.up * float(upright))
    if isinstance(gesture, Shift):
        far = resolve(stand).aim_distance
        return moves.truck_and_pedestal(stand, -gesture.right * width * far, -gesture.up * height * far)
    if isinstance(gesture, Orbit):
        return moves.orbit(stand, gesture.right * 180.0, -gesture.up * 180.0)
    if isinstance(gesture, Dolly):
        return moves.dolly(stand, gesture.factor)
    return moves.walk(stand, gesture.ahead, gesture.right, gesture.up)


LOOKS_FROM_DEG = tuple((pan, tilt) for tilt in (-20.0, -45.0, -5.0, 20.0, 60.0) for pan in range(0, 360, 30))


def looked_at(stand: Stand, at: Point, size_m: float, working: WorkingSet) -> Stand:
    """A view of a thing of a size, from a few times its size away: from this side if it is free, else from another."""
    heading = resolve(stand).heading_deg
    target = np.array(at)
    away = max(3.0 * size_m, 0.02)
    ways = np.array([-direction(heading + pan, tilt) for pan, tilt in LOOKS_FROM_DEG])
    # From a little outside the thing itself, which is in no one's way.
    start = target + (0.6 * size_m + 1.0e-3) * ways
    free = working.rays.distances(start, ways) + 0.6 * size_m
    best = int(np.argmax(free >= away)) if (free >= away).any() else int(np.argmax(free))
    far = min(away, max(float(free[best]) * 0.9, 0.7 * size_m + min(0.05, size_m)))
    x, y, z = (target + far * ways[best]).tolist()
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


def followed(stand: Stand, gesture: ViewGesture, working: WorkingSet | None, placing: Placing, width: float,
             height: float) -> Stand:  # fmt: skip
    """The scout view after any of its gestures; as it was where there is no set yet to look at."""
    if isinstance(gesture, WithSet):
        if gesture.before.up == placing.up:
            moved = stand_moved(stand, change_between(gesture.before, placing))
            return moved.model_copy(update={"roll_deg": 0.0, "above_floor_m": None, "follow": None})
        gesture = ShowAll()  # another side is up: nothing is where it was
    if not isinstance(gesture, LookAt | LookAtPart | ShowAll):
        return move_view(stand, gesture, width, height)
    if working is None:
        return stand
    if isinstance(gesture, ShowAll):
        return shown_all(stand, working.body, width, height)
    if isinstance(gesture, LookAt):
        return looked_at(stand, gesture.at, gesture.size_m, working)
    found = working.model.parts_at([gesture.part])
    if not found:
        raise Refused("That part is not in the set any more.")
    try:
        box = working.model.box_of(next(iter(found)))
    except ValueError:
        raise Refused("There is nothing in that part to look at.") from None
    x, y, z = box.mean(axis=0).tolist()
    return looked_at(stand, (x, y, z), max(float((box[1] - box[0]).max()), 1.0e-3), working)


def anchored(stand: Stand, working: WorkingSet) -> Stand:
    """The same view with its aim on what is in the middle of it; as it was where that is only sky."""
    pose = resolve(stand)
    ahead = float(working.rays.first(pose.position[None], pose.forward[None]).distance[0])
    if ahead == inf or ahead < 0.002:
        return stand
    x, y, z = (pose.position + ahead * pose.forward).tolist()
    return stand.model_copy(update={"aim": (x, y, z)})
