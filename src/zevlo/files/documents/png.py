"""Pages as PNG: as the PDF of them is drawn, so that both show the same."""

from __future__ import annotations

import io
from collections.abc import Iterator

import pypdfium2

POINTS_PER_INCH = 72.0


def pages_as_png(pdf: bytes, dpi: float) -> Iterator[bytes]:
    """Each page of a PDF, at so many pixels an inch, one after the other."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        for page in document:
            picture = page.render(scale=dpi / POINTS_PER_INCH).to_pil().convert("RGB")
            out = io.BytesIO()
            picture.save(out, "PNG", dpi=(dpi, dpi))
            yield out.getvalue()
    finally:
        document.close()
