"""Tide Tower Pottery, the demonstration set: a tide-gauge tower and its workshop wing. Made up throughout.

+Y is north. Workshop floor is z = 0; the shore falls 2.4 m southwards to the slip.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from zevlo.core.scene.places.levels import Level, Places, Room
from zevlo.demo import wares
from zevlo.demo.solids import Solid, box, lathe, rectangle, slab, together, wall_east, wall_north

WALL = 0.38
ROOM_NORTH = 5.8
WING_EAST = 12.0
LOFT_FLOOR = 3.2
EAVES, RIDGE = 4.2, 6.7
TOWER = (12.38, 0.7, 16.78, 5.1)
TOWER_TOP = 15.6
TABLE_TOP = LOFT_FLOOR + 0.76
PLACES = Places(
    levels=(
        Level(name="Slip", floor_m=-2.34),
        Level(name="Workshop floor", floor_m=0.0),
        Level(name="Drying loft", floor_m=LOFT_FLOOR),
    ),
    rooms=(
        Room(name="Wheel room", level="Workshop floor", outline=((0, 0), (7.7, 0), (7.7, 5.8), (0, 5.8))),
        Room(name="Glaze bench", level="Workshop floor", outline=((7.86, 4.6), (10.5, 4.6), (10.5, 5.8), (7.86, 5.8))),
        Room(
            name="Kiln",
            level="Workshop floor",
            outline=((7.86, 0), (12, 0), (12, 3.1), (10.5, 3.1), (10.5, 4.6), (7.86, 4.6)),
        ),
        Room(name="Stair", level="Workshop floor", outline=((10.5, 3.1), (12, 3.1), (12, 5.8), (10.5, 5.8))),
        Room(name="Loft", level="Drying loft", outline=((0, 0), (12, 0), (12, 5.8), (0, 5.8))),
    ),
)
"""Levels and rooms as the script lays them out."""


@dataclass
class Piece:
    """One named piece: a solid in one surface, placed ``at`` (x, y, z) and turned, under a group."""

    name: str
    group: str
    shape: str
    surface: str
    at: tuple[float, float, float] = (0.0, 0.0, 0.0)
    turn_deg: float = 0.0


@dataclass
class Layout:
    """Groups with their parents, shapes by name (used again and again), and the pieces."""

    groups: dict[str, str | None] = field(default_factory=dict)
    shapes: dict[str, Solid] = field(default_factory=dict)
    pieces: list[Piece] = field(default_factory=list)

    def group(self, name: str, parent: str | None) -> None:
        self.groups[name] = parent

    def put(self, name: str, group: str, surface: str, solid: Solid) -> None:
        self.shapes[name] = solid
        self.pieces.append(Piece(name, group, name, surface))

    def place(self, name: str, group: str, surface: str, shape: str, at: tuple[float, float, float], turn: float = 0.0) -> None:  # fmt: skip
        self.pieces.append(Piece(name, group, shape, surface, at, turn))


def shore_height(y: np.ndarray) -> np.ndarray:
    """Height of the shore: level by the wing, 2.4 m lower at the slip."""
    t = np.clip((-2.6 - y) / 9.0, 0.0, 1.0)
    return -0.12 - 2.28 * t * t * (3.0 - 2.0 * t)


def layout() -> Layout:
    """The whole set."""
    made = Layout()
    for name, parent in (
        ("Tide Tower Pottery", None), ("Shore", "Tide Tower Pottery"), ("Tower", "Tide Tower Pottery"),
        ("Workshop wing", "Tide Tower Pottery"), ("Walls", "Workshop wing"), ("Wheel room", "Workshop wing"),
        ("Shelf wall", "Wheel room"), ("Long table", "Wheel room"), ("Potter's wheel", "Wheel room"),
        ("Lamps", "Wheel room"), ("Ceiling", "Workshop wing"), ("Glaze bench", "Workshop wing"),
        ("Kiln", "Workshop wing"), ("Stair", "Workshop wing"), ("Drying loft", "Tide Tower Pottery"),
        ("Roof", "Drying loft"), ("Sweep set", "Drying loft"), ("Figure", "Tide Tower Pottery"),
    ):  # fmt: skip
        made.group(name, parent)
    _shore(made)
    _tower(made)
    _wing(made)
    _wheel_room(made)
    _east_rooms(made)
    _loft(made)
    made.put("Standing figure 1.75 m", "Figure", "Wool", wares.figure().moved(10.9, -9.4, float(shore_height(np.array(-9.4)))))  # fmt: skip
    return made


def _shore(made: Layout) -> None:
    xs = np.linspace(-38, 44, 42)
    ys = np.r_[np.linspace(-15, -1.5, 32), np.linspace(0, 38, 14)]
    grid_x, grid_y = np.meshgrid(xs, ys)
    bumps = 0.05 * np.sin(grid_x * 0.9 + grid_y * 0.5) * np.clip((-grid_y - 3) / 3, 0, 1)
    height = shore_height(grid_y) + bumps * np.clip((grid_y + 13) / 2, 0, 1)
    count_x, count_y = len(xs), len(ys)
    top = np.c_[grid_x.ravel(), grid_y.ravel(), height.ravel()]
    faces = []
    for j in range(count_y - 1):
        for i in range(count_x - 1):
            a, b = j * count_x + i, j * count_x + i + 1
            c, d = a + count_x, b + count_x
            faces += [[a, b, d], [a, d, c]]
    skirt = list(range(count_x)) + [j * count_x + count_x - 1 for j in range(1, count_y)]
    skirt += [(count_y - 1) * count_x + i for i in range(count_x - 2, -1, -1)] + [j * count_x for j in range(count_y - 2, 0, -1)]  # fmt: skip
    base = len(top)
    low = top[skirt].copy()
    low[:, 2] = -4.0
    for n in range(len(skirt)):
        m = (n + 1) % len(skirt)
        faces += [[skirt[n], base + n, base + m], [skirt[n], base + m, skirt[m]]]
    vertices = np.vstack([top, low, [[3.0, 11.5, -4.0]]])
    faces += [[base + (n + 1) % len(skirt), base + n, len(vertices) - 1] for n in range(len(skirt))]
    made.put("Shore", "Shore", "Turf", Solid(vertices, np.array(faces)))
    ramp = slab([(-13.0, -2.34), (-13.0, -3.2), (-34.0, -3.2)], [], 15.0, 22.0)
    made.put("Slip", "Shore", "Floor flags", ramp.mapped(np.array([[0, 0, 1.0], [1.0, 0, 0], [0, 1.0, 0]])))
    made.put("Water", "Shore", "Water", box((-260, -420, -3.4), (280, -14.5, -2.62)))
    risers = []
    for n in range(14):
        z = -2.28 + n * 0.155
        risers.append(box((8.4, -9.6 + n * 0.42, z - 0.5), (10.2, -9.6 + (n + 1) * 0.42 + 0.02, z + 0.155)))
    made.put("Steps", "Shore", "Dressed stone", together(risers))
    made.put("Path", "Shore", "Floor flags", box((8.2, -3.75, -0.4), (10.4, -WALL, -0.08)))
    for n, x in enumerate((17.3, 20.9, 24.5)):
        post = lathe([(0.12, -3.2), (0.11, -1.2), (0.13, -1.18), (0.13, -1.1), (0.09, -1.04)], 20)
        made.put(f"Mooring post {n + 1}", "Shore", "Dark oak", post.moved(x, -14.2, 0.0))


def _tower(made: Layout) -> None:
    x0, y0, x1, y1 = TOWER
    thick, stage_height = 0.62, 4.3
    for stage in range(3):
        low, inset = -0.6 if stage == 0 else stage * stage_height, 0.1 * stage
        high = (stage + 1) * stage_height
        a, b, c, d = x0 + inset, y0 + inset, x1 - inset, y1 - inset
        sill, head = stage * stage_height + 1.25, stage * stage_height + (2.75 if stage == 2 else 3.35)
        middle_x, middle_y, half = (a + c) / 2, (b + d) / 2, 0.46 - 0.05 * stage
        arch = [(np.cos(t), np.sin(t)) for t in np.linspace(0, np.pi, 13)]

        def opening(centre: float, half: float, sill: float, head: float, arch: list[tuple[float, float]]) -> list[tuple[float, float]]:  # fmt: skip
            spring = head - half
            return [(centre - half, sill), (centre + half, sill)] + [(centre + half * u, spring + half * v) for u, v in arch]  # fmt: skip

        hole_x, hole_y = opening(middle_x, half, sill, head, arch), opening(middle_y, half, sill, head, arch)
        outline_x = rectangle(a, low, c, high)
        outline_y = rectangle(b + thick, low, d - thick, high)
        walls = [
            wall_east(b, thick, outline_x, [hole_x]),
            wall_east(d - thick, thick, outline_x, [hole_x]),
            wall_north(c - thick, thick, outline_y, [hole_y]),
            wall_north(a, thick, outline_y, [] if stage == 0 else [hole_y]),
        ]
        made.put(f"Tower stage {stage + 1}", "Tower", "Rubble stone", together(walls))
        made.put(f"Tower floor {stage + 1}", "Tower", "Floorboards", box((a + thick, b + thick, high - 0.2), (c - thick, d - thick, high)))  # fmt: skip
        out = 0.13
        ring = slab(rectangle(a - out, b - out, c + out, d + out), [rectangle(a + 0.3, b + 0.3, c - 0.3, d - 0.3)], high - 0.14, high + 0.12)  # fmt: skip
        made.put(f"String course {stage + 1}", "Tower", "Dressed stone", ring)
        sills = [box((middle_x - half - 0.12, b - 0.07, sill - 0.13), (middle_x + half + 0.12, b + 0.3, sill)),
                 box((c - 0.3, middle_y - half - 0.12, sill - 0.13), (c + 0.07, middle_y + half + 0.12, sill))]  # fmt: skip
        made.put(f"Tower sills {stage + 1}", "Tower", "Dressed stone", together(sills))
        bars = []
        for y in (b + 0.4, d - 0.45):
            bars += [box((middle_x - 0.025, y, sill), (middle_x + 0.025, y + 0.05, head)),
                     box((middle_x - half, y, (sill + head) / 2 - 0.02), (middle_x + half, y + 0.05, (sill + head) / 2 + 0.02))]  # fmt: skip
        for x in (c - 0.45,):
            bars += [box((x, middle_y - 0.025, sill), (x + 0.05, middle_y + 0.025, head)),
                     box((x, middle_y - half, (sill + head) / 2 - 0.02), (x + 0.05, middle_y + half, (sill + head) / 2 + 0.02))]  # fmt: skip
        made.put(f"Tower glazing bars {stage + 1}", "Tower", "White enamel", together(bars))
    a, b, c, d = x0 + 0.2, y0 + 0.2, x1 - 0.2, y1 - 0.2
    wall = [rectangle(a, b, c, d), rectangle(a + 0.35, b + 0.35, c - 0.35, d - 0.35)]
    made.put("Parapet", "Tower", "Dressed stone", slab(wall[0], [wall[1]], 12.9, 13.75))
    merlons = []
    for t in np.linspace(0, 1, 5):
        x, y = a + 0.2 + t * (c - a - 0.7), b + 0.2 + t * (d - b - 0.7)
        merlons += [box((x - 0.2, b, 13.75), (x + 0.5, b + 0.35, 14.1)), box((x - 0.2, d - 0.35, 13.75), (x + 0.5, d, 14.1))]  # fmt: skip
        merlons += [box((a, y - 0.2, 13.75), (a + 0.35, y + 0.5, 14.1)), box((c - 0.35, y - 0.2, 13.75), (c, y + 0.5, 14.1))]  # fmt: skip
    made.put("Merlons", "Tower", "Dressed stone", together(merlons[:4] + merlons[8:12] + merlons[16:]))
    middle = ((a + c) / 2, (b + d) / 2)
    hut = lathe([(0.95, 12.9), (0.95, 14.15), (1.12, 14.2), (1.12, 14.28), (0.7, 14.75), (0.18, 15.1), (0.05, 15.2), (0.05, TOWER_TOP)], 8)  # fmt: skip
    made.put("Gauge hut", "Tower", "Slate", hut.turned(22.5).moved(middle[0], middle[1]))
    upright = np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]])
    dial = lathe([(0.5, -0.02), (0.5, 0.05), (0.44, 0.07)], 48).mapped(upright)
    hand = together([box((-0.015, -0.03, -0.06), (0.015, 0, 0.38)), box((-0.1, -0.03, -0.03), (0.1, 0, 0.03))])
    made.put("Tide dial", "Tower", "Dial", dial.moved(middle[0], y0 + 0.2, 12.02))
    made.put("Tide hand", "Tower", "Blackened iron", hand.moved(middle[0], y0 + 0.12, 12.02))


WEST_WINDOWS = (1.05, 2.9, 4.75)


def _wing(made: Layout) -> None:
    north = ROOM_NORTH
    made.put("Floor", "Walls", "Floor flags", box((-WALL, -WALL, -0.3), (WING_EAST + WALL, north + WALL, 0.0)))
    windows = [rectangle(y - 0.56, 0.82, y + 0.56, 2.72) for y in WEST_WINDOWS]
    half = (-WALL + north + WALL) / 2
    gable = [(-WALL, 0), (north + WALL, 0), (north + WALL, EAVES), (half, RIDGE), (-WALL, EAVES)]
    loft_window = rectangle(half - 0.55, LOFT_FLOOR + 0.9, half + 0.55, LOFT_FLOOR + 2.2)
    made.put("West wall", "Walls", "Limewash", wall_north(-WALL, WALL, gable, [*windows, loft_window]))
    made.put("East wall", "Walls", "Limewash", wall_north(WING_EAST, WALL, gable, []))
    south = [(0, 0), (8.75, 0), (8.75, 2.2), (9.85, 2.2), (9.85, 0), (WING_EAST, 0), (WING_EAST, EAVES), (0, EAVES)]
    south_windows = [rectangle(2.5, 0.95, 3.7, 2.6), rectangle(4.5, 0.95, 5.7, 2.6), rectangle(10.5, 0.95, 11.5, 2.4)]
    made.put("South wall", "Walls", "Limewash", wall_east(-WALL, WALL, south, south_windows))
    made.put("North wall", "Walls", "Limewash", wall_east(north, WALL, rectangle(0, 0, WING_EAST, EAVES), []))
    partition = [(0, 0), (1.0, 0), (1.0, 2.1), (1.95, 2.1), (1.95, 0), (north, 0), (north, LOFT_FLOOR - 0.1), (0, LOFT_FLOOR - 0.1)]  # fmt: skip
    made.put("Partition", "Walls", "Limewash", wall_north(7.7, 0.16, partition, []))
    frames, sills = [], []
    for y in WEST_WINDOWS:
        frames += _frame(wall_north, y - 0.56, 0.82, y + 0.56, 2.72, -0.24)
        sills.append(box((-0.2, y - 0.62, 0.78), (0.1, y + 0.62, 0.82)))
    for x, w, top in ((2.5, 1.2, 2.6), (4.5, 1.2, 2.6), (10.5, 1.0, 2.4)):
        frames += _frame(wall_east, x, 0.95, x + w, top, -0.24)
        sills.append(box((x - 0.06, -0.2, 0.91), (x + w + 0.06, 0.1, 0.95)))
    frames += _frame(wall_north, half - 0.55, LOFT_FLOOR + 0.9, half + 0.55, LOFT_FLOOR + 2.2, -0.24)
    made.put("Window frames", "Walls", "Blackened iron", together(frames))
    made.put("Window sills", "Walls", "Oiled oak", together(sills))
    leaf = together([box((0, 0, 0.02), (1.06, 0.05, 2.16)), box((0.9, -0.05, 0.98), (0.97, 0.0, 1.1))])
    made.put("Front door", "Walls", "Dark oak", leaf.turned(-78).moved(8.8, -0.36))
    beams = [box((x - 0.1, 0, LOFT_FLOOR - 0.36), (x + 0.1, north, LOFT_FLOOR - 0.1)) for x in (0.95, 2.45, 3.95, 5.45, 6.95, 9.1, 10.6)]  # fmt: skip
    made.put("Beams", "Ceiling", "Oiled oak", together(beams))
    stair_hole = rectangle(10.55, 3.1, 11.75, 5.75)
    made.put("Ceiling boards", "Ceiling", "Floorboards", slab(rectangle(0, 0, WING_EAST, north), [stair_hole], LOFT_FLOOR - 0.1, LOFT_FLOOR))  # fmt: skip


def _frame(wall, a: float, low: float, b: float, high: float, depth: float) -> list[Solid]:  # type: ignore[no-untyped-def]
    """A window frame with a middle bar and a transom, set back in its wall."""
    t, middle, transom = 0.05, (a + b) / 2, low + 0.62 * (high - low)
    outer = rectangle(a, low, b, high)
    panes = [
        rectangle(a + t, low + t, middle - 0.02, transom - 0.02),
        rectangle(middle + 0.02, low + t, b - t, transom - 0.02),
        rectangle(a + t, transom + 0.02, middle - 0.02, high - t),
        rectangle(middle + 0.02, transom + 0.02, b - t, high - t),
    ]
    return [wall(depth, 0.06, outer, panes)]


GLAZES = ("Terracotta", "Celadon", "Oatmeal glaze", "Tenmoku", "Raw clay", "Red slip", "Terracotta", "Cobalt glaze", "Oatmeal glaze")  # fmt: skip


def _wheel_room(made: Layout) -> None:
    rng = np.random.default_rng(156)
    for shape, solid in wares.pots().items():
        made.shapes[shape] = solid
    shapes = tuple(wares.pots())
    back, deep = ROOM_NORTH, 0.36
    levels = (0.42, 0.88, 1.3, 1.72, 2.14, 2.5)
    uprights = [box((x - 0.025, back - deep, 0.0), (x + 0.025, back, 2.56)) for x in (2.3, 3.65, 5.0, 6.35, 7.55)]
    boards = [box((2.3, back - deep, z - 0.035), (7.55, back, z)) for z in levels]
    made.put("Shelf uprights", "Shelf wall", "Oiled oak", together(uprights))
    made.put("Shelf boards", "Shelf wall", "Oiled oak", together(boards))
    number = 0
    for level, z in enumerate(levels):
        x = 2.5 + 0.05 * (level % 3)
        while x < 7.4:
            shape = shapes[int(rng.integers(len(shapes)))]
            half = {"Plate": 0.15, "Crock": 0.14, "Bowl": 0.14}.get(shape, 0.1)
            tall = shape in ("Tall bottle", "Vase") and level < 5
            if (
                not (tall and level in (1, 2, 3))
                and min(abs(x - u) for u in (2.3, 3.65, 5.0, 6.35, 7.55)) > half + 0.03
            ):
                number += 1
                glaze = GLAZES[int(rng.integers(len(GLAZES)))]
                y = back - deep / 2 + float(rng.uniform(-0.04, 0.04))
                made.place(f"{shape} {number}", "Shelf wall", glaze, shape, (round(x, 3), round(y, 3), z))
            x += 2 * half + float(rng.uniform(0.03, 0.14))
    table = [box((2.35, 2.2, 0.7), (5.15, 3.2, 0.76)), box((2.5, 2.32, 0.6), (5.0, 3.08, 0.7))]
    table += [box((x - 0.045, y - 0.045, 0), (x + 0.045, y + 0.045, 0.7)) for x in (2.48, 5.02) for y in (2.34, 3.06)]
    made.put("Long table top and legs", "Long table", "Oiled oak", together(table))
    for name, shape, glaze, x, y in (
        ("Table crock", "Crock", "Terracotta", 2.95, 2.95), ("Table bowl", "Bowl", "Celadon", 3.5, 2.55),
        ("Table jar", "Jar", "Red slip", 3.32, 2.98), ("Table vase", "Vase", "Oatmeal glaze", 4.35, 2.78),
        ("Table beaker", "Beaker", "Cobalt glaze", 4.08, 2.42), ("Second beaker", "Beaker", "Oatmeal glaze", 4.62, 2.5),
        ("Table plate", "Plate", "Raw clay", 3.9, 2.95),
    ):  # fmt: skip
        made.place(name, "Long table", glaze, shape, (x, y, 0.76))
    made.shapes["Stool"] = wares.stool()
    for n, (x, y) in enumerate(((2.9, 1.75), (4.3, 1.65), (3.6, 3.7), (0.95, 1.62))):
        made.place(f"Stool {n + 1}", "Long table", "Oiled oak", "Stool", (x, y, 0.0), 20.0 * n)
    surfaces = {"Wheel frame": "Dark oak", "Wheel pan": "White enamel", "Wheel head": "Blackened iron"}
    for name, solid in wares.wheel().items():
        made.put(name, "Potter's wheel", surfaces.get(name, "Raw clay"), solid.moved(0.95, 2.35))
    shade, glass = wares.pendant(0.95)
    made.shapes["Pendant shade"], made.shapes["Pendant glass"] = shade, glass
    for n, x in enumerate((2.8, 4.6)):
        made.place(f"Pendant shade {n + 1}", "Lamps", "Blackened iron", "Pendant shade", (x, 2.7, LOFT_FLOOR - 0.1))
        made.place(f"Pendant glass {n + 1}", "Lamps", "Lamp glass", "Pendant glass", (x, 2.7, LOFT_FLOOR - 0.1))


def _east_rooms(made: Layout) -> None:
    bench = [box((8.3, 5.1, 0.86), (10.3, 5.75, 0.92)), box((8.36, 5.2, 0), (8.42, 5.7, 0.86)), box((10.18, 5.2, 0), (10.24, 5.7, 0.86)), box((8.36, 5.2, 0.3), (10.24, 5.7, 0.34))]  # fmt: skip
    made.put("Bench", "Glaze bench", "Oiled oak", together(bench))
    for n, (x, glaze) in enumerate(
        ((8.6, "Cobalt glaze"), (8.95, "Celadon"), (9.35, "Tenmoku"), (9.8, "Oatmeal glaze"))
    ):
        made.place(f"Glaze tub {n + 1}", "Glaze bench", glaze, "Crock", (x, 5.45, 0.92))
    kiln = [box((8.1, 3.3, 0.0), (9.2, 4.4, 1.35)), box((8.05, 3.25, 1.35), (9.25, 4.45, 1.5))]
    made.put("Kiln body", "Kiln", "Kiln brick", together(kiln))
    made.put("Kiln door", "Kiln", "Blackened iron", box((9.2, 3.45, 0.3), (9.26, 4.25, 1.15)))
    made.put(
        "Kiln flue", "Kiln", "Blackened iron", lathe([(0.09, 1.5), (0.09, LOFT_FLOOR + 0.3)], 20).moved(8.65, 3.85)
    )
    steps = []
    for n in range(16):
        steps.append(box((10.65, 5.7 - (n + 1) * 0.162, n * 0.2), (11.65, 5.7 - n * 0.162, (n + 1) * 0.2)))
    made.put("Stair flight", "Stair", "Oiled oak", together(steps))


def _loft(made: Layout) -> None:
    middle = ROOM_NORTH / 2
    out, thick = 0.45, 0.16
    slope = (RIDGE - EAVES) / (middle + WALL)
    for name, sign in (("South slope", -1.0), ("North slope", 1.0)):
        length = np.hypot(middle + WALL + out, slope * (middle + WALL + out))
        lights = [rectangle(x, 1.15, x + 1.0, 2.35) for x in ((3.0, 5.4) if sign > 0 else (8.4,))]
        flat = slab(rectangle(-WALL - 0.3, 0, WING_EAST + WALL, length), lights, 0.0, thick)
        run, rise = (middle + WALL + out) / length, slope * (middle + WALL + out) / length
        tilt = np.array([[1, 0, 0], [0, run, rise], [0, -rise, run]])
        carried = flat.mapped(tilt).moved(0, 0, RIDGE + 0.02)
        if sign < 0:
            carried = Solid(carried.vertices * [1, -1, 1], carried.faces[:, ::-1])
        made.put(name, "Roof", "Slate", carried.moved(0, middle))
    ridge = box((-WALL - 0.32, middle - 0.13, RIDGE + 0.06), (WING_EAST + WALL, middle + 0.13, RIDGE + 0.22))
    made.put("Ridge", "Roof", "Slate", ridge)
    rafters = []
    for x in np.linspace(1.2, 10.8, 5):
        rafters.append(box((x - 0.07, 0.35, EAVES + 0.35), (x + 0.07, ROOM_NORTH - 0.35, EAVES + 0.52)))
    made.put("Collar beams", "Roof", "Oiled oak", together(rafters))
    legs = [box((x - 0.03, y - 0.03, LOFT_FLOOR), (x + 0.03, y + 0.03, TABLE_TOP - 0.04)) for x in (3.1, 5.1) for y in (2.05, 3.75)]  # fmt: skip
    made.put("Sweep table", "Sweep set", "Oiled oak", together([*legs, box((3.0, 1.95, TABLE_TOP - 0.04), (5.2, 3.85, TABLE_TOP))]))  # fmt: skip
    made.put("Sweep", "Sweep set", "Paper sweep", wares.sweep(2.0, 1.3, 0.4, 1.15).moved(4.1, 2.05, TABLE_TOP + 0.005))
    top = TABLE_TOP + 0.006
    made.put("Teapot", "Sweep set", "Celadon", wares.teapot().turned(-24).moved(4.08, 2.78, top))
    made.shapes["Cup"] = wares.cup()
    made.place("Cup 1", "Sweep set", "Oatmeal glaze", "Cup", (4.27, 2.6, top))
    made.place("Cup 2", "Sweep set", "Terracotta", "Cup", (3.9, 2.55, top))
    panel = box((-0.6, -0.5, -0.01), (0.6, 0.5, 0.01))
    c, s = np.cos(np.radians(28)), np.sin(np.radians(28))
    panel = panel.mapped([[c, 0, -s], [0, 1, 0], [s, 0, c]]).moved(3.0, 2.5, TABLE_TOP + 1.35)
    made.put("Light panel", "Sweep set", "Panel light", panel)
    rack = [box((x - 0.03, y - 0.03, LOFT_FLOOR), (x + 0.03, y + 0.03, LOFT_FLOOR + 1.3)) for x in (7.0, 9.6) for y in (4.7, 5.3)]  # fmt: skip
    rack += [box((7.0, 4.7, z), (9.6, 5.3, z + 0.03)) for z in (LOFT_FLOOR + 0.3, LOFT_FLOOR + 0.75, LOFT_FLOOR + 1.2)]
    made.put("Drying rack", "Drying loft", "Oiled oak", together(rack))
    for n in range(9):
        z = LOFT_FLOOR + (0.33, 0.78)[n % 2]
        made.place(
            f"Drying jar {n + 1}", "Drying loft", "Raw clay", ("Jar", "Bowl", "Crock")[n % 3], (7.25 + 0.27 * n, 5.0, z)
        )
