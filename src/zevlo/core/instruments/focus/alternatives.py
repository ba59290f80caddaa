"""What else makes all sharp that is wanted where no stop does: a smaller back, a stand farther off, a tilt, a stack."""

from __future__ import annotations

from math import ceil, floor, inf, log10, radians, sin
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, ValidationError

from zevlo.core.arrays import Floats
from zevlo.core.bases import Point
from zevlo.core.camera.depth_of_field import focused
from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.exposure import exposed
from zevlo.core.constraints.focus_plane import MOST_TURN_DEG, plane_laid, require_tilt
from zevlo.core.constraints.from_another_stand import FARTHEST, from_elsewhere
from zevlo.core.constraints.same_picture import MOST_ENLARGED, on_back
from zevlo.core.constraints.settling import high_as_it_is
from zevlo.core.constraints.uprights import MIDDLE
from zevlo.core.instruments.focus.stacks import MOST_PRINTED, stack_distances, stacked
from zevlo.core.instruments.focus.stop_solver import (
    SharpAsked,
    made_sharp,
    middle_per_m,
    require_focus,
    sharp_at,
    stop_wanted,
)
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.instruments.remedy import Remedy
from zevlo.core.measures import length_words
from zevlo.core.optics import focus, lens
from zevlo.core.optics.back import FORMATS
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.back import SideMm
from zevlo.core.shot.limits import Distance, FNumber
from zevlo.text import focus as say

MOST_POINTS = 1000
_HALVINGS = 30
STACK_OVERLAP = 0.2


