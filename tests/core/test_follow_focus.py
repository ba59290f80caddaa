"""Follow focus holds what it was put on; probes lie where they were pinned; both go along and say when they cannot."""

import numpy as np
import pytest
from tests.conftest import set_of, slab

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.constraints.settling import apply_edit
from zevlo.core.constraints.stand_in_moved import moved_along
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus import (
    FocusTo,
    FollowFocusPart,
    FollowFocusSeen,
    LetFocusGo,
    PartSharp,
    PinProbe,
    ProbeAway,
    StopByBracket,
    StopTo,
)
from zevlo.core.instruments.left_out.gestures import LeaveOut
from zevlo.core.instruments.movements.focus_plane import TurnLens
from zevlo.core.instruments.stand.looking import Walk
from zevlo.core.instruments.stand.placing import Face, StandTo
from zevlo.core.optics.barrel import barrel
from zevlo.core.refused import Refused
from zevlo.core.scene.stand_ins.made import Figure
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Focus, Lens, Shot, Stand
from zevlo.core.shot.patch import ShotPatch, patched

VASE, SCREEN = "Part 1", "Part 2"
SET = set_of(slab((-9, -9, -1), (9, 9, 0)), slab((-0.2, 3, 0), (0.2, 3.4, 1.4)), slab((2, 1, 0), (2.1, 4, 2.4)))
WORKING = WorkingSet(SET)
SHOT = Shot(
    stand=Stand(position=(0, -1, 1.2), aim=(0, 4, 1.0)), lens=Lens(focal_length_mm=50), focus=Focus(distance_m=3)
)


def blur_at(shot, point):
    probed = shot.focus.model_copy(update={"probes": (tuple(point),)})
    return solve(shot.with_groups(focus=probed)).focus.probes[0].blur_px


@pytest.mark.parametrize("where", ["nearest", "middle"])
def test_focus_is_kept_on_a_part_wherever_the_camera_goes(where):
    shot = apply_gesture(SHOT, FollowFocusPart(part=VASE, where=where), WORKING)
    for gesture in (Walk(ahead=1.0), Walk(right=0.8), Face(pitch_deg=-9), TurnLens(tilt_deg=3.0), StopTo(f_number=2.0)):
        shot = apply_gesture(shot, gesture, WORKING)
        point = shot.focus.follow.point
        assert blur_at(shot, point) == pytest.approx(0, abs=1e-6)
        if where == "middle":
            assert point == pytest.approx((0, 3.2, 0.7))
        else:
            corners = SET.vertices[SET.faces[SET.parts[1].first_face :][: SET.parts[1].face_count]].reshape(-1, 3)
            places = camera_of(shot).places(corners)
            depth = camera_of(shot).places(np.array([point])).depth[0]
            assert depth <= places.depth[places.in_frame].min(initial=np.inf) + 1e-9
            assert depth >= places.depth.min() - 1e-9
    assert solve(shot, WORKING).focus.follows.words == "kept sharp"


def test_a_hand_that_focuses_lets_go():
    shot = apply_gesture(SHOT, FollowFocusSeen(x=0.5, y=0.5), WORKING)
    assert shot.focus.follow.part == VASE
    assert apply_gesture(shot, FocusTo(distance_m=2.0), WORKING).focus.follow is None
    assert apply_gesture(shot, LetFocusGo(), WORKING).focus == shot.focus.model_copy(update={"follow": None})
    written = apply_edit(shot, patched(shot, ShotPatch.model_validate({"focus": {"distance_m": 2.2}})))
    assert (written.focus.follow, written.focus.distance_m) == (None, 2.2)
    moved = apply_edit(
        shot, patched(shot, ShotPatch.model_validate({"stand": {"position": [0, -2, 1.2], "aim": [0, 3, 1.0]}}))
    )
    assert blur_at(moved, shot.focus.follow.point) == pytest.approx(0, abs=1e-6)


