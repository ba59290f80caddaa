"""Documents over HTTP: asked for, made by the lab, read, made anew, stopped, thrown away; whatever names they have."""

import io
import uuid
import zipfile

import pypdf
import pytest
from PIL import Image
from sqlalchemy import text
from tests.api.asking import change, new, patch, undo

from zevlo.core.documents.request import KINDS, Documents
from zevlo.lab import documents as lab
from zevlo.lab.documents import MEDIA, WRITERS, make_documents
from zevlo.store import documents, prints
from zevlo.store.blobs import put_blob
from zevlo.store.database import engine_for, transaction
from zevlo.store.documents import MOST_TRIES

EVERYTHING = {key: {"files": kind.endings} for key, kind in KINDS.items()}


def test_the_desk_is_offered_each_kind_as_it_is_made(client, project):
    offered = {one["key"]: one for one in client.get(f"/api/projects/{project['id']}/lab").json()["document_kinds"]}
    assert set(offered) == set(KINDS) == set(WRITERS) == set(Documents.model_fields) - {"shots"}
    for key, kind in KINDS.items():
        assert kind.asked.model_validate(offered[key]["first"]) == kind.asked()
        assert [one["ending"] for one in offered[key]["files"]] == list(kind.endings)


@pytest.fixture
def shots(client, project):
    return [new(client, project), new(client, project, stand=(0, 5))]


@pytest.fixture
def engine(settings):
    return engine_for(settings.database_url)


def ask(client, project, shots, key=None, **kinds):
    body = {"documents": {"shots": [one["id"] for one in shots], **kinds}, **({} if key is None else {"id": key})}
    return client.post(f"/api/projects/{project['id']}/documents", json=body)


def asked(client, project, shots, **kinds):
    answer = ask(client, project, shots, **kinds)
    assert answer.status_code == 201, answer.text
    return answer.json()


def made(client, engine, row):
    make_documents(engine, uuid.UUID(row["id"]))
    return client.get(f"/api/documents/{row['id']}").json()


def read(client, row, ending):
    return client.get(next(one["address"] for one in row["files"] if one["name"].endswith(ending))).content


def jobs(engine, key):
    with engine.begin() as connection:
        found = "select count(*) from procrastinate_jobs where status = 'todo' and args ->> 'documents' = :key"
        return connection.scalar(text(found), {"key": key})


def test_all_kinds_in_all_files_come_one_by_one_and_in_a_folder(client, engine, project, shots):
    row = asked(client, project, shots, **EVERYTHING)
    assert (row["state"], row["files"], row["folder"], row["stale"]) == ("waiting", [], None, False)
    assert jobs(engine, row["id"]) == 1
    done = made(client, engine, row)
    assert (done["state"], done["trouble"], done["stale"]) == ("done", None, False)
    wanted = {ending for kind in EVERYTHING.values() for ending in kind["files"]}
    assert {one["name"].rpartition(".")[2] for one in done["files"]} == wanted
    with zipfile.ZipFile(io.BytesIO(client.get(done["folder"]).content)) as folder:
        assert folder.testzip() is None
        inside = {name.split("/", 1)[1]: folder.read(name) for name in folder.namelist()}
    assert set(inside) == {one["name"] for one in done["files"]}
    for one in done["files"]:
        answer = client.get(one["address"])
        assert answer.headers["content-type"].split(";")[0] == MEDIA[one["name"].rpartition(".")[2]]
        assert answer.content == inside[one["name"]]
        assert len(answer.content) == one["bytes"]
    text_of = pypdf.PdfReader(io.BytesIO(inside["Two boxes camera cards.pdf"])).pages[0].extract_text()
    assert "Lens above the floor" in text_of
    found = client.get(f"/api/projects/{project['id']}/lab").json()["documents"]
    assert done in found


def test_they_tell_when_what_they_show_has_changed_and_are_made_anew(client, engine, project, shots):
    done = made(client, engine, asked(client, project, shots[:1], shot_list={"files": ["csv"]}))
    patch(client, shots[1], patch={"lens": {"focal_length_mm": 90}})
    assert client.get(f"/api/documents/{done['id']}").json()["stale"] is False
    patch(client, shots[0], patch={"lens": {"focal_length_mm": 91}})
    assert client.get(f"/api/documents/{done['id']}").json()["stale"] is True
    before = read(client, done, "csv")
    waiting = client.post(f"/api/documents/{done['id']}/again").json()
    # The files of before are there until the new ones are.
    assert (waiting["state"], read(client, waiting, "csv")) == ("waiting", before)
    assert client.post(f"/api/documents/{done['id']}/again").status_code == 404
    after = made(client, engine, waiting)
    assert after["stale"] is False
    assert b"91 mm" in read(client, after, "csv")
    assert b"91 mm" not in before


