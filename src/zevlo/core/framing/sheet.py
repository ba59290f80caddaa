"""The sheet that comes back for a shot, ``zevlo.sheet/2``, put together from the instruments' parts."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict, Field

from zevlo.core.bases import SheetGroup
from zevlo.core.camera.drawn import Drawings
from zevlo.core.instruments.back.sheet import BackSheet
from zevlo.core.instruments.exposure.sheet import ExposureSheet
from zevlo.core.instruments.focus.sheet import FocusSheet
from zevlo.core.instruments.guides.sheet import GuideLines
from zevlo.core.instruments.lens.sheet import LensSheet
from zevlo.core.instruments.movements.sheet import MovementsSheet
from zevlo.core.instruments.stand.sheet import PoseSheet


class Check(SheetGroup):
    """Something about the shot worth a look: what, why, and what would mend it."""

    what: str
    why: str
    fix: str | None = None


class Sheet(SheetGroup):
    """Every number and drawing the desk shows of a shot."""

    schema_: Literal["zevlo.sheet/2"] = Field("zevlo.sheet/2", alias="schema")
    pose: PoseSheet
    lens: LensSheet
    back: BackSheet
    movements: MovementsSheet
    focus: FocusSheet
    exposure: ExposureSheet
    guides: list[GuideLines]
    drawings: Drawings
    checks: list[Check] = Field(default_factory=list)

    model_config = ConfigDict(populate_by_name=True)

    def as_json(self) -> dict[str, object]:
        """Plain JSON with the keys of the open format."""
        return self.model_dump(mode="json", by_alias=True)
