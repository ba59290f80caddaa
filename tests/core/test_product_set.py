"""A product set is a set like any other: a ring, things on a table, things as large as a car."""

import numpy as np
import pytest
import trimesh
from tests.conftest import set_of, slab

from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.new_shot import new_shot_in_plan
from zevlo.core.framing.placing_habits import Habits, by_size, heights_for
from zevlo.core.framing.scout import LookAtPart, Scout, ShowAll, View, WithSet, followed, scout_near, scout_view
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.stand.placing import AimTo
from zevlo.core.refused import Refused
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.model.placing import Placing, placed
from zevlo.core.scene.model.set_model import Part, SetModel
from zevlo.core.scene.model.support_plane import part_boxes, stood_on
from zevlo.core.scene.model.unit_guess import guess_unit, guess_up
from zevlo.core.scene.stand_ins.made import Panel, footprint, put_on, sweep_under
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.pose import resolve


def cylinder(radius, height, x, y):
    return trimesh.creation.cylinder(radius, height, sections=24).apply_translation((x, y, height / 2))


def things(scale=1.0):
    """Six made-up things, 40 cm across, standing on z = 0."""
    meshes = [
        cylinder(0.07, 0.14, 0, 0), cylinder(0.04, 0.08, -0.16, -0.05), cylinder(0.04, 0.08, 0.15, -0.08),
        cylinder(0.07, 0.06, 0.08, 0.12), cylinder(0.045, 0.16, -0.1, 0.11), slab((-0.05, -0.2, 0), (0.1, -0.185, 0.006)),
    ]  # fmt: skip
    names = ["Teapot", "Cup_left", "Cup_right", "Bowl", "Jar", "Spoon"]
    model = set_of(*[mesh.apply_scale(scale) for mesh in meshes])
    parts = tuple(
        Part(name, None, part.first_face, part.face_count) for name, part in zip(names, model.parts, strict=True)
    )
    return SetModel(model.vertices, model.faces, model.face_material, parts, model.materials)


def in_file(model, up):
    """The set as a file with another axis up would have it."""
    return (
        model
        if up == "z"
        else SetModel(
            model.vertices[:, [0, 2, 1]] * [1, 1, -1], model.faces, model.face_material, model.parts, model.materials
        )
    )


@pytest.mark.parametrize("up", ["y", "z"])
@pytest.mark.parametrize("otherwise", ["y", "z"])
@pytest.mark.parametrize(
    ("unit", "per_metre"), [("m", 1), ("cm", 100), ("mm", 1000), ("in", 1 / 0.0254), ("ft", 1 / 0.3048)]
)
def test_up_axis_and_unit_are_guessed_by_what_things_stand_on_and_are_called(up, otherwise, unit, per_metre):
    model = in_file(things(per_metre), up)
    assert guess_up(model, otherwise) == up
    assert guess_unit(model, up, "m") == unit
    assert guess_unit(model, up, "mm") == unit


def test_nameless_things_are_guessed_by_their_whole_and_a_door_still_decides():
    nameless = set_of(slab((0, 0, 0), (43, 40, 16)), slab((5, 5, 0), (9, 9, 8)))
    assert guess_unit(nameless, "z", "m") == "m", "43 m may be a house: one step corrects it"
    nameless = set_of(slab((0, 0, 0), (43, 40, 2.1)), slab((5, 5, 0), (9, 9, 8)))
    door = SetModel(nameless.vertices, nameless.faces, nameless.face_material,
                    (Part("Door", None, 0, 12), Part("Cup", None, 12, 12)), nameless.materials)  # fmt: skip
    assert guess_unit(door, "z", "m") == "m"


def test_what_many_parts_share_as_their_lowest_plane_is_what_they_stand_on():
    boxes = part_boxes(things())
    plane = stood_on(boxes, 2)
    assert (plane.height, plane.share) == (pytest.approx(0.0, abs=1e-9), 1.0)
    assert stood_on(boxes, 1).share < 0.5
    assert stood_on(boxes[:2], 2) is None
    assert stood_on(part_boxes(placed(things(), Placing(moved_m=(0, 0, 7.5)))), 2).height == pytest.approx(7.5)


