"""What a pottery makes and works with: pots, teapot, cups, wheel, stools, lamps, the standing figure."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator

from zevlo.demo.solids import Solid, box, lathe, together, tube


def _thrown(profile: list[tuple[float, float]], each: int = 4) -> list[tuple[float, float]]:
    """A smooth curve through a profile, as thrown clay runs, with ``each`` points from one to the next."""
    points = np.array(profile)
    along = np.r_[0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))]
    where = np.interp(np.arange((len(points) - 1) * each + 1) / each, np.arange(len(points)), along)
    smooth = PchipInterpolator(along, points, axis=0)(where)
    return [(float(r), float(z)) for r, z in smooth]


def _hollow(outside: list[tuple[float, float]], wall: float) -> Solid:
    """A pot from its outside profile: the inside follows at ``wall`` down to the foot."""
    outside = _thrown(outside, 2)
    inside = [(max(r - wall, 0.004), z) for r, z in outside[::-1]]
    foot = outside[0][1] + wall
    inside = [(r, max(z, foot)) for r, z in inside if z > foot] + [(max(outside[0][0] - wall, 0.004), foot)]
    return lathe([*outside, *inside, (0.0, foot)], 22)


def pots() -> dict[str, Solid]:
    """Shapes of thrown pots, standing on z = 0."""
    return {
        "Jar": _hollow([(0.05, 0), (0.085, 0.05), (0.1, 0.12), (0.09, 0.19), (0.06, 0.225), (0.066, 0.24)], 0.008),
        "Bowl": _hollow([(0.045, 0), (0.05, 0.012), (0.1, 0.05), (0.128, 0.1)], 0.007),
        "Beaker": _hollow([(0.045, 0), (0.05, 0.02), (0.053, 0.09), (0.058, 0.13)], 0.006),
        "Vase": _hollow([(0.045, 0), (0.08, 0.06), (0.088, 0.14), (0.06, 0.24), (0.034, 0.3), (0.046, 0.34)], 0.007),
        "Crock": _hollow([(0.11, 0), (0.13, 0.04), (0.132, 0.2), (0.118, 0.235), (0.126, 0.25)], 0.011),
        "Plate": _hollow([(0.07, 0), (0.09, 0.012), (0.14, 0.03)], 0.006),
        "Tall bottle": _hollow([(0.06, 0), (0.075, 0.08), (0.07, 0.2), (0.026, 0.28), (0.022, 0.36), (0.03, 0.38)], 0.006),
    }  # fmt: skip


def teapot() -> Solid:
    """A round-bellied teapot, 24 cm over spout and handle, spout to the east."""
    belly = [(0.05, 0), (0.056, 0.008), (0.082, 0.03), (0.095, 0.065), (0.09, 0.1), (0.066, 0.128), (0.045, 0.136)]
    body = lathe(_thrown(belly, 6), 72)
    cap = [
        (0.046, 0.141),
        (0.03, 0.153),
        (0.012, 0.159),
        (0.009, 0.165),
        (0.015, 0.176),
        (0.012, 0.184),
        (0.001, 0.187),
    ]
    lid = lathe([(0.046, 0.134), *_thrown(cap, 5)], 56)
    t = np.linspace(0, 1, 18)
    spout = np.c_[0.078 + 0.078 * t, 0 * t, 0.05 + 0.03 * t + 0.055 * t**2.2]
    handle_angle = np.linspace(0.62 * np.pi, 1.42 * np.pi, 26)
    handle = np.c_[-0.072 + 0.066 * np.cos(handle_angle), 0 * handle_angle, 0.072 + 0.05 * np.sin(handle_angle)]
    return together([body, lid, tube(spout, 0.021 - 0.0125 * t), tube(handle, np.full(26, 0.0068))])


def cup() -> Solid:
    """A handleless tea cup, 7 cm high."""
    return _hollow([(0.022, 0), (0.024, 0.008), (0.034, 0.02), (0.04, 0.045), (0.043, 0.07)], 0.003)


def sweep(width: float, floor: float, bend: float, back: float, thick: float = 0.004) -> Solid:
    """A seamless sweep: level floor running north, a bend of radius ``bend``, an upright back."""
    angle = np.linspace(0, np.pi / 2, 20)
    line = [(0.0, 0.0), (floor, 0.0)]
    line += [(floor + bend * np.sin(a), bend - bend * np.cos(a)) for a in angle[1:]]
    line.append((floor + bend, back))
    points = np.array(line)
    along = np.gradient(points, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    lower = points + thick * np.c_[along[:, 1], -along[:, 0]]
    ring = np.vstack([points, lower[::-1]])
    count = len(points)
    vertices = np.vstack([np.c_[np.full(2 * count, -width / 2), ring], np.c_[np.full(2 * count, width / 2), ring]])
    faces = []
    for n in range(2 * count):
        m = (n + 1) % (2 * count)
        a, b = n, m
        faces += [[a, a + 2 * count, b + 2 * count], [a, b + 2 * count, b]]
    for n in range(count - 1):
        p, q, r, s = n, n + 1, 2 * count - 2 - n, 2 * count - 1 - n
        faces += [[p, q, r], [p, r, s]]
        faces += [[p + 2 * count, r + 2 * count, q + 2 * count], [p + 2 * count, s + 2 * count, r + 2 * count]]
    return Solid(vertices, np.array(faces))


def wheel() -> dict[str, Solid]:
    """A potter's wheel with its pan, and a lump of clay on it."""
    frame = together([box((-0.42, -0.3, 0.08), (0.34, 0.3, 0.16))] + [
        box((x - 0.03, y - 0.03, 0), (x + 0.03, y + 0.03, 0.5)) for x in (-0.38, 0.3) for y in (-0.26, 0.26)
    ])  # fmt: skip
    pan = lathe([(0.3, 0.44), (0.34, 0.46), (0.35, 0.58), (0.34, 0.58), (0.325, 0.475), (0.0, 0.475)], 40)
    head = lathe([(0.03, 0.1), (0.03, 0.53), (0.165, 0.535), (0.165, 0.555)], 40)
    clay = _hollow([(0.1, 0.556), (0.105, 0.58), (0.12, 0.66), (0.1, 0.74)], 0.014)
    return {"Wheel frame": frame, "Wheel pan": pan, "Wheel head": head, "Clay on the wheel": clay}


