"""The sets and shots that the core is asked about: a house, things on a table, a blob, the demonstration."""

from __future__ import annotations

from functools import cache

import numpy as np
import trimesh
from tests.conftest import glb_set, set_of, slab
from tests.core.test_any_gesture import SHOTS, WORKING
from tests.core.test_product_set import things

from zevlo.core.scene.model.set_model import Part, SetModel
from zevlo.core.scene.model.visible import Lifted, Visible
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, BlurLimit, Exposure, Focus, Guides, Lens, Movements, Shot, Stand, Trim
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import VIEWS as DEMO_SHOTS


def house() -> SetModel:
    """Two storeys with rooms, a door each, a table, things on it, a lamp and what is left over."""
    boxes = {
        "Ground floor": None,
        "Slab": ((-6, -4, -0.3), (6, 4, 0)), "North wall": ((-6, 3.8, 0), (6, 4, 2.7)), "West wall": ((-6, -4, 0), (-5.8, 4, 2.7)),
        "East wall": ((5.8, -4, 0), (6, 4, 2.7)), "South wall 1": ((-6, -4, 0), (1, -3.8, 2.7)), "South wall 2": ((1.9, -4, 0), (6, -3.8, 2.7)),
        "Lintel": ((1, -4, 2.1), (1.9, -3.8, 2.7)), "Partition": ((0, -1.2, 0), (0.12, 3.8, 2.7)), "Partition 2": ((0, -3.8, 0), (0.12, -2.1, 2.7)),
        "Partition lintel": ((0, -2.1, 2.1), (0.12, -1.2, 2.7)), "Table": ((-3, -0.5, 0.7), (-1.6, 0.5, 0.74)), "Leg": ((-2.4, -0.1, 0), (-2.2, 0.1, 0.7)),
        "Kitchen": None, "Cup": ((-2.0, 0.0, 0.74), (-1.92, 0.08, 0.83)), "Floating crate": ((3, 1, 0.6), (3.4, 1.4, 1.0)), "Stool": ((4.2, -2.0, 0), (4.6, -1.6, 0.45)),
        "First floor": None,
        "Upper slab": ((-6, -4, 2.7), (6, 4, 3.0)), "Upper north": ((-6, 3.8, 3), (6, 4, 5.4)), "Upper west": ((-6, -4, 3), (-5.8, 4, 5.4)),
        "Upper east": ((5.8, -4, 3), (6, 4, 5.4)), "Upper south": ((-6, -4, 3), (6, -3.8, 5.4)), "Roof": ((-6.2, -4.2, 5.4), (6.2, 4.2, 5.6)),
        "Lost": ((700, 0, 0), (700.2, 0.2, 0.2)),
    }  # fmt: skip
    model = set_of(*[slab(*box) for box in boxes.values() if box is not None])
    parts: list[Part] = []
    own, group = iter(model.parts), None
    for name, box in boxes.items():
        if box is None:
            group = len(parts)
            parts.append(Part(name, None, 0, 0))
        else:
            part = next(own)
            parts.append(Part(name, group, part.first_face, part.face_count))
    return SetModel(model.vertices, model.faces, model.face_material, tuple(parts), model.materials)


def blob(seed: int = 4) -> SetModel:
    ball, rng = trimesh.creation.icosphere(subdivisions=3), np.random.default_rng(seed)
    ball.vertices *= 1 + 0.2 * rng.normal(size=(len(ball.vertices), 1))
    return set_of(ball.apply_translation((0.3, 0.2, 1.4)), slab((-3, -3, -0.1), (3, 3, 0)))


@cache
def sets() -> dict[str, WorkingSet]:
    return {
        "house": WorkingSet(house()), "things": WorkingSet(things()), "blob": WorkingSet(blob()), "plain": WORKING,
        "demo": WorkingSet(glb_set(pottery_glb())),
        "open house": WorkingSet(house(), Visible(Lifted(frozenset({17}), 4.1))),
    }  # fmt: skip


@cache
def shots() -> dict[str, Shot]:
    own = {
        "narrow": Shot(lens=Lens(focal_length_mm=135, focus_breathing=True), focus=Focus(distance_m=1.4, f_number=2.8, blades=7, blade_rotation_deg=9.0, rim_weight=0.3)),
        "print": Shot(back=Back(width_mm=120, height_mm=90, output_px=(3000, 4000), fit="height"), focus=Focus(distance_m=6, f_number=22.6, blur_limit=BlurLimit(print_width_mm=600, seen_from_mm=700)), movements=Movements(rise_mm=14, image_circle_mm=180)),
        "panorama": Shot(back=Back(fit="width", output_px=(4000, 1000)), focus=Focus(distance_m=40.0, f_number=None), guides=Guides(thirds=False, centre=True)),
        "by diagonal": Shot(focus=Focus(distance_m=3.3, f_number=11, blur_limit=BlurLimit(diagonal_over=1500)), exposure=Exposure(shutter_s=2.5, iso=3200), back=Back(trim=Trim(right=0.21, bottom=0.13), enlarge=1.3, output_px=(1600, 1600))),
        "by millimetres": Shot(stand=Stand(position=(2, 1, 4), aim=(1.2, 2.4, 0.3), roll_deg=-31), focus=Focus(distance_m=2.1, f_number=4, blur_limit=BlurLimit(mm=0.02)), movements=Movements(cross_mm=4.5, image_circle_mm=70.0)),
    }  # fmt: skip
    return {**SHOTS, **own, **{shot.name: shot for shot in DEMO_SHOTS}}
