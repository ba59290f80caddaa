"""Cameras out and in again: the same camera in every kind of file; broken and hostile files refused with reasons."""

import csv
import io
import json
import re
from dataclasses import fields, replace
from math import inf

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pxr import Tf
from tests.core.kinds import BENT, lenses

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.exchange.camera_record import CameraRecord, NoCamera, camera_record_of, centred, within
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.exchange.shot_from_camera import same_name, same_picture, same_place, taken
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.lens import Window
from zevlo.core.scene.model.placing import Placing, matrix_of
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand
from zevlo.core.shot.focus import Stack
from zevlo.core.shot.lens import Distortion
from zevlo.core.shot.light import ShotLight
from zevlo.core.shot.limits import nearest_focus_m
from zevlo.core.stand.pose import resolve
from zevlo.demo.shots import SHOTS
from zevlo.files.cameras.formats import FORMATS, format_of, read_cameras, write_cameras
from zevlo.files.cameras.plain import write_vision
from zevlo.files.names import readable

ENDINGS = [ending for one in FORMATS for ending in one.endings]
CM_Y_UP = Receiver(0.01, "y")


@st.composite
def shots(draw):
    """Shots of every kind a plain camera can say: shifted, trimmed, enlarged, rolled, parallel or not."""
    number = lambda low, high: draw(st.floats(low, high).map(lambda value: round(value, 7)))  # noqa: E731
    position = (number(-50, 50), number(-50, 50), number(-5, 20))
    heading, pitch, reach = number(0, 360), number(-85, 85), number(0.5, 12)
    h, p = np.radians([heading, pitch])
    aim = np.array(position) + reach * np.array([np.sin(h) * np.cos(p), np.cos(h) * np.cos(p), np.sin(p)])
    parallel = draw(st.booleans())
    lens = {"projection": "parallel", "scale_m": number(0.5, 30)} if parallel else {"focal_length_mm": number(12, 300)}
    size = draw(st.sampled_from([(3840, 2160), (1000, 1000), (2160, 2700), (3000, 1999)]))
    return Shot(
        name=draw(st.sampled_from(["Tower", "Wheel room, looking NW", "Vase 2 / é"])),
        stand=Stand(position=position, aim=tuple(aim.tolist()), roll_deg=number(-170, 170)),
        lens=Lens(near_m=0.1, far_m=draw(st.sampled_from([None, 80.0])), focus_breathing=not parallel and draw(st.booleans()), **lens),
        back=Back(
            width_mm=number(8, 120), height_mm=number(8, 120), output_px=size, enlarge=number(1, 3),
            trim={"left": number(0, 0.3), "right": number(0, 0.3), "top": number(0, 0.3), "bottom": number(0, 0.3)},
        ),
        movements=Movements(rise_mm=number(-12, 12), cross_mm=number(-12, 12)),
        focus=Focus(distance_m=number(0.6, 40), f_number=draw(st.sampled_from([None, 2.8, 11.0]))),
    )  # fmt: skip


OURS = Receiver()


def through(tmp_path, ending, cameras, receiver=OURS):
    path = tmp_path / f"cameras{ending}"
    path.unlink(missing_ok=True)
    words = write_cameras(cameras, path, receiver)
    return read_cameras(path, receiver), words


def points_before(shot, n=50, seed=3):
    """Points of the world that lie in a shot's frame."""
    rng = np.random.default_rng(seed)
    rays = camera_of(shot).rays(rng.uniform(0.02, 0.98, (n, 2)))
    return rays.starts + rng.uniform(1.0, 20.0, (n, 1)) * rays.directions


def off_px(shot, other, points):
    """By how many pixels points fall elsewhere in the picture of another shot."""
    one, two = (camera_of(each).places(points).uv for each in (shot, other))
    return float(np.abs((one - two) * np.array(shot.back.output_px)).max())


@pytest.mark.parametrize("ending", ENDINGS)
@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(shot=shots())
def test_what_goes_out_and_comes_in_is_the_same_camera(tmp_path, ending, shot):
    if ending == ".intrinsics.json" and shot.lens.projection == "parallel":
        return
    for receiver in (Receiver(), CM_Y_UP):
        (back,), _ = through(tmp_path, ending, [camera_record_of(shot, "known")], receiver)
        got = taken(back)
        assert (got.key, got.words) == ("known", ())
        assert got.shot == shot, "it carries the shot itself"