def stool(height: float = 0.5) -> Solid:
    seat = lathe([(0.16, height - 0.04), (0.17, height - 0.03), (0.17, height - 0.008), (0.155, height)], 32)
    legs = []
    for angle in np.radians([45, 135, 225, 315]):
        foot = np.array([0.19 * np.cos(angle), 0.19 * np.sin(angle), 0.0])
        top = np.array([0.11 * np.cos(angle), 0.11 * np.sin(angle), height - 0.03])
        legs.append(tube(np.linspace(foot, top, 4), np.full(4, 0.016), 10))
    return together([seat, *legs])


def pendant(drop: float) -> tuple[Solid, Solid]:
    """A lamp hanging by ``drop`` from z = 0: shade with cord, and the glowing glass."""
    top = -drop
    shade = lathe([(0.20, top - 0.2), (0.205, top - 0.2), (0.2, top - 0.03), (0.04, top), (0.012, top + 0.05),
                   (0.006, top + 0.06), (0.006, -0.004), (0.05, -0.004), (0.05, 0.0)], 36)  # fmt: skip
    glass = [(0.0, top - 0.34), (0.055, top - 0.32), (0.08, top - 0.27), (0.055, top - 0.235), (0.0, top - 0.2)]
    inside = lathe(glass, 24)
    return shade, inside


def figure() -> Solid:
    """A standing figure of 1.75 m for scale."""
    body = lathe([(0.0, 0.8), (0.15, 0.82), (0.165, 1.0), (0.15, 1.15), (0.19, 1.38), (0.12, 1.46), (0.055, 1.5), (0.052, 1.54), (0.085, 1.6), (0.092, 1.66), (0.07, 1.73), (0.0, 1.75)], 24)  # fmt: skip
    body = Solid(body.vertices * [1.0, 0.68, 1.0], body.faces)
    legs = [
        tube([(x, 0, 0.0), (x, 0, 0.1), (x, 0, 0.5), (x * 0.95, 0, 0.86)], [0.055, 0.055, 0.07, 0.085], 14)
        for x in (-0.09, 0.09)
    ]
    arms = [
        tube([(0.19 * s, 0, 1.38), (0.235 * s, 0, 1.1), (0.22 * s, 0.06, 0.84)], [0.05, 0.042, 0.035], 12)
        for s in (-1, 1)
    ]
    return together([body, *legs, *arms])
