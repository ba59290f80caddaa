"""What focusing and stopping down promise: what was asked to be sharp is, and the exposure is held."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from tests.core.promises import Done, exposed_alike, in_focus, of, only, same, sharp

from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import seen_in
from zevlo.core.instruments.focus.alternatives import SharpAnyhow
from zevlo.core.instruments.focus.distance import (
    FocusAt,
    FocusHyperfocal,
    FocusOnBarrel,
    FocusOnPaper,
    FocusTo,
    FollowFocusPart,
    FollowFocusSeen,
    LetFocusGo,
    on_paper,
)
from zevlo.core.instruments.focus.probes import PinProbe, ProbeAway
from zevlo.core.instruments.focus.stacks import StackAway, StackBetween, StackPartSeen, StackPoints, frames_of
from zevlo.core.instruments.focus.stop_solver import (
    EverythingSharp,
    PartSharp,
    PartSharpSeen,
    SharpBetween,
    SharpPoints,
    SoftWhileSharp,
    axis_per_m,
)
from zevlo.core.instruments.focus.stops import SharpOnPaper, SharpTo, StopByBracket, StopTo
from zevlo.core.optics.barrel import barrel
from zevlo.core.optics.focus import next_third_stop
from zevlo.core.refused import Refused

DISTANCE = ("focus.distance_m", "focus.follow")
STOP = (*DISTANCE, "focus.f_number", "exposure.shutter_s")


@of(FocusAt, FocusTo, FocusOnPaper, FocusOnBarrel, FocusHyperfocal)
def the_distance_alone_changes_and_nothing_is_followed(done: Done) -> None:
    only(done, *DISTANCE)
    assert done.now.focus.follow is None


@of(FocusAt, FollowFocusSeen)
def what_was_pressed_is_in_focus(done: Done) -> None:
    if getattr(done.asked, "where", "point") == "point":
        in_focus(done, done.pressed)


@of(FocusTo)
def the_focus_is_as_far_as_told(done: Done) -> None:
    same(done.now.focus.distance_m, done.asked.distance_m)


@of(FocusOnPaper)
def the_focus_is_drawn_through_the_place(done: Done) -> None:
    found = on_paper(done.after, done.asked.drawing, done.asked.x, done.asked.y)
    if 0.0 < found < FARTHEST_FOCUS_M and not done.was.lens.focus_breathing:
        same(found, done.now.focus.distance_m, rel=1e-6)


@of(FocusOnBarrel)
def the_focus_is_what_the_barrel_shows_there(done: Done) -> None:
    shot = done.was
    scale = barrel(shot.lens.focal_length_mm, shot.focus.f_number, 0.03, shot.focus.distance_m * 1000.0)
    marks = [(float(one.label), one.at) for one in scale.metres if one.label != "∞" and 0.0 < one.at < 1.0]
    for distance, at in marks:
        if abs(at - done.asked.at) > 1e-3:
            assert (done.now.focus.distance_m > distance) == (done.asked.at > at)


@of(FocusHyperfocal)
def it_is_sharp_from_half_of_it_to_infinity(done: Done) -> None:
    zone = done.after.zone
    same(zone.far_per_m, 0.0, abs=1e-6)
    same(zone.near_per_m, 2.0 * zone.focus_per_m, rel=1e-2)


@of(FollowFocusPart, FollowFocusSeen)
def the_focus_is_kept_on_that_part(done: Done) -> None:
    only(done, *DISTANCE)
    follow = done.now.focus.follow
    assert follow is not None
    assert follow.where == done.asked.where
    in_focus(done, follow.point)
    part = (
        getattr(done.asked, "part", None) or done.working.model.ids[seen_in(done.before, *done.asked.pressed[0]).part]
    )
    low, high = done.box(part)
    assert follow.part == part
    assert ((np.array(follow.point) > low - 1e-4) & (np.array(follow.point) < high + 1e-4)).all()


@of(LetFocusGo)
def the_focus_stays_and_follows_nothing(done: Done) -> None:
    only(done, "focus.follow")
    assert done.now.focus.follow is None


@of(SharpTo, SharpOnPaper, StopTo, StopByBracket, SharpBetween, SharpPoints, PartSharp, PartSharpSeen, SoftWhileSharp)
def stop_and_focus_alone_change_and_the_exposure_is_held(done: Done) -> None:
    only(done, *STOP)
    exposed_alike(done)


@of(SharpTo)
def one_end_lies_there_and_the_other_stays(done: Done) -> None:
    was, now = done.before.zone, done.after.zone
    moved, stays = ("near_per_m", "far_per_m") if done.asked.end == "near" else ("far_per_m", "near_per_m")
    same(getattr(now, moved), 1.0 / done.asked.distance_m, rel=1e-5, abs=1e-6)
    same(getattr(now, stays), getattr(was, stays), rel=1e-5, abs=1e-6)


@of(SharpOnPaper)
def that_end_is_drawn_through_the_place(done: Done) -> None:
    if done.before.law.straight and not done.was.lens.focus_breathing:
        found = on_paper(done.after, done.asked.drawing, done.asked.x, done.asked.y)
        zone = done.after.zone
        same(1.0 / found, zone.near_per_m if done.asked.end == "near" else zone.far_per_m, rel=1e-4, abs=1e-5)


@of(StopTo)
def the_stop_is_what_was_told(done: Done) -> None:
    assert done.now.focus.f_number == done.asked.f_number
    same(done.now.focus.distance_m, done.was.focus.distance_m)


@of(StopByBracket)
def the_stop_is_one_of_the_thirds(done: Done) -> None:
    n = done.now.focus.f_number
    same(next_third_stop(n * (1.0 - 1e-6)), n, rel=1e-4)
    same(done.now.focus.distance_m, done.was.focus.distance_m)


@of(SharpBetween)
def it_is_sharp_from_here_to_there(done: Done) -> None:
    zone = done.after.zone
    assert zone.near_per_m * (1.0 + 1e-6) >= 1.0 / done.asked.near_m
    assert zone.far_per_m <= (0.0 if done.asked.far_m is None else 1.0 / done.asked.far_m) * (1.0 + 1e-6) + 1e-7


@of(SharpPoints)
def all_those_points_are_sharp(done: Done) -> None:
    sharp(done.after, done.asked.points or [seen_in(done.before, *at).at for at in done.asked.pressed])


@of(PartSharp, PartSharpSeen)
def the_part_is_sharp_all_over(done: Done) -> None:
    part = (
        getattr(done.asked, "part", None) or done.working.model.ids[seen_in(done.before, *done.asked.pressed[0]).part]
    )
    low, high = done.box(part)
    sharp(
        done.after,
        [[(low, high)[i][0], (low, high)[j][1], (low, high)[k][2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)],
    )


@of(EverythingSharp)
def it_is_sharp_to_infinity_all_over_the_frame(done: Done) -> None:
    only(done, *STOP)
    camera = done.after.camera
    rays = camera.rays(np.array([(x, y) for x in (0.0, 0.5, 1.0) for y in (0.0, 0.5, 1.0)]))
    sharp(done.after, (rays.origins + 1e6 * rays.directions)[rays.sees])
    if done.asked.from_m is not None:
        exposed_alike(done)
        assert done.after.zone.near_per_m * (1.0 + 1e-6) >= 1.0 / done.asked.from_m


@of(SoftWhileSharp)
def one_point_is_in_focus_and_the_other_so_soft(done: Done) -> None:
    sharp_one, soft = (
        (done.asked.sharp, done.asked.soft)
        if done.asked.sharp is not None
        else [seen_in(done.before, *at).at for at in done.asked.pressed]
    )
    if done.now.focus.distance_m < FARTHEST_FOCUS_M and not done.was.lens.focus_breathing:
        in_focus(done, sharp_one)
        camera, at = done.after.camera, np.array([soft])
        assert done.after.blur_law.px(camera.camera_space(at), camera.places(at).depth)[0] >= done.asked.px * (1 - 1e-5)


@of(PinProbe, ProbeAway)
def one_probe_more_or_one_less(done: Done) -> None:
    only(done, "focus.probes")
    was, now = list(done.was.focus.probes), list(done.now.focus.probes)
    if isinstance(done.asked, PinProbe):
        assert now[:-1] == was
        same(now[-1].point, done.pressed)
    else:
        assert now == was[: done.asked.n] + was[done.asked.n + 1 :]


@of(SharpAnyhow)
def what_was_asked_is_sharp(done: Done) -> None:
    exposed_alike(done)
    if done.asked.stacked_at is None and done.asked.points is not None:
        sharp(done.after, done.asked.points)


def covered(framing: Framing, near_per_m: float, far_per_m: float) -> None:
    """The pictures of a stack are sharp from here to there, without a gap."""
    try:
        zones = [Framing(one).zone for one in frames_of(framing)]
    except Refused:
        return
    assert zones[0].near_per_m >= near_per_m * (1.0 - 1e-5)
    assert zones[-1].far_per_m <= max(far_per_m, 1.0 / FARTHEST_FOCUS_M) * (1.0 + 1e-5)
    for one, next_one in pairwise(zones):
        assert next_one.near_per_m >= one.far_per_m * (1.0 - 1e-6)


@of(StackBetween, StackPoints, StackPartSeen, StackAway)
def nothing_but_the_stack_changes(done: Done) -> None:
    only(done, "focus.stack")
    assert (done.now.focus.stack is None) == isinstance(done.asked, StackAway)


@of(StackBetween)
def the_pictures_cover_it(done: Done) -> None:
    covered(done.after, 1.0 / done.asked.near_m, 0.0 if done.asked.far_m is None else 1.0 / done.asked.far_m)


@of(StackPoints)
def the_pictures_cover_the_points(done: Done) -> None:
    points = done.asked.points or [seen_in(done.before, *at).at for at in done.asked.pressed]
    found = axis_per_m(done.before, np.array(points, dtype=float))
    covered(done.after, float(found.max()), float(found.min()))
