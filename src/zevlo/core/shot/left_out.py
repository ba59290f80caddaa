"""What of the set a shot does not show."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from zevlo.core.bases import PartId

LeftOut = Annotated[tuple[PartId, ...], Field(max_length=10000)]
"""Parts of the set a shot does not show, by their ids."""
