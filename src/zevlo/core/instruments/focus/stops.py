"""The stop, and the sharp zone by either of its ends: the exposure is held."""

from __future__ import annotations

from math import inf, log2
from typing import Literal

from pydantic import Field

from zevlo.core.bases import Coordinate
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import place_on_paper, rolled
from zevlo.core.constraints.exposure import exposed
from zevlo.core.instruments.focus.distance import on_paper
from zevlo.core.instruments.focus.stop_solver import require_focus
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics import focus
from zevlo.core.optics.barrel import barrel_stop
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.limits import FARTHEST_M, Distance, FNumber
from zevlo.text import focus as say

End = Literal["near", "far"]


class SharpTo(Gesture):
    """One end of the sharp zone is moved, the other stays: stop and focus follow, the exposure is held."""

    kind: Literal["sharp_to"] = "sharp_to"
    end: End
    distance_m: Distance

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        return _sharpened(framing, self.end, 1.0 / self.distance_m)


class SharpOnPaper(Gesture):
    """As :class:`SharpTo`, to a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["sharp_on_paper"] = "sharp_on_paper"
    end: End
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        away = on_paper(framing, self.drawing, self.x, self.y)
        camera = framing.camera
        place = rolled(camera, place_on_paper(camera, self.drawing, self.x, self.y))
        return _sharpened(
            framing, self.end, 0.0 if away == inf else 1.0 / away, float(camera.drawn_larger(place[None])[0])
        )


class StopTo(Gesture):
    """Another stop (null: everything sharp); the shutter gives way, so that the exposure is held."""

    kind: Literal["stop_to"] = "stop_to"
    f_number: FNumber | None

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        opened = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": self.f_number}))
        return exposed(opened, framing.ev100)


APART = 0.02
"""How much of its distance one end of the sharp zone stays before the other."""


def _sharpened(framing: Framing, end: End, wanted_per_m: float, larger: float = 1.0) -> Shot:
    """One end of the sharp zone put where its inverse is so, in 1/m, in a place where blur is drawn ``larger``; the
    other stays where it is along the lens axis, or as far beyond infinity there."""
    shot = framing.shot
    if shot.focus.f_number is None:
        raise Refused(say.EVERYTHING_IS_SHARP_CHOOSE)
    if not framing.law.blurs:
        raise Refused(say.IN_A_PARALLEL_PICTURE)
    zone, limit = framing.zone, framing.blur_limit_mm
    near, far = zone.near_per_m, zone.far_per_m
    stays = far if end == "near" else near
    # Half of the zone's depth is left of it where blur is drawn larger.
    moved = (2.0 * wanted_per_m - stays * (1.0 - 1.0 / larger)) / (1.0 + 1.0 / larger)
    near, far = (max(moved, far + APART * abs(far)), far) if end == "near" else (near, min(moved, near - APART * near))
    apart = moved == (near if end == "near" else far)
    if near <= 1.0 / FARTHEST_FOCUS_M or near + far <= 2.0 / FARTHEST_FOCUS_M:
        raise Refused(say.SO_FAR_OFF_THE_SHARP)
    f, cosine, middle = shot.lens.focal_length_mm, framing.tilt.cosine, (near + far) / 2.0
    require_focus(framing, middle)
    wanted = focus.stop_reaching(f, limit, (near - far) / 2000.0, middle / 1000.0, cosine)
    n = min(max(wanted, focus.WIDEST_OFFERED), focus.SMALLEST_OFFERED)
    if n != wanted:
        middle = 1000.0 * focus.focus_reaching(f, n, limit, stays / 1000.0, end == "far", cosine)
        require_focus(framing, middle)
    middle = max(middle, 1.0 / FARTHEST_M)
    own = shot.focus.model_copy(update={"distance_m": 1.0 / middle, "f_number": n, "follow": None})
    made = exposed(shot.with_groups(focus=own), framing.ev100)
    if n != wanted:
        which = say.SMALLEST if n == focus.SMALLEST_OFFERED else say.WIDEST
        raise Refused(say.that_is_as_far(focus.stop_name(n), which), nearest=made)
    if not apart:
        raise Refused(say.THE_FAR_END_OF_THE_SHARP, nearest=made)
    return made


class StopByBracket(Gesture):
    """A bracket of the stop is pulled to a place on the barrel's scale, 0 to 1 as in the sheet; the shutter gives
    way."""

    kind: Literal["stop_by_bracket"] = "stop_by_bracket"
    at: float = Field(ge=-10.0, le=10.0)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.focus.f_number is None or not framing.law.blurs:
            raise Refused(say.EVERYTHING_IS_SHARP_CHOOSE)
        limit, cosine = framing.blur_limit_mm, framing.tilt.cosine
        found = barrel_stop(shot.lens.focal_length_mm, limit, shot.focus.distance_m * 1000.0, self.at, cosine)
        held = min(max(found, focus.WIDEST_OFFERED), focus.SMALLEST_OFFERED)
        # Brackets catch on thirds of a stop, as a ring does.
        caught = focus.exact_f_number(round(6.0 * log2(held)))
        return exposed(shot.with_groups(focus=shot.focus.model_copy(update={"f_number": caught})), framing.ev100)
