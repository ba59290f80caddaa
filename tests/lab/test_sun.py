"""The sun shines from one direction all over the set, with shadows as soft as its disc makes them, and is no thing."""

import numpy as np
import pytest
from tests.conftest import slab
from tests.lab.test_lens_pixels import rendered

from zevlo.core.light.setup import SUN_RADIUS_DEG, LightSetup, Sky, Sun, toward_sun
from zevlo.core.scene.model.set_model import Material
from zevlo.core.shot import Back, Focus, Lens, Shot, Stand
from zevlo.lab.stage import SUN_BEAMS, _sun

GREY = (Material("Grey", (0.5, 0.5, 0.5), roughness=1.0),)


@pytest.mark.parametrize("corner", [(-60.0, -60.0), (0.0, 0.0), (60.0, 55.0)])
def test_a_shadow_lies_where_the_suns_direction_throws_it(corner):
    """A 4 m wall's edge, at the middle and the corners of a wide set: its shadow ends 4/tan(h) away, within its softness."""
    x, y = corner
    sun = Sun(height_deg=30.0, heading_deg=270.0, illuminance_lx=80_000, color=(1, 1, 1))
    ground, wall = slab((-80, -80, -0.5), (80, 80, 0)), slab((x - 0.1, y - 6, 0), (x, y + 6, 4.0))
    reach = 4.0 / np.tan(np.radians(30.0))
    shot = Shot(
        stand=Stand(position=(x + reach, y, 30.0), aim=(x + reach, y, 0.0)), lens=Lens(focal_length_mm=540.0),
        back=Back(width_mm=36, height_mm=36, output_px=(160, 160)), focus=Focus(f_number=None, distance_m=30),
    )  # fmt: skip
    # 36 mm at 540 mm over 30 m of height: 2 m of ground across 160 pixels.
    film = rendered(
        shot, [ground, wall], samples=64, light=LightSetup(sun=sun, sky=Sky(luminance_cd_m2=0)), materials=GREY, each=16
    )
    row = film.sum(axis=(0, 2)) / film.sum(axis=(0, 2)).max()
    metres = (np.arange(160) + 0.5) * 2.0 / 160 - 1.0
    edge = float(np.interp(0.5, row, metres))
    assert edge == pytest.approx(0.0, abs=0.012)
    low, high = (float(np.interp(share, row, metres)) for share in (0.05, 0.95))
    # The disc from edge to edge, on the slanting ground: its whole width holds all of the softness.
    radius = np.radians(SUN_RADIUS_DEG)
    whole = 4.0 / np.tan(np.radians(30.0) - radius) - 4.0 / np.tan(np.radians(30.0) + radius)
    assert 0.55 * whole < high - low < whole


def test_the_beams_are_the_disc_and_together_the_light():
    toward = toward_sun(Sun(height_deg=40.0, heading_deg=100.0))
    beams = _sun(toward, np.array([3.0, 2.0, 1.0])).values()
    directions = -np.array([beam["direction"] for beam in beams])
    apart = np.degrees(np.arccos(np.clip(directions @ toward, -1, 1)))
    assert len(directions) == SUN_BEAMS
    assert apart.max() <= SUN_RADIUS_DEG
    assert apart.max() > 0.98 * SUN_RADIUS_DEG
    assert np.mean(apart**2) == pytest.approx(SUN_RADIUS_DEG**2 / 2, rel=0.02), "evenly over the disc"
    assert directions.mean(axis=0) / np.linalg.norm(directions.mean(axis=0)) == pytest.approx(toward, abs=1e-4)
    assert np.sum([beam["irradiance"]["value"] for beam in beams], axis=0) == pytest.approx([3.0, 2.0, 1.0])


def test_a_long_lens_turned_to_the_sun_sees_the_sky():
    sun = Sun(height_deg=35.0, heading_deg=0.0)
    x, y, z = (50.0 * toward_sun(sun)).tolist()
    shot = Shot(stand=Stand(position=(0, 0, 1.6), aim=(x, y, z + 1.6)), lens=Lens(focal_length_mm=2000.0),
                back=Back(output_px=(60, 40)), focus=Focus(f_number=None, distance_m=50))  # fmt: skip
    sky = LightSetup(sun=sun, sky=Sky(luminance_cd_m2=5000, color=(1, 1, 1)))
    film = rendered(shot, [slab((-5, -5, -1), (5, 5, 0))], light=sky, materials=GREY)
    assert film == pytest.approx(5000.0, rel=1e-3)
