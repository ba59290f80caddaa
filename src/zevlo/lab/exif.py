"""What a picture tells of its lens and exposure, as cameras do: Exif (CIPA DC-008), in JPEG and in PNG alike."""

from __future__ import annotations

import struct
import zlib

from PIL import Image

from zevlo import __version__
from zevlo.core.camera.from_shot import Framing
from zevlo.core.finals.recipe import Recipe
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.lens import equivalent_focal_length_mm

_DESCRIPTION, _SOFTWARE, _EXIF = 0x010E, 0x0131, 0x8769
_ACROSS, _DOWN, _UNIT, _INCHES = 0x011A, 0x011B, 0x0128, 2
_EXPOSURE_TIME, _F_NUMBER, _ISO, _FOCAL = 0x829A, 0x829D, 0x8827, 0x920A
_COLOUR_SPACE, _SRGB, _EQUIVALENT = 0xA001, 1, 0xA405
_MOST_ISO = 65_535


def exif_of(recipe: Recipe) -> Image.Exif:
    """The Exif of a picture: exposure, lens, pixels an inch, sRGB; what a shot has not is not told."""
    shot = recipe.shot
    exif = Image.Exif()
    exif[_SOFTWARE] = f"Zevlo {__version__}"
    exif[_DESCRIPTION] = shot.name.encode("ascii", "replace").decode()
    exif[_ACROSS] = exif[_DOWN] = shot.back.dpi
    exif[_UNIT] = _INCHES
    inner = exif.get_ifd(_EXIF)
    inner[_EXPOSURE_TIME] = shot.exposure.shutter_s
    inner[_ISO] = min(round(shot.exposure.iso), _MOST_ISO)
    inner[_COLOUR_SPACE] = _SRGB
    if shot.focus.f_number is not None:
        inner[_F_NUMBER] = shot.focus.f_number
    if shot.lens.scale_m is None:
        inner[_FOCAL] = shot.lens.focal_length_mm
    if shot.lens.projection == "perspective":
        same = equivalent_focal_length_mm(Framing(shot).film_distance_mm, *fit_back(shot.back).size_mm)
        inner[_EQUIVALENT] = min(max(1, round(same)), 65_535)
    return exif


def with_exif(png: bytes, recipe: Recipe) -> bytes:
    """A PNG with the same in its own chunk, and its pixels a metre (ISO/IEC 15948: eXIf and pHYs), behind its head."""
    # Pillow begins with the six letters a JPEG has before it.
    exif = exif_of(recipe).tobytes().removeprefix(b"Exif\0\0")
    a_metre = round(recipe.shot.back.dpi / 0.0254)
    head = 8 + 12 + int.from_bytes(png[8:12], "big")
    chunks = _chunk(b"pHYs", struct.pack(">IIB", a_metre, a_metre, 1)) + _chunk(b"eXIf", exif)
    return png[:head] + chunks + png[head:]


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
