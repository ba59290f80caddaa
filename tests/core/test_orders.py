"""Orders: sizes, names of files, tiles, and when a picture has no grain left."""

import re
import unicodedata
import uuid

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from zevlo.core.finals.expected import bytes_a_pixel, expected
from zevlo.core.finals.naming import (
    FIELDS,
    FIRST_PATTERN,
    Called,
    beginning,
    checked_pattern,
    file_of,
    filled,
    names_of,
    number_words,
)
from zevlo.core.finals.noise import BRIGHTEST, grain
from zevlo.core.finals.order import Formats, Inside, Longest, Order, OwnSize, Scaled, Wanted
from zevlo.core.finals.pieces import (
    MOST_RAYS,
    TILE_PX,
    frame_of,
    pieces_in,
    require_room,
    samples_next,
    seed_of,
    tiles_of,
)
from zevlo.core.finals.quality import QUALITIES, quality_named
from zevlo.core.light.tone import shoulder, srgb_share
from zevlo.core.refused import Refused

SIDES = st.integers(1, 4000)


@settings(deadline=None)
@given(SIDES, SIDES)
def test_tiles_hold_every_pixel_once(width, height):
    seen = np.zeros((height, width), dtype=np.uint8)
    for left, top, right, bottom in tiles_of((width, height)):
        assert 0 < right - left <= TILE_PX
        assert 0 < bottom - top <= TILE_PX
        seen[top:bottom, left:right] += 1
    assert (seen == 1).all()


@given(st.lists(st.tuples(SIDES, SIDES), max_size=30))
def test_how_many_pieces_a_picture_has_is_what_it_is_made_in(sizes):
    for size in sizes[:2]:
        assert pieces_in(size) == len(tiles_of(size)) + 1
    require_room(sizes)