@pytest.mark.parametrize("ending", [one for one in ENDINGS if not format_of(f"x{one}").whole])
@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(shot=shots())
def test_the_camera_alone_says_the_same_picture(tmp_path, ending, shot):
    """Without the shot beside it: places of 50 points to a hundredth of a pixel, as far as single precision tells."""
    if ending == ".intrinsics.json" and shot.lens.projection == "parallel":
        return
    for receiver in (Receiver(), CM_Y_UP):
        (back,), _ = through(tmp_path, ending, [replace(camera_record_of(shot), shot=None)], receiver)
        got = taken(back).shot
        assert off_px(shot, got, points_before(shot)) < 0.01
        assert got.lens.near_m == pytest.approx(shot.lens.near_m, rel=1e-6) or ending == ".intrinsics.json"
        if ending not in (".intrinsics.json",):
            # A lens that breathes comes back longer, and may have been focused nearer than that one focuses.
            focused = max(shot.focus.distance_m, nearest_focus_m(got.lens.focal_length_mm))
            assert got.focus.distance_m == pytest.approx(focused, rel=1e-6)
            assert got.lens.far_m == (
                shot.lens.far_m if shot.lens.far_m is None else pytest.approx(shot.lens.far_m, rel=1e-6)
            )


def test_a_camera_focused_before_its_lens_can_is_focused_as_near_as_that_can_and_told():
    breathing = Shot(lens=Lens(focal_length_mm=299.0, focus_breathing=True), focus=Focus(distance_m=0.6, f_number=None))
    for one, present in (
        (replace(camera_record_of(breathing), shot=None), None),
        (replace(camera_record_of(Shot()), distance_mm=600.0, focus_m=0.3, shot=None), None),
        (
            replace(camera_record_of(Shot()), distance_mm=600.0, focus_m=None, shot=None),
            Shot(focus=Focus(distance_m=0.4)),
        ),
        (replace(camera_record_of(Shot(focus=Focus(distance_m=0.4))), distance_mm=600.0), None),
    ):
        got = taken(one, present)
        assert off_px(got.shot, taken(replace(one, focus_m=50.0), present).shot, points_before(got.shot)) < 1e-6
        assert got.shot.focus.distance_m == nearest_focus_m(got.shot.lens.focal_length_mm)
        assert any("focuses no closer than" in word for word in got.words)
    at_nearest = Shot(focus=Focus(distance_m=nearest_focus_m(Lens().focal_length_mm)))
    rounded = float(np.float32(at_nearest.focus.distance_m)) - 1e-9
    assert taken(replace(camera_record_of(at_nearest), focus_m=rounded, shot=None)).words == ()


@pytest.mark.parametrize("ending", [one for one in ENDINGS if not format_of(f"x{one}").whole])
def test_a_camera_moved_elsewhere_is_taken_and_the_rest_kept(tmp_path, ending):
    shot = SHOTS[1].with_groups(focus=SHOTS[1].focus.model_copy(update={"blades": 7}))
    other = camera_record_of(shot.with_groups(stand=shot.stand.model_copy(update={"position": (6.0, 1.0, 1.5)})))
    (back,), _ = through(tmp_path, ending, [replace(camera_record_of(shot, "a"), matrix=other.matrix)], CM_Y_UP)
    got = taken(back)
    assert got.shot.stand.position == pytest.approx((6.0, 1.0, 1.5), abs=1e-6)
    assert got.shot.focus.blades == 7
    assert "changed elsewhere" in got.words[0]
    assert got.key == "a"


def whole_shot(law):
    """A shot with a lens of a kind and with all that other programs know nothing of."""
    lens = {"focal_length_mm": 28.0, "near_m": 0.2, "far_m": 70.0, "falloff": {"natural": True}, **lenses()[law]}
    straight = lens.get("projection", "perspective") == "perspective"
    return Shot(
        name="Tower / é", stand=Stand(position=(1, 2, 3), aim=(4, 9, 2), roll_deg=3), lens=Lens(**lens, focus_breathing=straight),
        back=Back(width_mm=53.4, height_mm=40, output_px=(3000, 2000), enlarge=1.3, trim={"left": 0.1, "top": 0.2}, dpi=200),
        movements=Movements(rise_mm=2, image_circle_mm=90, **({"tilt_deg": 1.5} if straight else {})),
        focus=Focus(distance_m=4, f_number=5.6, blades=7, follow={"point": (1, 6, 2)}),
    )  # fmt: skip


