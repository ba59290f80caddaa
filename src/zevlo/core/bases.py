"""What every model of the open format is built on: immutable settings, parts of the sheet, points, ids of parts.

World: right-handed, Z up, metres, +Y project north. Film lengths carry ``_mm``, angles ``_deg``, pictures ``_px``;
everything else is SI.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

MAX_COORDINATE_M = 1.0e6


class Settings(BaseModel):
    """Base of every group: immutable, unknown keys refused by name, no NaN or infinity.

    A group made from another by ``model_copy`` is checked when it becomes part of a shot.
    """

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        allow_inf_nan=False,
        revalidate_instances="always",
        use_attribute_docstrings=True,
    )


class SheetGroup(BaseModel):
    """Base of every part of a sheet."""

    model_config = ConfigDict(frozen=True, extra="forbid", use_attribute_docstrings=True)


Coordinate = Annotated[float, Field(ge=-MAX_COORDINATE_M, le=MAX_COORDINATE_M)]
Point = tuple[Coordinate, Coordinate, Coordinate]
PartId = Annotated[str, Field(min_length=1, max_length=2000)]
"""What a part of the set is known by: its file's own lasting id, or its path where that is one of a kind."""
Matrix = list[float]
"""16 numbers, row by row; acts on column vectors."""


def not_yet(only: float | None, what: str) -> AfterValidator:
    """Refuses in words every value of a key that nothing solves yet, but the one that says it is not used."""

    def check(value: float | None) -> float | None:
        if value != only:
            allowed = "null" if only is None else f"{only:g}"
            raise ValueError(f"{what} is not solved by this version; it may only be {allowed}")
        return value

    return AfterValidator(check)
