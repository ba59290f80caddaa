"""A server to ask, and small projects on it."""

from contextlib import ExitStack

import pytest
import trimesh
from fastapi.testclient import TestClient
from tests.files.test_door import glb_of

from zevlo.api.app import create_app
from zevlo.core.light.setup import LightSetup
from zevlo.files.door import take_in
from zevlo.store.database import transaction
from zevlo.store.projects import create_project

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
    with TestClient(create_app(settings), base_url="http://127.0.0.1") as found:
        yield found


@pytest.fixture(scope="session")
def new_project(tmp_path_factory):
    """Makes projects as the API does. A model comes through the door once for all of them: each time takes longer than
    most tests, and what the door does is tested elsewhere."""
    with ExitStack() as open_still:
        read = {}

        def made(client, name, boxes):
            if name not in read:
                source = tmp_path_factory.mktemp("model") / "model"
                source.write_bytes(glb_of(*[trimesh.creation.box(bounds=box) for box in boxes]))
                read[name] = open_still.enter_context(take_in(source, f"{name}.glb"))
            title = name.replace("_", " ").capitalize()
            with transaction(client.app.state.desk.engine) as session:
                key = create_project(session, title, f"{name}.glb", read[name], LightSetup()).id
            return client.get(f"/api/projects/{key}").json()

        yield made


@pytest.fixture
def project(client, new_project):
    return new_project(client, "two_boxes", TWO_BOXES)


@pytest.fixture
def house(client, new_project):
    return new_project(client, "small_house", HOUSE)
