"""The sheet that comes back for a shot, ``zevlo.sheet/1``: every number and drawing the desk shows."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

Matrix = list[float]
"""16 numbers, row by row; acts on column vectors."""
Polyline = list[float]
"""x0, y0, x1, y1 … on paper, metres."""


class SheetGroup(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class PoseSheet(SheetGroup):
    heading_deg: float
    compass: str
    level: str | None
    room: str | None
    pitch_deg: float
    roll_deg: float
    aim_distance_m: float
    floor_z: float | None
    above_floor_m: float | None
    view: Matrix


class Angles(SheetGroup):
    horizontal: float
    vertical: float
    diagonal: float


class WindowMm(SheetGroup):
    left: float
    right: float
    bottom: float
    top: float


class PrimeMark(SheetGroup):
    focal_length_mm: float
    angle_deg: float


class LensSheet(SheetGroup):
    angle_deg: Angles | None
    """None where all is seen along parallel rays; then ``scale_m`` of the shot says how wide."""
    equivalent_focal_length_mm: float | None
    projection: Matrix
    window_mm: WindowMm
    primes: list[PrimeMark]


class BackSheet(SheetGroup):
    format: str
    ratio: str
    cut_mm: tuple[float, float]
    pixel_mm: float
    output_px: tuple[int, int]


class MovementsSheet(SheetGroup):
    lean_deg: float
    circle_used_mm: float
    circle_ok: bool
    rise_room_mm: float | None
    cross_room_mm: float | None


class BarrelMark(SheetGroup):
    """An engraved mark: ``at`` from 0 to 1 along the scale."""

    at: float
    label: str


class Barrel(SheetGroup):
    """The lens barrel's distance scale in metres and feet against brackets of stops, as on a real lens."""

    metres: list[BarrelMark]
    feet: list[BarrelMark]
    stops: list[BarrelMark]
    focus_at: float
    sharp_from_at: float
    sharp_to_at: float


class Probe(SheetGroup):
    """What a picture shows of a place in the world: ``at`` in the frame, (0, 0) bottom left, null where the lens cannot
    see that way; its depth along the lens axis; how large a point is blurred in pixels, and whether that counts as
    sharp. ``in_frame``: within the frame, between near and far cut; nothing is said of what stands before it."""

    at: tuple[float, float] | None
    in_frame: bool
    depth_m: float
    blur_px: float | None
    sharp: bool


class FocusSheet(SheetGroup):
    stop: str | None
    blur_limit_mm: float
    blur_limit_px: float
    hyperfocal_m: float | None
    sharp_from_m: float
    sharp_to_m: float | None
    diffraction_mm: float | None
    barrel: Barrel
    probes: list[Probe] = Field(default_factory=list)


class ExposureSheet(SheetGroup):
    ev100: float
    white_cd_m2: float
    shutter: str


class GuideLines(SheetGroup):
    name: str
    lines: list[tuple[float, float, float, float]]


class Outlines(SheetGroup):
    """Many runs of points in one list, x0, y0, x1, y1 …; run n ends before the number ``stops[n]``."""

    numbers: list[float]
    stops: list[int]


NOTHING = Outlines(numbers=[], stops=[])


class Drawing(SheetGroup):
    """The shot as drawn on paper. Plan: x east, y north. Section: x level distance from the stand, y height."""

    stand: tuple[float, float]
    aim: tuple[float, float]
    sides: list[tuple[float, float, float, float]]
    """The two sides of the wedge: where each begins and ends."""
    seen: Polyline
    sharp: Polyline
    focus: Polyline
    near: Polyline
    far: Polyline | None
    cut: Outlines = NOTHING
    """What its plane cuts, to be filled by the nonzero rule."""
    cut_open: Outlines = NOTHING
    """Sheets without thickness that its plane cuts."""


class Drawings(SheetGroup):
    plan: Drawing
    section: Drawing


class Check(SheetGroup):
    what: str
    why: str
    fix: str | None = None


class Sheet(SheetGroup):
    schema_: Literal["zevlo.sheet/1"] = Field("zevlo.sheet/1", alias="schema")
    pose: PoseSheet
    lens: LensSheet
    back: BackSheet
    movements: MovementsSheet
    focus: FocusSheet
    exposure: ExposureSheet
    guides: list[GuideLines]
    drawings: Drawings
    checks: list[Check] = Field(default_factory=list)

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    def as_json(self) -> dict[str, object]:
        """Plain JSON with the keys of the open format."""
        return self.model_dump(mode="json", by_alias=True)
