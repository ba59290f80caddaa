"""What a lens law costs beside plain perspective: a solve, and the samples of a print."""

from __future__ import annotations

import time

import numpy as np

from zevlo.core.framing.solve import solve
from zevlo.core.instruments.lens.projection import PROJECTIONS
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Distortion, Lens
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import LIGHT, SHOTS
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world

Row = tuple[str, str, str, str, str]
ROOM = SHOTS[1]
SIZE, SAMPLES, RUNS = (480, 270), 32, 3


def lenses() -> dict[str, Lens]:
    """A lens of every law there is, all about as wide."""
    found = {}
    for offer in PROJECTIONS:
        more = {} if offer.fisheye_law is None else {"fisheye_law": offer.fisheye_law}
        scale = 4.0 if offer.projection == "parallel" else None
        found[offer.words] = Lens(focal_length_mm=20.0, projection=offer.projection, scale_m=scale, **more)
    return {**found, "Bent": Lens(focal_length_mm=20.0, distortion=Distortion(k1=-0.1, k2=0.01))}


def _solves(shot: Shot, working: WorkingSet, zooms: bool) -> float:
    """95 of 100 solves with drawings take no longer, in ms, while the stand moves or while the lens zooms."""
    x, y, z = shot.stand.position
    times = []
    for n in range(200):
        stand = shot.stand.model_copy(update={"position": (x - 0.005 * n, y, z)})
        lens = shot.lens.model_copy(update={"focal_length_mm": 20.0 + 0.05 * n * zooms})
        one = shot.model_copy(update={"stand": stand, "lens": lens})
        begun = time.perf_counter()
        solve(one, working).model_dump_json()
        times.append(time.perf_counter() - begun)
    return float(np.percentile(times, 95)) * 1000.0


def opened(working: WorkingSet) -> list[Row]:
    """A set opened by a plane: while the stand moves, and while a hand pushes the plane through it."""
    rows = []
    for pushes, what in ((False, "the stand moves"), (True, "the plane is pushed")):
        times = []
        for n in range(200):
            x, y, z = ROOM.stand.position
            plane = {"point": (0.0, 2.0 + 0.01 * n * pushes, 0.0), "normal": (0.1, -1.0, 0.0)}
            stand = ROOM.stand.model_copy(update={"position": (x - 0.005 * n, y, z)})
            one = ROOM.with_groups(stand=stand, lens=Lens(focal_length_mm=20.0, cutting_plane=plane))
            begun = time.perf_counter()
            solve(one, working).model_dump_json()
            times.append(time.perf_counter() - begun)
        took = float(np.percentile(times, 95)) * 1000.0
        rows.append(
            (f"Solve of an opened set while {what}, p95", f"{took:.1f} ms", "16 ms", f"{took / 16:.2f}", "under 1")
        )
    return rows


def laws() -> list[Row]:
    """The slowest law against 4 ms a solve, and against the samples a second of perspective."""
    from zevlo.lab.renderer import MitsubaRenderer

    model = in_world(from_bytes(pottery_glb()))
    working, renderer = WorkingSet(model), MitsubaRenderer(model, LIGHT)
    rows = []
    shots = {name: ROOM.model_copy(update={"lens": lens}) for name, lens in lenses().items()}
    for zooms, what in ((False, "the stand moves"), (True, "the lens zooms")):
        took = {name: _solves(shot, working, zooms) for name, shot in shots.items()}
        slowest = max(took, key=lambda name: took[name])
        ours = f"{took[slowest]:.1f} ms ({slowest}; perspective {took['Perspective']:.1f})"
        rows.append(
            (f"Solve of the slowest law while {what}, p95", ours, "4 ms", f"{took[slowest] / 4:.2f}", "under 1")
        )
    rows += opened(working)
    rates = dict.fromkeys(shots, 0.0)
    for _ in range(RUNS):
        for name, shot in shots.items():
            begun = time.perf_counter()
            for _ in renderer.passes(shot, SIZE, [8] * (SAMPLES // 8), 5):
                pass
            rates[name] = max(rates[name], SAMPLES * SIZE[0] * SIZE[1] / (time.perf_counter() - begun) / 1e6)
    plain = rates["Perspective"]
    for name, rate in rates.items():
        if name != "Perspective":
            found = f"{rate:.2f}", f"perspective {plain:.2f}", f"{rate / plain:.2f}", "over 0.9"
            rows.append((f"Print, {name.lower()}, million samples/s", *found))
    return rows