def test_what_is_too_large_is_refused_with_what_would_fit():
    with pytest.raises(Refused, match=r"up to 268 million are made in one\. 16384 px on its longer side") as refused:
        require_room([(32768, 32768)])
    assert "32768 × 32768 px is 1 074 million pixels" in str(refused.value)
    require_room([(16384, 16384)])
    many = [(7680, 4320)] * 200
    with pytest.raises(Refused, match=r"6 636 million pixels in 200 pictures") as refused:
        require_room(many)
    first, percent = map(int, re.search(r"first (\d+) of them, or all at (\d+) %", str(refused.value)).groups())
    require_room(many[:first])
    with pytest.raises(Refused):
        require_room(many[: first + 1])
    require_room([(width * percent // 100, height * percent // 100) for width, height in many])


@pytest.mark.parametrize("pictures", [1, 3, MOST_RAYS // TILE_PX**2])
@pytest.mark.parametrize("quality", QUALITIES, ids=lambda one: one.name)
def test_passes_stay_small_and_come_to_all_samples(quality, pictures):
    done, passes = 0, []
    while done < quality.samples:
        passes.append(samples_next(done, quality.samples, pictures))
        assert TILE_PX**2 * passes[-1] * pictures <= MOST_RAYS
        assert passes[-1] <= max(done, 8), "a look is never worth more than twice the one before"
        done += passes[-1]
    assert done == quality.samples
    assert quality_named(quality.name) == quality
    assert quality.least <= quality.samples


def test_a_tile_shows_its_part_of_the_frame():
    size, frame = (600, 400), (0.25, 0.5, 0.75, 1.0)
    assert frame_of((0, 0, 600, 400), size, frame) == pytest.approx(frame)
    assert frame_of((300, 0, 600, 100), size, frame) == pytest.approx((0.5, 0.875, 0.75, 1.0))
    assert frame_of((0, 300, 60, 400), size, frame) == pytest.approx((0.25, 0.5, 0.3, 0.625))


def test_no_two_passes_have_the_same_seed():
    seeds = {seed_of(1, tile, first) for tile in range(600) for first in (0, 8, 16, 32, 64, 96, 128)}
    assert len(seeds) > 600 * 7 - 5, "32 bits hold so many apart"


def test_grain_is_what_a_second_picture_would_differ_by():
    """Against many pictures made of the same samples: their scatter in steps of 255."""
    rng = np.random.default_rng(5)
    for level, scatter, count in ((0.2, 0.1, 16), (0.5, 0.3, 64), (0.02, 0.02, 8), (1.5, 0.8, 32)):
        samples = np.minimum(rng.gamma((level / scatter) ** 2, scatter**2 / level, (40, 50, 50, count)), BRIGHTEST)
        shown = 255.0 * srgb_share(shoulder(samples.mean(axis=-1)))
        measured = shown.std(axis=0).mean()
        found = np.median([grain(one.mean(axis=-1), (one**2).mean(axis=-1), count) for one in samples])
        assert found == pytest.approx(measured, rel=0.2), (level, scatter, count)


def test_grain_in_a_corner_counts_and_none_is_none():
    even = np.full((250, 250), 0.3)
    assert grain(even, even * even, 16) == 0.0
    corner = even * even
    corner[:90, :90] += 0.2
    assert grain(even, corner, 16) > 3.0


def called(**more):
    usual = {
        "number": "07", "name": "Teapot hero", "room": "Ground floor, Wheel room", "direction": "NW", "lens": "85 mm",
        "crop": "", "take": "", "date": "2026-03-01", "project": "Tide Tower Pottery", "size": "2000x2000",
    }  # fmt: skip
    return Called(**{**usual, **more})


@pytest.mark.parametrize(
    ("pattern", "more", "wanted"),
    [
        (FIRST_PATTERN, {}, "07_Ground-floor-Wheel-room_NW_85-mm"),
        (FIRST_PATTERN, {"crop": "16:9"}, "07_Ground-floor-Wheel-room_NW_85-mm_16-9"),
        ("{crop}_{number}", {}, "07"),
        ("{project} {number} take {take}", {}, "Tide-Tower-Pottery 07"),
        ("{project} {number} take {take}", {"take": "3"}, "Tide-Tower-Pottery 07 take 3"),
        ("final {name}", {"name": "Ümlaut/слип: №1?"}, "final Ümlaut-слип-№1"),
        ("{crop}{take}", {}, "07"),
        ("{name}", {"name": "con"}, "con-"),
        ("{name}.v2", {"name": "NUL"}, "NUL-.v2"),
        ("{name}", {"name": "a\u202egpj"}, "agpj"),
        ("{name}.", {"name": ".. "}, "07"),
        ("all", {}, "all"),
    ],
)
def test_names_are_filled_in(pattern, more, wanted):
    assert filled(checked_pattern(pattern), called(**more)) == wanted


@given(st.text(max_size=60), st.text(max_size=20), st.text(max_size=8))
def test_any_name_makes_a_file_that_every_system_takes(name, room, crop):
    made = filled("{name}_{room} {crop}", called(name=name, room=room, crop=crop))
    assert made
    assert len(made) <= 120
    assert len(made.encode()) <= 200
    assert unicodedata.is_normalized("NFC", made)
    assert not set(made) & set('<>:"/\\|?*')
    assert made == made.strip(" .")
    assert made.isprintable() or not any(ord(letter) < 32 for letter in made)


@given(st.text(max_size=200), st.sampled_from(["contact sheet", "shot list", "order 3"]))
def test_a_file_of_a_project_with_a_long_name_still_tells_what_it_is(project, what):
    made = file_of(project, what)
    assert made.endswith(what)
    assert made.removeprefix(f"{beginning(project)} ") == what
    assert len(made.encode()) <= 200


def test_no_two_files_have_the_same_name_also_where_capitals_do_not_count():
    given_ = ("Pot", "pot", "Pot-2", "POT", "Jug", "Glas", "\u212alas", "Klas", "E\u0301tude", "\u00c9tude")
    names = names_of("{name}", [called(name=name) for name in given_])
    assert names[:5] == ["Pot", "pot-2", "Pot-2-2", "POT-3", "Jug"]
    assert len({unicodedata.normalize("NFC", name).casefold() for name in names}) == len(given_)
    assert [number_words(7, 12), number_words(7, 120)] == ["07", "007"]


@pytest.mark.parametrize("pattern", ["", "  ", "{nr}", "{number", "a/b", "a}b", "x" * 121, "{number:>3}"])
def test_patterns_that_cannot_be_filled_are_refused(pattern):
    with pytest.raises(ValueError, match=r"name|pattern|stands alone|letters"):
        checked_pattern(pattern)
    with pytest.raises(ValidationError):
        Order(pictures=(Wanted(shot=uuid.uuid4()),), pattern=pattern)


def test_every_field_is_told():
    assert set(FIELDS) >= {"number", "room", "direction", "lens", "crop", "take", "date"}
    for field in FIELDS:
        assert filled(f"x{{{field}}}", called(crop="a", take="1")) != "x"


def test_sizes():
    own = (6000, 4000)
    assert OwnSize().pixels(own) == own
    assert Longest(px=1500).pixels((4000, 6000)) == (1000, 1500)
    assert Inside(output_px=(1920, 1080)).pixels(own) == (1620, 1080)
    assert Scaled(times=0.5).pixels((3001, 1)) == (1500, 1)
    one, other = Wanted(shot=uuid.uuid4()), Wanted(shot=uuid.uuid4(), size=Longest(px=300))
    order = Order(pictures=(one, other), size=Scaled(times=0.1))
    assert order.size_of(one, own) == (600, 400)
    assert order.size_of(other, own) == (300, 200)
    with pytest.raises(ValidationError, match="twice"):
        Order(pictures=(one, one))


def test_files_asked_for():
    assert Formats().endings == ("png",)
    assert Formats(png=16, jpeg=90, exr="half", layers=("depth",)).endings == ("png", "jpg", "exr")
    for wrong in (
        {"png": None},
        {"layers": ["depth"]},
        {"exr": "half", "layers": ["depth", "depth"]},
        {"jpeg": 0},
        {"png": 12},
    ):
        with pytest.raises(ValidationError):
            Formats.model_validate(wrong)
    sizes = [bytes_a_pixel(Formats(exr="half", layers=layers)) for layers in ((), ("depth",), ("depth", "parts"))]
    assert sizes == sorted(sizes)


def test_what_an_order_will_take():
    good = quality_named("good")
    unknown = expected([((1000, 1000), 0)], good, Formats(), 0.0)
    assert unknown.seconds is None
    known = expected([((1000, 1000), 0)] * 2, good, Formats(), 1.0e6)
    least, most = known.seconds
    assert least == pytest.approx(2 * good.least, rel=0.3)
    assert most == pytest.approx(2 * good.samples, rel=0.3)
    assert known.bytes == 2 * unknown.bytes
    assert expected([((1000, 500), 0)], good, Formats(), 0.0, bytes_per_pixel=0.5).bytes == 250_000, "as those before"
