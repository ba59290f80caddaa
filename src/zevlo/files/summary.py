"""What is told of a set without opening its arrays: sizes, parts, how it was placed, levels and rooms it brought."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from zevlo.core.arrays import Floats
from zevlo.core.light.site import Site
from zevlo.core.refused import Refused
from zevlo.core.scene.model.body import body_box
from zevlo.core.scene.model.placing import UNITS_M, Placing, bounds_in, matrix_of, moved_to_origin, placed
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.model.unit_guess import guess_unit, guess_up
from zevlo.core.scene.places.levels import Places, places_moved
from zevlo.files.limits import LARGEST_EXTENT_M
from zevlo.files.reading import FromFile
from zevlo.files.refusal import CannotRead
from zevlo.text import models as say

_DIRECTIONS = 160


def first_placing(read: FromFile) -> tuple[Placing, list[str]]:
    """How a set is placed at first, and which of ``unit`` and ``up`` had to be guessed."""
    guessed = [what for what, said in (("unit", read.metres_per_unit), ("up", read.up)) if said is None]
    up = read.up or guess_up(read.model, read.likely_up)
    metres = read.metres_per_unit or UNITS_M[guess_unit(read.model, up, read.likely_unit)]
    try:
        placing = moved_to_origin(read.model.bounds, Placing(metres_per_unit=metres, up=up))
    except Refused as reason:
        raise CannotRead(str(reason)) from reason
    extent = float((bounds_in(read.model.bounds, placing)[1] - bounds_in(read.model.bounds, placing)[0]).max())
    if extent > LARGEST_EXTENT_M:
        unit = placing.unit or f"{metres:g} m"
        raise CannotRead(say.the_model_would_be_km(extent / 1000, unit))
    return placing, guessed


def in_world(read: FromFile) -> SetModel:
    """The set of a file in the world, placed as it would be at first."""
    return placed(read.model, first_placing(read)[0])


def extremes(vertices: Floats) -> Floats:
    """The points farthest out in many directions (n, 3): they hold the set's box however it is turned."""
    n = np.arange(_DIRECTIONS) + 0.5
    polar, around = np.arccos(1.0 - 2.0 * n / _DIRECTIONS), np.pi * (1.0 + 5.0**0.5) * n
    directions = np.stack([np.cos(around) * np.sin(polar), np.sin(around) * np.sin(polar), np.cos(polar)], axis=1)
    directions = np.concatenate([np.eye(3), -np.eye(3), directions])
    # One direction at a time: all at once would be an array many times the set.
    found = np.unique([int(np.argmax(vertices @ direction)) for direction in directions])
    farthest: Floats = vertices[found]
    return farthest


def body_of(summary: dict[str, Any], placing: Placing) -> list[list[float]]:
    """The box of a set's body in the world; the whole set's where there is not much around it."""
    whole = np.array(bounds_of(summary, placing))
    inner = bounds_in(np.array(summary.get("body", whole)), placing) if "body" in summary else whole
    size, all_of_it = inner[1] - inner[0], whole[1] - whole[0]
    margin = 0.15 * float(size[:2].max()) + 0.05
    for axis in range(3):
        if all_of_it[axis] < 2.0 * size[axis] + 2.0 * margin or (axis == 2 and all_of_it[2] < 3.0 * size[2]):
            inner[:, axis] = whole[:, axis]
        else:
            inner[0, axis] = max(inner[0, axis] - margin, whole[0, axis])
            inner[1, axis] = min(inner[1, axis] + margin, whole[1, axis])
    return inner.tolist()  # type: ignore[no-any-return]


def summary_of(read: FromFile, seconds: float) -> dict[str, Any]:
    """The summary as JSON. Lengths of the box are the file's; levels and rooms are in the world."""
    model = read.model
    placing, guessed = first_placing(read)
    matrix = matrix_of(placing)
    # They are in metres already.
    turned = matrix.copy()
    turned[:3, :3] /= read.metres_per_unit or 1.0
    places = places_moved(Places(levels=read.levels, rooms=read.rooms), turned)
    site = Site(
        north_deg=(read.north_deg or 0.0) % 360.0, latitude_deg=read.latitude_deg, longitude_deg=read.longitude_deg
    )
    return {
        "kind": read.kind,
        "triangles": len(model.faces),
        "extremes": extremes(model.vertices).tolist(),
        "body": body_box(model, "xyz".index(placing.up)).tolist(),
        "parts": [
            {"name": p.name, "parent": p.parent, "triangles": p.face_count, "id": id_}
            for p, id_ in zip(model.parts, model.ids, strict=True)
        ],
        "materials": len(model.materials) - 1,
        "textures": len(model.pictures),
        "placing": placing.model_dump(mode="json"),
        "guessed": guessed,
        "said": {"metres_per_unit": read.metres_per_unit, "up": read.up},
        "remarks": _few(read.remarks),
        "places": places.in_order().model_dump(mode="json"),
        "site": site.model_dump(mode="json"),
        "seconds": round(seconds, 3),
    }


def _few(remarks: tuple[str, ...], most: int = 12) -> list[str]:
    shown = list(dict.fromkeys(remarks))
    return shown if len(shown) <= most else [*shown[:most], say.and_more_of_this_kind(len(shown) - most)]


def outline_of(summary: dict[str, Any], placing: Placing) -> list[tuple[float, float]]:
    """The set seen from the south, (x, z): the convex outline round its extremes."""
    matrix = matrix_of(placing)
    points = np.array(summary["extremes"]) @ matrix[:3, :3].T + matrix[:3, 3]
    around = shapely.MultiPoint(points[:, [0, 2]]).convex_hull
    if around.geom_type != "Polygon":
        around = around.buffer(0.001, cap_style="square")
    return [(float(x), float(z)) for x, z in around.exterior.coords[:-1]]


def bounds_of(summary: dict[str, Any], placing: Placing) -> list[list[float]]:
    """Lowest and highest corner of the set in the world, from its extremes."""
    matrix = matrix_of(placing)
    points = np.array(summary["extremes"]) @ matrix[:3, :3].T + matrix[:3, 3]
    return [points.min(axis=0).tolist(), points.max(axis=0).tolist()]
