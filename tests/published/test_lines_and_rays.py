"""Outlines and floors against reference libraries: GEOS (by shapely) and trimesh."""

import numpy as np
import pytest
import shapely
import trimesh
from tests.conftest import set_of

from zevlo.core.scene.cuts.floor import FURNITURE_THICKNESS_M
from zevlo.core.scene.cuts.outline import mark_bends
from zevlo.core.scene.working import WorkingSet


@pytest.mark.parametrize("tolerance", [1e-3, 0.02, 0.3])
@pytest.mark.parametrize("seed", range(3))
def test_what_bends_is_what_geos_keeps(seed, tolerance):
    """GEOS's simplifier is Douglas and Peucker's too; shapely's documentation of `simplify` names them."""
    rng = np.random.default_rng(seed)
    line = np.c_[np.linspace(0, 10, 240), np.cumsum(rng.normal(size=240)) * 0.03]
    needed = np.zeros(len(line), dtype=np.bool_)
    mark_bends(line, 0, len(line) - 1, tolerance, needed)
    theirs = shapely.get_coordinates(shapely.simplify(shapely.LineString(line), tolerance, preserve_topology=False))
    assert line[needed] == pytest.approx(theirs)


def test_the_floor_is_where_geos_and_barycentric_heights_put_it():
    """Which triangles lie below a point: GEOS. How high they are there: trimesh's barycentric coordinates."""
    rng = np.random.default_rng(3)
    blob = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    blob.vertices *= 1 + 0.2 * rng.normal(size=(len(blob.vertices), 1))
    working, flat = WorkingSet(set_of(blob)), shapely.polygons(blob.triangles[:, :, :2])
    stood = 0
    for x, y in rng.uniform(-2.5, 2.5, (80, 2)):
        below = blob.triangles[shapely.contains_xy(flat, x, y)]
        level = below * [1, 1, 0]
        shares = trimesh.triangles.points_to_barycentric(level, np.tile([x, y, 0.0], (len(level), 1)))
        heights = np.sort(np.einsum("ij,ij->i", shares, below[:, :, 2]))[::-1]
        found = working.floor_under(np.array([x, y, 9.0]))
        if len(heights) == 0:
            assert found is None
        elif heights[0] - heights[1] > FURNITURE_THICKNESS_M:
            assert found == pytest.approx(heights[0], abs=1e-9), "thick enough to stand on"
            stood += 1
        else:
            assert np.abs(heights - found).min() < 1e-9
    assert stood > 20
