"""Which light setup a shot is taken in, told from what it was."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Called
from zevlo.core.shot import Shot
from zevlo.text import light as say


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another light setup, by its name. Whether it shines otherwise is the project's to tell."""
    if before.light == after.light:
        return []
    a, b = (say.THE_FIRST if shot.light is None else f"“{shot.light.name}”" for shot in (before, after))
    return [say.light(a, b) if a != b else say.ANOTHER_LIGHT]
