"""Follow focus: what of a part is kept sharp, and how far away that is."""

from __future__ import annotations

from math import inf

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import Point
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M, focus_through, focused_at
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import clear_to, met
from zevlo.core.scene.model.set_model import with_all_below
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import FollowFocus


def target_of(framing: Framing, on: FollowFocus) -> Point | None:
    """The place that is to be sharp, in the world; without a set, the one found last. None where its part is not in the
    set, or nothing is in it."""
    working = framing.working
    if on.part is None or working is None:
        return on.point
    found = working.model.parts_at([on.part])
    if not found:
        return None
    if on.where == "point":
        return on.point
    number = next(iter(found))
    try:
        box = working.model.box_of(number)
    except ValueError:
        return None
    if on.where == "middle":
        x, y, z = box.mean(axis=0).tolist()
        return x, y, z
    x, y, z = _nearest_of(framing, number).tolist()
    return x, y, z


LOOKED_AT = (32, 24)
TRIED = 60


def _nearest_of(framing: Framing, number: int) -> Floats:
    """What of a part is nearest to the film and in the picture, (3,): seen by a grid of rays, or a corner before that
    which nothing hides. Where the picture shows nothing of it, the nearest corner there is."""
    camera, shown = framing.camera, framing.shown
    corners, family = part_corners(shown, number), np.array(with_all_below([number], shown.model.parents))
    columns, rows = LOOKED_AT
    u, v = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    rays = camera.rays(np.column_stack([u.ravel(), v.ravel()]))
    found = met(camera, rays, shown)
    own = np.isin(found.part, family)
    seen = rays.at(np.where(own, found.distance, 0.0))[own]
    places = camera.places(corners)
    before = np.where(places.in_frame, places.depth, inf)
    candidates = corners[np.argsort(before, kind="stable")[: min(TRIED, int(places.in_frame.sum()))]]
    clear = candidates[clear_to(camera, candidates, shown)]
    shows = np.concatenate([seen, clear])
    if len(shows):
        return np.asarray(shows[int(np.argmin(camera.places(shows).depth))])
    ahead = np.where(places.depth > 0.0, places.depth, inf)
    return np.asarray(corners[int(np.argmin(ahead if np.isfinite(ahead).any() else np.abs(places.depth)))])


def part_corners(working: WorkingSet, number: int) -> np.ndarray:
    """The corners (n, 3) of a part and of all below it."""
    model = working.model
    faces = [
        model.faces[part.first_face : part.first_face + part.face_count]
        for part in (model.parts[one] for one in with_all_below([number], model.parents))
    ]
    used = np.unique(np.concatenate([one.ravel() for one in faces]))
    return np.asarray(model.vertices[used], dtype=np.float64)


def depth_found(framing: Framing, point: Point) -> float | None:
    """The distance at which a place is sharp; None where the lens does not look that way, or focuses no nearer."""
    camera = framing.camera
    place = np.array([point])
    if not camera.places(place).seen[0]:
        return None
    distance = float(focus_through(framing, place)[0])
    return None if distance < framing.nearest_focus_m else min(distance, FARTHEST_FOCUS_M)


def refocused(framing: Framing) -> Shot:
    """A shot focused on what its focus is kept on, where that can be; else as it was."""
    shot = framing.shot
    on = shot.focus.follow
    if on is None:
        return shot
    target = target_of(framing, on)
    distance = None if target is None else depth_found(framing, target)
    if target is None or distance is None:
        return shot
    if distance == shot.focus.distance_m and target == on.point:
        return shot
    return focused_at(shot, distance, on.model_copy(update={"point": target}))
