"""Tables of what is offered: each entry is what its own words say, and none is out of its order."""

import re
from itertools import pairwise

import numpy as np
import pytest
from scipy import constants
from tests.conftest import set_of, slab

from zevlo.core.light.setup import Sun, sun_irradiance
from zevlo.core.measures import UNITS, measure
from zevlo.core.optics.back import FORMATS
from zevlo.core.optics.barrel import FEET, METRES
from zevlo.core.optics.focus import OFFERED_STOPS
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.model.part_ids import STAND_INS_PATH, lasting_ids
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot.focus import BLUR_LIMITS

INCHES = {"4 × 5 in": (120.0, 95.0), "8 × 10 in": (244.0, 193.0)}
"""A sheet holder leaves that much of them free (common practice, no source)."""


@pytest.mark.parametrize("format_", FORMATS, ids=lambda one: one.name)
def test_a_format_is_as_large_as_it_is_called(format_):
    said = INCHES.get(format_.name) or tuple(float(side) for side in format_.name.split(" × "))
    assert sorted((format_.width_mm, format_.height_mm)) == sorted(said)
    assert format_.width_mm >= format_.height_mm, "lying, as a back is told"


@pytest.mark.parametrize("offer", BLUR_LIMITS, ids=lambda one: one.words)
def test_a_blur_limit_is_what_its_words_say(offer):
    said = [float(number) for number in re.findall(r"\d+(?:\.\d+)?", offer.words)]
    assert said == [value for value in offer.limit.model_dump().values() if value is not None]


@pytest.mark.parametrize("marks", [METRES, FEET, OFFERED_STOPS], ids=["metres", "feet", "stops"])
def test_marks_come_in_their_order(marks):
    assert all(less < more for less, more in pairwise(marks))
    assert max(more / less for less, more in pairwise(marks)) <= 2.01, "no gap"


MEANT = {
    "length": {"km": 1000, "m metre metres meter meters": 1, "cm": 0.01, "mm": 0.001, "in inch inches \" ″ ”": constants.inch,
               "ft foot feet ' ′ ’": constants.foot, "yd yard yards": constants.yard},
    "angle": {"° deg degree degrees": constants.degree, "' ′ ’": constants.arcmin, "\" ″ ”": constants.arcsec, "rad": 1,
              "turn turns": 2 * np.pi},
    "time": {"s sec second seconds": 1, "ms": 0.001, "min": constants.minute, "h": constants.hour},
    "number": {"%": 0.01}, "pixels": {"px pixel pixels": 1},
}  # fmt: skip
"""What each word means in SI units, against the constants of scipy (which has them from NIST and the BIPM)."""
MEANT["film"] = MEANT["length"]
OWN_IN_SI = {"length": 1.0, "film": 0.001, "angle": constants.degree, "time": 1.0, "number": 1.0, "pixels": 1.0}


@pytest.mark.parametrize(("kind", "unit"), [(kind, unit) for kind in UNITS for unit in UNITS[kind]])
def test_each_word_for_a_unit_means_what_it_does_elsewhere(kind, unit):
    (meant,) = [size for words, size in MEANT[kind].items() if unit in words.split()]
    assert UNITS[kind][unit] * OWN_IN_SI[kind] == pytest.approx(meant)
    assert measure(f"2 {unit}", kind) == pytest.approx(2 * UNITS[kind][unit])


def test_a_sun_below_the_horizon_gives_nothing_at_all():
    assert sun_irradiance(Sun(height_deg=-0.01)).tolist() == [0.0, 0.0, 0.0]
    assert sun_irradiance(Sun(height_deg=0.01)).min() > 0.0


def test_no_part_of_a_file_is_taken_for_a_stand_in():
    parts = [(STAND_INS_PATH, None), ("Sweep", 0), ("Other", None)]
    ids = lasting_ids(["", "", ""], parts, lambda number: f"box{number}")
    assert ids == (f"{STAND_INS_PATH}~box0", f"{STAND_INS_PATH}/Sweep~box1", "Other")


def test_a_rod_through_a_pane_hangs_on_it():
    """Where neither has a corner or a middle near the other, only the rod's edges find what they pass through."""
    ground = slab((-8, -8, -0.2), (8, 8, 0))
    pane = slab((-4.1, 0, 1), (5.2, 0.01, 6.3))
    rod = slab((1.301, -0.71, 2.201), (1.306, 0.62, 2.206))
    apart = rod.copy().apply_translation((0, -2, 0))
    posts = [slab((x, 0, 0), (x + 0.1, 0.1, 1.02)) for x in (-4.1, 5.1)]
    assert find_leftovers(WorkingSet(set_of(ground, pane, *posts, rod)), SetContext()) == []
    assert [one.part for one in find_leftovers(WorkingSet(set_of(ground, pane, *posts, apart)), SetContext())] == [4]


@pytest.mark.parametrize("step", [1, -1], ids=["from below", "from above"])
def test_a_floor_is_found_under_a_hundred_sheets(step):
    sheets = [slab((-1, -1, z - 0.001), (1, 1, z)) for z in np.arange(1, 101)[::step] * 0.05]
    working = WorkingSet(set_of(slab((-5, -5, -0.2), (5, 5, 0)), *sheets))
    for z, wanted in ((5.5, 5.0), (3.02, 3.0), (0.04, 0.0)):
        assert working.floor_under(np.array([0.31, 0.27, z])) == pytest.approx(wanted, abs=1e-9)
    assert working.floor_under(np.array([3.0, 3.0, 5.5])) == pytest.approx(0.0, abs=1e-9)
