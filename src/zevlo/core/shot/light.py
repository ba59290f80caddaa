"""In which of its project's light setups a shot is taken."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

LightName = Annotated[str, Field(min_length=1, max_length=120)]