def test_asked_for_twice_under_one_id_they_are_made_once(client, project, shots, house):
    key = str(uuid.uuid4())
    first = ask(client, project, shots, key, plans={})
    second = ask(client, project, shots, key, plans={})
    assert first.json() == second.json()
    elsewhere = new(client, house, stand=(3, 1), aim=(3, 3))
    assert ask(client, house, [elsewhere], key, plans={}).status_code == 404


def test_what_cannot_be_made_is_refused_in_words(client, project, shots, house):
    elsewhere = new(client, house, stand=(3, 1), aim=(3, 3))
    answer = ask(client, project, [elsewhere], plans={})
    assert (answer.status_code, "not there any more" in answer.json()["detail"]) == (404, True)
    for broken in ({}, {"plans": {"files": []}}, {"plans": {"scale": 0}}, {"contact_sheet": {"paper": "B7"}}):
        assert ask(client, project, shots, **broken).status_code == 422
    assert client.get(f"/api/documents/{uuid.uuid4()}").status_code == 404
    row = asked(client, project, shots, plans={})
    assert client.get(f"/api/documents/{row['id']}/files/x.pdf").status_code == 404
    assert client.get(f"/api/documents/{row['id']}/all.zip").status_code == 404


def test_cancelled_they_are_not_made_and_thrown_away_they_come_back_by_undo(client, engine, project, shots):
    row = asked(client, project, shots, plans={})
    assert client.post(f"/api/documents/{row['id']}/cancel").json()["state"] == "cancelled"
    assert made(client, engine, row)["state"] == "cancelled"
    again = client.post(f"/api/documents/{row['id']}/again").json()
    assert made(client, engine, again)["state"] == "done"
    assert client.delete(f"/api/documents/{row['id']}").status_code == 204
    there = client.get(f"/api/projects/{project['id']}/lab").json()["documents"]
    assert row["id"] not in [one["id"] for one in there]
    assert undo(client, project)["undo"] != f"Throw away documents {row['number']}"
    assert client.get(f"/api/documents/{row['id']}").json()["state"] == "done"


def test_who_is_late_with_documents_changes_nothing(client, engine, project, shots, monkeypatch):
    """Cancelled while they are written, and taken up by another: what the first brings does not count."""
    row = asked(client, project, shots, plans={}, shot_list={})
    plain = lab.WRITERS["shot_list"]

    def cancelled_meanwhile(making, given):
        with transaction(engine) as session:
            documents.cancel(session, making.key)
        return plain(making, given)

    monkeypatch.setitem(lab.WRITERS, "shot_list", cancelled_meanwhile)
    done = made(client, engine, row)
    assert (done["state"], done["files"]) == ("cancelled", [])


def test_a_lab_that_died_is_followed_by_another_and_too_often_says_so(client, engine, project, shots):
    row = asked(client, project, shots, shot_list={"files": ["csv"]})
    key = uuid.UUID(row["id"])
    with transaction(engine) as session:
        # A worker is at its job.
        at_it = "update procrastinate_jobs set status = 'doing' where args ->> 'documents' = :key returning id"
        job = session.scalar(text(at_it), {"key": row["id"]})
    for n in range(MOST_TRIES):
        with transaction(engine) as session:
            found = documents.claim_piece(session, key, job)
            assert (found.tries, found.attempt is not None) == (n + 1, True)
        with transaction(engine) as session:
            # The job of a living worker is not taken from it.
            assert documents.claim_piece(session, key, job + 1000) is None
    answer = made(client, engine, row)
    assert answer["state"] == "failed"
    assert f"interrupted {MOST_TRIES} times" in answer["trouble"]
    again = client.post(f"/api/documents/{row['id']}/again").json()
    assert made(client, engine, again)["state"] == "done"


def test_what_goes_wrong_is_told(client, engine, project, shots, monkeypatch):
    def broken(*_):
        raise ValueError("the paper is out")

    monkeypatch.setattr(lab, "list_pages", broken)
    answer = made(client, engine, asked(client, project, shots, shot_list={}))
    assert answer["state"] == "failed"
    assert "the paper is out" in answer["trouble"]


