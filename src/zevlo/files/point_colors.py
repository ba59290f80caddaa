"""Colours told by point, as scans have them: each triangle takes its place in one picture of all colours.

The picture holds 32 steps of each of red, green and blue, as sRGB, so that none is off by more than a 64th.
"""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zevlo.files.build import Piece
from zevlo.files.textures import Pictures
from zevlo.text import models as say

STEPS = 32
WIDE, HIGH = 256, 128
MOST_COLOURED = 3_000_000
"""Triangles whose colours are kept one by one: each takes three points of its own."""
_NAME = say.ALL_COLOURS


def in_palette(pictures: Pictures) -> int:
    """The number of the picture of all colours among those of a set, which has it at most once."""
    return pictures.put(_NAME, b"" if _NAME in pictures else palette(), is_palette=True)


def palette() -> bytes:
    """The picture of all colours, PNG, 256 × 128."""
    number = np.arange(WIDE * HIGH)
    steps = np.stack([number // STEPS**2, number // STEPS % STEPS, number % STEPS], axis=1)
    shown = np.rint(steps * 255.0 / (STEPS - 1)).astype(np.uint8).reshape(HIGH, WIDE, 3)
    out = io.BytesIO()
    Image.fromarray(shown).save(out, "PNG")
    return out.getvalue()


def coloured(piece: Piece, colors: NDArray[np.floating]) -> tuple[Piece, tuple[float, float, float]]:
    """The piece with three points for each triangle, which lie on its mean colour in the picture; and the mean of all,
    linear. ``colors`` (V, 3): linear, 0 to 1, for each of its points."""
    of_face = np.clip(np.nan_to_num(colors), 0.0, 1.0)[piece.faces].mean(axis=1)
    steps = np.rint(shown(of_face) * (STEPS - 1)).astype(np.int64)
    number = steps @ np.array([STEPS**2, STEPS, 1])
    # The first row is the picture's top; v goes upwards.
    uv = np.stack([(number % WIDE + 0.5) / WIDE, 1.0 - (number // WIDE + 0.5) / HIGH], axis=1)
    corners = piece.faces.ravel()
    r, g, b = of_face.mean(axis=0).tolist()
    own = replace(
        piece,
        vertices=piece.vertices[corners],
        faces=np.arange(len(corners)).reshape(-1, 3),
        normals=None if piece.normals is None else piece.normals[corners],
        uv=np.repeat(uv, 3, axis=0).astype(np.float32),
    )
    return own, (r, g, b)


def shown(colors: NDArray[np.floating]) -> NDArray[np.floating]:
    """Linear colours as sRGB (IEC 61966-2-1)."""
    held = np.clip(np.nan_to_num(colors), 0.0, 1.0)
    curved: NDArray[np.floating] = np.where(held <= 0.0031308, 12.92 * held, 1.055 * held ** (1.0 / 2.4) - 0.055)
    return curved
