"""What foreign files cost: a large STL beside its bare arrays, a small file with one huge picture beside its pixels."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh
from PIL import Image

from large import peak_of
from zevlo.files.reading import Arrival, unheard
from zevlo.files.stl import read_stl

Row = tuple[str, str, str, str, str]
TRIANGLES = 10_000_000
SIDE_PX = 13_000
FACET = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])

PRINTED = """
import json, resource, sys
from pathlib import Path
from zevlo.core.shot import Shot
from zevlo.demo.shots import LIGHT
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.lab.renderer import MitsubaRenderer
model = in_world(from_bytes(Path(sys.argv[1]).read_bytes()))
for _ in MitsubaRenderer(model, LIGHT).passes(Shot(), (96, 54), [1], 1):
    pass
print(json.dumps(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024))
"""


def stl(path: Path) -> None:
    """A field of rough ground, every triangle with three corners of its own, as the format has it."""
    side = int(np.sqrt(TRIANGLES / 2))
    rows = np.zeros(2 * side * side, dtype=FACET)
    x, y = np.meshgrid(np.arange(side, dtype=np.float32), np.arange(side, dtype=np.float32))
    z = np.random.default_rng(5).normal(size=(side + 1, side + 1)).astype(np.float32)
    a, b, c, d = z[:-1, :-1], z[:-1, 1:], z[1:, 1:], z[1:, :-1]
    places = [np.stack(one, axis=-1) for one in ((x, y, a), (x + 1, y, b), (x + 1, y + 1, c), (x, y + 1, d))]
    corners = rows["corners"].reshape(side, side, 2, 3, 3)
    for half, which in enumerate(((0, 1, 2), (0, 2, 3))):
        for corner, place in enumerate(which):
            corners[:, :, half, corner] = places[place]
    path.write_bytes(b"\0" * 80 + np.uint32(len(rows)).tobytes() + rows.tobytes())


def pictured(path: Path, side_px: int) -> None:
    """A box with one picture, of one colour: a small file however many pixels it has."""
    material = trimesh.visual.material.PBRMaterial(baseColorTexture=Image.new("RGB", (side_px, side_px), (180, 90, 60)))
    box = trimesh.creation.box((4, 4, 4))
    uv = np.random.default_rng(1).random((len(box.vertices), 2))
    box.visual = trimesh.visual.TextureVisuals(uv=uv, material=material)
    path.write_bytes(trimesh.Scene([box]).export(file_type="glb"))


def _printing(path: Path) -> float:
    run = subprocess.run([sys.executable, "-c", PRINTED, str(path)], check=True, capture_output=True, text=True)
    return float(json.loads(run.stdout.splitlines()[-1]))


def _bare(path: Path) -> np.ndarray:
    with path.open("rb") as file:
        file.seek(84)
        return np.fromfile(io.FileIO(file.fileno(), closefd=False), FACET)["corners"].reshape(-1, 3).astype(np.float64)


def _seconds(path: Path) -> tuple[float, float]:
    ours, bare = [], []
    for _ in range(2):
        began = time.perf_counter()
        _bare(path)
        bare.append(time.perf_counter() - began)
        began = time.perf_counter()
        read_stl(Arrival(path, path.name), unheard)
        ours.append(time.perf_counter() - began)
    return min(ours), min(bare)


def foreign() -> list[Row]:
    """Time of ten million triangles of STL; memory of a picture of 13,000 pixels a side, read and printed."""
    with tempfile.TemporaryDirectory(dir="/var/tmp", prefix="zevlo-bench-") as folder:
        large, small, field = Path(folder) / "picture.glb", Path(folder) / "plain.glb", Path(folder) / "field.stl"
        stl(field)
        ours, bare = _seconds(field)
        field.unlink()
        pictured(large, SIDE_PX)
        pictured(small, 16)
        size = large.stat().st_size
        read = peak_of(large)[0] - peak_of(small)[0]
        printed, plain = _printing(large), _printing(small)
    pixels = 4.0 * SIDE_PX**2  # what Pillow holds of a picture: four bytes a pixel
    return [
        (
            f"STL of {TRIANGLES:,} triangles",
            f"{ours:.1f} s",
            f"its bare arrays by numpy {bare:.1f} s",
            f"{ours / bare:.2f}",
            "under 3",
        ),
        (
            f"A {size / 1024:.0f} kB file with a picture of {SIDE_PX:,}² pixels, memory",
            f"{read / 2**20:.0f} MB",
            f"its pixels {pixels / 2**20:.0f} MB",
            f"{read / pixels:.2f}",
            "under 2",
        ),
        (
            "The same read and printed, memory",
            f"{printed / 2**20:.0f} MB",
            f"with a picture of 16² pixels {plain / 2**20:.0f} MB",
            f"{printed / plain:.2f}",
            "under 1.5",
        ),
    ]
