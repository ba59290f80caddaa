"""Trimmed, widened, another back, cuts: what was taken hold of is where it was put, under every law of a lens."""

from itertools import product
from typing import get_args

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.core.test_camera import LAWS, shots

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.camera.on_paper import side_of_frame, side_of_wedge
from zevlo.core.framing.solve import solve
from zevlo.core.framing.what_if import what_if
from zevlo.core.instruments.back.crops import OFFERED_CROPS, CropAway, CropsAdd, CropSize
from zevlo.core.instruments.back.one_side import GivesWay, SideTo, with_taken_off
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.back.trimming import EdgeTo, WholeFrame
from zevlo.core.instruments.instrument import Scene
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.picture_size import PAPERS
from zevlo.core.refused import Refused
from zevlo.core.shot import Lens, Movements, Shot, Stand, Trim
from zevlo.core.shot.back import MOST_CROPS, Back

NO_CONTEXT = Scene(None)
GIVES = (None, *get_args(GivesWay))
SIDES = [(x, y) for x, y in product((None, "left", "right"), (None, "bottom", "top")) if x or y]


def directions_at(shot, places):
    rays = camera_of(shot).rays(np.asarray(places, dtype=float))
    return np.column_stack([rays.origins, rays.directions])[rays.sees]


def pulled_to(side, to, both, low, high):
    """Where both ends of the frame lie along an axis when a side is pulled and nothing stops it between low and high."""
    if side is None:
        return 0.0, 1.0
    first = side in ("left", "bottom")
    if both:
        out = float(np.clip(0.5 - to if first else to - 0.5, 0.0, min(0.5 - low, high - 0.5)))
        return 0.5 - out, 0.5 + out
    return (min(max(to, low), 1.0), 1.0) if first else (0.0, max(min(to, high), 0.0))


@pytest.mark.parametrize("law", LAWS)
@given(data=st.data())
@settings(max_examples=25, deadline=None)
def test_an_edge_lies_where_it_was_pulled(law, data):
    shot = data.draw(shots(law))
    (x, y), gives, both = data.draw(st.sampled_from(SIDES)), data.draw(st.sampled_from(GIVES)), data.draw(st.booleans())
    to = data.draw(st.floats(-0.4, 1.4)), data.draw(st.floats(-0.4, 1.4))
    try:
        after = EdgeTo(x=x, y=y, to=to, both=both, gives=gives).apply(Framing(shot), NO_CONTEXT)
    except (Refused, ValueError):
        assume(False)
    before, now, cut = camera_of(shot), camera_of(after), fit_back(shot.back)
    # A shorter lens draws the same on less film.
    shorter = now.law.film_per_metre(1.0) / before.law.film_per_metre(1.0)
    for axis, side in enumerate((x, y)):
        whole, size, start = cut.whole_mm[axis], cut.size_mm[axis], (cut.left, cut.bottom)[axis]
        low, high = (-np.inf, np.inf) if gives else ((-whole / 2 - start) / size, (whole / 2 - start) / size)
        old = (before.window.left, before.window.bottom)[axis]
        ends = [(now.window.left, now.window.right), (now.window.bottom, now.window.top)][axis]
        lies = [(end / shorter - old) / size for end in ends]
        assert lies == pytest.approx(
            pulled_to(side, to[axis], both, low, high), abs=1.6 * cut.pixel_mm / size / min(1.0, shorter)
        )
    if gives != "lens":
        assert after.lens.focal_length_mm == shot.lens.focal_length_mm
        assert fit_back(after.back).pixel_mm == pytest.approx(cut.pixel_mm)
    if gives != "back":
        assert (after.back.width_mm, after.back.output_px) == (shot.back.width_mm, shot.back.output_px)


@given(
    shot=shots("perspective"),
    corner=st.sampled_from([s for s in SIDES if all(s)]),
    to=st.tuples(st.floats(0.02, 1.3), st.floats(0.02, 1.3)),
    both=st.booleans(),
)
@settings(max_examples=100, deadline=None)
def test_a_ratio_that_is_held_is_held(shot, corner, to, both):
    wide, high = fit_back(shot.back).output_px
    after = EdgeTo(x=corner[0], y=corner[1], to=to, both=both, hold_ratio=True).apply(Framing(shot), NO_CONTEXT)
    now = fit_back(after.back).output_px
    assert abs(now[0] * high / wide - now[1]) <= 1.0 + high / wide
    assert WholeFrame().apply(Framing(after), NO_CONTEXT).back.trim == Trim()


