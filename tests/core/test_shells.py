"""What a cut closes round: solid, hollow, or the air of what was modelled or scanned from within."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
import trimesh
from tests.conftest import set_of, slab

from zevlo.core.documents.plan import band_behind
from zevlo.core.scene.cuts.cut import elevation_plane, plan_plane
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.places.levels import Level, signed_area
from zevlo.core.scene.places.rooms import propose_rooms
from zevlo.core.scene.working import WorkingSet

PLAN = plan_plane(1.2)
ROOM = slab((0, 0, 0), (6, 4, 2.7))
BLOCK = slab((-3, -3, 0), (9, 7, 9))


def inwards(mesh: trimesh.Trimesh) -> trimesh.Trimesh:
    turned = mesh.copy()
    turned.invert()
    return turned


def without_lid(mesh: trimesh.Trimesh) -> trimesh.Trimesh:
    """Its walls alone, as a scan has them."""
    upright = np.abs(mesh.face_normals[:, 2]) < 0.5
    return trimesh.Trimesh(mesh.vertices, mesh.faces[upright], process=False)


def cut(*meshes, plane=PLAN):
    return WorkingSet(set_of(*meshes)).cut(plane)


def filled(found) -> shapely.Geometry:
    """What the nonzero rule fills."""
    area = shapely.Polygon()
    for ring in sorted(found.closed, key=lambda ring: -abs(signed_area(ring))):
        other = shapely.Polygon(ring)
        area = area.union(other) if signed_area(ring) < 0.0 else area.difference(other)
    return area


@pytest.mark.parametrize("plane", [PLAN, elevation_plane(2.0)], ids=["plan", "section"])
@pytest.mark.parametrize("far", [0.0, 3.0e5])
def test_a_room_modelled_from_within_is_no_solid_block(plane, far):
    """Its outline is a line, from where it begins back to there, with what is solid to its right."""
    room = inwards(ROOM).apply_translation([far, 0, 0])
    table = slab((far + 1, 1, 0), (far + 2, 3, 1.5))
    found = cut(room, table, plane=plane)
    assert filled(found).area == pytest.approx(2.0 if plane is PLAN else 1.5)
    (line,) = found.open
    assert line[0] == pytest.approx(line[-1])
    assert signed_area(line[:-1]) == pytest.approx(24.0 if plane is PLAN else 16.2)
    (outer, hollow) = sorted(
        map(shapely.Polygon, band_behind(1000.0 * (line - line.min(axis=0)) / 100)), key=lambda ring: -ring.area
    )
    assert hollow.area == pytest.approx(2400.0 if plane is PLAN else 1620.0)
    assert outer.contains(hollow), "the band lies round it"


@pytest.mark.parametrize("plane", [PLAN, elevation_plane(2.0)], ids=["plan", "section"])
@pytest.mark.parametrize("wall", range(4))
def test_a_cupboard_on_a_wall_of_a_room_leaves_it_a_room(plane, wall):
    """In the middle of each side of its outline, where a place within would be looked for."""
    box = [((2, 0, 0), (4, 4, 0.5)), ((2, 0, 2.2), (4, 4, 2.7)), ((0, 1, 1), (0.5, 3, 2)), ((5.5, 1, 1), (6, 3, 2))]
    if plane is PLAN:
        box = [((2, 0, 0), (4, 0.5, 2)), ((2, 3.5, 0), (4, 4, 2)), ((0, 1, 0), (0.5, 3, 2)), ((5.5, 1, 0), (6, 3, 2))]
    found = cut(inwards(ROOM), slab(*box[wall]), plane=plane)
    assert (len(found.closed), len(found.open)) == (1, 1)
    assert filled(found).area == pytest.approx(0.5 if plane is not PLAN and wall > 1 else 1.0)


def test_a_courtyard_is_open_however_it_was_scanned():
    court = inwards(ROOM)
    for walls in (without_lid(court), court):
        assert filled(cut(walls)).area == 0.0
        assert filled(cut(BLOCK, walls)).area == pytest.approx(120 - 24), "a hollow in the block around it"
        assert filled(cut(without_lid(BLOCK), walls)).area == pytest.approx(120 - 24)
        fountain = trimesh.creation.cylinder(1.0, 3.0).apply_translation([3, 2, 1.5])
        assert filled(cut(walls, fountain)).area == pytest.approx(np.pi, rel=0.02)


def test_a_house_whose_faces_all_look_the_wrong_way_is_drawn_as_one_that_is_sound():
    house = [slab((0, 0, 0), (10, 8, 3)), inwards(slab((0.3, 0.3, 0.1), (9.7, 7.7, 2.9)))]
    sound, wrong = cut(*house), cut(*map(inwards, house))
    assert filled(sound).area == pytest.approx(80 - 9.4 * 7.4)
    assert (len(wrong.closed), len(wrong.open)) == (2, 0)
    assert filled(replace(wrong, points=wrong.points[:, ::-1])).area == pytest.approx(filled(sound).area)


def test_hills_are_solid_and_hollows_in_the_ground_are_not():
    """A surface over a grid, with nothing under it."""
    x, y = np.meshgrid(np.linspace(-10, 10, 81), np.linspace(-10, 10, 81), indexing="ij")
    hill = 4.0 * np.exp(-((x + 4) ** 2 + y**2) / 6) - 4.0 * np.exp(-((x - 4) ** 2 + y**2) / 6)
    points = np.stack([x, y, hill], axis=-1).reshape(-1, 3)
    a = (np.arange(80)[:, None] * 81 + np.arange(80)).ravel()
    faces = np.concatenate([np.stack([a, a + 81, a + 82], axis=1), np.stack([a, a + 82, a + 1], axis=1)])
    ground = trimesh.Trimesh(points, faces, process=False)
    assert ground.face_normals[:, 2].min() > 0.0
    high, deep = cut(ground, plane=plan_plane(2.0)), cut(ground, plane=plan_plane(-2.0))
    assert (len(high.closed), len(high.open)) == (1, 0)
    assert (len(deep.closed), len(deep.open)) == (0, 1)
    along = cut(ground, plane=elevation_plane(0.05))
    (surface,) = along.open
    (band,) = band_behind(surface)
    assert shapely.Polygon(band).contains(shapely.Point(-9.0, -0.5)), "under the ground"
    assert not shapely.Polygon(band).contains(shapely.Point(-9.0, 0.5))


def test_a_leaf_has_no_band():
    assert band_behind(np.array([[0.0, 0.0], [2.0, 1.0]])) == []
    assert len(band_behind(np.array([[0.0, 0.0], [20.0, 1.0]]))) == 1


def test_many_outlines_are_told_apart_as_one_would_be():
    """A house of 12 rooms in one block, with a thing in each, beside a scanned court."""
    rooms = [
        inwards(slab((x, y, 0.1), (x + 3.8, y + 3.8, 2.9)))
        for x in np.arange(0.1, 16, 4)
        for y in np.arange(0.1, 12, 4)
    ]
    things = [slab((x, y, 0.1), (x + 0.5, y + 0.5, 2)) for x in np.arange(1, 16, 4) for y in np.arange(1, 12, 4)]
    found = cut(slab((0, 0, 0), (16, 12, 3)), *rooms, *things, inwards(ROOM.copy().apply_translation([20, 0, 0])))
    assert filled(found).area == pytest.approx(16 * 12 - 12 * 3.8**2 + 12 * 0.25)
    assert [abs(signed_area(line[:-1])) for line in found.open] == pytest.approx([24.0])


def test_a_room_modelled_from_within_is_found_as_a_room():
    model: SetModel = set_of(inwards(ROOM))
    (room,) = propose_rooms(WorkingSet(model), Level(name="Ground", floor_m=0.0))
    assert abs(signed_area(np.array(room.outline))) == pytest.approx(24.0, rel=0.02)
