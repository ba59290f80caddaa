"""Sharpness asked for from the other end: what is to be sharp is told, distance and stop are found.

With both limits as inverses along the lens axis, y = 1/near and x = 1/far, the focus is at u = 2/(x + y) and the stop
N = (y - x)·f / (2c·(cos α/f - 1/u)), all in mm (:func:`~zevlo.core.optics.focus.stop_reaching`). No wider stop does it:
blur at both ends falls with N alone once u is there, and any other u makes one of them softer.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import PartId, Point
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.constraints.exposure import exposed
from zevlo.core.constraints.follow_focus import part_corners
from zevlo.core.constraints.settling import settled
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene, SharePlace
from zevlo.core.optics import focus
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.limits import FARTHEST_M, Distance
from zevlo.text import focus as say


def require_stop(framing: Framing) -> None:
    """Raise :class:`Refused` where no stop makes anything sharper."""
    if not framing.law.blurs:
        raise Refused(say.IN_A_PARALLEL_PICTURE)


def axis_per_m(framing: Framing, points: Floats) -> Floats:
    """The inverses (n,), 1/m, of the distances along the lens axis at which planes of the sharp zone through points
    (n, 3) of the world cross it. Raises :class:`Refused` for what the lens does not see."""
    camera = framing.camera
    places = camera.places(points)
    if not places.seen.all() or float(places.depth.min()) <= 0.0:
        raise Refused(say.SOME_OF_THAT_LIES_BESIDE)
    across, up, ahead = camera.camera_space(points).T
    lean = framing.lean
    inverse: Floats = 1.0 / places.depth - (lean[0] * across + lean[1] * up) / np.where(ahead > 0.0, ahead, 1.0)
    return inverse


@dataclass(frozen=True)
class SharpAsked:
    """What is to be sharp: points (n, 3) in the world, or two distances along the lens axis by their inverses, 1/m; or
    ``reached``, what :meth:`to_reach` would say of it."""

    points: Floats | None = None
    near_per_m: float = 0.0
    far_per_m: float = 0.0
    reached: tuple[Floats, Floats] | None = None

    def to_reach(self, framing: Framing) -> tuple[Floats, Floats]:
        """The inverses (n,), 1/m, of the distances along the axis at which the plane of focus through each crosses it;
        and how many times as large as in the middle it is blurred."""
        if self.reached is not None:
            return self.reached
        if self.points is None:
            return np.array([self.near_per_m, self.far_per_m]), np.ones(2)
        camera = framing.camera
        return axis_per_m(framing, self.points), camera.drawn_larger(camera.camera_space(self.points))


_HALVINGS = 60


def middle_per_m(per_m: Floats, larger: Floats) -> tuple[float, float]:
    """The inverse of the focus that leaves the worst of some distances least soft, and how far off that is, 1/m; all by
    their inverses (n,), each drawn so many times as ``larger``. The middle of them where they are drawn alike."""
    low, high = float(per_m.min()), float(per_m.max())
    middle = (low + high) / 2.0
    if float(np.ptp(larger)) > 0.0:
        for _ in range(_HALVINGS):
            middle = (low + high) / 2.0
            too_far = float((larger * (middle - per_m)).max()) > float((larger * (per_m - middle)).max())
            low, high = (low, middle) if too_far else (middle, high)
    middle = max(middle, 1.0 / FARTHEST_FOCUS_M)
    return middle, float((larger * np.abs(per_m - middle)).max())


def stop_wanted(framing: Framing, asked: SharpAsked) -> tuple[float, float]:
    """The distance in mm to focus at, and the f-number that just does, for all that is asked to be sharp. Raises
    :class:`Refused` where the lens does not focus so near."""
    shot = framing.shot
    require_stop(framing)
    middle, off = middle_per_m(*asked.to_reach(framing))
    require_focus(framing, middle)
    f, limit = shot.lens.focal_length_mm, framing.blur_limit_mm
    return 1000.0 / middle, focus.stop_reaching(f, limit, off / 1000.0, middle / 1000.0, framing.tilt.cosine)


def require_focus(framing: Framing, per_m: float) -> None:
    """Raise :class:`Refused` where the lens does not focus as near as a distance, told by its inverse."""
    nearest = framing.nearest_focus_m
    if per_m * nearest > 1.0 + 1.0e-9:
        raise Refused(say.the_lens_focuses_no_nearer(nearest))


def made_sharp(framing: Framing, asked: SharpAsked) -> Shot:
    """The shot focused and stopped down, to the next third of a stop, so that all that is asked is sharp; the shutter
    holds the exposure.

    Raises :class:`Refused` with the nearest there is: the smallest stop, near and far equally soft."""
    shot = framing.shot
    u, wanted = stop_wanted(framing, asked)
    widest = focus.WIDEST_OFFERED
    n = max(focus.next_third_stop(wanted), widest) if wanted > 0.0 else shot.focus.f_number or widest
    held = min(n, focus.SMALLEST_OFFERED)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": held, "follow": None})
    made = exposed(shot.with_groups(focus=moved), framing.ev100)
    if n > held * (1.0 + 1.0e-9):
        raise Refused(
            say.that_takes_and_the_smallest(focus.stop_name(wanted), focus.stop_name(held)),
            nearest=made,
            asked=asked,
        )
    return made


def sharp_from_to(framing: Framing, near_per_m: float, far_per_m: float) -> Shot:
    """The same for all between two distances along the lens axis, told by their inverses."""
    return made_sharp(framing, SharpAsked(near_per_m=near_per_m, far_per_m=far_per_m))


def sharp_at(framing: Framing, points: Floats) -> Shot:
    """The same for points (n, 3) of the world."""
    return made_sharp(framing, SharpAsked(points))


class SharpBetween(Gesture):
    """All from here to there is sharp: two distances along the lens axis; no far one: to infinity."""

    kind: Literal["sharp_between"] = "sharp_between"
    near_m: Distance
    far_m: Distance | None = None

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        far = inf if self.far_m is None else self.far_m
        if far < self.near_m:
            raise Refused(say.THE_NEAR_END_HAS_TO_LIE)
        return sharp_from_to(framing, 1.0 / self.near_m, 0.0 if far == inf else 1.0 / far)


def pressed_points(framing: Framing, places: tuple[tuple[float, float], ...], scene: Scene) -> tuple[Point, ...]:
    """What is seen at places in the frame. Raises :class:`Refused` for sky."""
    seen = [thing_at(framing, *at) for at in places]
    return tuple(one.at for one in seen if one is not None)


class SharpPoints(Gesture):
    """These points are sharp: places in the world, or places in the frame at which something is seen."""

    kind: Literal["sharp_points"] = "sharp_points"
    points: tuple[Point, ...] | None = Field(None, min_length=1, max_length=1000)
    """Metres in the world."""
    pressed_at: tuple[SharePlace, ...] | None = Field(None, min_length=1, max_length=1000)
    """Places in the frame, (0, 0) bottom left; instead of points."""

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        if (self.points is None) == (self.pressed_at is None):
            raise Refused(say.WHAT_IS_TO_BE_SHARP)
        points = self.points or pressed_points(framing, self.pressed_at or (), scene)
        return sharp_at(framing, np.array(points))


class PartSharp(Gesture):
    """A part is sharp all over."""

    kind: Literal["part_sharp"] = "part_sharp"
    part: PartId

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        found = scene.working.model.parts_at([self.part])
        corners = [part_corners(scene.working, number) for number in found]
        if sum(map(len, corners)) == 0:
            raise Refused(say.THERE_IS_NO_SUCH_PART)
        return sharp_at(framing, np.concatenate(corners))


class PartSharpSeen(PressedInPicture):
    """The part that is seen at a place in the frame is sharp all over."""

    kind: Literal["part_sharp_seen"] = "part_sharp_seen"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        seen = thing_at(framing, self.x, self.y)
        return PartSharp(part=scene.working.model.ids[seen.part]).apply(framing, scene)


class EverythingSharp(Gesture):
    """Sharp to infinity, all over the frame: focused as near as the stop there is allows that, which is at the
    hyperfocal distance of a lens that is not turned. ``from_m``: stopped down until it is sharp from there on."""

    kind: Literal["everything_sharp"] = "everything_sharp"
    from_m: Distance | None = None

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        # Where the corners look goes by how a lens that breathes is focused.
        return settled(framing.shot, lambda shot: self._made(Framing(shot)))

    def _made(self, framing: Framing) -> Shot:
        shot = framing.shot
        require_stop(framing)
        far, larger = _infinity(framing)
        if self.from_m is not None:
            near = np.array([1.0 / self.from_m])
            reached = np.concatenate([near, far]), np.concatenate([[1.0], larger])
            return made_sharp(framing, SharpAsked(near_per_m=1.0 / self.from_m, reached=reached))
        n = shot.focus.f_number
        if n is None:
            raise Refused(say.HYPERFOCAL_NEEDS_A_STOP)
        f, limit, cosine = shot.lens.focal_length_mm, framing.blur_limit_mm, framing.tilt.cosine
        nearest = min(
            focus.focus_reaching(f, n, limit / each, end / 1000.0, False, cosine) * 1000.0
            for end, each in zip(far.tolist(), larger.tolist(), strict=True)
        )
        here = max(nearest, 1.0 / FARTHEST_M)
        made = shot.with_groups(focus=shot.focus.model_copy(update={"distance_m": 1.0 / here, "follow": None}))
        off = focus.depth_per_mm(f, n, limit, 1000.0 / here, cosine) * 1000.0
        if float((larger * np.abs(far - here)).max()) > off * (1.0 + 1.0e-9):
            _, wanted = stop_wanted(framing, SharpAsked(reached=(far, larger)))
            raise Refused(
                say.with_the_lens_turned(focus.stop_name(wanted)),
                nearest=made,
            )
        return made


ALL_OVER: Floats = np.array([(x, y) for x in (0.0, 0.5, 1.0) for y in (0.0, 0.5, 1.0)])
"""The corners of a frame, the middles of its sides and its own."""


def _infinity(framing: Framing) -> tuple[Floats, Floats]:
    """What lies at infinity in the corners and the middle of the frame, as :meth:`SharpAsked.to_reach` has it."""
    camera = framing.camera
    rays = camera.rays(ALL_OVER)
    own = (rays.directions @ np.stack([camera.pose.right, camera.pose.up, camera.pose.forward]).T)[rays.sees]
    if len(own) == 0:
        raise Refused(say.THIS_LENS_DRAWS_NOTHING)
    lean = np.array(framing.lean)
    return -own[:, :2] @ lean / np.where(own[:, 2] > 0.0, own[:, 2], 1.0), camera.drawn_larger(own)


class SoftWhileSharp(Gesture):
    """One point is drawn so many pixels soft, while another is sharp: focused on that one, opened up to the next third
    of a stop that still does it; the shutter holds the exposure."""

    kind: Literal["soft_while_sharp"] = "soft_while_sharp"
    sharp: Point | None = None
    soft: Point | None = None
    pressed_at: tuple[SharePlace, SharePlace] | None = None
    """Places in the frame at which both are seen, the sharp one first; instead of points."""
    px: float = Field(gt=0.0, le=10000.0)

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return self.pressed_at or ()

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        require_stop(framing)
        given = [one for one in (self.sharp, self.soft) if one is not None]
        if len(given) != (0 if self.pressed_at else 2):
            raise Refused(say.WHAT_IS_SHARP_AND_WHAT_IS_SOFT)
        points = SharpAsked(np.array(given or pressed_points(framing, self.pressed_at or (), scene)))
        (here, there), (_, larger) = (both.tolist() for both in points.to_reach(framing))
        f, cosine = shot.lens.focal_length_mm, framing.tilt.cosine
        here = max(here, 1.0 / FARTHEST_FOCUS_M)
        require_focus(framing, here)
        wide = focus.blur_times_mm(f, 1.0, 1000.0 / here, cosine) / 1000.0 / framing.fitted.pixel_mm
        most = larger * wide * abs(here - there)
        if most <= 0.0:
            raise Refused(say.BOTH_LIE_EQUALLY_FAR_ALONG)
        n = focus.third_stop_within(most / self.px)
        held = min(max(n, focus.WIDEST_OFFERED), focus.SMALLEST_OFFERED)
        moved = shot.focus.model_copy(update={"distance_m": 1.0 / here, "f_number": held, "follow": None})
        made = exposed(shot.with_groups(focus=moved), framing.ev100)
        if n < held * (1.0 - 1.0e-9):
            raise Refused(
                say.wide_open_at_it_is_px(focus.stop_name(held), most / held),
                nearest=made,
            )
        if n > held * (1.0 + 1.0e-9):
            raise Refused(
                say.even_at_the_smallest(focus.stop_name(held), most / held),
                nearest=made,
            )
        return made
