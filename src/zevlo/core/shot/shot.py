"""The shot: one camera with all its settings, as the open format ``zevlo.shot/2``, put together from its groups.

Keys and defaults are those of ``docs/shot-format.md``.
"""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict, Field, model_validator

from zevlo.core.bases import Settings
from zevlo.core.shot.back import Back
from zevlo.core.shot.exposure import Exposure
from zevlo.core.shot.focus import Focus
from zevlo.core.shot.guides import Guides
from zevlo.core.shot.left_out import LeftOut
from zevlo.core.shot.lens import Lens
from zevlo.core.shot.light import ShotLight
from zevlo.core.shot.limits import nearest_focus_m, turn_cosine
from zevlo.core.shot.movements import Movements
from zevlo.core.shot.stand import Stand
from zevlo.core.shot.upgrade import upgraded
from zevlo.text import shot as say


class Shot(Settings):
    """One camera with all its settings: a picture any renderer or photographer could set up again."""

    schema_: Literal["zevlo.shot/2"] = Field("zevlo.shot/2", alias="schema")
    name: str = Field("Shot", min_length=1, max_length=120)
    stand: Stand = Stand()
    lens: Lens = Lens()
    back: Back = Back()
    movements: Movements = Movements()
    focus: Focus = Focus()
    exposure: Exposure = Exposure()
    guides: Guides = Guides()
    light: ShotLight | None = None
    """One of the project's light setups; null is its first."""
    left_out: LeftOut = ()
    """Parts of the set it does not show, by their ids."""

    model_config = ConfigDict(populate_by_name=True)

    @model_validator(mode="before")
    @classmethod
    def _of_an_older_format(cls, given: object) -> object:
        return upgraded(given)

    @model_validator(mode="after")
    def _focus_outside_the_lens(self) -> Shot:
        cosine = turn_cosine(self.movements.tilt_deg, self.movements.swing_deg)
        nearest = nearest_focus_m(self.lens.focal_length_mm, cosine)
        if self.focus.distance_m < nearest * (1.0 - 1.0e-9):
            focal, distance = self.lens.focal_length_mm, self.focus.distance_m
            raise ValueError(say.focuses_no_closer(distance, focal, nearest, turned=cosine != 1.0))
        return self

    @model_validator(mode="after")
    def _turned_in_perspective(self) -> Shot:
        own = self.movements
        if self.lens.projection != "perspective" and (own.tilt_deg != 0.0 or own.swing_deg != 0.0):
            raise ValueError(say.MOVEMENTS_TILT_DEG_AND_MOVEMENTS)
        return self

    def with_groups(self, **groups: Settings) -> Shot:
        """The shot with groups replaced, checked again as a whole."""
        return Shot.model_validate({**{name: getattr(self, name) for name in Shot.model_fields}, **groups})

    def as_json(self) -> dict[str, object]:
        """Plain JSON with the keys of the open format."""
        return self.model_dump(mode="json", by_alias=True)
