"""What goes along when stand-ins are moved or named otherwise: shots that follow one, and shots that leave one out."""

from __future__ import annotations

from collections.abc import Sequence

from zevlo.core.gestures import Refused
from zevlo.core.holding import part_moved
from zevlo.core.scene.stand_ins import GROUP_NAME, StandIn, gone_along
from zevlo.core.shot import Shot

Pair = tuple[StandIn, StandIn]


def paired(before: Sequence[StandIn], after: Sequence[StandIn]) -> list[Pair]:
    """Each stand-in beside what became of it: by place in the list, or by name where some came or went."""
    if len(before) == len(after):
        return [(one, then) for one, then in zip(before, after, strict=True) if one != then]
    named = {one.name: one for one in after}
    return [(one, named[one.name]) for one in before if one.name in named and named[one.name] != one]


def renamed_along(shot: Shot, pairs: Sequence[Pair]) -> Shot:
    """The shot that follows and leaves out the same stand-ins under their new names: no picture of it changes."""
    names = {_path(before): _path(after) for before, after in pairs if before.name != after.name}
    left_out = tuple(names.get(path, path) for path in shot.left_out)
    follow = shot.stand.follow
    if left_out != shot.left_out:
        shot = shot.model_copy(update={"left_out": left_out})
    if follow is not None and follow.part in names:
        stand = shot.stand.model_copy(update={"follow": follow.model_copy(update={"part": names[follow.part]})})
        shot = shot.with_groups(stand=stand)
    return shot


def moved_along(shot: Shot, pairs: Sequence[Pair]) -> Shot:
    """The shot whose point, on a stand-in that moved, keeps its place in the frame.

    It stays as it is where it could only follow by looking straight up or down.
    """
    for before, after in pairs:
        follow = shot.stand.follow
        if follow is None or follow.part != _path(after):
            continue
        point = gone_along(before, after, follow.point)
        try:
            shot = shot if point == follow.point else part_moved(shot, point)
        except Refused:
            continue
    return shot


def _path(one: StandIn) -> str:
    return f"{GROUP_NAME}/{one.name}"
