"""Developing: exposure to pixels, what PNG and OpenEXR carry, thumbnails."""

import io

import numpy as np
import OpenEXR
import pytest
from PIL import Image
from tests.conftest import set_of, slab

from zevlo.core.light.setup import LightSetup
from zevlo.core.light.tone import shoulder
from zevlo.core.scene.lit import light_set
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Shot
from zevlo.lab import develop
from zevlo.lab.proof import passes_for
from zevlo.lab.thumbnail import draw_thumbnail, thumbnail_key
from zevlo.store.prints import proof_size


def test_white_is_white_and_middle_tones_are_plain_srgb():
    """sRGB values by IEC 61966-2-1: linear 0.18 is 118, 0.5 is 188."""
    linear = develop.expose(np.full((2, 2, 3), 614.4 * 0.18, dtype=np.float32), 614.4)
    assert develop.srgb(shoulder(linear))[0, 0].tolist() == [118, 118, 118]
    assert develop.srgb(np.full((1, 1, 3), 0.5, dtype=np.float32))[0, 0, 0] == 188
    ramp = shoulder(np.linspace(0, 20, 400, dtype=np.float32).reshape(-1, 1, 1).repeat(3, axis=2))
    assert (np.diff(ramp[:, 0, 0]) >= 0).all()
    assert ramp.max() <= 1.0


def test_png_says_srgb_and_exr_is_linear_with_its_white(tmp_path):
    linear = np.random.default_rng(1).random((12, 20, 3)).astype(np.float32) * 2
    png = Image.open(io.BytesIO(develop.png(linear, {"Title": "Wheel room"})))
    assert (png.size, png.info["Title"]) == ((20, 12), "Wheel room")
    assert "srgb" in png.info
    file = tmp_path / "film.exr"
    file.write_bytes(develop.exr(linear, 752.6, {"comments": "Wheel room"}))
    with OpenEXR.File(str(file)) as film:
        assert film.header()["whiteLuminance"] == pytest.approx(752.6, rel=1e-5)
        assert np.asarray(film.channels()["RGB"].pixels, dtype=np.float32) == pytest.approx(linear, abs=2e-3)


def test_what_is_brighter_than_half_precision_can_say_stays_finite(tmp_path):
    file = tmp_path / "film.exr"
    file.write_bytes(develop.exr(np.full((2, 2, 3), 1.5e6, dtype=np.float32), 700.0, {}))
    with OpenEXR.File(str(file)) as film:
        assert np.asarray(film.channels()["RGB"].pixels, dtype=np.float64) == pytest.approx(65504.0)


def test_proof_size_and_passes():
    assert proof_size((3840, 2160)) == (960, 540)
    assert proof_size((2160, 2700)) == (768, 960)
    assert proof_size((300, 200)) == (300, 200)
    assert sum(passes_for(32, 960 * 540)) == 32
    assert max(passes_for(32, 960 * 960)) == 2


def test_thumbnails_have_the_frames_ratio_and_know_what_they_are_of():
    working = WorkingSet(set_of(slab((-5, -5, -1), (5, 5, 0)), slab((-1, 2, 0), (1, 3, 2))))
    lit = light_set(working, LightSetup())
    tall = Shot(back=Back(width_mm=24, height_mm=36, output_px=(800, 1000)))
    picture = Image.open(io.BytesIO(draw_thumbnail(tall, lit)))
    assert picture.size == (224, 280)
    assert np.asarray(picture).std() > 5
    key = thumbnail_key(tall, "r", "l")
    assert key == thumbnail_key(tall.model_copy(update={"name": "Another"}), "r", "l")
    assert key != thumbnail_key(tall, "r2", "l")
