"""Uprights made true and walls put square on: the middle of the frame stays, and there is a way back without loss."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.conftest import set_of, slab

from zevlo.core.camera.depth_of_field import sharp_in_middle
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.constraints.uprights import middle_ray, with_middle_on
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.framing.staleness import shown
from zevlo.core.instruments.movements.sheet import CIRCLES
from zevlo.core.instruments.movements.shifting import ShiftTo, Unshift
from zevlo.core.instruments.movements.straightening import SquareOn, Straighten, Unstraighten
from zevlo.core.instruments.stand.following import FollowSeen
from zevlo.core.instruments.stand.looking import Look, Walk
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim
from zevlo.core.stand.pose import direction, resolve

TOWER = WorkingSet(
    set_of(slab((-60, -60, -1), (60, 60, 0)), slab((-3, 18, 0), (3, 24, 16)), slab((-4, 30, 0), (9, 31, 5)))
)


def looking(heading_deg, pitch_deg, roll_deg=0.0, far=12.0):
    position = np.array([0.5, -4.0, 1.6])
    return Stand(
        position=tuple(position), aim=tuple(position + far * direction(heading_deg, pitch_deg)), roll_deg=roll_deg
    )


@st.composite
def pitched(draw):
    """Shots that lean, with shifts, trim, roll, breathing or distortion of their own."""
    side = st.floats(0, 0.3)
    shot = Shot(
        stand=looking(
            draw(st.floats(0, 360)),
            draw(st.floats(-35, 35).filter(lambda pitch: abs(pitch) > 0.01)),
            draw(st.sampled_from([0.0, 3.0, -40.0])),
        ),
        lens=Lens(
            focal_length_mm=draw(st.floats(15, 120)),
            focus_breathing=draw(st.booleans()),
            **draw(st.sampled_from([{}, {"distortion": {"k1": -0.05}}, {"projection": "cylindrical"}])),
        ),
        back=Back(trim=Trim(left=draw(side), right=draw(side), top=draw(side), bottom=draw(side))),
        movements=Movements(rise_mm=draw(st.floats(-6, 6)), cross_mm=draw(st.floats(-6, 6))),
        focus=Focus(distance_m=draw(st.floats(1, 30))),
    )
    assume(camera_of(shot).rays(np.array([(0.5, 0.5)])).sees[0])
    return shot


def same_shot(a, b, exact=1e-7):
    for key in ("rise_mm", "cross_mm"):
        assert getattr(a.movements, key) == pytest.approx(getattr(b.movements, key), abs=exact)
    assert a.movements.before_straightening == b.movements.before_straightening
    assert a.stand.aim == pytest.approx(b.stand.aim, abs=exact)
    assert a.stand.roll_deg == b.stand.roll_deg
    assert a.focus.distance_m == pytest.approx(b.focus.distance_m, rel=exact)


def followed(shot, gesture):
    """The shot after it, or the words it is refused in."""
    try:
        return shot if isinstance(shot, str) else apply_gesture(shot, gesture, TOWER)
    except Refused as reason:
        return str(reason)


@settings(max_examples=50, deadline=None)
@given(pitched(), st.floats(0.01, 1), st.floats(0, 1))
def test_the_middle_stays_and_the_way_back_loses_nothing(shot, amount, other):
    straight = followed(shot, Straighten(amount=amount))
    if isinstance(straight, str):
        assert "No film can be shifted that far" in straight
        return
    assert middle_ray(Framing(straight)) == pytest.approx(middle_ray(Framing(shot)), abs=1e-9)
    before, after = resolve(shot.stand), resolve(straight.stand)
    if shot.stand.roll_deg == 0.0:
        assert after.pitch_deg == pytest.approx((1 - amount) * before.pitch_deg, abs=1e-6)
    assert after.heading_deg == pytest.approx(before.heading_deg, abs=1e-6)
    if abs(before.pitch_deg) > 0.1:
        assert solve(straight, TOWER).movements.straightened == pytest.approx(amount, abs=1e-5)
    sharp = sharp_in_middle(Framing(shot))
    if sharp is not None:
        assert sharp_in_middle(Framing(straight)) == pytest.approx(sharp, abs=1e-6)
    # From one share to another it is the same as from none.
    same_shot(
        apply_gesture(straight, Straighten(amount=other), TOWER),
        apply_gesture(shot, Straighten(amount=other), TOWER) if other else shot,
    )
    same_shot(apply_gesture(straight, Straighten(amount=0), TOWER), shot)
    same_shot(apply_gesture(straight, Unstraighten(), TOWER), shot)


@settings(max_examples=30, deadline=None)
@given(pitched(), st.floats(-50, 50), st.booleans())
def test_a_wall_is_square_and_the_way_back_is_known(shot, away, straight_first):
    heading = np.radians(resolve(shot.stand).heading_deg + away)
    wall = (-np.sin(heading), -np.cos(heading), 0.1)
    first = followed(shot, Straighten()) if straight_first else shot
    squared = followed(first, SquareOn(normal=wall))
    both = followed(squared, Straighten())
    if isinstance(both, str):
        assert "No film can be shifted that far" in both
        return
    off = resolve(squared.stand).heading_deg - np.degrees(heading)
    assert (off + 180) % 360 - 180 == pytest.approx(0, abs=1e-6)
    assert middle_ray(Framing(squared)) == pytest.approx(middle_ray(Framing(shot)), abs=1e-9)
    assert resolve(both.stand).pitch_deg == pytest.approx(0, abs=1e-9)
    assert solve(both).movements.uprights == "true" or not shot.lens.distortion.none
    same_shot(apply_gesture(both, Unstraighten(), TOWER), shot)


@settings(max_examples=40, deadline=None)
@given(st.floats(0, 360), st.floats(-35, 35), st.floats(0, 1))
def test_what_was_not_shifted_aside_is_not_by_rounding_either(heading, pitch, amount):
    shot = Shot(stand=looking(heading, pitch), lens=Lens(focal_length_mm=28))
    assert apply_gesture(shot, Straighten(amount=amount), TOWER).movements.cross_mm == 0.0


def test_a_level_camera_that_was_given_rise_is_straightened_already():
    by_hand = Shot(stand=looking(0, 0), lens=Lens(focal_length_mm=24), movements=Movements(rise_mm=7.2))
    assert solve(by_hand).movements.straightened == 1.0
    assert resolve(apply_gesture(by_hand, Straighten(amount=0), TOWER).stand).pitch_deg == pytest.approx(
        16.699, abs=1e-3
    )
    same_shot(
        apply_gesture(apply_gesture(by_hand, Straighten(amount=0.3), TOWER), Straighten(), TOWER).with_groups(
            movements=by_hand.movements
        ),
        by_hand,
    )
    # Squared on and back, it is what it was: level, and risen.
    same_shot(
        apply_gesture(apply_gesture(by_hand, SquareOn(normal=(0.3, -1, 0)), TOWER), Unstraighten(), TOWER), by_hand
    )


def test_the_edges_of_a_wall_that_is_square_run_along_the_frame():
    shot = Shot(stand=looking(25, 6), lens=Lens(focal_length_mm=28))
    square = apply_gesture(apply_gesture(shot, Straighten(), TOWER), SquareOn(x=0.12, y=0.5), TOWER)
    corners = np.array([(x, 18.0, z) for x in (-3, 3) for z in (1, 15)])
    uv = camera_of(square).places(corners).uv
    assert uv[0, 0] == pytest.approx(uv[1, 0], abs=1e-9)
    assert uv[0, 1] == pytest.approx(uv[2, 1], abs=1e-9)


def test_what_cannot_be_straightened_is_refused_in_words():
    fisheye = Shot(stand=looking(0, 10), lens=Lens(projection="fisheye"))
    flat = Shot(stand=looking(0, 10), lens=Lens(projection="parallel", scale_m=8))
    for shot, why in ((fisheye, "fisheye bends"), (flat, "nothing converges")):
        for gesture in (Straighten(), SquareOn(normal=(0, -1, 0))):
            with pytest.raises(Refused, match=why):
                apply_gesture(shot, gesture, TOWER)
    shot = Shot(stand=looking(0, 10))
    for gesture, why in (
        (SquareOn(normal=(0, 0, 1)), "lies level"), (SquareOn(normal=(1, 0, 0)), "looks along"), (SquareOn(normal=(0, 1, 0)), "looks along"),
        (SquareOn(x=0.5, y=1.0), "only sky"), (Unstraighten(), "nothing to take back"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=why):
            apply_gesture(shot if "sky" not in why else Shot(stand=looking(180, 30)), gesture, TOWER)
    for places in ({}, {"x": 0.2}, {"x": 0.2, "y": 0.1, "normal": (0, 1, 0)}, {"normal": (0, 0, 0)}):
        with pytest.raises(ValueError, match=r"either normal, or both|must point somewhere"):
            SquareOn(**places)


def test_shifts_are_counted_in_film_in_the_frame_and_in_degrees():
    shot = Shot(lens=Lens(focal_length_mm=24), back=Back(output_px=(3000, 2000)))
    assert apply_gesture(shot, ShiftTo(rise=5), TOWER).movements.rise_mm == 5
    assert apply_gesture(shot, ShiftTo(cross=-0.25, counted="share"), TOWER).movements.cross_mm == pytest.approx(-9)
    risen = apply_gesture(shot, ShiftTo(rise=10, counted="deg"), TOWER)
    assert risen.movements.rise_mm == pytest.approx(4.232, abs=5e-4)
    sheet = solve(risen).movements
    assert (sheet.same_as_pitch_deg, sheet.rise_share) == pytest.approx((10, 4.232 / 24), abs=1e-4)
    assert apply_gesture(risen, Unshift(), TOWER).movements == Movements()
    for projection, angle in (("fisheye", 10), ("perspective", 89.5)):
        with pytest.raises(Refused, match="Degrees stand"):
            apply_gesture(shot.with_groups(lens=Lens(projection=projection)), ShiftTo(rise=angle, counted="deg"), TOWER)


@settings(max_examples=60, deadline=None)
@given(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3), st.sampled_from(["perspective", "cylindrical"]))
def test_uprights_that_are_kept_true_turn_pitch_into_rise(right, up, projection):
    shot = apply_gesture(Shot(stand=looking(0, 8), lens=Lens(projection=projection)), Straighten(), TOWER)
    kept = shot.with_groups(movements=shot.movements.model_copy(update={"keep_uprights": True}))
    gesture = Look(right=right, up=up)
    loose, held = apply_gesture(shot, gesture, TOWER), apply_gesture(kept, gesture, TOWER)
    assert resolve(held.stand).pitch_deg == pytest.approx(0, abs=1e-7)
    assert middle_ray(Framing(held)) == pytest.approx(middle_ray(Framing(loose)), abs=1e-9)
    assert abs(held.movements.rise_mm - shot.movements.rise_mm) > 0.01 or abs(up) < 0.01


def test_what_is_followed_keeps_its_place_where_uprights_are_kept_true():
    shot = apply_gesture(Shot(stand=looking(2, 12), lens=Lens(focal_length_mm=28)), Straighten(), TOWER)
    shot = apply_gesture(shot, FollowSeen(x=0.55, y=0.8), TOWER)
    shot = shot.with_groups(movements=shot.movements.model_copy(update={"keep_uprights": True}))
    walked = apply_gesture(shot, Walk(right=1.5, ahead=2.0), TOWER)
    place = camera_of(walked).places(np.array([shot.stand.follow.point])).uv[0]
    assert place == pytest.approx(shot.stand.follow.at, abs=1e-6)
    assert solve(walked, TOWER).movements.uprights == "true"
    assert walked.movements.rise_mm > shot.movements.rise_mm


@settings(max_examples=40, deadline=None)
@given(st.floats(3, 30), st.floats(18, 60), st.floats(-20, 20), st.sampled_from(CIRCLES[:4]), st.booleans())
def test_each_alternative_to_a_circle_that_is_too_small_leads_within_it(pitch, focal, cross_deg, circle, by_hand):
    movements = Movements(image_circle_mm=circle.diameter_mm)
    shot = Shot(stand=looking(cross_deg, pitch, far=20), lens=Lens(focal_length_mm=focal), movements=movements)
    if by_hand:
        rise = Movements(rise_mm=focal * np.tan(np.radians(pitch)), image_circle_mm=circle.diameter_mm)
        straight = shot.with_groups(stand=looking(cross_deg, 0, far=20), movements=rise)
    else:
        straight = apply_gesture(shot, Straighten(), TOWER)
    sheet = solve(straight, TOWER).movements
    assert not (sheet.circle_ok and sheet.alternatives)
    for remedy in sheet.alternatives:
        out = apply_gesture(straight, remedy.gesture, TOWER)
        found = solve(out, TOWER).movements
        assert found.circle_ok, remedy.words
        if remedy.gesture.kind == "straighten":
            assert remedy.cost == f"uprights at the sides lean {max(map(abs, found.lean_sides_deg)):.1f}°"
        else:
            assert found.uprights == "true"
        if remedy.gesture.kind in ("straighten", "enlarge_instead"):
            assert middle_ray(Framing(out)) == pytest.approx(middle_ray(Framing(straight)), abs=1e-9)
        if remedy.gesture.kind == "enlarge_instead":
            uv = np.random.default_rng(1).random((20, 2))
            assert camera_of(out).rays(uv).directions == pytest.approx(
                camera_of(straight).rays(uv).directions, abs=1e-9
            )


def test_the_alternatives_of_a_tower_name_what_they_cost():
    shot = Shot(stand=looking(0, 18), lens=Lens(focal_length_mm=24), movements=Movements(image_circle_mm=50.0))
    straight = apply_gesture(shot, Straighten(), TOWER)
    words = [f"{remedy.words}: {remedy.cost}" for remedy in solve(straight, TOWER).movements.alternatives]
    assert len(words) == 4, words
    costs = ("uprights at the sides lean", "% of the film is left", "a flatter view", "above the floor")
    assert all(cost in given for cost, given in zip(costs, words, strict=True)), words
    wide = straight.with_groups(movements=straight.movements.model_copy(update={"image_circle_mm": 67.0}))
    assert solve(wide, TOWER).movements.alternatives == []


def test_beyond_the_circle_nothing_is_drawn():
    inside = Shot(movements=Movements(rise_mm=6, image_circle_mm=60))
    outside = Shot(movements=Movements(rise_mm=20, image_circle_mm=60))
    assert solve(inside).lens.shade is None
    assert solve(outside).lens.shade is not None
    camera = camera_of(outside)
    uv = np.random.default_rng(4).random((4000, 2))
    film = np.hypot(*camera.film(uv).T)
    light = camera.light(uv)
    assert (light[film <= 30.0] == 1.0).all()
    assert (light[film >= 30.7] == 0.0).all()
    assert (film > 30.7).any()
    wider = [
        one.with_groups(movements=one.movements.model_copy(update={"image_circle_mm": 61.0}))
        for one in (inside, outside)
    ]
    assert [shown(one) == shown(was) for one, was in zip(wider, (inside, outside), strict=True)] == [True, False]
    sheet = solve(outside).movements
    assert (sheet.circle_ok, sheet.circle_left_mm < 0) == (False, True)
    flat = outside.with_groups(lens=Lens(projection="parallel", scale_m=9))
    assert solve(flat).movements.circle_ok
    assert solve(flat).lens.shade is None


def test_another_middle_is_refused_where_no_film_reaches():
    with pytest.raises(Refused, match="No film"):
        with_middle_on(Framing(Shot()), np.array([0.0, 0.0, 1.0]), 0.0, 0.0, None)
