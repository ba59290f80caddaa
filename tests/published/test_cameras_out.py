"""Cameras that went out, by other people's programs: OpenUSD, the glTF validator, a glTF loader, OpenCV."""

import json
import subprocess

import cv2
import numpy as np
import openpyxl
import pytest
from pxr import Usd, UsdGeom, UsdValidation
from tests.files.test_cameras_in_files import points_before

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.exchange.camera_record import camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.shot import Back, Lens, Movements, Shot, Stand
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import SHOTS
from zevlo.files.cameras.formats import format_of, write_cameras
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.settings import ROOT

SHIFTED = SHOTS[0].with_groups(
    movements=Movements(rise_mm=7.2, cross_mm=-3.0),
    back=Back(output_px=(2160, 2700), trim={"left": 0.1, "right": 0.0, "top": 0.0, "bottom": 0.05}, enlarge=1.2),
    lens=Lens(focal_length_mm=24, far_m=90.0),
)
PARALLEL = Shot(
    name="Elevation", stand=Stand(position=(0, -20, 4), aim=(0, 0, 4)), lens=Lens(projection="parallel", scale_m=18.0)
)
BENT = SHOTS[1].with_groups(
    lens=Lens(focal_length_mm=20, distortion={"k1": -0.08, "k2": 0.01, "k3": 0.001, "p1": 0.001, "p2": -0.002})
)
EVERY = [*SHOTS, SHIFTED.model_copy(update={"name": "Shifted"}), PARALLEL]


def written(tmp_path, name, shots, receiver=None):
    path = tmp_path / name
    says = format_of(name).says
    write_cameras([camera_record_of(shot, str(n), says) for n, shot in enumerate(shots)], path, receiver or Receiver())
    return path


@pytest.mark.parametrize("ending", ["usda", "usdc", "usdz"])
@pytest.mark.parametrize(("metres", "up"), [(1.0, "z"), (0.01, "y"), (0.001, "z")])
def test_openusd_reads_the_same_cameras(tmp_path, ending, metres, up):
    """OpenUSD: all its own validators without complaint; Gf.Camera of the file puts 50 points within 0.01 px."""
    path = written(tmp_path, f"cameras.{ending}", EVERY, Receiver(metres, up))
    stage = Usd.Stage.Open(str(path))
    rules = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    assert len(rules) > 20
    assert [error.GetMessage() for error in UsdValidation.ValidationContext(rules).Validate(stage)] == []
    assert UsdGeom.GetStageMetersPerUnit(stage) == pytest.approx(metres)
    prims = [prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Camera)]
    assert len(prims) == len(EVERY)
    for prim, shot in zip(prims, EVERY, strict=True):
        frustum = UsdGeom.Camera(prim).GetCamera().frustum
        matrix = np.array(frustum.ComputeViewMatrix() * frustum.ComputeProjectionMatrix())
        points = points_before(shot)
        turned = points if up == "z" else points[:, [0, 2, 1]] * [1, 1, -1]
        clip = np.column_stack([turned / metres, np.ones(len(points))]) @ matrix
        uv = (clip[:, :2] / clip[:, 3:] + 1.0) / 2.0
        off = (uv - camera_of(shot).places(points).uv) * np.array(shot.back.output_px)
        assert np.abs(off).max() < 0.01, shot.name


VALIDATE = """
const { validateBytes } = require('gltf-validator');
validateBytes(new Uint8Array(require('fs').readFileSync(process.argv[1]))).then((told) => console.log(JSON.stringify(told)));
"""


@pytest.mark.parametrize("ending", ["gltf", "glb", "glb with the set"])
def test_the_gltf_validator_has_nothing_to_complain_of(tmp_path, ending):
    """Khronos's glTF validator, from npm."""
    path = written(tmp_path, f"cameras.{ending.split()[0]}", EVERY)
    if "set" in ending:
        model = in_world(from_bytes(pottery_glb()))
        write_cameras([camera_record_of(shot) for shot in EVERY], path, Receiver(), model)
    ran = subprocess.run(
        ["node", "-e", VALIDATE, str(path)], cwd=ROOT / "desk", capture_output=True, text=True, check=True
    )
    found = json.loads(ran.stdout)
    assert (found["issues"]["numErrors"], found["issues"]["numWarnings"]) == (0, 0), found["issues"]["messages"][:5]
    assert found["info"]["version"] == "2.0"


