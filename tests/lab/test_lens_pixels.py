"""The picture's pixels lie where the sheet projects them, and blur as wide as the formula says."""

import io

import numpy as np
import pytest
import trimesh
from PIL import Image
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.from_shot import camera_of, cutting_of
from zevlo.core.camera.picking import seen_from
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.light.setup import LightSetup, Sky, Sun
from zevlo.core.light.site import PlacedLight
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.focus import blur_times_mm
from zevlo.core.scene.as_shown import model_as_shown
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim
from zevlo.core.shot.lens import Falloff
from zevlo.lab.renderer import MitsubaRenderer
from zevlo.lab.stage import Stage

DARK = LightSetup(sun=Sun(illuminance_lx=0), sky=Sky(luminance_cd_m2=0))
GLOW = Material("Glow", (0, 0, 0), emissive=(1000.0, 1000.0, 1000.0))
POINTS = np.array(
    [[0, 6, 1.6], [-1.6, 5, 1.1], [1.9, 7, 2.6], [-2.4, 8, 3.1], [1.2, 4, 0.9], [0.6, 9, 3.6]], dtype=float
)


def lamps(points, radius):
    return [trimesh.creation.icosphere(subdivisions=2, radius=radius).apply_translation(p) for p in points]


def rendered(shot, meshes, samples=16, light=DARK, materials=(GLOW,), each=4, cut=None):
    renderer = MitsubaRenderer(set_of(*meshes, materials=materials), light)
    frame, size = picture_of(shot, cut)
    *_, last = renderer.passes(shot, size, [each] * (samples // each), seed=3, frame=frame)
    return last.light


def projected(shot, points, cut=None):
    """Pixels (n, 2), columns and rows from the top left, where the sheet's probes say the picture, or a cut of it, shows
    points."""
    sheet = solve(shot.with_groups(focus=shot.focus.model_copy(update={"probes": tuple(map(tuple, points))})))
    found = next((one for one in sheet.back.crops if one.name == cut), None)
    (left, bottom, right, top), (width, height) = (
        ((0, 0, 1, 1), sheet.back.output_px) if found is None else (found.frame, found.output_px)
    )
    at = np.array([probe.at or (-9, -9) for probe in sheet.focus.probes])
    return np.c_[(at[:, 0] - left) / (right - left) * width, (top - at[:, 1]) / (top - bottom) * height]


SHOTS = {
    "plain": Shot(stand=Stand(position=(0, 0, 1.6), aim=(0.2, 5, 2.0)), lens=Lens(focal_length_mm=28), back=Back(output_px=(480, 320))),
    "rise, cross and roll": Shot(
        stand=Stand(position=(0.3, 0, 1.4), aim=(0, 5, 1.6), roll_deg=7), lens=Lens(focal_length_mm=24),
        back=Back(output_px=(480, 320)), movements=Movements(rise_mm=3.5, cross_mm=-2.0),
    ),
    "trimmed, enlarged, tall": Shot(
        stand=Stand(position=(0, -1, 1.6), aim=(0, 5, 2.2)), lens=Lens(focal_length_mm=20),
        back=Back(output_px=(400, 500), enlarge=1.2, trim=Trim(top=0.1, right=0.05)),
    ),
    "parallel, shifted and rolled": Shot(
        stand=Stand(position=(0.3, -1, 1.2), aim=(0, 5, 2.0), roll_deg=-9), lens=Lens(projection="parallel", scale_m=6.5),
        back=Back(output_px=(480, 320), enlarge=1.1, trim=Trim(bottom=0.04)), movements=Movements(rise_mm=1.5, cross_mm=-1.0),
    ),
}  # fmt: skip


@pytest.mark.parametrize("projection", ["perspective", "parallel"])
@pytest.mark.parametrize(("near", "far"), [(0.05, None), (5.5, None), (0.05, 4.5), (4.5, 5.5), (5.02, 5.08)])
def test_print_and_pick_agree_on_near_and_far_cut(projection, near, far):
    """A glowing sheet 5 m and another 6 m away: what the pick meets in the middle is what the print shows there."""
    shot = Shot(
        stand=Stand(position=(0, 0, 1), aim=(0, 3, 1)), back=Back(output_px=(30, 20)), focus=Focus(distance_m=5, f_number=None),
        lens=Lens(near_m=near, far_m=far, projection=projection, scale_m=1.0 if projection == "parallel" else None),
    )  # fmt: skip
    sheets = [slab((-9, 5, -9), (9, 5.0001, 9)), slab((-9, 6, -9), (9, 6.0001, 9))]
    seen = seen_from(camera_of(shot), 0.5, 0.5, WorkingSet(set_of(*sheets)))
    bright = Material("Bright", (0, 0, 0), emissive=(2000.0, 2000.0, 2000.0))
    film = rendered(shot, sheets, samples=4, materials=(GLOW, bright))
    shown = {0: None, 1000: 0, 2000: 1}[round(float(film[8:12, 12:18].mean()), -2)]
    assert (None if seen is None else seen.part) == shown


@pytest.mark.parametrize("law", lenses())
def test_print_and_pick_agree_where_a_plane_opens_the_set(law):
    """Boxes of their own brightness in the dark; what is cut open is closed with faces that give no light."""
    boxes = [slab((x - 0.6, 4, 0), (x + 0.6, 6 + n, 2 + 0.2 * n)) for n, x in enumerate((-3, -1.5, 0, 1.5, 3))]
    bright = [Material(f"Glow {n}", (0, 0, 0), roughness=1.0, emissive=(1000.0 * (n + 1),) * 3) for n in range(5)]
    shot = Shot(
        stand=Stand(position=(0.4, 0.5, 6.0), aim=(0.1, 5.5, 1.5), roll_deg=4), back=Back(output_px=(120, 80)), focus=Focus(distance_m=5, f_number=None),
        lens=Lens(**{**lenses()[law], "focal_length_mm": 14.0, "scale_m": 9.0 if law == "parallel" else None},
                  cutting_plane={"point": (0, 5, 0), "normal": (0.3, -1, 0.25)}), movements=Movements(rise_mm=-1.0),
    )  # fmt: skip
    working = WorkingSet(set_of(*boxes, materials=tuple(bright)))
    plane = cutting_of(shot)
    renderer = MitsubaRenderer(model_as_shown(working, plane), DARK)
    *_, film = renderer.passes(shot, (120, 80), [1], seed=3)
    given = {"cut": 0, "lit": 0, "nothing": 0}
    for column, row in np.random.default_rng(5).integers([3, 3], [117, 77], (120, 2)).tolist():
        corners = [
            seen_from(camera_of(shot), (column + dx) / 120, 1 - (row + dy) / 80, working)
            for dx in (0.02, 0.98)
            for dy in (0.02, 0.98)
        ]
        kinds = {None if one is None else (one.part, abs(plane.over(np.array([one.at]))[0]) < 1e-4) for one in corners}
        if len(kinds) > 1:
            continue  # on an edge
        (kind,) = kinds
        given["nothing" if kind is None else "cut" if kind[1] else "lit"] += 1
        expected = 0.0 if kind is None or kind[1] else 1000.0 * (kind[0] + 1)
        assert film.light[row, column].mean() == pytest.approx(expected, rel=1e-3, abs=120.0), (
            "a dark face gets some light of the others"
        )
    assert min(given.values()) > 4, given


def found_within_half_a_pixel(shot, points, cut=None):
    """How many bright spheres are inside the picture, or a cut of it; each lies where the sheet says."""
    film = rendered(shot, lamps(points, 0.03), cut=cut).sum(axis=2)
    places = projected(shot, points, cut)
    inside = [p for p in places if 8 < p[0] < film.shape[1] - 8 and 8 < p[1] < film.shape[0] - 8]
    for x, y in inside:
        others = np.linalg.norm(places - [x, y], axis=1)
        if np.sort(others)[1] < 14:
            continue
        left, top = int(x) - 6, int(y) - 6
        patch = film[top : top + 13, left : left + 13]
        assert patch.max() > 0
        rows, columns = np.mgrid[0:13, 0:13]
        found = np.array([(patch * (columns + 0.5)).sum(), (patch * (rows + 0.5)).sum()]) / patch.sum() + [left, top]
        assert np.linalg.norm(found - [x, y]) < 0.5
    return len(inside)


@pytest.mark.parametrize("name", SHOTS)
def test_bright_spheres_are_found_within_a_pixel(name):
    shot = SHOTS[name].model_copy(update={"focus": Focus(distance_m=6, f_number=None)})
    assert found_within_half_a_pixel(shot, POINTS) >= 4


@pytest.mark.parametrize("law", lenses())
@pytest.mark.parametrize(("f_number", "cut"), [(None, None), (8.0, "Aside")])
def test_each_law_draws_spheres_all_around_where_the_sheet_says(law, f_number, cut):
    """Forty in all directions at 5 m, where the lens is focused; shifted, trimmed, enlarged, rolled and pitched; the whole
    frame, and a cut out of it."""
    directions = np.random.default_rng(6).normal(size=(40, 3)) * [1, 1, 0.6]
    points = 5.0 * directions / np.linalg.norm(directions, axis=1, keepdims=True) + [0, 0, 1.6]
    settings = lenses()[law]
    short = 8.0 if settings.get("projection") in ("fisheye", "cylindrical") else 14.0
    shot = Shot(
        stand=Stand(position=(0, 0, 1.6), aim=(0.5, 5, 2.4), roll_deg=6), back=Back(output_px=(600, 400), enlarge=1.1, trim=Trim(top=0.05), crops=[{"name": "Aside", "output_px": (500, 400), "size": 0.95, "at": (0.3, 0.4)}]),
        lens=Lens(**{**settings, "focal_length_mm": short, "scale_m": 13.0 if law == "parallel" else None}),
        movements=Movements(rise_mm=2.0, cross_mm=-1.5), focus=Focus(distance_m=5.0, f_number=f_number),
    )  # fmt: skip
    assert found_within_half_a_pixel(shot, points, cut) >= (5 if cut is None else 4)


def spread(film):
    """Diameter in pixels of the even disc with the same second moment: 2·sqrt(2·mean r²)."""
    y, x = np.mgrid[0 : film.shape[0], 0 : film.shape[1]]
    middle = (film * x).sum() / film.sum(), (film * y).sum() / film.sum()
    square = (film * ((x - middle[0]) ** 2 + (y - middle[1]) ** 2)).sum() / film.sum()
    return 2 * np.sqrt(2 * square)


@pytest.mark.parametrize(("blades", "distance"), [(0, 6.0), (0, 1.5), (6, 6.0)])
def test_blur_disc_is_as_wide_as_the_formula(blades, distance):
    shot = Shot(
        stand=Stand(position=(0, 0, 0), aim=(0, 5, 0)), lens=Lens(focal_length_mm=85), back=Back(output_px=(120, 80), enlarge=4),
        focus=Focus(distance_m=3.0, f_number=1.0, blades=blades),
    )  # fmt: skip
    film = rendered(shot, lamps([(0, distance, 0)], 0.001 * distance), samples=512, each=64).sum(axis=2)
    wanted = blur_times_mm(85, 1.0, 3000) * abs(1 / (1000 * distance) - 1 / 3000) / fit_back(shot.back).pixel_mm
    assert spread(film) == pytest.approx(wanted, rel=0.03), "a bladed aperture has the area of the round one"


def test_in_focus_it_is_a_point_and_a_pinhole_is_sharp_everywhere():
    for focus in (Focus(distance_m=5.0, f_number=1.4), Focus(distance_m=1.0, f_number=None)):
        shot = Shot(
            stand=Stand(position=(0, 0, 0), aim=(0, 5, 0)),
            lens=Lens(focal_length_mm=85),
            back=Back(output_px=(480, 320)),
            focus=focus,
        )
        film = rendered(shot, lamps([(0, 5.0, 0)], 0.002)).sum(axis=2)
        assert (film > 0.02 * film.max()).sum() <= 9


def test_rim_weight_moves_light_between_rim_and_centre():
    """For an even disc the mean of r² is R²/2; weighted to the rim 2/3·R², to the centre 1/3·R² (integrals)."""

    def disc(weight):
        shot = Shot(
            stand=Stand(position=(0, 0, 0), aim=(0, 5, 0)), lens=Lens(focal_length_mm=85), back=Back(output_px=(120, 80), enlarge=2),
            focus=Focus(distance_m=2.0, f_number=1.0, rim_weight=weight),
        )  # fmt: skip
        film = rendered(shot, lamps([(0, 8.0, 0)], 0.02), samples=256, each=64).sum(axis=2)
        return spread(film) ** 2, film.sum()

    (centre, sum_centre), (even, sum_even), (rim, sum_rim) = disc(-1.0), disc(0.0), disc(1.0)
    assert rim / even == pytest.approx(4 / 3, rel=0.04)
    assert centre / even == pytest.approx(2 / 3, rel=0.04)
    assert [sum_centre, sum_rim] == pytest.approx([sum_even] * 2, rel=0.06), "the exposure stays"


def test_light_is_in_candela_per_square_metre():
    """A grey card under a plain sky sends back its reflectance times the sky's luminance (Lambert)."""
    card = slab((-20, -20, -0.1), (20, 20, 0))
    shot = Shot(
        stand=Stand(position=(0, 0, 2), aim=(0, 0.1, 0)),
        back=Back(output_px=(60, 40)),
        focus=Focus(distance_m=2, f_number=None),
    )
    sky = LightSetup(sun=Sun(illuminance_lx=0), sky=Sky(luminance_cd_m2=5000, color=(1, 1, 1)))
    grey = Material("Grey card", (0.18, 0.18, 0.18), roughness=1.0)
    assert rendered(shot, [card], light=sky, materials=(grey,)).mean() == pytest.approx(900, rel=0.01)
    sun = LightSetup(sun=Sun(illuminance_lx=80_000, height_deg=30, color=(1, 1, 1)), sky=Sky(luminance_cd_m2=0))
    wanted = 0.18 * 80_000 * 0.5 / np.pi
    assert rendered(shot, [card], light=sun, materials=(grey,)).mean() == pytest.approx(wanted, rel=0.02)


def test_a_stage_used_again_in_another_light_or_without_something_is_as_one_made_anew():
    """Geometry is made ready once; what is left out of it and what shines on it are as if it had been made for them."""
    grey, red = Material("Grey", (0.5, 0.5, 0.5)), Material("Red", (0.8, 0.1, 0.1))
    model = set_of(
        trimesh.creation.box(bounds=[[-4, 2, -0.1], [4, 12, 0]]), *lamps(POINTS, 0.5), materials=(grey, red, GLOW)
    )
    shot = Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 6, 1.6)), back=Back(output_px=(48, 32)))
    day = LightSetup(sun=Sun(heading_deg=200, height_deg=50))
    asked = [
        (PlacedLight(light=day), ()), (PlacedLight(light=day), ("Part 1", "Part 3")), (PlacedLight(light=DARK), ("Part 1",)),
        (PlacedLight(light=day, north_deg=90.0), ()), (PlacedLight(light=day), ()),
    ]  # fmt: skip
    stage, pictures = Stage(model), []
    for light, left_out in asked:
        again, anew = (
            list(MitsubaRenderer(of, light, left_out).passes(shot, (48, 32), [4, 4], seed=2))[-1] for of in (stage, Stage(model))
        )  # fmt: skip
        assert np.array_equal(again.light, anew.light)
        assert np.array_equal(again.normal, anew.normal)
        pictures.append(again.light)
    assert np.array_equal(pictures[0], pictures[-1])
    for n, one in enumerate(pictures[:-1]):
        assert all(not np.allclose(one, other, rtol=0.05) for other in pictures[n + 1 : -1])
    with pytest.raises(ValueError, match="everything is left out"):
        stage.scene(PlacedLight(light=day), tuple(model.ids))


