"""What the solvers find, against all there is: no wider third of a stop does it at any distance, nothing wanted is soft.

Blur is taken from the thin lens (Ray, Applied Photographic Optics, from memory): f²·|d - u| / (N·d·(u - f)).
"""

import numpy as np
import pytest

from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus.stop_solver import EverythingSharp, SharpBetween, SharpPoints, SoftWhileSharp
from zevlo.core.optics import focus as optics
from zevlo.core.optics.back import fit_back
from zevlo.core.refused import Refused
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand

NOTHING = WorkingSet(EMPTY)
CASES = 10_000
STOPS = 2.0 ** (np.arange(0, 37) / 6)


def blur(f, n, u, d):
    return f**2 * np.abs(d - u) / (n * d * (u - f))


def test_no_better_stop_exists_and_nothing_wanted_is_soft():
    """The formulas, over ten thousand cases, each against every third stop and 400 distances."""
    rng = np.random.default_rng(12)
    checked = 0
    for _ in range(CASES):
        f, limit = rng.uniform(14, 200), 10 ** rng.uniform(-2.5, -1.2)
        near = f * 10 ** rng.uniform(0.2, 2.2)
        far = near * 10 ** rng.uniform(0.02, 1.5)
        u = 2 / (1 / near + 1 / far)
        stop = optics.next_third_stop(optics.stop_reaching(f, limit, 1 / near - 1 / u, 1 / u))
        assert max(blur(f, stop, u, near), blur(f, stop, u, far)) <= limit * (1 + 1e-9)
        wider = stop / 2 ** (1 / 6)
        tried = np.geomspace(max(near, 1.001 * f), far, 400)
        assert (np.maximum(blur(f, wider, tried, near), blur(f, wider, tried, far)) > limit * (1 - 1e-9)).all()
        checked += 1
    assert checked == CASES


def shot(f, n=8.0, **more):
    return Shot(
        stand=Stand(position=(0, 0, 1.5), aim=(0, 4, 1.3)),
        lens=Lens(focal_length_mm=f),
        focus=Focus(distance_m=4, f_number=n),
        **more,
    )


def answered(one, gesture):
    """What comes of it, and whether that was refused: then the nearest there is."""
    try:
        return apply_gesture(one, gesture, NOTHING), False
    except Refused as reason:
        return reason.nearest, True


@pytest.mark.parametrize("tilt", [0.0, 4.0])
def test_points_are_sharp_and_no_wider_stop_makes_them(tilt):
    rng = np.random.default_rng(7)
    for _ in range(40):
        one = shot(rng.uniform(24, 90), movements=Movements(tilt_deg=tilt, swing_deg=-tilt / 3))
        points = np.column_stack([rng.uniform(-1, 1, 3), rng.uniform(2, 9, 3), rng.uniform(0.4, 2, 3)])
        found, refused = answered(one, SharpPoints(points=points.tolist()))
        if refused:
            assert found is None or found.focus.f_number == pytest.approx(64)
            assert found is None or probes_of(found, points).max() > blur_limit_px(found)
            continue
        assert probes_of(found, points).max() <= blur_limit_px(found) * (1 + 1e-9)
        if found.focus.f_number <= 1.0:
            continue
        wider = found.focus.f_number / 2 ** (1 / 6)
        for distance in found.focus.distance_m * np.geomspace(0.7, 1.4, 16):
            other = found.with_groups(
                focus=found.focus.model_copy(update={"f_number": wider, "distance_m": float(distance)})
            )
            assert probes_of(other, points).max() > blur_limit_px(found) * (1 - 1e-9)


def probes_of(one, points):
    probed = one.focus.model_copy(update={"probes": tuple(map(tuple, points.tolist()))})
    return np.array([probe.blur_px for probe in solve(one.with_groups(focus=probed)).focus.probes])


def blur_limit_px(one):
    cut = fit_back(one.back)
    return Framing(one).blur_limit_mm / cut.pixel_mm


