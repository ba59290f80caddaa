"""Pictures on surfaces: taken as they came, and their mean colour."""

from __future__ import annotations

import io
from dataclasses import dataclass, field

import numpy as np
from PIL import Image, UnidentifiedImageError

from zevlo.files.limits import MOST_TEXTURE_PX
from zevlo.files.refusal import CannotRead

Color = tuple[float, float, float]
_AS_THEY_ARE = ("PNG", "JPEG", "WEBP")
_CONVERTED = ("TGA", "BMP", "TIFF", "GIF")


def linear(color: np.ndarray) -> np.ndarray:
    """sRGB 0 to 1 to linear (IEC 61966-2-1)."""
    return np.where(color <= 0.04045, color / 12.92, ((color + 0.055) / 1.055) ** 2.4)


def take_picture(raw: bytes) -> tuple[bytes, Color]:
    """A texture as PNG, JPEG or WebP, and its mean linear colour. Raises :class:`CannotRead`."""
    try:
        opened = Image.open(io.BytesIO(raw), formats=(*_AS_THEY_ARE, *_CONVERTED))
        if opened.width * opened.height > MOST_TEXTURE_PX:
            raise CannotRead(f"A texture is {opened.width} × {opened.height} pixels; make it smaller.")
        kind = opened.format
        if kind not in _AS_THEY_ARE:
            out = io.BytesIO()
            opened.convert("RGBA" if "A" in opened.getbands() else "RGB").save(out, "PNG")
            raw = out.getvalue()
        else:
            opened.draft("RGB", (64, 64))
        small = np.asarray(opened.convert("RGB").resize((16, 16), Image.Resampling.BOX), dtype=np.float64) / 255
    except (UnidentifiedImageError, OSError, Image.DecompressionBombError, SyntaxError, ValueError):
        raise CannotRead("A texture in the model cannot be read; it has to be PNG or JPEG.") from None
    r, g, b = linear(small).mean(axis=(0, 1)).tolist()
    return raw, (r, g, b)


@dataclass
class Pictures:
    """The textures of a set, each taken once, by the name its file gives it."""

    files: list[bytes] = field(default_factory=list)
    tints: list[Color] = field(default_factory=list)
    _numbers: dict[str, int] = field(default_factory=dict)

    def put(self, name: str, raw: bytes) -> int:
        """Number of a texture."""
        if name not in self._numbers:
            picture, tint = take_picture(raw)
            self._numbers[name] = len(self.files)
            self.files.append(picture)
            self.tints.append(tint)
        return self._numbers[name]
