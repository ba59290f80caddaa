"""A set of five million triangles: memory and time on the way in, and how soon it can be worked with."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh

from zevlo.core.scene.cuts.cut import section_plane
from zevlo.core.scene.model.placing import Placing, placed
from zevlo.core.scene.working import WorkingSet
from zevlo.files.arrays import unpack_set
from zevlo.files.sandbox import import_model

Row = tuple[str, str, str, str, str]
TRIANGLES = 5_000_000
PARTS = 40

PEAK = """
import json, resource, sys, time
from pathlib import Path
from zevlo.files.sandbox import import_model
began = time.perf_counter()
with import_model(Path(sys.argv[1]), Path(sys.argv[1]).name, 2 * 1024**3):
    pass
print(json.dumps([resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss * 1024, time.perf_counter() - began]))
"""


def hills(count: int) -> bytes:
    """A GLB of rough ground in parts, ``count`` triangles in all."""
    side = int(np.sqrt(count / PARTS / 2)) + 1
    rng = np.random.default_rng(4)
    x, y = np.meshgrid(np.linspace(0, 10, side + 1), np.linspace(0, 10, side + 1))
    n = np.arange((side + 1) ** 2).reshape(side + 1, side + 1)
    a, b, c, d = (corner.ravel() for corner in (n[:-1, :-1], n[:-1, 1:], n[1:, 1:], n[1:, :-1]))
    faces = np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)])
    scene = trimesh.Scene()
    for part in range(PARTS):
        z = 0.05 * rng.normal(size=x.size)
        vertices = np.stack([x.ravel() + 10.0 * (part % 8), z, y.ravel() + 10.0 * (part // 8)], axis=1)
        scene.add_geometry(trimesh.Trimesh(vertices, faces, process=False), node_name=f"Ground {part + 1}")
    return scene.export(file_type="glb")


def peak_of(path: Path) -> tuple[float, float]:
    ran = subprocess.run([sys.executable, "-c", PEAK, str(path)], check=True, capture_output=True, text=True).stdout
    memory, seconds = json.loads(ran.splitlines()[-1])
    return float(memory), float(seconds)


def large() -> list[Row]:
    """Memory against the arrays the set ends in, over what the reader takes for twelve triangles."""
    with tempfile.TemporaryDirectory(dir="/var/tmp", prefix="zevlo-bench-") as folder:
        path, small = Path(folder) / "hills.glb", Path(folder) / "box.glb"
        small.write_bytes(trimesh.Scene([trimesh.creation.box()]).export(file_type="glb"))
        path.write_bytes(hills(TRIANGLES))
        empty, _ = peak_of(small)
        peak, seconds = peak_of(path)
        with import_model(path, path.name, 2 * 1024**3) as taken:
            with taken.arrays.open("rb") as file:
                read = unpack_set(file)
            drawn = taken.summary["drawn"]
            model = placed(read, Placing.model_validate(taken.summary["placing"]))
        arrays = [read.vertices, read.faces, read.face_material, read.normals, read.uv]
        size = sum(one.nbytes for one in arrays if one is not None)
        began = time.perf_counter()
        working = WorkingSet(model)
        _ = working.rays, working.cut_index, working.things_stand_on, working.body
        ready = time.perf_counter() - began
        began = time.perf_counter()
        working.cut(section_plane(np.array([35.2, 25.1, 1.6]), np.array([0.6, 0.8, 0.0])))
        cut = time.perf_counter() - began
    count, name = f"{len(read.faces):,}", f"Import of {len(read.faces):,} triangles, memory"
    share = f"{drawn / len(read.faces):.2f}"
    ratio = (peak - empty) / size
    return [
        (name, f"{(peak - empty) / 2**20:.0f} MB", f"its arrays {size / 2**20:.0f} MB", f"{ratio:.2f}", "under 3"),
        ("The same, time (information)", f"{seconds:.1f} s", "no limit set", "", ""),
        ("The same, drawn by the desk (information)", f"{drawn:,} triangles", f"{count} of the set", share, ""),
        ("The same, ready to be worked with (information)", f"{ready:.1f} s", "no limit set", "", ""),
        ("Section of it", f"{cut:.2f} s", "1 s", f"{cut:.2f}", "under 1"),
    ]  # fmt: skip
