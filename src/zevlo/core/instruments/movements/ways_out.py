"""What to do where the image circle is too small for uprights that are true: each way, and what it costs."""

from __future__ import annotations

from math import atan2, ceil, cos, hypot, radians, sqrt, tan
from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np
from pydantic import Field, ValidationError

from zevlo.core.bases import SheetGroup
from zevlo.core.camera import camera_of, film_distance_mm
from zevlo.core.from_elsewhere import from_elsewhere
from zevlo.core.instruments.instrument import Asked, Gesture, Scene
from zevlo.core.instruments.lens.settings import LONGEST_MM, SHORTEST_MM
from zevlo.core.instruments.movements.straightening import Straighten
from zevlo.core.measures import length_words
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.lens import Window
from zevlo.core.optics.movements import circle_used_mm, room_mm
from zevlo.core.refused import Refused
from zevlo.core.same_picture import MOST_ENLARGED, enlarged_through
from zevlo.core.scene.model import Floats
from zevlo.core.scene.working import WorkingSet
from zevlo.core.seen import seen_in
from zevlo.core.stand.pose import Pose, resolve
from zevlo.core.uprights import (
    AT_SIDES,
    MIDDLE,
    SAME_DEG,
    as_it_was,
    can_shift,
    leans_deg,
    middle_ray,
    noted,
    way_back,
    with_middle_on,
)

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

WITHIN = 1.0 - 1.0e-6
"""Of a circle that is just reached."""
HIGHEST_M, FARTHEST_M = 1.0e4, 1.0e5
FARTHEST = 8.0
"""A stand is looked for no farther away than this many times the distance there is."""


class EnlargeInstead(Gesture):
    """The same picture through another lens, enlarged as much more as that draws it smaller; shifts along with it."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["enlarge_instead"] = "enlarge_instead"
    focal_length_mm: float = Field(ge=SHORTEST_MM, le=LONGEST_MM)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.lens.scale_m is not None:
            raise Refused("A parallel picture does not go by its lens.")
        return enlarged_through(shot, self.focal_length_mm)


class TrueFromElsewhere(Gesture):
    """The stand so much farther back, level, or higher, with uprights true from there: what was in the middle of the
    frame stays there, and as large as it was, enlarged for it."""

    kind: Literal["true_from_elsewhere"] = "true_from_elsewhere"
    sets_attitude: ClassVar[bool] = True
    back_m: float = Field(0.0, ge=0.0, le=FARTHEST_M)
    up_m: float = Field(0.0, ge=-HIGHEST_M, le=HIGHEST_M)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        pose, subject = resolve(shot.stand), subject_of(shot, scene.working)
        by = np.array([0.0, 0.0, self.up_m]) - self.back_m * pose.level_axis
        return from_elsewhere(shot, by, subject, (pose.heading_deg, 0.0, 0.0), noted(shot))


class WayOut(SheetGroup):
    """One way to have the frame within the image circle, and what it costs."""

    words: str
    cost: str
    gesture: Straighten | EnlargeInstead | TrueFromElsewhere


def subject_of(shot: Shot, working: WorkingSet | None) -> Floats:
    """What the middle of a shot's frame sees, (3,); where that is only sky, at the distance of the aim."""
    seen = None if working is None else seen_in(shot, working.whole, *MIDDLE)
    if seen is not None:
        return np.array(seen.at)
    return np.array(shot.stand.position) + resolve(shot.stand).aim_distance * middle_ray(shot)


def ways_out(asked: Asked) -> list[WayOut]:
    """All ways there are, for a shot whose frame reaches beyond its circle."""
    shot, circle = asked.shot, asked.shot.movements.image_circle_mm
    if circle is None or shot.lens.scale_m is not None or circle_used_mm(asked.camera.window) <= circle + 1.0e-9:
        return []
    ways = [_partly(shot, circle), _shorter(asked, circle), *_elsewhere(asked, circle)]
    turned = asked.shot.movements.unturned != asked.shot.movements
    return [way for way in ways if way is not None and (not turned or _leads(way, asked))]


def _leads(way: WayOut, asked: Asked) -> bool:
    """Whether a turned lens gets there: one of another length, or from elsewhere, may have to turn too far."""
    try:
        way.gesture.follow(asked.shot, Scene(asked.working)) if asked.working else None
    except (Refused, ValidationError):
        return False
    return True


def _partly(shot: Shot, circle: float) -> WayOut | None:
    """The largest share of straightening that the circle allows."""
    if not can_shift(shot) or way_back(shot) is None:
        return None
    try:
        before = as_it_was(shot)
    except (Refused, ValueError):
        return None
    pitch, now = resolve(before.stand).pitch_deg, resolve(shot.stand).pitch_deg
    most = 1.0 - now / pitch if abs(pitch) > SAME_DEG else 0.0
    if not 0.0 < most <= 1.0 + 1.0e-9:
        return None
    low, high = 0.0, min(1.0, most)
    for _ in range(_HALVINGS):
        share = (low + high) / 2.0
        fits = _used_when_turned(shot, (1.0 - share) * pitch) <= circle * WITHIN
        low, high = (share, high) if fits else (low, share)
    if low < 0.01:
        return None
    share = int(low * 100.0) / 100.0
    left = with_middle_on(shot, middle_ray(shot), resolve(shot.stand).heading_deg, (1.0 - share) * pitch, noted(shot))
    lean = float(np.abs(leans_deg(camera_of(left), AT_SIDES)).max())
    return WayOut(
        words=f"Straighten {share * 100.0:.0f} %",
        cost=f"uprights at the sides lean {lean:.1f}°",
        gesture=Straighten(amount=share),
    )


