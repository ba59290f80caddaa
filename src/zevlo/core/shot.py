"""The shot: one camera with all its settings, as the open format ``zevlo.shot/1``.

Keys and defaults are those of ``docs/shot-format.md``. World: right-handed, Z up, metres, +Y project north.
Film lengths carry ``_mm``, angles ``_deg``, pictures ``_px``; everything else is SI.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StrictBool, model_validator

MAX_COORDINATE_M = 1.0e6
MIN_AIM_DISTANCE_M = 1.0e-4
MAX_OUTPUT_SIDE_PX = 32768
MOST_PROBES = 10_000


class Settings(BaseModel):
    """Base of every group: immutable, unknown keys refused by name, no NaN or infinity.

    A group made from another by ``model_copy`` is checked when it becomes part of a shot.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, revalidate_instances="always")


Coordinate = Annotated[float, Field(ge=-MAX_COORDINATE_M, le=MAX_COORDINATE_M)]
Point = tuple[Coordinate, Coordinate, Coordinate]
Share = Annotated[float, Field(ge=0.0, lt=1.0)]


def _not_yet(only: float | None, what: str) -> AfterValidator:
    def check(value: float | None) -> float | None:
        if value != only:
            allowed = "null" if only is None else f"{only:g}"
            raise ValueError(f"{what} is not solved by this version; it may only be {allowed}")
        return value

    return AfterValidator(check)


PartId = Annotated[str, Field(min_length=1, max_length=2000)]
"""What a part of the set is known by: its file's own lasting id, or its path where that is one of a kind."""


class FollowAim(Settings):
    """A point that keeps its place in the frame when the stand moves: ``at``, (0, 0) bottom left to (1, 1).

    ``part`` names the part it lies on, so that it is followed when that part moves; null is a point in the air.
    """

    part: PartId | None = None
    point: Point
    at: tuple[Annotated[float, Field(ge=-4.0, le=5.0)], Annotated[float, Field(ge=-4.0, le=5.0)]] = (0.5, 0.5)


class Stand(Settings):
    """Where the camera is and looks. ``position`` and ``aim`` in metres, ``roll_deg`` clockwise.

    ``above_floor_m``: the stand stays this high above the floor found under it; null lets its height be free.
    """

    position: Point = (0.0, 0.0, 1.6)
    aim: Point = (0.0, 3.0, 1.6)
    roll_deg: float = Field(0.0, ge=-180.0, le=180.0)
    above_floor_m: float | None = Field(None, ge=-1000.0, le=10000.0)
    follow: FollowAim | None = None

    @model_validator(mode="after")
    def _aim_is_elsewhere(self) -> Self:
        gap = sum((a - b) ** 2 for a, b in zip(self.aim, self.position, strict=True)) ** 0.5
        if gap < MIN_AIM_DISTANCE_M:
            raise ValueError("aim must be at least 0.1 mm away from position")
        return self


class Lens(Settings):
    """The lens. ``near_m``/``far_m`` bound what is drawn, along the lens axis; ``far_m`` null is no bound.

    A parallel one shows ``scale_m`` metres across the width of the cut back, before trim and enlarge, at any distance.
    """

    focal_length_mm: float = Field(35.0, ge=1.0, le=5000.0)
    projection: Literal["perspective", "parallel"] = "perspective"
    focus_breathing: StrictBool = False
    near_m: float = Field(0.05, gt=0.0, le=1.0e5)
    far_m: float | None = Field(None, gt=0.0, le=1.0e7)
    scale_m: float | None = Field(None, ge=1.0e-4, le=1.0e6)

    @model_validator(mode="after")
    def _scale_with_parallel(self) -> Self:
        if self.projection == "parallel" and self.scale_m is None:
            raise ValueError("a parallel projection needs scale_m, its width in the world")
        if self.projection != "parallel" and self.scale_m is not None:
            raise ValueError("scale_m belongs to parallel projection; in perspective it may only be null")
        return self

    @model_validator(mode="after")
    def _far_beyond_near(self) -> Self:
        if self.far_m is not None and self.far_m <= self.near_m:
            raise ValueError(f"far_m must be greater than near_m ({self.near_m:g})")
        return self


class Trim(Settings):
    """What is taken off each side, in shares of the frame."""

    left: Share = 0.0
    right: Share = 0.0
    top: Share = 0.0
    bottom: Share = 0.0

    @model_validator(mode="after")
    def _something_left(self) -> Self:
        if self.left + self.right >= 1.0 or self.top + self.bottom >= 1.0:
            raise ValueError("opposite sides together must stay under 1, so that a picture is left")
        return self


Pixels = Annotated[int, Field(ge=1, le=MAX_OUTPUT_SIDE_PX)]