def moved(camera):
    matrix = camera.matrix.copy()
    matrix[:3, 3] += (0.3, -0.2, 0.1)
    return matrix


def wider(camera):
    window = camera.window
    return Window(1.5 * window.left, window.right, window.bottom, window.top)


CHANGED = {
    "name": (lambda camera: "Another", {"name"}),
    "matrix": (moved, {"stand"}),
    "window": (wider, {"lens", "back", "movements"}),
    "distance_mm": (lambda camera: camera.distance_mm and 1.2 * camera.distance_mm, {"lens"}),
    "near_m": (lambda camera: 0.4, {"lens"}),
    "far_m": (lambda camera: inf, {"lens"}),
    "focus_m": (lambda camera: 6.0, {"focus"}),
    "f_number": (lambda camera: inf, {"focus"}),
    "shutter_s": (lambda camera: 0.5, {"exposure"}),
    "iso": (lambda camera: 400.0, {"exposure"}),
    "size_px": (lambda camera: tuple(2 * side for side in camera.size_px), {"back"}),
    "distortion": (lambda camera: Distortion(k1=0.02), {"lens"}),
}
"""How each thing a camera tells is changed elsewhere, and the groups of a shot that follow."""


def test_each_thing_a_camera_tells_is_changed():
    assert set(CHANGED) == {one.name for one in fields(CameraRecord)} - {"key", "shot", "told_m", "equidistant"}


@pytest.mark.parametrize("ending", [one.endings[0] for one in FORMATS if not one.whole])
@pytest.mark.parametrize("law", lenses())
@pytest.mark.parametrize("what", CHANGED)
def test_what_was_changed_elsewhere_is_taken_and_nothing_else(tmp_path, ending, law, what):
    """Moved, renamed or focused elsewhere, a fisheye stays one, a trimmed back trimmed, a lens that breathes one."""
    shot, (change, groups) = whole_shot(law), CHANGED[what]
    if law == "parallel" and (ending == ".intrinsics.json" or what in ("distance_mm", "distortion")):
        return
    if what == "distortion" and shot.lens.projection != "perspective":
        return
    found = camera_record_of(shot, "a", format_of(f"x{ending}").says)
    camera = replace(found, **{what: change(found)})
    (back,), _ = through(tmp_path, ending, [camera])
    got = taken(back)
    if getattr(back, what) is None:
        assert (got.shot, got.words) == (shot, ()), "such a file does not tell it"
        return
    now = camera_record_of(got.shot, says=format_of(f"x{ending}").says)
    by_its_law = what == "distance_mm" and shot.lens.projection not in ("perspective", "parallel")
    for one in CHANGED:
        theirs, ours = getattr(camera, one), getattr(now, one)
        if one == "window" and by_its_law:
            assert got.shot.lens.focal_length_mm == pytest.approx(camera.distance_mm), "it stays what it is, longer"
        elif one == "matrix":
            assert ours == pytest.approx(theirs, abs=1e-5)
        elif one == "window":
            assert same_picture(now, camera), "the picture is as it was told"
        elif one == "size_px" and what == "window":
            assert ours[0] / ours[1] == pytest.approx(camera.window.width / camera.window.height, rel=1e-4)
        elif isinstance(theirs, float) and what != "distance_mm":
            assert ours == pytest.approx(theirs, rel=1e-5), one
        elif not isinstance(theirs, float):
            assert ours == theirs, one
    if what == "focus_m" and shot.lens.focus_breathing:
        groups = groups | {"lens"}
    kept = {group for group in Shot.model_fields if getattr(got.shot, group) == getattr(shot, group)}
    assert set(Shot.model_fields) - kept == groups
    assert bool(got.words) == (what != "name")


