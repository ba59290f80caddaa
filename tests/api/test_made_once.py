"""What is asked for again because its answer got lost is made once."""

import uuid
from concurrent.futures import ThreadPoolExecutor

import pytest
from tests.api.asking import now_of, prints_of, undo
from tests.core.kinds import SHOT_GESTURES
from tests.core.results import moves

PLAN = {"kind": "from_plan", "stand": [0, -5], "aim": [0, 0]}


def make_shot(client, project, shot, key):
    return client.post(f"/api/projects/{project['id']}/shots", json={"how": PLAN, "id": key})


def make_twin(client, project, shot, key):
    return client.post(f"/api/shots/{shot['id']}/duplicate", json={"id": key})


def make_stand_in(client, project, shot, key):
    body = {"version": now_of(client, project)["version"], "what": "standing", "at": [1, -2], "id": key}
    return client.post(f"/api/projects/{project['id']}/stand-ins", json=body)


def make_proof(client, project, shot, key):
    return client.post(f"/api/shots/{shot['id']}/proof", json={"id": key})


def make_order(client, project, shot, key):
    order = {"pictures": [{"shot": shot["id"]}]}
    return client.post(f"/api/projects/{project['id']}/orders", json={"id": key, "order": order})


MAKING = [make_shot, make_twin, make_proof, make_order, make_stand_in]


@pytest.fixture
def shot(client, project):
    return client.post(f"/api/projects/{project['id']}/shots", json={"how": PLAN}).json()


def counted(client, project):
    now = now_of(client, project)
    return len(now["shots"]), len(prints_of(client, project)), len(now["stand_ins"])


@pytest.mark.parametrize("make", MAKING)
def test_asked_twice_or_by_many_at_once_it_is_made_once(client, project, shot, make):
    before, key = counted(client, project), str(uuid.uuid4())
    with ThreadPoolExecutor(4) as hands:
        answers = list(hands.map(lambda _: make(client, project, shot, key), range(4)))
    made = [(one.status_code, one.json()["id"]) for one in answers]
    assert made == [(201, project["id"] if make is make_stand_in else key)] * 4
    after = counted(client, project)
    assert sum(after) == sum(before) + 1
    # Without an id each asking makes one more.
    answer = make(client, project, shot, None)
    assert answer.status_code == 201
    assert sum(counted(client, project)) == sum(after) + 1


@pytest.mark.parametrize("make", [make_shot, make_twin])
def test_what_was_taken_back_meanwhile_is_not_made_again(client, project, shot, make):
    key = str(uuid.uuid4())
    assert make(client, project, shot, key).status_code == 201
    before = counted(client, project)
    undo(client, project)
    late = make(client, project, shot, key)
    assert (late.status_code, "not there any more" in late.json()["detail"]) == (404, True)
    assert counted(client, project)[0] == before[0] - 1


def test_an_id_of_another_project_is_refused(client, project, shot):
    box = {"model": ("b.glb", client.get(project["set"]["views"][0]).content)}
    other = client.post("/api/projects", files=box).json()
    assert make_shot(client, other, None, shot["id"]).status_code == 404
    assert counted(client, other) == (0, 0, 0)
    mine = client.post(f"/api/projects/{other['id']}/shots", json={"how": PLAN}).json()
    proof = make_proof(client, project, shot, str(uuid.uuid4())).json()
    assert make_proof(client, other, mine, proof["id"]).status_code == 404


def test_undo_and_redo_asked_for_twice_are_done_once(client, project, shot):
    """The answer got lost: what is asked for again is the same change, not the one before it."""
    for focal in (40, 50, 60):
        row = now_of(client, project)["shots"][0]
        body = {"version": row["version"], "label": f"To {focal}", "patch": {"lens": {"focal_length_mm": focal}}}
        assert client.patch(f"/api/shots/{row['id']}", json=body).status_code == 200

    def focal_after(what, change):
        answer = client.post(f"/api/projects/{project['id']}/{what}", json={"change": change})
        assert answer.status_code == 200, answer.text
        return now_of(client, project)["shots"][0]["shot"]["lens"]["focal_length_mm"]

    seen = now_of(client, project)["undo_at"]
    assert [focal_after("undo", seen) for _ in range(3)] == [50] * 3
    seen = now_of(client, project)["redo_at"]
    assert [focal_after("redo", seen) for _ in range(3)] == [60] * 3


def test_a_stand_in_is_known_by_its_id_wherever_in_the_list_it_stands(client, project, shot):
    """Somebody else takes the first one away before the second is moved."""
    for key in (str(uuid.uuid4()), str(uuid.uuid4())):
        made = make_stand_in(client, project, shot, key).json()
    first, second = made["stand_ins"]
    taken = client.patch(f"/api/projects/{project['id']}", json={"version": made["version"], "stand_ins": [second], "label": "Take away"}).json()  # fmt: skip
    body = {"version": taken["version"], "id": second["id"], "to": {"kind": "plan", "x": 3, "y": 3}}
    moved = client.post(f"/api/projects/{project['id']}/stand-ins/move", json=body).json()
    assert [(one["id"], one["at"][:2]) for one in moved["stand_ins"]] == [(second["id"], [3, 3])]
    late = client.post(f"/api/projects/{project['id']}/stand-ins/move", json={**body, "version": moved["version"], "id": first["id"]})  # fmt: skip
    assert late.status_code == 404


def test_a_gesture_asked_for_twice_moves_the_camera_once(client, project, shot):
    """Of every kind: a turn by 30 degrees is not one by 60 because its answer got lost. Where it is refused, nothing is
    made of it at all."""
    parts, made = [project["set"]["parts"][0]["id"]], []

    def asked(gesture, key):
        row = now_of(client, project)["shots"][0]
        answer = client.patch(
            f"/api/shots/{row['id']}", json={"version": row["version"], "gesture": gesture, "id": key}
        )
        assert answer.status_code in (200, 422), answer.text
        return answer.status_code == 200, now_of(client, project)["shots"][0]

    for name, gesture in moves(SHOT_GESTURES, parts, 1):
        before, key = now_of(client, project)["shots"][0], str(uuid.uuid4())
        followed, once = asked(gesture, key)
        if followed and once["shot"] != before["shot"]:
            made.append(gesture["kind"])
            assert asked(gesture, key) == (True, once), name
            undo(client, project)
        assert now_of(client, project)["shots"][0]["shot"] == before["shot"], name
    assert len(set(made)) > 0.6 * len(SHOT_GESTURES), "most kinds can be done here"


def test_with_another_id_a_gesture_is_meant_anew(client, project, shot):
    gesture, seen = {"kind": "turn_by", "pan_deg": 30.0}, []
    for key in (str(uuid.uuid4()), str(uuid.uuid4()), None):
        row = now_of(client, project)["shots"][0]
        answer = client.patch(
            f"/api/shots/{row['id']}", json={"version": row["version"], "gesture": gesture, "id": key}
        )
        seen.append(answer.json()["shot"]["stand"]["aim"])
    assert len({tuple(aim) for aim in seen}) == 3
