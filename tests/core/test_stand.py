"""Stands: axes, headings, and moves that keep what they promise to keep."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zevlo.core.shot import Stand
from zevlo.core.stand import moves
from zevlo.core.stand.pose import compass_point, resolve, view_matrix

coordinate = st.floats(-50, 50)
points = st.tuples(coordinate, coordinate, coordinate)


@st.composite
def stands(draw):
    position, aim = draw(points), draw(points)
    assume(np.linalg.norm(np.subtract(aim, position)) > 0.01)
    assume(np.hypot(aim[0] - position[0], aim[1] - position[1]) > 0.01)
    return Stand(position=position, aim=aim, roll_deg=draw(st.floats(-180, 180)))


@given(stands())
def test_axes_are_right_handed_and_the_view_puts_the_aim_ahead(stand):
    pose = resolve(stand)
    axes = np.array([pose.right, pose.up, -pose.forward])
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-9)
    assert np.linalg.det(axes) == pytest.approx(1.0)
    seen = view_matrix(pose) @ [*stand.aim, 1.0]
    assert seen[:3] == pytest.approx([0, 0, -pose.aim_distance], abs=1e-6 * (1 + pose.aim_distance))


@pytest.mark.parametrize(("aim", "heading", "name"), [((0, 1, 0), 0, "N"), ((1, 0, 0), 90, "E"), ((0, -1, 0), 180, "S"), ((-1, 1, 0), 315, "NW")])  # fmt: skip
def test_heading_is_clockwise_from_north(aim, heading, name):
    pose = resolve(Stand(position=(0, 0, 0), aim=aim))
    assert pose.heading_deg == pytest.approx(heading)
    assert compass_point(pose.heading_deg) == name


def test_straight_down_and_up_have_north_as_up():
    down = resolve(Stand(position=(0, 0, 5), aim=(0, 0, 0)))
    assert down.up == pytest.approx([0, 1, 0])
    assert down.right == pytest.approx([1, 0, 0])
    assert resolve(Stand(position=(0, 0, 0), aim=(0, 0, 5))).up == pytest.approx([0, 1, 0])


@given(stands(), st.floats(-90, 90), st.floats(-30, 30))
def test_turn_keeps_the_stand_and_the_distance(stand, pan, tilt):
    before, after = resolve(stand), resolve(moves.turn(stand, pan, tilt))
    assert after.position == pytest.approx(before.position)
    assert after.aim_distance == pytest.approx(before.aim_distance)
    assert abs(after.pitch_deg) <= moves.MAX_PITCH_DEG + 1e-6


@given(stands(), st.floats(-90, 90), st.floats(-30, 30))
def test_orbit_keeps_the_aim_and_the_distance(stand, around, over):
    moved = moves.orbit(stand, around, over)
    assert moved.aim == stand.aim
    assert resolve(moved).aim_distance == pytest.approx(resolve(stand).aim_distance)


@given(stands(), st.floats(-3, 3), st.floats(-3, 3))
def test_parallel_moves_keep_the_direction(stand, a, b):
    before = resolve(stand)
    for moved in (moves.truck_and_pedestal(stand, a, b), moves.walk(stand, a, b), moves.put_height(stand, a)):
        assert resolve(moved).forward == pytest.approx(before.forward, abs=1e-8)
    assert moves.walk(stand, a, b).position[2] == pytest.approx(stand.position[2])


@given(stands(), st.floats(0.05, 20))
def test_dolly_never_reaches_the_aim(stand, factor):
    moved = moves.dolly(stand, factor)
    assert moved.aim == stand.aim
    assert resolve(moved).forward == pytest.approx(resolve(stand).forward, abs=1e-6)


def test_face_sets_exactly():
    pose = resolve(moves.face(Stand(), 123.4, -12.5))
    assert (pose.heading_deg, pose.pitch_deg) == pytest.approx((123.4, -12.5))
