"""Cameras in glTF 2.0. What its cameras cannot say, a shifted or trimmed window, goes along as the wider one around the
axis and where in it the picture lies (``extras``), with the shot itself."""

from __future__ import annotations

import json
from collections.abc import Sequence
from math import atan, inf, isfinite, tan
from typing import Any

import numpy as np

from zevlo import __version__
from zevlo.core.arrays import Floats
from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera, centred, within
from zevlo.core.optics.lens import Window
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.shot import Shot
from zevlo.files.cameras.few import each, require_few
from zevlo.files.glb import open_container
from zevlo.files.gltf import local_of, tree_of
from zevlo.files.gltf_file import GltfFile, pack_glb
from zevlo.files.json_text import numbers
from zevlo.files.refusal import CannotRead
from zevlo.files.view import mesh_of, origin_of
from zevlo.text import cameras as say

EXTRAS = "zevlo"
USUAL_NEAR_M = 0.05
"""Where a camera begins that does not say it."""
USUAL_HEIGHT_MM = 24.0
"""Height of the film of cameras that tell an angle alone."""
_FARTHEST = 1.0e6
"""What a parallel camera without a far clip is told to end at: it must end somewhere."""


def write_gltf(cameras: Sequence[CameraRecord]) -> bytes:
    """A .gltf of cameras alone; in metres, Y up, as glTF is."""
    return json.dumps(_document(cameras), indent=1, ensure_ascii=False).encode()


def write_glb(cameras: Sequence[CameraRecord]) -> bytes:
    """The same in one binary file."""
    return pack_glb(_document(cameras))


def write_glb_with_set(cameras: Sequence[CameraRecord], model: SetModel, to_theirs: Floats) -> bytes:
    """Cameras and the set they look at in one binary file; ``to_theirs`` (4, 4) takes the set to where the cameras
    stand. Vertices are told from an origin near the set, so that single precision stays exact enough."""
    file = GltfFile(model.materials, embedded=model.pictures)
    origin = origin_of(model)
    matrix = to_theirs.copy()
    matrix[:3, 3] = to_theirs[:3, :3] @ origin + to_theirs[:3, 3]
    below: dict[int | None, list[int]] = {}
    for number, part in enumerate(model.parts):
        below.setdefault(part.parent, []).append(number)
    for number, part in enumerate(model.parts):
        node: dict[str, Any] = {"name": part.name}
        if part.face_count:
            node["mesh"], _ = mesh_of(file, model, number, origin, 1.0)
        if number in below:
            node["children"] = below[number]
        file.nodes.append(node)
    whole = len(file.nodes)
    file.nodes.append({"name": "Set", "matrix": matrix.T.ravel().tolist(), "children": below[None]})
    document = _document(cameras)
    nodes = [*range(whole, whole + 1 + len(cameras))]
    file.nodes += document["nodes"]
    return file.packed(cameras=document["cameras"], scenes=[{"name": "Shots", "nodes": nodes}])


def _document(cameras: Sequence[CameraRecord]) -> dict[str, Any]:
    records = [_camera_json(camera) for camera in cameras]
    nodes = [
        {
            "name": one.name, "camera": n, "matrix": one.matrix.T.ravel().tolist(),
            "extras": {EXTRAS: {"id": one.key, "shot": None if one.shot is None else one.shot.as_json()}},
        }
        for n, one in enumerate(cameras)
    ]  # fmt: skip
    return {
        "asset": {"version": "2.0", "generator": f"Zevlo {__version__}"},
        "scene": 0,
        "scenes": [{"name": "Shots", "nodes": list(range(len(nodes)))}],
        "nodes": nodes,
        "cameras": records,
    }