@pytest.mark.parametrize("ending", [one.endings[0] for one in FORMATS if not one.whole])
@pytest.mark.parametrize("law", lenses())
@pytest.mark.parametrize("focal_mm", [9.0, 14.0, 40.0])
def test_a_law_others_do_not_know_goes_out_as_a_plain_frame_that_holds_it(tmp_path, ending, law, focal_mm):
    """Where one can; and never one that is all stretch. What is said is so."""
    shot = whole_shot(law)
    shot = shot.with_groups(lens=shot.lens.model_copy(update={"focal_length_mm": focal_mm}))
    camera = camera_record_of(shot, says=format_of(f"x{ending}").says)
    words = write_cameras([camera], tmp_path / f"cameras{ending}", OURS)
    plain = shot.lens.projection not in ("perspective", "parallel") and not camera.equidistant
    assert ("law: others see a plain perspective" in words[0]) == plain
    if not plain:
        return
    (back,), _ = through(tmp_path, ending, [replace(camera, shot=None)])
    film = camera_of(shot).window
    assert back.window.width / back.window.height == pytest.approx(film.width / film.height)
    got = taken(replace(back, focus_m=9.0)).shot
    assert got.lens.projection == "perspective"
    edge = camera_of(shot).edge(50) * 0.999998 + 1e-6
    uv = camera_of(got).places(camera_of(shot).pose.position + camera_of(shot).rays(edge).directions).uv
    inside = bool(np.isfinite(uv).all() and uv.min() > -1e-5 and uv.max() < 1.0 + 1e-5)
    assert inside == ("that holds it" in words[0])
    if inside:
        close = np.minimum(uv, 1.0 - uv).min(axis=0)
        assert close.min() < 1e-5, "and no wider than it must be"
    else:
        assert "of 120°, which does not hold all of it" in words[0]
        assert 100.0 < horizontal(got) < 150.0


def horizontal(shot):
    """Angle of view from the frame's left to its right, degrees."""
    left, right = camera_of(shot).rays(np.array([[0.0, 0.5], [1.0, 0.5]])).directions
    return float(np.degrees(np.arccos(left @ right)))


def turned_by(matrix, degrees):
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    there = matrix.copy()
    there[:3, :3] = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ matrix[:3, :3]
    return there


def shifted_by(matrix, metres):
    there = matrix.copy()
    there[0, 3] += metres
    return there


def as_single(matrix):
    """As a program hands on that reckons in single precision."""
    return matrix.astype(np.float32).astype(np.float64)


@pytest.mark.parametrize("ending", [one.endings[0] for one in FORMATS if not one.whole])
@pytest.mark.parametrize(
    ("away", "change", "seen"),
    [(100.0, lambda m: shifted_by(m, 0.0005), True), (100.0, lambda m: turned_by(m, 0.02), True), (5e5, lambda m: shifted_by(m, 1.0), True),
     (3.0, lambda m: turned_by(m, 0.001), True), (100.0, as_single, False), (5e5, as_single, False), (3.0, as_single, False)],
)  # fmt: skip
def test_small_changes_are_seen_however_far_from_zero_and_rounding_is_none(tmp_path, ending, away, change, seen):
    shot = Shot(stand=Stand(position=(away, 2, 3), aim=(away + 3, 9, 2), roll_deg=3))
    for receiver in (OURS, CM_Y_UP):
        camera = camera_record_of(shot, "a")
        path = tmp_path / f"cameras{ending}"
        theirs = replace(camera, matrix=change(camera.matrix))
        write_cameras([theirs], path, receiver)
        (back,) = read_cameras(path, receiver)
        got = taken(back).shot
        assert (got.stand != shot.stand) == seen
        assert got.model_copy(update={"stand": shot.stand}) == shot


def edited(path, change):
    """A CSV of cameras with cells of its first row changed."""
    rows = list(csv.reader(io.StringIO(path.read_text())))
    for name, value in change.items():
        rows[1][rows[0].index(name)] = str(value)
    out = io.StringIO()
    csv.writer(out).writerows(rows)
    path.write_text(out.getvalue())


@pytest.mark.parametrize("receiver", [OURS, CM_Y_UP], ids=["ours", "cm, Y up"])
def test_angles_edited_in_a_table_are_taken_or_refused(tmp_path, receiver):
    shot, path = whole_shot("perspective"), tmp_path / "cameras.csv"
    write_cameras([camera_record_of(shot, "a")], path, receiver)
    edited(path, {"heading_deg": 77.5, "pitch_deg": -4.25, "roll_deg": 1.5})
    (back,) = read_cameras(path, receiver)
    pose = resolve(taken(back).shot.stand)
    assert (pose.heading_deg, pose.pitch_deg, pose.roll_deg) == pytest.approx((77.5, -4.25, 1.5), abs=1e-6)
    assert taken(back).shot.stand.position == pytest.approx(shot.stand.position)
    other = camera_record_of(shot.with_groups(stand=shot.stand.model_copy(update={"aim": (9.0, 3.0, 2.0)})))
    write_cameras([replace(camera_record_of(shot, "a"), matrix=other.matrix)], path, receiver)
    (back,) = read_cameras(path, receiver)
    assert taken(back).shot.stand.aim != shot.stand.aim, "axes changed, angles left as they were"
    for change, why in (
        ({"heading_deg": 12}, "both were changed"), ({"projection": "fisheye"}, "tells perspective or parallel"),
        ({"projection": "parallel"}, "in metres"), ({"shot": "", "pitch_deg": 50}, "otherwise than its axes"),
    ):  # fmt: skip
        write_cameras([replace(camera_record_of(shot, "a"), matrix=other.matrix)], path, receiver)
        edited(path, change)
        with pytest.raises(NoCamera, match=why):
            read_cameras(path, receiver)


