"""A set opened for one shot: what is cut is closed, nothing is left of what was taken away, and all see the same."""

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.drawing import FAN_RAYS, fans
from zevlo.core.camera.from_shot import Framing, camera_of, cutting_of
from zevlo.core.camera.picking import seen_in
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.differences import differences
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.opening.cutting_plane import CutAtWall, CuttingFlip, CuttingLine, CuttingTo, StandBehind
from zevlo.core.refused import Refused
from zevlo.core.scene.as_shown import as_shown
from zevlo.core.scene.model.visible import CuttingPlane
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Focus, Lens, Shot, Stand


def room():
    """A room of 6 × 4 × 2.6 m with walls of 0.2 m, a post in it, a hollow cupboard and a picture without thickness."""
    cupboard = trimesh.creation.box(bounds=[(4, 3, 0.001), (5, 3.9, 1.5)])
    hollow = trimesh.creation.box(bounds=[(4.1, 3.1, 0.1), (4.9, 3.8, 1.4)])
    hollow.invert()
    sheet = trimesh.Trimesh([(1, 3.5, 1), (2, 3.5, 1), (2, 3.5, 2), (1, 3.5, 2)], [(0, 1, 2), (0, 2, 3)])
    # A millimetre apart, so that no two faces lie in one place.
    return set_of(
        slab((0.001, 0.001, -0.2), (5.999, 3.999, 0)), slab((-0.2, -0.2, 0), (6.2, 0, 2.6)), slab((-0.2, 4, 0), (6.2, 4.2, 2.6)),
        slab((-0.2, 0.001, 0), (0, 3.999, 2.6)), slab((6, 0.001, 0), (6.2, 3.999, 2.6)), slab((2.9, 1.9, 0.001), (3.1, 2.1, 2.6)),
        trimesh.util.concatenate([cupboard, hollow]), sheet,
    )  # fmt: skip


ROOM = WorkingSet(room())
FLOOR, SOUTH, NORTH, WEST, EAST, POST, CUPBOARD, SHEET = range(8)
OUTSIDE = Shot(
    stand=Stand(position=(3, -4, 1.4), aim=(3, 2, 1.4)), lens=Lens(focal_length_mm=24), focus=Focus(distance_m=4)
)


def through(shot, point, normal):
    return shot.with_groups(
        lens=Lens.model_validate({**shot.lens.model_dump(), "cutting_plane": {"point": point, "normal": normal}})
    )


OPEN = through(OUTSIDE, (0, 1, 0), (0, -2, 0))


def parts_named():
    return [part.name for part in ROOM.model.parts]


def area_of(cap, part):
    own = cap.triangles[cap.parts == part]
    a, b, c = (cap.points[own[:, corner]] for corner in range(3))
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)


def test_what_is_cut_is_closed():
    cap = ROOM.cap(CuttingPlane((0, 0, 1.2), (0, 0, 1)))
    assert area_of(cap, SOUTH) == pytest.approx(6.4 * 0.2)
    assert area_of(cap, POST) == pytest.approx(0.04)
    assert area_of(cap, CUPBOARD) == pytest.approx(0.9 - 0.8 * 0.7), "a hollow stays hollow"
    assert area_of(cap, FLOOR) == 0
    assert cap.open_lines == 1, "the picture has no thickness and stays open"
    faces = cap.points[cap.triangles]
    assert (np.cross(faces[:, 1] - faces[:, 0], faces[:, 2] - faces[:, 0]) @ [0, 0, 1] > 0).all(), (
        "they face what was taken away"
    )
    assert POST not in cap.without([POST]).parts


def test_a_thing_in_a_hollow_is_solid_again():
    boxes = [trimesh.creation.box(extents=[side] * 3) for side in (4.0, 3.0, 2.0, 1.0)]
    for box in boxes[1::2]:
        box.invert()
    cap = WorkingSet(set_of(trimesh.util.concatenate(boxes))).cap(CuttingPlane((0, 0, 0.1), (0, 0, 1)))
    assert area_of(cap, 0) == pytest.approx(16 - 9 + 4 - 1)


