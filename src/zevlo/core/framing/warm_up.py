"""A first solve of next to nothing: after it the compiled loops are there, and nobody waits for them at work."""

from __future__ import annotations

import numpy as np

from zevlo.core.framing.solve import section_beyond, solve
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Opening


def rehearse() -> None:
    """Solve a shot of a floor with a wall on it: some fifteen seconds where nothing is compiled yet, else one."""
    floor = [(-2.0, -2.0, 0.0), (2.0, -2.0, 0.0), (2.0, 6.0, 0.0), (-2.0, 6.0, 0.0)]
    wall = [(-2.0, 5.0, 0.0), (2.0, 5.0, 0.0), (2.0, 5.5, 3.0), (0.0, 4.5, 3.0)]
    faces = [(0, 1, 2), (0, 2, 3), (4, 5, 6), (4, 6, 7), (4, 7, 5), (5, 7, 6)]
    model = SetModel(
        vertices=np.array(floor + wall),
        faces=np.array(faces, dtype=np.int32),
        face_material=np.zeros(len(faces), dtype=np.int32),
        parts=(Part("Floor and wall", None, 0, len(faces)),),
        materials=(Material("Plain"),),
    )
    working, shot = WorkingSet(model), Shot()
    solve(shot, working)
    section_beyond(shot.stand, working)
    working.cut(plan_plane(1.0))
    opening = Opening(point=(0.0, 4.9, 0.0), normal=(0.0, -1.0, 0.0))
    solve(shot.with_groups(movements=shot.movements.model_copy(update={"tilt_deg": 2.0})), working)
    solve(shot.with_groups(lens=shot.lens.model_copy(update={"cutting_plane": opening})), working)
