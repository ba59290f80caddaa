"""What the sandbox's readers may not do: outlive whoever asked, see their surroundings, write or hold without end."""

import io
import json
import os
import signal
import subprocess
import sys
import textwrap
import time
import zlib

import numpy as np
import pytest
import trimesh
from PIL import Image
from tests.files import shed
from tests.files.test_import_model import glb_of

from zevlo.core.scene.model.set_model import Material
from zevlo.files import limits, scratch, textures
from zevlo.files.names import STANDS_FOR_IT
from zevlo.files.reading import Arrival, unheard
from zevlo.files.recognise import read_model
from zevlo.files.refusal import CannotRead
from zevlo.files.sandbox import import_model
from zevlo.files.textures import Pictures, largest_side


@pytest.fixture
def model(tmp_path):
    path = tmp_path / "box.glb"
    path.write_bytes(glb_of(trimesh.creation.box()))
    return path


@pytest.fixture
def before_reading(tmp_path, monkeypatch):
    """Code that each reader runs before anything else."""

    def put(code):
        folder = tmp_path / "site"
        folder.mkdir(exist_ok=True)
        (folder / "sitecustomize.py").write_text(textwrap.dedent(code))
        before = os.environ.get("PYTHONPATH")
        monkeypatch.setenv("PYTHONPATH", f"{folder}:{before}" if before else str(folder))

    return put


def until(condition, seconds=150.0):
    """Asks again until something has come to pass; what hangs is given up, a machine that is busy is not."""
    deadline = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < deadline, "it did not come to pass"
        time.sleep(0.02)


def lives(process):
    try:
        with open(f"/proc/{process}/stat") as file:
            return file.read().split()[2] != "Z"
    except OSError:
        return False


def test_what_a_library_prints_does_not_break_the_door(model, before_reading):
    before_reading(
        """
        import os, sys
        if "zevlo.files.reader" in " ".join(sys.orig_argv):
            print('{"refused": 5}')
            print(5)
            print('{"doing"', end="", flush=True)
            os.write(2, b"\\xff\\xfe{}\\n")
        """
    )
    heard = []
    with import_model(model, "box.glb", progress=lambda *found: heard.append(found)) as taken:
        assert taken.summary["triangles"] == 12
    assert all(isinstance(what, str) for what, _ in heard)
    assert ("looking at the file", None) in heard


def test_a_reader_sees_nothing_of_its_surroundings(model, before_reading, tmp_path, monkeypatch):
    monkeypatch.setenv("ZEVLO_DATABASE_URL", "postgresql://secret")
    monkeypatch.setenv("HOME_OF_SECRETS", "yes")
    before_reading(
        f"""
        import json, os, sys
        if "zevlo.files.reader" in " ".join(sys.orig_argv):
            open({str(tmp_path / "seen")!r}, "w").write(json.dumps([dict(os.environ), os.getcwd()]))
        """
    )
    with import_model(model, "box.glb"):
        pass
    environment, folder = json.loads((tmp_path / "seen").read_text())
    assert not any("secret" in value.lower() or "SECRET" in name for name, value in environment.items())
    assert environment["HOME"] == folder
    assert "zevlo-sandbox-" in folder


def test_a_reader_ends_with_its_server(model, before_reading, tmp_path):
    before_reading(
        f"""
        import os, sys, time
        if "zevlo.files.reader" in " ".join(sys.orig_argv):
            open({str(tmp_path / "pid")!r}, "w").write(str(os.getpid()))
            time.sleep(120)
        """
    )
    code = f"from zevlo.files.sandbox import import_model; from pathlib import Path; import_model(Path({str(model)!r}), 'a.glb').__enter__()"
    server = subprocess.Popen([sys.executable, "-c", code])
    pid = tmp_path / "pid"
    until(lambda: pid.exists() and pid.read_text())
    reader = int(pid.read_text())
    assert lives(reader)
    server.send_signal(signal.SIGKILL)
    server.wait()
    until(lambda: not lives(reader))


def test_folders_of_the_dead_are_cleared_and_those_of_the_living_stay(tmp_path, monkeypatch):
    monkeypatch.setattr(scratch.tempfile, "tempdir", str(tmp_path))
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    dead = tmp_path / f"zevlo-sandbox-{gone.pid}-abcd"
    other = tmp_path / "zevlo-of-somebody-else"
    for folder in (dead, other):
        folder.mkdir()
        (folder / "big").write_bytes(b"0" * 1000)
    with scratch.scratch("sandbox") as mine:
        assert scratch.clear_leftovers() == 1
        assert (mine.exists(), dead.exists(), other.exists()) == (True, False, True)
    assert not mine.exists()