@pytest.mark.parametrize("gives", get_args(GivesWay))
@pytest.mark.parametrize("law", LAWS)
@given(data=st.data())
@settings(max_examples=15, deadline=None)
def test_a_side_of_the_wedge_runs_where_it_was_put(law, gives, data):
    shot = data.draw(shots(law))
    shot = shot.with_groups(
        stand=Stand(position=(0, 0, 1), aim=(0, 5, 1), roll_deg=data.draw(st.sampled_from([0, 0, 90, -90, 180, 20]))),
        lens=shot.lens.model_copy(update={"far_m": None}),
        movements=Movements(cross_mm=shot.movements.cross_mm),
        back=shot.back.model_copy(update={"trim": Trim(left=shot.back.trim.left, right=shot.back.trim.right)}),
    )
    side, x, y = data.draw(st.sampled_from(["left", "right"])), data.draw(st.floats(-8, 8)), data.draw(st.floats(1, 9))
    try:
        after = SideTo(side=side, x=x, y=y, gives=gives).apply(Framing(shot), NO_CONTEXT)
    except (Refused, ValueError):
        assume(False)
    assume(min(fit_back(after.back).output_px) > 100)
    line = np.array(solve(after).drawings.plan.sides[0 if side == "left" else 1]).reshape(2, 2)
    direction, to = line[1] - line[0], np.array([x, y]) - line[0]
    off = abs(direction[0] * to[1] - direction[1] * to[0]) / np.linalg.norm(direction)
    a_pixel = fit_back(after.back).pixel_mm / camera_of(after).law.film_per_metre(max(np.hypot(x, y), 1.0))
    moved = side_of_frame(camera_of(shot), side)
    other = {"left": [1.0, 0.5], "right": [0.0, 0.5], "bottom": [0.5, 1.0], "top": [0.5, 0.0]}[moved]
    # From above a pixel turns a side the more the steeper it falls: of a rolled fisheye almost straight down.
    flat = max(
        (float(np.hypot(*direction[3:5])) for direction in directions_at(after, side_of_wedge(camera_of(after), side))),
        default=1.0,
    )
    assert off <= 2.4 * a_pixel / flat + 1e-3
    stays, close = (
        (directions_at(one, [other])[:, [3, 5]] for one in (shot, after)),
        fit_back(after.back).pixel_mm / Framing(after).film_distance_mm,
    )
    assert_same_direction(*stays, 4.0 * close)


def assert_same_direction(a, b, close):
    if len(a) and len(b):
        assert a == pytest.approx(b, abs=max(close, 1e-6))


OTHER_BACKS = [{"width_mm": 17.3, "height_mm": 13.0}, {"output_px": (1000, 1000)}, {"wide_px": 3000}, {"high_px": 500, "hold_ratio": True},
               {"fit": "height"}, {"fit": "width", "width_mm": 60}, {"paper_mm": PAPERS[0].size_mm, "bleed_mm": 3}]  # fmt: skip


@pytest.mark.parametrize("change", OTHER_BACKS, ids=str)
@pytest.mark.parametrize("law", LAWS)
@given(data=st.data())
@settings(max_examples=8, deadline=None)
def test_the_angle_stays_where_it_is_held(law, change, data):
    shot = data.draw(shots(law))
    shot = shot.with_groups(back=shot.back.model_copy(update={"trim": Trim()}))
    try:
        after = FocalKeep(what="angle", **change).apply(Framing(shot), NO_CONTEXT)
    except (Refused, ValueError):
        assume(False)
    upright = after.back.fit == "height"
    ends = [[0.5, 0.0], [0.5, 1.0]] if upright else [[0.0, 0.5], [1.0, 0.5]]
    before, now = camera_of(shot), camera_of(after)
    both_shift = directions_at(shot, ends), directions_at(after, ends)
    assert_same_direction(*both_shift, 1e-7)
    assert FocalKeep(**change).apply(Framing(shot), NO_CONTEXT).lens == shot.lens, "or the lens does"
    assert before.pose.heading_deg == now.pose.heading_deg


