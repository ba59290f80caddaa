"""A set of two boxes with a shot of it, on a served desk whose lab is the test's own."""

import uuid

import httpx
import pytest
import trimesh
from tests.files.test_door import glb_of

STAND = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}


@pytest.fixture
def client(served):
    with httpx.Client(base_url=served.address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0)) as found:
        yield found


@pytest.fixture
def shot(client):
    floor = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1 + uuid.uuid4().int % 1000 / 1e4, 1]])
    project = client.post("/api/projects", files={"model": ("boxes.glb", glb_of(floor, block))}).json()
    made = client.post(f"/api/projects/{project['id']}/shots", json={"how": STAND}).json()
    return {**made, "project": project["id"]}
