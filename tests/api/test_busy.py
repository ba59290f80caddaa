"""One project in which something long is written: who waits for it is told in words, and nobody else notices."""

import threading
import uuid
from concurrent.futures import ThreadPoolExecutor

import httpx
import pytest
from sqlalchemy import text
from tests.conftest import slab
from tests.files.test_import_model import glb_of

from zevlo.store import changes
from zevlo.store.changes import HOME
from zevlo.store.database import engine_for, transaction

WRITERS = 60
"""More than the server has connections, and threads."""
FROM_PLAN = {"how": {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}}


class Held:
    """A scope in which somebody writes, for as long as one likes."""

    def __init__(self, url, scope):
        self.let_go, self.is_held = threading.Event(), threading.Event()

        def holding():
            with transaction(engine_for(url)) as session:
                changes.hold(session, scope)
                self.is_held.set()
                self.let_go.wait()

        self.thread = threading.Thread(target=holding)

    def __enter__(self):
        self.thread.start()
        self.is_held.wait()

    def __exit__(self, *_):
        self.let_go.set()
        self.thread.join()


@pytest.fixture
def asking(served):
    limits = httpx.Limits(max_connections=2 * WRITERS, max_keepalive_connections=0)
    with httpx.Client(base_url=served.address, timeout=120, limits=limits) as client:
        yield client


@pytest.fixture
def two(asking, served, brought_in):
    """Two projects, each with a shot."""
    made = []
    for _ in range(2):
        project = brought_in(
            engine_for(served.url), "slab.glb", "Slab", lambda at: at.write_bytes(glb_of(slab((-4, -4, -1), (4, 4, 0))))
        )
        made.append((str(project), asking.post(f"/api/projects/{project}/shots", json=FROM_PLAN).json()))
    return made


def label(asking, shot, words):
    return asking.post(f"/api/shots/{shot['id']}/card", json={"version": shot["version"], "labels": [words]})


def test_who_waits_for_a_held_project_is_told_and_others_go_on(asking, served, two):
    (held, shot), (_, its) = two
    with Held(served.url, held), ThreadPoolExecutor(WRITERS) as hands:
        waiting = [hands.submit(label, asking, shot, f"{n}") for n in range(WRITERS)]
        for n in range(12):
            answer = label(asking, its, f"{n}")
            assert answer.status_code == 200, answer.text
            its = answer.json()
            assert asking.get(f"/api/projects/{held}").status_code == 200, "it can be looked at meanwhile"
        answers = [one.result() for one in waiting]
    assert {one.status_code for one in answers} == {503}
    assert all("This project is busy" in one.json()["detail"] and one.headers["Retry-After"] for one in answers)
    assert label(asking, shot, "after").status_code == 200, "nothing of those was written"


def test_many_who_write_at_once_all_get_their_turn(asking, two):
    """On a busy machine some may be told to ask again, as a desk does: then they get it, and none twice."""
    (project, shot), _ = two

    def duplicate(n):
        while (
            answer := asking.post(f"/api/shots/{shot['id']}/duplicate", json={"id": str(uuid.UUID(int=n))})
        ).status_code == 503:
            assert "This project is busy" in answer.json()["detail"]
        return answer.status_code

    with ThreadPoolExecutor(WRITERS) as hands:
        assert set(hands.map(duplicate, range(1, WRITERS + 1))) == {201}
    assert len(asking.get(f"/api/projects/{project}").json()["shots"]) == WRITERS + 1


def test_the_list_of_projects_held_up_says_so_too(asking, served, two):
    (_, shot), _ = two
    with Held(served.url, HOME):
        answer = asking.post("/api/undo", json={})
        assert (answer.status_code, "The list of projects is busy" in answer.json()["detail"]) == (503, True)
        assert label(asking, shot, "meanwhile").status_code == 200


def test_a_wait_for_rows_is_not_cut_short_by_that(engine):
    """Only the wait for the scope has an end; what the transaction does after it takes as long as it takes."""
    scope = str(uuid.uuid4())
    held = Held(engine.url.set(drivername="postgresql").render_as_string(hide_password=False), scope)
    with held, transaction(engine) as session:
        threading.Timer(0.3, held.let_go.set).start()
        changes.hold(session, scope)
        assert session.scalar(text("show lock_timeout")) == "0"