def test_without_a_floor_the_floor_is_what_things_stand_on():
    working = WorkingSet(placed(things(), Placing(moved_m=(3, 0, 0.75))))
    assert working.floor_under(np.array([3.0, -1.0, 1.2])) == pytest.approx(0.75)
    assert working.floor_under(np.array([3.0, -1.0, 0.2])) is None, "below it"
    assert solve(
        Shot(stand=Stand(position=(3, -1, 1.0), aim=(3, 0, 0.8))), working
    ).pose.above_floor_m == pytest.approx(0.25)
    grounded = WorkingSet(
        set_of(
            slab((-5, -5, -0.2), (5, 5, 0)),
            cylinder(0.1, 0.2, 0, 0),
            cylinder(0.1, 0.2, 1, 0),
            cylinder(0.1, 0.2, 0, 1),
        )
    )
    assert grounded.floor_under(np.array([9.0, 9.0, 1.0])) is None, "a set with a ground ends where that ends"


@pytest.mark.parametrize("scale", [0.06, 1.0, 3.0])
def test_a_new_shot_in_plan_sees_the_thing(scale):
    """A ring of 2.5 cm, a table's things, things of over a metre: the lens a little over the top, the aim at the middle."""
    working = WorkingSet(things(scale))
    shot = new_shot_in_plan(Shot(), working, (0.0, -1.2 * scale), (0.0, 0.0), 1.2, Habits())
    top, middle = 0.16 * scale, 0.08 * scale
    assert top < shot.stand.position[2] < 3 * top
    assert shot.stand.aim[2] == pytest.approx(middle)
    assert shot.lens.near_m < 0.2 * resolve(shot.stand).aim_distance
    hit = working.rays.first(np.array([shot.stand.position]), resolve(shot.stand).forward[None])
    assert hit.distance[0] < 1.5 * scale
    assert shot.focus.distance_m == pytest.approx(
        max(float(hit.distance[0]), shot.lens.focal_length_mm * 0.0011), rel=1e-6
    )


def test_heights_a_hand_chose_stay_and_a_room_has_the_usual_ones():
    small, room = np.array([[0, 0, 0], [0.4, 0.4, 0.2]]), np.array([[0, 0, 0], [4, 3, 2.6]])
    assert by_size(Habits(), small)
    assert not by_size(Habits(), room)
    assert not by_size(Habits(lens_m=0.5), small)
    assert heights_for(Habits(), room, 0.0) == Habits()
    assert heights_for(Habits(lens_m=0.5), small, 0.0).lens_m == 0.5
    raised = heights_for(Habits(), small + [0, 0, 0.75], 0.75)
    assert (raised.lens_m, raised.aim_m) == (pytest.approx(0.34), pytest.approx(0.1))


def test_a_focus_that_hits_nothing_falls_on_the_aim():
    working = WorkingSet(things())
    shot = new_shot_in_plan(Shot(), working, (0.3, -0.5), (0.3, 0.4), 1.2, Habits())
    assert np.isinf(working.rays.first(np.array([shot.stand.position]), resolve(shot.stand).forward[None]).distance[0])
    assert shot.focus.distance_m == pytest.approx(resolve(shot.stand).aim_distance)


@pytest.mark.parametrize("scale", [0.06, 1.0, 9.0])
def test_a_sweep_comes_under_its_subject_turned_to_the_viewer_and_as_wide_as_it_needs(scale):
    box = WorkingSet(things(scale)).body
    sweep = sweep_under(box, (-2.0 * scale, -2.0 * scale), "Sweep", "ab")
    assert sweep.at == pytest.approx((*box.mean(axis=0)[:2], box[0, 2]), abs=1e-9)
    size = float((box[1] - box[0])[:2].max())
    assert 3 * size < sweep.width_m < 8 * size
    assert sweep.floor_m > 2 * size
    assert sweep.back_m > 2 * (box[1, 2] - box[0, 2])
    opening = np.array(footprint(sweep))[:2].mean(axis=0) - np.array(sweep.at[:2])
    assert opening / np.linalg.norm(opening) == pytest.approx([-(0.5**0.5), -(0.5**0.5)], abs=0.03)
    whole = WorkingSet(arranged(things(scale), Arrangement(stand_ins=(sweep,))))
    assert whole.body == pytest.approx(box), "a stand-in is not what a set is about"
    assert whole.floor_under(np.array([0.0, -0.9 * size, scale])) == pytest.approx(box[0, 2], abs=0.004)