_HALVINGS = 20


def _used_when_turned(shot: Shot, pitch_deg: float) -> float:
    """The circle a shot would use, turned to a pitch with its middle kept; in perspective, by its formula."""
    way, pose, cut = middle_ray(shot), resolve(shot.stand), cut_back(shot.back)
    level, side = pose.level_axis, np.array([pose.level_axis[1], -pose.level_axis[0], 0.0])
    ahead, aside, up = float(way @ level), float(way @ side), float(way[2])
    raised = atan2(up, ahead) - radians(pitch_deg)
    depth, f = hypot(ahead, up) * cos(raised), film_distance_mm(shot)
    if depth <= 0.0:
        return float("inf")
    rise, cross = f * tan(raised), f * aside / depth
    width, height = cut.size_mm
    return circle_used_mm(Window(cross - width / 2.0, cross + width / 2.0, rise - height / 2.0, rise + height / 2.0))


def _shorter(asked: Asked, circle: float) -> WayOut | None:
    """The longest prime through which the same picture, enlarged, lies within the circle; else just so short a lens."""
    shot, used = asked.shot, circle_used_mm(asked.camera.window)
    f = shot.lens.focal_length_mm
    longest = f * circle / used * WITHIN
    primes = [prime for prime in asked.where.primes if prime <= longest]
    other = max(primes) if primes else float(np.floor(longest * 10.0) / 10.0)
    enlarge = shot.back.enlarge * f / other if other > 0.0 else 1.0e9
    if other < SHORTEST_MM or enlarge > MOST_ENLARGED:
        return None
    left = (shot.back.enlarge / enlarge) ** 2
    return WayOut(
        words=f"{other:g} mm, enlarged {enlarge:.2f} ×",
        cost=f"{left * 100.0:.0f} % of the film is left for the picture",
        gesture=EnlargeInstead(focal_length_mm=other),
    )


def _elsewhere(asked: Asked, circle: float) -> list[WayOut | None]:
    """Farther back, and higher: where the same middle needs no more rise than the circle has room for."""
    shot, cut = asked.shot, cut_back(asked.shot.back)
    pose = resolve(shot.stand)
    if not can_shift(shot) or abs(pose.pitch_deg) > 80.0:
        return []
    away = subject_of(shot, asked.working) - pose.position
    ahead, up = float(away @ pose.level_axis), float(away[2])
    f, sign = film_distance_mm(shot), 1.0 if up >= 0.0 else -1.0
    across = max(abs(asked.camera.window.left), abs(asked.camera.window.right))
    room = room_mm(cut.size_mm[1] / 2.0, across, circle * WITHIN)
    if ahead <= 0.0 or room is None or abs(up) * f / ahead <= room:
        return []
    higher = up - sign * room * ahead / f
    step = _step(ahead)
    up_m = sign * ceil(abs(higher) / step - 1.0e-9) * step
    farther = _farther(shot, circle, ahead, abs(up), across)
    if abs(up_m) > HIGHEST_M:
        return [farther]
    ladder = WayOut(
        words=f"Stand {length_words(abs(up_m))} {'higher' if up_m > 0.0 else 'lower'}",
        cost=_height_words(asked, pose, up_m),
        gesture=TrueFromElsewhere(up_m=up_m),
    )
    return [farther, ladder]


def _farther(shot: Shot, circle: float, ahead: float, up: float, across: float) -> WayOut | None:
    """Back until the subject, enlarged to the size it had, lies within the circle: rise and frame both shrink.

    hypot(across·s, (height/2)·s + f·up/(ahead/s)) ≤ D/2 with s = ahead/(ahead + back): all is s times as large."""
    cut = cut_back(shot.back)
    tall = cut.size_mm[1] / 2.0 + film_distance_mm(shot) * up / ahead
    share = circle / 2.0 * WITHIN / sqrt(across**2 + tall**2)
    back = ahead / share - ahead
    if not 0.0 < back <= FARTHEST * ahead or shot.back.enlarge / share > MOST_ENLARGED:
        return None
    step = _step(ahead)
    back_m = ceil(back / step - 1.0e-9) * step
    if back_m > FARTHEST_M:
        return None
    enlarge = shot.back.enlarge * (ahead + back_m) / ahead
    return WayOut(
        words=f"Stand {length_words(back_m)} farther back, enlarged {enlarge:.2f} ×",
        cost="the same size, a flatter view; what lies between has to be clear",
        gesture=TrueFromElsewhere(back_m=back_m),
    )


def _step(ahead: float) -> float:
    """A round step that suits a distance: 5 cm where things are metres away."""
    return float(0.05 * 10.0 ** np.floor(np.log10(max(ahead, 1.0e-3))))


def _height_words(asked: Asked, pose: Pose, up_m: float) -> str:
    floor = None if asked.working is None else asked.working.whole.floor_under(pose.position)
    there = float(pose.position[2]) + up_m
    if floor is None:
        return f"the lens at {length_words(there)} over zero"
    return f"the lens {length_words(there - floor)} above the floor"
