"""A set of two boxes with a shot of it, on a served desk whose lab is the test's own."""

import httpx
import pytest
import trimesh
from tests.files.test_import_model import glb_of

from zevlo.store.database import engine_for

STAND = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}


@pytest.fixture
def client(served):
    with httpx.Client(base_url=served.address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0)) as found:
        yield found


@pytest.fixture
def shot(client, served, brought_in):
    floor = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]])
    boxes = glb_of(floor, block)
    project = brought_in(engine_for(served.url), "boxes.glb", "Boxes", lambda at: at.write_bytes(boxes))
    made = client.post(f"/api/projects/{project}/shots", json={"how": STAND}).json()
    return {**made, "project": str(project)}
