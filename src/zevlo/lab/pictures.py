"""The files of a final: PNG and JPEG to be looked at, OpenEXR with the light itself and layers beside it."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import png as png_files
from PIL import Image as Pictures

from zevlo.core.light.tone import shoulder, srgb_share
from zevlo.core.recipe import Recipe
from zevlo.files.scratch import scratch
from zevlo.lab.develop import HALF_MOST, png, srgb
from zevlo.lab.history import HISTORY_KEY, SHOT_KEY, xmp_of
from zevlo.lab.layers import RANKS, hash_bits, layer_id
from zevlo.lab.renderer import Image

MATTE = "parts"
"""What the matte of ids is called in a file."""
BAND_ROWS = 256


@dataclass(frozen=True)
class Layers:
    """What goes into an OpenEXR beside the picture: (H, W, 3) albedo and normal, (H, W) depth, (H, W, 12) matte."""

    albedo: np.ndarray | None = None
    normal: np.ndarray | None = None
    depth: np.ndarray | None = None
    matte: np.ndarray | None = None

    def with_layer(self, name: str, rows: Sequence[Image]) -> Layers:
        """With a layer more, made in bands."""
        whole = np.concatenate(rows)
        return replace(self, depth=whole) if name == "depth" else replace(self, matte=whole)


@dataclass(frozen=True)
class Written:
    """A file: the ending of its name, what it is, and what is in it."""

    ending: str
    media_type: str
    data: bytes


def written(
    linear: Image, white: float, recipe: Recipe, words: dict[str, str], layers: Layers, parts: Sequence[str]
) -> Iterator[Written]:
    """The files a final asks for, one after the other. ``linear`` (H, W, 3): 1 is white; ``white``: cd/m²;
    ``parts``: names of the set's parts, where there is a matte."""
    formats = recipe.formats
    assert formats is not None
    if formats.png == 8:
        yield Written("png", "image/png", png(linear, words))
    if formats.png == 16:
        yield Written("png", "image/png", png16(linear, words))
    if formats.jpeg is not None:
        yield Written("jpg", "image/jpeg", jpeg(linear, words, formats.jpeg, recipe))
    if formats.exr is not None:
        yield Written("exr", "image/x-exr", layered(linear, white, recipe, words, layers, parts))


def png16(linear: Image, words: dict[str, str]) -> bytes:
    """PNG in sRGB, 16 bits a colour; ``words`` go in as text (ISO/IEC 15948)."""
    height, width = linear.shape[:2]
    out = io.BytesIO()

    def rows() -> Iterator[np.ndarray]:
        for top in range(0, height, BAND_ROWS):
            shown = srgb_share(np.clip(shoulder(linear[top : top + BAND_ROWS]), 0.0, 1.0))
            yield from np.round(shown * 65535.0).astype(np.uint16).reshape(-1, width * 3)

    png_files.Writer(width, height, greyscale=False, bitdepth=16).write(out, rows())
    chunks = list(png_files.Reader(bytes=out.getvalue()).chunks())
    told = [(b"sRGB", b"\0"), *((b"iTXt", _text_chunk(key, value)) for key, value in words.items())]
    out = io.BytesIO()
    png_files.write_chunks(out, [chunks[0], *told, *chunks[1:]])
    return out.getvalue()


def _text_chunk(key: str, value: str) -> bytes:
    # Not packed, no language, no other keyword.
    return key.encode("latin-1") + b"\0\0\0\0\0" + value.encode()


_EXIF = {
    "software": 0x0131,
    "description": 0x010E,
    "ifd": 0x8769,
    "f": 0x829D,
    "focal": 0x920A,
}


def jpeg(linear: Image, words: dict[str, str], quality: int, recipe: Recipe) -> bytes:
    """JPEG in sRGB, its colours as fine as its light; Exif (CIPA DC-008) tells lens and exposure, XMP the shot."""
    shot = recipe.shot
    exif = Pictures.Exif()
    exif[_EXIF["software"]] = words["Software"]
    exif[_EXIF["description"]] = shot.name.encode("ascii", "replace").decode()
    inner = exif.get_ifd(_EXIF["ifd"])
    if shot.lens.projection != "parallel":
        inner[_EXIF["focal"]] = shot.lens.focal_length_mm
    if shot.focus.f_number is not None:
        inner[_EXIF["f"]] = shot.focus.f_number
    out = io.BytesIO()
    Pictures.fromarray(srgb(shoulder(linear)), "RGB").save(
        out, "JPEG", quality=quality, subsampling=0, exif=exif, xmp=xmp_of(words)
    )
    return out.getvalue()


def layered(
    linear: Image, white: float, recipe: Recipe, words: dict[str, str], layers: Layers, parts: Sequence[str]
) -> bytes:
    """OpenEXR, linear BT.709, 1 is white (``whiteLuminance`` says what that is in cd/m²), with its layers: ``Z`` depth
    in metres, ``N`` normal in the world, ``albedo``, ``parts00`` and on the matte of ids."""
    import OpenEXR

    assert recipe.formats is not None
    kind = np.float32 if recipe.formats.exr == "float" else np.float16

    def plane(values: np.ndarray) -> np.ndarray:
        return np.ascontiguousarray(values, dtype=kind)

    most = HALF_MOST if kind is np.float16 else np.finfo(np.float32).max
    channels = {name: plane(np.clip(linear[..., n], 0.0, most)) for n, name in enumerate("RGB")}
    if layers.depth is not None:
        channels["Z"] = np.ascontiguousarray(layers.depth, dtype=np.float32)
    if layers.normal is not None:
        channels |= {f"N.{name}": plane(layers.normal[..., n]) for n, name in enumerate("XYZ")}
    if layers.albedo is not None:
        channels |= {f"albedo.{name}": plane(layers.albedo[..., n]) for n, name in enumerate("RGB")}
    header: dict[str, object] = {
        "compression": OpenEXR.ZIP_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        "whiteLuminance": float(white),
        "comments": recipe.shot.name,
        "zevloShot": words[SHOT_KEY],
    }
    if HISTORY_KEY in words:
        header["zevloHistory"] = words[HISTORY_KEY]
    if layers.matte is not None:
        for level in range(RANKS // 2):
            four = layers.matte[..., 4 * level : 4 * level + 4]
            names = (f"{MATTE}{level:02d}.{name}" for name in "RGBA")
            channels |= {name: np.ascontiguousarray(four[..., n]) for n, name in enumerate(names)}
        begin = f"cryptomatte/{layer_id(MATTE)}/"
        manifest = json.dumps({name: f"{hash_bits(name):08x}" for name in parts}, ensure_ascii=False)
        own = {"name": MATTE, "hash": "MurmurHash3_32", "conversion": "uint32_to_float32", "manifest": manifest}
        header |= {begin + key: value for key, value in own.items()}
    with scratch("exr") as folder:
        path = folder / "print.exr"
        with OpenEXR.File(header, channels) as file:
            file.write(str(path))
        return path.read_bytes()
