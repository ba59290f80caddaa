"""Colours, roughness and drawn textures of the demonstration set. All made up, all by script."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

TEXTURE_PX = 512


@dataclass(frozen=True)
class Surface:
    """Base colour as sRGB 0 to 255; ``texture`` names a drawn one that repeats every ``repeat_m`` metres."""

    name: str
    color: tuple[int, int, int]
    roughness: float = 0.7
    metallic: float = 0.0
    texture: str | None = None
    repeat_m: float = 1.0
    glow_cd_m2: float = 0.0


SURFACES = {
    s.name: s
    for s in (
        Surface("Limewash", (226, 220, 208), 0.9, texture="plaster", repeat_m=2.6),
        Surface("Rubble stone", (205, 198, 184), 0.92, texture="stone", repeat_m=2.4),
        Surface("Dressed stone", (196, 188, 172), 0.8, texture="plaster", repeat_m=1.7),
        Surface("Oiled oak", (190, 146, 96), 0.55, texture="wood", repeat_m=1.1),
        Surface("Dark oak", (112, 78, 52), 0.6, texture="wood", repeat_m=1.3),
        Surface("Floor flags", (168, 160, 148), 0.6, texture="flags", repeat_m=2.4),
        Surface("Floorboards", (176, 140, 100), 0.6, texture="boards", repeat_m=1.8),
        Surface("Slate", (82, 88, 94), 0.55, texture="slates", repeat_m=1.6),
        Surface("Turf", (116, 124, 78), 0.95, texture="ground", repeat_m=3.2),
        Surface("Shingle", (158, 150, 136), 0.95, texture="ground", repeat_m=1.3),
        Surface("Water", (58, 78, 84), 0.12),
        Surface("Blackened iron", (38, 38, 40), 0.45, 0.6),
        Surface("White enamel", (240, 238, 232), 0.3),
        Surface("Terracotta", (176, 96, 66), 0.75),
        Surface("Red slip", (150, 66, 48), 0.35),
        Surface("Celadon", (132, 162, 138), 0.22),
        Surface("Tenmoku", (58, 38, 30), 0.2),
        Surface("Oatmeal glaze", (206, 190, 162), 0.4),
        Surface("Cobalt glaze", (52, 78, 118), 0.22),
        Surface("Raw clay", (172, 158, 140), 0.9),
        Surface("Paper sweep", (226, 224, 220), 0.95),
        Surface("Kiln brick", (190, 160, 130), 0.9, texture="stone", repeat_m=0.9),
        Surface("Wool", (86, 96, 104), 0.95),
        Surface("Lamp glass", (255, 240, 214), 0.5, glow_cd_m2=4200.0),
        Surface("Panel light", (255, 252, 246), 0.5, glow_cd_m2=5200.0),
        Surface("Dial", (236, 230, 214), 0.4),
    )
}


def _cloud(rng: np.random.Generator, softness: float, stretch: float = 1.0) -> NDArray[np.float64]:
    """Noise that repeats without a seam, mean 0, deviation 1; ``stretch`` > 1 draws it out along y."""
    size = TEXTURE_PX
    fx, fy = np.meshgrid(np.fft.fftfreq(size) * size, np.fft.fftfreq(size) * size)
    distance = np.hypot(fx, fy * stretch)
    distance[0, 0] = 1.0
    spectrum = np.fft.fft2(rng.normal(size=(size, size))) / distance**softness
    spectrum[0, 0] = 0.0
    field = np.fft.ifft2(spectrum).real
    return np.asarray(field / field.std())


def _courses(rows: int, columns: int, shift: float, joint: float, rng: np.random.Generator) -> tuple[NDArray[np.float64], NDArray[np.float64]]:  # fmt: skip
    """Tone of each block and darkness of the joints, for masonry, flags, boards and slates."""
    y, x = np.mgrid[0:TEXTURE_PX, 0:TEXTURE_PX] / TEXTURE_PX
    row = np.floor(y * rows).astype(int)
    across = (x + shift * row) % 1.0
    column = np.floor(across * columns).astype(int)
    tone = rng.normal(size=(rows, columns))[row, column]
    edge = np.minimum((y * rows) % 1.0 / rows, (across * columns) % 1.0 / columns)
    return tone, (edge < joint).astype(float)


def texture(name: str) -> Image.Image:
    """A tileable grey-to-warm texture that multiplies a surface's colour."""
    rng = np.random.default_rng(sum(map(ord, name)))
    warm = np.zeros((TEXTURE_PX, TEXTURE_PX))
    if name == "plaster":
        tone = 0.94 + 0.022 * _cloud(rng, 1.3) + 0.012 * _cloud(rng, 0.4)
    elif name == "wood":
        grain = _cloud(rng, 1.25, 9.0)
        tone = 0.86 + 0.05 * grain + 0.05 * np.sin(7.0 * grain + 3.0 * _cloud(rng, 1.8, 5.0)) * 0.6
        warm = 0.02 * grain
    elif name == "boards":
        tone, joint = _courses(8, 2, 0.37, 0.0025, rng)
        tone = 0.86 + 0.05 * tone + 0.035 * _cloud(rng, 1.2, 0.12) - 0.5 * joint
    elif name == "stone":
        tone, joint = _courses(9, 4, 0.29, 0.006, rng)
        tone = 0.84 + 0.06 * tone + 0.05 * _cloud(rng, 1.1) - 0.22 * joint
    elif name == "flags":
        tone, joint = _courses(4, 3, 0.33, 0.004, rng)
        tone = 0.88 + 0.04 * tone + 0.03 * _cloud(rng, 1.2) - 0.35 * joint
    elif name == "slates":
        tone, joint = _courses(8, 6, 0.0833, 0.004, rng)
        tone = 0.85 + 0.07 * tone + 0.03 * _cloud(rng, 0.9) - 0.4 * joint
    else:
        tone = 0.84 + 0.07 * _cloud(rng, 1.2) + 0.07 * _cloud(rng, 0.3)
        warm = 0.012 * _cloud(rng, 1.6)
    rgb = np.stack([tone + warm, tone, tone - warm], axis=-1)
    return Image.fromarray((np.clip(rgb, 0.0, 1.0) * 255).astype(np.uint8))
