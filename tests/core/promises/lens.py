"""What a lens promises that is changed: the angle, the place on the paper, the size of what is looked at."""

from __future__ import annotations

import numpy as np
from tests.core.promises import GRID, Done, of, only, same

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import side_of_wedge
from zevlo.core.instruments.lens.angle import AngleTo, WedgeTo
from zevlo.core.instruments.lens.character import BendTo, Breathing, bent_by
from zevlo.core.instruments.lens.primes import PrimeStep
from zevlo.core.instruments.lens.projection import ProjectionTo
from zevlo.core.instruments.lens.views import FaceOn, ScaleTo, ViewFrom, scale_on_paper
from zevlo.core.scene.places.levels import NO_CONTEXT

LENGTH = ("lens.focal_length_mm", "lens.scale_m")


def runs_through(framing: Framing, side: str, x: float, y: float, within: float) -> None:
    """In plan a side of the wedge runs through a place."""
    rays = framing.camera.rays(side_of_wedge(framing.camera, side))
    origin, ahead = rays.origins[0, :2], rays.directions[0, :2]
    away = np.array([x, y]) - origin
    if np.hypot(*ahead) > 1e-6:
        across = np.array([ahead[1], -ahead[0]]) / np.hypot(*ahead)
        assert abs(across @ away) <= within * max(1.0, float(np.hypot(*away)))


@of(AngleTo)
def the_lens_sees_the_angle_that_was_told(done: Done) -> None:
    only(done, *LENGTH)
    window = done.after.camera.window
    across, up = window.width * (done.asked.side != "upright"), window.height * (done.asked.side != "across")
    same(done.after.law.angle_deg(across, up), done.asked.angle_deg, abs=2e-4)


@of(WedgeTo)
def the_side_of_the_wedge_runs_through_the_place(done: Done) -> None:
    only(done, *LENGTH)
    runs_through(done.after, done.asked.side, done.asked.x, done.asked.y, 1e-5)


@of(PrimeStep)
def the_next_prime_is_taken(done: Done) -> None:
    only(done, *LENGTH)
    primes, was, now = NO_CONTEXT.primes, done.was.lens.focal_length_mm, done.now.lens.focal_length_mm
    assert now in primes
    assert (now > was) == (done.asked.by > 0)
    assert not [one for one in primes if min(was, now) + 1e-6 < one < max(was, now) - 1e-6]


@of(ProjectionTo)
def the_picture_is_drawn_so_and_parallel_as_wide_as_it_was_at_the_aim(done: Done) -> None:
    only(done, "lens", "movements.tilt_deg", "movements.swing_deg")
    assert done.now.lens.projection == done.asked.projection
    same(done.now.lens.focal_length_mm, done.was.lens.focal_length_mm)
    if done.asked.projection == "parallel" != done.was.lens.projection and done.before.law.straight:
        far = done.before.pose.aim_distance
        same(done.after.camera.span(far), done.before.camera.span(far), rel=1e-6)
        assert done.after.tilt.cosine == 1.0


@of(ViewFrom)
def all_of_the_set_is_in_the_frame(done: Done) -> None:
    only(done, "stand", "lens", "movements")
    forward = done.after.pose.forward
    assert {"above": forward[2] < -0.999, "isometric": abs(forward[2] + 3.0**-0.5) < 1e-6, "dimetric": abs(forward[2] + 1 / 3) < 1e-6}.get(done.asked.view, abs(forward[2]) < 1e-6)  # fmt: skip
    if done.was.lens.scale_m is None:
        low, high = done.working.body
        corners = np.array([[(low, high)[i][0], (low, high)[j][1], (low, high)[k][2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])  # fmt: skip
        places = done.after.camera.places(corners)
        assert places.seen.all()
        assert ((places.uv > -1e-9) & (places.uv < 1.0 + 1e-9)).all()
    else:
        same(done.now.stand.aim, done.was.stand.aim)
        same(done.now.lens.scale_m, done.was.lens.scale_m)


@of(FaceOn)
def the_camera_looks_straight_at_what_was_pressed(done: Done) -> None:
    only(done, "stand")
    same(done.now.stand.aim, done.pressed, abs=1e-5)
    same(done.after.pose.aim_distance, done.before.pose.aim_distance, rel=1e-5)


@of(ScaleTo)
def the_print_has_that_scale(done: Done) -> None:
    only(done, "lens.scale_m")
    same(scale_on_paper(done.now), done.asked.over)


@of(BendTo)
def the_corner_lies_so_much_farther_out(done: Done) -> None:
    only(done, "lens.distortion")
    found = bent_by(done.after)
    if found is not None:
        same(found, done.asked.corner, abs=1e-6)


@of(Breathing)
def only_focusing_breathes_from_now_on(done: Done) -> None:
    only(done, "lens.focus_breathing")
    assert done.now.lens.focus_breathing == done.asked.on
    if done.asked.on == done.was.lens.focus_breathing:
        same(done.after.camera.rays(GRID).directions, done.before.camera.rays(GRID).directions)
