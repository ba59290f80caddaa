"""What clips and the cutting plane promise."""

from __future__ import annotations

import numpy as np
from tests.core.promises import Done, of, only, same

from zevlo.core.camera.on_paper import depth_on_paper
from zevlo.core.camera.picking import seen_in
from zevlo.core.instruments.opening.clips import BoundOnPaper
from zevlo.core.instruments.opening.cutting_plane import (
    THICKEST_M,
    CutAtWall,
    CuttingFlip,
    CuttingLine,
    CuttingTo,
    StandBehind,
)
from zevlo.core.scene.cuts.cut import plan_plane, section_plane


def on_paper(done: Done, at: tuple[float, float]) -> np.ndarray:
    """A place on a drawing of the shot as it was, (3,)."""
    pose = done.before.pose
    paper = (
        plan_plane(float(pose.position[2]))
        if done.asked.drawing == "plan"
        else section_plane(pose.position, pose.level_axis)
    )
    return paper.origin + np.array(at) @ paper.paper


def beyond_plane(done: Done, point: np.ndarray) -> float:
    """How far a point lies before the cutting plane, along its normal."""
    cutting = done.after.cutting
    return float((point - np.array(cutting.point)) @ np.array(cutting.normal))


@of(BoundOnPaper)
def the_clip_is_drawn_through_the_place(done: Done) -> None:
    key = f"{done.asked.which}_m"
    only(done, f"lens.{key}")
    same(
        getattr(done.now.lens, key), depth_on_paper(done.before.camera, done.asked.drawing, done.asked.x, done.asked.y)
    )


@of(CutAtWall, CuttingLine, CuttingTo, CuttingFlip)
def nothing_but_the_plane_changes(done: Done) -> None:
    only(done, "lens.cutting_plane")


@of(CutAtWall)
def the_wall_that_was_pressed_is_seen_no_more(done: Done) -> None:
    was, now = (seen_in(one, *done.asked.pressed[0]) for one in (done.before, done.after))
    low, high = done.box(done.working.model.ids[was.part])
    if np.abs(np.array(was.normal)) @ (high - low) < THICKEST_M:
        assert now is None or now.part != was.part


@of(StandBehind)
def it_stands_square_behind_the_wall_and_sees_through_it(done: Done) -> None:
    only(done, "stand", "lens.cutting_plane")
    same((done.after.pose.pitch_deg, done.now.stand.roll_deg), (0.0, 0.0), abs=1e-6)
    seen = seen_in(done.before, *done.asked.pressed[0])
    level = np.array([*seen.normal[:2], 0.0]) / np.hypot(*seen.normal[:2])
    same(done.after.pose.forward, level, abs=1e-5)
    same((np.array(done.pressed) - done.after.pose.position) @ level, done.asked.distance_m, abs=1e-4)
    if done.was.stand.above_floor_m is None:
        same(done.after.pose.position[2], done.before.pose.position[2])


@of(CuttingLine)
def the_plane_stands_on_the_line(done: Done) -> None:
    size = max(1.0, *map(abs, (*done.asked.start, *done.asked.end)))
    for end in (done.asked.start, done.asked.end):
        same(beyond_plane(done, on_paper(done, end)), 0.0, abs=1e-6 * size)


@of(CuttingTo)
def the_plane_comes_to_the_place_as_it_is_turned(done: Done) -> None:
    same(done.after.cutting.normal, done.before.cutting.normal)
    same(beyond_plane(done, on_paper(done, (done.asked.x, done.asked.y))), 0.0, abs=1e-5)


@of(CuttingFlip)
def the_other_side_is_taken_away(done: Done) -> None:
    same(done.after.cutting.normal, -np.array(done.before.cutting.normal))
    same(beyond_plane(done, np.array(done.before.cutting.point)), 0.0)
