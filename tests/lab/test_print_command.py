"""One picture from the command line: what the lab makes of the same shot."""

import io
import json

import numpy as np
import OpenEXR
import pytest
import trimesh
from PIL import Image
from tests.files.test_import_model import glb_of

from zevlo.cli import main
from zevlo.core.framing.solve import solve
from zevlo.core.shot import Back, Shot, Stand


def test_a_picture_and_its_film_without_server_or_database(tmp_path, monkeypatch):
    floor = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]])
    (tmp_path / "boxes.glb").write_bytes(glb_of(floor, block))
    shot = Shot(name="Boxes", stand=Stand(position=(0, -5, 1.6), aim=(0, 0, 0.5)), back=Back(output_px=(300, 200)))
    (tmp_path / "light.json").write_text(json.dumps({"sun": {"illuminance_lx": 0}}))
    monkeypatch.setenv("ZEVLO_DATABASE_URL", "postgresql://127.0.0.1:1/none")
    films = []
    for more in ((), ("--light", str(tmp_path / "light.json"))):
        monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps(shot.as_json())))
        picture, film = tmp_path / "picture.png", tmp_path / "film.exr"
        size = ("--size", "60x40", "--samples", "4")
        assert main(["print", "-", "--set", str(tmp_path / "boxes.glb"), "--out", str(picture), "--film", str(film), *size, *more]) == 0  # fmt: skip
        with Image.open(picture) as seen:
            assert (seen.size, seen.text["Title"]) == ((60, 40), "Boxes")
            assert Shot.model_validate_json(seen.text["Description"]) == shot
        films.append(OpenEXR.File(str(film)).channels()["RGB"].pixels.astype(float))
    assert films[0].shape == (40, 60, 3)
    assert np.log2(films[0][35, 30].mean() / films[1][35, 30].mean()) > 1, "a floor without its sun is darker"


def test_a_cut_is_the_part_of_the_picture_the_sheet_says(tmp_path, capsys):
    """Printed by its name it shows what lies there in the whole picture, in pixels of its own."""
    ground = trimesh.creation.box(bounds=[[-6, -0.2, -6], [6, 0, 6]])
    block = trimesh.creation.box(bounds=[[-1, 0, -1], [1, 1, 1]])
    (tmp_path / "boxes.glb").write_bytes(glb_of(ground, block))
    cut = {"name": "Square", "output_px": [80, 80], "size": 0.5, "at": [0.25, 0.75]}
    shot = Shot(stand=Stand(position=(0, -5, 1.6), aim=(0, 0, 0.5)), back=Back(output_px=(480, 320), crops=(cut,)))
    (tmp_path / "shot.json").write_text(json.dumps(shot.as_json()))

    def printed(*more):
        film = tmp_path / "film.exr"
        given = ["print", str(tmp_path / "shot.json"), "--set", str(tmp_path / "boxes.glb"), "--out", str(tmp_path / "p.png"), "--film", str(film)]  # fmt: skip
        assert main([*given, "--samples", "8", *more]) == 0
        return OpenEXR.File(str(film)).channels()["RGB"].pixels.astype(float).mean(axis=2)

    whole, square = printed("--size", "480x320"), printed("--crop", "Square", "--size", "160x160")
    left, bottom, right, top = solve(shot).back.crops[0].frame
    assert (right - left) * 480 == pytest.approx(160)
    there = whole[round((1 - top) * 320) : round((1 - bottom) * 320), round(left * 480) : round(right * 480)]
    assert there.shape == square.shape
    coarse = [picture.reshape(16, 10, 16, 10).mean(axis=(1, 3)) for picture in (there, square)]
    assert np.abs(np.log2(coarse[0] / coarse[1])).max() < 0.35
    other = whole[:160, 300:460].reshape(16, 10, 16, 10).mean(axis=(1, 3))
    assert np.abs(np.log2(other / coarse[1])).max() > 0.7, "elsewhere in the picture it would not fit"
    assert main(["print", str(tmp_path / "shot.json"), "--set", str(tmp_path / "boxes.glb"), "--out", str(tmp_path / "p.png"), "--crop", "Round"]) == 2  # fmt: skip
    assert "There is no crop “Round” in this shot; it has “Square”." in capsys.readouterr().err


def test_a_stack_is_printed_as_one_picture_and_refused_where_there_is_none(tmp_path, capsys):
    posts = [
        trimesh.creation.box(bounds=[[x - 0.1, 0, -y - 0.1], [x + 0.1, 1, -y + 0.1]])
        for x, y in ((-0.3, -3.6), (0.6, 3.0))
    ]
    (tmp_path / "posts.glb").write_bytes(glb_of(*posts))
    own = {"distance_m": 0.9, "f_number": 0.7, "blur_limit": {"mm": 0.2}, "stack": {"from_m": 1.2, "to_m": 9.0}}
    shot = Shot(stand=Stand(position=(0, -5, 0.6), aim=(0, 0, 0.6)), back=Back(output_px=(180, 120)), focus=own)
    films = {}
    for name, one in (("stack", shot), ("sharp", shot.with_groups(focus={"f_number": None})), ("soft", shot)):
        (tmp_path / "shot.json").write_text(json.dumps(one.as_json()))
        film = tmp_path / "film.exr"
        given = ["print", str(tmp_path / "shot.json"), "--set", str(tmp_path / "posts.glb"), "--out", str(tmp_path / "p.png"), "--film", str(film)]  # fmt: skip
        assert main([*given, "--size", "360x240", "--samples", "16", *(["--stack"] if name == "stack" else [])]) == 0
        films[name] = OpenEXR.File(str(film)).channels()["RGB"].pixels.astype(float).mean(axis=2)
    # A pinhole has another exposure: each beside its own sky.
    even = {name: film / film[:10].mean() for name, film in films.items()}
    off = {name: np.abs(even[name] - even["sharp"]).mean() for name in ("stack", "soft")}
    assert off["stack"] < 0.5 * off["soft"]
    (tmp_path / "shot.json").write_text(json.dumps(Shot().as_json()))
    assert main([*given, "--stack"]) == 2
    assert "no stack" in capsys.readouterr().err
