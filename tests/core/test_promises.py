"""Every kind of gesture does what it says, over shots of every kind: rolled, shifted, tilted, trimmed, enlarged, bent."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.conftest import set_of, slab
from tests.core.kinds import SHOT_GESTURES, gestures_of, kind_of
from tests.core.promises import Done, all_promises
from tests.core.test_any_gesture import EVERY, GESTURE

from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.light.setup import LightSetup
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import light_set
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim
from zevlo.core.shot.back import Crop
from zevlo.core.shot.lens import Opening

WORKING = WorkingSet(
    set_of(
        slab((-10, -10, -1), (10, 10, 0)), slab((-2, 4, 0), (2, 4.3, 3)), slab((-6, -6, 2.9), (6, 6, 3.1)), slab((1, -4, 0), (2, -3, 0.9)),
        slab((2.5, -10, 0), (10, 10, 0.4)),
    )
)  # fmt: skip
"""Ground with a step up, a wall, a roof and a box."""
LIT = light_set(WORKING, LightSetup())
OTHERS = {
    "uprights kept": Shot(stand=Stand(position=(1, -6, 1.7), aim=(0, 4, 2.4)), movements=Movements(keep_uprights=True)),
    "rolled over": Shot(
        stand=Stand(position=(-1, -5, 1.9), aim=(0, 4, 1.1), roll_deg=-90), movements=Movements(rise_mm=4, cross_mm=-3),
        back=Back(trim=Trim(left=0.1, bottom=0.2), enlarge=1.2),
    ),
    "straightened": Shot(movements=Movements(rise_mm=6), stand=Stand(position=(2, -6, 1.6), aim=(0, 4, 1.6))),
    "opened": Shot(
        stand=Stand(position=(-3, -7, 1.6), aim=(0, 4, 1.2)), left_out=("Part 3",),
        lens=Lens(near_m=0.4, far_m=40, cutting_plane=Opening(point=(0, -6, 0), normal=(0.1, 1, 0))),
    ),
    "parallel": Shot(lens=Lens(projection="parallel", scale_m=7), stand=Stand(position=(-4, -8, 2.4), aim=(0, 4, 1), roll_deg=12)),
}  # fmt: skip
CROPS = (
    Crop(name="Page", output_px=(2100, 2970), size=0.8, at=(0.2, 0.5)),
    Crop(name="Square", output_px=(900, 900), size=0.4),
)


def with_more(shot):
    """The shot with crops, probes and a stack to take hold of."""
    focus = Focus.model_validate(
        {**shot.focus.model_dump(), "probes": ((0, 4, 1), (1, -4, 0.2)), "stack": {"from_m": 3, "to_m": 9}}
    )
    return shot.with_groups(back=shot.back.model_copy(update={"crops": CROPS}), focus=focus)


SHOTS = {name: with_more(shot) for name, shot in {**EVERY, **OTHERS}.items()}
NAMES = [*WORKING.model.ids, "Part 7", "Page", "Square"]
PROMISES = all_promises()
FEW = 4
"""Where a gesture of a kind is followed no oftener, more of them are tried."""


def followed(shot, move):
    """What came of a gesture; None where it was refused."""
    try:
        asked = GESTURE.validate_python(move)
        after = apply_gesture(shot, asked, WORKING, LIT)
    except (Refused, ValidationError):
        return None
    return Done(asked, Framing(shot, WORKING), Framing(after, WORKING))


@pytest.mark.parametrize("kind", SHOT_GESTURES, ids=kind_of)
def test_a_gesture_keeps_its_promises(kind):
    tried = []

    def kept(name, move):
        done = followed(SHOTS[name], move)
        if done is not None:
            tried.append(name)
            for promise in PROMISES[kind]:
                promise(done)

    for many in (60, 600):
        if len(tried) < FEW:
            # The same ones each time, so that nobody's run fails for what another run did not try.
            chosen = settings(
                max_examples=many, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck)
            )
            chosen(given(st.sampled_from(sorted(SHOTS)), gestures_of(kind, NAMES, reach=8.0))(kept))()
    assert tried, "none of the shots followed any"


def test_every_kind_promises_something():
    assert set(PROMISES) == set(SHOT_GESTURES)
