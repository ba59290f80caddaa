"""What was written before ``zevlo.shot/2`` is read for ever: files of every kind, kept as they were written then."""

import json
import shutil
import subprocess
from pathlib import Path

import pytest
from pydantic import TypeAdapter
from tests.core.test_instruments import kinds_below

from zevlo.core.finals.naming import checked_pattern
from zevlo.core.finals.recipe import Recipe
from zevlo.core.framing.gestures import FORMER_KINDS, ShotGesture
from zevlo.core.framing.presets import Presets
from zevlo.core.shot import Shot
from zevlo.core.shot.patch import ShotPatch, given, patched
from zevlo.core.shot.upgrade import FIRST, NEWEST, RENAMED, WithFormerKeys, upgraded
from zevlo.files.cameras.formats import FORMATS
from zevlo.lab.history import read_history

ROOT = Path(__file__).parents[2]
KEPT = Path(__file__).with_name("version_1")
OLD = json.loads((KEPT / "shot.json").read_text())
CAMERA_FILES = sorted(path.name for path in KEPT.glob("shots.*"))
SAME_WITHIN = (".usd", ".usdc")
"""Hold what .usda does, some in another writing."""
PICTURES = ("picture.png", "picture.jpg", "film.exr")


def zevlo(*arguments, given=None):
    return subprocess.run(
        [ROOT / "zevlo", *map(str, arguments)], input=given, capture_output=True, text=True, check=False
    )


def by_name_now(old):
    """The same shot by the keys of now, put there by hand."""
    new = json.loads(json.dumps(old))
    new["schema"] = NEWEST
    new["back"]["fit"], new["back"]["crops"] = new["back"].pop("cut"), new["back"].pop("cuts")
    new["movements"]["before_straightening"] = new["movements"].pop("as_it_was")
    new["movements"]["tilt_limit_deg"] = new["movements"].pop("most_tilt_deg")
    new["focus"]["follow"] = new["focus"].pop("on")
    new["light"] = {"id": None, "name": new["light"]}
    return new


def test_the_kept_shot_says_something_by_every_key_that_was_renamed():
    assert OLD["schema"] == FIRST
    for group, names in RENAMED.items():
        assert all(OLD[group][old] not in (None, [], "inside") for old in names)


def test_a_shot_of_the_first_version_is_the_same_shot_by_the_keys_of_now():
    shot = Shot.model_validate(OLD)
    assert shot.as_json() == by_name_now(OLD)
    assert Shot.model_validate_json((KEPT / "shot.json").read_text()) == shot
    assert Shot.model_validate({key: value for key, value in OLD.items() if key != "schema"}) == shot
    assert upgraded(shot.as_json()) == shot.as_json()


def test_the_newest_version_has_the_newest_keys_alone():
    for group, names in RENAMED.items():
        for old, new in names.items():
            value = OLD[group][old]
            with pytest.raises(ValueError, match=rf"{group}\.{old}\n"):
                Shot.model_validate({"schema": NEWEST, group: {old: value}})
            with pytest.raises(ValueError, match=f"{old} is called {new} now"):
                Shot.model_validate({group: {old: value, new: value}})


@pytest.mark.parametrize("group", RENAMED)
def test_a_change_by_older_keys_is_the_same_change(group):
    for old, new in RENAMED[group].items():
        patch = ShotPatch.model_validate({group: {old: OLD[group][old]}})
        assert list(given(patch)[group]) == [new]
        assert getattr(getattr(patched(Shot(), patch), group), new) == getattr(
            getattr(Shot.model_validate(OLD), group), new
        )


@pytest.mark.parametrize("name", CAMERA_FILES)
def test_camera_files_of_the_first_version_are_read_by_the_command(name, tmp_path):
    out = tmp_path / "out.json"
    done = zevlo("convert", KEPT / name, out)
    assert (done.returncode, done.stderr) == (0, "")
    wanted = json.loads((KEPT / "shots.json").read_text())
    wanted = [row["shot"] for row in (wanted["shots"] if isinstance(wanted, dict) else wanted)]
    got = [row["shot"] for row in json.loads(out.read_text())["shots"]]
    for old, new in zip(wanted, got, strict=True):
        plain = Shot.model_validate(old).as_json()
        for group in ("back", "movements", "light", "guides", "left_out", "exposure"):
            assert new[group] == plain[group], (name, group)
        assert new["focus"]["follow"] == plain["focus"]["follow"]


def test_every_kind_of_camera_file_that_holds_shots_is_kept():
    assert {Path(name).suffix for name in CAMERA_FILES} >= {
        ending for kind in FORMATS if kind.whole for ending in kind.endings if ending not in SAME_WITHIN
    }


@pytest.mark.parametrize("name", PICTURES)
def test_pictures_of_the_first_version_tell_their_shot(name):
    found = read_history((KEPT / name).read_bytes())
    assert found.shot == Shot.model_validate(OLD)
    assert found.history.light == "Evening"


def test_the_command_line_answers_to_shots_and_questions_of_the_first_version():
    solved = zevlo("solve", KEPT / "shot.json")
    assert solved.returncode == 0, solved.stderr
    assert json.loads(solved.stdout)["back"]["crops"][0]["name"] == "Tall"
    asked = zevlo("ask", KEPT / "question.json")
    assert asked.returncode == 0, asked.stderr
    assert json.loads(asked.stdout)["shot"]["schema"] == NEWEST


def test_recipes_presets_and_patterns_of_before_mean_the_same():
    recipe = Recipe.model_validate_json((KEPT / "recipe.json").read_text())
    assert (recipe.crop, recipe.shot) == ("Tall", Shot.model_validate(OLD))
    kept = Presets.model_validate({"cut_sets": [{"name": "Mine", "cuts": OLD["back"]["cuts"]}]})
    assert kept.crop_sets[0].crops == recipe.shot.back.crops
    assert checked_pattern("{number}_{cut}") == "{number}_{crop}"
    for kind in kinds_below(WithFormerKeys):
        assert kind.former, kind
        assert set(kind.former.values()) <= set(kind.model_fields)
        assert not set(kind.former) & set(kind.model_fields)


def test_a_file_of_the_first_version_is_not_written_anew_by_being_read(tmp_path):
    copy = shutil.copy(KEPT / "shot.json", tmp_path / "shot.json")
    before = Path(copy).read_bytes()
    assert zevlo("solve", copy).returncode == 0
    assert Path(copy).read_bytes() == before


@pytest.mark.parametrize("old", FORMER_KINDS)
def test_gestures_are_read_by_what_they_were_called(old):
    asked = {"kind": old, "right": 0.1, "up": 0.0}
    assert TypeAdapter(ShotGesture).validate_python(asked).kind == FORMER_KINDS[old]
