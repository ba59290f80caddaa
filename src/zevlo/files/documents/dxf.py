"""A drawing to scale as DXF, in the set's own size: what is a millimetre on paper is as much as that stands for."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
import shapely
from ezdxf import bbox
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from zevlo.core.arrays import Floats
from zevlo.core.documents.page.paper import WHITE, Area, Lines, Page, Picture, ToScale, Words
from zevlo.core.scene.model.placing import UNITS_M
from zevlo.core.scene.places.rooms import solid_areas
from zevlo.text import documents as say

VERSION = "R2010"
CAPITALS = 0.69
"""How high a capital of Archivo is, in shares of its size: DXF counts that."""
COLOURS = {
    "walls": 7, "beyond": 8, "rooms": 8, "stands": 1, "angles": 3, "measures": 7, "words": 7, "frame": 8,
}  # fmt: skip
"""By the numbers colours have in DXF: 7 is black on white, 8 grey, 1 red, 3 green."""
PENS, THIN = {"walls": 35, "stands": 25, "angles": 18, "measures": 18}, 13
"""How broad lines are, in hundredths of a mm: of those DXF knows."""
_ANCHORS = {
    "start": TextEntityAlignment.LEFT, "middle": TextEntityAlignment.CENTER, "end": TextEntityAlignment.RIGHT,
}  # fmt: skip


_UNIT_CODES = {"in": 1, "ft": 2, "mm": 4, "cm": 5, "m": 6}
"""$INSUNITS."""


def write_dxf(page: Page, unit: str) -> bytes:
    """A page with a drawing to scale as DXF, in a unit of :data:`UNITS_M`."""
    if page.scale is None:
        raise ValueError(say.THIS_PAGE_IS_NOT_TO_SCALE)
    drawing = new(VERSION, units=_UNIT_CODES[unit])
    for name, colour in COLOURS.items():
        drawing.layers.add(name, color=colour, lineweight=PENS.get(name, THIN))
    drawing.styles.add("words", font="arial.ttf")
    space = drawing.modelspace()
    size = page.scale.metres_per_mm / UNITS_M[unit]
    for mark in page.marks:
        if isinstance(mark, Picture):
            raise ValueError(say.A_DRAWING_HAS_NO_PICTURES)
        if isinstance(mark, Words):
            _words(space, mark, page.scale, unit, size)
        elif isinstance(mark, Lines):
            for run in mark.runs:
                _run(space, _in_unit(run, page.scale, unit), mark.layer, False)
        else:
            _area(space, mark, [_in_unit(ring, page.scale, unit) for ring in mark.rings])
    extents = bbox.extents(space, fast=True)
    if extents.has_data:
        # Where a program that opens it looks first.
        space.reset_extents(extents.extmin, extents.extmax)
        drawing.set_modelspace_vport(height=float(extents.size.y) * 1.1, center=extents.center.vec2)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def _in_unit(places: Floats, scale: ToScale, unit: str) -> Floats:
    moved: Floats = scale.in_set(places) / UNITS_M[unit]
    return moved


def _run(space: Modelspace, points: Floats, layer: str, closed: bool) -> None:
    if len(points) == 2 and not closed:
        start, end = points.tolist()
        space.add_line(start, end, dxfattribs={"layer": layer})
    else:
        space.add_lwpolyline(points.tolist(), close=closed, dxfattribs={"layer": layer})


def _area(space: Modelspace, mark: Area, rings: Sequence[Floats]) -> None:
    if mark.fill not in (None, WHITE) and mark.layer == "walls":
        areas = solid_areas(rings)
        for area in getattr(areas, "geoms", [areas]):
            if isinstance(area, shapely.Polygon) and not area.is_empty:
                hatch = space.add_hatch(color=256, dxfattribs={"layer": mark.layer})
                hatch.paths.add_polyline_path(list(area.exterior.coords)[:-1], is_closed=True, flags=1)
                for hole in area.interiors:
                    hatch.paths.add_polyline_path(list(hole.coords)[:-1], is_closed=True, flags=16)
    if mark.stroke is not None or mark.layer == "walls":
        for ring in rings:
            _run(space, ring, mark.layer, True)


def _words(space: Modelspace, mark: Words, scale: ToScale, unit: str, size: float) -> None:
    at = _in_unit(np.array(mark.at), scale, unit)
    text = space.add_text(
        mark.text, height=CAPITALS * mark.size_mm * size, dxfattribs={"layer": mark.layer, "style": "words"}
    )
    text.set_placement((float(at[0]), float(at[1])), align=_ANCHORS[mark.anchor])
