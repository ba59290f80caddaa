"""Thumbnails by the core's own rays, so that they exist for shots nobody has opened."""

from __future__ import annotations

import hashlib
import io

import numpy as np
from PIL import Image

from zevlo.core.scene.lit import LitSet, middle_luminance, sketch
from zevlo.core.shot import Shot
from zevlo.core.shows import SHARP_AS_DRAWN, shown
from zevlo.core.solve import camera_of
from zevlo.lab.develop import shoulder, srgb

LONG_SIDE_PX = 280
PATHS = 5
MIDDLE_TONE = 0.26
DRAWN_BY = 4
"""Rises when thumbnails are drawn differently, so that old ones are not shown."""


def thumbnail_key(shot: Shot, revision: str, light: str) -> str:
    """Key of all that goes into a thumbnail; not the name, nor what no thumbnail shows."""
    seen = shown(shot)
    framing = repr([seen[group] for group in SHARP_AS_DRAWN])
    return hashlib.sha256(f"{DRAWN_BY}|{framing}|{revision}|{light}".encode()).hexdigest()[:32]


def draw_thumbnail(shot: Shot, lit: LitSet, long_side: int = LONG_SIDE_PX, paths: int = PATHS) -> bytes:
    """PNG of the frame, ``long_side`` pixels on its long side, exposed for itself."""
    camera = camera_of(shot)
    columns, rows = camera.cut.output_px
    share = long_side / max(columns, rows)
    width, height = max(1, round(columns * share)), max(1, round(rows * share))
    window, pose, d = camera.window, camera.pose, camera.window.distance_mm
    rng = np.random.default_rng(7)
    x, y = np.meshgrid(np.arange(width), np.arange(height))
    total = np.zeros((width * height, 3))
    for number in range(paths):
        jitter = rng.random((2, height, width))
        across = (window.left + (x + jitter[0]) / width * window.width) / d
        upright = (window.top - (y + jitter[1]) / height * window.height) / d
        ways = pose.forward + across[..., None] * pose.right + upright[..., None] * pose.up
        ways = ways.reshape(-1, 3)
        length = np.linalg.norm(ways, axis=1, keepdims=True)
        origins = pose.position + shot.lens.near_m * ways
        total += sketch(lit, origins, ways / length, seed=number)
    picture = total / paths
    exposed = picture * (MIDDLE_TONE / middle_luminance(picture))
    out = io.BytesIO()
    image = Image.fromarray(srgb(shoulder(exposed.reshape(height, width, 3).astype(np.float32))), "RGB")
    image.save(out, "PNG")
    return out.getvalue()
