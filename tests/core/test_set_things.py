"""Stand-ins, lifting off, snapping, leftovers, parts by path."""

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.conftest import set_of, slab

from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.as_shown import as_shown
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.cuts.cut_away import cut_away
from zevlo.core.scene.cuts.snap import sides_of, snap
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.model.body import body_box
from zevlo.core.scene.model.part_ids import ids_of, lasting_ids
from zevlo.core.scene.model.placing import Placing, transform_between
from zevlo.core.scene.model.set_model import Part, SetModel
from zevlo.core.scene.model.visible import CuttingPlane, Lifted, Visible, all_above
from zevlo.core.scene.places.levels import Level, Places, Room, SetContext
from zevlo.core.scene.places.lifting import part_middles, parts_on_level
from zevlo.core.scene.stand_ins.made import (
    GROUP_NAME,
    Figure,
    Panel,
    Sweep,
    beside_others,
    facing,
    footprint,
    front_of,
    gone_along,
    moved_with_set,
    new_stand_in,
    put_down,
    shape_of,
    sweep_profile,
)
from zevlo.core.scene.stand_ins.placement import put_before
from zevlo.core.scene.working import WorkingSet

GROUND = slab((-10, -10, -0.2), (10, 10, 0))


def _box(shape):
    return shape.vertices.min(axis=0), shape.vertices.max(axis=0)


def test_a_sweep_is_made_to_size_and_smooth():
    sweep = Sweep(name="S", width_m=3.0, floor_m=2.0, bend_m=0.6, back_m=2.5)
    low, high = _box(shape_of(sweep))
    assert high - low == pytest.approx([3.0, 2.6, 2.5], abs=1e-9)
    side = sweep_profile(sweep)
    steps = np.diff(side, axis=0)
    slope = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    assert (slope[0], slope[-1]) == pytest.approx((0.0, 90.0), abs=1e-9)
    assert np.all(np.diff(slope) >= -1e-9), "it only ever bends upwards"
    assert np.max(np.diff(slope)) < 4.0, "no step of the bend can be seen"
    with pytest.raises(ValidationError, match="cannot be larger"):
        Sweep(name="S", bend_m=3.0, back_m=2.0)


@pytest.mark.parametrize("stature", [1.2, 1.75, 2.0])
def test_figures_are_as_tall_as_they_are_said_to_be(stature):
    standing, seated = (shape_of(Figure(name="F", height_m=stature, pose=pose)) for pose in ("standing", "seated"))
    assert _box(standing)[1][2] == pytest.approx(stature, abs=0.005)
    assert _box(standing)[0][2] == pytest.approx(0.0, abs=0.01)
    assert _box(seated)[1][2] < 0.9 * stature
    for shape, bodies in ((standing, 8), (seated, 12)):
        body = trimesh.Trimesh(shape.vertices, shape.faces, process=True)
        closed = body.split(only_watertight=True)
        assert len(closed) == bodies, "head, trunk and limbs are closed bodies"
        assert all(one.volume > 0 for one in closed), "their faces look outwards"
        assert np.linalg.norm(shape.normals, axis=1) == pytest.approx(np.ones(len(shape.normals)), abs=1e-6)


def test_a_panel_shines_one_way_and_is_dark_behind():
    panel = Panel(name="P", at=(0, 0, 2), tilt_deg=30.0, luminance_cd_m2=5000.0)
    shape = shape_of(panel)
    shining = [n for n, kind in enumerate(shape.face_surface) if shape.surfaces[kind].emissive[0] == 5000.0]
    corners = shape.vertices[shape.faces[shining]]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    directions = across / np.linalg.norm(across, axis=1, keepdims=True)
    assert directions == pytest.approx(np.tile([0, -np.cos(np.pi / 6), -0.5], (2, 1))), "to the south and down"
    assert 0.5 * np.linalg.norm(across, axis=1).sum() == pytest.approx(1.2 * 0.8)


