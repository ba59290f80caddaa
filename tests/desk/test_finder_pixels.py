"""The browser's finder shows things where the sheet projects them: bright spheres found within a pixel."""

from base64 import b64decode
from typing import get_args

import numpy as np
import pytest
from tests.conftest import glb_set
from tests.core.kinds import lenses
from tests.desk.hands import choose, field, instrument, named, open_demo, option, settled
from tests.desk.spheres import SMALL, frame_on_screen, seen
from tests.lab.test_lens_pixels import POINTS, projected

from zevlo.core.camera.blur_map import blur_grid, levels_px
from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.solve import solve
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import FisheyeLaw
from zevlo.demo.glb import pottery_glb

ALL_AROUND = np.array([[4.5, 1.2, 1.8], [-4.0, 1.6, 0.6], [1.5, 2.6, 4.4], [-1.2, 2.5, -1.6], [5.0, 3.0, 3.5]])


@pytest.fixture
def painted():
    return True


def test_the_demo_is_painted_wherever_it_is_looked_at(page):
    """Its wheel room in the finder, the yard in the scout view and in Set: many tones, and other ones each time."""
    open_demo(page)
    choose(page, "Wheel room, looking NW")
    pictures = []
    for go in (None, "Scout", "Set"):
        if go:
            page.get_by_role("button", name=go, exact=True).click()
            page.wait_for_selector("[data-finder=ready]")
        page.wait_for_selector("canvas[data-drawn]")
        settled(page)
        box = page.locator("[role=application]").first.bounding_box()
        middle = {"x": box["x"] + box["width"] / 3, "y": box["y"] + box["height"] / 4, "width": 240, "height": 160}
        pictures.append(seen(page, middle))
        assert len(np.unique(pictures[-1].reshape(-1, 3), axis=0)) > 300
    for n, one in enumerate(pictures):
        assert all(np.abs(one - other).mean() > 3 for other in pictures[n + 1 :])


def sees_around(lens):
    """Whether a lens sees past half a turn: then a short one has spheres on several faces of the cube."""
    return solve(Shot(lens=lens)).lens.from_stand


def settings_of(law):
    settings = lenses()[law]
    if "distortion" in settings:
        settings = {"distortion": settings["distortion"].model_dump()}
    if law == "parallel":
        settings["scale_m"] = 6.0
    return {"focal_length_mm": 10 if sees_around(settings) else 28, **settings}


DRAWN = [law for law in lenses() if law not in get_args(FisheyeLaw)[1:]]
"""A lens of each kind the finder draws in its own way: all fisheyes come to it as the same grid."""


@pytest.mark.parametrize(("law", "roll"), [*((law, -5.0) for law in DRAWN), ("perspective", 0.0)])
def test_spheres_in_the_finder(spheres_on_screen, law, roll):
    lens = settings_of(law)
    points = np.vstack([POINTS, ALL_AROUND]) if sees_around(lens) else POINTS

    def turned(shot):
        shot["stand"] |= {"position": [0, 0, 1.6], "aim": [0.2, 5, 2.0], "roll_deg": roll}
        shot["lens"] |= lens
        shot["movements"]["rise_mm"] = 2.0

    shot, clip, picture = spheres_on_screen(points, 1.0, turned)
    width, height = clip["width"], clip["height"]
    assert all(float(value).is_integer() for value in clip.values()), "the frame lies on whole pixels"
    places = projected(Shot.model_validate(shot), points) * [width / 1500, height / 1000]
    inside = [p for p in places if 14 < p[0] < width - 14 and 14 < p[1] < height - 14]
    assert len(inside) >= 4
    for x, y in inside:
        x0, y0 = int(x) - 12, int(y) - 12
        patch = np.clip(picture[y0 : y0 + 25, x0 : x0 + 25] - 60, 0, None)
        assert patch.max() > 80
        rows, columns = np.mgrid[0 : patch.shape[0], 0 : patch.shape[1]]
        found = np.array([(patch * (columns + 0.5)).sum(), (patch * (rows + 0.5)).sum()]) / patch.sum() + [x0, y0]
        assert np.linalg.norm(found - [x, y]) < 0.7


@pytest.mark.parametrize("law", DRAWN)
def test_the_finder_draws_nothing_beyond_the_cuts(spheres_on_screen, law):
    """Of spheres to all sides at 1.5, 2.1 and 7 m, those between near and far clip alone, counted as the law counts
    distances; and of them only what a cutting plane leaves."""
    points = np.array(
        [
            [away * np.sin(turn), away * np.cos(turn), 1.6 + up]
            for turn in np.radians([-38, -14, 14, 38])
            for away, up in ((1.5, 0.35), (2.1, 0.1), (7.0, -0.6))
        ]
    )

    def cut(shot):
        shot["stand"] |= {"position": [0, 0, 1.6], "aim": [0, 5, 1.6]}
        shot["lens"] |= {**settings_of(law), "focal_length_mm": 16, "near_m": 1.8, "far_m": 5.0}
        shot["lens"]["cutting_plane"] = {"point": [0, 1.9, 0], "normal": [0, -1, 0]}

    shot, clip, picture = spheres_on_screen(points, 0.3, cut)
    width, height = clip["width"], clip["height"]
    sheet = projected(Shot.model_validate(shot), points) * [width / 1500, height / 1000]
    probes = {"probes": [list(point) for point in points]}
    answer = solve(Shot.model_validate({**shot, "focus": {**shot["focus"], **probes}})).focus.probes
    assert sum(probe.in_frame for probe in answer) == 2
    for (x, y), probe in zip(sheet, answer, strict=True):
        if not (0 < x < width and 0 < y < height):
            continue
        there = abs(picture[int(y), int(x)] - np.median(picture))
        assert (there > 40) == probe.in_frame, (x, y, there, probe)


