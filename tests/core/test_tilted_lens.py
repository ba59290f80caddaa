"""A lens turned before its film: the plane it is sharp on, the wedge about its hinge, and the hand that lays it."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.conftest import set_of, slab

from zevlo.core.camera.camera import surface_distances
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus import FocusAt, FocusOnPaper, SharpOnPaper
from zevlo.core.instruments.focus.probes import probed
from zevlo.core.instruments.lens.projection import ProjectionTo
from zevlo.core.instruments.lens.views import ViewFrom
from zevlo.core.instruments.movements.focus_plane import (
    FocusPlaneOn,
    FocusPlaneOnPaper,
    FocusPlaneThrough,
    HingeOnPaper,
    LensParallel,
    TurnLens,
)
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.tilt import hinge_m, lean_per_m, tilted, turned_to_look
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Focus, Lens, Movements, Shot, Stand

TABLE = WorkingSet(
    set_of(slab((-4, -4, -1), (4, 4, 0)), slab((-1, 1, 0.7), (1, 3.2, 0.75)), slab((-3, 3.6, 0), (3, 3.8, 2.6)))
)
SHOT = Shot(
    stand=Stand(position=(0, -0.4, 1.35), aim=(0, 2, 0.8)), lens=Lens(focal_length_mm=50),
    movements=Movements(tilt_limit_deg=None), focus=Focus(distance_m=2.4, f_number=5.6),
)  # fmt: skip


@st.composite
def turned(draw):
    return Shot(
        stand=Stand(position=(0, 0, 1.5), aim=(draw(st.floats(-1, 1)), 3, draw(st.floats(0.3, 2.5))), roll_deg=draw(st.floats(-20, 20))),
        lens=Lens(focal_length_mm=draw(st.floats(20, 150)), focus_breathing=draw(st.booleans())),
        movements=Movements(
            tilt_deg=draw(st.floats(-12, 12)), swing_deg=draw(st.floats(-12, 12)),
            rise_mm=draw(st.floats(-8, 8)), cross_mm=draw(st.floats(-8, 8)),
        ),
        focus=Focus(distance_m=draw(st.floats(0.6, 20)), f_number=draw(st.floats(1.4, 32))),
    )  # fmt: skip


@given(st.floats(-45, 45), st.floats(-45, 45))
def test_the_way_a_lens_looks_tells_its_tilt_and_swing(tilt, swing):
    lens = tilted(tilt, swing)
    axes = np.array([lens.right, lens.up, lens.axis])
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-12)
    assert turned_to_look(lens.axis) == pytest.approx((tilt, swing), abs=1e-9)
    if tilt > 0.1:
        assert hinge_m(50, lens)[1] == pytest.approx(-0.05 / np.sin(np.radians(tilt)))
    if swing > 0.1 and tilt == 0:
        assert hinge_m(50, lens)[0] == pytest.approx(-0.05 / np.sin(np.radians(swing)))


def image_of(shot, points):
    """Sharp images (n, 3), in mm of the camera's axes, of points (n, 3) there in metres: the thin lens along its own
    axis, and the ray through its middle."""
    axis, f = np.array(tilted(shot.movements.tilt_deg, shot.movements.swing_deg).axis), shot.lens.focal_length_mm
    depth = 1000.0 * points @ axis
    return -1000.0 * points * (f / (depth - f))[:, None]


@settings(max_examples=100, deadline=None)
@given(turned(), st.integers(0, 2**32 - 1))
def test_what_lies_on_the_plane_of_focus_has_its_image_on_the_film(shot, seed):
    camera, zone = camera_of(shot), Framing(shot).zone
    rays = camera.rays(np.random.default_rng(seed).random((30, 2)))
    far = surface_distances(zone.surfaces(camera)[:1], rays)[0]
    met = np.isfinite(far) & (far < 500)
    assume(met.any())
    points = camera.camera_space(rays.at(np.where(met, far, 1.0)))[met]
    film = image_of(shot, points)[:, 2]
    f, u = shot.lens.focal_length_mm, shot.focus.distance_m * 1000
    cosine = tilted(shot.movements.tilt_deg, shot.movements.swing_deg).cosine
    assert film == pytest.approx(-f * u / (u * cosine - f), rel=1e-6)


@settings(max_examples=100, deadline=None)
@given(turned(), st.integers(0, 2**32 - 1))
def test_the_wedge_ends_where_blur_reaches_its_limit(shot, seed):
    camera, cut = camera_of(shot), fit_back(shot.back)
    zone, law = Framing(shot).zone, Framing(shot).blur_law
    rays = camera.rays(np.random.default_rng(seed).random((30, 2)))
    for far, limit in zip(surface_distances(zone.surfaces(camera), rays), (0, 1, 1), strict=True):
        met = np.isfinite(far) & (far < 500)
        own = camera.camera_space(rays.at(np.where(met, far, 1.0)))[met]
        blur = law.px(own, own[:, 2])
        assert blur == pytest.approx(limit * Framing(shot).blur_limit_mm / cut.pixel_mm, rel=1e-6, abs=1e-6)


@settings(max_examples=60, deadline=None)
@given(turned())
def test_the_wedge_turns_about_the_hinge(shot):
    """All three planes pass the same line, level with the lens as the film has it."""
    camera, own = camera_of(shot), shot.movements
    assume(abs(own.tilt_deg) > 0.5)
    _, up = hinge_m(shot.lens.focal_length_mm, tilted(own.tilt_deg, own.swing_deg))
    on_hinge = camera.pose.position + up * camera.pose.up
    assert solve(shot).movements.hinge_up_m == pytest.approx(up)
    for plane in Framing(shot).zone.surfaces(camera):
        assert float(on_hinge @ plane.normal) == pytest.approx(plane.offset, abs=1e-9)


def laid_on(shot, points):
    """The shot with its focus laid on three points, or why not."""
    try:
        return apply_gesture(shot, FocusPlaneThrough(points=points.tolist()), TABLE)
    except Refused as reason:
        return reason


@settings(max_examples=100, deadline=None)
@given(
    st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0.05, 0.6), st.floats(1.0, 6.0)), min_size=3, max_size=3),
    st.floats(20, 100),
)
def test_the_focus_is_laid_on_three_points_or_it_is_said_why_not(places, focal):
    shot = SHOT.with_groups(lens=Lens(focal_length_mm=focal))
    camera = camera_of(shot)
    rays = camera.rays(np.array([place[:2] for place in places]))
    points = rays.at(np.array([place[2] for place in places]))
    laid = laid_on(shot, points)
    if isinstance(laid, Refused):
        given = ("turned", "one line", "through the lens", "does not cross", "nearer than", "behind the camera")
        assert any(word in str(laid) for word in given), laid
        assert laid.nearest is None or solve(laid.nearest).movements.turned_deg == pytest.approx(45, abs=1e-6)
        return
    pinned = laid.focus.model_copy(update={"probes": tuple(map(tuple, points))})
    probes = probed(Framing(laid.with_groups(focus=pinned)))
    assert [probe.blur_px for probe in probes] == pytest.approx([0, 0, 0], abs=1e-5)
    assert camera_of(laid).window == camera.window


def test_a_table_top_is_laid_sharp_by_pressing_it_or_three_places_on_it():
    pressed = apply_gesture(SHOT, FocusPlaneOn(x=0.5, y=0.45), TABLE)
    through = apply_gesture(SHOT, FocusPlaneThrough(pressed_at=((0.3, 0.3), (0.7, 0.3), (0.5, 0.5))), TABLE)
    for shot in (pressed, through):
        assert shot.movements.tilt_deg == pytest.approx(through.movements.tilt_deg, abs=1e-4)
        sheet = solve(shot, TABLE).movements
        assert sheet.focus_plane.startswith("level, hinge 0.6")
        assert sheet.hinge_m == pytest.approx(0.05 / np.sin(np.radians(sheet.turned_deg)))
    # The table is sharp from end to end at a stop at which it was not.
    ends = ((0.9, 1.05, 0.75), (-0.9, 3.1, 0.75))
    sharp = [
        solve(one.with_groups(focus=one.focus.model_copy(update={"probes": ends}))).focus.probes
        for one in (SHOT, pressed)
    ]
    assert [[probe.sharp for probe in one] for one in sharp] == [[False, False], [True, True]]
    assert apply_gesture(pressed, LensParallel(), TABLE).movements.tilt_deg == 0


def test_a_lens_goes_as_far_as_it_can_and_says_so():
    short = SHOT.with_groups(movements=Movements(tilt_limit_deg=2.0))
    with pytest.raises(Refused, match=r"would have to be turned 4\.\d°; it goes to 2°") as refused:
        apply_gesture(short, FocusPlaneOn(x=0.5, y=0.45), TABLE)
    assert solve(refused.value.nearest).movements.turned_deg == pytest.approx(2, abs=1e-6)
    assert solve(refused.value.nearest).movements.turned_ok
    assert not solve(short.with_groups(movements=Movements(tilt_deg=3, tilt_limit_deg=2.0))).movements.turned_ok
    for points, why in (
        (((0, 1, 0), (0, 2, 0), (0, 3, 0)), "one line"), (((0, -3, 0), (0, 2, 0), (1, 3, 0)), "behind the camera"),
        (((0, 1.6, 1.35), (0.5, 2.6, 1.35), (-0.5, 2.6, 1.35)), "through the lens"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=why):
            apply_gesture(
                SHOT.with_groups(stand=Stand(position=(0, -0.4, 1.35), aim=(0, 2, 1.35))),
                FocusPlaneThrough(points=points),
                TABLE,
            )
    for gesture in (FocusPlaneThrough(), FocusPlaneThrough(points=((0, 1, 0),) * 3, pressed_at=((0.5, 0.5),) * 3)):
        with pytest.raises(Refused, match="either points"):
            apply_gesture(SHOT, gesture, TABLE)
    with pytest.raises(Refused, match="only sky"):
        apply_gesture(
            SHOT.with_groups(stand=Stand(position=(0, 0, 1), aim=(0, 0.3, 3))), FocusPlaneOn(x=0.5, y=0.9), TABLE
        )


ROLLS = st.one_of(st.sampled_from([-90.0, 90.0, 180.0]), st.floats(-180, 180))


def on_paper(camera, drawing, beside, ahead):
    """A place of a drawing, metres ahead along the heading and above the lens or to its right, and where that is."""
    pose = camera.pose
    if drawing == "section":
        at = pose.position + ahead * pose.level_axis + np.array([0, 0, beside])
        return at, {"drawing": "section", "x": ahead, "y": float(at[2])}
    at = pose.position + ahead * pose.forward / np.hypot(*pose.forward[:2])
    at = at + beside * np.array([pose.level_axis[1], -pose.level_axis[0], 0])
    return at, {"drawing": "plan", "x": float(at[0]), "y": float(at[1])}


@settings(max_examples=120, deadline=None)
@given(
    turned(),
    ROLLS,
    st.floats(-0.9, 0.9),
    st.floats(1.2, 6),
    st.sampled_from(["section", "plan"]),
    st.sampled_from(["focus", "near", "far", "turn"]),
)
def test_the_planes_follow_a_hand_on_paper(shot, roll, beside, ahead, drawing, what):
    """However the camera is rolled and the lens turned: the plane passes the hand's place, and is drawn there."""
    shot = shot.with_groups(stand=shot.stand.model_copy(update={"roll_deg": roll}))
    at, paper = on_paper(camera_of(shot), drawing, beside, ahead)
    gesture = {"focus": FocusOnPaper, "turn": FocusPlaneOnPaper}.get(what)
    try:
        drawn = apply_gesture(shot, gesture(**paper) if gesture else SharpOnPaper(end=what, **paper), TABLE)
    except (Refused, ValueError):
        return
    zone = Framing(drawn).zone
    plane = zone.surfaces(camera_of(drawn))[{"near": 1, "far": 2}.get(what, 0)]
    assume(drawn.focus.distance_m < 9e3)
    if drawing == "section" or zone.lean != (0.0, 0.0):
        assert float(at @ plane.normal) == pytest.approx(plane.offset, abs=1e-6 * max(1.0, abs(plane.offset)))
    sight = getattr(solve(drawn, TABLE).drawings, drawing)
    line = np.array(getattr(sight, what if what != "turn" else "focus") or ()).reshape(-1, 2)
    if len(line) == 2 and np.linalg.norm(line[1] - line[0]) > 0.1:
        direction, to = line[1] - line[0], np.array([paper["x"], paper["y"]]) - line[0]
        assert abs(direction[0] * to[1] - direction[1] * to[0]) / np.linalg.norm(direction) < 0.005 * max(
            1.0, np.linalg.norm(to)
        )


