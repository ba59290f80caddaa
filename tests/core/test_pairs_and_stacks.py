"""Pairs and stacks: what they are focused on, what they cover, and when they cannot be."""

from itertools import pairwise

import numpy as np
import pytest
from tests.conftest import set_of, slab

from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus.pairs import FocusPair, pair
from zevlo.core.instruments.focus.stacks import (
    MOST_PRINTED,
    StackAway,
    StackBetween,
    StackPartSeen,
    StackPoints,
    frames_of,
)
from zevlo.core.instruments.instrument import Scene
from zevlo.core.optics.stack import MOST_FRAMES, stack_mm
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand

NEAR, FAR = slab((-1.2, 1.8, 0), (-0.4, 1.9, 1.2)), slab((0.4, 4.2, 0), (1.4, 4.4, 1.2))
WORKING = WorkingSet(set_of(NEAR, FAR))
SHOT = Shot(
    name="Two slabs", stand=Stand(position=(0, 0, 0.6), aim=(0, 4, 0.6)), lens=Lens(focal_length_mm=50), back=Back(output_px=(1500, 1000)),
    focus=Focus(distance_m=3, f_number=8, blur_limit={"mm": 0.03}),
)  # fmt: skip
LEFT, RIGHT = (0.15, 0.45), (0.8, 0.5)


def blur(f, n, u, d):
    """From the thin lens (Ray, Applied Photographic Optics, from memory)."""
    return f**2 * np.abs(d - u) / (n * d * (u - f))


def test_zones_of_a_stack_overlap_as_asked_and_leave_no_gap():
    """Two thousand random stacks: ends of each zone from the thin lens formula, solved for the distance by bisection."""
    rng, checked = np.random.default_rng(5), 0
    for _ in range(2000):
        f, n, limit = rng.uniform(14, 120), 2 ** rng.uniform(1, 5), 10 ** rng.uniform(-2.5, -1.3)
        near = f * 10 ** rng.uniform(0.3, 1.7)
        far, overlap = near * 10 ** rng.uniform(0.01, 0.4), rng.uniform(0, 0.6)
        distances = np.array(stack_mm(f, n, limit, near, far, overlap))
        if len(distances) == MOST_FRAMES or distances[-1] > 9e6:
            continue  # more than anybody takes, or deep enough at infinity
        checked += 1
        zones = []
        for u in distances:
            low, high = u / 1000, u * (1 - 1e-12)
            for _ in range(70):
                middle = (low + high) / 2
                low, high = (middle, high) if blur(f, n, u, middle) > limit else (low, middle)
            begins = 1 / high
            zones.append((begins, 2 / u - begins))
        begins, ends = np.array(zones).T
        assert begins[0] == pytest.approx(1 / near, rel=1e-6)
        assert ends[-1] <= 1 / far * (1 + 1e-6)
        if len(distances) > 1:
            assert ends[-2] > 1 / far, "no picture too many"
            share = (begins[1:] - ends[:-1]) / (begins - ends)[1:]
            assert share == pytest.approx(overlap, abs=1e-4)
    assert checked > 1500


def test_a_stack_covers_what_is_pressed_and_is_told():
    planned = apply_gesture(SHOT, StackPoints(pressed_at=(RIGHT, LEFT), overlap=0.3), WORKING)
    assert (planned.focus.stack.from_m, planned.focus.stack.to_m) == pytest.approx((1.8, 4.2), abs=1e-6)
    sheet = solve(planned, WORKING).focus
    frames = frames_of(Framing(planned))
    assert sheet.stack_m == [frame.focus.distance_m for frame in frames]
    assert sheet.stack_m == sorted(sheet.stack_m)
    assert np.diff(sheet.stack_at).min() > 0
    assert sheet.stack_words.startswith(f"{len(frames)} pictures, focused from ")
    zones = [solve(frame).focus for frame in frames]
    assert zones[0].sharp_from_m == pytest.approx(1.8)
    assert zones[-1].sharp_to_m >= 4.2
    assert all(a.sharp_to_m > b.sharp_from_m for a, b in pairwise(zones))
    assert all(frame.focus.stack is None for frame in frames)
    part = apply_gesture(SHOT, StackPartSeen(x=RIGHT[0], y=RIGHT[1]), WORKING)
    assert (part.focus.stack.from_m, part.focus.stack.to_m) == pytest.approx((4.2, 4.4), abs=1e-6)
    assert apply_gesture(part, StackAway(), WORKING) == SHOT
    assert solve(SHOT).focus.stack_m == []
    assert solve(SHOT).focus.stack_words is None