@pytest.mark.parametrize("law", lenses())
@pytest.mark.parametrize("f_number", [2.0, 5.6])
def test_the_corners_of_a_print_are_as_dark_as_the_sheet_says(law, f_number):
    """Under an even sky and nothing else each pixel is the light that gets through."""
    settings = {
        **lenses()[law],
        "focal_length_mm": 18.0,
        "falloff": Falloff(natural=True, mechanical=0.6, open_f_number=2.0),
    }
    shot = Shot(
        lens=Lens(**settings), back=Back(output_px=(30, 20), enlarge=1.05), movements=Movements(rise_mm=2),
        focus=Focus(distance_m=4.0, f_number=f_number),
    )  # fmt: skip
    sky = LightSetup(sun=Sun(illuminance_lx=0), sky=Sky(luminance_cd_m2=1000, color=(1, 1, 1)))
    film = rendered(
        shot,
        [slab((-1, -40, -1), (1, -39, 1))],
        samples=256,
        light=sky,
        materials=(Material("Black", (0, 0, 0)),),
        each=64,
    )
    x, y = np.meshgrid((np.arange(30) + 0.5) / 30, 1 - (np.arange(20) + 0.5) / 20)
    camera, uv = camera_of(shot), np.column_stack([x.ravel(), y.ravel()])
    wanted = camera.light(uv) * camera.rays(uv).sees
    assert film.mean(axis=2).ravel() / 1000 == pytest.approx(wanted, abs=0.11)
    assert film.mean() / 1000 == pytest.approx(wanted.mean(), abs=0.01)


