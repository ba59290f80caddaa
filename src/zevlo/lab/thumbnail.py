"""Thumbnails by the core's own rays, so that they exist for shots nobody has opened."""

from __future__ import annotations

import hashlib
import io

import numpy as np
from PIL import Image

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.framing.staleness import SHARP_AS_DRAWN, shown
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.light.site import Lights
from zevlo.core.light.tone import shoulder
from zevlo.core.scene.lit import LitSet, luminance_of, middle_luminance, sketch
from zevlo.core.shot import Shot
from zevlo.lab.develop import srgb
from zevlo.store.projects import arrangement_of, lights_of
from zevlo.store.tables import Project

LONG_SIDE_PX = 280
PATHS = 5
MIDDLE_TONE = 0.26
DRAWN_BY = 5
"""Rises when thumbnails are drawn differently, so that old ones are not shown."""


def thumbnail_key(shot: Shot, revision: str, light: str, crop: str | None = None) -> str:
    """Key of all that goes into a thumbnail, of a shot or of one of its crops; not the name, nor what no thumbnail
    shows."""
    seen = shown(shot)
    framing = repr([seen[group] for group in SHARP_AS_DRAWN])
    if crop is not None:
        framing += repr(picture_of(shot, crop))
    return hashlib.sha256(f"{DRAWN_BY}|{framing}|{revision}|{light}".encode()).hexdigest()[:32]


def seen_of(project: Project) -> tuple[str, Lights]:
    """Words for the set as it stands, and its lights: with what a shot shows, the key of its small picture."""
    return f"{project.revision_id}|{arrangement_of(project).model_dump_json()}", lights_of(project)


def picture_key(shot: Shot, stands: str, lights: Lights, crop: str | None = None) -> str:
    """Key of a shot's small picture, or of one of its crops, in its own light."""
    return thumbnail_key(shot, stands, lights.of(shot.light).model_dump_json(), crop)


def draw_thumbnail(
    shot: Shot, lit: LitSet, long_side: int = LONG_SIDE_PX, paths: int = PATHS, crop: str | None = None
) -> bytes:
    """PNG of the frame or of a crop, ``long_side`` pixels on its long side, exposed for itself.

    ``shot``: which; ``lit``: the set as it shows it, in its light; ``paths``: for each pixel."""
    frame, (columns, rows) = picture_of(shot, crop)
    camera = camera_of(shot).whole.within(frame)
    share = long_side / max(columns, rows)
    width, height = max(1, round(columns * share)), max(1, round(rows * share))
    rng = np.random.default_rng(7)
    x, y = np.meshgrid(np.arange(width), np.arange(height))
    total = np.zeros((width * height, 3))
    for number in range(paths):
        jitter = rng.random((2, height, width))
        places = ((x + jitter[0]) / width, 1.0 - (y + jitter[1]) / height)
        uv = np.column_stack([place.ravel() for place in places])
        rays, light = camera.rays(uv), camera.light(uv)
        total += (
            sketch(lit, rays.starts, rays.directions, rays.far - rays.near, seed=number) * (rays.sees * light)[:, None]
        )
    picture = total / paths
    middles = np.column_stack([((x + 0.5) / width).ravel(), (1.0 - (y + 0.5) / height).ravel()])
    read = luminance_of(picture)[camera.in_circle(middles)]
    exposed = picture * (MIDDLE_TONE / middle_luminance(read))
    out = io.BytesIO()
    image = Image.fromarray(srgb(shoulder(exposed.reshape(height, width, 3).astype(np.float32))), "RGB")
    image.save(out, "PNG")
    return out.getvalue()
