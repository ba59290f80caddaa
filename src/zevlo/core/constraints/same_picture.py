"""The same picture by another lens or on another back: one way for all of them, under every law.

A picture scales with how far its film stands behind the lens: the same is on film so many times larger, shifts along
with it. The plane of focus stays where it is in the world: its lean is the axis of the turned lens over its focal
length, so that a longer lens is turned more (:mod:`zevlo.core.optics.tilt`).
"""

from __future__ import annotations

from math import acos, degrees, hypot, radians, sin, sqrt

import numpy as np

from zevlo.core.camera.from_shot import Framing, width_before_enlarge_mm
from zevlo.core.constraints.focus_plane import MOST_TURN_DEG
from zevlo.core.optics import lens
from zevlo.core.optics.tilt import turned_to_look
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import LONGEST_MM, SHORTEST_MM, with_focal_length, with_scale
from zevlo.text import constraints as say

MOST_ENLARGED = 20.0
SAME = 1.0e-6
_STEPS = 60


def through(framing: Framing, focal_length_mm: float) -> Shot:
    """The shot through another lens, focused as it was, turned until its plane of focus lies where it lay.

    Raises :class:`Refused` where that lens does not turn so far, or focuses no nearer."""
    shot = framing.shot
    own, across_up = shot.movements, np.array(framing.tilt.axis[:2])
    if across_up.any():
        wanted = across_up * focal_length_mm / shot.lens.focal_length_mm
        most = MOST_TURN_DEG if own.tilt_limit_deg is None else own.tilt_limit_deg
        most = max(most, degrees(acos(min(1.0, framing.tilt.cosine))))
        sine = float(hypot(*wanted))
        if sine > sin(radians(min(most, MOST_TURN_DEG))) + 1.0e-9:
            raise Refused(say.a_lens_of_mm_would_have_to_be_turned(focal_length_mm, most))
        tilt, swing = turned_to_look((float(wanted[0]), float(wanted[1]), sqrt(1.0 - sine * sine)))
        own = own.model_copy(update={"tilt_deg": tilt, "swing_deg": swing})
    other = shot.model_copy(update={"lens": with_focal_length(shot.lens, focal_length_mm), "movements": own})
    if shot.focus.distance_m < Framing(other).nearest_focus_m:
        raise Refused(say.a_lens_of_mm(focal_length_mm, Framing(other).nearest_focus_m))
    return shot.with_groups(lens=other.lens, movements=own)


def behind(framing: Framing, image_mm: float, why_not: str) -> Shot:
    """The shot through the lens that has its film so far behind it. Raises :class:`Refused` where there is none."""
    shot = framing.shot
    focal = image_mm
    if shot.lens.focus_breathing:
        lean, u = hypot(*framing.lean) / 1000.0, shot.focus.distance_m * 1000.0
        for _ in range(_STEPS):
            focal = lens.focal_length_at(image_mm, u, sqrt(max(0.0, 1.0 - (lean * focal) ** 2)))
    if not SHORTEST_MM <= focal <= LONGEST_MM:
        raise Refused(why_not)
    found = through(framing, focal)
    if abs(Framing(found).film_distance_mm - image_mm) > SAME * image_mm:
        raise Refused(why_not)
    return found


def scaled(shot: Shot, by: float) -> Shot:
    """The shot that takes ``by`` times as large a piece of film about the lens axis, enlarged for it."""
    return enlarged(shot, 1.0 / by).with_groups(movements=shot.movements.scaled(by))


def enlarged(shot: Shot, times: float) -> Shot:
    """The shot enlarged so many times more about the middle of its frame. Raises :class:`Refused` beyond what goes."""
    enlarge = shot.back.enlarge * times
    if not 1.0 - 1.0e-9 <= enlarge <= MOST_ENLARGED:
        raise Refused(say.that_would_be_enlarged(enlarge, MOST_ENLARGED))
    return shot.with_groups(back=shot.back.model_copy(update={"enlarge": max(1.0, enlarge)}))


def enlarged_through(framing: Framing, focal_length_mm: float) -> Shot:
    """The same picture through another lens, enlarged as much more as that draws it smaller."""
    other = through(framing, focal_length_mm)
    return scaled(other, Framing(other).film_distance_mm / framing.film_distance_mm)


def scale_kept(before: Shot, after: Shot, larger: float = 1.0) -> Shot:
    """A parallel shot on another back that draws everything at the scale it had, or so many times larger; any other as
    it is."""
    if before.lens.scale_m is None:
        return after
    grown = width_before_enlarge_mm(after) / width_before_enlarge_mm(before) / larger
    return after.with_groups(lens=with_scale(after.lens, before.lens.scale_m * grown))


def on_back(before: Framing, after: Framing) -> Shot:
    """The shot of another back that frames the side its fit keeps as it was before, shifts along with it."""
    side = 1 if after.shot.back.fit == "height" else 0
    grown = after.fitted.size_mm[side] / before.fitted.size_mm[side]
    shifted = after.shot.with_groups(movements=after.shot.movements.scaled(grown))
    if before.shot.lens.scale_m is not None:
        return scale_kept(before.shot, shifted, grown)
    why_not = say.NO_LENS_KEEPS_THE_ANGLE
    return behind(Framing(shifted), before.film_distance_mm * grown, why_not)
