"""Cameras in OpenUSD: apertures with their offsets, clipping, focus and exposure as its schema has them.

The shot goes along in attributes of its own."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from math import inf, isclose
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
from pxr import Gf, Sdf, Tf, Usd, UsdGeom, UsdUtils

from zevlo import __version__
from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.optics.exposure import EVERYTHING_SHARP_COUNTS_AS
from zevlo.core.optics.lens import Window
from zevlo.core.plain_words import why
from zevlo.core.shot import Shot
from zevlo.files.cameras.few import each
from zevlo.text import cameras as say

ROOT = "/Shots"
ENDLESS_M = 1.0e6
"""Where a camera ends that has no far clip: one in OpenUSD must."""
_MM_A_TENTH = 100.0
"""Apertures and focal lengths are in tenths of the stage's unit: mm of a tenth of a metre."""


def write_usd(cameras: Sequence[CameraRecord], path: Path, receiver: Receiver) -> None:
    """A stage of cameras alone, .usda, .usdc or .usdz by the path's ending."""
    packed = path.suffix.lower() == ".usdz"
    # OpenUSD knows a kind of file by small letters alone.
    written = path.with_suffix(".usdc" if packed else path.suffix.lower())
    stage = Usd.Stage.CreateNew(str(written))
    UsdGeom.SetStageMetersPerUnit(stage, receiver.metres_per_unit)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y if receiver.up == "y" else UsdGeom.Tokens.z)
    stage.SetMetadata("comment", f"Zevlo {__version__}")
    root = UsdGeom.Xform.Define(stage, ROOT)
    stage.SetDefaultPrim(root.GetPrim())
    names: set[str] = set()
    for camera in cameras:
        _put(stage, camera, _free(names, Tf.MakeValidIdentifier(camera.name)), receiver.metres_per_unit)
    stage.GetRootLayer().Save()
    if packed:
        done = UsdUtils.CreateNewUsdzPackage(Sdf.AssetPath(str(written)), str(path.with_suffix(".usdz")))
        written.unlink()
        written = path.with_suffix(".usdz")
        if not done:
            raise OSError(say.could_not_be_packed(path.name))
    written.replace(path)


def _free(names: set[str], wanted: str) -> str:
    name, number = wanted, 2
    while name in names:
        name, number = f"{wanted}_{number}", number + 1
    names.add(name)
    return name


def _put(stage: Any, camera: CameraRecord, name: str, metres: float) -> None:
    prim = UsdGeom.Camera.Define(stage, f"{ROOT}/{name}")
    prim.GetPrim().SetDisplayName(camera.name)
    prim.AddTransformOp().Set(Gf.Matrix4d(*camera.matrix.T.ravel().tolist()))
    parallel = camera.distance_mm is None
    prim.CreateProjectionAttr(UsdGeom.Tokens.orthographic if parallel else UsdGeom.Tokens.perspective)
    # Film as it is; of a parallel projection the window itself, in the world.
    tenths = (10.0 if parallel else 1.0 / _MM_A_TENTH) / metres
    window = camera.window
    prim.CreateHorizontalApertureAttr(window.width * tenths)
    prim.CreateVerticalApertureAttr(window.height * tenths)
    prim.CreateHorizontalApertureOffsetAttr((window.left + window.right) / 2.0 * tenths)
    prim.CreateVerticalApertureOffsetAttr((window.bottom + window.top) / 2.0 * tenths)
    if camera.distance_mm is not None:
        prim.CreateFocalLengthAttr(camera.distance_mm * tenths)
    if camera.near_m is not None and camera.far_m is not None:
        far = ENDLESS_M if camera.far_m == inf else camera.far_m
        prim.CreateClippingRangeAttr(Gf.Vec2f(camera.near_m / metres, far / metres))
    if camera.focus_m is not None:
        prim.CreateFocusDistanceAttr(camera.focus_m / metres)
    stop = None if camera.f_number is None or camera.f_number == inf else camera.f_number
    prim.CreateFStopAttr(stop or 0.0)
    for attribute, value in (
        ("exposure:time", camera.shutter_s),
        ("exposure:iso", camera.iso),
        # Where everything is sharp, exposure is still reckoned by a stop.
        ("exposure:fStop", EVERYTHING_SHARP_COUNTS_AS if camera.f_number == inf else stop),
    ):
        if value is not None:
            prim.GetPrim().CreateAttribute(attribute, Sdf.ValueTypeNames.Float, custom=False).Set(value)
    own: dict[str, str | None] = {
        "zevlo:id": camera.key,
        "zevlo:shot": None if camera.shot is None else camera.shot.model_dump_json(by_alias=True),
        "zevlo:size_px": None if camera.size_px is None else json.dumps(camera.size_px),
    }
    for attribute, text in own.items():
        if text is not None:
            prim.GetPrim().CreateAttribute(attribute, Sdf.ValueTypeNames.String, custom=True).Set(text)


