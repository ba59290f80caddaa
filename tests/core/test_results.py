"""What the core answers stays as it was when it was last looked at; see results.py."""

import json

import pytest
from tests.core import results  # noqa: F401 - asks the questions
from tests.core.answers import KEPT as FOLDER
from tests.core.answers import QUESTIONS, brief

KEPT = {path.stem: json.loads(path.read_text()) for path in FOLDER.glob("*.json")}
CLOSE = {"rel": 2e-5, "abs": 2e-6}
"""Rays are traced in single numbers, which another machine may round in another way."""


def _differences(kept, now, path):
    """Every place where two answers differ, in words."""
    if isinstance(kept, dict) and isinstance(now, dict):
        for key in sorted(kept.keys() | now.keys()):
            if key not in kept or key not in now:
                yield f"{path}/{key}: {'is new' if key in now else 'is gone'}"
            else:
                yield from _differences(kept[key], now[key], f"{path}/{key}")
    elif isinstance(kept, list) and isinstance(now, list) and len(kept) == len(now):
        for n, (a, b) in enumerate(zip(kept, now, strict=True)):
            yield from _differences(a, b, f"{path}/{n}")
    elif isinstance(kept, bool) or isinstance(now, bool) or not (_number(kept) and _number(now)):
        if kept != now:
            yield f"{path}: {kept} → {now}"
    elif now != pytest.approx(kept, **CLOSE):
        yield f"{path}: {kept} → {now}"


def _number(value):
    return isinstance(value, int | float) and not isinstance(value, bool)


def test_every_question_has_an_answer_kept():
    assert sorted(KEPT) == sorted(QUESTIONS)
    assert len(KEPT) >= 12


@pytest.mark.parametrize("name", QUESTIONS)
def test_the_answers_are_what_they_were(name):
    found = list(_differences(KEPT[name], json.loads(json.dumps(brief(QUESTIONS[name]()))), name))
    assert found == [], f"{len(found)} answers changed:\n" + "\n".join(found[:12])


def test_a_change_would_be_seen():
    kept = KEPT["optics"]
    other = json.loads(json.dumps(kept))
    other["zones"][3][1] *= 1.0001
    assert list(_differences(kept, kept, "")) == []
    assert len(list(_differences(kept, other, ""))) == 1
