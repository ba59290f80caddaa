"""In which of its project's light setups a shot is taken."""

from __future__ import annotations

import uuid
from typing import Annotated, Self

from pydantic import Field, model_validator

from zevlo.core.bases import Settings
from zevlo.text import shot as say

LightName = Annotated[str, Field(min_length=1, max_length=120)]


class ShotLight(Settings):
    """A light setup of the project, by its id, which counts, and its name, for people and for files."""

    id: uuid.UUID | None = None
    """What it is known by in its project; null: by its name."""
    name: LightName | None = None
    """What it was called when the shot was written; null: known by its id alone."""

    @model_validator(mode="after")
    def _one_or_the_other(self) -> Self:
        if self.id is None and self.name is None:
            raise ValueError(say.A_LIGHT_IS_TOLD)
        return self
