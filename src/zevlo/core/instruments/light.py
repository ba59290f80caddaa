"""Light: in which of its project's light setups a shot is taken."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from zevlo.core.instruments.instrument import Called, Instrument, group_copied

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

LightName = Annotated[str, Field(min_length=1, max_length=120)]


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another light setup, by its name. Whether it shines otherwise is the project's to tell."""
    a, b = ("the first" if shot.light is None else f"“{shot.light}”" for shot in (before, after))
    return [f"light {a} → {b}"] if a != b else []


LIGHT = Instrument(key="light", name="Light", differs=differs, copied=(group_copied("light", "Light"),))
