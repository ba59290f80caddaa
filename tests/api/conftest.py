"""A server to ask, and small projects on it."""

import pytest
import trimesh
from fastapi.testclient import TestClient
from tests.files.test_door import glb_of

from zevlo.api.app import create_app


@pytest.fixture(scope="module")
def client(settings):
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as found:
        yield found


def two_boxes(client):
    """A project of a floor with a block on it."""
    floor = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]])
    answer = client.post("/api/projects", files={"model": ("two_boxes.glb", glb_of(floor, block))})
    assert answer.status_code == 201, answer.text
    return answer.json()


@pytest.fixture
def project(client):
    return two_boxes(client)


@pytest.fixture
def house(client):
    """A room with a ceiling, in metres, Y up as glTF has it; the door is a gap in the south wall."""
    boxes = [
        ((0, -0.2, -4), (6, 0, 0)), ((0, 2.8, -4), (6, 3, 0)), ((0, 0, -4), (6, 2.8, -3.8)), ((0, 0, -3.8), (0.2, 2.8, -0.2)),
        ((5.8, 0, -3.8), (6, 2.8, -0.2)), ((0, 0, -0.2), (2, 2.8, 0)), ((3, 0, -0.2), (6, 2.8, 0)), ((2, 2.05, -0.2), (3, 2.8, 0)),
        ((4, 1.5, -2), (4.2, 1.7, -1.8)),
    ]  # fmt: skip
    meshes = [trimesh.creation.box(bounds=box) for box in boxes]
    answer = client.post("/api/projects", files={"model": ("small_house.glb", glb_of(*meshes))})
    assert answer.status_code == 201, answer.text
    return answer.json()
