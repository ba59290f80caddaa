"""Whatever a hand does, what comes out is a valid shot, or a refusal in words; and what is lifted off rules nothing."""

from contextlib import suppress

import numpy as np
import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError
from tests.conftest import set_of, slab
from tests.core.kinds import SHOT_GESTURES, gestures_of, kind_of, lenses

from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.uprights import can_shift
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.instrument import SheetContext
from zevlo.core.instruments.stand.sheet import compute_sheet
from zevlo.core.light.setup import LightSetup
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import light_set
from zevlo.core.scene.model.visible import Lifted, Visible
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, FollowAim, Lens, Movements, Shot, Stand, Trim
from zevlo.core.stand.pose import resolve

SET = set_of(
    slab((-10, -10, -1), (10, 10, 0)), slab((-2, 4, 0), (2, 4.3, 3)), slab((-6, -6, 2.9), (6, 6, 3.1)), slab((1, -4, 0), (2, -3, 0.9))
)  # fmt: skip
WORKING = WorkingSet(SET)
LIFTED = [
    WorkingSet(SET, Visible(Lifted(frozenset({2}), None)), WORKING),
    WorkingSet(SET, Visible(Lifted(frozenset({0, 3}), None)), WORKING),
    WorkingSet(SET, Visible(Lifted(frozenset({0, 1, 2, 3}), None)), WORKING),
    WorkingSet(SET, Visible(Lifted(frozenset(), 1.2)), WORKING),
]
LIT = light_set(WORKING, LightSetup())
GESTURE: TypeAdapter[ShotGesture] = TypeAdapter(ShotGesture)
PARTS = [*SET.ids, "Part 7", "Stand-ins/nobody"]
SHOTS = {
    "plain": Shot(),
    "pitched and rolled": Shot(stand=Stand(position=(1, -6, 1.7), aim=(0, 4, 4.0), roll_deg=17)),
    "shifted": Shot(stand=Stand(position=(-3, -5, 1.2), aim=(0, 4, 1.2)), movements=Movements(rise_mm=9, cross_mm=-6)),
    "trimmed": Shot(
        stand=Stand(position=(-3, -5, 5.2), aim=(0, 4, 1.0), above_floor_m=2.1),
        back=Back(trim=Trim(left=0.3, top=0.2), enlarge=1.5), lens=Lens(near_m=0.5, far_m=30),
    ),
    "following": Shot(stand=Stand(position=(0, -6, 1.6), aim=(0, 4, 1.6), follow=FollowAim(part="Part 1", point=(0, 4, 1.6)))),
    "straight down": Shot(stand=Stand(position=(0, 0, 2.0), aim=(0, 0, 0))),
    "left out": Shot(left_out=("Part 2",)),
}  # fmt: skip
EVERY = {
    **SHOTS,
    "coarse": Shot(back=Back(output_px=(7, 3000), fit="width", enlarge=2), focus=Focus(distance_m=1e4, f_number=22)),
    "turned lens": Shot(movements=Movements(tilt_deg=4, swing_deg=-2, rise_mm=5), stand=Stand(aim=(0, 3, 1), roll_deg=90)),
    **{f"{law}, breathing": Shot(lens=Lens(**{**told, "focus_breathing": True})) for law, told in lenses().items()},
}  # fmt: skip
"""Those whose answers are written down, and more of every law."""
ANY = st.one_of(*[gestures_of(kind, PARTS) for kind in SHOT_GESTURES])


def after(shot, move, working):
    """The shot after a gesture, or the words it is refused in."""
    try:
        return apply_gesture(shot, GESTURE.validate_python(move), working, LIT)
    except Refused as reason:
        return str(reason)
    except ValidationError as error:
        return str(error.errors()[0]["msg"])


def test_every_kind_of_gesture_is_tried():
    assert len(SHOT_GESTURES) >= 30
    assert len({kind_of(kind) for kind in SHOT_GESTURES}) == len(SHOT_GESTURES)


# With the lens tilted both ends of the sharp zone lay beyond infinity on its axis.
BEYOND_INFINITY = [
    {"kind": "focus_plane_on_paper", "drawing": "plan", "x": 0.0, "y": 0.0},
    {"kind": "focus_hyperfocal"},
    {"kind": "stand_to", "x": 0.0, "y": 0.0},
    {"kind": "sharp_on_paper", "end": "near", "drawing": "plan", "x": 0.0, "y": -9.0},
]


