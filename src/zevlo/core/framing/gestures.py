"""Everything a hand can do to a shot, as one kind of message each: derived from the instruments."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, TypeAlias, Union

from pydantic import Field

from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Gesture

GESTURES: tuple[type[Gesture], ...] = tuple(kind for one in INSTRUMENTS for kind in one.gestures)

if TYPE_CHECKING:
    ShotGesture: TypeAlias = Gesture
else:
    ShotGesture = Annotated[Union[GESTURES], Field(discriminator="kind")]  # noqa: UP007
