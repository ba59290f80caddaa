"""Lengths that are nothing in a room are much of a ring: they shrink with the set."""

from itertools import pairwise
from typing import get_args

import numpy as np
import pytest
import trimesh
from tests.conftest import set_of, slab
from tests.core.test_product_set import things

from zevlo.core.camera.drawing import packed, thin_lines
from zevlo.core.framing.placing_habits import MOST_MARKS, Habits, marked
from zevlo.core.measures import change_words, length_words
from zevlo.core.refused import Refused
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.model.ruler import Ruler, length_on, ruler_for, usual_step
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.places.support_surface import under_it
from zevlo.core.scene.stand_ins.made import sweep_under
from zevlo.core.scene.working import WorkingSet

SIZES = [0.012, 0.05, 0.29, 0.31, 0.43, 0.59, 0.61, 1.9, 2.1, 4.0, 60.0]


def disc(radius, low, high, sections=48):
    return trimesh.creation.cylinder(radius, high - low, sections=sections).apply_translation((0, 0, (low + high) / 2))


@pytest.mark.parametrize("size", SIZES)
def test_drawings_are_as_round_as_the_thing_however_small_it_is(size):
    """Of an edge with 48 corners all are drawn, in the cut and in what is seen beyond it; 24 in a tower's as well."""
    upright, foot = disc(size / 2, 0.2 * size, 0.5 * size), disc(size / 3, 0, 0.2 * size)
    working = WorkingSet(set_of(upright, foot))
    plane = plan_plane(0.3 * size)
    cut, _ = packed(working.cut(plane))
    assert len(cut.stops) == 1
    corners = np.array(cut.numbers).reshape(-1, 2)
    wanted = size / 2 * np.array([[np.cos(a), np.sin(a)] for a in np.arange(48) * np.pi / 24])
    assert np.linalg.norm(wanted[:, None] - corners, axis=2).min(axis=1).max() < size / 2000
    assert np.hypot(*corners.T).min() > 0.497 * size
    plane = plan_plane(0.6 * size)
    lines = np.array(thin_lines(working.beyond(plane, size), working.scale)).reshape(-1, 2)
    away = np.hypot(*lines.T)
    assert away.max() == pytest.approx(size / 2, abs=size / 1000)
    around = np.degrees(np.arctan2(*lines[away > 0.49 * size].T)) % 360
    assert np.diff(np.unique(np.round(around, 1))).max() < 360 / 48 + 1, "a full circle"


@pytest.mark.parametrize("size", SIZES)
def test_a_ruler_tells_a_thousandth_of_a_set_and_steps_by_what_is_seen(size):
    ruler = ruler_for(np.array([[0, 0, 0], [size, size / 2, size / 3]]))
    assert ruler.metres * 10.0**-ruler.digits <= size / 100
    assert size / 400 < 20 * ruler.step_m
    assert ruler.step_m < size / 20
    assert usual_step(ruler) == pytest.approx(2 * ruler.step_m)
    assert ruler.staff_m >= min(size, 3.0)
    assert ruler.staff_m / ruler.mark_m == pytest.approx(round(ruler.staff_m / ruler.mark_m))
    assert ruler.beside_m / size > 0.25 or ruler.beside == "person"


def test_rulers_grow_with_the_set_and_each_unit_is_used():
    rulers = [ruler_for(np.array([[0, 0, 0], [size, 0, 0]])) for size in SIZES]
    for less, more in pairwise(rulers):
        assert less.metres <= more.metres
        assert less.staff_m <= more.staff_m
        assert less.beside_m <= more.beside_m
    assert {ruler.unit for ruler in rulers} == set(get_args(Ruler.model_fields["unit"].annotation))
    assert rulers[-1] == Ruler()


def test_a_step_is_less_than_a_walk_and_a_walk_less_than_a_stride_in_every_set():
    for size in SIZES:
        ruler = ruler_for(np.array([[0, 0, 0], [size, 0, 0]]))
        assert ruler.step_m < ruler.walk_m < ruler.stride_m < max(size, 2.0)


@pytest.mark.parametrize(
    ("size", "length", "words"),
    [(0.05, 0.01234, "12.3 mm"), (0.05, -0.0004, "-0.4 mm"), (0.05, 1.5, "1.50 m"), (0.4, 0.1234, "12.3 cm"), (0.4, -0.0, "0.0 cm"),
     (0.4, 2.99, "299.0 cm"), (0.4, 3.0, "3.00 m"), (9.0, 0.1234, "0.12 m"), (9.0, -0.0, "0.00 m")],
)  # fmt: skip
def test_a_length_is_told_as_the_ruler_of_the_set_has_it(size, length, words):
    assert length_on(ruler_for(np.array([[0, 0, 0], [size, 0, 0]])), length) == words


