"""What a gesture would do, before it is done: where its frame would lie in the picture, and that in words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera
from zevlo.core.camera.from_shot import camera_of
from zevlo.core.framing.differences import differences
from zevlo.core.optics.back import fit_back
from zevlo.core.shot import Shot
from zevlo.text import framing as say

ALONG_A_SIDE = 12
FARTHEST = 20.0
"""An outline is told as far out as this many frames."""


@dataclass(frozen=True)
class WhatIf:
    """What would come: ``outline`` (n, 2), the frame's edge as it would lie in the frame there is, in shares of it."""

    outline: Floats
    words: str


def what_if(before: Shot, after: Shot) -> WhatIf:
    """What of a shot would be other if it became another one."""
    was, now = camera_of(before), camera_of(after)
    rays = now.rays(now.edge(ALONG_A_SIDE))
    there = was.places(rays.at(now.distances(rays, was.pose.aim_distance)))
    kept = rays.sees & there.seen
    outline: Floats = np.clip(there.uv[kept], -FARTHEST, 1.0 + FARTHEST)
    words = ", ".join(one.words for one in differences(before, after))
    framed = [_framing_words(side, was, now, before, after) for side in ("across", "upright")]
    return WhatIf(outline, "; ".join([*([words] if words else []), *framed]))


def _framing_words(side: str, was: Camera, now: Camera, before: Shot, after: Shot) -> str:
    """How much more or less is seen along a side: as an angle, in a parallel picture as a length at the aim."""
    sizes = [fit_back(shot.back).size_mm for shot in (before, after)]
    film = [(size[0], 0.0) if side == "across" else (0.0, size[1]) for size in sizes]
    angles = [camera.law.angle_deg(*one) for camera, one in zip((was, now), film, strict=True)]
    if None in angles:
        which = 0 if side == "across" else 1
        a, b = (f"{camera.span(was.pose.aim_distance)[which]:.3g} m" for camera in (was, now))
    else:
        a, b = (f"{angle:.1f}°" for angle in angles)
    return say.stays(side, a) if a == b else f"{side} {a} → {b}"
