"""A disk that is really full: what cannot be written is refused in words, nothing before it is lost, and it goes on."""

import os
import shutil
import subprocess
import tempfile
from pathlib import Path

import pytest
import trimesh
from fastapi.testclient import TestClient
from tests.conftest import HOME, settings_for
from tests.files.test_import_model import glb_of

from zevlo.api.app import create_app
from zevlo.store import cluster
from zevlo.store.database import engine_for, migrate


@pytest.fixture
def small_disk():
    """A file system of its own with little room, as root may make one."""
    folder = Path(tempfile.mkdtemp(prefix="disk-", dir=os.environ[HOME]))
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=170m,mode=0755", "tmpfs", str(folder)], check=False)
    if made.returncode:
        pytest.skip("a small file system cannot be made here: only root may mount")
    own = cluster.Cluster(folder / "pg")
    try:
        yield folder, cluster.ensure_database(own, cluster.start(own))
    finally:
        cluster.stop(own)
        subprocess.run(["umount", str(folder)], check=False)


def fill(folder):
    """Takes all room but half a megabyte; gives back the file that holds it."""
    filler = folder / "filler"
    with filler.open("wb") as file:
        room = shutil.disk_usage(folder).free - 512 * 1024
        for _ in range(room // 65536):
            file.write(os.urandom(65536))
    return filler


def test_a_full_disk_is_told_and_nothing_is_lost(small_disk):
    folder, url = small_disk
    migrate(engine_for(url))
    large = glb_of(trimesh.creation.icosphere(subdivisions=6))
    assert len(large) > 1_000_000
    with TestClient(
        create_app(settings_for(url, upload_mb=30)), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)
    ) as client:
        kept = client.post("/api/projects", files={"model": ("box.glb", glb_of(trimesh.creation.box()))}).json()
        how = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}
        shot = client.post(f"/api/projects/{kept['id']}/shots", json={"how": how}).json()
        filler = fill(folder)
        refused = client.post("/api/projects", files={"model": ("ball.glb", large)})
        assert refused.status_code == 503, refused.text
        assert "disk is full" in refused.json()["detail"]
        assert int(refused.headers["Retry-After"]) >= 1
        names = [card["name"] for card in client.get("/api/projects").json()["projects"]]
        assert names == [kept["name"]], "no half of what was refused"
        assert client.get(f"/api/projects/{kept['id']}").json()["shots"][0]["shot"] == shot["shot"]
        filler.unlink()
        assert client.post("/api/projects", files={"model": ("ball.glb", large)}).status_code == 201
        patch = {"version": shot["version"], "patch": {"lens": {"focal_length_mm": 61}}}
        assert client.patch(f"/api/shots/{shot['id']}", json=patch).status_code == 200
