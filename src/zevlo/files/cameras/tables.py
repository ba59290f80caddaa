"""Cameras as a table: one row each, numbers a person can read, the shot itself in the last column. CSV and XLSX."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Iterable, Sequence
from math import inf, isfinite
from typing import Any

import numpy as np
from openpyxl import Workbook, load_workbook

from zevlo.core.arrays import Floats
from zevlo.core.exchange.camera_record import CameraRecord, Found, NoCamera
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.exchange.shot_from_camera import stand_of
from zevlo.core.optics.lens import Window
from zevlo.core.plain_words import why
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.moves import face
from zevlo.core.stand.pose import resolve
from zevlo.files.cameras.few import each
from zevlo.files.cells import as_cell, from_cell
from zevlo.files.limits import MOST_CAMERAS, MOST_TABLE_UNPACKED
from zevlo.files.names import readable
from zevlo.text import cameras as say

COLUMNS = (
    "name", "id", "x", "y", "z", "right_x", "right_y", "right_z", "up_x", "up_y", "up_z", "heading_deg", "pitch_deg",
    "roll_deg", "projection", "distance_mm", "left", "right", "bottom", "top", "focus_m", "f_number", "shutter_s",
    "iso", "near_m", "far_m", "width_px", "height_px", "metres_per_unit", "up", "shot",
)  # fmt: skip
"""``x`` to ``up_z`` tell the stand and the camera's axes in the receiver's world, whose unit and upright axis
``metres_per_unit`` and ``up`` are; ``left`` to ``top`` what the picture takes, in mm of film, of a parallel projection
in metres; ``heading_deg`` to ``roll_deg`` are for people."""
MOST_ROWS = 2 * MOST_CAMERAS
"""Rows that are looked at: some may be empty."""
csv.field_size_limit(16 * 1024**2)
_DECIMAL_COMMA = re.compile(r"[+-]?\d+,\d+([eE][+-]?\d+)?")


def _row(camera: CameraRecord, world: Receiver) -> list[Any]:
    """A camera's row; lengths of the place are in the receiver's unit."""
    m, window, shot = camera.matrix, camera.window, camera.shot
    angles: tuple[float | None, ...] = (None, None, None)
    if shot is not None:
        pose = resolve(shot.stand)
        angles = (pose.heading_deg, pose.pitch_deg, pose.roll_deg)
    # An empty cell is no far clip, and no stop: everything is sharp.
    f_number, far_m = (None if value == inf else value for value in (camera.f_number, camera.far_m))
    return [
        camera.name, camera.key, *m[:3, 3].tolist(), *m[:3, 0].tolist(), *m[:3, 1].tolist(), *angles,
        "parallel" if camera.distance_mm is None else "perspective", camera.distance_mm,
        window.left, window.right, window.bottom, window.top, camera.focus_m, f_number, camera.shutter_s,
        camera.iso, camera.near_m, far_m, *(camera.size_px or (None, None)), world.metres_per_unit, world.up,
        None if shot is None else shot.model_dump_json(by_alias=True),
    ]  # fmt: skip


_SHOT_COLUMNS = ("shot", *(f"shot, part {n}" for n in range(2, 100)))
"""A shot that is longer than a cell goes on in the next."""


def _camera(cells: dict[str, Any], line: int, world: Receiver) -> CameraRecord:
    def number(name: str) -> float | None:
        value = cells.get(name)
        if value in (None, ""):
            return None
        try:
            found = float(value)
        except (TypeError, ValueError):
            raise NoCamera(say.row_is_which_is_no_number(line, name, value)) from None
        if not isfinite(found):
            raise NoCamera(say.row_is_not_finite(line, name))
        return found

    def endless(name: str) -> float | None:
        found = number(name)
        return inf if found is None and name in cells else found

    def needed(name: str) -> float:
        found = number(name)
        if found is None:
            raise NoCamera(say.row_is_missing(line, name))
        return found

    matrix = np.eye(4)
    right, up = (np.array([needed(f"{axis}_{end}") for end in "xyz"]) for axis in ("right", "up"))
    matrix[:3] = np.column_stack([right, up, np.cross(right, up), [needed(end) for end in "xyz"]])
    shot = "".join(str(cells[name]) for name in cells if name in _SHOT_COLUMNS and cells[name]) or None
    width, height = number("width_px"), number("height_px")
    try:
        own = Shot.model_validate_json(shot) if shot else None
    except ValueError as reason:
        raise NoCamera(say.row_its_shot_cannot_be_read(line, why(reason))) from reason
    kind = cells.get("projection") or ("perspective" if number("distance_mm") is not None else "parallel")
    if kind not in ("perspective", "parallel"):
        raise NoCamera(say.row_projection_is_a_table(line, kind))
    if kind == "parallel" and number("distance_mm") is not None:
        raise NoCamera(say.row_projection_is_parallel(line))
    matrix = _turned(matrix, [number(name) for name in ("heading_deg", "pitch_deg", "roll_deg")], own, world, line)
    return CameraRecord(
        name=str(cells.get("name") or ("" if own else say.row(line))),
        matrix=matrix,
        window=Window(needed("left"), needed("right"), needed("bottom"), needed("top")),
        distance_mm=None if kind == "parallel" else needed("distance_mm"),
        near_m=number("near_m"),
        far_m=endless("far_m"),
        focus_m=number("focus_m"),
        f_number=endless("f_number"),
        shutter_s=number("shutter_s"),
        iso=number("iso"),
        size_px=(round(width), round(height)) if width and height else None,
        key=str(cells["id"]) if cells.get("id") else None,
        shot=own,
    )


_SAME_DEG = 1.0e-4


def _turned(matrix: Floats, angles: list[float | None], own: Shot | None, world: Receiver, line: int) -> Floats:
    """A camera turned as its heading, pitch and roll say, where those were changed and its axes were not. Raises
    :class:`NoCamera` where both say something of their own."""

    def off(one: tuple[float, ...]) -> float:
        return max(abs((a - b + 180.0) % 360.0 - 180.0) for a, b in zip(one, wanted, strict=True))

    if None in angles:
        return matrix
    wanted = tuple(float(angle or 0.0) for angle in angles)
    here = world.take(CameraRecord("", matrix, Window(-1.0, 1.0, -1.0, 1.0), 1.0)).matrix
    if abs(here[2, 2]) > 1.0 - 1.0e-9 or off(_angles(stand_of(here, 1.0))) < _SAME_DEG:
        # Straight up or down heading and roll are one and the same.
        return matrix
    if own is None:
        raise NoCamera(say.row_its_heading_pitch(line))
    if off(_angles(own.stand)) < _SAME_DEG:
        return matrix
    before, heading = _axes(own.stand), wanted
    if np.abs(here[:3, :3] - before).max() > _SAME_DEG:
        raise NoCamera(say.row_its_heading_pitch_and_roll(line))
    stand = face(own.stand, heading[0], heading[1]).model_copy(update={"roll_deg": heading[2]})
    turned = matrix.copy()
    # Turned within the camera, which is alike in every world.
    turned[:3, :3] = matrix[:3, :3] @ before.T @ _axes(stand)
    return turned


def _angles(stand: Stand) -> tuple[float, float, float]:
    pose = resolve(stand)
    return pose.heading_deg, pose.pitch_deg, pose.roll_deg


def _axes(stand: Stand) -> Floats:
    pose = resolve(stand)
    return np.column_stack([pose.right, pose.up, -pose.forward])


def _read(rows: Iterable[Sequence[Any]], world: Receiver) -> tuple[Found, Receiver]:
    numbered = iter(rows)
    head = [str(name or "").strip() for name in next(numbered, ())]
    if "x" not in head or "left" not in head:
        raise NoCamera(say.ITS_FIRST_ROW_DOES_NOT_NAME)
    filled = [(line, row) for line, row in enumerate(numbered, 2) if any(value not in (None, "") for value in row)]
    twice = next((name for n, name in enumerate(head) if name and name in head[:n]), None)
    if twice is not None:
        raise NoCamera(say.it_has_two_columns(twice))
    named = [(line, dict(zip(head, row, strict=False))) for line, row in filled]
    # The world most rows say they stand in; one that stands in another is no worse for the rest.
    worlds = Counter((str(row.get("metres_per_unit") or ""), str(row.get("up") or "")) for _, row in named)
    most = max(worlds, key=lambda one: worlds[one], default=("", ""))
    own = world.in_world_of(*most)

    def camera(one: tuple[int, dict[str, Any]]) -> CameraRecord:
        line, row = one
        if (str(row.get("metres_per_unit") or ""), str(row.get("up") or "")) != most:
            raise NoCamera(say.row_metres_per_unit(line))
        return _camera(row, line, own)

    found = each(named, camera, lambda _, one: str(one[1].get("name") or say.row(one[0])))
    return found, own


def write_csv(cameras: Sequence[CameraRecord], world: Receiver) -> bytes:
    """CSV (RFC 4180), UTF-8, numbers to their last digit."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    for camera in cameras:
        rows.writerow([_csv_cell(value) for value in _row(camera, world)])
    return out.getvalue().encode()


