"""A page as SVG 1.1: a group for each layer, letters as letters, with as much of the fonts inside as they need."""

from __future__ import annotations

from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, register_namespace, tostring

from zevlo.core.arrays import Floats
from zevlo.core.documents.page.paper import HALO_MM, WHITE, Area, Colour, Lines, Page, Picture, Stroke, Words
from zevlo.core.documents.page.scale import scale_words
from zevlo.files.documents.fonts import FAMILIES, Face, runs_of, shown, subset_of
from zevlo.text import documents as say

NAMESPACE = "http://www.w3.org/2000/svg"
DIGITS = 4
"""Behind the point, of mm: at 1:1000 a tenth of a millimetre of the set."""

SET_IN = ", ".join((*FAMILIES.values(), "sans-serif"))


def write_svg(page: Page) -> bytes:
    """A page without pictures as SVG, in mm."""
    register_namespace("", NAMESPACE)
    width, height = page.size_mm
    root = Element(
        f"{{{NAMESPACE}}}svg",
        {"width": f"{width:g}mm", "height": f"{height:g}mm", "viewBox": f"0 0 {width:g} {height:g}", "version": "1.1"},
    )
    _child(root, "title").text = shown(page.title)
    if page.scale is not None:
        x, y = page.scale.origin_mm
        scale = scale_words(1000.0 * page.scale.metres_per_mm)
        _child(root, "desc").text = say.the_origin_of_the_set(scale, x, height - y)
    style = _child(root, "style")
    style.text = _fonts([mark for mark in page.marks if isinstance(mark, Words)])
    groups: dict[str, Element] = {}
    for mark in page.marks:
        if isinstance(mark, Picture):
            raise ValueError(say.A_DRAWING_HAS_NO_PICTURES)
        # Marks are drawn one over the other in their order, so that a layer may be begun anew.
        last = root[-1]
        if last.get("class") != mark.layer:
            last = _child(root, "g", **{"class": mark.layer})
            if mark.layer not in groups:
                last.set("id", mark.layer)
                groups[mark.layer] = last
        if isinstance(mark, Words):
            _words(last, mark, height)
        elif isinstance(mark, Lines):
            _child(last, "path", d=_path(mark.runs, height, False), fill="none", **_pen(mark.stroke))
        else:
            _area(last, mark, height)
    written: bytes = tostring(root, encoding="utf-8", xml_declaration=True)
    return written


def _child(parent: Element, name: str, **attributes: str) -> Element:
    return SubElement(parent, f"{{{NAMESPACE}}}{name}", attributes)


def _colour(colour: Colour) -> str:
    return "#{:02x}{:02x}{:02x}".format(*colour)


def _pen(stroke: Stroke) -> dict[str, str]:
    pen = {"stroke": _colour(stroke.colour), "stroke-width": f"{stroke.width_mm:g}", "stroke-linejoin": "round"}
    return {**pen, "stroke-dasharray": " ".join(f"{one:g}" for one in stroke.dash_mm)} if stroke.dash_mm else pen


def _path(runs: Sequence[Floats], height: float, closed: bool) -> str:
    parts = []
    for run in runs:
        points = [f"{x:.{DIGITS}f} {height - y:.{DIGITS}f}" for x, y in run.tolist()]
        parts.append(f"M{'L'.join(points)}{'Z' if closed else ''}")
    return "".join(parts)


def _area(parent: Element, mark: Area, height: float) -> None:
    fill = "none" if mark.fill is None else _colour(mark.fill)
    pen = {} if mark.stroke is None else _pen(mark.stroke)
    _child(parent, "path", d=_path(mark.rings, height, True), fill=fill, **{"fill-rule": "nonzero"}, **pen)


def _words(parent: Element, mark: Words, height: float) -> None:
    x, y = mark.at
    text = _child(
        parent, "text", x=f"{x:.{DIGITS}f}", y=f"{height - y:.{DIGITS}f}", fill=_colour(mark.colour),
        **{
            "font-size": f"{mark.size_mm:g}", "text-anchor": mark.anchor, "font-family": SET_IN,
            "font-weight": "650" if mark.bold else "400",
        },
    )  # fmt: skip
    if mark.halo:
        edge = {"stroke": _colour(WHITE), "stroke-width": f"{HALO_MM:g}", "stroke-linejoin": "round"}
        for name, value in {"paint-order": "stroke", **edge}.items():
            text.set(name, value)
    text.text = shown(mark.text)


def _fonts(marks: Sequence[Words]) -> str:
    """The fonts of some words, as rules of CSS with the fonts in them."""
    letters: dict[str, tuple[Face, bool, set[str]]] = {}
    for mark in marks:
        for face, run in runs_of(mark.text, mark.bold):
            letters.setdefault(face.name, (face, mark.bold, set()))[2].update(run)
    rules = []
    for face, bold, used in letters.values():
        data = subset_of(face, "".join(sorted(used)))
        rules.append(
            f'@font-face {{ font-family: "{face.family}"; font-weight: {650 if bold else 400}; '
            f"src: url(data:font/ttf;base64,{data}) }}"
        )
    return "\n".join(rules)
