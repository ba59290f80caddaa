"""Asking the API as the desk does."""

import asyncio
import time
from concurrent.futures import ThreadPoolExecutor


def in_a_loop(work):
    """Runs a coroutine in a thread of its own: that of the tests has a loop already once a browser was there."""
    with ThreadPoolExecutor(1) as alone:
        return alone.submit(asyncio.run, work).result()


async def until(condition):
    """Asks again until something has come to pass."""
    deadline = time.monotonic() + 60.0
    while not condition():
        assert time.monotonic() < deadline, "it did not come to pass"
        await asyncio.sleep(0.01)


def new(client, project, stand=(0, -5), aim=(0, 0), **more):
    how = {"kind": "from_plan", "stand": stand, "aim": aim}
    answer = client.post(f"/api/projects/{project['id']}/shots", json={"how": how, **more})
    assert answer.status_code == 201, answer.text
    return answer.json()


def now_of(client, project):
    return client.get(f"/api/projects/{project['id']}").json()


def prints_of(client, project):
    return client.get(f"/api/projects/{project['id']}/prints").json()["prints"]


def undo(client, project, what="undo"):
    return client.post(f"/api/projects/{project['id']}/{what}").json()


def patch(client, row, **body):
    return client.patch(f"/api/shots/{row['id']}", json={"version": row["version"], **body})


def post(client, project, address, **body):
    return client.post(
        f"/api/projects/{project['id']}/{address}", json={"version": now_of(client, project)["version"], **body}
    )


def change(client, project, **body):
    return client.patch(f"/api/projects/{project['id']}", json={"version": now_of(client, project)["version"], **body})


def things(client):
    """A project with a shot, a print, an order and documents; their ids by the first word of the addresses they have."""
    from tests.api.conftest import TWO_BOXES
    from tests.files.test_import_model import glb_of
    from trimesh.creation import box

    model = ("two_boxes.glb", glb_of(*(box(bounds=one) for one in TWO_BOXES)))
    project = client.post("/api/projects", files={"model": model}).json()
    shot, key = new(client, project), project["id"]
    order = client.post(
        f"/api/projects/{key}/orders", json={"order": {"pictures": [{"shot": shot["id"]}], "quality": "draft"}}
    ).json()
    documents = {"shots": [shot["id"]], "shot_list": {}}
    asked = client.post(f"/api/projects/{key}/documents", json={"documents": documents}).json()
    return {
        "projects": key,
        "shots": shot["id"],
        "prints": client.post(f"/api/shots/{shot['id']}/proof").json()["id"],
        "orders": order["id"],
        "documents": asked["id"],
        "takes": shot["take"]["id"],
    }
