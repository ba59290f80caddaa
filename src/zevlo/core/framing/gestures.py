"""Everything a hand can do to a shot, as one kind of message each: derived from the instruments."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, TypeAlias, Union

from pydantic import BeforeValidator, Field

from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Gesture

GESTURES: tuple[type[Gesture], ...] = tuple(kind for one in INSTRUMENTS for kind in one.gestures)

FORMER_KINDS = {"shift": "truck"}
"""What gestures were called in version 1: questions that were written down then are read for ever."""


def _by_its_kind_of_now(given: Any) -> Any:
    if isinstance(given, dict) and given.get("kind") in FORMER_KINDS:
        return {**given, "kind": FORMER_KINDS[given["kind"]]}
    return given


if TYPE_CHECKING:
    ShotGesture: TypeAlias = Gesture
else:
    ShotGesture = Annotated[
        Union[GESTURES], Field(discriminator="kind"), BeforeValidator(_by_its_kind_of_now)  # noqa: UP007
    ]
