"""What every model of the open format is built on: immutable settings, parts of the sheet, points, ids of parts.

World: right-handed, Z up, metres, +Y project north. Film lengths carry ``_mm``, angles ``_deg``, pictures ``_px``;
everything else is SI.
"""

from __future__ import annotations

from typing import Annotated, Any, cast

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, GetCoreSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from zevlo.text import measures as say

MAX_COORDINATE_M = 1.0e6


def _taken_literally(schema: Any, own: type) -> Any:
    """A model's schema with its numbers and truths taken as they are told; other models in it are so already."""
    if isinstance(schema, list | tuple):
        return type(schema)(_taken_literally(one, own) for one in schema)
    if not isinstance(schema, dict) or (schema.get("type") == "model" and schema["cls"] is not own):
        return schema
    kind = schema.get("type")
    if kind in ("float", "bool"):
        return {**schema, "strict": True}
    if kind == "int":
        # A whole number may be written 1920.0, which strictness would refuse.
        return core_schema.no_info_before_validator_function(_a_number, cast(CoreSchema, schema))
    return {name: _taken_literally(one, own) for name, one in schema.items()}


def _a_number(value: object) -> object:
    if isinstance(value, str | bytes | bool):
        raise PydanticCustomError("int_type", "Input should be a valid integer")
    return value


class StrictModel(BaseModel):
    """Base of whatever comes from outside: a number comes as a number, yes and no as true and false. Text that reads
    like one would be taken in silence, and be another one where somebody writes 3,5."""

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        # Asked again for each use of the model: what was made once is handed on as it is.
        made = isinstance(cls.__dict__.get("__pydantic_core_schema__"), dict)
        schema = handler(source)
        return schema if made else cast(CoreSchema, _taken_literally(schema, cls))


class Settings(StrictModel):
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
            raise ValueError(say.is_not_solved_by_this_version(what, allowed))
        return value

    return AfterValidator(check)
