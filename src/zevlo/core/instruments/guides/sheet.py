"""The guides of a shot as they lie in its frame, and in words which are other than they were."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from zevlo.core.bases import SheetGroup
from zevlo.core.compose import guides
from zevlo.core.instruments.guides.lean_lines import lean_lines, lean_words
from zevlo.core.instruments.instrument import Called, SheetContext
from zevlo.core.shot import Shot
from zevlo.core.shot.guides import USUAL_MARGIN, Guides
from zevlo.text import guides as say

_DRAWN: dict[str, Callable[[Guides, float], guides.Lines]] = {
    "thirds": lambda own, ratio: guides.THIRDS,
    "golden": lambda own, ratio: guides.GOLDEN,
    "diagonals": lambda own, ratio: guides.DIAGONALS,
    "reciprocals": lambda own, ratio: guides.reciprocals(ratio),
    "centre": lambda own, ratio: guides.CENTRE,
    "margin": lambda own, ratio: guides.margin(own.margin or USUAL_MARGIN),
}
"""Guides that only go by the frame and its ratio."""


class GuideLines(SheetGroup):
    """A guide as it lies in the frame, whether it is shown or not."""

    name: str
    """Its key in the shot."""
    words: str
    """What it is called."""
    shown: bool
    on: bool | float
    """What its key is to be for it to be shown."""
    off: bool | None
    lines: list[tuple[float, float, float, float]]
    """From (x0, y0) to (x1, y1) in the frame, (0, 0) bottom left to (1, 1); none where it is not in it."""
    labels: list[str]
    """What is told beside each line, where anything is."""


_KEYS: dict[str, tuple[str, bool | float, bool | None]] = {
    name: (str(field.title), USUAL_MARGIN, None) if field.default is None else (str(field.title), True, False)
    for name, field in Guides.model_fields.items()
}


def compute_sheet(context: SheetContext) -> list[SheetGroup]:
    """All guides, with those that are shown marked."""
    own = context.shot.guides
    width, height = context.framing.fitted.size_mm
    found: list[SheetGroup] = list(_still(own, width / height))
    words, on, off = _KEYS["horizon"]
    camera = context.framing.camera
    lines = list(guides.horizon(camera.pose, camera.window, camera.law))
    found.append(
        GuideLines.model_construct(
            name="horizon", words=words, shown=own.horizon, on=on, off=off, lines=lines, labels=[]
        )
    )
    words, on, off = _KEYS["lean_lines"]
    leaning = []
    # Nobody looks for what is not shown: it goes by all the edges of a set.
    if own.lean_lines and context.working is not None:
        leaning = lean_lines(camera, context.framing.shown.whole)
    found.append(
        GuideLines.model_construct(
            name="lean_lines", words=words, shown=own.lean_lines, on=on, off=off, lines=[one.line for one in leaning],
            labels=[lean_words(one.lean_deg) for one in leaning],
        )
    )  # fmt: skip
    return found


@lru_cache(maxsize=64)
def _still(own: Guides, ratio: float) -> tuple[GuideLines, ...]:
    """Those that do not go by where the camera stands."""
    return tuple(
        GuideLines(
            name=name,
            words=words,
            shown=bool(getattr(own, name)),
            on=on,
            off=off,
            lines=list(of(own, ratio)),
            labels=[],
        )
        for name, (words, on, off) in _KEYS.items()
        if (of := _DRAWN.get(name)) is not None
    )


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Which guides were put on or off, or made otherwise."""
    found = []
    for name, (words, *_rest) in _KEYS.items():
        a, b = getattr(before.guides, name), getattr(after.guides, name)
        if a == b:
            continue
        if a and b:
            found.append(f"{words.lower()} {100.0 * a:.3g} → {100.0 * b:.3g} %")
        else:
            found.append(f"{words.lower()} {say.SHOWN if b else say.NO_LONGER_SHOWN}")
    return found
