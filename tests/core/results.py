"""What the core answers to many questions, brought down to a few numbers each, so that nothing of it changes unseen.

``tests/core/results/`` holds the answers as they were when they were last looked at, a file for each group of questions
and a line for each answer; test_results.py asks again.
Where an answer is meant to change, keep the new ones, and read what changed before it is committed:

    .zevlo/venv/bin/python -m tests.core.results
"""

from __future__ import annotations

import importlib
import json
import pkgutil
import random
import types
from collections.abc import Iterator
from dataclasses import replace
from inspect import isabstract
from typing import Annotated, Any, Literal, Union, get_args, get_origin

import numpy as np
import trimesh
from pydantic import BaseModel, TypeAdapter
from tests.conftest import set_of, slab
from tests.core.answers import KEPT, QUESTIONS, answer_to, brief, question
from tests.core.asked_of import blob, house, sets, shots
from tests.core.kinds import SHOT_GESTURES, VIEW_GESTURES, bounds_of, kind_of
from tests.core.test_any_gesture import SHOTS, WORKING
from tests.core.test_product_set import in_file, things

import zevlo.core
from zevlo.core.bases import Settings
from zevlo.core.camera.drawing import packed, thin_lines
from zevlo.core.camera.from_shot import camera_of
from zevlo.core.camera.on_paper import depth_on_paper
from zevlo.core.camera.picking import seen_from
from zevlo.core.constraints.set_moved import shot_moved, stand_moved
from zevlo.core.constraints.stand_in_moved import moved_along
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.differences import COPY_GROUPS, copied, differences
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.framing.new_shot import new_shot_at, new_shot_from_scout, new_shot_in_plan
from zevlo.core.framing.placing_habits import Habits, by_size, heights_for, is_small
from zevlo.core.framing.scout import Scout, View, ViewGesture, anchored, followed, scout_near, scout_view
from zevlo.core.framing.shot_name import proposed_name
from zevlo.core.framing.solve import section_beyond, solve
from zevlo.core.framing.staleness import shown
from zevlo.core.framing.suggested_stands import suggested_stands
from zevlo.core.light.setup import LightSetup, Sky, Sun
from zevlo.core.measures import feet_and_inches, measure
from zevlo.core.optics import exposure, focus, lens, movements
from zevlo.core.optics.back import fit_back, ratio_name
from zevlo.core.optics.barrel import barrel, barrel_distance_mm
from zevlo.core.optics.laws import Perspective
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.cuts.cut import elevation_plane, plan_plane, section_plane
from zevlo.core.scene.cuts.cut_away import cut_away
from zevlo.core.scene.cuts.floor import nearest_floor
from zevlo.core.scene.cuts.snap import sides_of, snap
from zevlo.core.scene.leftovers import find_leftovers
from zevlo.core.scene.lit import light_set, luminance_of, middle_luminance, radiance, sketch
from zevlo.core.scene.model.body import body_box, has_ground
from zevlo.core.scene.model.part_ids import geometry_word
from zevlo.core.scene.model.placing import (
    Placing,
    bounds_in,
    corrected,
    dropped,
    matrix_of,
    moved_to_origin,
    placed,
    transform_between,
)
from zevlo.core.scene.model.set_model import Material, Part, SetModel
from zevlo.core.scene.model.support_plane import part_boxes, stood_on
from zevlo.core.scene.model.unit_guess import guess_unit, guess_up
from zevlo.core.scene.model.visible import all_above
from zevlo.core.scene.places.levels import Places, SetContext, level_at, mark_in, places_moved
from zevlo.core.scene.places.lifting import part_middles, parts_on_level
from zevlo.core.scene.places.rooms import propose_places
from zevlo.core.scene.stand_ins.made import (
    Figure,
    Panel,
    Sweep,
    facing,
    footprint,
    front_of,
    gone_along,
    known_apart,
    moved_with_set,
    new_stand_in,
    put_on,
    shape_of,
    sweep_under,
)
from zevlo.core.scene.stand_ins.placement import put_before
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, BlurLimit, Shot, Stand
from zevlo.core.stand.pose import compass_point
from zevlo.demo.pottery import PLACES
from zevlo.demo.shots import VIEWS as DEMO_SHOTS


