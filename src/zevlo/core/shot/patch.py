"""A change to a shot as the keys a hand changed, laid on whatever the shot is by then.

Two quick changes, or two hands, so never undo each other; what comes of it is checked as a whole.
"""

from __future__ import annotations

from typing import Any

from pydantic import Field, create_model, model_validator

from zevlo.core.bases import Settings
from zevlo.core.shot import BlurLimit, FollowAim, Shot
from zevlo.core.shot.lens import Opening
from zevlo.core.shot.upgrade import upgraded

AS_A_WHOLE: tuple[type[Settings], ...] = (BlurLimit, FollowAim, Opening)
"""Groups whose keys only mean something together: a part of one is never laid on another."""


class _Patch(Settings):
    """Some keys of a shot, of this format or an older one."""

    @model_validator(mode="before")
    @classmethod
    def _of_an_older_format(cls, given: object) -> object:
        return upgraded(given)


def partial_of(model: type[Settings]) -> type[Settings]:
    """The model with every key optional, groups within it too. Only keys that were given count."""
    fields: dict[str, Any] = {}
    for name, field in model.model_fields.items():
        kind: Any = field.annotation
        if isinstance(kind, type) and issubclass(kind, Settings) and kind not in AS_A_WHOLE:
            kind = partial_of(kind)
        fields[name] = (kind, _absent(field))
    base = _Patch if model is Shot else Settings
    return create_model(f"{model.__name__}Patch", __base__=base, __doc__=model.__doc__, **fields)


def _absent(field: Any) -> Any:
    optional: Any = Field(
        default=None, alias=field.alias, description=field.description, json_schema_extra=_without_default
    )
    optional.metadata = list(field.metadata)
    return optional


def _without_default(schema: dict[str, Any]) -> None:
    schema.pop("default", None)


ShotPatch = partial_of(Shot)
"""Some keys of a shot."""


def given(patch: Settings) -> dict[str, Any]:
    """The keys a patch was given, with their values."""
    found: dict[str, Any] = {}
    for name in sorted(patch.model_fields_set - {"schema_"}):
        value = getattr(patch, name)
        found[name] = given(value) if type(value).__name__.endswith("Patch") else value
    return found


def patched(shot: Shot, patch: Settings) -> Shot:
    """The shot with the keys of a patch, checked as a whole. Raises pydantic's ``ValidationError``."""
    return Shot.model_validate(_laid_on(shot, given(patch)))


def _laid_on(model: Settings, keys: dict[str, Any]) -> dict[str, Any]:
    values = {name: getattr(model, name) for name in type(model).model_fields}
    for name, value in keys.items():
        old = values[name]
        within = isinstance(value, dict) and isinstance(old, Settings)
        values[name] = _laid_on(old, value) if within else value
    return values


def differs_from(shot: Shot, patch: Settings) -> list[str]:
    """Keys of a patch that the shot has otherwise, as ``lens.focal_length_mm``."""
    return [path for path, value, old in _pairs(shot, given(patch), "") if old != value]


def _pairs(model: Settings, keys: dict[str, Any], above: str) -> list[tuple[str, Any, Any]]:
    found: list[tuple[str, Any, Any]] = []
    for name, value in keys.items():
        old = getattr(model, name)
        if isinstance(value, dict) and isinstance(old, Settings):
            found += _pairs(old, value, f"{above}{name}.")
        else:
            found.append((f"{above}{name}", value, old))
    return found
