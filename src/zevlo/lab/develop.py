"""From light on film to a picture: cleaning, exposure, PNG in sRGB, OpenEXR linear."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, PngImagePlugin

from zevlo.core.light.tone import srgb_share
from zevlo.files.scratch import scratch
from zevlo.lab.renderer import Exposure
from zevlo.lab.renderer import Image as Pixels

HALF_MOST = float(np.finfo(np.float16).max)
SHOULDER_FROM = 0.75
"""Linear values above this share of white are rolled off softly instead of clipped, in PNG only."""


def clean(exposure: Exposure) -> Pixels:
    """The light without its grain, (H, W, 3) cd/m². Open Image Denoise, helped by albedo and normals."""
    import pyoidn

    light = np.nan_to_num(exposure.light, nan=0.0, posinf=0.0, neginf=0.0)
    cleaned = pyoidn.denoise(
        light, albedo=np.clip(exposure.albedo, 0.0, 1.0), normal=np.nan_to_num(exposure.normal), hdr=True
    )
    return np.asarray(cleaned, dtype=np.float32)


def expose(light: Pixels, white_cd_m2: float) -> Pixels:
    """Linear picture in which 1 is white: light over the luminance that reaches white."""
    return np.asarray(light / white_cd_m2, dtype=np.float32)


def shoulder(linear: Pixels) -> Pixels:
    """Linear up to 0.75, then a curve of the same slope that approaches 1: highlights keep their drawing.

    y = s + (1-s)·(1 - exp(-(x-s)/(1-s))).
    """
    s = SHOULDER_FROM
    rolled = s + (1.0 - s) * (1.0 - np.exp(-(np.maximum(linear, s) - s) / (1.0 - s)))
    return np.asarray(np.where(linear <= s, np.maximum(linear, 0.0), rolled), dtype=np.float32)


def srgb(linear: Pixels) -> np.ndarray:
    """sRGB bytes of a linear picture (IEC 61966-2-1)."""
    return np.asarray(np.round(srgb_share(np.clip(linear, 0.0, 1.0)) * 255.0), dtype=np.uint8)


def png(linear: Pixels, words: dict[str, str]) -> bytes:
    """PNG in sRGB; ``words`` go in as text."""
    info = PngImagePlugin.PngInfo()
    info.add(b"sRGB", b"\0")
    for key, value in words.items():
        info.add_itxt(key, value)
    out = io.BytesIO()
    Image.fromarray(srgb(shoulder(linear)), "RGB").save(out, "PNG", pnginfo=info)
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