def test_turning_is_clockwise_and_facing_turns_to_a_place():
    one = Figure(name="F", at=(2, 3, 0))
    assert front_of(one) == pytest.approx((2, 2.2))
    assert front_of(one.model_copy(update={"turn_deg": 90.0})) == pytest.approx((1.2, 3)), "south, then west"
    for place in [(5, 3), (2, 9), (-4, 1), (2, 0)]:
        turned = facing(one, *place)
        to, front = np.subtract(place, one.at[:2]), np.subtract(front_of(turned), one.at[:2])
        assert front / np.linalg.norm(front) == pytest.approx(to / np.linalg.norm(to), abs=2e-3)
    outline = footprint(Sweep(name="S", at=(1, 1, 0), turn_deg=180.0))
    assert outline.min(axis=0) == pytest.approx([1 - 1.36, 1 - 1.5])


def test_a_stand_in_keeps_its_height_above_the_floor_and_takes_a_free_place_and_name():
    one = new_stand_in("panel", 1, 1, 0.5, ["Light panel"])
    assert (one.name, one.at) == ("Light panel 2", (1, 1, 2.3))
    assert put_down(one, 4, 4, 0.5, 1.5).at == pytest.approx((4, 4, 3.3))
    assert put_down(one, 4, 4, 0.5, None).at == pytest.approx((4, 4, 2.3))
    assert beside_others((1.1, 1), [one]) == pytest.approx((1.9, 1))
    seated = new_stand_in("seated", 0, 0, 0, [])
    assert (seated.kind, seated.pose) == ("figure", "seated")
    point = gone_along(one, one.model_copy(update={"at": (5, 1, 2.3), "turn_deg": 90.0}), (1, 0, 2.3))
    assert point == pytest.approx((4, 1, 2.3)), "what was before it to the south is to the west now"


def test_a_stand_in_goes_with_a_corrected_set_but_keeps_its_size():
    one = Sweep(name="S", at=(2, 0, 1), turn_deg=10.0)
    change = transform_between(Placing(), Placing(metres_per_unit=0.5, turn_deg=90.0))
    moved = moved_with_set(one, change)
    assert moved.at == pytest.approx((0, -1, 0.5)), "east goes south, at half the distance"
    assert (moved.turn_deg, moved.width_m) == (pytest.approx(100.0), one.width_m)
    front = change[:2, :2] @ np.subtract(front_of(one), one.at[:2])
    assert np.subtract(front_of(moved), moved.at[:2]) == pytest.approx(2 * front, abs=1e-9)


def test_stand_ins_are_parts_of_the_set():
    arrangement = Arrangement(stand_ins=(Sweep(name="Paper"), Panel(name="Key", at=(0, -2, 2))))
    model = arranged(set_of(GROUND), arrangement)
    assert model.ids == ("Part 0", GROUP_NAME, f"{GROUP_NAME}/Paper", f"{GROUP_NAME}/Key")
    assert model.parts_at([f"{GROUP_NAME}/Key", "nothing"]) == {3}
    assert model.box_of(1)[1] == pytest.approx(np.maximum(model.box_of(2)[1], model.box_of(3)[1]))
    own = model.faces_without(frozenset({1}))
    assert own.sum() == 12, "without the group only the ground is left"
    working = WorkingSet(model)
    hit = working.rays.first(np.array([[0.0, 0.0, 3.0]]), np.array([[0.0, 0.0, -1.0]]))
    assert hit.distance[0] == pytest.approx(3.0 - 2e-4 * 2.72, abs=1e-6), "the sweep lies on the ground"
    assert arranged(set_of(GROUND), Arrangement()).parts == set_of(GROUND).parts


