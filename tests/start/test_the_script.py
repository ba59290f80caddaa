"""The ``zevlo`` script as anyone calls it: every command there is, by its name."""

import json
import os
import subprocess

import numpy as np
import pytest
import trimesh

from zevlo.commands import COMMANDS
from zevlo.demo.shots import SHOTS
from zevlo.settings import ROOT


def called(*arguments, given=None, where=None):
    done = subprocess.run(
        [str(ROOT / "zevlo"), *map(str, arguments)], input=given, capture_output=True, check=False, cwd=where,
        env={name: value for name, value in os.environ.items() if name != "ZEVLO_DATABASE_URL"},
    )  # fmt: skip
    return done.returncode, done.stdout, done.stderr.decode()


@pytest.mark.parametrize("command", COMMANDS, ids=lambda one: one.name)
def test_every_command_tells_what_it_may_be_told(command):
    """A command of the list that nothing is behind, or another one, would not know itself."""
    before = (ROOT / "bench" / "last.md").read_bytes()
    code, out, trouble = called(command.name, "--help")
    assert code == 0, trouble
    assert b"usage: " in out
    assert command.file == "tests/run.py" or f"zevlo {command.name}".encode() in out
    assert (ROOT / "bench" / "last.md").read_bytes() == before, "asking for help writes nothing"


def test_the_help_lists_what_there_is_and_what_there_is_not_is_said():
    code, out, _ = called("--help")
    assert code == 0
    for one in COMMANDS:
        assert (f"  {one.name} ".encode() in out) == one.shown
    assert called()[:2] == (0, out)
    code, out, trouble = called("solv")
    assert (code, out) == (2, b"")
    assert "there is no command “solv”" in trouble


def test_a_shot_is_solved_converted_and_taken_back(tmp_path):
    """By names that count from where one stands, and through pipes."""
    (tmp_path / "shot.json").write_text(json.dumps(SHOTS[1].as_json()))
    (tmp_path / "box.obj").write_text(trimesh.creation.box(bounds=[[0, 0, 0], [2, 3, 4]]).export(file_type="obj"))
    code, out, trouble = called("solve", "shot.json", "--set", "box.obj", where=tmp_path)
    assert code == 0, trouble
    assert json.loads(out)["schema"].startswith("zevlo.sheet/")
    code, _, trouble = called("convert", "shot.json", "shot.USDZ", "--set", "box.obj", where=tmp_path)
    assert code == 0, trouble
    assert sorted(path.name for path in tmp_path.iterdir()) == ["box.obj", "shot.USDZ", "shot.json"]
    code, out, trouble = called(
        "convert", "shot.USDZ", "-", "--to-kind", ".csv", "--from-set", "--set", "box.obj", where=tmp_path
    )
    assert code == 0, trouble
    code, out, trouble = called(
        "convert",
        "-",
        "-",
        "--from-kind",
        ".csv",
        "--to-kind",
        ".json",
        "--from-set",
        "--set",
        "box.obj",
        given=out,
        where=tmp_path,
    )
    assert code == 0, trouble
    back = json.loads(out)["shots"][0]["shot"]
    assert np.allclose(back["stand"]["position"], SHOTS[1].stand.position, atol=1e-6)
    assert back["lens"] == SHOTS[1].as_json()["lens"]


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("convert", "-", "a.usda"), "tell with --from-kind"),
        (("convert", "shot.json", "-"), "tell with --to-kind"),
        (("convert", "shot.json", "a.usda", "--from-set"), "--from-set: name the model with --set"),
        (("convert", "shot.json", "."), ". is a folder"),
        (("print", "shot.json", "--set", "box.obj", "--out", "a.jpg"), "its name ends in .png"),
        (("print", "shot.json", "--set", "box.obj", "--out", "a.png", "--film", "a.png"), "its name ends in .exr"),
        (("solve", "none.json"), "none.json: No such file"),
    ],
)
def test_what_cannot_be_done_is_said_and_nothing_is_written(tmp_path, arguments, words):
    (tmp_path / "shot.json").write_text(json.dumps(SHOTS[1].as_json()))
    (tmp_path / "box.obj").write_text("v 0 0 0")
    before = sorted(tmp_path.iterdir())
    code, out, trouble = called(*arguments, where=tmp_path)
    assert (code, out) == (2, b"")
    assert words in trouble
    assert sorted(tmp_path.iterdir()) == before


def test_a_camera_that_cannot_be_taken_does_not_keep_the_others_back(tmp_path):
    rows = called(
        "convert",
        "-",
        "-",
        "--from-kind",
        ".json",
        "--to-kind",
        ".csv",
        given=json.dumps([shot.as_json() for shot in SHOTS[:3]]).encode(),
    )[1]
    lines = rows.decode().splitlines()
    head = lines[0].split(",")
    cells = lines[2].split(",", len(head) - 1)
    # No shot of ours with it, and a window that has no width.
    cells[head.index("right")] = cells[head.index("left")]
    cells[head.index("shot")] = ""
    code, out, trouble = called(
        "convert",
        "-",
        "-",
        "--from-kind",
        ".csv",
        "--to-kind",
        ".json",
        given="\n".join([*lines[:2], ",".join(cells), *lines[3:]]).encode(),
    )
    assert code == 1
    assert f"{SHOTS[1].name} is left out: " in trouble
    assert [row["shot"]["name"] for row in json.loads(out)["shots"]] == [SHOTS[0].name, SHOTS[2].name]
