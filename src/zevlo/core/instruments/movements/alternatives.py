"""What to do where the image circle is too small for uprights that are true: each way, and what it costs."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, inf
from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, ValidationError

from zevlo.core.arrays import Floats
from zevlo.core.camera.from_shot import NO_SET, Framing, camera_of
from zevlo.core.camera.picking import seen_in
from zevlo.core.constraints.from_another_stand import FARTHEST, from_elsewhere
from zevlo.core.constraints.same_picture import MOST_ENLARGED, enlarged_through
from zevlo.core.constraints.settling import high_as_it_is
from zevlo.core.constraints.uprights import (
    AT_SIDES,
    MIDDLE,
    SAME_DEG,
    before_straightening,
    can_shift,
    leans_deg,
    middle_ray,
    noted,
    require_shift,
    way_back,
    with_middle_on,
)
from zevlo.core.instruments.instrument import Gesture, Scene, SheetContext
from zevlo.core.instruments.movements.straightening import Straighten
from zevlo.core.instruments.remedy import Remedy
from zevlo.core.measures import length_words
from zevlo.core.optics.laws import Law
from zevlo.core.optics.movements import circle_used_mm
from zevlo.core.refused import Refused
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import LONGEST_MM, SHORTEST_MM
from zevlo.core.stand.pose import resolve
from zevlo.text import movements as say

WITHIN = 1.0 - 1.0e-6
"""Of a circle that is just reached."""
HIGHEST_M, FARTHEST_M = 1.0e4, 1.0e5


class EnlargeInstead(Gesture):
    """The same picture through another lens, enlarged as much more as that draws it smaller; shifts along with it."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["enlarge_instead"] = "enlarge_instead"
    focal_length_mm: float = Field(ge=SHORTEST_MM, le=LONGEST_MM)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.lens.scale_m is not None:
            raise Refused(say.A_PARALLEL_PICTURE_DOES_NOT_GO)
        return enlarged_through(framing, self.focal_length_mm)


class TrueFromElsewhere(Gesture):
    """The stand so much farther back, level, or higher, with uprights true from there: what was in the middle of the
    frame stays there, and as large as it was, enlarged for it."""

    kind: Literal["true_from_elsewhere"] = "true_from_elsewhere"
    sets_attitude: ClassVar[bool] = True
    back_m: float = Field(0.0, ge=0.0, le=FARTHEST_M)
    up_m: float = Field(0.0, ge=-HIGHEST_M, le=HIGHEST_M)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        require_shift(framing.shot)
        pose, subject = framing.pose, subject_of(framing)
        by = np.array([0.0, 0.0, self.up_m]) - self.back_m * pose.level_axis
        there = from_elsewhere(framing, by, subject, (pose.heading_deg, 0.0, 0.0), noted(framing))
        return high_as_it_is(there, scene.working)


class MovementsRemedy(Remedy[Straighten | EnlargeInstead | TrueFromElsewhere]):
    """What brings the frame back into the image circle."""


def subject_of(framing: Framing) -> Floats:
    """What the middle of a shot's frame sees, (3,); where that is only sky, or there is no set, at the distance of
    the aim."""
    seen = None if framing.working is None else seen_in(framing, *MIDDLE)
    if seen is not None:
        return np.array(seen.at)
    return framing.pose.position + framing.pose.aim_distance * middle_ray(framing)


def alternatives(context: SheetContext) -> list[MovementsRemedy]:
    """What brings a frame that reaches beyond the image circle back into it."""
    framing = context.framing.whole
    shot, circle = framing.shot, framing.circle_mm
    if circle is None or circle_used_mm(framing.camera.window) <= circle + 1.0e-9:
        return []
    tried = (_partly(framing, circle), _shorter(framing, context.where, circle), *_elsewhere(framing, circle))
    found = [one for one in tried if one is not None]
    # How far a lens that breathes draws from elsewhere, and how far a turned one turns, is known when it is done.
    if shot.lens.focus_breathing or shot.movements.unturned != shot.movements:
        found = [one for one in found if _leads(one, framing, circle)]
    return found


