"""Finals through real workers: ordered, gathered tile by tile, closed, the same to the bit whoever made them."""

import io
import json
import os
import socket
import time
import uuid
import zipfile
from typing import get_args

import numpy as np
import OpenEXR
import pytest
from PIL import Image
from tests.files.test_sandbox_limits import until
from tests.lab.test_worker import _print, _until, sized

from zevlo.core.finals.order import Formats, Layer
from zevlo.core.finals.pieces import TILE_PX
from zevlo.core.framing.solve import solve
from zevlo.core.shot import Shot
from zevlo.lab.history import read_history
from zevlo.lab.layers import hash_bits
from zevlo.lab.made_with import made_here, versions
from zevlo.store import machines
from zevlo.store.database import engine_for, transaction
from zevlo.store.tables import MadeWith

EVERY = {"png": 16, "jpeg": 92, "exr": "float", "layers": list(get_args(Layer))}
assert set(EVERY) == set(Formats.model_fields), "each kind of file there is"


def small(client, shot, size=(2 * TILE_PX - 60, TILE_PX + 20)):
    return sized(client, shot, *size)


def order(client, shot, **more):
    asked = {"pictures": [{"shot": shot["id"]}], "quality": "draft", **more}
    placed = client.post(f"/api/projects/{shot['project']}/orders", json={"order": asked})
    assert placed.status_code == 201, placed.text
    return placed.json()


def files(client, done):
    return {one["name"]: client.get(one["address"]).content for one in done["files"]}


def made_after_a_kill(client, served, shot, key):
    """A final whose worker is killed in the middle of it, made by the next."""
    with served.worker_process() as process:
        deadline = time.monotonic() + 240
        while not 0.05 < _print(client, shot, key)["progress"] < 1.0:
            assert time.monotonic() < deadline
            time.sleep(0.02)
        process.kill()
    with served.worker():
        return _until(client, shot, key, {"done", "failed"})


def test_a_final_is_gathered_in_tiles_and_written_to_every_kind_of_file(client, served, shot, tmp_path):
    shot = small(client, shot)
    placed = order(client, shot, formats=EVERY, pattern="{number}_{name}_{size}")
    with served.worker():
        done = _until(client, shot, placed["prints"][0], {"done", "failed"})
    assert done["state"] == "done", done["trouble"]
    assert (done["kind"], done["order"], done["pieces"]) == ("final", 1, [5, 5])
    made = files(client, done)
    again = {"pictures": [{"shot": shot["id"]}], "formats": EVERY, "size": {"kind": "scaled", "times": 2.0}}
    answer = client.post(f"/api/projects/{shot['project']}/orders/expected", json=again).json()
    assert answer["bytes"] == pytest.approx(4 * sum(map(len, made.values())), rel=1e-3), (
        "told by what the first came to"
    )
    assert {name.rpartition(".")[2] for name in made} == {"png", "jpg", "exr"}
    assert all(name.startswith("01_") and "_440x270." in name for name in made), made.keys()
    by = {name.rpartition(".")[2]: data for name, data in made.items()}
    for kind, data in by.items():
        answer = read_history(data)
        assert answer.history.print == done["id"], kind
        assert answer.shot.as_json() == shot["shot"], kind
        # The beginning of a file is enough.
        assert read_history(data[:30_000]).history.shot == shot["id"], kind
    assert Image.open(io.BytesIO(by["png"])).size == (440, 270)
    own = Shot.model_validate(shot["shot"])
    for kind in ("jpg", "png"):
        with Image.open(io.BytesIO(by[kind])) as picture:
            exif, whole = picture.getexif().get_ifd(0x8769), picture.getexif()
            dpi = picture.info["dpi"]
        assert float(exif[0x920A]) == pytest.approx(own.lens.focal_length_mm), "CIPA DC-008: focal length"
        assert float(exif[0x829A]) == pytest.approx(own.exposure.shutter_s, rel=1e-4), "exposure time"
        assert float(exif[0x829D]) == pytest.approx(own.focus.f_number), "f-number"
        assert (exif[0x8827], exif[0xA001], whole[0x0128]) == (round(own.exposure.iso), 1, 2), "ISO, sRGB, inches"
        assert exif[0xA405] == round(solve(own).lens.equivalent_focal_length_mm), "as long as on 36 × 24"
        assert (*dpi, float(whole[0x011A])) == pytest.approx((own.back.dpi,) * 3, rel=1e-3)
    path = tmp_path / "print.exr"
    path.write_bytes(by["exr"])
    with OpenEXR.File(str(path), separate_channels=True) as file:
        header, channels = dict(file.header()), {name: one.pixels for name, one in file.channels().items()}
    assert {channel.dtype for channel in channels.values()} == {np.dtype(np.float32)}
    assert {"R", "Z", "N.X", "albedo.G", "parts00.R", "parts02.A"} <= channels.keys()
    names = list(client.get(f"/api/projects/{shot['project']}").json()["set"]["parts"])
    assert (header["expTime"], header["isoSpeed"]) == pytest.approx((own.exposure.shutter_s, own.exposure.iso))
    assert header["aperture"] == pytest.approx(own.focus.f_number)
    answer = np.array(header["chromaticities"]).ravel()
    assert answer == pytest.approx([0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290], abs=1e-6), "BT.709"
    depth, first, share = channels["Z"], channels["parts00.R"], channels["parts00.G"]
    assert np.isinf(depth).any()
    assert 1.0 < depth[np.isfinite(depth)].min() < 10.0
    assert (share[np.isinf(depth)] == 0).mean() > 0.98
    begin = next(
        key[: -len("manifest")] for key in header if key.startswith("cryptomatte/") and key.endswith("manifest")
    )
    manifest = json.loads(header[begin + "manifest"])
    assert {one["name"] for one in names} <= manifest.keys(), "by the names an artist knows"
    known = {np.uint32(hash_bits(name)).view(np.float32) for name in manifest}
    assert set(np.unique(first[share > 0.5])) <= known
    assert header[begin + "hash"] == "MurmurHash3_32"


