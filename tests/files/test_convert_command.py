"""./zevlo convert: shots from one kind of file to another, as anyone calls it."""

import json

import numpy as np
import pytest
import trimesh

from zevlo.cli import main
from zevlo.core.shot import Shot
from zevlo.demo.shots import SHOTS

KINDS = ["usda", "glb", "xlsx", "csv", "intrinsics.json", "usdz", "gltf", "json"]


def test_shots_go_round_through_every_kind(tmp_path, capsys):
    first = tmp_path / "shots.json"
    shots = [shot for shot in SHOTS if shot.lens.projection == "perspective"]
    first.write_text(json.dumps([shot.as_json() for shot in shots]))
    before = first
    for kind in KINDS:
        after = tmp_path / f"shots.{kind}"
        assert main(["convert", str(before), str(after)]) == 0, capsys.readouterr().err
        before = after
    found = json.loads(before.read_text())["shots"]
    assert [Shot.model_validate(row["shot"]) for row in found] == shots
    assert "tilt and swing" in capsys.readouterr().err
    assert not [path for path in tmp_path.iterdir() if path.name.startswith(".part")]


@pytest.mark.parametrize(
    ("source", "out", "words"),
    [
        ("none.json", "a.usda", "there is no such file"),
        ("bad.json", "a.usda", "it is no JSON"),
        ("good.json", "a.docx", "cameras go out in and come in from"),
        ("good.json", "nowhere/a.usda", "there is no such folder"),
        ("empty.csv", "a.usda", "does not name the columns"),
    ],
)
def test_what_cannot_be_converted_is_said_in_one_line(tmp_path, capsys, source, out, words):
    (tmp_path / "bad.json").write_text("{")
    (tmp_path / "empty.csv").write_text("")
    (tmp_path / "good.json").write_text(json.dumps(SHOTS[0].as_json()))
    assert main(["convert", str(tmp_path / source), str(tmp_path / out)]) == 2
    found = capsys.readouterr().err
    assert words in found
    assert found.count("\n") == 1
    assert not (tmp_path / out).exists()


def test_the_set_goes_along_when_it_is_asked_for(tmp_path, capsys):
    source, out, model = tmp_path / "shots.json", tmp_path / "shots.glb", tmp_path / "box.obj"
    source.write_text(json.dumps(SHOTS[1].as_json()))
    model.write_text(trimesh.creation.box(bounds=[[0, 0, 0], [2, 3, 4]]).export(file_type="obj"))
    arguments = ["convert", str(source), str(out), "--with-set"]
    assert main(arguments) == 2
    assert "name the model with --set" in capsys.readouterr().err
    assert main([*arguments, "--set", str(model), "--up", "z", "--unit", "m"]) == 0, capsys.readouterr().err
    assert trimesh.load(out).bounds == pytest.approx(np.array([[0, 0, -3], [2, 4, 0]]), abs=1e-6), "Y up, as glTF is"