def test_a_prim_renamed_and_a_stop_edited_elsewhere_are_taken(tmp_path):
    path = tmp_path / "cameras.usda"
    shot = whole_shot("perspective")
    write_cameras([camera_record_of(shot, "a")], path, OURS)
    text = path.read_text()
    name = re.search(r'def Camera "([^"]+)"', text)[1]
    for changed, wanted in ((text.replace(f'"{name}"', '"Hero_view"', 1), ("Hero_view", 5.6)),
                            (text.replace("float exposure:fStop = 5.6", "float exposure:fStop = 11"), (shot.name, 11.0)),
                            (text.replace("float fStop = 5.6", "float fStop = 8"), (shot.name, 8.0)),
                            (text.replace(f'"{name}"', f'"{name}_2"', 1), (shot.name, 5.6))):  # fmt: skip
        path.write_text(changed)
        (back,) = read_cameras(path, OURS)
        got = taken(back).shot
        assert (got.name, got.focus.f_number) == (wanted[0], pytest.approx(wanted[1]))


def test_a_gltf_without_what_we_wrote_beside_it_leaves_a_shifted_shot_as_it_is(tmp_path):
    path, shot = tmp_path / "cameras.gltf", whole_shot("perspective")
    write_cameras([camera_record_of(shot, "a")], path, OURS)
    document = json.loads(path.read_text())
    for one in (*document["nodes"], *document["cameras"]):
        one.pop("extras", None)
    path.write_text(json.dumps(document))
    (back,) = read_cameras(path, OURS)
    assert taken(back, shot).shot == shot
    document["cameras"][0]["perspective"]["yfov"] *= 1.2
    path.write_text(json.dumps(document))
    (back,) = read_cameras(path, OURS)
    assert taken(back, shot).shot != shot, "another picture is taken"


def test_a_shot_longer_than_a_cell_comes_back_whole(tmp_path):
    points = tuple((float(n), 2.0, 3.123456789) for n in range(3000))
    shot = whole_shot("perspective")
    long = shot.with_groups(focus=shot.focus.model_copy(update={"probes": points}))
    (back, other), _ = through(tmp_path, ".xlsx", [camera_record_of(long, "a"), camera_record_of(shot, "b")])
    assert (taken(back).shot, taken(other).shot) == (long, shot)


@settings(max_examples=60, deadline=None)
@given(shot=shots(), present=st.booleans(), drawn=st.booleans(), size=st.tuples(*[st.integers(1, 8000)] * 2))
def test_a_size_told_elsewhere_is_taken_or_it_is_said_that_it_is_not(shot, present, drawn, size):
    camera = replace(camera_record_of(shot), size_px=size, shot=None)
    if drawn:
        camera = replace(camera, window=Window(-9.0, 9.0, -6.0, 6.0))
    made = taken(camera, shot if present else None)
    said = [words for words in made.words if f"{size[0]} × {size[1]} px" in words]
    assert (fit_back(made.shot.back).output_px == size) == (not said)


@pytest.mark.parametrize(("parted", "comma"), [(";", ","), ("\t", ","), (";", "."), (",", ".")])
def test_a_table_as_a_spreadsheet_of_another_country_saves_it_is_read(tmp_path, parted, comma):
    path = tmp_path / "cameras.csv"
    write_cameras([camera_record_of(shot, str(n)) for n, shot in enumerate(SHOTS)], path, Receiver())
    rows = list(csv.reader(io.StringIO(path.read_text(), newline="")))
    numbers = re.compile(r"-?\d+\.\d+(e-?\d+)?")
    saved = io.StringIO()
    csv.writer(saved, delimiter=parted).writerows(
        [[one.replace(".", comma) if numbers.fullmatch(one) else one for one in row] for row in rows]
    )
    path.write_bytes(saved.getvalue().encode("utf-8-sig"))
    assert [taken(one).shot for one in read_cameras(path, Receiver())] == list(SHOTS)


