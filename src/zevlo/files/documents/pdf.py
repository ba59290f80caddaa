"""Pages as PDF (ISO 32000), vectors where they are drawn, with the fonts inside."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence

from reportlab import rl_config
from reportlab.lib.colors import Color
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from zevlo.core.arrays import Floats
from zevlo.core.documents.page.paper import HALO_MM, WHITE, Area, Colour, Lines, Mark, Page, Picture, Stroke, Words
from zevlo.core.optics.picture_size import INCH_MM
from zevlo.files.documents.fonts import Face, first_face, measure, runs_of

rl_config.useA85 = 0
"""Pictures go in as they are: writing them in printable letters took longer than all else."""
POINT_MM = INCH_MM / 72.0
NONZERO = 1
FILLED, STROKED = 0, 1


def _registered(face: Face) -> str:
    """A font's name, by which a page is set in it."""
    if face.name not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(face.name, str(face.path)))
    return face.name


def write_pdf(pages: Sequence[Page], pictures: Mapping[str, bytes], title: str) -> bytes:
    """A PDF of some pages; ``pictures``: JPEG or PNG, by what the pages know them by."""
    out = io.BytesIO()
    canvas = Canvas(out, invariant=True, pageCompression=1, initialFontName=_registered(first_face()))
    canvas.setTitle(title)
    canvas.setCreator("Zevlo")
    readers = {key: ImageReader(io.BytesIO(data)) for key, data in pictures.items()}
    for number, page in enumerate(pages):
        width, height = page.size_mm
        canvas.setPageSize((width / POINT_MM, height / POINT_MM))
        canvas.bookmarkPage(f"page-{number}")
        canvas.addOutlineEntry(page.title, f"page-{number}", 0, True)
        canvas.scale(1.0 / POINT_MM, 1.0 / POINT_MM)
        canvas.setLineJoin(1)
        canvas.setLineCap(1)
        for mark in page.marks:
            _draw(canvas, mark, readers)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _colour(colour: Colour) -> Color:
    return Color(*(part / 255.0 for part in colour))


def _pen(canvas: Canvas, stroke: Stroke) -> None:
    canvas.setStrokeColor(_colour(stroke.colour))
    canvas.setLineWidth(stroke.width_mm)
    canvas.setDash(list(stroke.dash_mm))


def _draw(canvas: Canvas, mark: Mark, readers: Mapping[str, ImageReader]) -> None:
    if isinstance(mark, Lines):
        _pen(canvas, mark.stroke)
        canvas.drawPath(_path(canvas, mark.runs, False), stroke=1, fill=0)
    elif isinstance(mark, Area):
        if mark.stroke is not None:
            _pen(canvas, mark.stroke)
        if mark.fill is not None:
            canvas.setFillColor(_colour(mark.fill))
        path = _path(canvas, mark.rings, True)
        canvas.drawPath(path, stroke=mark.stroke is not None, fill=mark.fill is not None, fillMode=NONZERO)
    elif isinstance(mark, Words):
        canvas.setFillColor(_colour(mark.colour))
        long = measure(mark.text, mark.size_mm, mark.bold)
        x = mark.at[0] - {"start": 0.0, "middle": 0.5, "end": 1.0}[mark.anchor] * long
        if mark.halo:
            canvas.setStrokeColor(_colour(WHITE))
            canvas.setLineWidth(HALO_MM)
            canvas.setDash([])
        for mode in (STROKED, FILLED) if mark.halo else (FILLED,):
            at = x
            for face, run in runs_of(mark.text, mark.bold):
                canvas.setFont(_registered(face), mark.size_mm)
                canvas.drawString(at, mark.at[1], run, mode=mode)
                at += _long(face, run, mark.size_mm)
    else:
        _put(canvas, mark, readers)


def _long(face: Face, run: str, size_mm: float) -> float:
    return size_mm * sum(face.advances[letter] for letter in run)


def _path(canvas: Canvas, runs: Sequence[Floats], closed: bool) -> object:
    path = canvas.beginPath()
    for run in runs:
        (x, y), *others = run.tolist()
        path.moveTo(x, y)
        for x, y in others:
            path.lineTo(x, y)
        if closed:
            path.close()
    return path


def _put(canvas: Canvas, mark: Picture, readers: Mapping[str, ImageReader]) -> None:
    canvas.drawImage(readers[mark.key], *mark.at, *mark.size_mm)