def test_a_room_of_faces_that_look_inwards_is_not_walled_up():
    room = trimesh.creation.box(extents=[4, 4, 3])
    room.invert()
    cap = WorkingSet(set_of(room)).cap(CuttingPlane((0, 0, 0.1), (0, 0, 1)))
    assert (len(cap.triangles), cap.open_lines) == (0, 1)


@given(seed=st.integers(0, 10**6))
@settings(max_examples=40, deadline=None)
def test_the_cap_is_what_the_plane_cuts(seed):
    """Against trimesh's section, filled by shapely."""
    rng = np.random.default_rng(seed)
    ball = trimesh.creation.icosphere(subdivisions=2, radius=1.3)
    ball.vertices *= 1 + 0.25 * np.sin(3 * ball.vertices[:, [1, 2, 0]])
    normal = rng.normal(size=3)
    normal /= np.linalg.norm(normal)
    point = rng.uniform(-0.8, 0.8, 3)
    cap = WorkingSet(set_of(ball)).cap(CuttingPlane(tuple(point), tuple(normal)))
    lines = trimesh.intersections.mesh_plane(ball, normal, point)
    to_paper = trimesh.geometry.plane_transform(point, normal)
    flat = trimesh.transform_points(lines.reshape(-1, 3), to_paper)[:, :2].reshape(-1, 2, 2)
    expected = sum(one.area for one in shapely.polygonize(shapely.set_precision(shapely.linestrings(flat), 1e-7)).geoms)
    assert (area_of(cap, 0) if len(cap.parts) else 0.0) == pytest.approx(expected, rel=2e-3, abs=2e-4)


@pytest.mark.parametrize("law", lenses())
@given(seed=st.integers(0, 10**6))
@settings(max_examples=60, deadline=None)
def test_picks_see_what_the_opened_set_shows(law, seed):
    """What looks through a plane at the whole set, and what looks at the set as it is opened, is one and the same."""
    rng = np.random.default_rng(seed)
    place, away = rng.uniform([-1, -4, 0.3], [7, 5, 2.4]), rng.normal(size=3) * [1, 1, 0.4]
    shot = Shot(
        stand=Stand(position=tuple(place), aim=tuple(place + away)),
        lens=Lens(**lenses()[law], focal_length_mm=18, near_m=0.05),
        focus=Focus(distance_m=4),
    )
    normal = NORMALS[rng.integers(len(NORMALS))]
    shot = through(shot, tuple(rng.uniform([0, 0, 0.2], [6, 4, 2])), normal)
    shown = as_shown(ROOM, (), cutting_of(shot))
    for x, y in rng.uniform(0, 1, (8, 2)).tolist():
        rays = camera_of(shot).whole.rays(np.array([[x, y]]))
        hit = shown.rays.first(rays.starts, rays.directions)
        seen = seen_in(Framing(shot, ROOM), x, y)
        if not rays.sees[0] or not np.isfinite(hit.distance[0]):
            assert seen is None
            continue
        at = (rays.starts + hit.distance * rays.directions)[0]
        assert seen is not None
        assert seen.at == pytest.approx(at, abs=2e-3)
        assert seen.part == shown.part_at(int(hit.face[0]))


NORMALS = [(0, -1, 0), (0, 1, 0), (1, 0, 0), (0, 0, 1), (0.6, -0.8, 0), (0.5, 0.5, 0.7)]