def test_a_name_written_otherwise_by_another_program_is_the_same():
    camera = camera_record_of(whole_shot("perspective"), "a")
    for name in ("Tower___é", Tf.MakeValidIdentifier("Tower / é"), "Tower___é.001", "Tower / é.001", "Tower / é"):
        assert taken(replace(camera, name=name)).shot.name == "Tower / é"
    for name in ("Tower / é, lower", "Tower / é 2", "Tower / é_2", "Tower - é", "Tower", "Tower / é.1"):
        assert taken(replace(camera, name=name)).shot.name == name


@given(st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=12))
def test_a_name_as_openusd_makes_an_identifier_of_it_is_the_same(name):
    assert same_name(name, Tf.MakeValidIdentifier(name))


def test_a_lens_bent_by_others_comes_in_bent_and_what_leans_is_refused(tmp_path):
    (row,) = json.loads(write_vision([replace(camera_record_of(SHOTS[1]), shot=None)], OURS))["cameras"]

    def read(**more):
        path = tmp_path / "theirs.intrinsics.json"
        path.write_text(json.dumps({"schema": "zevlo.intrinsics/1", "cameras": [{**row, **more}]}))
        return taken(read_cameras(path, Receiver())[0]).shot

    assert read(distortion=[-0.1, 0.02, 0.001, 0.002, 0.003]).lens.distortion == Distortion(k1=-0.1, k2=0.02, p1=0.001, p2=0.002, k3=0.003)  # fmt: skip
    assert read(distortion=[]).lens.distortion.none
    for wrong in (
        {"distortion": [0, 0, 0, 0, 0, 0.1]},
        {"K": [[900, 40, 500], [0, 900, 300], [0, 0, 1]]},
        {"distortion": ["a"]},
    ):
        with pytest.raises(NoCamera, match="cannot be read: "):
            read(**wrong)


@pytest.mark.parametrize("ending", ENDINGS)
def test_all_of_the_demonstration_goes_out_and_comes_in(tmp_path, ending):
    cameras = [camera_record_of(shot, str(n)) for n, shot in enumerate(SHOTS)]
    back, words = through(tmp_path, ending, cameras)
    assert [taken(one).shot for one in back] == list(SHOTS)
    if format_of(f"x{ending}").whole:
        assert words == []
    else:
        assert any("tilt" in one for one in words), "the table top is sharp by tilt"


@pytest.mark.parametrize("ending", ENDINGS)
def test_names_are_names_whatever_they_look_like(tmp_path, ending):
    names = ["=1+1", "+A1", '"quoted", twice', "1e5", "ümlaut / слип", "a" * 120, "bell \x07"]
    shots = [
        SHOTS[1].model_copy(update={"name": name, "left_out": tuple(f"part {n}" * 20 for n in range(1500))})
        for name in names
    ]
    back, _ = through(
        tmp_path, ending, [replace(camera_record_of(shot), shot=shot if ending != ".xlsx" else None) for shot in shots]
    )
    # A workbook has no place for what rings a bell.
    assert [one.name for one in back] == [readable(name) if ending == ".xlsx" else name for name in names]


def test_a_sets_own_placing_is_undone():
    placing = Placing(metres_per_unit=0.01, up="y", turn_deg=30.0, moved_m=(2.0, -1.0, 0.5))
    receiver = Receiver(0.01, "z", matrix_of(placing))
    shot = SHOTS[1]
    given_ = receiver.give(camera_record_of(shot))
    in_world = matrix_of(placing) @ np.append(given_.matrix[:3, 3], 1.0)
    assert in_world[:3] == pytest.approx(shot.stand.position, abs=1e-9)
    turned = matrix_of(placing)[:3, :3] / 0.01 @ given_.matrix[:3, :3]
    assert turned == pytest.approx(camera_record_of(shot).matrix[:3, :3], abs=1e-12)
    assert same_place(receiver.take(given_), camera_record_of(shot))
    assert same_picture(receiver.take(given_), camera_record_of(shot))


