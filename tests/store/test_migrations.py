"""A database of before comes along: what was kept by number is kept by what it was meant."""

import json
import subprocess
import uuid
from pathlib import Path

from alembic import command
from alembic.config import Config
from fastapi.testclient import TestClient
from sqlalchemy import select, text
from tests.conftest import settings_for

from zevlo.api.app import create_app
from zevlo.core.light.site import PlacedLight
from zevlo.core.shot import Shot
from zevlo.core.shot.upgrade import FIRST, NEWEST
from zevlo.lab.proof import develop
from zevlo.store import cluster, database, prints, shot_rows
from zevlo.store.database import engine_for, migrate, transaction
from zevlo.store.jobs import AT_LEISURE
from zevlo.store.projects import lights_of
from zevlo.store.tables import Print, Project, ShotRow

BEFORE = Path(__file__).with_name("data") / "before_0006.sql"
"""A database as it was before prints had recipes: pg_dump --data-only --column-inserts, without jobs and small pictures."""

VERSION_1 = BEFORE.with_name("before_0014.sql")
"""The same as shots were written by ``zevlo.shot/1``: a shot with all its keys, a take, changes, proofs, an order."""

PARTS = [
    {"name": "House", "parent": None, "triangles": 0},
    {"name": "Chair", "parent": 0, "triangles": 12},
    {"name": "Chair", "parent": 0, "triangles": 12},
]


def _upgraded_to(engine, revision):
    config = Config()
    config.set_main_option("script_location", f"{database.Path(database.__file__).parent / 'migrations'}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)


def test_parts_lifted_off_by_number_are_known_by_their_ids(own_cluster):
    engine = engine_for(cluster.ensure_database(*own_cluster, f"zevlo_{uuid.uuid4().hex}"))
    _upgraded_to(engine, "0003")
    project, revision = uuid.uuid4(), uuid.uuid4()
    arrangement = {"stand_ins": [{"kind": "figure", "name": "Potter"}]}
    entries = [
        {"table": "project", "id": str(project), "before": {"lifted": []}, "after": {"lifted": [2, 4, 9]}},
        {"table": "shot", "id": str(uuid.uuid4()), "before": {"locked": False}, "after": {"locked": True}},
    ]
    with engine.begin() as connection:
        connection.execute(
            text(
                "insert into project (id, version, deleted, name, revision_id, light, lifted, lifted_above, plan_height,"
                " arrangement, places, site, habits) values (:id, 1, false, 'Old', :revision, '{}', '[2, 4]', false, 1.2,"
                " :arrangement, '{}', '{}', '{}')"
            ),
            {"id": project, "revision": revision, "arrangement": json.dumps(arrangement)},
        )
        connection.execute(
            text(
                "insert into revision (id, version, deleted, project_id, file_name, source, arrays, views, summary)"
                " values (:id, 1, false, :project, 'old.glb', '', '', '[]', :summary)"
            ),
            {"id": revision, "project": project, "summary": json.dumps({"parts": PARTS})},
        )
        connection.execute(
            text("insert into change (scope, label, entries, state) values (:scope, 'Lift off', :entries, 'done')"),
            {"scope": str(project), "entries": json.dumps(entries)},
        )
    migrate(engine)
    with engine.begin() as connection:
        assert connection.scalar(text("select lifted from project")) == ["House/Chair#2", "Stand-ins/Potter"]
        found = connection.scalar(text("select entries from change"))
    assert found[0]["after"] == {"lifted": ["House/Chair#2", "Stand-ins/Potter"]}
    assert (found[0]["before"], found[1]) == ({"lifted": []}, entries[1])
    engine.dispose()


def test_a_database_of_before_recipes_comes_along_whole(own_cluster):
    """Shots, takes, changes, prints, light and files of it are there, can be undone, opened and made again."""
    url = cluster.ensure_database(*own_cluster, f"zevlo_{uuid.uuid4().hex}")
    engine = engine_for(url)
    _upgraded_to(engine, "0005")
    subprocess.run(["psql", "--quiet", "--set", "ON_ERROR_STOP=1", "--dbname", url, "--file", str(BEFORE)], check=True, capture_output=True)  # fmt: skip
    with engine.begin() as connection:
        old = connection.execute(text("select id, settings, light, width, height, samples, seed, revision_id, png, exr, state from print order by id")).all()  # fmt: skip
        light, changes = connection.execute(text("select light, (select count(*) from change) from project")).one()
        wanted = connection.execute(text("select id, settings from shot order by id")).all()
    migrate(engine)
    with transaction(engine) as session:
        project = session.scalars(select(Project)).one()
        assert [(one.name, one.setup.model_dump(mode="json")) for one in lights_of(project).setups] == [
            ("Daylight", light)
        ]
        assert project.lights[0].version == 1
        for was in old:
            entry = session.get(Print, was.id)
            recipe = prints.recipe_of(entry)
            assert recipe.shot == Shot.model_validate(was.settings)
            assert (recipe.size_px, recipe.samples, recipe.seed, recipe.revision) == ((was.width, was.height), was.samples, was.seed, was.revision_id)  # fmt: skip
            assert recipe.light.shines_as(PlacedLight(light=was.light)), "told then from the set's +Y"
            assert (entry.kind, entry.state, [piece.state for piece in entry.pieces]) == (
                "proof",
                was.state,
                [was.state],
            )
            there = {name: file["blob"] for name, file in entry.outputs.items()}
            assert there == {name: blob for name, blob in (("picture.png", was.png), ("film.exr", was.exr)) if blob}
        assert {entry.state for entry in session.scalars(select(Print))} == {"done", "waiting", "cancelled"}
        for key, settings in wanted:
            assert shot_rows.settings_of(session.get(ShotRow, key)) == Shot.model_validate(settings)
    with TestClient(create_app(settings_for(url)), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)) as client:
        key = client.get("/api/projects").json()["projects"][0]["id"]
        now = client.get(f"/api/projects/{key}").json()
        prints_now = client.get(f"/api/projects/{key}/prints").json()["prints"]
        stale = {one["state"]: one["stale"] for one in prints_now}
        assert stale["waiting"] is None, "the sun shines from where it did"
        done = next(one for one in prints_now if one["state"] == "done")
        assert client.get(done["picture"]).content[:4] == b"\x89PNG"
        assert client.get(now["shots"][0]["thumbnail"]).status_code == 200
        steps = 0
        while now["undo"]:
            now = client.post(f"/api/projects/{key}/undo", json={}).json()
            steps += 1
        assert steps == changes - 2, "all but the project's own making and what was undone already"
        assert now["shots"] == []
        while now["redo"]:
            now = client.post(f"/api/projects/{key}/redo", json={}).json()
        assert len(now["shots"]) == 2
        waiting = next(one for one in prints_now if one["state"] == "waiting")
        develop(engine, uuid.UUID(waiting["id"]))
        prints_now = client.get(f"/api/projects/{key}/prints").json()["prints"]
        made = next(one for one in prints_now if one["id"] == waiting["id"])
        assert made["state"] == "done", made["trouble"]
    engine.dispose()