LOAD = """
const fs = require('fs');
global.self = global;
global.ProgressEvent = class {};
import('three/examples/jsm/loaders/GLTFLoader.js').then(async ({ GLTFLoader }) => {
  const data = fs.readFileSync(process.argv[1]);
  const { cameras, scene } = await new GLTFLoader().parseAsync(data.buffer.slice(data.byteOffset, data.byteOffset + data.length), '');
  scene.updateMatrixWorld(true);
  console.log(JSON.stringify(cameras.map((camera) => {
    camera.updateProjectionMatrix();
    return { world: camera.matrixWorld.elements, projection: camera.projectionMatrix.elements, frame: camera.userData.zevlo?.frame };
  })));
});
"""


def test_a_gltf_loader_reads_the_same_cameras(tmp_path):
    """The glTF loader of a general drawing library from npm: 50 points within 0.01 px, in the frame the extras tell."""
    path = written(tmp_path, "cameras.glb", EVERY)
    ran = subprocess.run(["node", "-e", LOAD, str(path)], cwd=ROOT / "desk", capture_output=True, text=True, check=True)
    found = json.loads(ran.stdout)
    assert len(found) == len(EVERY)
    document = json.loads(written(tmp_path, "cameras.gltf", EVERY).read_text())
    for one, camera, shot in zip(found, document["cameras"], EVERY, strict=True):
        world, projection = (np.array(one[name]).reshape(4, 4).T for name in ("world", "projection"))
        points = points_before(shot)
        theirs = np.column_stack([points[:, [0, 2, 1]] * [1, 1, -1], np.ones(len(points))])
        clip = theirs @ (projection @ np.linalg.inv(world)).T
        wide = (clip[:, :2] / clip[:, 3:] + 1.0) / 2.0
        left, bottom, right, top = camera["extras"]["zevlo"]["frame"]
        uv = (wide - [left, bottom]) / [right - left, top - bottom]
        off = (uv - camera_of(shot).places(points).uv) * np.array(shot.back.output_px)
        assert np.abs(off).max() < 0.01, shot.name


def test_opencv_projects_to_the_same_pixels(tmp_path):
    """OpenCV's projectPoints with K, distortion, R and t, pixel centres at whole numbers: within 0.01 px."""
    shots = [*SHOTS, SHIFTED, BENT]
    answer = json.loads(written(tmp_path, "cameras.intrinsics.json", shots).read_text())["cameras"]
    for row, shot in zip(answer, shots, strict=True):
        points = points_before(shot)
        turn, _ = cv2.Rodrigues(np.array(row["R"]))
        found, _ = cv2.projectPoints(points, turn, np.array(row["t"]), np.array(row["K"]), np.array(row["distortion"]))
        width, height = row["size_px"]
        uv = camera_of(shot).places(points).uv
        wanted = np.column_stack([uv[:, 0] * width - 0.5, (1.0 - uv[:, 1]) * height - 0.5])
        assert np.abs(found.reshape(-1, 2) - wanted).max() < 0.01, shot.name


def test_opencv_projects_a_fisheye_to_the_same_pixels(tmp_path):
    """OpenCV's fisheye model with all coefficients 0 is the equidistant one: within 0.01 px."""
    shot = SHOTS[1].with_groups(lens=Lens(projection="fisheye", focal_length_mm=14), movements=Movements(rise_mm=2))
    (row,) = json.loads(written(tmp_path, "cameras.intrinsics.json", [shot]).read_text())["cameras"]
    assert row["model"] == "equidistant fisheye"
    points, (width, height) = points_before(shot), row["size_px"]
    turn, _ = cv2.Rodrigues(np.array(row["R"]))
    found, _ = cv2.fisheye.projectPoints(points[:, None], turn, np.array(row["t"]), np.array(row["K"]), np.zeros(4))
    uv = camera_of(shot).places(points).uv
    wanted = np.column_stack([uv[:, 0] * width - 0.5, (1.0 - uv[:, 1]) * height - 0.5])
    assert np.abs(found.reshape(-1, 2) - wanted).max() < 0.01


def test_openpyxl_reads_the_table(tmp_path):
    sheet = openpyxl.load_workbook(written(tmp_path, "cameras.xlsx", EVERY), read_only=True).worksheets[0]
    head, *rows = sheet.iter_rows(values_only=True)
    assert [row[0] for row in rows] == [shot.name for shot in EVERY]
    at = {name: n for n, name in enumerate(head)}
    for row, shot in zip(rows, EVERY, strict=True):
        assert [row[at[end]] for end in "xyz"] == pytest.approx(shot.stand.position)
        found = row[at["f_number"]]
        assert found == (None if shot.focus.f_number is None else pytest.approx(shot.focus.f_number, rel=1e-14))