@pytest.mark.parametrize("what", get_args(FocalKeep.model_fields["what"].annotation))
@pytest.mark.parametrize("law", LAWS)
@given(data=st.data(), times=st.floats(1.0, 6.0))
@settings(max_examples=8, deadline=None)
def test_enlarging_is_tighter_whatever_stays(law, what, data, times):
    """Lens, stand, shifts and film as they were; what is in the middle of the frame is shown so many times as large."""
    shot = data.draw(shots(law))
    shot = shot.with_groups(back=shot.back.model_copy(update={"trim": Trim(), "enlarge": 1.0}))
    after = FocalKeep(what=what, enlarge=times).apply(Framing(shot), NO_CONTEXT)
    assert (after.lens, after.stand, after.movements) == (shot.lens, shot.stand, shot.movements)
    assert after.back == shot.back.model_copy(update={"enlarge": times})
    was, now = camera_of(shot).window, camera_of(after).window
    assert (was.width / now.width, was.height / now.height) == pytest.approx((times, times), rel=1e-9)
    other = {"width_mm": shot.back.width_mm * 1.3}
    both, alone = (FocalKeep(what=what, **other, **more) for more in ({"enlarge": times}, {}))
    try:
        framed = alone.apply(Framing(shot), NO_CONTEXT)
    except (Refused, ValueError):
        assume(False)
    assert both.apply(Framing(shot), NO_CONTEXT).lens == framed.lens, (
        "told together, the lens makes up for the film alone"
    )


def test_sizes_of_pictures():
    """300 to the inch: A4 is 3508 × 2480 (common practice, no source); with 3 mm of bleed all round 3579 × 2551."""
    back = Shot(back=Back(dpi=300))
    a4 = FocalKeep(paper_mm=PAPERS[0].size_mm).apply(Framing(back), NO_CONTEXT)
    assert a4.back.output_px == (3508, 2480)
    bled = FocalKeep(paper_mm=PAPERS[0].size_mm, bleed_mm=3).apply(Framing(back), NO_CONTEXT)
    assert bled.back.output_px == (3579, 2551)
    left, bottom, right, top = solve(bled).back.bleed
    assert (right - left) * 3579 == pytest.approx(3508, abs=1)
    assert (top - bottom) * 2551 == pytest.approx(2480, abs=1)
    assert solve(bled).back.print_mm == pytest.approx((303, 216), abs=0.1)
    assert solve(back).back.bleed is None
    assert FocalKeep(wide_px=3840, hold_ratio=True).apply(Framing(Shot()), NO_CONTEXT).back.output_px == (3840, 2160)
    assert FocalKeep(wide_px=3840).apply(Framing(Shot()), NO_CONTEXT).back.output_px == (3840, 1080)


def test_a_back_is_turned_like_a_camera():
    lying = Shot(back=Back(fit="width", trim=Trim(left=0.1, top=0.2)))
    upright = FocalKeep(turned=True).apply(Framing(lying), NO_CONTEXT)
    assert (upright.back.width_mm, upright.back.height_mm, upright.back.output_px, upright.back.fit) == (
        24,
        36,
        (1080, 1920),
        "height",
    )
    a, b = solve(lying).lens.angle_deg, solve(upright).lens.angle_deg
    assert (a.horizontal, a.vertical) == pytest.approx((b.vertical, b.horizontal))
    again = upright
    for _ in range(3):
        again = FocalKeep(turned=True).apply(Framing(again), NO_CONTEXT)
    assert again.back == lying.back, "four quarters are a whole turn"


