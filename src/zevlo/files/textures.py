"""Pictures on surfaces: looked at once, made smaller where together they are more than prints can show."""

from __future__ import annotations

import io
from dataclasses import dataclass, field, replace

import numpy as np
from PIL import Image, UnidentifiedImageError

from zevlo.core.scene.model.set_model import Material
from zevlo.files.limits import ALL_PICTURES_PX, MOST_PICTURE_PX, MOST_PICTURE_SIDE_PX
from zevlo.files.refusal import CannotRead
from zevlo.text import models as say

Color = tuple[float, float, float]
_AS_THEY_ARE = ("PNG", "JPEG", "WEBP")
_CONVERTED = ("TGA", "BMP", "TIFF", "GIF")
_SMALLEST_SIDE_PX = 256
Image.MAX_IMAGE_PIXELS = None  # the limit is ours: the library's own is lower and speaks of bombs


def linear(color: np.ndarray) -> np.ndarray:
    """sRGB 0 to 1 to linear (IEC 61966-2-1)."""
    return np.where(color <= 0.04045, color / 12.92, ((color + 0.055) / 1.055) ** 2.4)


@dataclass(frozen=True)
class _Raw:
    data: bytes
    kind: str
    size: tuple[int, int]


def _looked_at(raw: bytes) -> _Raw:
    """What a picture's header says. Raises :class:`CannotRead`."""
    try:
        with Image.open(io.BytesIO(raw), formats=(*_AS_THEY_ARE, *_CONVERTED)) as opened:
            kind, (width, height) = str(opened.format), opened.size
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, OverflowError):
        raise CannotRead(say.A_TEXTURE_IN_THE_MODEL) from None
    if width * height > MOST_PICTURE_PX:
        raise CannotRead(say.a_texture_is_pixels(width, height, MOST_PICTURE_PX // 10**6))
    if width < 1 or height < 1:
        raise CannotRead(say.A_TEXTURE_IN_THE_MODEL_HAS_NO_PIXELS)
    return _Raw(raw, kind, (width, height))


def largest_side(sizes: list[tuple[int, int]]) -> int:
    """The longest side pictures may keep so that all together stay within their budget.

    All larger ones are brought to the same side, so that none becomes a blur for the sake of another.
    """
    side = MOST_PICTURE_SIDE_PX
    while side > _SMALLEST_SIDE_PX and sum(w * h for w, h in (_fitted(one, side) for one in sizes)) > ALL_PICTURES_PX:
        side = int(side * 0.9)
    return side


def _fitted(size: tuple[int, int], side: int) -> tuple[int, int]:
    share = min(1.0, side / max(size))
    return max(1, round(size[0] * share)), max(1, round(size[1] * share))


def _kept(picture: _Raw, side: int) -> tuple[bytes, Color, bool]:
    """The picture as PNG, JPEG or WebP, no longer than ``side``, its mean linear colour, and whether one sees through
    any of it. Decoded once."""
    size = _fitted(picture.size, side)
    smaller = size != picture.size
    as_it_is = picture.kind in _AS_THEY_ARE and not smaller
    try:
        with Image.open(io.BytesIO(picture.data)) as opened:
            opened.draft("RGB", (64, 64) if as_it_is else size)
            through = "A" in opened.getbands() or "transparency" in opened.info
            opened.load()
            mode = "RGBA" if through and not as_it_is else "RGB"
            # Never twice in memory: a picture of 16,384 pixels a side takes a gigabyte.
            pixels = opened if opened.mode == mode else opened.convert(mode)
            if not as_it_is:
                pixels = pixels.resize(size, Image.Resampling.BOX if smaller else Image.Resampling.NEAREST)
    except (OSError, SyntaxError, ValueError, OverflowError):
        raise CannotRead(say.A_TEXTURE_IN_THE_MODEL_IS_BROKEN) from None
    raw = picture.data
    if not as_it_is:
        out = io.BytesIO()
        if picture.kind == "JPEG":
            pixels.save(out, "JPEG", quality=92)
        else:
            pixels.save(out, "PNG", compress_level=3)
        raw = out.getvalue()
    few = np.asarray(pixels.convert("RGB").resize((16, 16), Image.Resampling.BOX), dtype=np.float64) / 255
    r, g, b = linear(few).mean(axis=(0, 1)).tolist()
    return raw, (r, g, b), through


def mean_of(raw: bytes) -> Color:
    """Mean of a picture's red, green and blue as they are stored, 0 to 1. Raises :class:`CannotRead`."""
    _looked_at(raw)
    try:
        with Image.open(io.BytesIO(raw)) as opened:
            opened.draft("RGB", (256, 256))
            few = opened.convert("RGB").resize((64, 64), Image.Resampling.BOX)
    except (OSError, SyntaxError, ValueError, OverflowError):
        raise CannotRead(say.A_TEXTURE_IN_THE_MODEL_IS_BROKEN) from None
    r, g, b = (np.asarray(few, dtype=np.float64) / 255.0).mean(axis=(0, 1)).tolist()
    return r, g, b


@dataclass
class Pictures:
    """The textures of a set, each taken once, by the name its file gives it."""

    _raw: list[_Raw] = field(default_factory=list)
    _numbers: dict[str, int] = field(default_factory=dict)
    _palettes: set[int] = field(default_factory=set)
    """Those of which each surface takes its own places, so that their mean is nothing that is seen."""

    def __len__(self) -> int:
        return len(self._raw)

    def __contains__(self, name: str) -> bool:
        return name in self._numbers

    def put(self, name: str, raw: bytes, is_palette: bool = False) -> int:
        """Number of a texture. ``is_palette``: who takes places of it knows the mean of those. Raises
        :class:`CannotRead`."""
        if name not in self._numbers:
            self._raw.append(_looked_at(raw))
            self._numbers[name] = len(self._raw) - 1
            if is_palette:
                self._palettes.add(self._numbers[name])
        return self._numbers[name]

    def settled(self, materials: tuple[Material, ...]) -> tuple[tuple[bytes, ...], tuple[Material, ...]]:
        """The pictures that are used, as they are kept, and the materials with the mean colour of theirs; one that
        takes places of a palette keeps that of those. Holes are left where a picture has any."""
        used = sorted({one.texture for one in materials if one.texture is not None})
        side = largest_side([self._raw[number].size for number in used])
        kept = {number: _kept(self._raw[number], side) for number in used}

        def tinted(one: Material) -> Material:
            if one.texture is None:
                return one
            _, tint, through = kept[one.texture]
            return replace(
                one,
                texture=used.index(one.texture),
                seen_tint=one.seen_tint if one.texture in self._palettes else tint,
                holes=one.holes if through else None,
            )

        return tuple(kept[number][0] for number in used), tuple(map(tinted, materials))

    def remarks(self) -> tuple[str, ...]:
        """What was done to them, in words."""
        sizes = [one.size for one in self._raw]
        side = largest_side(sizes)
        count = sum(max(size) > side for size in sizes)
        if count == 0:
            return ()
        which = say.ONE_TEXTURE_WAS if count == 1 else say.textures_were(count)
        whole = sum(w * h for w, h in sizes) / 1e6
        return (say.made_smaller_to_pixels(which, side, whole),)
