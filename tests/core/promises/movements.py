"""What shifting, straightening and turning the lens promise."""

from __future__ import annotations

from math import radians, tan

import numpy as np
from tests.core.promises import MIDDLE, Done, in_focus, of, only, same, same_view

from zevlo.core.camera.depth_of_field import focus_through, sharp_in_middle
from zevlo.core.camera.on_paper import levelled_lean, place_on_paper
from zevlo.core.camera.picking import seen_in
from zevlo.core.instruments.movements.alternatives import EnlargeInstead, TrueFromElsewhere, subject_of
from zevlo.core.instruments.movements.focus_plane import (
    FocusPlaneOn,
    FocusPlaneOnPaper,
    FocusPlaneThrough,
    HingeOnPaper,
    LensParallel,
    TurnLens,
)
from zevlo.core.instruments.movements.shifting import ShiftTo, Unshift
from zevlo.core.instruments.movements.straightening import SquareOn, Straighten, Unstraighten


@of(ShiftTo)
def the_film_is_shifted_by_what_was_told(done: Done) -> None:
    only(done, "movements.rise_mm", "movements.cross_mm", "movements.before_straightening")
    width, height = done.before.fitted.size_mm
    for given, side, key in ((done.asked.rise, height, "rise_mm"), (done.asked.cross, width, "cross_mm")):
        counted = {"mm": lambda t, _: t, "share": lambda t, side: t * side, "deg": lambda t, _: done.before.film_distance_mm * tan(radians(t))}  # fmt: skip
        was = getattr(done.was.movements, key)
        same(getattr(done.now.movements, key), was if given is None else counted[done.asked.counted](given, side))


@of(Unshift)
def the_film_stands_behind_the_lens_again(done: Done) -> None:
    only(done, "movements")
    assert (done.now.movements.rise_mm, done.now.movements.cross_mm) == (0.0, 0.0)
    same(done.after.pose.forward, done.before.pose.forward)


@of(Straighten, SquareOn, Unstraighten)
def the_middle_of_the_frame_sees_what_it_saw(done: Done) -> None:
    only(done, "stand.aim", "stand.roll_deg", "movements", "focus.distance_m")
    same_view(done, MIDDLE, within=1e-5)


@of(Straighten, SquareOn, LensParallel)
def what_was_sharp_in_the_middle_is_sharp(done: Done) -> None:
    point = sharp_in_middle(done.before)
    if point is None or not np.isfinite(focus_through(done.after, point[None])[0]):
        return
    if done.now.focus.distance_m > done.after.nearest_focus_m * (1.0 + 1e-9):
        in_focus(done, point)


@of(Straighten)
def uprights_are_true_when_all_of_it_is_taken_out(done: Done) -> None:
    if done.asked.amount == 1.0:
        same(done.after.pose.pitch_deg, 0.0, abs=1e-6)
    if done.now.movements.before_straightening is not None:
        assert done.now.stand.roll_deg == 0.0


@of(SquareOn)
def it_looks_straight_at_the_wall(done: Done) -> None:
    if done.asked.amount == 1.0:
        normal = done.asked.normal or seen_in(done.before, *done.asked.pressed[0]).normal
        level = np.array(normal[:2]) / np.hypot(*normal[:2])
        same(done.after.pose.level_axis[:2], -level, abs=1e-5)


@of(Unstraighten)
def there_is_nothing_more_to_take_back(done: Done) -> None:
    assert done.now.movements.before_straightening is None


@of(EnlargeInstead)
def the_picture_is_the_same_through_the_other_lens(done: Done) -> None:
    same(done.now.lens.focal_length_mm, done.asked.focal_length_mm)
    same_view(done, within=1e-5)


@of(TrueFromElsewhere)
def the_subject_is_as_large_in_the_middle_and_uprights_are_true(done: Done) -> None:
    subject = subject_of(done.before)
    same(done.after.camera.places(subject[None]).uv[0], (0.5, 0.5), abs=1e-5)
    same((done.after.pose.pitch_deg, done.now.stand.roll_deg), (0.0, 0.0), abs=1e-6)
    step = done.after.pose.position - done.before.pose.position
    same(step, np.array([0.0, 0.0, done.asked.up_m]) - done.asked.back_m * done.before.pose.level_axis, abs=1e-6)


@of(FocusPlaneThrough)
def all_three_points_lie_in_the_plane_of_focus(done: Done) -> None:
    points = np.array(done.asked.points or [seen_in(done.before, *at).at for at in done.asked.pressed])
    if np.abs(points).max() < 1e4:
        in_focus(done, points)


@of(FocusPlaneOn)
def what_was_pressed_lies_in_the_plane_of_focus(done: Done) -> None:
    in_focus(done, done.pressed)


@of(FocusPlaneOnPaper)
def the_plane_of_focus_is_drawn_through_the_place(done: Done) -> None:
    only(done, "movements.tilt_deg", "movements.swing_deg", "focus.distance_m")
    if max(abs(done.asked.x), abs(done.asked.y)) > 1e4:
        return
    aside, above, ahead = place_on_paper(done.after.camera, done.asked.drawing, done.asked.x, done.asked.y)
    across, up = levelled_lean(done.after.camera, done.after.lean)
    lean = up * above if done.asked.drawing == "section" else across * aside
    same(lean + ahead / done.now.focus.distance_m, 1.0, rel=1e-4, abs=1e-4)


@of(HingeOnPaper)
def the_hinge_lies_as_far_aside_as_the_place(done: Done) -> None:
    only(done, "movements.tilt_deg", "movements.swing_deg", "focus.distance_m")
    across, up = levelled_lean(done.after.camera, done.after.lean)
    aside, above, _ = place_on_paper(done.before.camera, done.asked.drawing, done.asked.x, done.asked.y)
    lean, away = (up, above) if done.asked.drawing == "section" else (across, aside)
    same(lean * away, 1.0, rel=1e-4)


@of(TurnLens, LensParallel)
def the_lens_is_turned_as_told(done: Done) -> None:
    only(done, "movements.tilt_deg", "movements.swing_deg", "focus.distance_m")
    for key in ("tilt_deg", "swing_deg"):
        found = getattr(done.asked, key, 0.0)
        assert getattr(done.now.movements, key) == (getattr(done.was.movements, key) if found is None else found)
    if isinstance(done.asked, TurnLens):
        same(done.now.focus.distance_m, done.was.focus.distance_m)