class Back(Settings):
    """Film size, how it is cut to the output ratio, and the output size in pixels."""

    width_mm: float = Field(36.0, ge=0.5, le=2000.0)
    height_mm: float = Field(24.0, ge=0.5, le=2000.0)
    cut: Literal["inside", "width", "height"] = "inside"
    output_px: tuple[Pixels, Pixels] = (1920, 1080)
    enlarge: float = Field(1.0, ge=1.0, le=100.0)
    trim: Trim = Trim()


class Movements(Settings):
    """View-camera movements. Rise up and cross to the right are positive, as shifts of the window."""

    rise_mm: float = Field(0.0, ge=-1000.0, le=1000.0)
    cross_mm: float = Field(0.0, ge=-1000.0, le=1000.0)
    tilt_deg: Annotated[float, _not_yet(0.0, "tilt")] = 0.0
    swing_deg: Annotated[float, _not_yet(0.0, "swing")] = 0.0
    image_circle_mm: float | None = Field(None, gt=0.0, le=5000.0)


class BlurLimit(Settings):
    """What counts as sharp; exactly one criterion. Print: needs width and viewing distance together."""

    px: float | None = Field(None, gt=0.0, le=1000.0)
    mm: float | None = Field(None, gt=0.0, le=10.0)
    diagonal_over: float | None = Field(None, ge=10.0, le=100000.0)
    print_width_mm: float | None = Field(None, gt=0.0, le=1.0e5)
    seen_from_mm: float | None = Field(None, gt=0.0, le=1.0e6)

    @model_validator(mode="after")
    def _exactly_one(self) -> Self:
        for_print = (self.print_width_mm is not None) + (self.seen_from_mm is not None)
        if for_print == 1:
            raise ValueError("print_width_mm and seen_from_mm belong together")
        given = sum(value is not None for value in (self.px, self.mm, self.diagonal_over)) + (for_print == 2)
        if given != 1:
            raise ValueError("give exactly one of px, mm, diagonal_over, or print_width_mm with seen_from_mm")
        return self


class Focus(Settings):
    """Focus distance along the lens axis, stop (null: everything sharp) and shape of the blur."""

    distance_m: float = Field(3.0, gt=0.0, le=1.0e7)
    f_number: float | None = Field(8.0, ge=0.5, le=512.0)
    blur_limit: BlurLimit = BlurLimit(px=1.5)
    blades: int = Field(0, ge=0, le=32)
    blade_rotation_deg: float = Field(0.0, ge=-360.0, le=360.0)
    rim_weight: float = Field(0.0, ge=-1.0, le=1.0)
    probes: tuple[Point, ...] = Field((), max_length=MOST_PROBES)
    """Places in the world of which the sheet says where they fall in the picture, and how sharp."""


class Exposure(Settings):
    """Shutter time, film speed, white point."""

    shutter_s: float = Field(0.01, ge=1.0e-6, le=36000.0)
    iso: float = Field(100.0, ge=1.0, le=1.0e6)
    white_k: Annotated[float, _not_yet(6504.0, "a white other than D65")] = 6504.0
    tint: Annotated[float, _not_yet(0.0, "tint")] = 0.0


class Guides(Settings):
    """Which composition guides are shown in the frame."""

    thirds: StrictBool = True
    centre: StrictBool = False


class Shot(Settings):
    """One camera with all its settings: a picture any renderer or photographer could set up again."""

    schema_: Literal["zevlo.shot/1"] = Field("zevlo.shot/1", alias="schema")
    name: str = Field("Shot", min_length=1, max_length=120)
    stand: Stand = Stand()
    lens: Lens = Lens()
    back: Back = Back()
    movements: Movements = Movements()
    focus: Focus = Focus()
    exposure: Exposure = Exposure()
    guides: Guides = Guides()
    left_out: tuple[PartId, ...] = Field((), max_length=10000)
    """Parts of the set this shot does not show, by their ids."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, revalidate_instances="always", populate_by_name=True
    )

    @model_validator(mode="after")
    def _focus_outside_the_lens(self) -> Self:
        if self.focus.distance_m * 1000.0 <= self.lens.focal_length_mm * 1.01:
            raise ValueError(
                f"focus.distance_m is {self.focus.distance_m:g}; a {self.lens.focal_length_mm:g} mm lens "
                f"focuses no closer than {self.lens.focal_length_mm * 1.01 / 1000.0:.4g} m"
            )
        return self

    def with_groups(self, **groups: Settings) -> Shot:
        """The shot with groups replaced, checked again as a whole."""
        return Shot.model_validate({**{name: getattr(self, name) for name in Shot.model_fields}, **groups})

    def as_json(self) -> dict[str, object]:
        """Plain JSON with the keys of the open format."""
        return self.model_dump(mode="json", by_alias=True)
