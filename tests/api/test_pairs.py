"""Pairs of shots over HTTP, made once and taken back in one go; and changes that fall short of what was asked."""

import uuid

from tests.api.asking import new, now_of, patch, undo

PLACES = [[0.5, 0.4], [0.5, 0.1]]


def asked(client, shot, focus, key=None):
    return client.post(f"/api/shots/{shot['id']}/pair", json={"id": key, "focus": focus})


def test_a_pair_is_two_shots_behind_the_first_in_one_change(client, project):
    shot = new(client, project)
    key = str(uuid.uuid4())
    made = asked(client, shot, {"pressed_at": PLACES}, key)
    assert made.status_code == 201, made.text
    front, back = made.json()["front"], made.json()["back"]
    assert front["id"] == key
    assert front["shot"]["focus"]["distance_m"] < back["shot"]["focus"]["distance_m"]
    names = [one["shot"]["name"] for one in now_of(client, project)["shots"]]
    own = shot["shot"]["name"]
    assert names[names.index(own) :][:3] == [own, f"{own}, front sharp", f"{own}, back sharp"]
    again = asked(client, shot, {"pressed_at": PLACES}, key)
    assert again.status_code == 201
    assert again.json() == made.json()
    undo(client, project)
    left = [one["id"] for one in now_of(client, project)["shots"]]
    assert front["id"] not in left
    assert back["id"] not in left
    assert shot["id"] in left
    assert asked(client, shot, {"pressed_at": PLACES}, key).status_code == 404, "taken back, it is not made again"


def test_what_cannot_be_a_pair_is_told_and_nothing_is_made(client, project):
    shot = new(client, project)
    before = now_of(client, project)
    for focus, words in (
        ({}, "pressed_at, or by part_at"),
        ({"pressed_at": [[0.5, 0.1], [0.5, 0.1]]}, "equally far"),
        ({"part_at": [0.5, 0.999]}, "only sky"),
        ({"pressed_at": [[0.5, 0.1]]}, "pressed_at"),
    ):
        refused = asked(client, shot, focus)
        assert refused.status_code == 422
        assert words in refused.text
    assert now_of(client, project) == before
    locked = client.post(f"/api/shots/{shot['id']}/lock", json={"version": shot["version"], "locked": True})
    assert locked.status_code == 200
    assert asked(client, shot, {"pressed_at": PLACES}).status_code == 201, "what is locked is not changed by it"


def test_a_change_that_falls_short_tells_why_and_what_else_there_is(client, project):
    shot = patch(client, new(client, project), gesture={"kind": "stop_to", "f_number": 8}).json()
    assert shot["short"] is None
    wanted = {"kind": "everything_sharp", "from_m": 0.25}
    fell = patch(client, shot, gesture=wanted).json()
    assert fell["shot"]["focus"]["f_number"] == 64
    assert "the smallest stop is f/64" in fell["short"]["words"]
    assert len(fell["short"]["alternatives"]) >= 2
    for remedy in fell["short"]["alternatives"]:
        gone = patch(client, fell, gesture=remedy["gesture"])
        assert gone.status_code == 200, remedy["words"]
        assert gone.json()["short"] is None
        undo(client, project)
        fell["version"] += 2
    assert not any("short" in one for one in now_of(client, project)["shots"]), "it is told of that change alone"