def test_two_vases():
    """f = 50, c = .03: 1.8 and 4.2 m are sharp focused at 2.520 m, at f/13.495 and so at f/14, the next third."""
    own = shot(50).with_groups(back=Back(), focus=Focus(blur_limit={"mm": 0.03}))
    found = apply_gesture(own, SharpBetween(near_m=1.8, far_m=4.2), NOTHING)
    assert (found.focus.distance_m, found.focus.f_number) == pytest.approx((2.52, 2 ** (23 / 6)))
    sheet = solve(found)
    assert sheet.focus.stop == "f/14"
    assert sheet.focus.sharp_from_m <= 1.8
    assert sheet.focus.sharp_to_m >= 4.2
    # The shutter gave way, by as much.
    assert solve(found).exposure.ev100 == pytest.approx(solve(own).exposure.ev100)


def test_sharp_to_infinity_by_the_stop_or_by_the_nearest():
    wide = shot(28, 5.6).with_groups(focus=Focus(f_number=5.6, blur_limit={"mm": 0.03}))
    hyperfocal = apply_gesture(wide, EverythingSharp(), NOTHING)
    assert hyperfocal.focus.distance_m == pytest.approx(4.6947, abs=1e-4)
    assert solve(hyperfocal).focus.sharp_to_m is None
    assert solve(hyperfocal).focus.sharp_from_m == pytest.approx(4.6947 / 2, abs=1e-3)
    near = apply_gesture(wide, EverythingSharp(from_m=1.0), NOTHING)
    assert solve(near).focus.sharp_to_m is None
    assert solve(near).focus.sharp_from_m <= 1.0
    assert near.focus.f_number > 5.6
    with pytest.raises(Refused, match="Everything is sharp already"):
        apply_gesture(wide.with_groups(focus=Focus(f_number=None)), EverythingSharp(), NOTHING)
    with pytest.raises(Refused, match="In a parallel picture"):
        apply_gesture(wide.with_groups(lens=Lens(projection="parallel", scale_m=4)), EverythingSharp(from_m=1), NOTHING)


def test_one_is_soft_by_so_much_while_the_other_is_sharp():
    rng = np.random.default_rng(3)
    for _ in range(100):
        own = shot(rng.uniform(35, 135))
        sharp, soft = (
            (float(x), float(y), 1.3) for x, y in zip(rng.uniform(-1, 1, 2), rng.uniform(2, 9, 2), strict=True)
        )
        px = float(10 ** rng.uniform(0, 1.6))
        found, refused = answered(own, SoftWhileSharp(sharp=sharp, soft=soft, px=px))
        if refused:
            blur = probes_of(found, np.array([sharp, soft]))[1]
            assert found.focus.f_number == pytest.approx(1.0 if blur < px else 64.0)
            continue
        blurs = probes_of(found, np.array([sharp, soft]))
        assert blurs[0] == pytest.approx(0, abs=1e-6)
        assert blurs[1] >= px * (1 - 1e-9)
        stopped = found.with_groups(
            focus=found.focus.model_copy(update={"f_number": found.focus.f_number * 2 ** (1 / 6)})
        )
        assert probes_of(stopped, np.array([sharp, soft]))[1] < px


def test_what_cannot_be_is_said_and_the_nearest_is_one_press_away():
    with pytest.raises(Refused, match=r"That takes f/\d+, and the smallest stop is f/64") as refused:
        apply_gesture(shot(135), SharpBetween(near_m=1.2, far_m=30), NOTHING)
    nearest = refused.value.nearest
    sheet = solve(nearest).focus
    assert nearest.focus.f_number == pytest.approx(64)
    assert sheet.sharp_from_m > 1.2
    assert sheet.sharp_to_m < 30
    for gesture, why in ((SharpBetween(near_m=3, far_m=2), "before the far one"), (SharpBetween(near_m=0.04, far_m=0.05), "focuses no nearer"), (SharpPoints(points=[(0, -3, 1)]), "behind the camera"), (SharpPoints(), "told by points")):  # fmt: skip
        with pytest.raises(Refused, match=why):
            apply_gesture(shot(50), gesture, NOTHING)
    same = SoftWhileSharp(sharp=(0, 3, 1), soft=(0, 3, 1), px=2)
    with pytest.raises(Refused, match="equally far"):
        apply_gesture(shot(50), same, NOTHING)


def test_near_and_far_are_the_two_of_every_focus():
    """1/near + 1/far = 2/u along the axis, also where the lens is tilted."""
    for tilt in (0.0, 3.0, -7.0):
        sheet = solve(shot(50, 11, movements=Movements(tilt_deg=tilt))).focus
        assert 1 / sheet.sharp_from_m + 1 / sheet.sharp_to_m == pytest.approx(2 / 4)