def test_shots_that_are_gone_are_left_out(client, engine, project, shots):
    row = asked(client, project, shots, shot_list={"files": ["csv"]})
    client.delete(f"/api/shots/{shots[0]['id']}")
    done = made(client, engine, row)
    assert len(read(client, done, "csv").splitlines()) == 2
    client.delete(f"/api/shots/{shots[1]['id']}")
    again = client.post(f"/api/documents/{row['id']}/again").json()
    assert "none of their shots is there any more" in made(client, engine, again)["trouble"]


ODD_NAMES = ["=1+1", "../../etc/passwd", "CON", "a" * 120, "陶器の写真 🏺\x07", "<script>&"]


def test_names_are_names_whatever_they_look_like(client, engine, project):
    found = []
    for name in ODD_NAMES:
        one = new(client, project)
        answer = patch(client, one, patch={"name": name})
        assert answer.status_code == 200, answer.text
        found.append(answer.json())
    assert change(client, project, name="../A: B/C").status_code == 200
    done = made(
        client,
        engine,
        asked(client, project, found, **EVERYTHING),
    )
    assert done["state"] == "done", done["trouble"]
    assert "do not have 🏺:" in done["words"][0]
    assert not any(letter in one["name"] for one in done["files"] for letter in '/\\:<>"|?*')
    apart = made(client, engine, asked(client, project, found, camera_cards={"apart": True}))
    assert len(apart["files"]) == len(ODD_NAMES)
    with zipfile.ZipFile(io.BytesIO(client.get(apart["folder"]).content)) as folder:
        assert all(name.count("/") == 1 and ".." not in name.split("/") for name in folder.namelist())


def test_levels_have_a_plan_each_and_a_set_without_any_has_one(client, engine, house, project):
    shot = new(client, house, stand=(3, 1), aim=(3, 3))
    places = {"levels": [{"name": "Ground", "floor_m": 0.0}, {"name": "G/round", "floor_m": 3.0}], "rooms": []}
    assert change(client, house, places=places).status_code == 200
    done = made(client, engine, asked(client, house, [shot], plans={"files": ["dxf"], "levels": ["Ground", "G/round"]}))
    assert [one["short"] for one in done["files"]] == ["plan G-round.dxf", "plan Ground.dxf"]
    only = made(client, engine, asked(client, house, [shot], plans={"files": ["dxf"]}))
    assert [one["short"] for one in only["files"]] == ["plan Ground.dxf"]
    gone = "There is no level “Attic” any more."
    some = made(client, engine, asked(client, house, [shot], plans={"levels": ["Attic", "Ground"]}))
    assert ([one["short"] for one in some["files"]], some["words"]) == (["plans.pdf"], [gone])
    none = made(client, engine, asked(client, house, [shot], plans={"levels": ["Attic"]}))
    said = [gone, "No shot stands on a level that was asked for: there is no plan."]
    assert (none["files"], none["words"]) == ([], said)
    empty = client.post(f"/api/projects/{house['id']}/documents", json={"shots": [shot["id"]], "plans": {"levels": []}})
    assert empty.status_code == 422
    assert change(client, project, places={"levels": [], "rooms": []}).status_code == 200
    plain = made(client, engine, asked(client, project, [new(client, project)], plans={"files": ["svg"], "scale": 5}))
    assert [one["short"] for one in plain["files"]] == ["plan.svg"]
    assert "at 1:5; A3 has" in plain["words"][0]
    alike = {"levels": [{"name": name, "floor_m": floor} for floor, name in enumerate(("A/B", "A-B", "a-b"))]}
    assert change(client, house, places={**alike, "rooms": []}).status_code == 200
    every = asked(client, house, [shot], plans={"files": ["dxf"], "levels": ["A/B", "A-B", "a-b"]})
    assert [one["short"] for one in made(client, engine, every)["files"]] == [
        "plan A-B 2.dxf", "plan A-B.dxf", "plan a-b 3.dxf",
    ]  # fmt: skip


