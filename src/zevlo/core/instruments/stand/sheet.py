"""What is told of a stand: its part of the sheet, differences in words, what a picture shows of it."""

from __future__ import annotations

import numpy as np

from zevlo.core.bases import Matrix, SheetGroup
from zevlo.core.instruments.instrument import Called, SheetContext, StalenessKey
from zevlo.core.measures import change_words, length_words
from zevlo.core.refused import Refused
from zevlo.core.scene.places.levels import level_at
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.stand.moves import put_height
from zevlo.core.stand.pose import compass_point, resolve, view_matrix
from zevlo.text import everywhere
from zevlo.text import stand as say


class PoseSheet(SheetGroup):
    """Where the camera stands and looks."""

    heading_deg: float
    """Degrees clockwise from the set's north."""
    compass: str
    level: str | None
    room: str | None
    pitch_deg: float
    roll_deg: float
    aim_distance_m: float
    floor_z: float | None
    """Height of the floor under the stand; null where there is none."""
    above_floor_m: float | None
    view: Matrix
    """World to camera: x right, y up, looking along -z (glTF 2.0)."""


def compute_sheet(context: SheetContext) -> PoseSheet:
    """Where the camera stands and looks; level and room are told by the floor under it."""
    pose, where = context.framing.pose, context.where
    floor = None if context.working is None else context.working.whole.floor_under(pose.position)
    heading = where.heading(pose.heading_deg)
    x, y, z = pose.position.tolist()
    foot = z if floor is None else floor
    level, room = level_at(where.places, foot), where.room_at(x, y, foot)
    return PoseSheet(
        heading_deg=heading,
        compass=compass_point(heading),
        level=None if level is None else level.name,
        room=None if room is None else room.name,
        pitch_deg=pose.pitch_deg,
        roll_deg=pose.roll_deg,
        aim_distance_m=pose.aim_distance,
        floor_z=floor,
        above_floor_m=None if floor is None else z - floor,
        view=view_matrix(pose).ravel().tolist(),
    )


def differs(before: Shot, after: Shot, called: Called) -> list[str]:
    """How the camera was moved and turned, and what else it holds on to."""
    words = []
    a, b = resolve(before.stand), resolve(after.stand)
    moved = float(np.linalg.norm(b.position - a.position))
    if moved > 5e-4:
        words.append(say.moved(length_words(moved)))
    turn = (b.heading_deg - a.heading_deg + 180.0) % 360.0 - 180.0
    if abs(turn) > 0.05:
        words.append(say.turned(abs(turn), everywhere.RIGHT if turn > 0 else everywhere.LEFT))
    if abs(b.pitch_deg - a.pitch_deg) > 0.05:
        words.append(say.pitch(a.pitch_deg, b.pitch_deg))
    if before.stand.roll_deg != after.stand.roll_deg:
        words.append(say.roll(before.stand.roll_deg, after.stand.roll_deg))
    if (before.stand.above_floor_m is None) != (after.stand.above_floor_m is None):
        words.append(say.STAYS_ABOVE_FLOOR if before.stand.above_floor_m is None else say.NO_LONGER_STAYS_ABOVE)
    was, now = before.stand.follow, after.stand.follow
    if now is not None and (was is None or was.part != now.part):
        words.append(say.follows(everywhere.A_POINT if now.part is None else called(now.part)))
    elif was is not None and now is None:
        words.append(say.lets_go(everywhere.A_POINT if was.part is None else called(was.part)))
    if not words and abs(b.aim_distance - a.aim_distance) > 5e-4:
        words.append(say.aim_away(change_words(a.aim_distance, b.aim_distance)))
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """From where and which way the picture is taken; how far its aim is along the lens axis is not seen."""
    pose = resolve(shot.stand)
    direction = tuple(round(float(v), 10) for v in (*pose.forward, *pose.right))
    return (*shot.stand.position, *direction)


def at_height_of(source: Shot, target: Shot, working: WorkingSet) -> Shot:
    """The target as high above its floor as the source is above its own."""
    floor, there = (working.whole.floor_under(np.array(shot.stand.position)) for shot in (source, target))
    if floor is None or there is None:
        raise Refused(say.THERE_IS_NO_FLOOR_UNDER_ONE)
    above = source.stand.position[2] - floor
    stand = put_height(target.stand, there + above)
    if source.stand.above_floor_m is not None:
        stand = stand.model_copy(update={"above_floor_m": above})
    return target.with_groups(stand=stand)
