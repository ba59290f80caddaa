"""The blur drawn live in the finder, beside the print of the same shot: edges are as wide, discs as large and of the same
shape."""

import numpy as np
import pytest
import shapely
from scipy.ndimage import gaussian_filter
from shapely.geometry import Polygon
from tests.conftest import glb_set
from tests.core.kinds import lenses
from tests.desk.hands import choose, instrument, named, open_demo, settled
from tests.desk.spheres import SMALL, frame_on_screen, seen
from tests.desk.test_finder_pixels import settings_of
from tests.lab.test_lens_pixels import projected

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.solve import solve
from zevlo.core.light.site import PlacedLight
from zevlo.core.light.tone import shoulder
from zevlo.core.scene.as_shown import model_as_shown
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import LIGHT
from zevlo.lab.develop import clean, expose, srgb
from zevlo.lab.renderer import MitsubaRenderer

ROOM, STEP = 11, 18.0
"""Pixels on both sides of an edge within which it has to stand alone, and how much brighter one side has to be."""
SHOTS = {
    "Wheel room, looking NW": {"f_number": 1.0, "distance_m": 1.5},
    "Teapot hero": {"f_number": 2.0, "distance_m": 1.7},
}


@pytest.fixture
def painted():
    return True


@pytest.fixture(scope="module")
def demo():
    return model_as_shown(WorkingSet(glb_set(pottery_glb())), None)


def printed(demo, shot, size, white):
    *_, film = MitsubaRenderer(demo, PlacedLight(light=LIGHT), shot.left_out).passes(shot, size, [8, 8], seed=4)
    return srgb(shoulder(expose(clean(film), white))).astype(float).mean(axis=2)


def change(api, row, **focus):
    asked = {"version": row["version"], "label": "Focus", "patch": {"focus": focus}, "seen": None, "gesture": None}
    api.patch(f"/api/shots/{row['id']}", json=asked).raise_for_status()


def width_of(profile):
    """How wide an edge is: the standard deviation of where it rises. None where it does not rise alone."""
    rise = np.diff(profile)
    whole = rise.sum()
    if abs(whole) < STEP or np.abs(rise).sum() > 1.2 * abs(whole):
        return None
    share, at = np.clip(rise / whole, 0.0, None), np.arange(len(rise))
    middle = (share * at).sum() / share.sum()
    return None if abs(middle - len(rise) / 2) > ROOM / 3 else np.sqrt((share * (at - middle) ** 2).sum() / share.sum())


def edges(plain, *pictures):
    """Widths (n, pictures) of the edges of a plain picture that stand alone in all others, across and upright."""
    found = []
    for turned in (False, True):
        ours = [one.T if turned else one for one in pictures]
        steep = np.abs(np.diff(plain.T if turned else plain, axis=1))
        for y in range(4, len(steep) - 4, 5):
            row = steep[y]
            for x in np.nonzero((row > STEP / 2) & (row >= np.roll(row, 1)) & (row >= np.roll(row, -1)))[0]:
                if ROOM < x < len(row) - ROOM:
                    widths = [width_of(one[y - 1 : y + 2, x - ROOM : x + ROOM + 1].mean(axis=0)) for one in ours]
                    if None not in widths:
                        found.append(widths)
    return np.array(found)


@pytest.mark.parametrize("name", SHOTS)
def test_edges_are_as_wide_as_in_the_print(page, api, demo, name):
    project = open_demo(page)
    white = solve(Shot.model_validate(named(api, project, name)["shot"])).exposure.white_cd_m2
    change(api, named(api, project, name), **SHOTS[name])
    choose(page, name)
    instrument(page, "Focus")
    group = page.get_by_role("group", name="The blur in the finder")
    clip = frame_on_screen(page)
    drawn = {}
    for how in ("Plain", "Blurred"):
        group.get_by_role("button", name=how).click()
        settled(page)
        page.evaluate(
            "() => document.querySelectorAll('[data-focus-marks], [data-guide], [data-blur-preview]').forEach((one) => { one.style.visibility = 'hidden'; })"
        )
        drawn[how] = seen(page, clip).mean(axis=2)
    size = drawn["Plain"].shape[1], drawn["Plain"].shape[0]
    shot = Shot.model_validate(named(api, project, name)["shot"])
    ours, theirs = edges(drawn["Plain"], drawn["Blurred"], printed(demo, shot, size, white)).T
    assert len(ours) > 80
    assert np.sqrt(((ours - theirs) ** 2).mean()) < 2.0
    assert abs(np.median(ours - theirs)) < 0.5, "neither softer nor sharper on the whole"
    plain = edges(drawn["Plain"], drawn["Plain"], drawn["Blurred"])
    assert np.median(plain[:, 1] / plain[:, 0]) > 1.1, "and there is blur to compare"


def one_of_each_kind():
    """A lens of each kind of law that blurs: the finder draws all fisheyes by the same grid."""
    kinds = {
        type(Framing(Shot(lens=own)).law): name for name, own in lenses().items() if Framing(Shot(lens=own)).law.blurs
    }
    return list(kinds.values())


@pytest.mark.parametrize("law", one_of_each_kind())
def test_discs_are_as_large_and_of_the_shape_as_told(page, spheres_on_screen, law):
    """Lights far behind the focus, under a lens that is turned where its law can be, with three blades and a squeeze."""
    points = np.array([[0.0, 6.0, 1.6], [1.25, 6.0, 2.2], [-1.3, 6.0, 2.25], [-1.1, 6.0, 0.95]])
    page.set_viewport_size(SMALL)
    page.goto("/")
    page.evaluate("() => localStorage.setItem('zevlo-softness', '\"drawn\"')")

    def soft(shot):
        shot["stand"] |= {"position": [0, 0, 1.6], "aim": [0, 5, 1.6]}
        shot["lens"] |= {**settings_of(law), "focal_length_mm": 50}
        shot["movements"] |= {"tilt_deg": 0.4} if law == "perspective" else {}
        shot["focus"] |= {"distance_m": 1.5, "f_number": 0.7, "blades": 3, "blade_rotation_deg": 8.0, "squeeze": 0.5}

    given, clip, picture = spheres_on_screen(points, 1.0, soft)
    shot = Shot.model_validate(given)
    camera, aperture = camera_of(shot), Framing(shot).aperture
    scale = clip["width"] / 1500
    own = 0.06 / camera.span(6.0)[0] * clip["width"] / 2
    """How far the balls spread by their own size: the standard deviation of a disc along a line is half its radius."""
    probes = solve(
        shot.with_groups(focus=shot.focus.model_copy(update={"probes": tuple(map(tuple, points))}))
    ).focus.probes
    for probe, (x, y) in zip(probes, projected(shot, points) * scale, strict=True):
        shape = probe.blur_px / 2 * scale * aperture.outline(*camera.film(np.array([probe.at]))[0], (aperture.edge,))
        rows, columns = (slice(max(0, round(middle) - 40), round(middle) + 41) for middle in (y, x))
        patch = np.clip(picture[rows, columns] - np.median(picture), 0, None)
        high, wide = np.mgrid[rows, columns][:, : patch.shape[0], : patch.shape[1]] + 0.5
        masks = [
            shapely.contains_xy(Polygon(shape * [direction, -direction]), wide - x, high - y) for direction in (1, -1)
        ]
        alike, other = (
            np.corrcoef(gaussian_filter(mask.astype(float), own).ravel(), patch.ravel())[0, 1] for mask in masks
        )
        assert alike > 0.93, (law, probe.at)
        assert other < alike - 0.03, (law, probe.at, "not the shape turned over")
