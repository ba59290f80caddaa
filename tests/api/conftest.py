"""A server to ask, and small projects on it."""

import pytest
import trimesh
from fastapi.testclient import TestClient
from tests.files.test_import_model import glb_of

from zevlo.api.app import create_app

TWO_BOXES = [((-6, -0.2, -6), (6, 0, 6)), ((-1, 0, -1), (1, 1, 1))]
"""A floor with a block on it, metres, Y up as glTF has it."""
HOUSE = [
    ((0, -0.2, -4), (6, 0, 0)), ((0, 2.8, -4), (6, 3, 0)), ((0, 0, -4), (6, 2.8, -3.8)), ((0, 0, -3.8), (0.2, 2.8, -0.2)),
    ((5.8, 0, -3.8), (6, 2.8, -0.2)), ((0, 0, -0.2), (2, 2.8, 0)), ((3, 0, -0.2), (6, 2.8, 0)), ((2, 2.05, -0.2), (3, 2.8, 0)),
    ((4, 1.5, -2), (4.2, 1.7, -1.8)),
]  # fmt: skip
"""A room with a ceiling; the door is a gap in the south wall."""


@pytest.fixture(scope="module")
def client(settings):
    with TestClient(create_app(settings), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)) as found:
        yield found


@pytest.fixture(scope="session")
def new_project(brought_in):
    """Makes projects of boxes, by the name of their model."""

    def made(client, name, boxes):
        title = name.replace("_", " ").capitalize()
        meshes = [trimesh.creation.box(bounds=box) for box in boxes]
        key = brought_in(client.app.state.desk.engine, f"{name}.glb", title, lambda at: at.write_bytes(glb_of(*meshes)))
        return client.get(f"/api/projects/{key}").json()

    return made


@pytest.fixture
def project(client, new_project):
    return new_project(client, "two_boxes", TWO_BOXES)


@pytest.fixture
def house(client, new_project):
    return new_project(client, "small_house", HOUSE)