def test_nothing_is_left_of_what_was_taken_away():
    shown = as_shown(ROOM, (), cutting_of(OPEN))
    used = np.unique(shown.faces)
    assert shown.vertices[used, 1].min() >= 1.0 - 1e-9
    assert [part.name for part in shown.model.parts] == parts_named()
    assert shown.model.ids == ROOM.model.ids, "whatever is said of a part goes on being said of it"
    cut = shown.model.face_material == len(shown.model.materials) - 1
    assert {shown.part_at(int(face)) for face in np.flatnonzero(cut)} == {FLOOR, WEST, EAST}
    everything = as_shown(ROOM, (), CuttingPlane((0, -90, 0), (0, 1, 0)))
    assert not np.isfinite(everything.rays.first(np.array([[3.0, -4, 1.4]]), np.array([[0.0, 1, 0]])).distance).any()


def test_left_out_and_opened_at_once():
    gone = OPEN.model_copy(update={"left_out": (ROOM.model.ids[WEST],)})
    shown = as_shown(ROOM, gone.left_out, cutting_of(gone))
    assert WEST not in {shown.part_at(int(face)) for face in range(len(shown.faces))}
    assert WEST not in _capped(gone)
    assert WEST in _capped(OPEN)


def _capped(shot):
    sheet = solve(shot, ROOM).drawings.cap
    points = np.array(sheet.points).reshape(-1, 3)[np.array(sheet.triangles).reshape(-1, 3)].mean(axis=1)
    return {WEST for point in points if point[0] < 0 and point[2] > 0}


