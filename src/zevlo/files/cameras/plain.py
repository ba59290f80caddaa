"""Cameras as JSON: the shots themselves, or intrinsics and extrinsics as computer vision has them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

import numpy as np

from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera, camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.optics.lens import Window
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Distortion
from zevlo.files.cameras.few import each
from zevlo.files.json_text import KeyTwice, numbers, parsed
from zevlo.text import cameras as say

SCHEMA = "zevlo.shots/1"
VISION_SCHEMA = "zevlo.intrinsics/1"
_COEFFICIENTS = ("k1", "k2", "p1", "p2", "k3")
"""Of Brown and Conrady's model, in the order they have there."""
_DOWN_AND_AHEAD = np.diag([1.0, -1.0, -1.0])
"""From a camera that looks along -z with y up to one that looks along +z with y down."""


def write_shots(cameras: Sequence[CameraRecord]) -> bytes:
    """The shots, whole."""
    rows = [{"id": one.key, "shot": one.shot.as_json()} for one in cameras if one.shot is not None]
    return json.dumps({"schema": SCHEMA, "shots": rows}, indent=1, ensure_ascii=False).encode()


def read_shots(data: bytes) -> Found:
    """Shots of a JSON file: such a list, a plain list of shots, or one. Raises :class:`NoCamera`."""
    document = _json(data)
    rows = document.get("shots") if isinstance(document, dict) and document.get("schema") == SCHEMA else document
    return each(rows if isinstance(rows, list) else [rows], _shot, lambda n, row: _shot_name(row) or say.shot(n))


def _key(row: Any, name: str) -> Any:
    return row.get(name) if isinstance(row, dict) else None


def _wrapped(row: Any) -> bool:
    return isinstance(row, dict) and "shot" in row and "schema" not in row


def _shot_name(row: Any) -> str:
    name = _key(row["shot"] if _wrapped(row) else row, "name")
    return name if isinstance(name, str) else ""


def _shot(row: Any) -> CameraRecord:
    key = row.get("id") if _wrapped(row) else None
    return camera_record_of(
        Shot.model_validate(row["shot"] if _wrapped(row) else row), None if key is None else str(key)
    )


def _json(data: bytes) -> Any:
    try:
        return parsed(data)
    except KeyTwice as reason:
        raise NoCamera(str(reason)) from reason
    except json.JSONDecodeError as reason:
        raise NoCamera(say.it_is_no_json_at(reason.lineno, reason.colno)) from reason
    except (ValueError, RecursionError) as reason:
        raise NoCamera(say.IT_IS_NO_JSON) from reason


_BENT, _FISHEYE = "brown-conrady", "equidistant fisheye"


def write_vision(cameras: Sequence[CameraRecord], world: Receiver) -> bytes:
    """Intrinsics K in pixels, distortion, world to camera R and t (y down, z ahead); the world's unit and upright axis.
    Parallel ones have no K. An equidistant fisheye is one there as well (OpenCV's fisheye model, all k 0)."""
    rows = []
    for one in cameras:
        width, height = one.size_px or (0, 0)
        if one.distance_mm is None or not width:
            continue
        turn = _DOWN_AND_AHEAD @ one.matrix[:3, :3].T
        across, down = width / one.window.width, height / one.window.height
        lens = one.distortion
        rows.append(
            {
                "name": one.name,
                "id": one.key,
                "size_px": [width, height],
                # Pixel centres lie at whole numbers there: the frame begins half a pixel before the first.
                "K": [
                    [one.distance_mm * across, 0.0, -one.window.left * across - 0.5],
                    [0.0, one.distance_mm * down, one.window.top * down - 0.5],
                    [0.0, 0.0, 1.0],
                ],
                "model": _FISHEYE if one.equidistant else _BENT,
                "distortion": [0.0] * 4
                if one.equidistant
                else [0.0] * 5
                if lens is None
                else [getattr(lens, name) for name in _COEFFICIENTS],
                "R": turn.tolist(),
                "t": (-turn @ one.matrix[:3, 3]).tolist(),
                "pixel_mm": one.window.width / width,
                "shot": None if one.shot is None else one.shot.as_json(),
            }
        )
    document = {"schema": VISION_SCHEMA, "metres_per_unit": world.metres_per_unit, "up": world.up, "cameras": rows}
    return json.dumps(document, indent=1, ensure_ascii=False).encode()


def read_vision(data: bytes, world: Receiver) -> tuple[Found, Receiver]:
    """Cameras of such a file, and the world they stand in: as it says, else the one that was told. Raises
    :class:`NoCamera`."""
    document = _json(data)
    if (
        not isinstance(document, dict)
        or document.get("schema") != VISION_SCHEMA
        or not isinstance(document.get("cameras"), list)
    ):
        raise NoCamera(say.it_is_no_list(VISION_SCHEMA))
    found = each(document["cameras"], _vision, lambda n, row: str(_key(row, "name") or say.camera(n)))
    return found, world.in_world_of(document.get("metres_per_unit"), document.get("up"))


def _vision(row: Any) -> CameraRecord:
    k, turn, t = (np.array(numbers(row[name]), dtype=np.float64) for name in ("K", "R", "t"))
    width, height = (int(side) for side in numbers(row["size_px"]))
    mm = float(numbers(row.get("pixel_mm")) or 36.0 / width)
    whole = k.shape == (3, 3) and turn.shape == (3, 3) and t.shape == (3,)
    if not whole or min(width, height) < 1 or k[0, 0] <= 0.0 or k[1, 1] <= 0.0:
        raise NoCamera(say.K_R_OR_T)
    if abs(k[0, 1]) > 1.0e-6 * k[0, 0]:
        raise NoCamera(say.ITS_PIXELS_LEAN_K)
    coefficients = [float(value) for value in numbers(row.get("distortion") or [])]
    if any(coefficients[len(_COEFFICIENTS) :]):
        raise NoCamera(say.IT_HAS_MORE_COEFFICIENTS)
    model = row.get("model") or _BENT
    if model not in (_BENT, _FISHEYE) or (model == _FISHEYE and any(coefficients)):
        raise NoCamera(say.its_lens_is_bent(model, _BENT, _FISHEYE))
    bent = Distortion(**dict(zip(_COEFFICIENTS, coefficients, strict=False))) if coefficients else None
    # Pixels that are no squares are made so: the picture is as it was, the film another size.
    high = mm * k[0, 0] / k[1, 1]
    left, top = -(k[0, 2] + 0.5) * mm, (k[1, 2] + 0.5) * high
    matrix = np.eye(4)
    matrix[:3, :3] = (_DOWN_AND_AHEAD @ turn).T
    matrix[:3, 3] = -turn.T @ t
    own = Shot.model_validate(row["shot"]) if row.get("shot") else None
    if own is None and model == _FISHEYE:
        raise NoCamera(say.A_FISHEYE_THAT_CARRIES)
    return CameraRecord(
        name=str(row.get("name") or ("" if own else "Camera")), matrix=matrix,
        window=Window(left, left + width * mm, top - height * high, top), distance_mm=float(k[0, 0]) * mm,
        size_px=(width, height), distortion=bent, equidistant=model == _FISHEYE, key=row.get("id"), shot=own,
    )  # fmt: skip
