"""The meter and a print of the same frame tell the same light, however little of it finds its way in."""

import numpy as np
import pytest
from tests.conftest import set_of, slab
from tests.lab.test_lens_pixels import rendered

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.camera.meter import even_luminance, metered_ev
from zevlo.core.light.setup import LightSetup
from zevlo.core.optics import exposure
from zevlo.core.scene.lit import light_set, luminance_of, middle_luminance
from zevlo.core.scene.model.set_model import Material
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Shot, Stand

WALLS = (Material("Lime", (0.7, 0.7, 0.7), roughness=1.0),)


def house(door_m):
    """Two rooms of 5 by 7 m behind one another: the first has a door outside to the south, the second one to the first."""
    return [
        slab((-40, -40, -0.5), (40, 40, 0)), slab((0, 0, 2.7), (10.6, 7.6, 3)),
        slab((0, 7.3, 0), (10.6, 7.6, 2.7)), slab((0, 0, 0), (0.3, 7.6, 2.7)), slab((10.3, 0, 0), (10.6, 7.6, 2.7)),
        slab((0, 0, 0), (2, 0.3, 2.7)), slab((2 + door_m, 0, 0), (10.6, 0.3, 2.7)), slab((2, 0, 2.1), (2 + door_m, 0.3, 2.7)),
        slab((5.2, 0, 0), (5.4, 6, 2.7)), slab((5.2, 7, 0), (5.4, 7.6, 2.7)), slab((5.2, 6, 2.1), (5.4, 7, 2.7)),
    ]  # fmt: skip


FRAMES = {
    "from the air": ((-12, -9, 14), (5, 3, 0)),
    "at the door": ((2.5, -6, 1.6), (2.5, 4, 1.4)),
    "in the first room": ((1, 6.5, 1.5), (4, 1, 1.2)),
    "out of the first room": ((2.6, 6.5, 1.5), (2.6, 0, 1.4)),
    "in the room behind": ((9.5, 6.8, 1.5), (6, 1, 1.0)),
}


@pytest.mark.parametrize("frame", FRAMES)
@pytest.mark.parametrize("door_m", [0.9, 2.8])
def test_a_print_is_as_bright_as_the_meter_read(frame, door_m):
    at, aim = FRAMES[frame]
    shot = Shot(
        stand=Stand(position=at, aim=aim), lens=Lens(focal_length_mm=24), back=Back(output_px=(24, 16)),
        focus=Focus(f_number=None, distance_m=3),
    )  # fmt: skip
    parts = house(door_m)
    read = metered_ev(camera_of(shot), light_set(WorkingSet(set_of(*parts, materials=WALLS)), LightSetup()))
    film = rendered(shot, parts, samples=4096, light=LightSetup(), materials=WALLS, each=512)
    # Of the film's grain little is left over four by four pixels, as after cleaning it.
    even = luminance_of(film.reshape(-1, 3)).reshape(4, 4, 6, 4).mean(axis=(1, 3))
    assert read == pytest.approx(exposure.ev_for_luminance(middle_luminance(even)), abs=0.5)


def test_a_place_no_path_found_light_for_is_taken_for_its_neighbours_not_for_night():
    luck = np.random.default_rng(4)
    level = np.repeat([4.0, 400.0], [16, 8])[None, :] * np.ones((16, 24))
    found = np.where(luck.random((48, 16, 24)) < 0.02, level / 0.02, 0.0)
    assert np.mean(found.mean(axis=0) == 0.0) > 0.3, "many places found none"
    answer = even_luminance(found)
    assert answer[:, :16].mean() == pytest.approx(4.0, rel=0.2)
    assert answer[:, 16:].mean() == pytest.approx(400.0, rel=0.2)
    assert middle_luminance(answer) == pytest.approx(4.0 * 100 ** (1 / 3), rel=0.2)
    sure = np.broadcast_to(level * np.linspace(0.5, 2, 24), (12, 16, 24))
    assert even_luminance(sure) == pytest.approx(sure[0]), "where paths agree each place is itself"
    assert (even_luminance(np.zeros((12, 16, 24))) == 0.0).all()
