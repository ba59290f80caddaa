"""Which is which: sides of a trimmed frame, plan and section, the stand-in that moved, the wall one faces."""

import numpy as np
import pytest
from tests.conftest import set_of, slab

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.constraints.follow_aim import place_in_frame
from zevlo.core.constraints.stand_in_moved import moved_along, paired
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.placing_habits import Habits
from zevlo.core.framing.suggested_stands import suggested_stands
from zevlo.core.instruments.focus import FocusOnPaper
from zevlo.core.optics.back import fit_back
from zevlo.core.scene.places.levels import Level, Room
from zevlo.core.scene.stand_ins.made import Figure
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, FollowAim, Shot, Stand, Trim
from zevlo.core.stand.pose import resolve

EDGES = {"left": (0, 1), "right": (1, -1), "bottom": (2, 1), "top": (3, -1)}


@pytest.mark.parametrize("side", Trim.model_fields)
def test_what_is_trimmed_off_one_side_moves_that_edge_inwards_and_no_other(side):
    whole = fit_back(Back(output_px=(1000, 500)))
    cut = fit_back(Back(output_px=(1000, 500), trim=Trim(**{side: 0.25})))
    before, after = ([one.left, one.right, one.bottom, one.top] for one in (whole, cut))
    which, inwards = EDGES[side]
    size = whole.whole_mm[0 if side in ("left", "right") else 1]
    wanted = list(before)
    wanted[which] += inwards * 0.25 * size
    assert after == pytest.approx(wanted)


def test_focus_on_paper_is_the_depth_of_that_place_in_each_drawing():
    """A stand at (1, 2, 1.5) that looks north: 3 m ahead is (1, 5) in plan, and (3, 1.5) in the section along it."""
    shot = Shot(stand=Stand(position=(1, 2, 1.5), aim=(1, 9, 1.5)))
    working = WorkingSet(set_of(slab((-9, -9, -1), (9, 12, 0))))
    in_plan = apply_gesture(shot, FocusOnPaper(drawing="plan", x=4.0, y=5.0), working)
    assert in_plan.focus.distance_m == pytest.approx(3.0), "along the lens axis, whatever lies to its side"
    in_section = apply_gesture(shot, FocusOnPaper(drawing="section", x=3.0, y=0.4), working)
    assert in_section.focus.distance_m == pytest.approx(3.0), "along the lens axis, however high"
    pitched = Shot(stand=Stand(position=(1, 2, 1.5), aim=(1, 5, 4.5)))
    in_section = apply_gesture(pitched, FocusOnPaper(drawing="section", x=3.0, y=4.5), working)
    assert in_section.focus.distance_m == pytest.approx(3.0 * np.sqrt(2.0))


def test_only_shots_that_follow_the_stand_in_that_moved_go_along():
    anna, bert = Figure(name="Anna", at=(0, 5, 0)), Figure(name="Bert", at=(2, 5, 0))
    pairs = paired([anna, bert], [anna, bert.model_copy(update={"at": (3.0, 6.0, 0.0)})])
    assert [(before.name, after.at) for before, after in pairs] == [("Bert", (3.0, 6.0, 0.0))]

    def following(one, point):
        return Shot(stand=Stand(follow=FollowAim(part=one.part_id, point=point, at=(0.5, 0.5))))

    of_anna, of_bert = following(anna, (0, 5, 1.6)), following(bert, (2, 5, 1.6))
    assert moved_along(of_anna, pairs) == of_anna
    gone = moved_along(of_bert, pairs)
    assert gone.stand.follow.point == pytest.approx((3.0, 6.0, 1.6))
    assert gone.stand.position == of_bert.stand.position
    assert place_in_frame(camera_of(gone), gone.stand.follow.point) == pytest.approx((0.5, 0.5))


@pytest.mark.parametrize("turned", [False, True], ids=["anticlockwise", "clockwise"])
@pytest.mark.parametrize(("size", "headings"), [((8.0, 4.0), {0.0, 180.0}), ((3.0, 7.0), {90.0, 270.0})])
def test_square_on_faces_the_middle_of_each_long_wall_from_inside(size, headings, turned):
    """In an empty oblong room both long walls are faced, whichever way round its outline is told."""
    w, d = size
    working = WorkingSet(
        set_of(slab((0, 0, -0.2), (w, d, 0)), slab((-0.2, -0.2, 0), (0, d + 0.2, 2.7)), slab((w, -0.2, 0), (w + 0.2, d + 0.2, 2.7)),
               slab((0, -0.2, 0), (w, 0, 2.7)), slab((0, d, 0), (w, d + 0.2, 2.7)), slab((0, 0, 2.7), (w, d, 2.9)))
    )  # fmt: skip
    outline = ((0, 0), (w, 0), (w, d), (0, d))
    room = Room(name="R", level="G", outline=outline[::-1] if turned else outline)
    found = [
        one for one in suggested_stands(room, Level(name="G", floor_m=0), working, Habits()) if one.what == "square on"
    ]
    poses = [resolve(one.stand) for one in found]
    assert {round(pose.heading_deg) % 360 for pose in poses} == headings
    for one, pose in zip(found, poses, strict=True):
        wall = {0: (w / 2, d), 180: (w / 2, 0), 90: (w, d / 2), 270: (0, d / 2)}[round(pose.heading_deg) % 360]
        assert one.stand.aim[:2] == pytest.approx(wall, abs=1e-6)
        assert pose.aim_distance == pytest.approx(min(size) - 0.45), (
            "as far back as a tripod stands before the wall behind"
        )
        assert f"{max(size):.1f} m wall" in one.words


def test_a_corner_stand_looks_along_the_bisector_of_its_corner():
    working = WorkingSet(set_of(slab((0, 0, -0.2), (5, 5, 0)), slab((0, 0, 2.7), (5, 5, 2.9))))
    room = Room(name="R", level="G", outline=((0, 0), (5, 0), (5, 5), (0, 5)))
    found = [
        one for one in suggested_stands(room, Level(name="G", floor_m=0), working, Habits()) if one.what == "corner"
    ]
    assert {round(resolve(one.stand).heading_deg) for one in found} == {45, 135, 225, 315}
    from_corner = min(float(np.hypot(*one.stand.position[:2])) for one in found)
    assert from_corner == pytest.approx(0.45 * np.sqrt(2.0), abs=1e-6), "0.45 m from both walls"
