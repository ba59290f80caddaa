"""Questions from the command line, without server or database: the same rules as on the desk."""

import io
import json

import pytest
import trimesh
from tests.files.test_import_model import glb_of

from zevlo.cli import main
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.exposure.gestures import Meter
from zevlo.core.instruments.focus import FocusAt, SharpTo
from zevlo.core.instruments.stand.placing import StandTo
from zevlo.core.shot import Focus, Lens, Shot, Stand

SHOT = Shot(stand=Stand(position=(0, -5, 1.6), aim=(0, 0, 0.5)), focus=Focus(distance_m=3.0))


@pytest.fixture(scope="module")
def model(tmp_path_factory):
    """A floor and a block a metre high, in metres, Y up."""
    floor = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]])
    path = tmp_path_factory.mktemp("model") / "two_boxes.glb"
    path.write_bytes(glb_of(floor, block))
    return path


@pytest.fixture
def asked(capsys, monkeypatch):
    def ask(*arguments, given):
        monkeypatch.setattr("sys.stdin", io.StringIO(given if isinstance(given, str) else json.dumps(given)))
        code = main([*map(str, arguments)])
        out = capsys.readouterr()
        return code, json.loads(out.out) if code == 0 else out.err

    return ask


def question(gesture, shot=SHOT):
    return {"shot": shot.as_json(), "gesture": gesture.model_dump(mode="json")}


def test_a_gesture_in_a_set_is_followed_as_on_the_desk(asked, model):
    code, answer = asked("ask", "-", "--set", model, given=question(FocusAt(x=0.5, y=0.5)))
    assert code == 0
    assert (answer["refused"], len(answer["says"])) == (None, 1)
    assert answer["shot"]["focus"]["distance_m"] == pytest.approx(4.1, abs=0.3)
    assert answer["sheet"]["pose"]["above_floor_m"] == pytest.approx(1.6, abs=1e-5)
    assert answer["sheet"]["drawings"]["section"]["cut"]["numbers"], "the section goes through the set"
    assert Shot.model_validate(answer["shot"]).stand == SHOT.stand


def test_the_meter_reads_the_set_as_the_shot_shows_it(asked, model):
    """Within the block it is night; left out, it is day there."""
    inside = SHOT.with_groups(stand=Stand(position=(0, -0.5, 0.5), aim=(0, 0.5, 0.5)))
    times = []
    for left_out in ((), ("Thing 1",)):
        _, answer = asked(
            "ask", "-", "--set", model, given=question(Meter(), inside.model_copy(update={"left_out": left_out}))
        )
        times.append(answer["shot"]["exposure"]["shutter_s"])
    assert times[0] > 100 * times[1], times


def test_a_list_is_answered_in_its_order_refusals_and_all(asked, model):
    code, answer = asked("ask", "-", "--set", model, given=[
        question(StandTo(x=2.0, y=-4.0)),
        question(FocusAt(x=0.5, y=1.0), SHOT.with_groups(stand=Stand(position=(0, -5, 1.6), aim=(0, 0, 3)))),
        question(SharpTo(end="near", distance_m=0.5), SHOT.with_groups(lens=Lens(focal_length_mm=200))),
    ])  # fmt: skip
    assert code == 0
    assert answer[0]["shot"]["stand"]["position"][:2] == [2.0, -4.0]
    assert ("only sky" in answer[1]["refused"], answer[1]["says"]) == (True, [])
    assert "smallest stop" in answer[2]["refused"]
    assert answer[2]["shot"]["focus"]["f_number"] == pytest.approx(64), "as far as it goes"


def test_without_a_set_what_needs_none_is_answered(asked):
    code, answer = asked("ask", "-", given=question(StandTo(x=1.0, y=-5.0)))
    assert (code, answer["refused"], answer["sheet"]["pose"]["floor_z"]) == (0, None, None)
    code, answer = asked("ask", "-", given=question(FocusAt(x=0.5, y=0.5)))
    assert (code, "only sky" in answer["refused"]) == (0, True)


def test_a_turn_that_is_no_turn_is_refused(asked, model):
    code, why = asked("solve", "-", "--set", model, "--turn", "nan", given={})
    assert (code, "turn_deg" in why, why.count("\n")) == (2, True, 1), why


def test_a_sheet_of_a_set_placed_otherwise(asked, model):
    high = SHOT.with_groups(stand=Stand(position=(0, 0, 1.6), aim=(0, 3, 1.6))).as_json()
    floors = [
        asked("solve", "-", "--set", model, *how, given=high)[1]["pose"]["floor_z"] for how in ((), ("--unit", "cm"))
    ]
    assert floors == [pytest.approx(1.0, abs=1e-5), pytest.approx(0.01, abs=1e-5)], "a metre and a centimetre high"
    _, answer = asked("solve", "-", given=[SHOT.as_json()])
    assert answer == [json.loads(json.dumps(solve(SHOT).as_json()))]


@pytest.mark.parametrize(
    ("arguments", "given", "words"),
    [
        (("ask", "-"), "{", "is not JSON"),
        (("ask", "-"), "[" * 100_000, "is not JSON"),
        (("ask", "-"), {"shot": {}, "gesture": {"kind": "fly"}}, "gesture: got"),
        (("ask", "-"), {"shot": {"lens": {"focal_length_mm": -1}}, "gesture": {"kind": "level"}}, "focal_length_mm: got -1"),
        (("ask", "nowhere.json"), "", "nowhere.json: No such file"),
        (("ask", "-", "--set", "nowhere.glb"), {"shot": {}, "gesture": {"kind": "level"}}, "nowhere.glb: there is no such file"),
        (("solve", "-"), {"nothing": 1}, "there is no such key"),
        (("solve", "-", "--set", __file__), {}, "not a model that is read here"),
        (("print", "-", "--set", __file__, "--out", "no/such/folder/a.png"), {}, "there is no such folder"),
        (("print", "-", "--set", __file__, "--out", "a.png", "--samples", "0"), {}, "at least 1"),
    ],
)  # fmt: skip
def test_what_cannot_be_answered_ends_with_two_and_one_line(asked, arguments, given, words):
    code, why = asked(*arguments, given=given)
    assert (code, words in why, why.count("\n")) == (2, True, 1), why
