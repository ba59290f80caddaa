"""The recipe of a print: all it takes to make it again, to the pixel."""

from __future__ import annotations

import uuid
from typing import ClassVar

from pydantic import Field

from zevlo.core.finals.order import Formats
from zevlo.core.finals.quality import Quality
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.shot import Shot
from zevlo.core.shot.upgrade import WithFormerKeys


class Recipe(WithFormerKeys):
    """A shot, of which set as it stood, in which light, and how much light is gathered for it."""

    former: ClassVar = {"cut": "crop"}

    shot: Shot
    crop: str | None = None
    """The crop of the shot's back that it shows; null: the whole frame."""
    revision: uuid.UUID
    """Which version of the set."""
    arrangement: Arrangement = Arrangement()
    """How that stood."""
    light: PlacedLight
    stack: tuple[float, ...] = ()
    """Metres at which the pictures of a stack are focused; none: one picture, as the shot is focused."""
    seed: int = 1
    size_px: tuple[int, int]
    samples: int = Field(ge=1)
    """Rays for each pixel; of a final at most, where grain is left."""
    quality: Quality | None = None
    """How well a final is made; null: it is a proof, or a stack's."""
    formats: Formats | None = None
    """The files a final is written to."""
    called: str | None = None
    """What those are called, without their endings."""
    versions: dict[str, str] = Field(default_factory=dict)
    """Of the programs it was ordered with."""
