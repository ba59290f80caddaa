"""The movements of a view camera: the film shifted behind its lens, the lens turned before it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from zevlo.core.bases import Settings

MOST_SHIFT_MM = 1000.0
Shift = Annotated[float, Field(ge=-MOST_SHIFT_MM, le=MOST_SHIFT_MM)]
Turn = Annotated[float, Field(ge=-45.0, le=45.0)]


class BeforeStraightening(Settings):
    """What rise, cross and roll were before uprights were made true or the camera put square on: the way back."""

    rise_mm: Shift = 0.0
    cross_mm: Shift = 0.0
    roll_deg: float = Field(0.0, ge=-180.0, le=180.0)


class Movements(Settings):
    """View-camera movements, as shifts of the window, and how the lens is turned before the film."""

    rise_mm: Shift = 0.0
    """Up is positive: it shows more of what is above."""
    cross_mm: Shift = 0.0
    """To the right is positive."""
    tilt_deg: Turn = 0.0
    """Turn of the lens about the level axis: positive lays the plane of sharp focus towards the ground, its hinge below
    the lens."""
    swing_deg: Turn = 0.0
    """Turn of the lens about the upright axis, after the tilt: positive puts the hinge to the left."""
    image_circle_mm: float | None = Field(None, ge=0.1, le=5000.0)
    """Diameter of what the lens draws; null is no bound."""
    tilt_limit_deg: float | None = Field(8.0, ge=0.0, le=45.0)
    """How far the lens can be turned in all; null is no bound."""
    keep_uprights: bool = False
    """Whether a camera that is turned up or down keeps its pitch and gets rise instead."""
    before_straightening: BeforeStraightening | None = None
    """What there was before straightening; null where nothing was straightened."""

    def shifted_to(self, rise_mm: float, cross_mm: float) -> Movements:
        """The same with other shifts, because of another back or frame; what there was is shifted along."""
        was = self.before_straightening
        if was is not None:
            rise, cross = was.rise_mm + rise_mm - self.rise_mm, was.cross_mm + cross_mm - self.cross_mm
            was = was.model_copy(update={"rise_mm": rise, "cross_mm": cross})
        return self.model_copy(update={"rise_mm": rise_mm, "cross_mm": cross_mm, "before_straightening": was})

    def scaled(self, by: float) -> Movements:
        """The same behind a lens ``by`` times as long before a film as many times larger."""
        was = self.before_straightening
        if was is not None:
            was = was.model_copy(update={"rise_mm": was.rise_mm * by, "cross_mm": was.cross_mm * by})
        return self.model_copy(
            update={"rise_mm": self.rise_mm * by, "cross_mm": self.cross_mm * by, "before_straightening": was}
        )

    @property
    def unturned(self) -> Movements:
        """The same with the lens parallel to the film."""
        return self.model_copy(update={"tilt_deg": 0.0, "swing_deg": 0.0})