def _value(kind: Any, metadata: Any, parts: list[str], chance: random.Random) -> Any:
    if get_origin(kind) is Annotated:
        inner, *more = get_args(kind)
        return _value(inner, [*metadata, *more], parts, chance)
    if get_origin(kind) in (Union, types.UnionType):
        return _value(chance.choice(get_args(kind)), metadata, parts, chance)
    if kind is type(None):
        return None
    if get_origin(kind) is Literal:
        return chance.choice(get_args(kind))
    if get_origin(kind) is tuple:
        return [_value(one, (), parts, chance) for one in get_args(kind)]
    if kind is bool:
        return chance.random() < 0.5
    if kind is str:
        return chance.choice(parts)
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return {}
    low, high = bounds_of(metadata)
    low, high = max(-9.0, -9.0 if low is None else low), min(9.0, 9.0 if high is None else high)
    number = chance.uniform(low, max(low, high))
    return int(number) if kind is int else round(number, 3)


def moves(kinds: tuple[type, ...], parts: list[str], each: int) -> Iterator[tuple[str, dict[str, Any]]]:
    """A few gestures of every kind, always the same."""
    for kind in kinds:
        for turn in range(each):
            chance = random.Random(f"{kind_of(kind)} {turn}")
            own = {
                n: _value(f.annotation, f.metadata, parts, chance) for n, f in kind.model_fields.items() if n != "kind"
            }
            yield f"{kind_of(kind)} {turn}", {"kind": kind_of(kind), **own}


@question
def sheets() -> Any:
    found: dict[str, Any] = {name: answer_to(lambda shot=shot: solve(shot)) for name, shot in shots().items()}
    for where in ("house", "plain", "blob", "things"):
        found |= {f"{name} in {where}": answer_to(lambda shot=shot, where=where: solve(shot, sets()[where])) for name, shot in SHOTS.items()}  # fmt: skip
    for shot in DEMO_SHOTS:
        found[f"{shot.name} in the demo"] = answer_to(lambda shot=shot: solve(shot, sets()["demo"]))
    return found


@question
def gestures() -> Any:
    adapter: TypeAdapter[ShotGesture] = TypeAdapter(ShotGesture)
    lit = light_set(WORKING, LightSetup())
    parts = [*WORKING.model.ids[1:], "Part 7"]
    found: dict[str, Any] = {}
    for name, move in moves(SHOT_GESTURES, parts, 5):
        for which, shot in SHOTS.items():
            after = answer_to(
                lambda shot=shot, move=move: apply_gesture(shot, adapter.validate_python(move), WORKING, lit)
            )
            if isinstance(after, str):
                found[f"{name} of {which}"] = after
                continue
            before = brief(shot)
            found[f"{name} of {which}"] = {
                key: after.get(key, "as usual")
                for key in sorted({**before, **after})
                if after.get(key) != before.get(key)
            }
    return found


@question
def scouting() -> Any:
    adapter: TypeAdapter[ViewGesture] = TypeAdapter(ViewGesture)
    working = sets()["house"]
    stands = [shot.stand.model_copy(update={"follow": None}) for shot in SHOTS.values()]
    found: dict[str, Any] = {}
    for name, move in moves(VIEW_GESTURES, [*working.model.ids[1:6], "nobody"], 3):
        for n, stand in enumerate(stands):
            width, height, _ = scout_view(Scout(stand=stand), 1.4, None)
            found[f"{name} {n}"] = answer_to(lambda s=stand, m=move, w=width, h=height: followed(s, adapter.validate_python(m), View(working, Placing(turn_deg=20, metres_per_unit=0.01), w, h)))  # fmt: skip
    views = [scout_view(Scout(stand=stand, focal_length_mm=f), r, b) for stand in stands[:2] for f in (12, 50) for r in (0.6, 2.0) for b in (None, Back(output_px=(1000, 1500)))]  # fmt: skip
    return {"moves": found, "views": views, "near": [scout_near(s) for s in stands], "anchored": [answer_to(lambda s=s: anchored(s, working)) for s in stands]}  # fmt: skip