def test_any_size_of_subject_makes_a_sweep_there_can_be():
    for size in (1e-4, 1e-2, 1.0, 30.0, 5000.0):
        box = np.array([[0, 0, 0], [size, size, size]])
        sweep = sweep_under(box, (0.0, -size), "S")
        assert sweep.bend_m <= sweep.back_m
        assert put_on(sweep, (1, 2, 3)).at == (1, 2, 3)
    assert put_on(Panel(name="P", height_m=0.5), (1, 2, 3)).at == (1, 2, 3.5)


def _scout(stand, gesture, working, placing=None, focal=28.0):
    width, height, _ = scout_view(Scout(stand=stand, focal_length_mm=focal), 1.5, None)
    return followed(stand, gesture, View(working, placing or Placing(), width, height)), width, height


@pytest.mark.parametrize("scale", [0.06, 1.0, 9.0, 500.0])
@pytest.mark.parametrize("away", [0.3, 57.0])
def test_show_all_shows_all_from_wherever_one_is(scale, away):
    working = WorkingSet(things(scale))
    start = Stand(position=(away, -away, away / 3), aim=(away + 1, -away, 0))
    there, width, height = _scout(start, ShowAll(), working)
    pose = resolve(there)
    corners = np.array([[x, y, z] for x in working.body[:, 0] for y in working.body[:, 1] for z in working.body[:, 2]])
    away_from = corners - pose.position
    depth = away_from @ pose.forward
    across, upright = (away_from @ pose.right) / depth / (width / 2), (away_from @ pose.up) / depth / (height / 2)
    assert (depth > scout_near(there)).all()
    assert max(np.abs(across).max(), np.abs(upright).max()) < 1.0
    assert max(np.ptp(across), np.ptp(upright)) > 0.5, "not as a dot"
    assert pose.heading_deg == pytest.approx(resolve(start).heading_deg, abs=1e-6)


def test_go_to_a_part_and_to_none():
    working = WorkingSet(things())
    there, _, _ = _scout(Stand(position=(50, 0, 5), aim=(51, 0, 5)), LookAtPart(part="Jar"), working)
    assert there.aim == pytest.approx((-0.1, 0.11, 0.08), abs=1e-6)
    assert resolve(there).aim_distance < 0.6
    with pytest.raises(Refused, match="not in the set"):
        _scout(Stand(), LookAtPart(part="Kettle"), working)


def test_the_scout_view_goes_along_when_the_unit_is_corrected_and_looks_anew_when_another_side_is_up():
    before, after = Placing(metres_per_unit=1.0), Placing(metres_per_unit=0.01, turn_deg=90.0)
    stand = Stand(position=(40, -60, 30), aim=(0, 0, 8))
    there, _, _ = _scout(stand, WithSet(before=before), WorkingSet(things()), after)
    assert there.position == pytest.approx((-0.6, -0.4, 0.3))
    assert there.aim == pytest.approx((0, 0, 0.08))
    upended, _, _ = _scout(stand, WithSet(before=Placing(up="y")), WorkingSet(things()), Placing(up="z"))
    assert resolve(upended).roll_deg == 0.0
    assert resolve(upended).aim_distance < 3.0


def test_near_things_are_gone_up_to_closely():
    shot = Shot(stand=Stand(position=(0, -0.2, 0.1), aim=(0, 0, 0.1)))
    near = apply_gesture(shot, AimTo(x=0.0, y=-0.17), WorkingSet(things()))
    assert near.stand.aim[:2] == (0.0, -0.17), "three centimetres before the lens"


@pytest.mark.parametrize("up", ["y", "z"])
def test_a_scanned_ground_lies_flat_whatever_stands_on_it(up):
    """Rough as scans are, so that no two of its heights are alike, with one exact wall: thin and wide is lying."""
    rng = np.random.default_rng(5)
    x, y = np.meshgrid(np.linspace(0, 40, 60), np.linspace(0, 30, 50))
    ground = np.stack([x.ravel(), y.ravel(), rng.uniform(-0.4, 0.4, x.size) + 0.02 * x.ravel()], axis=1)
    at = np.arange(x.size).reshape(x.shape)
    quads = np.stack([at[:-1, :-1], at[:-1, 1:], at[1:, 1:], at[1:, :-1]], axis=-1).reshape(-1, 4)
    scan = trimesh.Trimesh(ground, np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]), process=False)
    model = set_of(trimesh.util.concatenate([scan, slab((0, 29.9, 0), (40, 30, 4))]))
    assert guess_up(in_file(model, up), "y" if up == "z" else "z") == up