def test_dark_corners_are_as_dark_on_screen_as_the_sheet_says(page, api):
    """The same view with them and without, before an even sky: what the shade multiplies it with, and only in the frame."""
    open_demo(page)
    choose(page, "Tower from the slip")
    instrument(page, "Lens")
    page.wait_for_selector("canvas[data-drawn]")
    settled(page)
    clip = frame_on_screen(page)
    width, height = clip["width"], clip["height"]
    plain = seen(page, clip)
    page.get_by_role("button", name="Natural falloff").click()
    settled(page)
    dark = seen(page, clip)
    row = named(api, page.url.split("/")[3], "Tower from the slip")
    shade = api.post("/api/solve", json=row["shot"]).json()["lens"]["shade"]
    greys = np.frombuffer(b64decode(shade["greys"]), np.uint8).reshape(shade["side"], -1) / 255.0
    assert greys.min() < 0.9
    last = shade["side"] - 1
    for across, down in ((0.04, 0.04), (0.5, 0.04), (0.96, 0.04), (0.5, 0.5), (0.06, 0.9)):
        x, y = int(across * width), int(down * height)
        patches = [one[y - 4 : y + 5, x - 4 : x + 5].mean() for one in (dark, plain)]
        wanted = greys[round(down * last), round(across * last)]
        assert patches[0] / patches[1] == pytest.approx(wanted, abs=0.03)


@pytest.mark.parametrize("law", ["tilted", "cylindrical"])
def test_hatching_and_lines_lie_where_the_core_says_it_is_soft(page, api, law):
    """The same picture plain, hatched and with lines: hatched where blur counts and nowhere else, lines where it comes to
    one of their levels."""
    page.set_viewport_size(SMALL)
    open_demo(page)
    choose(page, "Wheel room, looking NW")
    page.wait_for_selector("canvas[data-drawn]")
    if law == "tilted":
        instrument(page, "Movements")
        field(page, "Tilt", "1.5")
    else:
        instrument(page, "Lens")
        option(page, "Projection", "Cylindrical")
    instrument(page, "Focus")
    settled(page)
    clip = frame_on_screen(page)
    pictures = []
    for how in ("Plain", "Hatched", "Lines"):
        page.get_by_role("group", name="The blur in the finder").get_by_role("button", name=how).click()
        settled(page)
        marks = "[data-blur-labels], [data-focus-marks], [data-guide]"
        page.evaluate(
            "marks => document.querySelectorAll(marks).forEach((one) => { one.style.visibility = 'hidden'; })", marks
        )
        pictures.append(seen(page, clip).mean(axis=2))
    plain, hatched, lined = pictures
    shot = Shot.model_validate(named(api, page.url.split("/")[3], "Wheel room, looking NW")["shot"])
    uv, blur, part = blur_grid(Framing(shot, WorkingSet(glb_set(pottery_glb()))), 96, 40)
    limit = levels_px(Framing(shot))[0]
    held, own = np.log2(np.maximum(blur, 1e-6) / limit).reshape(40, 96), part.reshape(40, 96)
    even = np.zeros_like(held, dtype=bool)
    even[1:-1, 1:-1] = True
    counts_at = np.maximum(held, -1.0)
    for rows, columns in ((0, 1), (0, -1), (1, 0), (-1, 0)):
        other = np.roll(counts_at, (rows, columns), (0, 1))
        even &= (np.abs(other - counts_at) < 0.3) & (np.roll(own, (rows, columns), (0, 1)) == own) & (own >= 0)
    changed = {"hatched": np.abs(hatched - plain), "lined": np.abs(lined - plain)}
    counts = {"soft": 0, "sharp": 0, "between": 0}
    for (u, v), over, calm in zip(uv, held.ravel(), even.ravel(), strict=True):
        x, y = int(u * clip["width"]), int((1 - v) * clip["height"])
        patches = {name: one[y - 4 : y + 5, x - 4 : x + 5] for name, one in changed.items()}
        if not calm or patches["hatched"].shape != (9, 9):
            continue
        if over > 0.3:
            counts["soft"] += 1
            assert (patches["hatched"] > 12).sum() > 6, (u, v, over)
        elif over < -0.7:
            counts["sharp"] += 1
            assert (patches["hatched"] > 12).sum() < 4, (u, v, over)
        beside = np.abs(over - np.round(over)) if over > -0.3 else -over
        if beside > 0.35 and over > -2:
            counts["between"] += 1
            assert (patches["lined"] > 12).sum() < 12, (u, v, over)
    assert min(counts.values()) > 60, counts
    assert (changed["lined"] > 40).sum() > 300, "there are lines"