@question
def places_found() -> Any:
    return {
        name: {
            "places": answer_to(lambda w=working: propose_places(w, Places())),
            "leftovers": answer_to(lambda w=working, name=name: find_leftovers(w, SetContext(propose_places(w, Places()) if name == "house" else Places()))),
            "body": working.body, "ground": has_ground(working.model), "stands on": working.things_stand_on,
            "floors": [working.floor_at(x, y, z) for x in (-2.3, 0.06, 3.2) for y in (-1.5, 0.0) for z in (None, 0.5, 4.0)],
            "near floors": [nearest_floor(working.cut_index, x, 0.2, z) for x in (-2.3, 1.0) for z in (0.1, 0.6, 0.9, 3.1)],
            "boxes": part_boxes(working.model), "planes": [stood_on(part_boxes(working.model), axis) for axis in (0, 1, 2)],
            "bodies": [body_box(working.model, up) for up in (1, 2)],
        }
        for name, working in sets().items()
        if name != "demo"
    }  # fmt: skip


@question
def suggestions() -> Any:
    found: dict[str, Any] = {}
    for name, places in (("house", propose_places(sets()["house"], Places())), ("demo", PLACES)):
        for room in places.rooms[:5]:
            level = next(one for one in places.levels if one.name == room.level)
            found[f"{name} {room.name}"] = suggested_stands(room, level, sets()[name], Habits(), 25.0)
    return found


@question
def drawings() -> Any:
    found: dict[str, Any] = {}
    for name, working in sets().items():
        planes = {"plan": plan_plane(1.2), "plan up": plan_plane(3.4), "elevation": elevation_plane(-0.4), "section": section_plane(np.array([0.3, 0.2, 1.0]), np.array([0.6, 0.8, 0.0]))}  # fmt: skip
        for which, plane in planes.items():
            cut = working.cut(plane)
            lines = working.beyond(plane, 6.0, np.array([[-9.0, -9.0], [9.0, 9.0]]))
            found[f"{name} {which}"] = {"cut": packed(cut), "closed": [len(ring) for ring in cut.closed], "beyond": lines, "thin": thin_lines(lines)}  # fmt: skip
        found[f"{name} seen from the south"] = working.elevation(working.bounds)
    for shot in DEMO_SHOTS[1:3]:
        found[f"{shot.name} beyond"] = section_beyond(shot.stand, sets()["demo"])
    speck = WorkingSet(set_of(slab((0, 0, 0), (0.001, 0.001, 0.001)), slab((5, 5, 0), (5.001, 5.001, 0.001))))
    found["nothing to draw"] = [speck.beyond(plan_plane(0.5), 2.0), speck.beyond(plan_plane(0.5), 2.0, np.array([[90.0, 90.0], [91.0, 91.0]])), speck.beyond(plan_plane(-1.0), 2.0)]  # fmt: skip
    sides = sides_of(sets()["house"].cut(plan_plane(1.0)))
    found["snaps"] = [snap(sides, x, y, 0.12, last) for x in (-5.75, -1.0, 0.07, 2.0) for y in (-3.75, 0.03, 3.7) for last in (None, (-1.05, 0.0))]  # fmt: skip
    return found


@question
def light() -> Any:
    found: dict[str, Any] = {}
    for name, setup in (("day", LightSetup()), ("low", LightSetup(sun=Sun(height_deg=9, heading_deg=200), sky=Sky(luminance_cd_m2=900))), ("night", LightSetup(sun=Sun(height_deg=-5)))):  # fmt: skip
        for where in ("house", "blob"):
            lit = light_set(sets()[where], setup)
            directions = np.random.default_rng(2).normal(size=(60, 3))
            directions /= np.linalg.norm(directions, axis=1, keepdims=True)
            from_here = np.tile([-1.0, -2.0, 1.5], (60, 1))
            paths = radiance(lit, from_here, directions, 2, 5)
            found[f"{name} {where}"] = [
                paths,
                sketch(lit, from_here, directions, np.full(len(directions), np.inf), 5),
                middle_luminance(luminance_of(paths)),
            ]
    return found


