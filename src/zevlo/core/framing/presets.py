"""What a project keeps of its own beside what is offered: formats, sizes of pictures, sets of primes and of crops."""

from __future__ import annotations

from collections.abc import Sequence
from typing import ClassVar, Protocol, Self

from pydantic import Field, model_validator

from zevlo.core.instruments.back.crops import CropSet
from zevlo.core.instruments.lens.primes import PRIME_SETS, PrimeSet
from zevlo.core.optics.back import Format
from zevlo.core.optics.picture_size import PictureSize
from zevlo.core.shot.upgrade import WithFormerKeys
from zevlo.text import framing as say

MOST_OWN = 60


class _Named(Protocol):
    @property
    def name(self) -> str: ...


class Presets(WithFormerKeys):
    """A project's own formats, sizes and sets, by their names; and the set of primes it steps through."""

    former: ClassVar = {"cut_sets": "crop_sets"}

    formats: tuple[Format, ...] = Field((), max_length=MOST_OWN)
    sizes: tuple[PictureSize, ...] = Field((), max_length=MOST_OWN)
    crop_sets: tuple[CropSet, ...] = Field((), max_length=MOST_OWN)
    prime_sets: tuple[PrimeSet, ...] = Field((), max_length=MOST_OWN)
    primes: str = PRIME_SETS[0].name
    """The name of the set of primes in use, of those offered and the project's own."""

    @model_validator(mode="after")
    def _names_of_their_own(self) -> Self:
        offered = [one.name for one in PRIME_SETS]
        every: tuple[Sequence[_Named], ...] = (self.formats, self.sizes, self.crop_sets, self.prime_sets)
        for some in every:
            names = [one.name for one in some]
            if len(set(names)) < len(names):
                raise ValueError(say.TWO_THAT_ARE_KEPT)
        if any(own.name in offered for own in self.prime_sets):
            raise ValueError(say.A_SET_OF_PRIMES)
        if self.primes not in [*offered, *(one.name for one in self.prime_sets)]:
            raise ValueError(say.there_is_no_set(self.primes))
        return self

    @property
    def primes_mm(self) -> tuple[float, ...]:
        """Focal lengths of the set in use."""
        sets = (*PRIME_SETS, *self.prime_sets)
        return next(one.focal_lengths_mm for one in sets if one.name == self.primes)
