"""Left out: parts of the set a shot does not show."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

from pydantic import Field

from zevlo.core.bases import PartId
from zevlo.core.instruments.instrument import Called, Gesture, Instrument, PressedInPicture, Scene, Shown, group_copied
from zevlo.core.refused import Refused
from zevlo.core.seen import seen_in

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

LeftOut = Annotated[tuple[PartId, ...], Field(max_length=10000)]
"""Parts of the set a shot does not show, by their ids."""


def _without(shot: Shot, part: str, out: bool) -> Shot:
    others = tuple(one for one in shot.left_out if one != part)
    return shot.model_copy(update={"left_out": (*others, part) if out else others})


class LeaveOutSeen(PressedInPicture):
    """Leave the part out that is seen at a place in the frame."""

    settles: ClassVar[bool] = False
    kind: Literal["leave_out_seen"] = "leave_out_seen"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        seen = seen_in(shot, scene.working, self.x, self.y)
        if seen is None:
            raise Refused("There is only sky at that place.")
        return _without(shot, scene.working.model.ids[seen.part], True)


class LeaveOut(Gesture):
    """Leave a part out of this shot, or put it back."""

    settles: ClassVar[bool] = False
    kind: Literal["leave_out"] = "leave_out"
    part: PartId
    out: bool = True

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        found = scene.working.model.parts_at([self.part])
        if self.out and not found:
            raise Refused(f"There is no part “{self.part}” in this set.")
        return _without(shot, scene.working.model.ids[next(iter(found))] if found else self.part, self.out)


class PutBackAll(Gesture):
    """Nothing is left out any more."""

    settles: ClassVar[bool] = False
    kind: Literal["put_back_all"] = "put_back_all"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return shot.model_copy(update={"left_out": ()})


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """How many parts are left out, or that it is others."""
    if set(before.left_out) == set(after.left_out):
        return []
    a, b = len(before.left_out), len(after.left_out)
    return [f"left out {a} → {b}" if a != b else "others left out"]


def shows(shot: Shot) -> Shown:
    """Which parts are not there."""
    return tuple(sorted(shot.left_out))


LEFT_OUT = Instrument(
    key="left_out",
    name="Left out",
    noun="what is left out",
    gestures=(LeaveOutSeen, LeaveOut, PutBackAll),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("left_out", "What is left out"),),
)