@question
def stand_ins() -> Any:
    every = [
        Sweep(name="S", at=(1, 2, 0.5), turn_deg=30, width_m=1.1, floor_m=0.8, bend_m=0.3, back_m=1.0), Sweep(name="T", bend_m=0.4, back_m=0.4),
        Figure(name="F", at=(-1, 0, 0), turn_deg=200, height_m=1.62), Figure(name="G", pose="seated", seat_m=0.5, height_m=1.9),
        Panel(name="P", at=(0, -2, 2), turn_deg=-40, tilt_deg=25, width_m=0.9, height_m=0.5),
    ]  # fmt: skip
    found: dict[str, Any] = {}
    for one in every:
        shape = shape_of(one)
        found[one.name] = {
            "vertices": shape.vertices, "faces": shape.faces, "normals": shape.normals, "surfaces": shape.face_surface,
            "foot": footprint(one), "front": front_of(one), "facing": facing(one, 3, -1), "on": put_on(one, (1.0, 2.0, 0.7)),
            "with set": moved_with_set(one, transform_between(Placing(), Placing(metres_per_unit=0.5, turn_deg=33, moved_m=(1, 2, 3)))),
            "gone along": gone_along(one, facing(one.model_copy(update={"at": (3.0, 3.0, 1.0)}), 0, 0), (0.2, 0.3, 0.4)),
        }  # fmt: skip
        if not isinstance(one, Sweep):
            # Silhouettes, as a share of the stature: how wide and how deep the body is at every twentieth of its height.
            body = trimesh.Trimesh(shape_of(one.model_copy(update={"at": (0.0, 0.0, 0.0), "turn_deg": 0.0})).vertices, shape.faces, process=False)  # fmt: skip
            low, high = body.bounds[:, 2]
            slices = [trimesh.intersections.mesh_plane(body, [0, 0, 1], [0, 0, low + (n + 0.5) / 20 * (high - low)]).reshape(-1, 3) for n in range(20)]  # fmt: skip
            found[one.name]["silhouette"] = [
                [float(np.ptp(s[:, 0])), float(np.ptp(s[:, 1]))] if len(s) else None for s in slices
            ]
    whole = arranged(things(), Arrangement(stand_ins=tuple(every)))
    found["together"] = {"vertices": whole.vertices, "faces": whole.faces, "materials": whole.face_material, "ids": whole.ids, "normals": whole.normals}  # fmt: skip
    found["new"] = [new_stand_in(kind, 1, 2, 0.5, ["Sweep", "Figure", "Figure 2"], mark) for kind in ("sweep", "standing", "seated", "panel") for mark in ("", "ab")]  # fmt: skip
    found["before"] = [answer_to(lambda o=o, w=w, v=v: put_before(o, v, sets()[w])) for o in every for w in ("house", "things") for v in ((-4.0, 0.0, 1.6), (0.5, -3.0, 2.0))]  # fmt: skip
    found["under"] = [sweep_under(np.array(box), (-2.0, -1.0), "S", "x") for box in ([[0, 0, 0], [0.01, 0.01, 0.001]], [[0, 1, 0.2], [0.4, 1.3, 0.9]], [[0, 0, 0], [30, 20, 40]], [[0, 0, 0], [1, 0.2, 0.1]])]  # fmt: skip
    found["apart"] = [one.id for one in known_apart([Sweep(name="A"), Sweep(name="B", id="A"), Panel(name="C", id="A#2"), Figure(name="D", id="A")])]  # fmt: skip
    moved = facing(every[2].model_copy(update={"at": (2.0, 1.0, 0.0)}), 5, 5)
    stand = Stand.model_validate({"follow": {"part": "Stand-ins/F", "point": [-1, 0.1, 1.5], "at": [0.4, 0.6]}})
    found["followed"] = moved_along(Shot(stand=stand), [(every[2], moved), (every[4], every[4])])
    return found


@question
def guesses() -> Any:
    found: dict[str, Any] = {}
    for name, model in (("house", house()), ("things", things()), ("blob", blob())):
        for scale in (0.0254, 0.3, 1.0, 39.37, 100.0, 1000.0):
            scaled = SetModel(model.vertices * scale, model.faces, model.face_material, model.parts, model.materials)
            for up in ("y", "z"):
                turned = in_file(scaled, up)
                found[f"{name} x {scale} {up}"] = [guess_up(turned, "z"), guess_up(turned, "y"), guess_unit(turned, up, "m"), guess_unit(turned, up, "cm")]  # fmt: skip
    for name, size in (("Door", (0.9, 0.1, 2.1)), ("Door", (90, 10, 200)), ("Inner_doors", (2, 60, 80)), ("Cup", (3, 3, 4)), ("Chair", (45, 48, 82)), ("Vase of the Ming", (300, 300, 500)), ("Teapot door", (10, 10, 10))):  # fmt: skip
        plain = set_of(slab((0, 0, 0), size))
        one = SetModel(plain.vertices, plain.faces, plain.face_material, (Part(name, None, 0, 12),), plain.materials)
        found[f"{name} {size}"] = [guess_up(one, "z"), guess_up(one, "y"), guess_unit(one, "z", "m"), guess_unit(one, "z", "mm"), guess_unit(one, "y", "m")]  # fmt: skip
    return found


