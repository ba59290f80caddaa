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


def undo(client, project, way="undo"):
    return client.post(f"/api/projects/{project['id']}/{way}").json()


def patch(client, row, **body):
    return client.patch(f"/api/shots/{row['id']}", json={"version": row["version"], **body})


def post(client, project, address, **body):
    return client.post(
        f"/api/projects/{project['id']}/{address}", json={"version": now_of(client, project)["version"], **body}
    )


def change(client, project, **body):
    return client.patch(f"/api/projects/{project['id']}", json={"version": now_of(client, project)["version"], **body})
