"""How well a picture is made, by name: how much light is gathered for it, and when that is enough."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.text import orders as say

QualityName = Literal["draft", "good", "fine", "glass"]


class Quality(Settings):
    """What a name of quality means."""

    name: QualityName
    words: str
    """What it is for."""
    least: int = Field(ge=1)
    """Samples a pixel has everywhere."""
    samples: int = Field(ge=1)
    """Samples a pixel has at most, where noise is left."""
    bounces: int = Field(ge=1)
    """How often light is followed from one surface to the next."""
    noise: float = Field(gt=0.0)
    """Noise aimed at before cleaning, in steps of 255."""


QUALITIES = (
    Quality(
        name="draft", words=say.TO_LOOK_AT_THE_LIGHT,
        least=8, samples=32, bounces=6, noise=48.0,
    ),
    Quality(
        name="good", words=say.FOR_SCREENS,
        least=16, samples=128, bounces=8, noise=20.0,
    ),
    Quality(
        name="fine", words=say.FOR_PAPER_AND_FOR_SCREENS,
        least=32, samples=512, bounces=12, noise=10.0,
    ),
    Quality(
        name="glass", words=say.MUCH_GLASS_MANY_MIRRORS,
        least=64, samples=1024, bounces=24, noise=10.0,
    ),
)  # fmt: skip


def quality_named(name: QualityName) -> Quality:
    """What a name of quality means."""
    return next(one for one in QUALITIES if one.name == name)