@pytest.mark.parametrize("size", SIZES)
def test_marks_lie_as_close_as_the_ruler_tells_and_are_called_as_it_tells_them(size):
    """Of a ring two marks a tenth of a millimetre apart are two; where a mark is, what is told alike is the same."""
    ruler = ruler_for(np.array([[0, 0, 0], [size, 0, 0]]))
    finest = ruler.metres * 10.0**-ruler.digits
    one, next_one, alike = (round(size / 2 / finest) * finest + by for by in (0.0, finest, 0.3 * finest))
    habits = marked(marked(Habits(), one, ruler, on=True), next_one, ruler, on=True)
    assert [mark.height_m for mark in habits.marks] == pytest.approx([one, next_one], abs=1e-6)
    assert [mark.name for mark in habits.marks] == [length_on(ruler, one), length_on(ruler, next_one)]
    assert len({mark.name for mark in habits.marks}) == 2
    again = marked(habits, alike, ruler, on=True).marks
    assert [mark.height_m for mark in again] == pytest.approx([next_one, alike], abs=1e-6), (
        "the newer of two that are told alike"
    )
    assert [mark.height_m for mark in marked(habits, alike, ruler, on=False).marks] == [
        pytest.approx(next_one, abs=1e-6)
    ]


def test_a_staff_that_is_full_says_so_and_keeps_its_marks():
    habits = Habits()
    for n in range(MOST_MARKS):
        habits = marked(habits, 1.0 + n, Ruler(), on=True)
    with pytest.raises(Refused, match="Remove one first"):
        marked(habits, 0.5, Ruler(), on=True)
    assert len(marked(habits, 1.001, Ruler(), on=True).marks) == MOST_MARKS, "in place of one told alike"


def test_short_lengths_are_told_in_millimetres():
    assert [length_words(m) for m in (3.2, 0.1, 0.0995, -0.004, 0.0)] == [
        "3.20 m", "0.10 m", "99.5 mm", "-4.0 mm", "0.00 m",
    ]  # fmt: skip
    assert change_words(3.2, 2.8) == "3.20 → 2.80 m"
    assert change_words(0.05, 0.2) == "50.0 mm → 0.20 m"


def test_paper_under_a_dish_hides_nothing_of_it():
    """A dish 5 cm wide and 0.8 mm thick at its floor."""
    dish = disc(0.025, 0.0, 0.0008)
    sweep = sweep_under(WorkingSet(set_of(dish)).body, (0.0, -1.0), "Sweep")
    whole = WorkingSet(arranged(set_of(dish), Arrangement(stand_ins=(sweep,))))
    seen = whole.rays.first(np.array([[0.0, 0.0, 0.1], [0.06, 0.0, 0.1]]), np.tile([0.0, 0.0, -1.0], (2, 1)))
    assert whole.model.owner_of(whole.kept[seen.face]).tolist() == [0, len(whole.model.parts) - 1]


@pytest.mark.parametrize(
    ("scale", "air"), [(0.06, "8.4 mm"), (1.0, "14 cm"), (9.0, "126 cm")], ids=["a ring", "things on a table", "a room"]
)
def test_what_floats_is_told_by_the_size_of_the_set(scale, air):
    floor, case = slab((-0.25, -0.25, -0.02), (0.25, 0.25, 0)), slab((-0.2, 0, 0), (0.2, 0.2, 0.3))
    for low, given in [(0.0, []), (0.14, [(2, "floats", air)])]:
        meshes = [floor.copy(), case.copy(), disc(0.02, low, low + 0.02).apply_translation((0.1, -0.12, 0))]
        found = find_leftovers(WorkingSet(set_of(*[mesh.apply_scale(scale) for mesh in meshes])), SetContext())
        assert [
            (one.part, one.why, one.words.split(", ")[1].removesuffix(" of air under it")) for one in found
        ] == given


@pytest.mark.parametrize("scale", [0.06, 1.0])
def test_things_on_a_table_that_is_not_in_the_file_do_not_float(scale):
    assert find_leftovers(WorkingSet(things(scale)), SetContext()) == []
    raised = things(scale)
    cup = raised.parts[1]
    raised.vertices[np.unique(raised.faces[cup.first_face : cup.first_face + cup.face_count])] += [0, 0, 0.02 * scale]
    assert [(one.part, one.why) for one in find_leftovers(WorkingSet(raised), SetContext())] == [(1, "floats")]


@pytest.mark.parametrize("scale", [0.1, 1.0])
def test_under_a_part_lies_what_most_of_it_looks_down_on(scale):
    """A jar on a table top on four legs on a rug."""
    meshes = [
        slab((-2, -2, 0), (2, 2, 0.01)), slab((-0.6, -0.3, 0.37), (0.6, 0.3, 0.41)), disc(0.05, 0.409, 0.6),
        *[slab((x - 0.02, y - 0.02, 0.01), (x + 0.02, y + 0.02, 0.37)) for x in (-0.55, 0.55) for y in (-0.25, 0.25)],
    ]  # fmt: skip
    working = WorkingSet(set_of(*[mesh.apply_scale(scale) for mesh in meshes]))
    rug, top, jar, *legs = range(len(meshes))
    assert under_it(working, top) == pytest.approx(0.01 * scale, abs=1e-4 * scale)
    assert under_it(working, jar) == pytest.approx(0.41 * scale, abs=1e-4 * scale), "though it sinks in a little"
    assert [under_it(working, leg) for leg in legs] == pytest.approx([0.01 * scale] * 4, abs=1e-4 * scale)
    assert under_it(working, rug) == pytest.approx(0.0, abs=1e-9), "nothing is under it"


def test_a_set_knows_its_scale():
    assert [WorkingSet(things(k)).scale for k in (0.06, 1.0, 50.0)] == pytest.approx([0.0117, 0.195, 1.0], rel=0.1)
