"""New shots: from stand and aim in plan, or from what the scout view shows."""

from __future__ import annotations

from math import hypot

import numpy as np

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import depth_at
from zevlo.core.framing.placing_habits import Habits, heights_for, is_small
from zevlo.core.framing.scout import Scout
from zevlo.core.refused import Refused
from zevlo.core.scene.model.support_plane import SMALL_M
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot, Stand
from zevlo.core.shot.lens import with_focal_length
from zevlo.core.stand.moves import APART_M
from zevlo.core.stand.pose import resolve
from zevlo.text import framing as say


def new_shot_in_plan(
    start: Shot,
    working: WorkingSet,
    stand: tuple[float, float],
    aim: tuple[float, float],
    cut_z: float,
    habits: Habits,
) -> Shot:
    """A shot from plan: stand and aim (x, y), each at its habitual height above the floor.

    For the aim that is the floor one walks on to it: it is often pressed on a sofa or a counter. ``cut_z`` is the
    height of the plan's cut: floors are looked for from there down.

    ``start``: the settings it begins with; ``working``: the set; ``habits``: the heights; all in metres."""
    working = working.whole
    if hypot(stand[0] - aim[0], stand[1] - aim[1]) < APART_M:
        raise Refused(say.DRAG_FROM_THE_STAND)
    if is_small(working.body):
        # A thing on a table may lie wholly above where the plan is cut.
        cut_z = max(cut_z, float(working.body[1, 2]) + SMALL_M)
    floor = working.floor_at(*stand, from_z=cut_z)
    under = 0.0 if floor is None else floor
    sized = heights_for(habits, working.body, under)
    z = under + sized.lens_m
    aim_z = z
    if sized is not habits and sized.aim_m is not None:
        aim_z = under + sized.aim_m
    elif habits.aim_m is not None:
        aim_z = _floor_walked(working, stand, aim, under, cut_z) + habits.aim_m
    habits = sized
    stays = habits.lens_m if habits.stays_above_floor and floor is not None else None
    placed = Stand(position=(*stand, z), aim=(*aim, aim_z), above_floor_m=stays)
    return _focused_ahead(start.with_groups(stand=placed), working)


STEP_UP_M = 0.25
"""What rises by more than this is no step of a stair but a thing that stands there (our convention)."""
STRIDE_M = 0.15


def _floor_walked(
    working: WorkingSet, stand: tuple[float, float], aim: tuple[float, float], floor: float, cut_z: float
) -> float:
    """Height of the floor one comes to on the way from the stand, on its ``floor``, straight to the aim."""
    strides = min(max(round(hypot(aim[0] - stand[0], aim[1] - stand[1]) / STRIDE_M), 1), 400)
    for share in np.linspace(0.0, 1.0, strides + 1)[1:].tolist():
        x, y = (start + share * (end - start) for start, end in zip(stand, aim, strict=True))
        found = working.floor_at(x, y, from_z=max(cut_z, floor + 1.2))
        if found is not None and found <= floor + STEP_UP_M:
            floor = found
    return floor


SUGGESTED_LENS_MM = 24.0
"""What shows most of a small room without stretching its corners (common practice, no source)."""


def new_shot_at(start: Shot, working: WorkingSet, stand: Stand, habits: Habits) -> Shot:
    """A shot at a suggested stand, with a wide lens, focused at what is ahead."""
    working = working.whole
    lens = with_focal_length(start.lens, SUGGESTED_LENS_MM)
    floor = working.floor_under(np.array(stand.position)) if habits.stays_above_floor else None
    if floor is not None:
        stand = stand.model_copy(update={"above_floor_m": stand.position[2] - floor})
    return _focused_ahead(start.with_groups(stand=stand, lens=lens), working)


def new_shot_from_scout(start: Shot, working: WorkingSet, scout: Scout) -> Shot:
    """A shot of what the scout view shows: its stand and lens; aimed and focused at what is ahead."""
    working = working.whole
    shot = start.with_groups(stand=scout.stand, lens=with_focal_length(start.lens, scout.focal_length_mm))
    ahead = depth_at(Framing(shot, working), 0.5, 0.5)
    if ahead is not None and ahead > 0.05:
        pose = resolve(scout.stand)
        x, y, z = (pose.position + ahead * pose.forward).tolist()
        shot = shot.with_groups(stand=scout.stand.model_copy(update={"aim": (x, y, z)}))
    return _focused_ahead(shot, working)


def _focused_ahead(shot: Shot, working: WorkingSet) -> Shot:
    # What is looked at from close by begins nearer than rooms do.
    near = min(shot.lens.near_m, max(0.1 * resolve(shot.stand).aim_distance, 1.0e-4))
    shot = shot.with_groups(lens=shot.lens.model_copy(update={"near_m": near}))
    ahead = depth_at(Framing(shot, working), 0.5, 0.5)
    distance = resolve(shot.stand).aim_distance if ahead is None else ahead
    distance = max(distance, shot.lens.focal_length_mm * 0.0011)
    return shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": distance}))