def test_cuts_come_and_go():
    four = CropsAdd(crops=OFFERED_CROPS[:4]).apply(Framing(Shot()), NO_CONTEXT)
    assert [cut.name for cut in four.back.crops] == [cut.name for cut in OFFERED_CROPS[:4]]
    for offered in OFFERED_CROPS:
        wide, high = (int(side) for side in offered.name.split(":"))
        assert offered.output_px[0] * high == offered.output_px[1] * wide, "it is the ratio it is called"
    with pytest.raises(Refused, match="there already"):
        CropsAdd(crops=OFFERED_CROPS[:1]).apply(Framing(four), NO_CONTEXT)
    assert len(CropsAdd(crops=OFFERED_CROPS).apply(Framing(four), NO_CONTEXT).back.crops) == len(OFFERED_CROPS)
    sized = CropSize(name="1:1", output_px=(500, 1000)).apply(Framing(four), NO_CONTEXT)
    assert next(cut for cut in sized.back.crops if cut.name == "1:1").output_px == (500, 1000)
    assert "1:1" not in [cut.name for cut in CropAway(name="1:1").apply(Framing(four), NO_CONTEXT).back.crops]
    with pytest.raises(Refused, match="no crop “B”"):
        CropAway(name="B").apply(Framing(four), NO_CONTEXT)
    many = [{"name": str(n), "output_px": (10, 10)} for n in range(MOST_CROPS)]
    with pytest.raises(Refused, match=f"up to {MOST_CROPS}"):
        CropsAdd(crops=OFFERED_CROPS[:1]).apply(Framing(Shot(back=Back(crops=many))), NO_CONTEXT)


def test_what_would_come_is_told_before():
    shot = Shot(lens=Lens(focal_length_mm=35), movements=Movements(rise_mm=2))
    half = what_if(shot, FocalKeep(enlarge=2).apply(Framing(shot), NO_CONTEXT))
    assert half.outline.min(axis=0) == pytest.approx([0.25, 0.25])
    assert half.outline.max(axis=0) == pytest.approx([0.75, 0.75])
    assert half.words == "enlarged 1 → 2 times; across 54.4° → 28.8°; upright 32.3° → 16.5°"
    square = what_if(shot, FocalKeep(output_px=(1000, 1000), fit="height").apply(Framing(shot), NO_CONTEXT))
    assert square.words.endswith("across 54.4° → 37.8°; upright 32.3° → 37.8°")
    same = what_if(shot, FocalKeep(what="angle", width_mm=72, height_mm=48).apply(Framing(shot), NO_CONTEXT))
    assert same.words.endswith("across 54.4° stays; upright 32.3° stays")
    assert same.outline.min(axis=0) == pytest.approx([0, 0], abs=1e-9)


def test_what_is_trimmed_turns_with_the_back():
    """A camera turned a quarter to the left sees what its turned back sees upright."""
    shot = Shot(back=Back(output_px=(3000, 2000), trim=Trim(left=0.1, right=0.25, top=0.05, bottom=0.3)))
    turned = FocalKeep(turned=True).apply(Framing(shot), NO_CONTEXT)
    rolled = camera_of(shot.with_groups(stand=shot.stand.model_copy(update={"roll_deg": -90.0})))
    spans = []
    for camera in (rolled, camera_of(turned)):
        directions = camera.rays(np.array([(0, 0), (1, 0), (0, 1), (1, 1)], float)).directions
        spans.append([*(directions / directions[:, 1:2]).min(axis=0), *(directions / directions[:, 1:2]).max(axis=0)])
    assert spans[0] == pytest.approx(spans[1], abs=1e-9)


@pytest.mark.parametrize("taken", [(-301, 0, 0, 0), (0, -300, -7, 0), (-3, -8, 0, -5), (0, -77, 0, -1)])
def test_a_shorter_lens_keeps_the_middle_whatever_pixels_are_odd(taken):
    shot = Shot(back=Back(output_px=(1501, 1000)), movements=Movements(cross_mm=1.5, rise_mm=-2.0))
    after = with_taken_off(Framing(shot), taken, "lens")
    camera, cut = camera_of(shot), fit_back(shot.back)
    left, right, bottom, top = taken
    across = shot.movements.cross_mm + (left - right) / 2 * cut.pixel_mm
    up = shot.movements.rise_mm + (bottom - top) / 2 * cut.pixel_mm
    _, _, *direction, _ = camera.law.rays(np, np.float64(across), np.float64(up))
    now = camera_of(after)
    seen = now.rays(np.array([[0.5, 0.5]])).directions[0] @ np.stack([now.pose.right, now.pose.up, now.pose.forward]).T
    assert seen == pytest.approx(np.array(direction), abs=1e-9)
