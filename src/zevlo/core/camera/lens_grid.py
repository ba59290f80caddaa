"""What a picture looks along, place by place, for whoever draws it without knowing its law: a grid of directions over
the frame and around it, and how dark its corners are."""

from __future__ import annotations

from base64 import b64encode

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import SheetGroup
from zevlo.core.camera.camera import Camera
from zevlo.core.light.tone import srgb_share

WITHIN, AROUND = 48, 8
"""Steps of the grid across the frame, and beyond each side of it."""
AROUND_SHARE = 1.0
"""How far beyond the frame it reaches, in frames."""
_WHOLE, _ONE = 32767, 1024
_LEAST, _MOST = 0.6, 31.0
"""Blur is told as drawn no smaller, and no larger, than so many times what it is in the middle."""


class LensGrid(SheetGroup):
    """A grid over the frame and around it, for pictures no matrix can say."""

    at: list[float]
    """Places of its lines in shares of the frame, across as well as upright: a square of so many nodes."""
    directions: str
    """For each node, row by row from the bottom, four 16-bit whole numbers, little end first, in base64: the unit
    way it looks, to the right, up and along the lens axis, in 32767ths; then how many times as wide as in the middle
    blur is drawn there, in 1024ths, and 0 where nothing is drawn."""
    face_over_frame: float
    """How large the face of a cube round the stand has to be drawn, beside the width of the frame, to be as fine as the
    picture in its middle."""


class Shade(SheetGroup):
    """How dark the corners of a frame are, as a small grey picture to multiply what is shown with."""

    side: int
    """Rows and columns of it; the first row is the top, and its edge is the frame's."""
    greys: str
    """Row by row, one byte each, in base64: 255 where nothing is darker, as sRGB has it."""


_SHADE_SIDE, _EDGE_SIDE = 49, 145
"""A shade that falls slowly, and one in which the edge of an image circle is seen."""


def _top_down(side: int) -> Floats:
    across, down = np.meshgrid(np.linspace(0.0, 1.0, side), np.linspace(1.0, 0.0, side))
    return np.column_stack([across.ravel(), down.ravel()])


_TOP_DOWN = {side: _top_down(side) for side in (_SHADE_SIDE, _EDGE_SIDE)}


def shade_of(camera: Camera) -> Shade | None:
    """The shade of a camera's frame; None where its corners are as bright as its middle."""
    if camera.as_bright_all_over:
        return None
    side = _SHADE_SIDE if camera.within_circle else _EDGE_SIDE
    greys = np.rint(255.0 * srgb_share(np.clip(camera.light(_TOP_DOWN[side]), 0.0, 1.0))).astype(np.uint8)
    return Shade.model_construct(side=side, greys=b64encode(greys.tobytes()).decode())


_RINGS: Floats = AROUND_SHARE * (np.arange(AROUND + 1) / AROUND) ** 1.6
"""How far beyond the frame the lines around it lie: close together where more of it is seen."""
_AT: Floats = np.concatenate([-_RINGS[:0:-1], np.linspace(0.0, 1.0, WITHIN, endpoint=False), 1.0 + _RINGS])
_TOLD: list[float] = _AT.tolist()
_PLACES: Floats = np.column_stack([np.tile(_AT, len(_AT)), np.repeat(_AT, len(_AT))])


def lens_grid(camera: Camera) -> LensGrid | None:
    """The grid of a camera; None where a matrix says it all."""
    if camera.law.straight:
        return None
    film = camera.film(_PLACES)
    _, _, right, up, ahead, sees = camera.law.rays(np, film[:, 0], film[:, 1])
    directions = np.column_stack([right, up, ahead])
    larger = np.clip(camera.law.larger(np, film[:, 0], film[:, 1]), _LEAST, _MOST) * _ONE
    numbers = np.column_stack([np.rint(directions * _WHOLE), np.where(sees, np.rint(larger), 0.0)]).astype("<i2")
    return LensGrid.model_construct(
        at=_TOLD,
        directions=b64encode(numbers.tobytes()).decode(),
        face_over_frame=2.0 * camera.law.film_per_metre(1.0) / camera.window.width,
    )
