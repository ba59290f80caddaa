"""One picture from the command line: what the lab makes of the same shot."""

import io
import json

import numpy as np
import OpenEXR
import trimesh
from PIL import Image
from tests.files.test_door import glb_of

from zevlo.cli import main
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