@question
def placings() -> Any:
    every = [
        Placing(),
        Placing(metres_per_unit=0.01, up="y", turn_deg=37, moved_m=(1, -2, 0.5)),
        Placing(turn_deg=-120, moved_m=(0, 0, 3)),
    ]
    stand = Stand(
        position=(1, -3, 1.5), aim=(0.2, 0.4, 1.0), roll_deg=12, above_floor_m=1.4, follow={"point": (0, 0, 1)}
    )
    found: dict[str, Any] = {}
    for n, old in enumerate(every):
        found[f"matrix {n}"] = matrix_of(old)
        found[f"placed {n}"] = placed(blob(), old).vertices
        found[f"bounds {n}"] = bounds_in(blob().bounds, old)
        found[f"dropped {n}"] = dropped(blob().vertices, old)
        found[f"near {n}"] = [moved_to_origin(blob().bounds, old), moved_to_origin(blob().bounds + 5.0e6, old)]
        found[f"corrected {n}"] = [
            corrected(old, 0.0254),
            corrected(old, None, "y" if old.up == "z" else "z"),
            corrected(old, 1.0, "z", 90.0),
        ]
        for k, new in enumerate(every):
            change = transform_between(old, new)
            found[f"from {n} to {k}"] = [answer_to(lambda c=change: stand_moved(stand, c)), answer_to(lambda c=change: shot_moved(shots()["narrow"], c)), answer_to(lambda c=change: shot_moved(Shot(stand=stand), c)), answer_to(lambda c=change: places_moved(PLACES, c))]  # fmt: skip
    return found


@question
def words_and_numbers() -> Any:
    texts = ("12", "1.5 m", "5'6\"", "5 ft 6 in", "6'", "-3 cm", "2 1/2 in", "1/4 turn", "3.6 + 40cm", "2*(1+3) mm", "10 - 2.5", "1e3 mm", "90°", "0.25 turns", "1/125", "1/125 s", "f/8", "3 yd", "12 km", "", "abc", "1/0", "((", "5 kg", "1,5 m", "1'2'3", "--3", "2 ft + 6 in", "9 in / 2", "35 mm", "1 rad")  # fmt: skip
    found: dict[str, Any] = {}
    from zevlo.core.measures import Kind

    for kind in get_args(Kind):
        for unit in (None, "cm", "mm", "ft"):
            found |= {f"{text} as {kind} in {unit}": answer_to(lambda t=text, k=kind, u=unit: measure(t, k, u)) for text in texts}  # fmt: skip
    found["feet"] = [feet_and_inches(x) for x in (0.0, 0.3, 1.6764, -1.2, 2.4384, 3.0479, 100.0)]
    found["compass"] = [
        compass_point(h, p) for h in (0, 11.2, 22.6, 45, 100, 191.3, 300, 348.8, 359.9) for p in (8, 16)
    ]
    found["ratios"] = [
        ratio_name(*size)
        for size in ((16, 9), (1920, 1080), (2160, 2700), (3000, 2000), (1, 1), (1234, 777), (5000, 1000))
    ]
    found["names"] = [proposed_name(shot, SetContext(PLACES, north_deg=n), f, p) for shot in DEMO_SHOTS for n in (0.0, 70.0) for f, p in ((None, 8), (3.2, 16))]  # fmt: skip
    found["where"] = [(level_at(PLACES, z).name if level_at(PLACES, z) else None) for z in (-3, -0.9, 0.2, 2.9, 3.3, 8)]
    found["marks"] = [mark_in(np.array(room.outline)) for room in PLACES.rooms]
    return found


