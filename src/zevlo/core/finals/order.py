"""What an order asks for: pictures out of the shot list, how large, how well, in which files, and called what."""

from __future__ import annotations

import uuid
from typing import Annotated, ClassVar, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from zevlo.core.bases import Settings
from zevlo.core.finals.naming import FIRST_PATTERN, checked_pattern
from zevlo.core.finals.quality import QualityName
from zevlo.core.shot.back import MAX_OUTPUT_SIDE_PX, CropName, Pixels
from zevlo.core.shot.upgrade import WithFormerKeys
from zevlo.text import orders as say

MOST_PICTURES = 2000
Layer = Literal["depth", "normal", "albedo", "parts"]


class OwnSize(Settings):
    """Each picture has the pixels its shot or crop asks for."""

    kind: Literal["own"] = "own"

    def pixels(self, own: tuple[int, int]) -> tuple[int, int]:
        """The pixels of a picture whose shot asks for ``own``."""
        return own


class Longest(Settings):
    """So many pixels on the longer side, whichever that is."""

    kind: Literal["longest"] = "longest"
    px: Pixels

    def pixels(self, own: tuple[int, int]) -> tuple[int, int]:
        """The pixels of a picture whose shot asks for ``own``."""
        return _scaled(own, self.px / max(own))


class Inside(Settings):
    """As large as goes into so many pixels, each picture in its own ratio."""

    kind: Literal["inside"] = "inside"
    output_px: tuple[Pixels, Pixels]

    def pixels(self, own: tuple[int, int]) -> tuple[int, int]:
        """The pixels of a picture whose shot asks for ``own``."""
        return _scaled(own, min(self.output_px[0] / own[0], self.output_px[1] / own[1]))


class Scaled(Settings):
    """So many times the pixels its shot or crop asks for, each way."""

    kind: Literal["scaled"] = "scaled"
    times: float = Field(ge=0.01, le=10.0)

    def pixels(self, own: tuple[int, int]) -> tuple[int, int]:
        """The pixels of a picture whose shot asks for ``own``."""
        return _scaled(own, self.times)


def _scaled(own: tuple[int, int], times: float) -> tuple[int, int]:
    width, height = (min(MAX_OUTPUT_SIDE_PX, max(1, round(side * times))) for side in own)
    return width, height


Size = Annotated[OwnSize | Longest | Inside | Scaled, Field(discriminator="kind")]


class Formats(Settings):
    """The files a picture is written to."""

    png: Literal[8, 16] | None = 8
    """Bits a colour has in PNG; null: no PNG."""
    jpeg: Annotated[int, Field(ge=1, le=100)] | None = None
    """Quality of a JPEG; null: none."""
    exr: Literal["half", "float"] | None = None
    """Precision of an OpenEXR, linear; null: none."""
    layers: tuple[Layer, ...] = ()
    """What the OpenEXR has beside the picture: depth in metres, normals, albedo, which part is where."""

    @model_validator(mode="after")
    def _some(self) -> Self:
        if self.png is None and self.jpeg is None and self.exr is None:
            raise ValueError(say.AT_LEAST_ONE_OF_PNG)
        if self.layers and self.exr is None:
            raise ValueError(say.LAYERS_ARE_WRITTEN_INTO_AN_OPENEXR)
        if len(set(self.layers)) < len(self.layers):
            raise ValueError(say.A_LAYER_IS_ASKED)
        return self

    @property
    def endings(self) -> tuple[str, ...]:
        """The endings of the files' names."""
        has = (("png", self.png), ("jpg", self.jpeg), ("exr", self.exr))
        return tuple(ending for ending, value in has if value is not None)


class Wanted(WithFormerKeys):
    """A picture that is asked for: a shot, or one of its crops."""

    former: ClassVar = {"cut": "crop"}

    shot: uuid.UUID
    crop: CropName | None = None
    """null: the whole frame."""
    size: Size | None = None
    """A size of its own; null: as the order says."""
    stacked: bool = False
    """Merged of the pictures of the shot's stack; else one picture, focused as the shot is."""


class Order(Settings):
    """Finals that are ordered together."""

    pictures: tuple[Wanted, ...] = Field(min_length=1, max_length=MOST_PICTURES)
    size: Size = OwnSize()
    quality: QualityName = "good"
    formats: Formats = Formats()
    pattern: Annotated[str, AfterValidator(checked_pattern)] = FIRST_PATTERN
    """What the files are called."""

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        if len({(one.shot, one.crop, one.size, one.stacked) for one in self.pictures}) < len(self.pictures):
            raise ValueError(say.A_PICTURE_IS_ASKED)
        return self

    def size_of(self, wanted: Wanted, own: tuple[int, int]) -> tuple[int, int]:
        """Pixels of a picture of the order, whose shot or crop asks for ``own``."""
        return (wanted.size or self.size).pixels(own)
