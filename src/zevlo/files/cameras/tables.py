"""Cameras as a table: one row each, numbers a person can read, the shot itself in the last column. CSV and XLSX."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Iterable, Sequence
from math import inf, isfinite
from typing import Any

import numpy as np
from openpyxl import Workbook, load_workbook

from zevlo.core.exchange.carried import Carried, Found, NoCamera
from zevlo.core.optics.lens import Window
from zevlo.core.plain_words import why
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve
from zevlo.files.cameras.few import each
from zevlo.files.cells import as_cell, from_cell
from zevlo.files.limits import MOST_CAMERAS, MOST_TABLE_UNPACKED
from zevlo.files.names import readable

COLUMNS = (
    "name", "id", "x", "y", "z", "right_x", "right_y", "right_z", "up_x", "up_y", "up_z", "heading_deg", "pitch_deg",
    "roll_deg", "projection", "distance_mm", "left", "right", "bottom", "top", "focus_m", "f_number", "shutter_s",
    "iso", "near_m", "far_m", "width_px", "height_px", "shot",
)  # fmt: skip
"""``x`` to ``up_z`` tell the stand and the camera's axes in the receiver's world; ``left`` to ``top`` what the picture
takes, in mm of film, of a parallel projection in metres; ``heading_deg`` to ``roll_deg`` are for people."""
MOST_ROWS = 2 * MOST_CAMERAS
"""Rows that are looked at: some may be empty."""
csv.field_size_limit(16 * 1024**2)
_DECIMAL_COMMA = re.compile(r"[+-]?\d+,\d+([eE][+-]?\d+)?")


def _row(camera: Carried) -> list[Any]:
    """A camera's row; lengths of the place are in the receiver's unit."""
    m, window, shot = camera.matrix, camera.window, camera.shot
    angles = (None, None, None)
    if shot is not None:
        pose = resolve(shot.stand)
        angles = (pose.heading_deg, pose.pitch_deg, pose.roll_deg)
    # An empty cell is no far cut, and no stop: everything is sharp.
    f_number, far_m = (None if value == inf else value for value in (camera.f_number, camera.far_m))
    return [
        camera.name, camera.key, *m[:3, 3].tolist(), *m[:3, 0].tolist(), *m[:3, 1].tolist(), *angles,
        "parallel" if camera.distance_mm is None else "perspective", camera.distance_mm,
        window.left, window.right, window.bottom, window.top, camera.focus_m, f_number, camera.shutter_s,
        camera.iso, camera.near_m, far_m, *(camera.size_px or (None, None)),
        None if shot is None else shot.model_dump_json(by_alias=True),
    ]  # fmt: skip


def _camera(told: dict[str, Any], line: int) -> Carried:
    def number(name: str) -> float | None:
        value = told.get(name)
        if value in (None, ""):
            return None
        try:
            found = float(value)
        except (TypeError, ValueError):
            raise NoCamera(f"row {line}: {name} is “{value}”, which is no number") from None
        if not isfinite(found):
            raise NoCamera(f"row {line}: {name} is not finite")
        return found

    def endless(name: str) -> float | None:
        found = number(name)
        return inf if found is None and name in told else found

    def needed(name: str) -> float:
        found = number(name)
        if found is None:
            raise NoCamera(f"row {line}: {name} is missing")
        return found

    matrix = np.eye(4)
    right, up = (np.array([needed(f"{axis}_{end}") for end in "xyz"]) for axis in ("right", "up"))
    matrix[:3] = np.column_stack([right, up, np.cross(right, up), [needed(end) for end in "xyz"]])
    shot = told.get("shot")
    width, height = number("width_px"), number("height_px")
    try:
        own = Shot.model_validate_json(shot) if shot else None
    except ValueError as reason:
        raise NoCamera(f"row {line}: its shot cannot be read: {why(reason)}") from reason
    return Carried(
        name=str(told.get("name") or ("" if own else f"Row {line}")),
        matrix=matrix,
        window=Window(needed("left"), needed("right"), needed("bottom"), needed("top")),
        distance_mm=None if told.get("projection") == "parallel" else needed("distance_mm"),
        near_m=number("near_m"),
        far_m=endless("far_m"),
        focus_m=number("focus_m"),
        f_number=endless("f_number"),
        shutter_s=number("shutter_s"),
        iso=number("iso"),
        size_px=(round(width), round(height)) if width and height else None,
        key=str(told["id"]) if told.get("id") else None,
        shot=own,
    )


def _read(rows: Iterable[Sequence[Any]]) -> Found:
    numbered = iter(rows)
    head = [str(name or "").strip() for name in next(numbered, ())]
    if "x" not in head or "left" not in head:
        raise NoCamera("its first row does not name the columns of cameras (name, x, y, z, right_x, …)")
    filled = [(line, row) for line, row in enumerate(numbered, 2) if any(value not in (None, "") for value in row)]
    named = [(line, dict(zip(head, row, strict=False))) for line, row in filled]
    return each(named, lambda one: _camera(one[1], one[0]), lambda _, one: str(one[1].get("name") or f"Row {one[0]}"))


def write_csv(cameras: Sequence[Carried]) -> bytes:
    """CSV (RFC 4180), UTF-8, numbers to their last digit."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    for camera in cameras:
        rows.writerow([_csv_cell(value) for value in _row(camera)])
    return out.getvalue().encode()