def _camera_json(camera: CameraRecord) -> dict[str, Any]:
    wide, frame = centred(camera.window)
    more: dict[str, Any] = {
        "frame": frame,
        "size_px": camera.size_px,
        "focus_m": camera.focus_m,
        # No number: everything is sharp.
        "f_number": None if camera.f_number == inf else camera.f_number,
    }
    far = None if camera.far_m is None or camera.far_m == inf else camera.far_m
    own: dict[str, Any] = {"znear": USUAL_NEAR_M if camera.near_m is None else camera.near_m}
    own |= {} if far is None else {"zfar": far}
    if camera.distance_mm is None:
        own |= {"xmag": wide.width / 2.0, "ymag": wide.height / 2.0, "zfar": far or _FARTHEST}
        return {"name": camera.name, "type": "orthographic", "orthographic": own, "extras": {EXTRAS: more}}
    own |= {"yfov": 2.0 * atan(wide.height / 2.0 / camera.distance_mm), "aspectRatio": wide.width / wide.height}
    more |= {"distance_mm": camera.distance_mm, "height_mm": wide.height}
    return {"name": camera.name, "type": "perspective", "perspective": own, "extras": {EXTRAS: more}}


def read_gltf_cameras(data: bytes) -> Found:
    """The cameras of a .glb or .gltf, in their order in its scene. Raises :class:`NoCamera`."""
    try:
        document = open_container(data).document
        order, parents = tree_of(document)
    except CannotRead as reason:
        raise NoCamera(str(reason)) from reason
    world: dict[int, np.ndarray] = {}
    found: list[int] = []
    for node in order:
        one = document["nodes"][node]
        if isinstance(one.get("camera"), int):
            found.append(node)
            require_few(len(found))
        world[node] = world.get(parents.get(node, -1), np.eye(4)) @ local_of(one)
    return each(
        found, lambda node: _camera(document, document["nodes"][node], world[node]),
        lambda n, node: str(document["nodes"][node].get("name") or say.camera(n)),
    )  # fmt: skip


def _extras(one: dict[str, Any]) -> dict[str, Any]:
    extras = one.get("extras")
    own = extras.get(EXTRAS) if isinstance(extras, dict) else None
    return own if isinstance(own, dict) else {}


def _camera(document: dict[str, Any], node: dict[str, Any], matrix: np.ndarray) -> CameraRecord:
    name = str(node.get("name") or "Camera")
    camera = document["cameras"][node["camera"]]
    own, more = _extras(node), _extras(camera)
    lens = camera[camera["type"]]
    for one in (lens, more):
        numbers([value for key, value in one.items() if key != "extras"])
    frame = tuple(float(share) for share in more.get("frame") or (0.0, 0.0, 1.0, 1.0))
    distance = None
    if camera["type"] == "orthographic":
        wide = Window(-lens["xmag"], lens["xmag"], -lens["ymag"], lens["ymag"])
    else:
        yfov, aspect = float(lens["yfov"]), float(lens.get("aspectRatio") or 16.0 / 9.0)
        high = float(more.get("height_mm") or min(USUAL_HEIGHT_MM, 36.0 / aspect))
        distance = high / 2.0 / tan(yfov / 2.0)
        wide = Window(-high * aspect / 2.0, high * aspect / 2.0, -high / 2.0, high / 2.0)
    far, size, stop = lens.get("zfar"), more.get("size_px"), more.get("f_number")
    if len(frame) != 4 or not all(isfinite(one) for one in frame):
        raise NoCamera(say.ITS_FRAME_IS_NOT_FOUR)
    shot = Shot.model_validate(own["shot"]) if own.get("shot") else None
    return CameraRecord(
        name=name, matrix=_of_length_one(matrix), window=within(wide, frame), distance_mm=distance,
        near_m=float(lens.get("znear") or USUAL_NEAR_M),
        far_m=inf if far is None or (distance is None and far == _FARTHEST) else float(far),
        focus_m=more.get("focus_m"), f_number=inf if stop is None and "f_number" in more else stop,
        size_px=(int(size[0]), int(size[1])) if size else None, key=own.get("id"), shot=shot,
    )  # fmt: skip


def _of_length_one(matrix: np.ndarray) -> np.ndarray:
    """A camera's frame without the scale of what it hangs on."""
    lengths = np.linalg.norm(matrix[:3, :3], axis=0)
    if not np.isfinite(matrix).all() or lengths.min() <= 0.0:
        raise NoCamera(say.IT_IS_PLACED_BY_NUMBERS)
    scaled = matrix.copy()
    scaled[:3, :3] /= lengths
    return scaled