def test_finals_and_proofs_at_leisure_of_before_jobs_come_along(own_cluster):
    """What the Lab shows of a final has a name no file can have; a proof nobody waits for is known for that by itself."""
    engine = engine_for(cluster.ensure_database(*own_cluster, f"zevlo_{uuid.uuid4().hex}"))
    _upgraded_to(engine, "0012")
    project, shot = uuid.uuid4(), uuid.uuid4()
    kinds = {"final": uuid.uuid4(), "proof": uuid.uuid4(), "stack": uuid.uuid4()}
    outputs = {
        "picture.png": {"blob": "a", "media_type": "image/png"},
        "x.png": {"blob": "b", "media_type": "image/png"},
    }
    with engine.begin() as connection:
        for words in (
            "insert into project (id, version, deleted, name, lifted, lifted_above, plan_height, arrangement, places, site,"
            " habits, kept) values (:project, 1, false, 'Old', '[]', false, 1.2, '{}', '{}', '{}', '{}', '{}')",
            "insert into shot (id, version, deleted, project_id, place, settings, locked, labels, named_by_hand)"
            " values (:shot, 1, false, :project, 1, '{}', false, '[]', true)",
        ):
            connection.execute(text(words), {"project": project, "shot": shot})
        for kind, key in kinds.items():
            put = (
                "insert into print (id, version, deleted, project_id, shot_id, rank, kind, recipe, outputs, state, progress,"
                " doing, made_with) values (:key, 1, false, :project, :shot, 3, :kind, '{}', :outputs, 'done', 1, '', '{}')"
            )
            given = {"key": key, "project": project, "shot": shot, "kind": kind, "outputs": json.dumps(outputs)}
            connection.execute(text(put), given)
        job = "insert into procrastinate_jobs (queue_name, task_name, priority, args) values ('lab', 'x', -1000000, :args)"
        connection.execute(text(job), {"args": json.dumps({"print_id": str(kinds["stack"])})})
    migrate(engine)
    with transaction(engine) as session:
        now = {kind: session.get(Print, key) for kind, key in kinds.items()}
    assert set(now["final"].outputs) == {prints.SMALL_VIEW, "x.png"}
    assert now["final"].outputs[prints.SMALL_VIEW] == outputs["picture.png"]
    assert now["proof"].outputs == outputs
    assert [now[kind].rank for kind in ("final", "proof", "stack")] == [3, 3, AT_LEISURE]
    engine.dispose()


