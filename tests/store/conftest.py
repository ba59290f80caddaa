"""A project in the store, as the sandbox would hand its set on."""

import uuid

import pytest

from zevlo.core.light.setup import LightSetup
from zevlo.files.sandbox import ImportedModel
from zevlo.store import projects
from zevlo.store.database import transaction

BOX = [[0, 0, -2], [4, 3, 2]]


@pytest.fixture
def project(engine, tmp_path):
    with transaction(engine) as session:
        return projects.create_project(session, "Store", "a.glb", _taken(tmp_path, BOX), LightSetup()).id


def _taken(folder, bounds):
    """What the sandbox would hand on, without one."""
    paths = [folder / name for name in ("source", "arrays", "view-0.glb")]
    for path in paths:
        path.write_bytes(uuid.uuid4().bytes)
    summary = {"kind": "glTF", "triangles": 1, "drawn": 1, "extremes": bounds, "parts": [], "materials": 0, "textures": 0,
               "placing": {}, "guessed": [], "said": {"metres_per_unit": 1.0, "up": "z"}, "remarks": [], "places": {}, "site": {}}  # fmt: skip
    return ImportedModel(paths[0], paths[1], (paths[2],), (), summary)
