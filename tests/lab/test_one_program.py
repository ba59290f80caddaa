"""A shot's numbers are read from memory: another shot of its kind has nothing compiled anew."""

import drjit as dr
import pytest
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.framing.solve import solve
from zevlo.core.light.setup import LightSetup
from zevlo.core.optics.movements import circle_used_mm
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand
from zevlo.lab.renderer import MitsubaRenderer

SIZE = (12, 8)


def with_all(lens):
    """A shot with all that its lens can have: corners that get less light, a stop with blades behind an edge."""
    more = {"near_m": 0.3, "far_m": 40.0, "falloff": {"natural": True, "mechanical": 0.4, "open_f_number": 1.2}}
    tilt = {"tilt_deg": 0.4, "swing_deg": -0.3} if lens.get("projection", "perspective") == "perspective" else {}
    return Shot(
        stand=Stand(position=(0.1, 0.2, 1.6), aim=(0.3, 5, 1.5), roll_deg=2.0), lens=Lens(**{**lens, **more}), back=Back(output_px=SIZE),
        movements=Movements(rise_mm=2.0, cross_mm=1.0, image_circle_mm=40.0, **tilt),
        focus=Focus(distance_m=3.0, f_number=2.0, blades=5, blade_rotation_deg=8.0, squeeze=0.3, rim_weight=0.2),
    )  # fmt: skip


FIXED = ("white_k",)
"""What may have one value only, by now."""


def otherwise(given):
    """The same with every number that is no count a hundredth greater; what it does not have it has not."""
    if isinstance(given, dict):
        return {key: value if key in FIXED else otherwise(value) for key, value in given.items()}
    if isinstance(given, list | tuple):
        return [otherwise(value) for value in given]
    return given * 1.01 if isinstance(given, float) else given


def programs(renderer, shot, size=SIZE, samples=4):
    """The programs that followed the rays of a shot, by their content."""
    dr.kernel_history_clear()
    renderer.tile(shot, size, (0.0, 0.0, 1.0, 1.0), samples, 7, solve(shot).exposure.white_cd_m2)
    found = {one["hash"] for one in dr.kernel_history() if one.get("operation_count", 0) > 500}
    assert found
    return found


@pytest.mark.parametrize("law", lenses())
def test_another_shot_of_a_kind_has_the_same_programs(law):
    shot = with_all(lenses()[law])
    other = Shot.model_validate(otherwise(shot.model_dump()))
    changed = {name for name, of in shot if of != getattr(other, name)}
    assert {"stand", "lens", "movements", "focus"} <= changed
    assert law == "parallel" or circle_used_mm(camera_of(other).window) > 40.0, "its circle shows"
    renderer = MitsubaRenderer(set_of(slab((-3, 4, 0), (3, 4.2, 3))), LightSetup())
    with dr.scoped_set_flag(dr.JitFlag.KernelHistory):
        first = programs(renderer, shot)
        assert programs(renderer, other) == first
        assert programs(renderer, shot, (17, 5), 9) == first, "nor has another piece, or another pass"