def test_it_says_why_it_cannot_be_kept_sharp():
    shot = apply_gesture(SHOT, FollowFocusPart(part=VASE), WORKING)

    def says(other, working=WORKING):
        return solve(other, working).focus.follows.words

    turned = apply_gesture(shot, Face(heading_deg=180.0), WORKING)
    assert says(turned) == "behind the camera, or too near"
    assert turned.focus.distance_m == shot.focus.distance_m, "it stays as it was"
    assert says(apply_gesture(shot, Face(heading_deg=40.0), WORKING)) == "outside the frame"
    assert says(apply_gesture(shot, LeaveOut(part=VASE), WORKING)) == "left out of this shot"
    middle = apply_gesture(shot, FollowFocusPart(part=VASE, where="middle"), WORKING)
    behind = apply_gesture(
        apply_gesture(middle, StandTo(x=5, y=3.2), WORKING), Face(heading_deg=270, pitch_deg=0), WORKING
    )
    assert says(behind) == "hidden by something before it"
    assert says(apply_gesture(behind, LeaveOut(part=SCREEN), WORKING)) == "kept sharp"
    gone = shot.with_groups(
        focus=shot.focus.model_copy(update={"follow": shot.focus.follow.model_copy(update={"part": "Elsewhere"})})
    )
    assert says(gone) == "not in the set any more"
    for gesture, why in (
        (FollowFocusPart(part="Nobody"), "no such part"), (FollowFocusSeen(x=0.5, y=1.0), "only sky"),
        (PinProbe(x=0.5, y=1.0), "only sky"), (ProbeAway(n=3), "not there any more"), (PartSharp(part="Nobody"), "no such part"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=why):
            apply_gesture(SHOT.with_groups(stand=Stand(position=(0, -1, 1.2), aim=(0, 4, 2.5))), gesture, WORKING)
    with pytest.raises(Refused, match="behind the camera"):
        apply_gesture(turned, FollowFocusPart(part=VASE), WORKING)


def test_focus_and_probes_go_along_with_a_stand_in():
    before = Figure(id="f", name="Standing figure", at=(0.0, 3.0, 0.0))
    after = before.model_copy(update={"at": (1.0, 4.0, 0.0)})
    on = {"part": before.part_id, "point": (0.1, 3.0, 1.6)}
    pinned = ({"part": before.part_id, "point": (0.0, 3.0, 1.0)}, {"part": VASE, "point": (0, 3, 1)}, (0.5, 2.0, 1.0))
    shot = SHOT.with_groups(focus=Focus(distance_m=4, follow=on, probes=pinned))
    moved = moved_along(shot, [(before, after)])
    assert moved.focus.follow.point == pytest.approx((1.1, 4.0, 1.6))
    assert [moved.focus.probed[n] for n in range(3)] == [pytest.approx(p) for p in ((1, 4, 1), (0, 3, 1), (0.5, 2, 1))]
    assert blur_at(moved, moved.focus.follow.point) == pytest.approx(0, abs=1e-6)


def test_probes_are_pinned_told_and_taken_away():
    shot = apply_gesture(apply_gesture(SHOT, PinProbe(x=0.5, y=0.5), WORKING), PinProbe(x=0.15, y=0.1), WORKING)
    assert [probe.part for probe in shot.focus.probes] == [VASE, "Part 0"]
    wide = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": 1.4, "distance_m": 4.0}))
    sheet = solve(wide, WORKING).focus.probes
    assert sheet[0].words == "sharp"
    assert sheet[1].words.endswith("behind what is sharp")
    assert sheet[1].blur_px > sheet[0].blur_px
    turned = solve(apply_gesture(wide, Face(heading_deg=180), WORKING)).focus.probes
    assert {probe.words for probe in turned} == {"behind the camera"}
    assert apply_gesture(shot, ProbeAway(n=0), WORKING).focus.probes == shot.focus.probes[1:]


def test_a_part_is_sharp_all_over():
    shot = apply_gesture(SHOT, PartSharp(part=VASE), WORKING)
    corners = SET.vertices[SET.faces[SET.parts[1].first_face :][: SET.parts[1].face_count]].reshape(-1, 3)
    assert max(blur_at(shot, corner) for corner in np.unique(corners, axis=0)) <= 1.5 * (1 + 1e-9)


def test_a_bracket_is_pulled_to_a_stop():
    sheet = solve(SHOT).focus
    for mark in sheet.barrel.stops:
        pulled = apply_gesture(SHOT, StopByBracket(at=mark.at), WORKING)
        assert solve(pulled).focus.stop == f"f/{mark.label}"
        assert solve(pulled).exposure.ev100 == pytest.approx(solve(SHOT).exposure.ev100)
    again = barrel(50, 11.0, sheet.blur_limit_mm, 3000)
    assert apply_gesture(SHOT, StopByBracket(at=again.sharp_from_at), WORKING).focus.f_number == pytest.approx(
        11.3137, abs=1e-3
    )
    with pytest.raises(Refused, match="choose a stop"):
        apply_gesture(apply_gesture(SHOT, StopTo(f_number=None), WORKING), StopByBracket(at=0.5), WORKING)