def _csv_cell(value: Any) -> str:
    if isinstance(value, str):
        return as_cell(value)
    return "" if value is None else repr(value)


def read_csv(data: bytes, world: Receiver) -> tuple[Found, Receiver]:
    """Cameras of a CSV as :func:`write_csv` makes it, or as a spreadsheet saves it where numbers have a decimal comma:
    parted by semicolons, or tabs. Raises :class:`NoCamera`."""
    try:
        text = data.decode("utf-8-sig")
        head = text.partition("\n")[0]
        parted = max(",;\t", key=head.count)
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=parted, strict=True))
        rows = [[from_cell(cell) for cell in row] for row in rows]
        return _read(rows if parted == "," else [*rows[:1], *map(_with_points, rows[1:])], world)
    except (UnicodeDecodeError, csv.Error) as reason:
        raise NoCamera(say.IT_IS_NO_CSV) from reason


def _with_points(row: Sequence[str]) -> list[str]:
    """A row whose numbers may have decimal commas with points in their place."""
    return [value.replace(",", ".") if _DECIMAL_COMMA.fullmatch(value.strip()) else value for value in row]


MOST_LETTERS = 32_767
"""Of a workbook's cell."""


def _in_cells(row: list[Any]) -> list[Any]:
    """A row as a workbook holds it: letters such as can be kept, and a shot that is longer than a cell in several."""
    kept = [readable(value) if isinstance(value, str) else value for value in row]
    shot = kept.pop()
    return [*kept, *([shot[n : n + MOST_LETTERS] for n in range(0, len(shot), MOST_LETTERS)] if shot else [None])]