def _csv_cell(value: Any) -> str:
    if isinstance(value, str):
        return as_cell(value)
    return "" if value is None else repr(value)


def read_csv(data: bytes) -> Found:
    """Cameras of a CSV as :func:`write_csv` makes it, or as a spreadsheet saves it where numbers have a decimal comma:
    parted by semicolons, or tabs. Raises :class:`NoCamera`."""
    try:
        text = data.decode("utf-8-sig")
        head = text.partition("\n")[0]
        parted = max(",;\t", key=head.count)
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=parted, strict=True))
        rows = [[from_cell(cell) for cell in row] for row in rows]
        return _read(rows if parted == "," else [*rows[:1], *map(_with_points, rows[1:])])
    except (UnicodeDecodeError, csv.Error) as reason:
        raise NoCamera("it is no CSV that can be read: text in UTF-8, cells parted by commas") from reason


def _with_points(row: Sequence[str]) -> list[str]:
    """A row whose numbers may have decimal commas with points in their place."""
    return [value.replace(",", ".") if _DECIMAL_COMMA.fullmatch(value.strip()) else value for value in row]


def _in_a_cell(value: Any) -> Any:
    """A value as a workbook holds it: 32,767 letters, all of them such as can be kept; a shot that is longer does not
    go along."""
    if not isinstance(value, str):
        return value
    return None if len(value) > 32_767 else readable(value)


def write_xlsx(cameras: Sequence[Carried]) -> bytes:
    """The same as a workbook (ECMA-376)."""
    book = Workbook()
    sheet = book.active
    sheet.title = "Cameras"
    sheet.append(COLUMNS)
    for camera in cameras:
        sheet.append([_in_a_cell(value) for value in _row(camera)])
    for row in sheet.iter_rows(min_row=2):
        for cell in row:
            if isinstance(cell.value, str):
                # A shot may be called =1+1; that is its name and nothing to be reckoned.
                cell.data_type = "s"
    sheet.freeze_panes = "B2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read_xlsx(data: bytes) -> Found:
    """Cameras of a workbook's first sheet. Raises :class:`NoCamera`."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            unpacked = sum(entry.file_size for entry in packed.infolist())
        if unpacked > MOST_TABLE_UNPACKED:
            raise NoCamera(f"it unpacks to {unpacked // 1024**2} MB; up to {MOST_TABLE_UNPACKED // 1024**2} are read")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        rows = [
            list(row)
            for _, row in zip(range(MOST_ROWS + 2), book.worksheets[0].iter_rows(values_only=True), strict=False)
        ]
    except NoCamera:
        raise
    except Exception as reason:
        raise NoCamera("it is no XLSX that can be read: what is in it is broken, or of another kind") from reason
    return _read(rows)