class SharpAnyhow(Gesture):
    """All sharp that is wanted, with something else than the stop giving way as well: exactly one of a smaller back
    with the view kept, a stand farther back, a lens that is tilted, or a stack of pictures. What is wanted: points, or
    all from here to there along the lens axis."""

    sets_attitude: ClassVar[bool] = True
    kind: Literal["sharp_anyhow"] = "sharp_anyhow"
    points: tuple[Point, ...] | None = Field(None, min_length=1, max_length=MOST_POINTS)
    """Metres in the world."""
    near_m: Distance | None = None
    """Instead of points: from here along the lens axis."""
    far_m: Distance | None = None
    """To there; null: to infinity."""
    back_mm: tuple[SideMm, SideMm] | None = None
    """The back instead, its lens so much shorter that as much is seen."""
    farther_m: float | None = Field(None, gt=0.0, le=1.0e5)
    """The stand so much farther back along the lens axis, the picture enlarged for it."""
    tilted: bool = False
    """The lens tilted or swung so that the points lie as near to its plane of focus as they can."""
    stacked_at: FNumber | None = None
    """A stack at this stop."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        made = self._made(framing)
        if self.farther_m is not None:
            made = high_as_it_is(made, scene.working)
        # A lens that breathes lets in more or less light from elsewhere, or as another lens: the exposure is held.
        return exposed(made, framing.ev100)

    def _made(self, framing: Framing) -> Shot:
        shot = framing.shot
        given = (self.back_mm, self.farther_m, self.tilted or None, self.stacked_at)
        if sum(one is not None for one in given) != 1:
            raise Refused(say.TELL_EXACTLY_ONE_OF_BACK)
        asked = self._asked()
        if self.tilted:
            if asked.points is None:
                raise Refused(say.A_LENS_IS_TILTED)
            return _tilted(framing, asked.points)
        if self.stacked_at is not None:
            opened = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": self.stacked_at}))
            per_m, _ = asked.to_reach(framing)
            return stacked(Framing(opened), float(per_m.max()), float(per_m.min()), STACK_OVERLAP)
        if self.back_mm is not None:
            width, height = self.back_mm
            # Focused first: what a lens that breathes sees goes by that.
            ready = _focused_for(framing, asked)
            back = shot.back.model_copy(update={"width_mm": width, "height_mm": height})
            return made_sharp(Framing(on_back(framing, Framing(ready.with_groups(back=back)))), asked)
        return made_sharp(*_farther(framing, self.farther_m or 0.0, asked))

    def _asked(self) -> SharpAsked:
        if (self.points is None) == (self.near_m is None):
            raise Refused(say.WHAT_IS_TO_BE_SHARP_IS_TOLD)
        if self.points is not None:
            return SharpAsked(np.array(self.points))
        far = inf if self.far_m is None else self.far_m
        near = self.near_m or 0.0
        if far < near:
            raise Refused(say.THE_NEAR_END_HAS_TO_LIE)
        return SharpAsked(near_per_m=1.0 / near, far_per_m=0.0 if far == inf else 1.0 / far)


def _farther(framing: Framing, by_m: float, asked: SharpAsked) -> tuple[Framing, SharpAsked]:
    """The shot from farther back along the lens axis, what lies in the middle of its frame and of what is wanted as
    large as it was; and what is wanted, as it is counted from there."""
    shot = framing.shot
    pose, camera = framing.pose, framing.camera
    rays, ready = camera.rays(np.array([MIDDLE])), _focused_for(framing, asked)
    subject = rays.at(camera.distances(rays, ready.focus.distance_m))[0]
    attitude = pose.heading_deg, pose.pitch_deg, shot.stand.roll_deg

    def off(per_m: float) -> float:
        return 0.0 if per_m == 0.0 else 1.0 / (1.0 / per_m + by_m)

    if asked.points is None:
        asked = SharpAsked(near_per_m=off(asked.near_per_m), far_per_m=off(asked.far_per_m))
    by, was = -by_m * pose.forward, shot.movements.before_straightening
    there = from_elsewhere(framing, by, subject, attitude, was, ready, lambda one: _focused_for(Framing(one), asked))
    return Framing(there, framing.working), asked


def _focused_for(framing: Framing, asked: SharpAsked) -> Shot:
    """The shot focused for what is wanted, at the stop it has."""
    shot = framing.shot
    middle, _ = middle_per_m(*asked.to_reach(framing))
    require_focus(framing, middle)
    return focused(shot, 1.0 / middle)


def _stop_for_stack(framing: Framing) -> float:
    """The stop there is, opened up until diffraction is within what counts as sharp: a stack needs no smaller one."""
    shot = framing.shot
    n = shot.focus.f_number or focus.WIDEST_OFFERED
    u, f = shot.focus.distance_m * 1000.0, shot.lens.focal_length_mm
    ring = focus.diffraction_mm(1.0, lens.magnification(f, u, framing.tilt.cosine))
    clear = focus.third_stop_within(max(focus.WIDEST_OFFERED, framing.blur_limit_mm / ring))
    return min(n, max(clear, focus.WIDEST_OFFERED))


def _tilted(framing: Framing, points: Floats) -> Shot:
    """The lens tilted, or swung, whichever needs the wider stop, for all points (n, 3); all of them sharp."""
    shot = framing.shot
    require_tilt(shot)
    own = framing.camera.camera_space(points)
    if float(own[:, 2].min()) <= 1.0e-4:
        raise Refused(say.SOME_OF_THAT_LIES)
    most = MOST_TURN_DEG if shot.movements.tilt_limit_deg is None else shot.movements.tilt_limit_deg
    steepest = 1000.0 / shot.lens.focal_length_mm * sin(radians(most))
    found = [_least_range(own[:, axis] / own[:, 2], 1.0 / own[:, 2], steepest) for axis in (0, 1)]
    axis = int(np.argmin([spread for _, spread in found]))
    lean = found[axis][0]
    left = 1.0 / own[:, 2] - lean * own[:, axis] / own[:, 2]
    middle = (float(left.max()) + float(left.min())) / 2.0
    laid = plane_laid(shot, (lean, 0.0, middle) if axis == 0 else (0.0, lean, middle), own)
    return sharp_at(Framing(laid), points)


def _least_range(aside: Floats, per_m: Floats, steepest: float) -> tuple[float, float]:
    """The lean b, no steeper than a lens turns, for which 1/d - b·(x/d) of points reaches least far, and how far it
    does then; it goes up on both sides of the best."""
    low, high = -steepest, steepest
    for _ in range(120):
        a, b = low + (high - low) / 3.0, high - (high - low) / 3.0
        low, high = (low, b) if np.ptp(per_m - a * aside) < np.ptp(per_m - b * aside) else (a, high)
    lean = (low + high) / 2.0
    return lean, float(np.ptp(per_m - lean * aside))


class FocusRemedy(Remedy[SharpAnyhow]):
    """What makes all sharp that is wanted where no stop does."""


def alternatives(framing: Framing, asked: object, scene: Scene) -> list[FocusRemedy]:
    """What does it where no stop does, from a shot that comes as near as one does."""
    if not isinstance(asked, SharpAsked):
        return []
    if asked.points is not None:
        asked = SharpAsked(_outermost(asked.points))
    elif asked.reached is not None and (asked.reached[0][1:].any() or np.ptp(asked.reached[1]) > 0.0):
        # All over the frame to infinity: no two distances along the lens axis say that.
        return []
    found = [one(framing, asked, scene) for one in (_by_back, _by_stand, _by_tilt, _by_stack)]
    return [one for one in found if one is not None]


def _gesture(asked: SharpAsked, **by: object) -> SharpAnyhow:
    if asked.points is not None:
        return SharpAnyhow.model_validate({"points": [tuple(point) for point in asked.points.tolist()], **by})
    far = None if asked.far_per_m <= 0.0 else 1.0 / asked.far_per_m
    return SharpAnyhow.model_validate({"near_m": 1.0 / asked.near_per_m, "far_m": far, **by})


def _done(framing: Framing, gesture: SharpAnyhow, scene: Scene) -> Shot | None:
    """The shot after a gesture; None where it is refused."""
    try:
        return gesture.apply(framing, scene)
    except (Refused, ValidationError):
        return None


def _by_back(framing: Framing, asked: SharpAsked, scene: Scene) -> FocusRemedy | None:
    """The largest format on which the same view is sharp enough."""
    shot = framing.shot
    if shot.lens.scale_m is not None:
        return None
    upright = shot.back.height_mm > shot.back.width_mm
    for known in sorted(FORMATS, key=lambda one: -one.width_mm * one.height_mm):
        sides = (known.height_mm, known.width_mm) if upright else (known.width_mm, known.height_mm)
        if sides[0] * sides[1] >= shot.back.width_mm * shot.back.height_mm:
            continue
        gesture = _gesture(asked, back_mm=sides)
        made = _done(framing, gesture, scene)
        if made is not None:
            lens_words = say.mm_sees_as_much(made.lens.focal_length_mm)
            return FocusRemedy(words=say.a_back_of_mm(known.name), cost=f"{lens_words}; {_stop(made)}", gesture=gesture)
    return None


def _by_stand(framing: Framing, asked: SharpAsked, scene: Scene) -> FocusRemedy | None:
    """So much farther back that the smallest stop does it."""
    shot = framing.shot
    subject = 1.0 / middle_per_m(*asked.to_reach(framing))[0]

    def wanted(by_m: float) -> float:
        try:
            return stop_wanted(*_farther(framing, by_m, asked))[1]
        except (Refused, ValidationError):
            return inf

    most = focus.SMALLEST_OFFERED
    low, high = 0.0, min(FARTHEST, MOST_ENLARGED / shot.back.enlarge - 1.0) * subject
    if high <= 0.0 or wanted(high) > most:
        return None
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (low, middle) if wanted(middle) <= most else (middle, high)
    step = 10.0 ** (floor(log10(high)) - 1)
    by_m = ceil(high / step) * step
    gesture = _gesture(asked, farther_m=by_m)
    made = _done(framing, gesture, scene)
    if made is None:
        return None
    larger = made.back.enlarge / shot.back.enlarge
    cost = say.enlarged_times_for_it_and_flatter(larger, _stop(made))
    return FocusRemedy(words=say.a_stand_farther_back(length_words(by_m)), cost=cost, gesture=gesture)


def _by_tilt(framing: Framing, asked: SharpAsked, scene: Scene) -> FocusRemedy | None:
    """The plane of focus laid along what is wanted."""
    if asked.points is None or len(asked.points) < 2:
        return None
    gesture = _gesture(asked, tilted=True)
    made = _done(framing, gesture, scene)
    if made is None:
        return None
    turned = made.movements
    which, angle = (
        (say.TILTED, turned.tilt_deg)
        if abs(turned.tilt_deg) >= abs(turned.swing_deg)
        else (say.SWUNG, turned.swing_deg)
    )
    cost = say.sharp_in_a_wedge(_stop(made))
    return FocusRemedy(words=say.the_lens(which, abs(angle)), cost=cost, gesture=gesture)


def _outermost(points: Floats) -> Floats:
    """The corners of the hull of points: what is sharp all over at them is sharp between them. Of a hull of very many,
    those that reach farthest in as many directions."""
    # Loaded when it is needed: a third of the time every command takes to start.
    from scipy.spatial import ConvexHull, QhullError

    try:
        outer = np.asarray(points[ConvexHull(points).vertices])
    except (QhullError, ValueError):
        outer = np.unique(points, axis=0)
    if len(outer) <= MOST_POINTS:
        return outer
    directions = np.random.default_rng(0).normal(size=(MOST_POINTS, 3))
    return np.asarray(outer[np.unique((outer @ directions.T).argmax(axis=0))])


def _by_stack(framing: Framing, asked: SharpAsked, scene: Scene) -> FocusRemedy | None:
    """As many pictures as it takes, merged."""
    shot = framing.shot
    gesture = _gesture(asked, stacked_at=_stop_for_stack(framing))
    made = _done(framing, gesture, scene)
    count = 0 if made is None else len(stack_distances(Framing(made)))
    if made is None or not 0 < count <= MOST_PRINTED or shot.lens.focus_breathing:
        return None
    many = say.ONE_PICTURE if count == 1 else say.pictures(count)
    return FocusRemedy(words=say.A_STACK, cost=say.to_be_made_and_merged(many, _stop(made)), gesture=gesture)


def _stop(shot: Shot) -> str:
    return "" if shot.focus.f_number is None else focus.stop_name(shot.focus.f_number)
