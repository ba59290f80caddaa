"""Work on a set: a pick among many parts beside a few, things to look at, small pictures of drawings."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
import trimesh

from zevlo.core.camera.from_shot import camera_of
from zevlo.core.camera.picking import seen_from
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.demo.glb import pottery_glb
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world

Row = tuple[str, str, str, str, str]
MANY, FEW, LEFT_OUT = 20_000, 20, 300


def _seconds(action: Callable[[], object], times: int) -> float:
    took = []
    for _ in range(times):
        began = time.perf_counter()
        action()
        took.append(time.perf_counter() - began)
    return float(np.median(took))


def shelf(parts: int) -> SetModel:
    """The same 240,000 triangles as boxes in a row before the lens, as many or as few parts."""
    box = trimesh.creation.box((0.8, 0.8, 0.8))
    boxes = MANY
    at = np.stack([np.arange(boxes) % 100 - 50.0, 4.0 + np.arange(boxes) // 100, np.zeros(boxes)], axis=1)
    vertices = (np.asarray(box.vertices)[None] + at[:, None]).reshape(-1, 3)
    faces = (np.asarray(box.faces)[None] + 8 * np.arange(boxes)[:, None, None]).reshape(-1, 3).astype(np.int32)
    each = len(faces) // parts
    found = tuple(Part(f"Part {n}", None, n * each, each, f"p{n}") for n in range(parts))
    return SetModel(vertices, faces, np.zeros(len(faces), np.int32), found, (Material("Plain", (0.5, 0.5, 0.5)),))


def _pick(working: WorkingSet, left_out: frozenset[int]) -> float:
    camera, shown = camera_of(Shot()), working.without(left_out)
    return _seconds(lambda: seen_from(camera, 0.5, 0.1, shown), 30)


def set_room() -> list[Row]:
    """A pick among twenty thousand parts with three hundred left out; the demo's leftovers and thin lines."""
    many, few = WorkingSet(shelf(MANY)), WorkingSet(shelf(FEW))
    every = frozenset(range(50, 50 + LEFT_OUT * 100, 100)) & frozenset(range(MANY))
    a, b = _pick(many, every), _pick(few, frozenset())
    demo = WorkingSet(in_world(from_bytes(pottery_glb())))
    _ = demo.rays, demo.cut_index, demo.edges
    found = _seconds(lambda: find_leftovers(demo, SetContext()), 1)
    thin = _seconds(lambda: demo.beyond(plan_plane(1.2), 8.0), 3)
    return [
        (
            f"A pick among {MANY:,} parts, {LEFT_OUT} left out",
            f"{a * 1e3:.1f} ms",
            f"among {FEW} {b * 1e3:.1f} ms",
            f"{a / b:.1f}",
            "under 10 ms",
        ),
        ("The demo's things to look at", f"{found:.1f} s", "10 s", f"{found / 10:.2f}", "under 1"),
        ("The demo's plan, its thin lines", f"{thin:.2f} s", "1 s", f"{thin:.2f}", "under 1"),
    ]