def test_a_print_sees_through_the_holes_a_picture_cuts():
    """A card whose picture is clear on its right half, before a glowing wall: a leaf is no card."""
    out = io.BytesIO()
    leaf = np.full((8, 8, 4), 255, np.uint8)
    leaf[:, 4:, 3] = 0
    Image.fromarray(leaf).save(out, "PNG")
    corners = np.array(
        [(-1, 4, 0), (1, 4, 0), (1, 4, 2), (-1, 4, 2), (-9, 6, -9), (9, 6, -9), (9, 6, 9), (-9, 6, 9)], float
    )
    uv = np.array([(0, 0), (1, 0), (1, 1), (0, 1)] + [(np.nan, np.nan)] * 4, np.float32)
    for holes, right in ((0.5, 1000.0), (0.0, 1000.0), (None, 0.0)):
        model = SetModel(
            corners, np.array([(0, 1, 2), (0, 2, 3), (4, 5, 6), (4, 6, 7)], np.int32), np.array([0, 0, 1, 1], np.int32),
            (Part("Leaf", None, 0, 2), Part("Wall", None, 2, 2)), (Material("Leaf", (0, 0, 0), texture=0, holes=holes), GLOW), uv=uv, pictures=(out.getvalue(),),
        )  # fmt: skip
        shot = Shot(
            stand=Stand(position=(0, 0, 1), aim=(0, 5, 1)),
            lens=Lens(focal_length_mm=60),
            back=Back(output_px=(60, 40)),
            focus=Focus(distance_m=5, f_number=None),
        )
        *_, last = MitsubaRenderer(model, DARK).passes(shot, (60, 40), [8], seed=1)
        light = last.light.mean(axis=2)
        assert light[10:30, 14:24].max() < 1.0, "the leaf"
        assert light[10:30, 33:40].mean() == pytest.approx(right, rel=0.02, abs=1.0)
