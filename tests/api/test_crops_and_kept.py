"""Cuts as pictures of their own, what a project keeps, and what would come: over HTTP and the live socket."""

import io

from PIL import Image
from tests.api.asking import change, new, now_of, patch, prints_of, undo

CUTS = [
    {"name": "Tall", "output_px": [1080, 1920], "size": 1.0, "at": [0.5, 0.5]},
    {"name": "4:5 / é", "output_px": [400, 500], "size": 0.5, "at": [0.0, 1.0]},
]


def with_cuts(client, project):
    shot = new(client, project)
    return patch(client, shot, patch={"back": {"crops": CUTS}}).json()


def test_each_cut_has_its_own_small_picture_and_proof(client, project):
    shot = with_cuts(client, project)
    assert [(cut["name"], cut["output_px"]) for cut in shot["crops"]] == [
        ("Tall", [1080, 1920]),
        ("4:5 / é", [400, 500]),
    ]
    pictures = {shot["thumbnail"]} | {cut["thumbnail"] for cut in shot["crops"]}
    assert len(pictures) == 3
    for cut in shot["crops"]:
        answer = client.get(cut["thumbnail"])
        assert answer.headers["cache-control"].startswith("public") or "immutable" in answer.headers["cache-control"]
        width, height = Image.open(io.BytesIO(answer.content)).size
        assert abs(width / height - cut["output_px"][0] / cut["output_px"][1]) < 0.01
    ordered = client.post(f"/api/shots/{shot['id']}/proof", json={"crop": "4:5 / é"})
    assert (ordered.status_code, ordered.json()["crop"], ordered.json()["size"]) == (201, "4:5 / é", [400, 500])
    refused = client.post(f"/api/shots/{shot['id']}/proof", json={"crop": "Square"})
    assert refused.status_code == 422
    assert "no crop “Square”" in refused.json()["detail"]
    moved = patch(client, shot, gesture={"kind": "crop_by", "name": "4:5 / é", "right": 0.1, "up": 0.0}).json()
    assert [entry["stale"] for entry in prints_of(client, project)] == ["Changed since: the crop"]
    assert moved["thumbnail"] == shot["thumbnail"], "the shot's own picture is the same"
    assert moved["crops"][1]["thumbnail"] != shot["crops"][1]["thumbnail"]


def test_what_a_project_keeps_is_undone_and_checked(client, project):
    own = {
        "formats": [{"name": "Half", "width_mm": 24.0, "height_mm": 18.0}],
        "prime_sets": [{"name": "Two", "focal_lengths_mm": [90.0, 21.0]}],
        "primes": "Two",
    }
    kept = change(client, project, kept=own, label="Keep the format “Half”").json()
    assert kept["undo"] == "Keep the format “Half”"
    assert kept["kept"]["prime_sets"][0]["focal_lengths_mm"] == [21, 90]
    shot = new(client, project)
    shot = patch(client, shot, patch={"lens": {"focal_length_mm": 35.0}}).json()
    stepped = patch(client, shot, gesture={"kind": "prime_step", "by": 1}).json()
    assert stepped["shot"]["lens"]["focal_length_mm"] == 90
    wrong = change(client, project, kept={"primes": "None"})
    assert wrong.status_code == 422
    assert "no set of primes" in wrong.json()["detail"]
    for _ in range(4):
        last = undo(client, project)
    assert last["kept"]["formats"] == []


def test_what_would_come_is_told_and_nothing_comes_of_it(client, project):
    shot = new(client, project)
    with client.websocket_connect("ws://127.0.0.1/api/live") as socket:
        socket.send_json({"kind": "open", "project": project["id"]})

        def asked(seq, gesture):
            socket.send_json({"kind": "what_if", "seq": seq, "shot": shot["shot"], "gesture": gesture})
            answer = socket.receive_json()
            assert (answer["kind"], answer["seq"]) == ("what_if", seq)
            return answer

        half = asked(1, {"kind": "focal_keep", "enlarge": 2.0})
        xs = [x for x, _ in half["outline"]]
        assert (round(min(xs), 3), round(max(xs), 3)) == (0.25, 0.75)
        assert "enlarged 1 → 2 times" in half["words"]
        assert asked(2, {"kind": "crop_away", "name": "None"})["words"].startswith("There is no crop")
        assert "before it is done" in asked(3, {"kind": "meter"})["words"]
    assert now_of(client, project)["shots"][0]["shot"] == shot["shot"]


def test_a_plane_opens_small_picture_and_light(client, house):
    shot = new(client, house, stand=(3, -6), aim=(3, 2))
    assert client.get(f"/api/shots/{shot['id']}/cap").json() is None
    before = client.get(shot["thumbnail"]).content
    opened = patch(client, shot, patch={"lens": {"cutting_plane": {"point": [0, 1, 0], "normal": [0, -1, 0]}}}).json()
    assert opened["thumbnail"] != shot["thumbnail"]
    assert client.get(opened["thumbnail"]).content != before
    cap = client.get(f"/api/shots/{shot['id']}/cap").json()
    assert all(abs(y - 1.0) < 1e-6 for y in cap["points"][1::3])
    assert patch(client, opened, gesture={"kind": "meter"}).status_code == 200
    wrong = patch(client, opened, patch={"lens": {"cutting_plane": {"point": [0, 1, 0], "normal": [0, 0, 0]}}})
    assert "must point somewhere" in wrong.json()["detail"]