def test_the_same_order_gives_the_same_picture_whoever_makes_it(client, served, shot):
    shot = small(client, shot)
    alone, shared, killed = (order(client, shot, formats={"png": 16})["prints"][0] for _ in range(3))
    client.post(f"/api/prints/{shared}/pause")
    client.post(f"/api/prints/{killed}/pause")
    with served.worker():
        first = _until(client, shot, alone, {"done", "failed"})
    assert first["state"] == "done", first["trouble"]
    client.post(f"/api/prints/{shared}/retry")
    with served.worker(), served.worker_process():
        second = _until(client, shot, shared, {"done", "failed"})
    client.post(f"/api/prints/{killed}/retry")
    third = made_after_a_kill(client, served, shot, killed)
    orders = client.get(f"/api/projects/{shot['project']}/lab").json()["orders"]
    with zipfile.ZipFile(io.BytesIO(client.get(orders[0]["folder"]).content)) as folder:
        assert folder.testzip() is None
        assert {name.partition("/")[2]: folder.read(name) for name in folder.namelist()} == files(client, third)
        assert folder.namelist()[0].startswith("Boxes order 3/")
    pictures = []
    for one in (first, second, third):
        assert one["state"] == "done", one["trouble"]
        (data,) = files(client, one).values()
        pictures.append(np.asarray(Image.open(io.BytesIO(data))))
    assert np.array_equal(pictures[0], pictures[1])
    assert np.array_equal(pictures[0], pictures[2])


def test_a_final_of_a_stack_is_merged_tile_by_tile_the_same_whoever_makes_it(client, served, shot):
    stack = {"f_number": 1.4, "distance_m": 6.0, "blur_limit": {"mm": 0.1}, "stack": {"from_m": 1.0, "to_m": 12.0}}
    size = {"output_px": [TILE_PX + 60, TILE_PX - 20]}
    changed = client.patch(
        f"/api/shots/{shot['id']}",
        json={"version": shot["version"], "patch": {"back": size, "focus": stack, "lens": {"focal_length_mm": 50.0}}},
    )
    assert changed.status_code == 200, changed.text
    pictures = [{"shot": shot["id"], "stacked": stacked} for stacked in (True, False)]
    formats = {"png": 16, "exr": "float", "layers": ["depth", "parts"]}
    one, plain = order(client, shot, pictures=pictures, formats=formats)["prints"]
    (again,) = order(client, shot, pictures=pictures[:1], formats=formats)["prints"]
    client.post(f"/api/prints/{again}/pause")
    with served.worker():
        first, single = (_until(client, shot, key, {"done", "failed"}) for key in (one, plain))
    client.post(f"/api/prints/{again}/retry")
    second = made_after_a_kill(client, served, shot, again)
    assert [one["state"] for one in (first, single, second)] == ["done"] * 3, [first, single, second]
    assert (first["merged_of"], first["frames"], single["merged_of"]) == (second["merged_of"], [], 0)
    assert first["merged_of"] > 3
    assert (first["stale"], single["stale"]) == (None, None)
    made, alone, other = (
        {name.rpartition(".")[2]: data for name, data in files(client, one).items()} for one in (first, single, second)
    )
    assert made["png"] != alone["png"]
    seen = [np.asarray(Image.open(io.BytesIO(one["png"]))) for one in (made, other)]
    assert np.array_equal(*seen)
    found = client.post(
        f"/api/projects/{shot['project']}/orders/expected", json={"pictures": pictures, "quality": "draft"}
    ).json()
    assert [one["already_printed"][:7] for one in found["pictures"]] == ["Printed"] * 2
    refocused = client.patch(
        f"/api/shots/{shot['id']}",
        json={"version": changed.json()["version"], "patch": {"focus": {**stack, "distance_m": 2.0}}},
    )
    assert refocused.status_code == 200
    assert _print(client, shot, one)["stale"] is None, "where the shot is focused is no matter for its stack"
    assert "focus" in _print(client, shot, plain)["stale"]