def test_a_database_of_version_1_is_read_undone_and_made_again(own_cluster):
    """Shots, takes, changes, recipes, an order, documents and presets that were written by the keys of before."""
    url = cluster.ensure_database(*own_cluster, f"zevlo_{uuid.uuid4().hex}")
    engine = engine_for(url)
    _upgraded_to(engine, "0013")
    subprocess.run(["psql", "--quiet", "--set", "ON_ERROR_STOP=1", "--dbname", url, "--file", str(VERSION_1)], check=True, capture_output=True)  # fmt: skip
    with engine.begin() as connection:
        old = [
            one for (one,) in connection.execute(text("select settings from shot union all select settings from take"))
        ]
        assert len(old) == 5
        assert all(one["schema"] == FIRST and {"cut", "cuts"} <= one["back"].keys() for one in old)
    migrate(engine)
    with TestClient(create_app(settings_for(url)), base_url="http://127.0.0.1", client=("127.0.0.1", 50000)) as client:
        key = client.get("/api/projects").json()["projects"][0]["id"]
        now = client.get(f"/api/projects/{key}").json()
        (row,) = now["shots"]
        shot = row["shot"]
        assert (shot["schema"], shot["back"]["fit"], shot["light"]["name"]) == (NEWEST, "height", "Daylight")
        assert [crop["name"] for crop in row["crops"]] == ["Tall", "4:5 / é"]
        assert (
            now["kept"]["crop_sets"][0]["crops"]
            == client.get(f"/api/projects/{key}").json()["kept"]["crop_sets"][0]["crops"]
        )
        assert [one["name"] for one in now["kept"]["crop_sets"][0]["crops"]] == ["Tall", "4:5 / é"]
        prints_now = client.get(f"/api/projects/{key}/prints").json()["prints"]
        assert {one["crop"] for one in prints_now} == {None, "Tall", "4:5 / é"}
        assert {one["stale"] for one in prints_now} == {None}
        assert client.get(row["crops"][0]["thumbnail"]).status_code == 200
        orders = client.get(f"/api/projects/{key}/lab").json()["orders"]
        again = {"pictures": [{"shot": row["id"], "crop": "Tall"}], "quality": "draft", "pattern": "{number}_{cut}"}
        expected = client.post(f"/api/projects/{key}/orders/expected", json=again)
        assert (len(orders), expected.status_code) == (1, 200)
        patched = client.patch(
            f"/api/shots/{row['id']}", json={"version": row["version"], "patch": {"focus": {"f_number": 4.0}}}
        )
        assert patched.json()["shot"] == {**shot, "focus": {**shot["focus"], "f_number": 4.0}}
        steps, answer = 0, client.get(f"/api/projects/{key}").json()
        while answer["undo"]:
            answer = client.post(f"/api/projects/{key}/undo", json={}).json()
            steps += 1
            if steps == 4:
                assert answer["shots"][0]["shot"]["back"]["fit"] in ("width", "height")
        assert (steps >= 6, answer["shots"]) == (True, [])
        while answer["redo"]:
            answer = client.post(f"/api/projects/{key}/redo", json={}).json()
        assert answer["shots"][0]["shot"] == patched.json()["shot"]
        version = answer["shots"][0]["version"]
        kept = client.post(f"/api/shots/{row['id']}/back-to-kept", json={"version": version}).json()
        assert (kept["shot"]["back"]["fit"], kept["shot"]["movements"]["tilt_limit_deg"]) == ("width", 12.0)
    engine.dispose()
