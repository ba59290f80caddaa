"""How soft a picture is, place by place: where its lines of equal blur are told by a number."""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats, Integers
from zevlo.core.bases import SheetGroup
from zevlo.core.camera.camera import WHOLE, Frame
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import met

LEVELS = (1.0, 2.0, 4.0, 8.0, 16.0, 32.0)
"""Lines of equal blur lie at these times what counts as sharp."""
GRID = (64, 40)
LABELS_A_LEVEL = 3
APART = 0.22
LEAP = 0.35
_FAR_M = 1.0e9
"""Where blur goes by more than this factor from one place to the next, one thing ends and another begins."""


class BlurLabel(SheetGroup):
    """A place in the frame, (0, 0) bottom left, on a line of equal blur; and how much that is."""

    at: tuple[float, float]
    px: float


def levels_px(framing: Framing) -> list[float]:
    """The blur, in pixels of the picture, at which lines are drawn."""
    fitted = framing.fitted
    return [times * framing.blur_limit_mm / fitted.pixel_mm for times in LEVELS]


def blur_grid(framing: Framing, columns: int, rows: int) -> tuple[Floats, Floats, Integers]:
    """Places (n, 2) of the frame, row by row from the bottom; the pixels each is blurred over, (n,); and the part that
    is seen there, below 0 for sky, which is blurred as what lies at infinity."""
    uv, signed, part = _blur_seen(framing, columns, rows)
    return uv, np.abs(signed), part


def _blur_seen(framing: Framing, columns: int, rows: int, frame: Frame = WHOLE) -> tuple[Floats, Floats, Integers]:
    """The same, below 0 px for what lies nearer than what is sharp."""
    camera = framing.camera.within(frame)
    u, v = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    uv = np.column_stack([u.ravel(), v.ravel()])
    rays = camera.rays(uv)
    found = met(camera, rays, framing.shown)
    distance = np.where(found.part < 0, _FAR_M, found.distance)
    pose = camera.pose
    own = rays.directions @ np.stack([pose.right, pose.up, pose.forward]).T
    signed = framing.blur_law.signed_px(own, camera.depths(rays, distance))
    return uv, signed, found.part


def soft_all_over_px(framing: Framing, frame: Frame = WHOLE, wide_px: int | None = None) -> float | None:
    """Pixels the sharpest place of a picture is blurred over, where not even that counts as sharp; None where something
    does, or nothing of the set is seen. A part that goes through what is sharp between two places is sharp there.

    ``frame``: what of the shot's frame it shows, ``wide_px`` pixels wide; a limit in pixels counts in its own."""
    shot = framing.shot
    if shot.focus.f_number is None:
        return None
    columns, rows = GRID
    _, signed, part = _blur_seen(framing, columns, rows, frame)
    fitted = framing.fitted
    # So many of its pixels to one of the shot's.
    finer = 1.0 if wide_px is None else wide_px / (fitted.output_px[0] * (frame[2] - frame[0]))
    own, least = shot.focus.blur_limit, finer * float(np.abs(signed[part >= 0]).min(initial=np.inf))
    limit = own.px if own.px is not None else finer * framing.blur_limit_mm / fitted.pixel_mm
    if not limit < least < np.inf:
        return None
    owner, blur = part.reshape(rows, columns), signed.reshape(rows, columns)
    for down, across in ((0, 1), (1, 0)):
        first, then = np.s_[: rows - down, : columns - across], np.s_[down:, across:]
        through = (blur[first] * blur[then] < 0.0) & (owner[first] >= 0) & (owner[first] == owner[then])
        if through.any():
            return None
    return least


def blur_labels(framing: Framing) -> list[BlurLabel]:
    """Where lines of equal blur are told by a number: a few for each, apart from each other, none where one thing ends
    before another."""
    columns, rows = GRID
    _, blur, part = blur_grid(framing, columns, rows)
    own = part.reshape(rows, columns)
    held = np.log(np.maximum(blur, 1.0e-9)).reshape(rows, columns)
    found: list[BlurLabel] = []
    for px in levels_px(framing):
        places = _crossings(held - np.log(px), own)
        for place in places[np.argsort(np.hypot(*(places - 0.5).T), kind="stable")]:
            near = [one for one in found if np.hypot(*(np.array(one.at) - place)) < APART * 0.35]
            same = [one for one in found if one.px == px]
            apart = all(np.hypot(*(np.array(one.at) - place)) >= APART for one in same)
            if near or not apart or not ((place > 0.04) & (place < 0.96)).all():
                continue
            found.append(BlurLabel(at=(float(place[0]), float(place[1])), px=px))
            if len(same) + 1 >= LABELS_A_LEVEL:
                break
    return found


def _crossings(off: Floats, part: Integers) -> Floats:
    """Places (n, 2) of the frame at which a grid (rows, columns) goes through zero between neighbours on one part."""
    rows, columns = off.shape
    found = []
    for down, across in ((0, 1), (1, 0)):
        a, b = off[: rows - down, : columns - across], off[down:, across:]
        same = part[: rows - down, : columns - across] == part[down:, across:]
        row, column = np.nonzero(same & (a * b <= 0.0) & (a != b) & (np.abs(a - b) < LEAP))
        share = a[row, column] / (a[row, column] - b[row, column])
        found.append(np.column_stack([(column + 0.5 + across * share) / columns, (row + 0.5 + down * share) / rows]))
    places: Floats = np.concatenate(found)
    return places
