"""The shape of the blur: area, corners, rim, and what the barrel's edge takes off, against shapely."""

from itertools import product

import numpy as np
import pytest
from shapely.geometry import Point, Polygon

from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.solve import solve
from zevlo.core.optics.aperture import Aperture
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot

APERTURES = [
    Aperture(blades, turned, rim, squeeze, 20.0)
    for blades, turned, rim, squeeze in [
        (0, 0, 0, 0.4),
        (3, 20, 0, 0.3),
        (5, -11, 0.6, 0.5),
        (6, 0, -1, 0.9),
        (9, 4, 1, 0.2),
    ]
]


@pytest.mark.parametrize("aperture", APERTURES)
def test_it_has_the_area_of_the_round_one_and_its_light_is_one_in_the_mean(aperture):
    angles = np.linspace(0, 2 * np.pi, 20_001)[:-1]
    radii = aperture.radii(angles)
    assert 0.5 * (radii**2).sum() * (2 * np.pi / 20_000) == pytest.approx(np.pi, rel=1e-4)
    a, b = aperture.weights
    assert 0.5 * (a * radii**2 + b * radii**4 / 2).sum() * (2 * np.pi / 20_000) == pytest.approx(np.pi, rel=1e-4)
    assert min(a, a + b * aperture.reach**2) >= -1e-9, "no place takes light away"
    if not aperture.round:
        assert len(aperture.corners) == aperture.blades
        assert np.hypot(*aperture.corners.T) == pytest.approx(aperture.reach)


@pytest.mark.parametrize(("aperture", "place"), list(product(APERTURES, [(0, 0), (9, 4), (-12, 16), (16, -12)])))
def test_what_the_edge_leaves_is_what_two_polygons_share(aperture, place):
    edge = aperture.edge
    full = Polygon(aperture.corners) if not aperture.round else Point(0, 0).buffer(1, 256)
    rim = Point(-edge.by * place[0], -edge.by * place[1]).buffer(edge.radius, 256)
    both = full.intersection(rim)
    got = Polygon(aperture.outline(*place, (edge,)))
    assert got.symmetric_difference(both).area < 0.03 * full.area
    if aperture.rim_weight == 0:
        assert aperture.clear_shares().at(edge, *place) == pytest.approx(both.area / full.area, abs=0.01)


def test_the_corner_of_the_back_keeps_what_was_said_of_a_round_disc():
    shot = Shot(focus=Focus(f_number=2.8, squeeze=0.4), back=Back(output_px=(3000, 2000)))
    shape = solve(shot).focus.blur.shape
    assert shape.corner.share == pytest.approx(0.6, abs=0.01)
    assert shape.middle.share == 1.0
    assert Polygon(shape.corner.outline).area == pytest.approx(0.6 * np.pi, rel=0.03)
    assert Polygon(shape.middle.outline).area == pytest.approx(np.pi, rel=0.01)
    # Narrow across the way to the corner, as broad as ever along the edge: a cat's eye.
    direction = np.array([3, 2]) / np.hypot(3, 2)
    along = np.array(shape.corner.outline) @ direction
    beside = np.array(shape.corner.outline) @ [-direction[1], direction[0]]
    assert np.ptp(along) < 0.8 * np.ptp(beside)
    [edge] = shape.edges
    assert edge.x[0] + edge.x[1] * 0.5 == pytest.approx(0) == edge.y[0] + edge.y[1] * 0.5
    assert edge.x[0] + edge.x[1] < 0, "seen from the right its middle lies to the left"


def test_shapes_are_told_for_the_corner_a_shift_reaches_and_not_where_all_is_sharp():
    squeezed = Focus(f_number=2.8, squeeze=0.4)
    fallen = Shot(focus=squeezed, movements=Movements(rise_mm=-9.0))
    risen = Shot(focus=squeezed, movements=Movements(rise_mm=9.0))
    low, high = (np.array(solve(one).focus.blur.shape.corner.outline).mean(axis=0) for one in (fallen, risen))
    assert low[1] > 0 > high[1], "what is left lies towards the middle of the picture"
    assert solve(Shot(focus=Focus(f_number=None))).focus.blur.shape is None
    assert Framing(Shot(lens=Lens(projection="parallel", scale_m=2.0))).aperture is None


def test_falloff_squeezes_the_disc_as_well():
    shot = Shot(lens=Lens(falloff={"mechanical": 0.5}), focus=Focus(f_number=2.8))
    shape = solve(shot).focus.blur.shape
    assert Polygon(shape.corner.outline).area == pytest.approx(np.pi * solve(shot).lens.corner_light, rel=0.03)