def test_parts_have_ids_of_their_own():
    given = [("", "House", None), ("", "Chair", 0), ("", "Chair", 0), ("", "Leg/left", 1), ("", "Chair", None)]
    assert ids_of(given) == ("House", "House/Chair", "House/Chair#2", "House/Chair/Leg∕left", "Chair")
    clash = [("", "A", None), ("", "A#2", None), ("", "A", None), ("", "A#2", None), ("", "A", None)]
    assert ids_of(clash) == ("A", "A#2", "A#3", "A#2#2", "A#4"), "a name with a number in it is nobody else's path"
    named = SetModel(np.zeros((3, 3)), np.array([[0, 1, 2]], np.int32), np.zeros(1, np.int32),
                     (Part("A", None, 0, 1, "A~11"), Part("A", None, 1, 0, "A~22"), Part("B", None, 1, 0, "own")), ())  # fmt: skip
    assert named.parts_at(["A~22", "own", "B", "A", "C"]) == {1, 2}, "by id, or by a path that only one has"


@given(
    st.lists(st.tuples(st.sampled_from(["A", "B", "A#2", "", "Stand-ins"]), st.sampled_from(["", "", "own"]), st.integers(0, 3)), min_size=1, max_size=12),
    st.randoms(use_true_random=False),
)  # fmt: skip
def test_ids_last_whatever_order_a_file_tells_its_parts_in(parts, chance):
    """Parts under one group, told as (name, own id, geometry); those alike in all three may change places."""
    once = sum(own == "own" for _, own, _ in parts) == 1
    parts = [(name, own if once else "", geometry) for name, own, geometry in parts]
    order = list(range(len(parts)))
    chance.shuffle(order)

    def ids(given):
        return lasting_ids(
            ["", *(own for _, own, _ in given)],
            [("Group", None), *((name, 0) for name, _, _ in given)],
            lambda number: str(given[number - 1][2]) if number else "all",
        )[1:]

    first, then = ids(parts), ids([parts[n] for n in order])
    assert len(set(first)) == len(first)
    of = {one: parts[n] for n, one in enumerate(first)}
    assert {one: parts[order[n]] for n, one in enumerate(then)} == of


def test_an_empty_part_has_no_box():
    empty = SetModel(np.zeros((3, 3)), np.array([[0, 1, 2]], np.int32), np.zeros(1, np.int32),
                     (Part("Group", None, 0, 0), Part("One", 0, 0, 1), Part("Hollow", None, 1, 0)), ())  # fmt: skip
    assert empty.box_of(0).shape == (2, 3)
    with pytest.raises(ValueError, match="Hollow has no faces"):
        empty.box_of(2)


def test_a_level_is_lifted_with_what_lies_on_it():
    model = set_of(slab((0, 0, -0.3), (5, 5, 0)), slab((1, 1, 0), (2, 2, 1)), slab((0, 0, 2.7), (5, 5, 3)),
                   slab((1, 1, 3), (2, 2, 4)))  # fmt: skip
    places = Places(levels=(Level(name="Upper", floor_m=3.0), Level(name="Ground", floor_m=0.0)))
    assert parts_on_level(model, places, "Ground") == [0, 1]
    assert parts_on_level(model, places, "Upper") == [2, 3]
    assert part_middles(model)[1] == pytest.approx([0, 0.5, 1])


def test_what_lies_above_the_cut_is_cut_away_exactly():
    rng = np.random.default_rng(5)
    blob = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    blob.vertices *= 1 + 0.1 * rng.normal(size=(len(blob.vertices), 1))
    for height in (-1.0, 0.0, 0.731, 1.9):
        vertices, faces, owners = cut_away(blob.vertices, blob.faces.astype(np.int32), all_above(height))
        used = vertices[faces]
        assert used[:, :, 2].max() <= height + 1e-12
        ours = trimesh.Trimesh(vertices, faces, process=False).area
        theirs = trimesh.intersections.slice_mesh_plane(blob, [0, 0, -1], [0, 0, height]).area
        assert ours == pytest.approx(theirs, rel=1e-9)
        normal = np.cross(used[:, 1] - used[:, 0], used[:, 2] - used[:, 0])
        assert (np.einsum("ij,ij->i", normal, blob.face_normals[owners]) >= -1e-12).all(), "pieces face as before"