def _leads(remedy: MovementsRemedy, framing: Framing, circle: float) -> bool:
    """Whether it can be done, and ends within the circle."""
    made = _made(framing, remedy.gesture)
    return made is not None and circle_used_mm(camera_of(made).window) <= circle + 1.0e-9


def _made(framing: Framing, gesture: Gesture) -> Shot | None:
    """The shot after a gesture; None where it is refused."""
    try:
        return gesture.apply(framing, Scene(framing.working or NO_SET))
    except (Refused, ValidationError):
        return None


def _enlarge_after(framing: Framing, gesture: EnlargeInstead | TrueFromElsewhere, plain: float) -> float:
    """How much is enlarged after a gesture: ``plain``, but for a lens that breathes, which draws smaller focused
    farther off; endless where it is refused."""
    if not framing.shot.lens.focus_breathing:
        return plain
    made = _made(framing, gesture)
    return inf if made is None else made.back.enlarge


def _partly(framing: Framing, circle: float) -> MovementsRemedy | None:
    """The largest share of straightening that the circle allows."""
    shot = framing.shot
    if not can_shift(shot) or way_back(framing) is None:
        return None
    try:
        before = before_straightening(framing)
    except (Refused, ValueError):
        return None
    pitch, now = resolve(before.stand).pitch_deg, framing.pose.pitch_deg
    most = 1.0 - now / pitch if abs(pitch) > SAME_DEG else 0.0
    if not 0.0 < most <= 1.0 + 1.0e-9:
        return None
    shares = np.arange(1, int(100.0 * min(1.0, most) + 1.0e-6) + 1) / 100.0
    used = _Levelled.of(framing).used_mm(middle_ray(framing)[None], (1.0 - shares) * pitch)
    fits = _first(used > circle * WITHIN)
    count = len(shares) if fits is None else fits - 1
    if count < 1:
        return None
    share = count / 100.0
    left = with_middle_on(framing, middle_ray(framing), framing.pose.heading_deg, (1.0 - share) * pitch, noted(framing))
    lean = float(np.abs(leans_deg(camera_of(left), AT_SIDES)).max())
    return MovementsRemedy(
        words=say.straighten(share * 100.0),
        cost=say.uprights_at_the_sides(lean),
        gesture=Straighten(amount=share),
    )


@dataclass(frozen=True)
class _Levelled:
    """A shot without roll, at a pitch of its own heading: what is in the middle of its frame puts the film where it
    is."""

    law: Law
    size_mm: tuple[float, float]
    level: Floats
    side: Floats

    @classmethod
    def of(cls, framing: Framing) -> _Levelled:
        level = framing.pose.level_axis
        return cls(framing.camera.law, framing.fitted.size_mm, level, np.array([level[1], -level[0], 0.0]))

    def used_mm(self, directions: Floats, pitch_deg: Floats | float = 0.0, times: Floats | float = 1.0) -> Floats:
        """The circles (n,) it uses with what lies so far off, (n, 3) metres, in the middle, ``times`` as much film
        taken; endless where that is not seen."""
        ahead, aside, up = directions @ self.level, directions @ self.side, directions[:, 2]
        c, s = np.cos(np.radians(pitch_deg)), np.sin(np.radians(pitch_deg))
        along = c * ahead + s * up
        x, y, seen = self.law.film(np, aside + 0.0 * along, c * up - s * ahead, np.maximum(along, 1.0e-9))
        wide, high = self.size_mm
        used: Floats = 2.0 * np.hypot(np.abs(x) + times * wide / 2.0, np.abs(y) + times * high / 2.0)
        return np.where(seen & (along > 0.0), used, inf)


def _first(fits: NDArray[np.bool_]) -> int | None:
    """The number, from 1, of the first of some steps that does it; None where none does."""
    return int(np.argmax(fits)) + 1 if fits.any() else None