@settings(max_examples=40, deadline=None)
@given(turned(), ROLLS, st.sampled_from(["section", "plan"]))
def test_the_hinge_is_drawn_where_its_line_crosses_the_drawing(shot, roll, drawing):
    """Where no plane of the zone turns: it is on all of them, in the plane of the lens."""
    shot = shot.with_groups(stand=shot.stand.model_copy(update={"roll_deg": roll}))
    hinge = getattr(solve(shot, TABLE).drawings, drawing).hinge
    assume(hinge is not None and np.abs(hinge).max() < 50)
    camera = camera_of(shot)
    pose = camera.pose
    side = np.array([pose.level_axis[1], -pose.level_axis[0], 0.0])
    away = np.array(hinge) - (np.array([0, pose.position[2]]) if drawing == "section" else pose.position[:2])
    at = away[0] * pose.level_axis + away[1] * np.array([0, 0, 1]) if drawing == "section" else np.array([*away, 0.0])
    assert float(at @ (side if drawing == "section" else pose.forward * [1, 1, 0])) == pytest.approx(0, abs=1e-3)
    for plane in Framing(shot).zone.surfaces(camera):
        assert float((pose.position + at) @ plane.normal) == pytest.approx(plane.offset, abs=1e-3)


def test_the_hinge_is_put_where_the_hand_puts_it():
    section = apply_gesture(SHOT, HingeOnPaper(drawing="section", x=0.0, y=0.5), TABLE)
    assert solve(section).movements.hinge_up_m == pytest.approx(-0.85 * np.cos(np.arctan(0.55 / 2.4)), rel=1e-6)
    plan = apply_gesture(section, HingeOnPaper(drawing="plan", x=-2.0, y=-0.4), TABLE)
    assert solve(plan).movements.hinge_right_m == pytest.approx(-2.0)
    assert plan.focus == SHOT.focus
    with pytest.raises(Refused, match="no nearer"):
        apply_gesture(SHOT, HingeOnPaper(drawing="section", x=0.0, y=1.34), TABLE)
    with pytest.raises(Refused, match="beside the lens axis"):
        apply_gesture(SHOT, FocusPlaneOnPaper(drawing="plan", x=0.0, y=2.0), TABLE)