def test_a_cutting_plane_takes_away_the_side_it_faces_whichever_way_it_lies():
    rng = np.random.default_rng(8)
    blob = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    blob.vertices *= 1 + 0.1 * rng.normal(size=(len(blob.vertices), 1))
    for _ in range(6):
        normal, point = rng.normal(size=3), rng.uniform(-0.8, 0.8, 3)
        normal /= np.linalg.norm(normal)
        plane = CuttingPlane(tuple(point), tuple(normal))
        vertices, faces, owners = cut_away(blob.vertices, blob.faces.astype(np.int32), plane)
        assert ((vertices[faces].reshape(-1, 3) - point) @ normal).max() <= 1e-9
        ours = trimesh.Trimesh(vertices, faces, process=False).area
        assert ours == pytest.approx(trimesh.intersections.slice_mesh_plane(blob, -normal, point).area, rel=1e-9)
        assert (np.bincount(owners, minlength=len(blob.faces)) <= 2).all()


def test_lifted_off_left_out_and_cut_away_are_three_things():
    """Each takes its own away; only what is lifted off rules nothing, and comes back into the whole."""
    floor, near, far = slab((-9, -9, -1), (9, 9, 0)), slab((-1, 2, 0), (1, 3, 2)), slab((-1, 5, 0), (1, 6, 2))
    model = set_of(floor, near, far)
    ahead = (np.array([[0.0, 0.0, 1.0]]), np.array([[0.0, 1.0, 0.0]]))
    first = {
        "all": (Visible(), 2.0), "lifted": (Visible(Lifted(frozenset({1}))), 5.0), "out": (Visible(left_out=frozenset({1})), 5.0),
        "both": (Visible(Lifted(frozenset({2})), frozenset({1})), np.inf),
    }  # fmt: skip
    for visible, distance in first.values():
        assert WorkingSet(model, visible).rays.first(*ahead).distance[0] == distance
    opened = as_shown(WorkingSet(model), [], CuttingPlane((0.0, 2.5, 0.0), (0.0, -1.0, 0.0)))
    assert opened.rays.first(*ahead).distance[0] == pytest.approx(2.5), "where the near one is cut open"
    both = WorkingSet(model, Visible(Lifted(frozenset({2}), 1.5), frozenset({1})))
    assert both.whole.visible == Visible(Lifted(), frozenset({1}))
    assert both.is_lifted(2, 0.5)
    assert both.is_lifted(0, 1.6)
    assert not both.is_lifted(1, 0.5), "left out is not lifted off"
    assert WorkingSet(model, Visible(left_out=frozenset({1}))).whole.visible.left_out == {1}


def test_a_set_with_its_top_lifted_off_is_seen_into_and_its_plan_stays():
    room = slab((0, 0, 0), (4, 4, 3))
    model = set_of(room)
    whole, open_above = WorkingSet(model), WorkingSet(model, Visible(Lifted(above=1.2)))
    down = (np.array([[2.0, 2.0, 9.0]]), np.array([[0.0, 0.0, -1.0]]))
    assert whole.rays.first(*down).distance[0] == pytest.approx(6.0)
    hit = open_above.rays.first(*down)
    assert hit.distance[0] == pytest.approx(9.0), "through where the ceiling was, down to the floor"
    assert open_above.part_at(int(hit.face[0])) == 0
    plans = [working.cut(plan_plane(1.2)).closed[0] for working in (whole, open_above)]
    assert np.ptp(plans[0], axis=0) == pytest.approx(np.ptp(plans[1], axis=0))


SQUARE = sides_of(WorkingSet(set_of(slab((0, 0, 0), (4, 3, 2)))).cut(plan_plane(1.0)))


