"""A set that is corrected takes every framing with it."""

import numpy as np
import pytest
from tests.core.test_differences_and_copies import PLANE

from zevlo.core.bases import Settings
from zevlo.core.camera.from_shot import camera_of
from zevlo.core.constraints.follow_aim import place_in_frame
from zevlo.core.constraints.set_moved import shot_moved
from zevlo.core.framing.solve import solve
from zevlo.core.scene.model.placing import Placing, corrected, dropped, transform_between
from zevlo.core.shot import Focus, FollowAim, Lens, Shot, Stand


@pytest.mark.parametrize(
    "lens", [Lens(far_m=50.0), Lens(far_m=50.0, projection="parallel", scale_m=6.0)], ids=lambda lens: lens.projection
)
@pytest.mark.parametrize("change", [{"metres_per_unit": 0.01}, {"turn_deg": 30.0}, {"up": "y"}, {"metres_per_unit": 2.0, "turn_deg": -90.0}])  # fmt: skip
def test_a_corrected_set_takes_every_framing_with_it(change, lens):
    """The same film sees the same points at the same places."""
    old = Placing(metres_per_unit=1.0, up="z", moved_m=(3.0, -2.0, 0.5))
    new = corrected(old, **change)
    matrix = transform_between(old, new)
    shot = Shot(stand=Stand(position=(1, 2, 1.6), aim=(4, 5, 1.2), roll_deg=3.0, follow=FollowAim(point=(3.5, 4.5, 1.0), at=(0.4, 0.5)),
                            above_floor_m=1.6), focus=Focus(distance_m=4.0, probes=((3, 4, 1), (4, 5, 0))), lens=lens)  # fmt: skip
    moved = shot_moved(shot, matrix)
    scale = np.cbrt(np.linalg.det(matrix[:3, :3]))
    for point in [(3, 4, 1), (5, 5.5, 2), (4, 5, 0)]:
        there = tuple((matrix[:3, :3] @ point + matrix[:3, 3]).tolist())
        before = place_in_frame(camera_of(shot), point)
        assert place_in_frame(camera_of(moved), there) == pytest.approx(before, abs=1e-7)
    assert moved.focus.distance_m == pytest.approx(max(4.0 * scale, 0.0357))
    assert moved.lens.far_m == pytest.approx(50.0 * scale)
    for before, after in zip(solve(shot).focus.probes, solve(moved).focus.probes, strict=True):
        assert after.at == pytest.approx(before.at, abs=1e-7)
    assert moved.stand.above_floor_m == pytest.approx(1.6 * scale)
    assert place_in_frame(camera_of(moved), moved.stand.follow.point) == pytest.approx(
        place_in_frame(camera_of(shot), shot.stand.follow.point)
    )


def in_metres(model, path=""):
    """Every number of a shot that counts metres of the world: those whose keys say so, and all of points."""
    for name, field in type(model).model_fields.items():
        value = getattr(model, name)
        if isinstance(value, Settings):
            yield from in_metres(value, f"{path}{name}.")
        elif value is not None and (name.endswith("_m") or "Coordinate" in str(field.annotation) or _is_point(value)):
            yield f"{path}{name}", np.array(value, dtype=float)


def _is_point(value):
    flat = np.array(value, dtype=object)
    return flat.dtype == object and flat.shape[-1:] == (3,) and all(isinstance(one, float) for one in flat.ravel())


def test_all_that_counts_metres_goes_along():
    """Derived from the shot's keys: a set twice as large has every length and place in it twice as large."""
    shot = Shot(
        stand=Stand(position=(1, 2, 1.6), aim=(4, 5, 1.2), follow=FollowAim(point=(3.5, 4.5, 1), at=(0.4, 0.5)), above_floor_m=1.6),
        focus=Focus(distance_m=4.0, probes=((3, 4, 1),), stack={"from_m": 1.5, "to_m": 2.5}), lens=Lens(far_m=50, projection="parallel", scale_m=6, cutting_plane=PLANE),
    )  # fmt: skip
    double = np.diag([2.0, 2.0, 2.0, 1.0])
    before, after = dict(in_metres(shot)), dict(in_metres(shot_moved(shot, double)))
    directions = {"lens.cutting_plane.normal"}
    assert {
        "stand.position",
        "stand.follow.point",
        "lens.near_m",
        "lens.scale_m",
        "focus.stack.to_m",
        "focus.probes",
        "lens.cutting_plane.point",
    } <= before.keys()
    for key in before.keys() - directions:
        assert after[key] == pytest.approx(2 * before[key]), key
    assert after["lens.cutting_plane.normal"] == pytest.approx([0, -1, 0])
    turned = shot_moved(shot, transform_between(Placing(), corrected(Placing(), turn_deg=90.0))).lens.cutting_plane
    assert turned.normal == pytest.approx((-1, 0, 0), abs=1e-9), "clockwise, seen from above"


def test_dropping_puts_the_lowest_point_to_zero():
    points = np.array([(0, 0, 3.0), (1, 1, 9.0), (2, -4, 5.0)])
    assert dropped(points, Placing()).moved_m == pytest.approx((0, 0, -3))
    assert dropped(points, Placing(up="y", metres_per_unit=0.5)).moved_m == pytest.approx((0, 0, 2.0))
