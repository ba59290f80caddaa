"""Cameras as JSON: the shots themselves, or intrinsics and extrinsics as computer vision has them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

import numpy as np

from zevlo.core.exchange.carried import Carried, NoCamera, carried_of
from zevlo.core.instruments.lens.settings import Distortion
from zevlo.core.optics.lens import Window
from zevlo.core.shot import Shot
from zevlo.files.cameras.few import require_few

SCHEMA = "zevlo.shots/1"
VISION_SCHEMA = "zevlo.intrinsics/1"
_COEFFICIENTS = ("k1", "k2", "p1", "p2", "k3")
"""Of Brown and Conrady's model, in the order they have there."""
_DOWN_AND_AHEAD = np.diag([1.0, -1.0, -1.0])
"""From a camera that looks along -z with y up to one that looks along +z with y down."""


def write_shots(cameras: Sequence[Carried]) -> bytes:
    """The shots, whole."""
    told = [{"id": one.key, "shot": one.shot.as_json()} for one in cameras if one.shot is not None]
    return json.dumps({"schema": SCHEMA, "shots": told}, indent=1, ensure_ascii=False).encode()


def read_shots(data: bytes) -> list[Carried]:
    """Shots of a JSON file: such a list, a plain list of shots, or one. Raises :class:`NoCamera`."""
    told = _json(data)
    rows = told["shots"] if isinstance(told, dict) and told.get("schema") == SCHEMA else told
    found = []
    rows = rows if isinstance(rows, list) else [rows]
    require_few(len(rows))
    for n, row in enumerate(rows, 1):
        wrapped = isinstance(row, dict) and "shot" in row and "schema" not in row
        key = row.get("id") if wrapped else None
        try:
            found.append(
                carried_of(Shot.model_validate(row["shot"] if wrapped else row), None if key is None else str(key))
            )
        except ValueError as reason:
            raise NoCamera(f"shot {n} cannot be read: {reason}") from reason
    return found


def _json(data: bytes) -> Any:
    try:
        return json.loads(data)
    except (ValueError, RecursionError) as reason:
        raise NoCamera(f"it is no JSON: {reason}") from reason


def write_vision(cameras: Sequence[Carried]) -> bytes:
    """Intrinsics K in pixels, distortion, world to camera R and t (y down, z ahead). Parallel ones have no K."""
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
                "distortion": [0.0] * 5 if lens is None else [getattr(lens, name) for name in _COEFFICIENTS],
                "R": turn.tolist(),
                "t": (-turn @ one.matrix[:3, 3]).tolist(),
                "pixel_mm": one.window.width / width,
                "shot": None if one.shot is None else one.shot.as_json(),
            }
        )
    return json.dumps({"schema": VISION_SCHEMA, "cameras": rows}, indent=1, ensure_ascii=False).encode()


def read_vision(data: bytes) -> list[Carried]:
    """Cameras of such a file. Raises :class:`NoCamera`."""
    told = _json(data)
    if not isinstance(told, dict) or told.get("schema") != VISION_SCHEMA or not isinstance(told.get("cameras"), list):
        raise NoCamera(f"it is no list of intrinsics ({VISION_SCHEMA})")
    require_few(len(told["cameras"]))
    return [_vision(row, n) for n, row in enumerate(told["cameras"], 1)]


def _vision(row: Any, n: int) -> Carried:
    try:
        k, turn, t = (np.array(row[name], dtype=np.float64) for name in ("K", "R", "t"))
        width, height = (int(side) for side in row["size_px"])
        mm = float(row.get("pixel_mm") or 36.0 / width)
        if (
            k.shape != (3, 3)
            or turn.shape != (3, 3)
            or t.shape != (3,)
            or min(width, height) < 1
            or k[0, 0] <= 0.0
            or k[1, 1] <= 0.0
        ):
            raise ValueError("K, R or t has not the shape it should")
        if abs(k[0, 1]) > 1.0e-6 * k[0, 0]:
            raise ValueError("its pixels lean (K has skew)")
        told = [float(value) for value in row.get("distortion") or ()]
        if any(told[len(_COEFFICIENTS) :]):
            raise ValueError("it has more coefficients of distortion than five")
        bent = Distortion(**dict(zip(_COEFFICIENTS, told, strict=False))) if told else None
        # Pixels that are no squares are made so: the picture is as it was, the film another size.
        high = mm * k[0, 0] / k[1, 1]
        left, top = -(k[0, 2] + 0.5) * mm, (k[1, 2] + 0.5) * high
        matrix = np.eye(4)
        matrix[:3, :3] = (_DOWN_AND_AHEAD @ turn).T
        matrix[:3, 3] = -turn.T @ t
        own = Shot.model_validate(row["shot"]) if row.get("shot") else None
    except (KeyError, TypeError, ValueError, AttributeError, ZeroDivisionError) as reason:
        raise NoCamera(f"camera {n} cannot be read: {reason}") from reason
    return Carried(
        name=str(row.get("name") or ("" if own else f"Camera {n}")), matrix=matrix,
        window=Window(left, left + width * mm, top - height * high, top), distance_mm=float(k[0, 0]) * mm,
        size_px=(width, height), distortion=bent, key=row.get("id"), shot=own,
    )  # fmt: skip
