"""What all papers share: scales and their bars, words in their room, what is cut to a box, tapes in sixteenths."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from zevlo.core.documents.page.paper import Area, Words, fitted, wrapped
from zevlo.core.documents.page.scale import SCALES, bar, scale_for, scale_words
from zevlo.core.documents.plan import clipped_ring, lines_in
from zevlo.core.measures import measure as read
from zevlo.core.measures import tape_words


def letters(text, size, bold):
    """Every letter half as broad as high."""
    return 0.5 * size * len(text)


@given(st.floats(1e-4, 5e5), st.floats(1e-4, 5e5), st.sampled_from([(100.0, 50.0), (300.0, 200.0)]))
def test_the_scale_is_the_largest_that_holds_all(wide, high, room):
    scale = scale_for(wide, high, room)
    assert 1000.0 * wide / scale <= room[0] * (1 + 1e-9)
    assert 1000.0 * high / scale <= room[1] * (1 + 1e-9)
    larger = [one for one in SCALES if one < scale]
    if larger:
        assert 1000.0 * wide / larger[-1] > room[0] or 1000.0 * high / larger[-1] > room[1]


@pytest.mark.parametrize("scale", [*SCALES, 30000.0, 75.0])
def test_the_bar_is_as_long_as_it_says(scale):
    marks, metres = bar((10.0, 10.0), scale)
    fields = np.concatenate([np.concatenate(mark.rings) for mark in marks if isinstance(mark, Area)])
    assert np.ptp(fields[:, 0]) * scale / 1000.0 == pytest.approx(metres)
    assert 25.0 < np.ptp(fields[:, 0]) <= 75.0 + 1e-6
    length = [mark.text for mark in marks if isinstance(mark, Words)][-1]
    assert read(length, "length") == pytest.approx(metres)


def test_scales_are_told_as_drawings_tell_them():
    assert [scale_words(one) for one in (50.0, 1.0, 0.2)] == ["1:50", "1:1", "5:1"]


@given(st.text(max_size=60), st.floats(5.0, 100.0))
def test_words_go_into_their_room(text, width):
    assert letters(fitted(text, width, 3.0, letters), 3.0, False) <= max(width, 1.5)
    lines = wrapped(text, width, 3.0, letters, 3)
    assert len(lines) <= 3
    assert all(letters(line, 3.0, False) <= max(width, 1.5) for line in lines)
    whole = wrapped(text, width, 3.0, letters)
    assert "".join("".join(whole).split()) == "".join(text.split()), "nothing is lost where there is room"


def test_a_name_without_blanks_is_broken_where_it_must_be():
    name = "陶瓷工坊二楼展厅" * 6
    lines = wrapped(f"Tower {name}", 45.0, 3.0, letters)
    assert lines[0] == "Tower"
    assert len(lines) >= 3
    assert not any("…" in line for line in lines)
    assert "".join(lines[1:]) == name


RING = st.lists(st.tuples(st.floats(-3, 3), st.floats(-3, 3)), min_size=3, max_size=8, unique=True)


@given(RING)
def test_what_is_cut_to_a_box_is_what_lies_in_it(corners):
    hull = shapely.MultiPoint(corners).convex_hull
    if hull.geom_type != "Polygon":
        return
    ring = np.array(hull.exterior.coords)[:-1]
    cut = clipped_ring(ring, np.array([[-1.0, -1.0], [1.0, 2.0]]))
    area = shapely.Polygon(cut).area if len(cut) >= 3 else 0.0
    assert area == pytest.approx(hull.intersection(shapely.box(-1, -1, 1, 2)).area, abs=1e-9)


ENDS = st.lists(st.lists(st.sampled_from([-3.0, -1.0, 0.0, 0.25, 1.0, 2.0, 5.0]), min_size=4, max_size=4), max_size=6)


@given(ENDS)
def test_lines_are_cut_to_a_box(ends):
    lines, box = np.array(ends).reshape(-1, 2, 2), np.array([[-1.0, -1.0], [1.0, 2.0]])
    wanted = [
        shapely.LineString(line).intersection(shapely.box(*box.ravel())) for line in lines if (line[0] != line[1]).any()
    ]
    found = lines_in(lines, box)
    assert sum(np.hypot(*(line[1] - line[0])) for line in found) == pytest.approx(sum(one.length for one in wanted))
    assert all((line >= box[0] - 1e-12).all() and (line <= box[1] + 1e-12).all() for line in found)


@pytest.mark.parametrize(("metres", "words"), [(0.0, "0 in"), (1.651, "5 ft 5 in"), (0.3048, "1 ft"), (0.0254 / 16, "1/16 in"), (-0.762, "−2 ft 6 in"), (0.0381, "1 1/2 in")])  # fmt: skip
def test_a_tape_is_read_in_sixteenths(metres, words):
    assert tape_words(metres) == words


@given(st.floats(-100.0, 100.0))
def test_what_a_tape_says_is_what_was_measured(metres):
    assert read(tape_words(metres), "length") == pytest.approx(metres, abs=0.0254 / 32 + 1e-9)
