"""New shots: from stand and aim in plan, or from what the scout view shows."""

from __future__ import annotations

from math import hypot

from zevlo.core.follow import depth_at, floor_at, with_focal_length
from zevlo.core.gestures import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import Scout
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.pose import resolve

STANDING_EYE_M = 1.60


def new_shot_in_plan(
    start: Shot, working: WorkingSet, stand: tuple[float, float], aim: tuple[float, float], cut_z: float
) -> Shot:
    """A shot from plan: stand and aim (x, y), level, at standing eye height above the floor under the stand.

    ``cut_z`` is the height of the plan's cut: the floor is looked for from there down.
    """
    floor = floor_at(working, *stand, from_z=cut_z)
    z = STANDING_EYE_M + (0.0 if floor is None else floor)
    if hypot(stand[0] - aim[0], stand[1] - aim[1]) < 0.05:
        raise Refused("Drag from the stand to the aim: they need to be at least 5 cm apart.")
    placed = Stand(position=(*stand, z), aim=(*aim, z))
    return _focused_ahead(start.with_groups(stand=placed), working)


def new_shot_from_scout(start: Shot, working: WorkingSet, scout: Scout) -> Shot:
    """A shot of what the scout view shows: its stand and lens; aimed and focused at what is ahead."""
    shot = start.with_groups(stand=scout.stand, lens=with_focal_length(start.lens, scout.focal_length_mm))
    ahead = depth_at(shot, working, 0.5, 0.5)
    if ahead is not None and ahead > 0.05:
        pose = resolve(scout.stand)
        x, y, z = (pose.position + ahead * pose.forward).tolist()
        shot = shot.with_groups(stand=scout.stand.model_copy(update={"aim": (x, y, z)}))
    return _focused_ahead(shot, working)


def _focused_ahead(shot: Shot, working: WorkingSet) -> Shot:
    ahead = depth_at(shot, working, 0.5, 0.5)
    distance = resolve(shot.stand).aim_distance if ahead is None else ahead
    distance = max(distance, shot.lens.focal_length_mm * 0.0011)
    return shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": distance}))
