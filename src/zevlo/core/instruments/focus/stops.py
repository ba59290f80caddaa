"""The stop, and the sharp zone by either of its ends: the exposure is held."""

from __future__ import annotations

from math import inf, log2
from typing import TYPE_CHECKING, Literal

from pydantic import Field

from zevlo.core.bases import Coordinate
from zevlo.core.camera import law_of, tilt_of
from zevlo.core.instruments.exposure import ev_of, exposed
from zevlo.core.instruments.focus.distance import on_paper
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics import focus
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.barrel import barrel_stop
from zevlo.core.refused import Refused
from zevlo.core.sharp_zone import blur_limit_of, sharp_zone_of

if TYPE_CHECKING:
    from zevlo.core.shot import Shot


End = Literal["near", "far"]


class SharpTo(Gesture):
    """One end of the sharp zone is moved, the other stays: stop and focus follow, the exposure is held."""

    kind: Literal["sharp_to"] = "sharp_to"
    end: End
    distance_m: float = Field(gt=0.0, le=1.0e7)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return _sharpened(shot, self.end, self.distance_m)


class SharpOnPaper(Gesture):
    """As :class:`SharpTo`, to a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["sharp_on_paper"] = "sharp_on_paper"
    end: End
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return _sharpened(shot, self.end, on_paper(shot, self.drawing, self.x, self.y))


class StopTo(Gesture):
    """Another stop (null: everything sharp); the shutter gives way, so that the exposure is held."""

    kind: Literal["stop_to"] = "stop_to"
    f_number: float | None = Field(ge=0.5, le=512.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        opened = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": self.f_number}))
        return exposed(opened, ev_of(shot))


def _sharpened(shot: Shot, end: End, distance_m: float) -> Shot:
    if shot.focus.f_number is None:
        raise Refused("Everything is sharp; choose a stop first.")
    if not law_of(shot).blurs:
        raise Refused("In a parallel picture everything is sharp.")
    cut = cut_back(shot.back)
    zone = sharp_zone_of(shot, cut)
    near, far = zone.sharp_from * 1000.0, zone.sharp_to * 1000.0
    if end == "near":
        near = min(distance_m * 1000.0, 0.98 * far)
    else:
        far = max(distance_m * 1000.0, 1.02 * near)
    if near == inf:
        raise Refused("So far off the sharp zone would begin beyond infinity; drag its near end to a nearer place.")
    f = shot.lens.focal_length_mm
    cosine = tilt_of(shot).cosine
    if near * cosine <= 1.02 * f:
        raise Refused(f"A {f:g} mm lens cannot be sharp that close.")
    limit = blur_limit_of(shot, cut)
    wanted = focus.stop_for_two(f, limit, near, far, cosine)
    n = min(max(wanted, focus.WIDEST_STOP), focus.SMALLEST_STOP)
    if n != wanted and end == "near":
        near = focus.near_for_far(f, n, limit, far, cosine)
    elif n != wanted:
        far = focus.far_for_near(f, n, limit, near, cosine)
    u = focus.focus_for_two(near, far)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": n, "on": None})
    made = exposed(shot.with_groups(focus=moved), ev_of(shot))
    if n == wanted:
        return made
    which = "smallest" if n == focus.SMALLEST_STOP else "widest"
    raise Refused(f"That is as far as it goes: {focus.stop_name(n)} is the {which} stop.", nearest=made)


class StopByBracket(Gesture):
    """A bracket of the stop is pulled to a place on the barrel's scale, 0 to 1 as in the sheet; the shutter gives
    way."""

    kind: Literal["stop_by_bracket"] = "stop_by_bracket"
    at: float = Field(ge=-10.0, le=10.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.focus.f_number is None or not law_of(shot).blurs:
            raise Refused("Everything is sharp; choose a stop first.")
        limit, cosine = blur_limit_of(shot, cut_back(shot.back)), tilt_of(shot).cosine
        found = barrel_stop(shot.lens.focal_length_mm, limit, shot.focus.distance_m * 1000.0, self.at, cosine)
        held = min(max(found, focus.WIDEST_OFFERED), focus.SMALLEST_OFFERED)
        # Brackets catch on thirds of a stop, as a ring does.
        caught = focus.exact_f_number(round(6.0 * log2(held)))
        return exposed(shot.with_groups(focus=shot.focus.model_copy(update={"f_number": caught})), ev_of(shot))
