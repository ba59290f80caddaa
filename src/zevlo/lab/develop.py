"""From light on film to a picture: cleaning, exposure, PNG in sRGB, OpenEXR linear."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, PngImagePlugin

from zevlo.core.light.tone import shoulder, srgb_share
from zevlo.files.scratch import scratch
from zevlo.lab.renderer import Exposure
from zevlo.lab.renderer import Image as Pixels

CLEANING_MB = 500
BAND_ROWS = 256
"""Rows of a large picture that are developed at a time."""
HALF_MOST = float(np.finfo(np.float16).max)


def clean(exposure: Exposure) -> Pixels:
    """The light without its grain, (H, W, 3) cd/m². Open Image Denoise, helped by albedo and normals."""
    return cleaned(exposure.light.copy(), exposure.albedo.copy(), exposure.normal.copy())


def cleaned(light: Pixels, albedo: np.ndarray, normal: np.ndarray) -> Pixels:
    """The same of a film's planes (H, W, 3), which are not needed any more: what is no number in them is taken out
    where it stands. ``albedo`` and ``normal`` may be in half precision."""
    import pyoidn

    np.nan_to_num(light, copy=False, nan=0.0, posinf=0.0, neginf=0.0)
    np.nan_to_num(albedo, copy=False)
    np.nan_to_num(normal, copy=False)
    np.clip(albedo, 0.0, 1.0, out=albedo)
    out = np.empty_like(light)
    with pyoidn.Device() as device:
        device.commit()
        with pyoidn.Filter(device, pyoidn.OIDN_FILTER_TYPE_RT) as filtering:
            planes = (("color", light), ("albedo", albedo), ("normal", normal))
            kept = [(name, np.ascontiguousarray(plane)) for name, plane in (*planes, ("output", out))]
            for name, plane in kept:
                half = plane.dtype == np.float16
                filtering.set_image(name, plane, pyoidn.OIDN_FORMAT_HALF3 if half else pyoidn.OIDN_FORMAT_FLOAT3)
            filtering.set_bool("hdr", True)
            # What it works with beside the pictures themselves; it goes over them in pieces of its own, without seams.
            filtering.set_int("maxMemoryMB", CLEANING_MB)
            filtering.commit()
            filtering.execute()
        trouble = device.get_error()
    if trouble is not None:
        raise RuntimeError(f"the picture could not be cleaned: {trouble}")
    return out


def expose(light: Pixels, white_cd_m2: float) -> Pixels:
    """Linear picture in which 1 is white: light over the luminance that reaches white."""
    return np.asarray(light / white_cd_m2, dtype=np.float32)


def srgb(linear: NDArray[np.floating]) -> np.ndarray:
    """sRGB bytes of a linear picture (IEC 61966-2-1)."""
    return np.asarray(np.round(srgb_share(np.clip(linear, 0.0, 1.0)) * 255.0), dtype=np.uint8)


def shown(linear: Pixels) -> np.ndarray:
    """sRGB bytes (H, W, 3) of a linear picture as it is looked at, band by band: what is worked with is a few times
    larger than the picture."""
    out = np.empty(linear.shape, dtype=np.uint8)
    for top in range(0, len(linear), BAND_ROWS):
        out[top : top + BAND_ROWS] = srgb(shoulder(linear[top : top + BAND_ROWS]))
    return out


def png(linear: Pixels, words: dict[str, str]) -> bytes:
    """PNG in sRGB; ``words`` go in as text."""
    info = PngImagePlugin.PngInfo()
    info.add(b"sRGB", b"\0")
    for key, value in words.items():
        info.add_itxt(key, value)
    out = io.BytesIO()
    Image.fromarray(shown(linear), "RGB").save(out, "PNG", pnginfo=info)
    return out.getvalue()


def read_exr(film: bytes) -> Pixels:
    """The linear picture (H, W, 3) of an OpenEXR file as :func:`exr` makes it."""
    import OpenEXR

    with scratch("exr") as folder:
        path = folder / "print.exr"
        path.write_bytes(film)
        with OpenEXR.File(str(path)) as file:
            return np.asarray(file.channels()["RGB"].pixels, dtype=np.float32)


def exr(linear: Pixels, white_cd_m2: float, words: dict[str, str]) -> bytes:
    """OpenEXR, linear BT.709, 1 is white; ``whiteLuminance`` says what that is in cd/m²."""
    import OpenEXR

    header = {
        "compression": OpenEXR.ZIP_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        "whiteLuminance": float(white_cd_m2),
        **words,
    }
    # Brighter than half precision can say is as bright as it can say: infinity would spread on every scaling.
    channels = {"RGB": np.ascontiguousarray(np.clip(linear, 0.0, HALF_MOST), dtype=np.float16)}
    with scratch("exr") as folder:
        path = folder / "print.exr"
        with OpenEXR.File(header, channels) as file:
            file.write(str(path))
        return path.read_bytes()