def test_pressing_with_a_tilted_lens_makes_what_is_pressed_sharp():
    shot = apply_gesture(SHOT, TurnLens(tilt_deg=4.0, swing_deg=-3.0), TABLE)
    for x, y in ((0.2, 0.3), (0.8, 0.5), (0.5, 0.9)):
        sharp = apply_gesture(shot, FocusAt(x=x, y=y), TABLE)
        camera = camera_of(sharp)
        hit = TABLE.rays.first(camera.rays(np.array([(x, y)])).origins, camera.rays(np.array([(x, y)])).directions)
        point = camera.rays(np.array([(x, y)])).at(hit.distance)[0]
        with_probe = sharp.with_groups(focus=sharp.focus.model_copy(update={"probes": (tuple(point),)}))
        assert solve(with_probe).focus.probes[0].blur_px == pytest.approx(0, abs=1e-3)


def test_only_perspective_turns_its_lens():
    shot = apply_gesture(SHOT, TurnLens(tilt_deg=4.0), TABLE)
    for projection in ("fisheye", "cylindrical"):
        with pytest.raises(ValueError, match="belong to perspective"):
            shot.with_groups(lens=Lens(projection=projection))
        assert apply_gesture(shot, ProjectionTo(projection=projection), TABLE).movements.tilt_deg == 0
    for gesture in (ProjectionTo(projection="parallel"), ViewFrom(view="south")):
        flat = apply_gesture(shot, gesture, TABLE)
        assert flat.movements.tilt_deg == 0
        for turn in (TurnLens(tilt_deg=1.0), FocusPlaneOn(x=0.5, y=0.5), HingeOnPaper(drawing="plan", x=9, y=9)):
            with pytest.raises(Refused, match="Only a lens in perspective"):
                apply_gesture(flat, turn, TABLE)
    with pytest.raises(ValueError, match="turned like this"):
        SHOT.with_groups(lens=Lens(focal_length_mm=90), movements=Movements(tilt_deg=40), focus=Focus(distance_m=0.1))


def test_lean_is_the_lens_axis_over_its_focal_length():
    assert lean_per_m(50, tilted(5, 0)) == pytest.approx((0, -np.sin(np.radians(5)) / 0.05))
