"""The files of a final: PNG and JPEG to be looked at, OpenEXR with the light itself and layers beside it.

They are written to a folder, and what is large is made band by band as it is written: a picture of 8K with all its
layers in full precision would be several times the memory a machine of the lab may use.
"""

from __future__ import annotations

import io
import json
import mmap
import struct
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import png as png_files
from PIL import Image as Pictures

from zevlo.core.finals.order import Layer
from zevlo.core.finals.pieces import Tile
from zevlo.core.finals.recipe import Recipe
from zevlo.core.light.tone import shoulder, srgb_share
from zevlo.lab.develop import BAND_ROWS, HALF_MOST, png, shown
from zevlo.lab.exif import exif_of, with_exif
from zevlo.lab.history import HISTORY_KEY, SHOT_KEY, xmp_of
from zevlo.lab.layers import RANKS, bands, hash_bits, layer_id
from zevlo.lab.renderer import Image

PARTS: Layer = "parts"
"""What the matte that tells parts is called in a file."""


@dataclass(frozen=True)
class Layers:
    """What goes into an OpenEXR beside the picture: albedo and normal (H, W, 3); and what is measured as it is written,
    of a band of the picture: depth (h, w) and the matte that tells parts (h, w, 12)."""

    albedo: np.ndarray | None = None
    normal: np.ndarray | None = None
    depth: Callable[[Tile], Image] | None = None
    parts: Callable[[Tile], Image] | None = None


@dataclass(frozen=True)
class Written:
    """A file: the ending of its name, what it is, and where it lies."""

    ending: str
    media_type: str
    path: Path


def written(
    folder: Path, linear: Image, white: float, recipe: Recipe, words: dict[str, str], layers: Layers,
    part_names: Sequence[str], going_on: Callable[[str, float], None],
) -> Iterator[Written]:  # fmt: skip
    """The files a final asks for, one after the other. ``linear`` (H, W, 3): 1 is white; ``white``: cd/m²;
    ``part_names``: what the set's parts are called; ``going_on`` is told the ending of the file that is written and
    how much of it there is, and may raise to stop.

    ``folder``: where; ``recipe``: how the print was made; ``words``: what the files tell of themselves; ``layers``:
    beside the picture."""
    formats = recipe.formats
    assert formats is not None
    kinds: list[tuple[str, str, Callable[[], bytes]]] = []
    if formats.png is not None:
        make = png if formats.png == 8 else png16
        kinds.append(("png", "image/png", lambda: with_exif(make(linear, words), recipe)))
    if formats.jpeg is not None:
        quality = formats.jpeg
        kinds.append(("jpg", "image/jpeg", lambda: jpeg(linear, words, quality, recipe)))
    for ending, media_type, made in kinds:
        going_on(ending, 0.0)
        path = folder / f"picture.{ending}"
        path.write_bytes(made())
        yield Written(ending, media_type, path)
    if formats.exr is not None:
        path = folder / "picture.exr"
        layered(path, linear, white, recipe, words, layers, part_names, lambda share: going_on("exr", share))
        yield Written("exr", "image/x-exr", path)


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
    extra = [(b"sRGB", b"\0"), *((b"iTXt", _text_chunk(key, value)) for key, value in words.items())]
    out = io.BytesIO()
    png_files.write_chunks(out, [chunks[0], *extra, *chunks[1:]])
    return out.getvalue()


def _text_chunk(key: str, value: str) -> bytes:
    # Not packed, no language, no other keyword.
    return key.encode("latin-1") + b"\0\0\0\0\0" + value.encode()


def jpeg(linear: Image, words: dict[str, str], quality: int, recipe: Recipe) -> bytes:
    """JPEG in sRGB, its colours as fine as its light; Exif tells lens and exposure, XMP the shot."""
    out = io.BytesIO()
    headers = {"exif": exif_of(recipe), "xmp": xmp_of(words), "dpi": (recipe.shot.back.dpi,) * 2}
    Pictures.fromarray(shown(linear), "RGB").save(out, "JPEG", quality=quality, subsampling=0, **headers)
    return out.getvalue()


