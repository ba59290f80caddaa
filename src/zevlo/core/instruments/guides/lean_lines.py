"""Lean lines: the two strongest uprights of a picture, and how much each leans."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees

import numpy as np

from zevlo.core.camera.camera import Camera
from zevlo.core.camera.picking import clear_to
from zevlo.core.compose.guides import Line
from zevlo.core.scene.working import WorkingSet
from zevlo.text import everywhere

ALONG = 9
"""Places along an upright at which it is looked for."""
TRIED = 24
APART = 0.12
"""The second lies at least this share of the frame's width beside the first."""
SHORTEST = 0.06
"""An upright drawn shorter than this share of the frame's height is none."""


@dataclass(frozen=True)
class LeanLine:
    """An upright as it is drawn: from its foot to its top in the frame, and how far that leans to the right."""

    line: Line
    lean_deg: float


def lean_lines(camera: Camera, shown: WorkingSet) -> list[LeanLine]:
    """The two strongest uprights of a picture of a set: as long as they are drawn where nothing hides them."""
    runs = shown.uprights
    if len(runs) == 0:
        return []
    share = np.linspace(0.0, 1.0, ALONG)[None, :, None]
    points = runs[:, :1] * (1.0 - share) + runs[:, 1:] * share
    places = camera.places(points.reshape(-1, 3))
    uv, inside = places.uv.reshape(-1, ALONG, 2), places.in_frame.reshape(-1, ALONG)
    film = uv * np.array([camera.window.width, camera.window.height])
    step = np.where(inside[:, 1:] & inside[:, :-1], np.linalg.norm(np.diff(film, axis=1), axis=2), 0.0)
    drawn = step.sum(axis=1) / camera.window.height
    tried = np.argsort(-drawn, kind="stable")[:TRIED]
    tried = tried[drawn[tried] > SHORTEST]
    if len(tried) == 0:
        return []
    clear = clear_to(camera, points[tried].reshape(-1, 3), shown).reshape(-1, ALONG)
    seen = inside[tried] & clear
    strength = np.where(seen[:, 1:] & seen[:, :-1], step[tried], 0.0).sum(axis=1) / camera.window.height
    found: list[LeanLine] = []
    for n in np.argsort(-strength, kind="stable").tolist():
        if strength[n] < SHORTEST or len(found) == 2:
            break
        here = np.flatnonzero(seen[n])
        foot, top = uv[tried[n], here[0]], uv[tried[n], here[-1]]
        if found and abs(float(foot[0] + top[0]) / 2.0 - (found[0].line[0] + found[0].line[2]) / 2.0) < APART:
            continue
        across, up = film[tried[n], here[-1]] - film[tried[n], here[0]]
        line = (float(foot[0]), float(foot[1]), float(top[0]), float(top[1]))
        found.append(LeanLine(line, degrees(atan2(float(across), float(up)))))
    return found


TRUE_DEG = 0.005


def lean_words(lean_deg: float) -> str:
    """How much an upright leans, in words."""
    if abs(lean_deg) < TRUE_DEG:
        return everywhere.TRUE
    return f"{abs(lean_deg):.1f}° {everywhere.RIGHT if lean_deg > 0.0 else everywhere.LEFT}"