def test_a_stack_to_infinity_and_one_under_a_tilted_lens():
    far = apply_gesture(SHOT, StackBetween(near_m=2.0), WORKING)
    assert solve(frames_of(Framing(far))[-1]).focus.sharp_to_m is None
    tilted = SHOT.with_groups(movements=Movements(tilt_deg=4.0))
    planned = apply_gesture(tilted, StackBetween(near_m=1.5, far_m=3.0), WORKING)
    zones = [solve(frame).focus for frame in frames_of(Framing(planned))]
    assert zones[0].sharp_from_m == pytest.approx(1.5)
    assert zones[-1].sharp_to_m is None or zones[-1].sharp_to_m >= 3.0


@pytest.mark.parametrize(
    ("shot", "gesture", "why"),
    [
        (SHOT, StackPoints(pressed_at=((0.5, 0.98),)), "only sky"),
        (SHOT, StackPartSeen(x=0.5, y=0.98), "only sky"),
        (SHOT, StackBetween(near_m=0.04, far_m=1), "no nearer than"),
        (SHOT, StackBetween(near_m=2, far_m=1), "before the far one"),
        (SHOT, StackPoints(), "by points, or by pressed_at"),
        (SHOT.with_groups(focus=Focus(f_number=None)), StackBetween(near_m=1, far_m=2), "needs a stop"),
        (SHOT.with_groups(lens=Lens(projection="parallel", scale_m=2)), StackBetween(near_m=1, far_m=2), "parallel"),
    ],
)
def test_what_cannot_be_a_stack_is_told_why(shot, gesture, why):
    with pytest.raises(Refused, match=why):
        apply_gesture(shot, gesture, WORKING)


def test_stacks_that_cannot_be_printed_are_told_why():
    many = SHOT.with_groups(focus=Focus(f_number=1.0, blur_limit={"mm": 0.001}, stack={"from_m": 0.6, "to_m": 3}))
    with pytest.raises(Refused, match=f"over {MOST_FRAMES} pictures, and at most {MOST_PRINTED}"):
        frames_of(Framing(many))
    breathing = SHOT.with_groups(lens=Lens(focus_breathing=True), focus=Focus(stack={"from_m": 1, "to_m": 3}))
    with pytest.raises(Refused, match="breathes"):
        frames_of(Framing(breathing))
    with pytest.raises(Refused, match="no stack"):
        frames_of(Framing(SHOT))
    with pytest.raises(ValueError, match="greater than from_m"):
        Focus(stack={"from_m": 2, "to_m": 2})


def test_a_pair_is_sharp_in_front_and_at_the_back_and_else_the_same():
    front, back = pair(Framing(SHOT, WORKING), FocusPair(pressed_at=(RIGHT, LEFT)), Scene(WORKING))
    assert (front.focus.distance_m, back.focus.distance_m) == pytest.approx((1.8, 4.2), abs=1e-6)
    assert (front.name, back.name) == ("Two slabs, front sharp", "Two slabs, back sharp")
    own = {"name": "-", "focus": SHOT.focus}
    assert front.model_copy(update=own) == back.model_copy(update=own) == SHOT.model_copy(update=own)
    front, back = pair(Framing(SHOT, WORKING), FocusPair(part_at=RIGHT), Scene(WORKING))
    assert (front.focus.distance_m, back.focus.distance_m) == pytest.approx((4.2, 4.4), abs=1e-6)
    long = SHOT.model_copy(update={"name": "x" * 120})
    assert len(pair(Framing(long, WORKING), FocusPair(part_at=RIGHT), Scene(WORKING))[0].name) == 120


def test_what_cannot_be_a_pair_is_told_why():
    with pytest.raises(Refused, match="equally far"):
        pair(Framing(SHOT, WORKING), FocusPair(pressed_at=(LEFT, LEFT)), Scene(WORKING))
    with pytest.raises(Refused, match="only sky"):
        pair(Framing(SHOT, WORKING), FocusPair(part_at=(0.5, 0.98)), Scene(WORKING))
    with pytest.raises(Refused, match="needs a stop"):
        pair(Framing(SHOT.with_groups(focus=Focus(f_number=None)), WORKING), FocusPair(part_at=RIGHT), Scene(WORKING))
    with pytest.raises(ValueError, match="pressed_at, or by part_at"):
        FocusPair()
