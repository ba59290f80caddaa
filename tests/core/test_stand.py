"""Stands: axes, headings, and moves that keep what they promise to keep."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zevlo.core.shot import Stand
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