@pytest.mark.parametrize(
    ("place", "last", "meant", "to"),
    [((0.05, 0.06), None, (0, 0), "corner"), ((2.0, 0.08), None, (2, 0), "wall"), ((2.0, 1.5), None, (2, 1.5), "nothing"),
     ((7.05, 1.5), (7.0, -3.0), (7.0, 1.5), "square"), ((7.5, -2.95), (7.0, -3.0), (7.5, -3.0), "square"),
     ((2.04, 0.05), (2.0, -5.0), (2.0, 0.0), "wall")],
)  # fmt: skip
def test_a_drawn_corner_catches_on_corners_then_walls_then_square_on(place, last, meant, to):
    found = snap(SQUARE, *place, 0.1, last)
    assert (found.x, found.y) == pytest.approx(meant)
    assert found.to == to


def test_snapping_where_nothing_is_cut():
    nothing = np.zeros((0, 2, 2))
    assert snap(nothing, 1, 2, 0.1).to == "nothing"
    assert snap(nothing, 1, 2.05, 0.1, (0, 2)).y == 2


def test_leftovers_are_what_floats_hides_or_lies_far_off():
    table = slab((0, 0, 0.7), (1, 1, 0.75))
    leg = slab((0.4, 0.4, 0), (0.6, 0.6, 0.7))
    cup = slab((0.2, 0.2, 0.75), (0.3, 0.3, 0.85))
    floating = slab((2, 2, 0.5), (2.2, 2.2, 0.7))
    shell = slab((4, 4, 0), (5, 5, 1))
    hidden = slab((4.3, 4.3, 0.02), (4.9, 4.9, 0.98))
    walled = [slab((4.25, 4.25, 0), (4.95, 4.29, 1)), slab((4.25, 4.91, 0), (4.95, 4.95, 1)),
              slab((4.25, 4.25, 0), (4.29, 4.95, 1)), slab((4.91, 4.25, 0), (4.95, 4.95, 1))]  # fmt: skip
    lost = slab((4000, 0, 0), (4000.2, 0.2, 0.2))
    model = set_of(GROUND, table, leg, cup, floating, shell, hidden, *walled, lost)
    found = {one.part: one for one in find_leftovers(WorkingSet(model), SetContext())}
    assert found[4].why == "floats"
    assert "50 cm of air under it" in found[4].words
    assert found[4].at == pytest.approx((2.1, 2.1, 0.6))
    assert found[11].why == "far"
    assert not {1, 2, 3} & set(found), "a table, its leg and a cup on it are where they belong"
    assert 6 not in found or found[6].why == "hidden"


def test_a_lamp_hangs_and_a_thing_indoors_belongs_to_a_room():
    ceiling = slab((-3, -3, 2.7), (3, 3, 2.9))
    flex, lamp = slab((0, 0, 2.0), (0.02, 0.02, 2.7)), slab((-0.2, -0.2, 1.8), (0.2, 0.2, 2.0))
    stool = slab((2, 2, 0), (2.4, 2.4, 0.45))
    model = set_of(GROUND, ceiling, flex, lamp, stool)
    places = Places(levels=(Level(name="G", floor_m=0),), rooms=(Room(name="R", level="G", outline=((-3, -3), (1, -3), (1, 3), (-3, 3))),))  # fmt: skip
    found = {one.part: one.why for one in find_leftovers(WorkingSet(model), SetContext(places))}
    assert 3 not in found
    assert found.get(4) == "outside"
    assert find_leftovers(WorkingSet(set_of(GROUND)), SetContext()) == []


def test_the_body_is_the_house_without_the_ground_and_whatever_is_finest():
    walls = [slab((0, 0, 0), (9, 0.2, 5)), slab((0, 6.8, 0), (9, 7, 5)), slab((0, 0, 0), (0.2, 7, 5)), slab((8.8, 0, 0), (9, 7, 5))]  # fmt: skip
    vase = trimesh.creation.icosphere(5, 0.15)
    vase.apply_translation((3, 5, 0.9))
    field = slab((-40, -30, -3), (50, 40, 0)).subdivide().subdivide().subdivide()
    low, high = body_box(set_of(field, *walls, vase))
    assert low == pytest.approx((0, 0, 0), abs=0.01)
    assert high == pytest.approx((9, 7, 5), abs=0.01)