@settings(max_examples=200, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(sorted(EVERY)), st.lists(ANY, min_size=1, max_size=6))
@example("shifted", BEYOND_INFINITY)
def test_a_run_of_gestures_ends_in_a_valid_shot(name, moves):
    shot = EVERY[name]
    for move in moves:
        with suppress(Refused, ValidationError):
            shot = apply_gesture(shot, GESTURE.validate_python(move), WORKING, LIT)
    assert Shot.model_validate(shot.as_json()) == shot
    for working in (WORKING, *LIFTED):
        sheet = solve(shot, working)
        numbers = [
            *sheet.pose.view,
            *(sheet.lens.projection or ()),
            *sheet.drawings.plan.seen,
            *sheet.drawings.section.sharp,
        ]
        assert np.isfinite(numbers).all()


def pose_of(shot, working):
    """What is told of the stand, the floor under it too."""
    return compute_sheet(SheetContext(Framing(shot, working)))


@pytest.mark.parametrize("kind", SHOT_GESTURES, ids=kind_of)
def test_what_is_lifted_off_rules_no_gesture(kind):
    """The same shot comes of it, or it is refused because what is pressed on is not seen."""

    @settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(st.sampled_from(sorted(EVERY)), gestures_of(kind, PARTS))
    def same(name, move):
        whole = after(EVERY[name], move, WORKING)
        for working in LIFTED:
            bare = after(EVERY[name], move, working)
            assert bare == whole or "only lifted off while working" in bare
            if isinstance(bare, Shot):
                assert pose_of(bare, working) == pose_of(bare, WORKING)

    same()


@pytest.mark.parametrize("kind", SHOT_GESTURES, ids=kind_of)
def test_uprights_that_are_kept_true_undo_no_order(kind):
    """A gesture that says how the camera is turned does so all the same; after any other the camera keeps its pitch."""

    @settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(st.sampled_from(sorted(EVERY)), gestures_of(kind, PARTS))
    def kept_true(name, move):
        loose = EVERY[name]
        kept = loose.with_groups(movements=loose.movements.model_copy(update={"keep_uprights": True}))
        free, held = after(loose, move, WORKING), after(kept, move, WORKING)
        if not isinstance(held, Shot) or not isinstance(free, Shot):
            return
        if kind.sets_attitude or not can_shift(held):
            assert held.stand == free.stand
        else:
            assert held.stand.roll_deg == free.stand.roll_deg
            before, now = resolve(kept.stand).pitch_deg, resolve(held.stand).pitch_deg
            assert now == pytest.approx(before, abs=1e-5) or free.stand.aim == kept.stand.aim

    kept_true()


def pressing(kind, place):
    """A gesture of a kind that presses on a place in the frame, and on the same again where it takes several."""
    named = set(kind.model_fields)
    if "pressed_at" in named:
        how_many = 3 if kind_of(kind) == "focus_plane" else 2
        return {"kind": kind_of(kind), "pressed_at": [place] * how_many, **({"px": 2} if "px" in named else {})}
    return {"kind": kind_of(kind), "x": place[0], "y": place[1], **({"distance_m": 2} if "distance_m" in named else {})}


def presses(kind):
    """Whether a kind takes places in the frame: shares from 0 to 1 of both its sides."""
    x = kind.model_fields.get("x")
    return "pressed_at" in kind.model_fields or (
        x is not None and any(getattr(one, "le", None) == 1.0 for one in x.metadata)
    )


PRESSING = [kind for kind in SHOT_GESTURES if presses(kind)]


@pytest.mark.parametrize("kind", PRESSING, ids=kind_of)
def test_what_is_lifted_off_is_not_pressed_on(kind):
    """Whatever is pressed in a picture: what one looks through while working, and pictures show, is told to be there."""
    above = Shot(stand=Stand(position=(0, 0, 9), aim=(0.5, 0.5, 0)))
    move = pressing(kind, (0.5, 0.5))
    assert GESTURE.validate_python(move).pressed, "it says where it presses"
    assert "“Part 2” is in the way there" in after(above, move, LIFTED[0])


def test_nobody_focuses_on_what_is_lifted_off_and_not_seen():
    above = Shot(stand=Stand(position=(0, 0, 9), aim=(0.5, 0.5, 0)))
    press = {"kind": "focus_at", "x": 0.5, "y": 0.5}
    assert after(above, press, WORKING).focus.distance_m == pytest.approx(9.0 - 3.1, rel=0.02)
    assert "“Part 2” is in the way there" in after(above, press, LIFTED[0])
    without = above.model_copy(update={"left_out": ("Part 2",)})
    assert after(without, press, LIFTED[0]).focus.distance_m == pytest.approx(9.0, rel=0.02)