def test_a_worker_of_another_version_refuses_in_words(client, served, shot, capsys):
    from sqlalchemy import text

    from zevlo.cli import main

    engine, first = engine_for(served.url), os.nice(0)
    with engine.begin() as connection:
        ours = connection.scalar(text("select version_num from alembic_version"))
        connection.execute(text("update alembic_version set version_num = '0007'"))
    assert main(["worker", "--database", served.url]) == 2
    assert "another version of Zevlo (its tables are 0007" in capsys.readouterr().err
    with engine.begin() as connection:
        connection.execute(text("update alembic_version set version_num = :ours"), {"ours": ours})
    address = f"/api/projects/{shot['project']}/lab"
    lab = client.get(address).json()
    assert lab["machines"] == []
    assert [(one["name"], one["why"][:40]) for one in lab["turned_away"]] == [
        (socket.gethostname(), "this database is of another version of Z")
    ]
    with served.worker_process():
        deadline = time.monotonic() + 120
        while not (lab := client.get(address).json())["machines"]:
            assert time.monotonic() < deadline
            time.sleep(0.1)
        assert lab["turned_away"] == [], "it came with the right version"
    assert main(["worker", "--database", "postgresql://127.0.0.1:1/none"]) == 2
    assert "does not answer" in capsys.readouterr().err
    assert os.nice(0) == first, "who refuses goes no slower: these tests ran on in its process"


@pytest.mark.parametrize("what", versions())
def test_a_worker_that_would_make_other_pictures_does_not_join(served, capsys, what):
    from zevlo.cli import main

    engine = engine_for(served.url)
    with transaction(engine) as session:
        machines.make_with(session, {**versions(), what: "0.0"}, anew=True)
    assert main(["worker", "--database", served.url]) == 2
    made_here(engine)
    said = capsys.readouterr().err
    assert f"made with {what} 0.0, and here it is {versions()[what]}: use the same version" in said
    with transaction(engine) as session:
        assert machines.there(session) == []
        machines.heard_of(session, uuid.uuid4(), socket.gethostname(), {"cores": 2})
        assert len(machines.there(session)) == 1, "another of the same machine goes with the others"
        assert [one.about[machines.REFUSED] in said for one in machines.those_turned_away(session)] == [True]


def test_a_worker_stops_where_the_lab_goes_on_with_another_version_and_what_it_was_at_is_made(client, served, shot):
    """Whoever serves says what pictures are made with: the first worker where nobody has."""
    engine = engine_for(served.url)
    shot = small(client, shot, (200, 100))
    with served.worker_process() as process:
        deadline = time.monotonic() + 120
        while not client.get(f"/api/projects/{shot['project']}/lab").json()["machines"]:
            assert time.monotonic() < deadline
            time.sleep(0.1)
        with transaction(engine) as session:
            own = session.get_one(MadeWith, 1)
            assert own.versions == versions()
            own.versions = {**versions(), "Mitsuba": "9.0"}
        placed = order(client, shot)
        assert process.wait(120) == 2
    made_here(engine)
    with served.worker_process():
        assert _until(client, shot, placed["prints"][0], {"done", "failed"})["state"] == "done"


def test_machines_say_that_they_are_there_and_go(client, served, shot):
    shot = small(client, shot, (200, 100))
    placed = order(client, shot)
    address = f"/api/projects/{shot['project']}/lab"
    assert client.get(address).json()["machines"] == []
    with served.worker_process():
        _until(client, shot, placed["prints"][0], {"done", "failed"})
        (there,) = client.get(address).json()["machines"]
    assert there["about"]["cores"] > 0
    assert there["rays_per_s"] > 1000
    known = client.post(
        f"/api/projects/{shot['project']}/orders/expected", json={"pictures": [{"shot": shot["id"]}]}
    ).json()
    assert known["seconds"][0] < known["seconds"][1]
    assert known["machines"] == 1, "it was ended without a word, and is thought to be there for some seconds"
    with served.worker_process() as next_one:
        until(lambda: next_one.pid in {one["about"]["process"] for one in client.get(address).json()["machines"]})
        speeds = [one["rays_per_s"] for one in client.get(address).json()["machines"]]
    assert speeds == [there["rays_per_s"]] * len(speeds), "it goes as fast as the last of that machine, until it shows"
