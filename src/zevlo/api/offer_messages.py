"""What goes over the wire of what the instruments choose from, and of numbers as people write them."""

from __future__ import annotations

from zevlo.api.messages import Message
from zevlo.core.optics.back import Format
from zevlo.core.optics.focus import BlurLimitOffer
from zevlo.core.sheet import GuideLines
from zevlo.core.stand.habits import HeightPair, Mark


class MeasureOut(Message):
    """What was written, in metres, millimetres of film, degrees or seconds."""

    value: float


class StopOffer(Message):
    f_number: float
    name: str


class Offer(Message):
    """What the instruments choose from."""

    formats: list[Format]
    picture_sizes_px: list[tuple[int, int]]
    stops: list[StopOffer]
    blur_limits: list[BlurLimitOffer]
    guides: list[GuideLines]
    named_heights: list[Mark]
    height_pairs: list[HeightPair]
    height_words: list[str]
    """Those pairs in metres and feet, for reading."""