@question
def optics() -> Any:
    limits = [
        BlurLimit(px=1.5),
        BlurLimit(mm=0.03),
        BlurLimit(diagonal_over=1500),
        BlurLimit(print_width_mm=400, seen_from_mm=500),
    ]
    backs = [shot.back for shot in shots().values()]
    return {
        "crops": [fit_back(back) for back in backs],
        "limits": [focus.blur_limit_mm(limit, back, fit_back(back)) for limit in limits for back in backs[-6:]],
        "stops": [[focus.stop_name(n), focus.next_third_stop(n), focus.exact_f_number(k)] for k, n in enumerate((0.95, 1.4, 2.0, 2.5, 5.6, 7.1, 9, 22.6, 64))],
        "zones": [focus.sharp_zone_mm(f, n, 0.02, u) for f in (24, 85) for n in (2.8, 11) for u in (700, 4000, 60000)],
        "reaching": [[focus.stop_reaching(50, 0.03, off, 1 / 3000), focus.focus_reaching(50, 8, 0.03, off, near)] for off in (1e-5, 2e-4) for near in (True, False)],
        "rings": [focus.diffraction_mm(n, m) for n in (4, 22) for m in (0.0, 0.5)],
        "hyperfocal": [focus.hyperfocal_mm(f, n, 0.03) for f in (24, 100) for n in (2.8, 16)],
        "lens": [[lens.image_distance_mm(f, u), lens.magnification(f, u), lens.angle_deg(36, f), lens.focal_length_for(40, f), lens.equivalent_focal_length_mm(f, 36, 20)] for f, u in ((24, 3000), (100, 450))],
        "matrix": [replace(camera_of(shot), near_m=0.1, far_m=far).matrix() for shot in shots().values() for far in (None, 30.0)],
        "movements": [movements.lean_deg(Perspective(35), 36, p) for p in (-12, 3, 20)],
        "circle": [[movements.circle_used_mm(camera_of(shot).window), movements.room_mm(11, 17, 60), movements.room_mm(40, 17, 60)] for shot in shots().values()],
        "light": [[exposure.shutter_for(ev, n, iso), exposure.white_luminance(ev), exposure.ev_for_luminance(10 * ev)] for ev in (3, 12.5) for n in (None, 5.6) for iso in (100, 800)],
        "barrels": [barrel(f, n, 0.02, u) for f in (24, 90) for n in (None, 2.0, 8.0, 22.0) for u in (350, 1860, 9000, 80000)],
        "on barrels": [barrel_distance_mm(u, at) for u in (350, 1860, 80000) for at in (-0.2, 0.0, 0.3, 0.6, 0.9, 1.0, 1.4)],
        "engraved": [[one.label for one in barrel(50, 8.0, 0.02, u).feet] for u in (160, 240, 330, 450, 700, 950, 1300, 2600, 5000, 15000, 40000)],
        "angles": [answer_to(lambda a=a: lens.focal_length_for(a, 36)) for a in (0.05, 0.1, 90, 175, 175.5, 176, 200)],
    }  # fmt: skip


@question
def new_shots() -> Any:
    found: dict[str, Any] = {}
    for name in ("house", "things", "demo", "open house"):
        working = sets()[name]
        for habits in (Habits(), Habits(lens_m=1.2, aim_m=None, stays_above_floor=True)):
            for a, b in (((-4.0, -2.0), (2.0, 1.0)), ((0.3, -0.6), (0.0, 0.0)), ((30.0, 0.0), (0.0, 0.0))):
                found[f"{name} {habits.lens_m} {a} {b}"] = answer_to(lambda w=working, h=habits, a=a, b=b: new_shot_in_plan(Shot(), w, a, b, 1.2, h))  # fmt: skip
        found[f"{name} at"] = answer_to(
            lambda w=working: new_shot_at(Shot(), w, Stand(position=(1, -3, 1.5), aim=(0, 0, 1)), Habits())
        )
        found[f"{name} from scout"] = answer_to(lambda w=working: new_shot_from_scout(shots()["print"], w, Scout(stand=Stand(position=(3, -3, 1.5), aim=(0, 0, 1)), focal_length_mm=31)))  # fmt: skip
        found[f"{name} habits"] = [
            heights_for(Habits(), working.body, 0.1),
            by_size(Habits(), working.body),
            is_small(working.body),
        ]
        seen = [seen_from(camera_of(shot), x, y, working) for shot in (Shot(), *DEMO_SHOTS) for x, y in ((0.5, 0.5), (0.2, 0.3), (0.9, 0.7))]  # fmt: skip
        found[f"{name} seen"] = seen
        found[f"{name} lifted"] = [
            part_middles(working.model),
            [parts_on_level(working.model, PLACES, level.name) for level in PLACES.levels],
        ]
    found["cut away"] = list(cut_away(blob().vertices, blob().faces, all_above(1.1)))
    found["word"] = geometry_word([blob().vertices[:40], blob().vertices[40:]], 11)
    found["paper"] = [
        answer_to(lambda s=shot, d=drawing: depth_on_paper(camera_of(s), d, 0.7, 2.1))
        for shot in shots().values()
        for drawing in ("plan", "section")
    ]
    return found