def write_xlsx(cameras: Sequence[CameraRecord], world: Receiver) -> bytes:
    """The same as a workbook (ECMA-376)."""
    book = Workbook()
    sheet = book.active
    sheet.title = "Cameras"
    rows = [_in_cells(_row(camera, world)) for camera in cameras]
    sheet.append([*COLUMNS[:-1], *_SHOT_COLUMNS[: max(map(len, rows), default=len(COLUMNS)) - len(COLUMNS) + 1]])
    for cells in rows:
        sheet.append(cells)
    for row in sheet.iter_rows(min_row=2):
        for cell in row:
            if isinstance(cell.value, str):
                # A shot may be called =1+1; that is its name and nothing to be reckoned.
                cell.data_type = "s"
    sheet.freeze_panes = "B2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read_xlsx(data: bytes, world: Receiver) -> tuple[Found, Receiver]:
    """Cameras of a workbook's first sheet. Raises :class:`NoCamera`."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            unpacked = sum(entry.file_size for entry in packed.infolist())
        if unpacked > MOST_TABLE_UNPACKED:
            raise NoCamera(say.it_unpacks_to_mb(unpacked // 1024**2, MOST_TABLE_UNPACKED // 1024**2))
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        rows = [
            list(row)
            for _, row in zip(range(MOST_ROWS + 2), book.worksheets[0].iter_rows(values_only=True), strict=False)
        ]
    except NoCamera:
        raise
    except Exception as reason:
        raise NoCamera(say.IT_IS_NO_XLSX) from reason
    return _read(rows, world)