def test_a_legend_that_goes_on_is_whole_in_an_svg_and_told_of_a_dxf(client, engine, house):
    shots = [new(client, house, stand=(3, 1 + n / 100), aim=(3, 3)) for n in range(40)]
    files = ["svg", "dxf", "pdf"]
    done = made(client, engine, asked(client, house, shots, plans={"files": files, "paper": "A4"}))
    names = [one["short"] for one in done["files"]]
    pages = [name for name in names if name.endswith(".svg")]
    assert {"plan.svg", "plan, page 2.svg"} <= set(pages)
    found = " ".join(client.get(one["address"]).text for one in done["files"] if one["short"] in pages)
    assert all(shot["shot"]["name"] in found for shot in shots)
    assert done["words"] == ["The legend of Plan does not go on one page: its DXF ends there, others go on."]


def test_a_sheet_shows_the_print_that_holds_and_before_the_one_that_does_not(client, engine, project, shots):
    def printed(shot, colour):
        answer = client.post(f"/api/shots/{shot['id']}/proof").json()
        out = io.BytesIO()
        Image.new("RGB", (160, 90), colour).save(out, "PNG")
        with transaction(engine) as session:
            entry = prints.print_row(session, uuid.UUID(answer["id"]))
            blob = put_blob(session, out.getvalue(), "image/png")
            entry.state, entry.outputs = "done", {prints.PICTURE: {"blob": blob, "media_type": "image/png"}}
        return entry

    def pictures_of(row):
        page = pypdf.PdfReader(io.BytesIO(read(client, row, "pdf"))).pages[0]
        return [one.image.convert("RGB").getpixel((5, 5)) for one in page.images]

    printed(shots[0], (200, 0, 0))
    moved = patch(client, shots[0], patch={"lens": {"focal_length_mm": 70}}).json()
    drawn = made(client, engine, asked(client, project, [moved], contact_sheet={}))
    assert not any(red > 180 and green < 40 for red, green, _ in pictures_of(drawn))
    printed(moved, (0, 0, 200))
    assert client.get(f"/api/documents/{drawn['id']}").json()["stale"] is True
    pair = made(client, engine, asked(client, project, [moved], contact_sheet={"layout": "pairs"}))
    seen = pictures_of(pair)
    assert sorted(colour.index(max(colour)) for colour in seen) == [0, 2]
    said = pypdf.PdfReader(io.BytesIO(read(client, pair, "pdf"))).pages[0].extract_text()
    assert "Changed since" in said
    taken = made(client, engine, asked(client, project, shots[1:], contact_sheet={"layout": "pairs", "before": "take"}))
    assert "no take of before" in pypdf.PdfReader(io.BytesIO(read(client, taken, "pdf"))).pages[0].extract_text()


def test_cuts_follow_their_shot_on_a_sheet_each_with_its_own_picture(client, engine, project, shots):
    """A square and a tall one: as many pictures more, in their own ratios, under the shot's number and both names."""
    cuts = [{"name": "Square", "output_px": [80, 80]}, {"name": "Tall", "output_px": [90, 160]}]
    cut = patch(client, shots[0], patch={"back": {"crops": cuts}}).json()
    key = client.post(f"/api/shots/{cut['id']}/proof", json={"crop": "Tall"}).json()["id"]
    out = io.BytesIO()
    Image.new("RGB", (90, 160), (0, 0, 200)).save(out, "PNG")
    with transaction(engine) as session:
        entry = prints.print_row(session, uuid.UUID(key))
        blob = put_blob(session, out.getvalue(), "image/png")
        entry.state, entry.outputs = "done", {prints.PICTURE: {"blob": blob, "media_type": "image/png"}}
    both = [cut, *shots[1:2]]
    without = made(client, engine, asked(client, project, both, contact_sheet={}))
    page = pypdf.PdfReader(io.BytesIO(read(client, without, "pdf"))).pages[0]
    assert len(page.images) == 2
    assert "Tall" not in page.extract_text()
    for layout in ("grid", "one", "pairs"):
        sheet = {"crops": True, "layout": layout, "before": "take"}
        answer = made(client, engine, asked(client, project, both, contact_sheet=sheet))
        pages = pypdf.PdfReader(io.BytesIO(read(client, answer, "pdf"))).pages
        pictures = [one.image.convert("RGB") for page in pages for one in page.images]
        ratios = sorted(round(one.width / one.height, 2) for one in pictures)
        assert [ratios[0], ratios[1]] == pytest.approx([9 / 16, 1.0], abs=0.02), layout
        assert len(pictures) == 4
        assert sum(one.getpixel((5, 5))[2] > 180 > 40 > one.getpixel((5, 5))[0] for one in pictures) == 1
        words = " ".join(page.extract_text() for page in pages)
        assert f"{cut['shot']['name']}, Square" in words, layout
