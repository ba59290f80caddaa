"""Light and tone against standards and facts of the trade."""

import numpy as np
import pytest

from zevlo.core.light.setup import LUMINANCE_WEIGHTS, LightSetup, Sky, Sun, sky_radiance, sun_irradiance, toward_sun
from zevlo.core.optics.exposure import ev100, shutter_for, white_luminance
from zevlo.lab.develop import srgb


def test_srgb_code_values():
    """IEC 61966-2-1: code values 0, 10, 55, 128, 200, 255 are linear 0, 0.003035, 0.038204, 0.215861, 0.577580, 1."""
    linear = np.array([0.0, 0.003035, 0.038204, 0.215861, 0.577580, 1.0], dtype=np.float32)
    codes = srgb(linear.reshape(1, -1, 1).repeat(3, axis=2))
    assert codes[0, :, 0].tolist() == [0, 10, 55, 128, 200, 255]


def test_luminance_weights_are_bt709():
    """ITU-R BT.709-6, item 3.2: 0.2126, 0.7152, 0.0722."""
    assert LUMINANCE_WEIGHTS.tolist() == [0.2126, 0.7152, 0.0722]


def test_sun_and_sky_have_the_light_they_state():
    assert sky_radiance(Sky(luminance_cd_m2=4321)) @ LUMINANCE_WEIGHTS == pytest.approx(4321)
    assert sun_irradiance(Sun(illuminance_lx=70_000)) @ LUMINANCE_WEIGHTS == pytest.approx(70_000)
    assert not sun_irradiance(Sun(height_deg=-1)).any(), "no sun from below the horizon"
    assert toward_sun(Sun(height_deg=0, heading_deg=90)) == pytest.approx([1, 0, 0], abs=1e-12)
    assert toward_sun(Sun(height_deg=90)) == pytest.approx([0, 0, 1], abs=1e-12)
    assert LightSetup.model_validate(LightSetup().model_dump(mode="json")) == LightSetup()


def test_sunny_sixteen():
    """Common practice, no source: in full sun, f/16 at one over the film speed is right, about EV 15."""
    assert ev100(16, 1 / 100, 100) == pytest.approx(14.64, abs=0.01)
    assert ev100(16, 1 / 400, 400) == pytest.approx(ev100(16, 1 / 100, 100))


def test_one_stop_is_twice_the_light():
    """ISO 2720: one EV is a factor of two in time, in film speed, and a factor of √2 in the f-number."""
    assert ev100(8, 1 / 60, 100) - ev100(8, 1 / 30, 100) == pytest.approx(1)
    assert ev100(8, 1 / 60, 100) - ev100(8, 1 / 60, 200) == pytest.approx(1)
    assert ev100(8 * 2**0.5, 1 / 60, 100) - ev100(8, 1 / 60, 100) == pytest.approx(1)
    assert shutter_for(10, 8 * 2**0.5, 100) == pytest.approx(2 * shutter_for(10, 8, 100))
    assert white_luminance(10) == pytest.approx(2 * white_luminance(9))


def test_eighteen_percent_grey_metered_is_a_middle_tone():
    """ISO 12232 with ISO 2720's K = 12.5: what the meter reads lies at 12.5/120 of white, sRGB 91 (from memory)."""
    share = 12.5 / 100 / 1.2
    assert srgb(np.full((1, 1, 3), share, dtype=np.float32))[0, 0, 0] == pytest.approx(91, abs=1)
