"""What goes over the wire of what the instruments choose from, and of numbers as people write them."""

from __future__ import annotations

from zevlo.api.messages import Message
from zevlo.core.framing.differences import CopyGroup
from zevlo.core.framing.placing_habits import HeightPair, Mark
from zevlo.core.instruments.back.crops import CropSet
from zevlo.core.instruments.lens.primes import PrimeSet
from zevlo.core.instruments.lens.projection import ProjectionOffer
from zevlo.core.instruments.lens.views import ViewOffer
from zevlo.core.instruments.movements.sheet import CircleOffer
from zevlo.core.optics.back import Format
from zevlo.core.optics.picture_size import PaperSize, PictureSize
from zevlo.core.shot import Back
from zevlo.core.shot.back import Crop
from zevlo.core.shot.focus import BlurLimitOffer


class MeasureOut(Message):
    """What was written, in metres, millimetres of film, degrees or seconds."""

    value: float


class StopOffer(Message):
    f_number: float
    name: str


class CopyOffer(Message):
    """Settings that can be copied from one shot to others."""

    name: CopyGroup
    words: str


class InstrumentOffer(Message):
    """An instrument: the key of its settings in the shot, what it is called, what of it can be copied."""

    key: str
    name: str
    copied: list[CopyOffer]


class Offer(Message):
    """What the instruments choose from."""

    instruments: list[InstrumentOffer]
    """All there are, in their order."""
    first_back: Back
    """The back of a project's first shot."""

    projections: list[ProjectionOffer]
    formats: list[Format]
    picture_sizes: list[PictureSize]
    papers: list[PaperSize]
    crops: list[Crop]
    crop_sets: list[CropSet]
    prime_sets: list[PrimeSet]
    views: list[ViewOffer]
    scales: list[float]
    """Of a parallel picture on paper, 1 to so many."""
    stops: list[StopOffer]
    """Whole stops and thirds, exact."""
    half_stops: list[StopOffer]
    blur_limits: list[BlurLimitOffer]
    image_circles: list[CircleOffer]
    named_heights: list[Mark]
    height_pairs: list[HeightPair]
    height_words: list[str]
    """Those pairs in metres and feet, for reading."""