def test_a_reader_that_writes_without_end_is_stopped(model, before_reading):
    before_reading(
        """
        import sys
        if "zevlo.files.reader" in " ".join(sys.orig_argv):
            for n in range(10000):
                open(f"file-{n}", "wb").write(b"0" * 1_000_000)
        """
    )
    with (
        pytest.raises(CannotRead, match="unpacks to more than"),
        import_model(model, "box.glb", written_limit=40_000_000),
    ):
        pass


def picture(width, height, kind="PNG", color=(200, 30, 30)):
    out = io.BytesIO()
    Image.new("RGB", (width, height), color).save(out, kind)
    return out.getvalue()


def claiming(side):
    """The head of a PNG that says it is so large."""
    header = b"IHDR" + side.to_bytes(4, "big") * 2 + b"\x08\2\0\0\0"
    return (
        b"\x89PNG\r\n\x1a\n\0\0\0\r" + header + zlib.crc32(header).to_bytes(4, "big") + b"\0\0\0\x10IDAT" + b"\0" * 40
    )


def test_all_textures_of_a_set_share_one_budget(monkeypatch):
    monkeypatch.setattr(textures, "ALL_PICTURES_PX", 300_000)
    monkeypatch.setattr(textures, "MOST_PICTURE_SIDE_PX", 900)
    pictures = Pictures()
    for n, (width, height, kind) in enumerate(
        [(1000, 500, "JPEG"), (300, 300, "PNG"), (600, 600, "PNG"), (20, 10, "TGA")]
    ):
        assert pictures.put(str(n), picture(width, height, kind)) == n
    assert pictures.put("1", b"never looked at again") == 1
    kept, _ = pictures.settled(tuple(Material(f"m{n}", texture=n) for n in range(4)))
    assert pictures.settled((Material("m", texture=2),))[1][0].texture == 0, "what nothing shows is not kept"
    sizes = [Image.open(io.BytesIO(raw)).size for raw in kept]
    assert sum(w * h for w, h in sizes) <= 300_000
    assert max(sizes[0]) == max(sizes[2]), "the larger ones are brought to one side"
    assert kept[1] == picture(300, 300), "one that is small enough stays as it came"
    assert sizes[0][0] / sizes[0][1] == pytest.approx(2.0, rel=0.02)
    assert pictures.remarks()[0].startswith("2 textures were made smaller, to ")
    assert Pictures().remarks() == ()


@pytest.mark.parametrize(
    ("raw", "words"),
    [
        (lambda: b"no picture", "cannot be read; it has to be PNG or JPEG"),
        (lambda: picture(64, 64)[:90], "broken or cut off"),
        (lambda: claiming(20_000), "20,000 × 20,000 pixels"),
    ],
)  # fmt: skip
def test_a_texture_that_is_refused_says_why(raw, words):
    def taken():
        pictures = Pictures()
        pictures.put("0", raw())
        return pictures.settled((Material("m", texture=0),))

    with pytest.raises(CannotRead, match=words):
        taken()


def test_the_largest_picture_within_the_limit_is_read_and_made_smaller(tmp_path):
    """13,500 pixels square: within the limit the library itself would have refused it."""
    side = 13_500
    assert side * side <= limits.MOST_PICTURE_PX
    big = picture(side, side)
    path = tmp_path / "came"
    files = {"a.obj": b"mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl m\nf 1/1 2/2 3/3\n",
             "a.mtl": b"newmtl m\nKd 1 1 1\nmap_Kd big.png\n", "big.png": big}  # fmt: skip
    path.write_bytes(shed.zipped(files))
    with import_model(path, "a.zip") as taken:
        assert any("made smaller" in remark for remark in taken.summary["remarks"])
        kept = Image.open(taken.pictures[0])
        assert max(kept.size) <= limits.MOST_PICTURE_SIDE_PX
        assert kept.size[0] * kept.size[1] <= limits.ALL_PICTURES_PX
        assert taken.summary["textures"] == 1


def test_the_side_pictures_keep_never_passes_the_budget():
    chance = np.random.default_rng(3)
    for _ in range(200):
        sizes = [tuple(int(v) for v in chance.integers(1, 16_000, 2)) for _ in range(chance.integers(1, 40))]
        side = largest_side(sizes)
        whole = sum(w * h * min(1.0, side / max(w, h)) ** 2 for w, h in sizes)
        assert whole <= limits.ALL_PICTURES_PX * 1.01


def test_names_that_cannot_be_kept_are_told_otherwise(tmp_path):
    path = tmp_path / "came"
    path.write_bytes(
        b"solid \xed\xa0\x80wall\x00\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 1\nendloop\nendfacet\nendsolid\n"
    )
    came = read_model(Arrival(path, "a.stl"), tmp_path / "unpacked", unheard)
    assert came.model.parts[0].name.endswith(f"wall{STANDS_FOR_IT}")
    assert "\0" not in came.model.parts[0].id
    assert any("cannot be kept" in remark for remark in came.remarks)
    json.dumps(came.model.parts[0].name).encode()