def _shorter(framing: Framing, where: SetContext, circle: float) -> MovementsRemedy | None:
    """The longest prime through which the same picture, enlarged, lies within the circle; else just so short a lens."""
    shot, used = framing.shot, circle_used_mm(framing.camera.window)
    f = shot.lens.focal_length_mm
    longest = f * circle / used * WITHIN
    primes = [prime for prime in where.primes if prime <= longest]
    other = max(primes) if primes else float(np.floor(longest * 10.0) / 10.0)
    if other < SHORTEST_MM:
        return None
    gesture = EnlargeInstead(focal_length_mm=other)
    enlarge = _enlarge_after(framing, gesture, shot.back.enlarge * f / other)
    if enlarge > MOST_ENLARGED:
        return None
    left = (shot.back.enlarge / enlarge) ** 2
    return MovementsRemedy(
        words=say.mm_enlarged(other, enlarge),
        cost=say.of_the_film_is_left(left * 100.0),
        gesture=gesture,
    )


_UP = np.array([0.0, 0.0, 1.0])


_MOST_RUNGS = 2000
"""Steps up that are tried: what lies so many of them above the lens is not to be reached by a ladder."""


def _elsewhere(framing: Framing, circle: float) -> list[MovementsRemedy | None]:
    """Farther back, and higher: where the same middle needs no more rise than the circle has room for."""
    shot, pose = framing.shot, framing.pose
    if not can_shift(shot) or abs(pose.pitch_deg) > 80.0:
        return []
    away, most = subject_of(framing) - pose.position, circle * WITHIN
    ahead, up = float(away @ pose.level_axis), float(away[2])
    levelled = _Levelled.of(framing)
    if ahead <= 0.0 or levelled.used_mm(away[None])[0] <= most:
        return []
    step, sign = _step(ahead), 1.0 if up >= 0.0 else -1.0
    farthest = min(FARTHEST * ahead, FARTHEST_M, (MOST_ENLARGED / shot.back.enlarge - 1.0) * ahead)
    back = step * np.arange(1.0, int(farthest / step) + 1)
    behind = levelled.used_mm(away + back[:, None] * pose.level_axis, times=ahead / (ahead + back))
    rungs = step * np.arange(1.0, min(ceil(min(abs(up), HIGHEST_M - step) / step), _MOST_RUNGS) + 1)
    above = levelled.used_mm(away - sign * rungs[:, None] * _UP)
    farther, higher = _first(behind <= most), _first(above <= most)
    return [
        None if farther is None else _farther(framing, farther * step, ahead),
        None if higher is None else _higher(framing, sign * higher * step),
    ]


def _farther(framing: Framing, back_m: float, ahead: float) -> MovementsRemedy:
    """Back until the subject, enlarged to the size it had, lies within the circle: rise and frame both shrink."""
    gesture = TrueFromElsewhere(back_m=back_m)
    enlarge = _enlarge_after(framing, gesture, framing.shot.back.enlarge * (ahead + back_m) / ahead)
    return MovementsRemedy(
        words=say.stand_farther_back_enlarged(length_words(back_m), enlarge),
        cost=say.THE_SAME_SIZE_A_FLATTER,
        gesture=gesture,
    )


def _higher(framing: Framing, up_m: float) -> MovementsRemedy:
    """Up, or down, until the subject needs no more rise than the circle has room for."""
    return MovementsRemedy(
        words=say.stand(length_words(abs(up_m)), say.HIGHER if up_m > 0.0 else say.LOWER),
        cost=_height_words(framing, up_m),
        gesture=TrueFromElsewhere(up_m=up_m),
    )


def _step(ahead: float) -> float:
    """A round step that suits a distance: 5 cm where things are metres away."""
    return float(0.05 * 10.0 ** np.floor(np.log10(max(ahead, 1.0e-3))))


def _height_words(framing: Framing, up_m: float) -> str:
    position = framing.pose.position
    floor = None if framing.working is None else framing.working.floor_under(position)
    there = float(position[2]) + up_m
    if floor is None:
        return say.the_lens_at_over(length_words(there))
    return say.the_lens_above_the_floor(length_words(there - floor))
