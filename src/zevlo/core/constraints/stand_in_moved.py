"""What goes along when a stand-in is moved: shots that follow one. What it is named is no matter: its id lasts."""

from __future__ import annotations

from collections.abc import Sequence

from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.follow_aim import part_moved
from zevlo.core.constraints.follow_focus import refocused
from zevlo.core.constraints.set_moved import focus_moved
from zevlo.core.refused import Refused
from zevlo.core.scene.stand_ins.made import StandIn, gone_along
from zevlo.core.shot import Shot

Pair = tuple[StandIn, StandIn]


def paired(before: Sequence[StandIn], after: Sequence[StandIn]) -> list[Pair]:
    """Each stand-in that became another beside what became of it."""
    known = {one.id: one for one in after}
    return [(one, known[one.id]) for one in before if one.id in known and known[one.id] != one]


def _focus_along(shot: Shot, before: StandIn, after: StandIn) -> Shot:
    """The shot with what its focus is kept on, and its probes on the stand-in, where that has gone."""
    own = focus_moved(shot.focus, lambda point: gone_along(before, after, point), after.part_id)
    return shot if own == shot.focus else refocused(Framing(shot.with_groups(focus=own)))


def moved_along(shot: Shot, pairs: Sequence[Pair]) -> Shot:
    """The shot whose point, on a stand-in that moved, keeps its place in the frame.

    It stays as it is where it could only follow by looking straight up or down.
    """
    for before, after in pairs:
        shot = _focus_along(shot, before, after)
        follow = shot.stand.follow
        if follow is None or follow.part != after.part_id:
            continue
        point = gone_along(before, after, follow.point)
        try:
            shot = shot if point == follow.point else part_moved(Framing(shot), point)
        except Refused:
            continue
    return shot