def _all_below(kind: type) -> Iterator[type]:
    for one in kind.__subclasses__():
        yield one
        yield from _all_below(one)


def _without_words(schema: Any) -> Any:
    if isinstance(schema, dict):
        return {
            key: _without_words(value)
            for key, value in schema.items()
            if key != "description" or isinstance(value, dict)
        }
    return [_without_words(one) for one in schema] if isinstance(schema, list) else schema


@question
def limits() -> Any:
    """What every setting may be and is by itself."""
    for module in pkgutil.walk_packages(zevlo.core.__path__, "zevlo.core."):
        importlib.import_module(module.name)
    kinds = {
        one.__name__: one
        for one in _all_below(Settings)
        if one.__module__.startswith("zevlo.core") and not isabstract(one)
    }
    found: dict[str, Any] = {}
    for name, kind in sorted(kinds.items()):
        schema = _without_words(kind.model_json_schema())
        schema.pop("$defs", None)
        found[name] = schema
    return {**found, "a plain material": Material("Plain"), "a plain part": Part("Plain", None, 0, 0)}


WRONG: tuple[dict[str, Any], ...] = (
    {"movements": {"tilt_deg": 3}}, {"movements": {"swing_deg": -1}}, {"lens": {"scale_m": 4}}, {"lens": {"projection": "fisheye", "scale_m": 3}},
    {"lens": {"near_m": 2, "far_m": 1}}, {"lens": {"near_m": 2, "far_m": 2}}, {"stand": {"aim": [0, 0, 1.6]}}, {"stand": {"aim": [0, 0, 1.6001]}},
    {"back": {"trim": {"left": 0.5, "right": 0.5}}}, {"back": {"trim": {"top": 0.4, "bottom": 0.59}}}, {"back": {"trim": {"top": 0.7, "bottom": 0.3}}},
    {"focus": {"blur_limit": {"px": 1, "mm": 0.1}}}, {"focus": {"blur_limit": {}}}, {"focus": {"blur_limit": {"print_width_mm": 300}}},
    {"focus": {"blur_limit": {"seen_from_mm": 300}}}, {"focus": {"distance_m": 0.01}}, {"focus": {"distance_m": 0.036}}, {"nothing": 1},
    {"name": ""}, {"name": "x" * 121}, {"left_out": ["A", "A"]}, {"focus": {"blades": 2}}, {"exposure": {"iso": "fast"}},
    {"lens": {"focal_length_mm": float("nan")}}, {"schema": "zevlo.shot/9"}, {"exposure": {"shutter_s": 0}},
)  # fmt: skip


@question
def refusals() -> Any:
    """What is said of shots there cannot be, and what those just within become."""
    return {json.dumps(wrong): answer_to(lambda w=wrong: Shot.model_validate(w)) for wrong in WRONG}


@question
def comparing() -> Any:
    named = list(shots().items())
    found: dict[str, Any] = {}
    for (a, before), (b, after) in zip(named, [*named[1:], named[0]], strict=True):
        found[f"{a} to {b}"] = [f"{one.group}: {one.words}" for one in differences(before, after)]
        found[f"{a} onto {b}"] = {group: answer_to(lambda x=before, y=after, g=group: copied(x, y, [g], WORKING)) for group in COPY_GROUPS}  # fmt: skip
        found[f"shown by {a}"] = [shown(before), shown(before) == shown(after)]
    return found


def main() -> None:
    for old in KEPT.glob("*.json"):
        old.unlink()
    lines = 0
    for name, ask in QUESTIONS.items():
        answers = brief(ask())
        lines_of = [f"{json.dumps(key, ensure_ascii=False)}: {_compact(answers[key])}" for key in sorted(answers)]
        (KEPT / f"{name}.json").write_text("{\n" + ",\n".join(lines_of) + "\n}\n")
        lines += len(lines_of)
    print(f"kept {lines} answers to {len(QUESTIONS)} groups of questions")


def _compact(answer: Any) -> str:
    return json.dumps(answer, ensure_ascii=False, sort_keys=True, separators=(",", ":"))


if __name__ == "__main__":
    main()