def test_the_wedge_is_seen_through_the_wall_that_is_not_there():
    section = fans(camera_of(OPEN), ROOM, 50.0)[1]
    # The post stands in the way at 5.9 m; the south wall, at 3.8, does not.
    assert section.seen[FAN_RAYS // 2] == pytest.approx(5.9, abs=0.01)
    assert fans(camera_of(OUTSIDE), ROOM, 50.0)[1].seen[FAN_RAYS // 2] == pytest.approx(3.8, abs=0.01)
    before_post = through(OUTSIDE, (0, 2, 0), (0, -1, 0))
    assert fans(camera_of(before_post), ROOM, 50.0)[1].seen[FAN_RAYS // 2] == pytest.approx(6.0, abs=0.01), (
        "its cut face"
    )
    assert seen_in(Framing(before_post, ROOM), 0.5, 0.5).part == POST
    probes = through(
        OUTSIDE.with_groups(focus=Focus(distance_m=4, probes=((3, 0.5, 1.4), (3, 1.5, 1.4)))), (0, 1, 0), (0, -1, 0)
    )
    assert [probe.in_frame for probe in solve(probes, ROOM).focus.probes] == [False, True]


def test_a_wall_that_is_pressed_is_gone():
    after = apply_gesture(OUTSIDE, CutAtWall(x=0.5, y=0.5), ROOM)
    assert cutting_of(after).normal == (0, -1, 0)
    assert 0.0 < cutting_of(after).point[1] < 0.01, "just behind its far side"
    assert seen_in(Framing(after, ROOM), 0.5, 0.5).part == POST
    assert [one.words for one in differences(OUTSIDE, after)] == ["the set opened"]
    with pytest.raises(Refused, match="sky"):
        apply_gesture(OUTSIDE, CutAtWall(x=0.5, y=1.0), ROOM)
    sheet = Shot(stand=Stand(position=(1.5, 1, 1.5), aim=(1.5, 3, 1.5)))
    opened = apply_gesture(sheet, CutAtWall(x=0.5, y=0.5), ROOM)
    assert cutting_of(opened).point[1] == pytest.approx(3.501), "a sheet has no other side"


def test_a_wall_that_others_touch_is_gone_whole():
    """Faces that lie in one place: an inner wall begins where the outer one ends, as walls do."""
    touching = WorkingSet(
        set_of(slab((0, 0, 0), (6, 0.3, 3)), slab((2.9, 0.3, 0), (3.1, 4, 3)), slab((0, 0.3, 0), (6, 4, 0.2)))
    )
    after = apply_gesture(OUTSIDE, CutAtWall(x=0.5, y=0.5), touching)
    assert cutting_of(after).point[1] == pytest.approx(0.301, abs=1e-4)


def test_standing_where_a_wall_is():
    inside = Shot(
        stand=Stand(position=(0.5, 2, 1.5), aim=(0.5, 0, 1.2)), lens=Lens(focal_length_mm=24), focus=Focus(distance_m=2)
    )
    after = apply_gesture(inside, StandBehind(x=0.5, y=0.5, distance_m=1.8), ROOM)
    assert after.stand.position == pytest.approx((0.5, -1.8, 1.5), abs=1e-6)
    assert after.stand.aim[1] > 0
    assert after.stand.aim[2] == after.stand.position[2]
    assert seen_in(Framing(after, ROOM), 0.5, 0.5).part == NORTH, "through the wall it looks at the far one"
    with pytest.raises(Refused, match="floor or a ceiling"):
        apply_gesture(Shot(stand=Stand(position=(1, 2, 1.5), aim=(1.1, 2, 0))), StandBehind(x=0.5, y=0.5), ROOM)


@pytest.mark.parametrize("drawing", ["plan", "section"])
def test_a_line_on_a_drawing_opens_the_set(drawing):
    along = ((0, 1), (5, 1)) if drawing == "plan" else ((5, 0), (5, 2))
    after = apply_gesture(OUTSIDE, CuttingLine(drawing=drawing, start=along[0], end=along[1]), ROOM)
    assert cutting_of(after).normal == pytest.approx((0, -1, 0)), "the camera's side is taken away"
    assert cutting_of(after).point[1] == pytest.approx(1)
    line = getattr(solve(after, ROOM).drawings, drawing).cutting_line
    (x0, y0, x1, y1), camera = line, ((3, -4) if drawing == "plan" else (0, 1.4))
    assert (x1 - x0) * (camera[1] - y0) - (y1 - y0) * (camera[0] - x0) > 0, "what is gone lies to the left of the line"
    pushed = apply_gesture(after, CuttingTo(drawing=drawing, x=3 if drawing == "plan" else 6, y=2), ROOM)
    assert cutting_of(pushed).point[1] == pytest.approx(2)
    assert cutting_of(apply_gesture(pushed, CuttingFlip(), ROOM)).normal == pytest.approx((0, 1, 0))
    turned = apply_gesture(
        apply_gesture(after, CuttingFlip(), ROOM),
        CuttingLine(drawing=drawing, start=along[0], end=np.add(along[1], [0.3, 0.3])),
        ROOM,
    )
    assert cutting_of(turned).normal[1] > 0.9, "one that is turned takes away what it took away"
    with pytest.raises(Refused, match="longer"):
        apply_gesture(OUTSIDE, CuttingLine(drawing=drawing, start=(1, 1), end=(1, 1)), ROOM)


def test_a_level_plane_is_pushed_in_section_alone():
    roof = through(OUTSIDE, (3, 2, 2.2), (0, 0, 1))
    assert solve(roof, ROOM).drawings.plan.cutting_line is None
    with pytest.raises(Refused, match="other one"):
        apply_gesture(roof, CuttingTo(drawing="plan", x=1, y=1), ROOM)
    assert cutting_of(apply_gesture(roof, CuttingTo(drawing="section", x=1, y=1.9), ROOM)).point[2] == pytest.approx(
        1.9
    )


@pytest.mark.parametrize("gesture", [CuttingFlip(), CuttingTo(drawing="plan", x=0, y=0)])
def test_there_has_to_be_a_plane(gesture):
    with pytest.raises(Refused, match="no cutting plane"):
        apply_gesture(OUTSIDE, gesture, ROOM)


def test_a_plane_points_somewhere():
    with pytest.raises(ValidationError, match="must point somewhere"):
        through(OUTSIDE, (0, 0, 0), (0, 0, 0))
    assert shapely.__version__ >= "2", "what solids are put together with"