def read_usd_cameras(path: Path) -> tuple[Found, Receiver]:
    """The cameras of a stage, places in its units, and the world it has. Raises :class:`NoCamera`."""
    with TemporaryDirectory(prefix="zevlo-") as folder:
        # OpenUSD knows a kind of file by small letters alone.
        known = Path(folder) / f"stage{path.suffix.lower()}"
        known.symlink_to(path.absolute())
        try:
            stage = Usd.Stage.Open(str(known))
        except Tf.ErrorException as reason:
            raise NoCamera(say.IT_IS_NO_OPENUSD) from reason
        return _cameras_of(stage)


def _cameras_of(stage: Any) -> tuple[Found, Receiver]:
    metres = float(UsdGeom.GetStageMetersPerUnit(stage))
    if not metres > 0.0:
        raise NoCamera(say.ITS_UNIT_OF_LENGTH)
    receiver = Receiver(metres, "y" if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.y else "z")
    cache = UsdGeom.XformCache()
    prims = [prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Camera)]
    return each(prims, lambda prim: _camera(prim, cache, metres), lambda _, prim: _name(prim)), receiver


def _name(prim: Any) -> str:
    """What it is called: as it is shown, unless it was given another name since."""
    shown, own = str(prim.GetDisplayName() or ""), str(prim.GetName())
    return shown if shown and re.fullmatch(rf"{re.escape(Tf.MakeValidIdentifier(shown))}(_?\d+)?", own) else own


def _text(prim: Any, name: str) -> str | None:
    attribute = prim.GetAttribute(name)
    value = attribute.Get() if attribute and attribute.HasAuthoredValue() else None
    return value if isinstance(value, str) else None


def _number(prim: Any, name: str) -> float | None:
    attribute = prim.GetAttribute(name)
    value = attribute.Get() if attribute and attribute.HasAuthoredValue() else None
    return float(value) if isinstance(value, int | float) else None


def _camera(prim: Any, cache: Any, metres: float) -> CameraRecord:
    name = _name(prim)
    camera = UsdGeom.Camera(prim)
    parallel = camera.GetProjectionAttr().Get() == UsdGeom.Tokens.orthographic
    tenths = (10.0 if parallel else 1.0 / _MM_A_TENTH) / metres
    wide, high, across, up = (
        float(attribute.Get()) / tenths
        for attribute in (camera.GetHorizontalApertureAttr(), camera.GetVerticalApertureAttr(),
                          camera.GetHorizontalApertureOffsetAttr(), camera.GetVerticalApertureOffsetAttr())
    )  # fmt: skip
    near, far = (float(end) * metres for end in camera.GetClippingRangeAttr().Get())
    matrix = np.array(cache.GetLocalToWorldTransform(prim)).T
    lengths = np.linalg.norm(matrix[:3, :3], axis=0)
    if not np.isfinite(matrix).all() or lengths.min() <= 0.0:
        raise NoCamera(say.IT_IS_PLACED_BY_NUMBERS)
    matrix[:3, :3] /= lengths
    stop, for_exposure = _number(prim, "fStop"), _number(prim, "exposure:fStop")
    focus = _number(prim, "focusDistance")
    try:
        shot = Shot.model_validate_json(text) if (text := _text(prim, "zevlo:shot")) else None
        size = json.loads(_text(prim, "zevlo:size_px") or "null")
        size_px = (int(size[0]), int(size[1])) if isinstance(size, list) and len(size) == 2 else None
    except (ValueError, TypeError, OverflowError, RecursionError) as reason:
        raise NoCamera(say.its_shot_cannot_be_read(why(reason))) from reason
    own = None if shot is None else shot.focus.f_number
    if own is not None and for_exposure is not None and stop is not None and isclose(stop, own, rel_tol=1.0e-6):
        # It is told twice; whichever was changed is meant.
        stop = for_exposure
    return CameraRecord(
        name=name, matrix=matrix,
        window=Window(across - wide / 2.0, across + wide / 2.0, up - high / 2.0, up + high / 2.0),
        distance_mm=None if parallel else float(camera.GetFocalLengthAttr().Get()) / tenths,
        near_m=near, far_m=inf if isclose(far, ENDLESS_M, rel_tol=1.0e-6) else far,
        focus_m=focus * metres if focus else None, f_number=inf if stop == 0.0 else stop,
        shutter_s=_number(prim, "exposure:time"), iso=_number(prim, "exposure:iso"),
        size_px=size_px,
        key=_text(prim, "zevlo:id"), shot=shot,
    )  # fmt: skip