def layered(
    path: Path, linear: Image, white: float, recipe: Recipe, words: dict[str, str], layers: Layers,
    part_names: Sequence[str], going_on: Callable[[float], None],
) -> None:  # fmt: skip
    """OpenEXR, linear BT.709, 1 is white (``whiteLuminance`` says what that is in cd/m²), with its layers: ``Z`` depth
    in metres, ``N`` normal in the world, ``albedo``, ``parts00`` and on the matte of ids.

    ``path``: the file; ``recipe``: how the print was made; ``words``: what it tells of itself; ``part_names``,
    ``going_on``: as for :func:`written`."""
    import Imath
    import OpenEXR

    exact = {np.dtype(np.float32): Imath.PixelType.FLOAT, np.dtype(np.float16): Imath.PixelType.HALF}
    header = OpenEXR.Header(*recipe.size_px)
    header |= _header(white, recipe, words, None if layers.parts is None else part_names)
    header["compression"] = Imath.Compression(Imath.Compression.ZIP_COMPRESSION)
    file = None
    whole = list(bands(recipe.size_px))
    try:
        for n, band in enumerate(whole):
            if n % 8 == 0:
                going_on(n / len(whole))
            planes = _planes(linear, recipe, layers, band)
            if file is None:
                kinds = {name: Imath.Channel(Imath.PixelType(exact[one.dtype])) for name, one in planes.items()}
                # The newer way to write takes whole pictures only.
                file = OpenEXR.OutputFile(str(path), {**header, "channels": kinds})
            file.writePixels({name: one.tobytes() for name, one in planes.items()}, band[3] - band[1])
    finally:
        if file is not None:
            file.close()
    _tell_colours(path)


_COLOURS = "chromaticities"
_BT_709 = struct.pack("<8f", 0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)
"""Red, green, blue and white (ITU-R BT.709)."""


def _tell_colours(path: Path) -> None:
    """Put the colours into a file's header: what the library writes of them is zero, whatever it is given."""
    begins = _COLOURS.encode() + b"\0" + _COLOURS.encode() + b"\0" + struct.pack("<i", len(_BT_709))
    with path.open("r+b") as file, mmap.mmap(file.fileno(), 0) as whole:
        at = whole.find(begins)
        if at >= 0:
            whole[at + len(begins) : at + len(begins) + len(_BT_709)] = _BT_709


def _planes(linear: Image, recipe: Recipe, layers: Layers, band: Tile) -> dict[str, np.ndarray]:
    """The channels of a band of a picture, each as exact as the file has it."""
    assert recipe.formats is not None
    kind = np.float32 if recipe.formats.exr == "float" else np.float16
    most = HALF_MOST if kind is np.float16 else np.finfo(np.float32).max
    rows = np.s_[band[1] : band[3]]

    def three(values: np.ndarray, names: str, before: str = "") -> dict[str, np.ndarray]:
        return {before + name: values[..., n].astype(kind) for n, name in enumerate(names)}

    channels = three(np.clip(linear[rows], 0.0, most), "RGB")
    if layers.depth is not None:
        channels["Z"] = layers.depth(band).astype(np.float32)
    if layers.normal is not None:
        channels |= three(layers.normal[rows], "XYZ", "N.")
    if layers.albedo is not None:
        channels |= three(layers.albedo[rows], "RGB", "albedo.")
    if layers.parts is not None:
        matte = layers.parts(band).astype(np.float32)
        for n in range(2 * RANKS):
            channels[f"{PARTS}{n // 4:02d}.{'RGBA'[n % 4]}"] = matte[..., n]
    return channels


def _header(white: float, recipe: Recipe, words: dict[str, str], part_names: Sequence[str] | None) -> dict[str, object]:
    """What an OpenEXR's header tells of a final."""
    import Imath

    shot = recipe.shot
    texts = {"comments": shot.name, "zevloShot": words[SHOT_KEY]}
    if HISTORY_KEY in words:
        texts["zevloHistory"] = words[HISTORY_KEY]
    if part_names is not None:
        begin = f"cryptomatte/{layer_id(PARTS)}/"
        manifest = json.dumps({name: f"{hash_bits(name):08x}" for name in part_names}, ensure_ascii=False)
        own = {"name": PARTS, "hash": "MurmurHash3_32", "conversion": "uint32_to_float32", "manifest": manifest}
        texts |= {begin + key: value for key, value in own.items()}
    numbers = {"expTime": shot.exposure.shutter_s, "isoSpeed": shot.exposure.iso, "xDensity": shot.back.dpi}
    if shot.focus.f_number is not None:
        numbers["aperture"] = shot.focus.f_number
    # Standard attributes of OpenEXR.
    header = {_COLOURS: Imath.Chromaticities(*[Imath.chromaticity(0.0, 0.0)] * 4), **numbers}
    return {"whiteLuminance": float(white), **header, **{key: value.encode() for key, value in texts.items()}}
