"""Sets where surveys have them, thousands of kilometres from zero: brought near, worked with, corrected, sent back."""

import json

import numpy as np
import pytest
from tests.api.asking import new, now_of, post, undo
from tests.api.conftest import TWO_BOXES

from zevlo.core.refused import Refused
from zevlo.core.scene.model.placing import FARTHEST_M, Placing, corrected, moved_to_origin
from zevlo.store.database import engine_for

EAST, NORTH = 691_000.0, 5_334_000.0
"""Of a place in the middle of Europe, in metres, as maps in UTM count (common practice, no source)."""


@pytest.fixture
def far(client, settings, brought_in):
    """Two boxes in an OBJ, in metres, Z up as surveys have it."""
    lines, count = ["# Z up"], 0
    for n, (low, high) in enumerate(TWO_BOXES):
        lines.append(f"o Box {n}")
        x, y, z = np.array([low, high])[:, [0, 2, 1]].T + np.array([[EAST], [NORTH], [0.0]])
        lines += [f"v {a:.4f} {b:.4f} {c:.4f}" for c in z for b in y for a in x]
        quads = [(1, 2, 4, 3), (5, 7, 8, 6), (1, 5, 6, 2), (3, 4, 8, 7), (1, 3, 7, 5), (2, 6, 8, 4)]
        lines += ["f " + " ".join(str(corner + count) for corner in quad) for quad in quads]
        count += 8
    data = "\n".join(lines).encode()
    key = brought_in(engine_for(settings.database_url), "surveyed.obj", "Surveyed", lambda at: at.write_bytes(data))
    found = client.get(f"/api/projects/{key}").json()
    placed = post(client, found, "placing", up="z", metres_per_unit=1.0)
    return placed.json() if placed.status_code == 200 else found


def test_it_stands_about_zero_and_its_cameras_where_the_survey_has_it(client, far):
    (low, high) = far["set"]["bounds"]
    assert np.abs([*low[:2], *high[:2]]).max() < 10
    assert far["set"]["placing"]["moved_m"][:2] == [-EAST, -NORTH]
    shot = new(client, far)
    assert shot["shot"]["stand"]["position"][:2] == [0, -5]
    answer = client.get(f"/api/projects/{far['id']}/cameras/file", params={"ending": ".intrinsics.json", "own": True})
    (row,) = json.loads(answer.content)["cameras"]
    at = -np.array(row["R"]).T @ np.array(row["t"])
    assert at[:2] == pytest.approx([EAST, NORTH - 5.0], abs=1e-6)


def test_in_another_unit_it_is_still_there_and_comes_back(client, far):
    shot = new(client, far)
    for unit in (0.001, 1000.0):
        answer = post(client, far, "placing", metres_per_unit=unit)
        assert answer.status_code == 200, answer.text
        assert now_of(client, far)["set"]["placing"]["moved_m"][1] == pytest.approx(-NORTH * unit)
        assert undo(client, far)["set"]["placing"]["moved_m"][1] == -NORTH
    assert now_of(client, far)["shots"][0]["shot"] == shot["shot"]


def test_farther_than_can_be_is_refused_in_words():
    near = Placing(moved_m=(0, -0.9 * FARTHEST_M, 0))
    assert corrected(near, up="z") == near
    with pytest.raises(Refused, match="farther from zero"):
        corrected(near, metres_per_unit=1000.0)
    box = np.array([[0, 0, 0], [1.0, 2.0 * FARTHEST_M, 1.0]])
    with pytest.raises(Refused, match="2000000000 km from zero"):
        moved_to_origin(box, Placing())