def test_what_a_kind_of_file_cannot_say_is_said_of_each_thing_and_nothing_false(tmp_path):
    shot = whole_shot("perspective").with_groups(
        lens=Lens(distortion=BENT, falloff={"natural": True}, focus_breathing=True)
    )
    shot = shot.with_groups(focus=shot.focus.model_copy(update={"stack": Stack(from_m=1, to_m=4)})).model_copy(
        update={"light": ShotLight(name="Dusk"), "left_out": ("a",)}
    )
    given = {}
    for one in FORMATS:
        if not one.whole:
            (given[one.endings[0]],) = write_cameras(
                [camera_record_of(shot)], tmp_path / f"cameras{one.endings[0]}", OURS
            )
    for ending, words in given.items():
        for always in (
            "tilt",
            "darker corners",
            "image circle",
            "breathes",
            "shape of its blur",
            "stack",
            "its light",
            "left out",
        ):
            assert always in words, (ending, always)
        assert ("distortion" in words) == (ending != ".intrinsics.json")
        assert ("rise and trim" in words) == (ending in (".gltf", ".glb"))
        assert ("focus and stop" in words) == ("shutter" in words) == (ending in (".gltf", ".glb", ".intrinsics.json"))
    plain = Shot(focus=Focus(f_number=None))
    assert write_cameras([camera_record_of(plain)], tmp_path / "plain.csv", OURS) == []


def test_tables_and_intrinsics_say_their_world(tmp_path):
    for ending in (".csv", ".xlsx", ".intrinsics.json"):
        path = tmp_path / f"cameras{ending}"
        write_cameras([replace(camera_record_of(SHOTS[1]), shot=None)], path, CM_Y_UP)
        (back,) = read_cameras(path, OURS)
        assert back.matrix == pytest.approx(camera_record_of(SHOTS[1]).matrix, abs=1e-9), "whatever one was told of it"
    path = tmp_path / "cameras.csv"
    for change in ({"up": "z"}, {"metres_per_unit": 3}, {"up": ""}):
        write_cameras([camera_record_of(one) for one in SHOTS[:3]], path, CM_Y_UP)
        edited(path, change)
        first, *others = read_cameras(path, OURS)
        assert "another world than the rest" in first.why
        assert [taken(one).shot for one in others] == list(SHOTS[1:3]), "which come all the same"
    write_cameras([camera_record_of(SHOTS[0])], path, CM_Y_UP)
    edited(path, {"up": "x"})
    with pytest.raises(NoCamera, match="y or z up"):
        read_cameras(path, OURS)


@given(st.tuples(*[st.floats(-40, 40)] * 2, *[st.floats(0.5, 50)] * 2))
def test_a_window_lies_in_the_one_around_the_axis(given):
    left, bottom, width, height = given
    window = Window(left, left + width, bottom, bottom + height)
    wide, frame = centred(window)
    assert (wide.left, wide.bottom) == (-wide.right, -wide.top)
    again = within(wide, frame)
    ends = ("left", "right", "bottom", "top")
    assert [getattr(again, end) for end in ends] == pytest.approx([getattr(window, end) for end in ends], abs=1e-9)


def test_cameras_of_others_without_a_word_of_ours(tmp_path):
    """A glTF as a modeller exports one: a camera turned by a quaternion under a node that is moved and scaled."""
    half = np.sqrt(0.5)
    document = {
        "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}],
        "nodes": [
            {"translation": [1, 2, 3], "scale": [2, 2, 2], "children": [1]},
            {"name": "Cam", "translation": [0, 0.5, 0], "rotation": [0, half, 0, half], "camera": 0},
        ],
        "cameras": [{"type": "perspective", "perspective": {"yfov": 0.6911, "aspectRatio": 1.5, "znear": 0.1}}],
    }  # fmt: skip
    path = tmp_path / "theirs.gltf"
    path.write_text(json.dumps(document))
    (camera,) = read_cameras(path, Receiver())
    shot = taken(camera).shot
    assert shot.name == "Cam"
    assert shot.stand.position == pytest.approx((1, -3, 3), abs=1e-9), "Y up: (1, 3, 3) is (1, -3, 3) here"
    ahead = np.array(shot.stand.aim) - np.array(shot.stand.position)
    assert ahead / np.linalg.norm(ahead) == pytest.approx((-1, 0, 0), abs=1e-9)
    assert shot.back.output_px == (1920, 1280)
    assert 2 * np.degrees(np.arctan(shot.back.height_mm / 2 / shot.lens.focal_length_mm)) == pytest.approx(
        np.degrees(0.6911)
    )