def test_the_body_of_a_shed_is_the_whole_shed_whichever_axis_is_up():
    shed = [
        slab((0, 0, -0.1), (4, 3, 0)), slab((0, 0, 2.5), (4, 3, 2.6)), slab((0, 0, 0), (4, 0.1, 2.5)),
        slab((0, 2.9, 0), (4, 3, 2.5)), slab((1, 1, 0), (1.9, 1.6, 0.7)),
    ]  # fmt: skip
    low, high = body_box(set_of(*shed))
    assert (low[:2], high[:2]) == (pytest.approx((0, 0)), pytest.approx((4, 3)))
    for part in shed:
        part.vertices[:, 1:] = part.vertices[:, [2, 1]] * (1, -1)
    low, high = body_box(set_of(*shed), up=1)
    assert (low[[0, 2]], high[[0, 2]]) == (pytest.approx((0, -3)), pytest.approx((4, 0)))


def test_a_set_of_ground_alone_or_in_one_piece_has_a_body_too():
    low, high = body_box(set_of(GROUND))
    assert (low <= high).all()
    assert high[0] - low[0] == pytest.approx(20)
    one = trimesh.creation.icosphere(4, 1.0)
    low, high = body_box(set_of(one))
    assert (np.abs(np.r_[low, high]) > 0.9).all()


def test_a_new_stand_in_stands_free_before_the_viewer_and_faces_them():
    room = WorkingSet(set_of(GROUND, slab((3, -4, 0), (3.2, 4, 3)), slab((2.2, -0.4, 0), (2.9, 0.4, 0.5))))
    wanted = new_stand_in("standing", 3.0, 0.0, 0.0, [])
    put = put_before(wanted, (-3.0, 0.0, 1.6), room)
    assert front_of(put)[0] < put.at[0], "it faces the viewer in the west"
    corners = footprint(put)
    assert corners[:, 0].max() <= 2.2, "not in the wall, and not in the box before it"
    assert corners[:, 0].max() > 2.2 - 0.11, "no nearer than it needs to"
    assert put.at[1] == pytest.approx(0.0, abs=1e-6)
    assert put.at[2] == pytest.approx(0.0)
    free = put_before(new_stand_in("standing", 0.0, 0.0, 0.0, []), (-3.0, 0.0, 1.6), room)
    assert free.at == (0.0, 0.0, 0.0)
    narrow = WorkingSet(set_of(GROUND, slab((-4, 0.8, 0), (4, 1, 3)), slab((-4, -1, 0), (4, -0.8, 3))))
    sweep = new_stand_in("sweep", 1.0, 0.0, 0.0, [])
    assert put_before(sweep, (-3.0, 0.0, 1.6), narrow).at == sweep.at, "free nowhere: it stays"


def test_before_the_viewer_a_stand_in_goes_down_to_the_floor_that_is_there():
    stepped = WorkingSet(set_of(GROUND, slab((-0.5, -4, 0), (4, 4, 0.4)), slab((3, -4, 0), (3.2, 4, 3))))
    on_the_step = put_before(new_stand_in("standing", 3.0, 0.0, 0.4, []), (-4.0, 0.0, 1.6), stepped)
    assert on_the_step.at[2] == pytest.approx(0.4)
    assert on_the_step.at[0] < 3


@pytest.mark.parametrize("above", [0.4, 1.2])
def test_all_above_a_height_is_lifted_and_nothing_below(above):
    working = WorkingSet(set_of(GROUND, slab((0, 0, 0), (1, 1, 2.4))), Visible(Lifted(frozenset(), above)))
    assert working.vertices[np.unique(working.faces)][:, 2].max() == pytest.approx(above)
    assert working.rays.distances(np.array([[0.5, 0.5, above - 0.1]]), np.array([[0.0, 0.0, 1.0]]))[0] == np.inf
    assert working.rays.distances(np.array([[0.5, -1.0, above - 0.1]]), np.array([[0.0, 1.0, 0.0]]))[
        0
    ] == pytest.approx(1.0)
