"""The shot list as CSV and XLSX."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence

from openpyxl import Workbook
from openpyxl.drawing.image import Image as Inserted
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.properties import PageSetupProperties
from PIL import Image

from zevlo.core.documents.contact_sheet import NOW
from zevlo.core.documents.shot_list import COLUMNS, row_of
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.files.cells import as_cell
from zevlo.files.names import readable
from zevlo.text import documents as say

PICTURE_PX = 150
SHOWN = {"m": "0.000", "mm": "0.00", "°": "0.00", "s": "0.000000"}
"""To how many digits a number of a unit is shown; it is kept to its last. A shutter of 1/8000 s is still one."""
POINTS_PER_PX = 0.75
"""A spreadsheet counts 96 pixels and 72 points an inch."""


def write_list_csv(shots: Sequence[ShotSummary]) -> bytes:
    """CSV (RFC 4180), UTF-8 with its mark, so that spreadsheets read the letters; numbers to their last digit."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow([column.head for column in COLUMNS])
    for summary in shots:
        rows.writerow(
            ["" if cell is None else as_cell(cell) if isinstance(cell, str) else cell for cell in row_of(summary)]
        )
    return "\ufeff".encode() + out.getvalue().encode()


def write_list_xlsx(shots: Sequence[ShotSummary], pictures: Mapping[str, bytes]) -> bytes:
    """The same as a workbook (ECMA-376), with a small picture before each row where there are any."""
    book = Workbook()
    sheet = book.active
    sheet.title = say.SHOT_LIST
    shown = {summary.key: pictures.get(f"{summary.key}/{NOW}") for summary in shots}
    first = 2 if any(shown.values()) else 1
    for place, column in enumerate(COLUMNS, first):
        head = sheet.cell(1, place, column.head)
        head.font = Font(bold=True)
        head.alignment = Alignment(vertical="bottom", wrap_text=True)
        sheet.column_dimensions[get_column_letter(place)].width = 34 if column.head == "name" else 12
    for line, summary in enumerate(shots, 2):
        for (place, value), column in zip(enumerate(row_of(summary), first), COLUMNS, strict=True):
            cell = sheet.cell(line, place, readable(value) if isinstance(value, str) else value)
            cell.alignment = Alignment(vertical="top", wrap_text=isinstance(value, str))
            if isinstance(value, str):
                # A shot may be called =1+1; that is its name and nothing to be reckoned.
                cell.data_type = "s"
            elif isinstance(value, float):
                cell.number_format = SHOWN.get(column.head.rpartition(", ")[2], "0.0#")
        data = shown[summary.key]
        if data is not None:
            _put(sheet, data, line)
    if first == 2:
        sheet.column_dimensions["A"].width = PICTURE_PX / 7.0 + 1.0
    sheet.freeze_panes = sheet.cell(2, first + 2)
    # On paper: lying, as wide as the sheet, its heads on every one.
    sheet.page_setup.orientation, sheet.page_setup.paperSize = "landscape", sheet.PAPERSIZE_A4
    sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
    sheet.sheet_properties.pageSetUpPr = PageSetupProperties(fitToPage=True)
    sheet.print_title_rows = "1:1"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _put(sheet: object, data: bytes, line: int) -> None:
    """A small picture in the first cell of a row, which is made as high as it."""
    picture = Image.open(io.BytesIO(data)).convert("RGB")
    picture.thumbnail((PICTURE_PX, PICTURE_PX))
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=88)
    sheet.add_image(Inserted(out), f"A{line}")  # type: ignore[attr-defined]
    sheet.row_dimensions[line].height = picture.height * POINTS_PER_PX + 4.0  # type: ignore[attr-defined]
