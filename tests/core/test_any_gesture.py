"""Whatever a hand does, what comes out is a valid shot, or a refusal in words."""

from contextlib import suppress

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError
from tests.conftest import set_of, slab

from zevlo.core.follow import follow
from zevlo.core.gestures import Refused, ShotGesture
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.solve import solve

WORKING = WorkingSet(set_of(slab((-10, -10, -1), (10, 10, 0)), slab((-2, 4, 0), (2, 4.3, 3))))
GESTURE: TypeAdapter[ShotGesture] = TypeAdapter(ShotGesture)
place = st.floats(-30, 30)
share = st.floats(-1.5, 1.5)
GESTURES = st.one_of(
    st.fixed_dictionaries({"kind": st.sampled_from(["stand_to", "aim_to"]), "x": place, "y": place}),
    st.fixed_dictionaries({"kind": st.just("height_to"), "z": place}),
    st.fixed_dictionaries({"kind": st.just("height_to"), "above_floor": st.floats(-1, 20)}),
    st.fixed_dictionaries({"kind": st.just("face"), "heading_deg": st.floats(-720, 720), "pitch_deg": st.floats(-89, 89)}),
    st.fixed_dictionaries({"kind": st.sampled_from(["look", "shift", "orbit"]), "right": share, "up": share}),
    st.fixed_dictionaries({"kind": st.just("dolly"), "factor": st.floats(0.02, 50)}),
    st.fixed_dictionaries({"kind": st.just("walk"), "ahead": place, "right": place, "up": place}),
    st.fixed_dictionaries({"kind": st.just("angle_to"), "horizontal_deg": st.floats(1, 160)}),
    st.fixed_dictionaries({"kind": st.just("wedge_to"), "side": st.sampled_from(["left", "right"]), "x": place, "y": place}),
    st.fixed_dictionaries({"kind": st.just("focus_at"), "x": st.floats(0, 1), "y": st.floats(0, 1)}),
    st.fixed_dictionaries({"kind": st.just("focus_to"), "distance_m": st.floats(0.01, 1e6)}),
    st.fixed_dictionaries({"kind": st.just("focus_hyperfocal")}),
    st.fixed_dictionaries({"kind": st.just("focus_on_barrel"), "at": st.floats(-0.5, 1.5)}),
    st.fixed_dictionaries({"kind": st.just("focus_on_paper"), "drawing": st.sampled_from(["plan", "section"]), "x": place, "y": place}),
    st.fixed_dictionaries({"kind": st.just("sharp_on_paper"), "end": st.sampled_from(["near", "far"]), "drawing": st.sampled_from(["plan", "section"]), "x": place, "y": place}),
    st.fixed_dictionaries({"kind": st.just("sharp_to"), "end": st.sampled_from(["near", "far"]), "distance_m": st.floats(0.05, 1e4)}),
    st.fixed_dictionaries({"kind": st.just("stop_to"), "f_number": st.none() | st.floats(0.7, 128)}),
)  # fmt: skip


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(GESTURES, min_size=1, max_size=6))
def test_a_run_of_gestures_ends_in_a_valid_shot(moves):
    shot = Shot()
    for move in moves:
        with suppress(Refused, ValidationError):
            shot = follow(shot, GESTURE.validate_python(move), WORKING)
    assert Shot.model_validate(shot.as_json()) == shot
    sheet = solve(shot, WORKING)
    numbers = [*sheet.pose.view, *sheet.lens.projection, *sheet.drawings.plan.seen, *sheet.drawings.section.sharp]
    assert np.isfinite(numbers).all()
