"""The reference of the open format is made of the models and cannot fall behind; ``./zevlo schema`` prints it."""

import json
import subprocess
from pathlib import Path

import pytest

from zevlo.core.framing.gestures import GESTURES
from zevlo.core.framing.sheet import Sheet
from zevlo.core.shot import Shot
from zevlo.reference import schema, tables

ROOT = Path(__file__).parents[2]
PAGE = ROOT / "docs/shot-format.md"
MARK = "<!-- The rest is made of the models: ./zevlo schema --tables -->\n"


def test_the_page_is_what_the_models_say():
    page = PAGE.read_text()
    assert page.split(MARK, 1)[1] == tables() + "\n", "./zevlo schema --tables makes the page's second part anew"


def test_every_key_of_a_shot_and_every_gesture_is_in_the_tables():
    made = tables()
    for group, field in Shot.model_fields.items():
        keys = getattr(field.annotation, "model_fields", {})
        section = made.split(f"### `{group}`\n", 1)[1].split("\n### ", 1)[0] if keys else made
        assert all(f"| `{key}` |" in section for key in keys)
    for kind in GESTURES:
        assert f"- `{kind.model_fields['kind'].default}`: " in made


@pytest.mark.parametrize("name", ["shot", "sheet", "gestures"])
def test_the_command_prints_the_schema(name):
    done = subprocess.run([ROOT / "zevlo", "schema"], capture_output=True, text=True, check=True)
    assert json.loads(done.stdout)[name] == json.loads(json.dumps(schema()[name]))


def test_examples_of_the_page_are_read():
    head = PAGE.read_text().split(MARK, 1)[0]
    first = head.split("```json\n")[1].split("```")[0]
    shot = Shot.model_validate_json(first)
    assert json.loads(first)["schema"] == Shot.model_fields["schema_"].default == shot.schema_
    assert f'"schema": "{Sheet.model_fields["schema_"].default}"' in head
