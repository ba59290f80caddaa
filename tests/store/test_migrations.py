"""A database of before comes along: what was kept by number is kept by what it was meant."""

import json
import uuid

from alembic import command
from alembic.config import Config
from sqlalchemy import text

from zevlo.store import cluster, database
from zevlo.store.database import engine_for, migrate

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
        told = connection.scalar(text("select entries from change"))
    assert told[0]["after"] == {"lifted": ["House/Chair#2", "Stand-ins/Potter"]}
    assert (told[0]["before"], told[1]) == ({"lifted": []}, entries[1])
    engine.dispose()
