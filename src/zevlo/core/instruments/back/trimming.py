"""Trim: sides of the frame taken hold of and put elsewhere, a ratio, or all of it back."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments.back.one_side import GivesWay, taken_off, with_taken_off
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.shot import Shot
from zevlo.core.shot.back import Pixels, Trim

Pulled = Annotated[float, Field(ge=-20.0, le=20.0)]
_STAYS = {None: 0.5, "left": 1.0, "right": 0.0, "bottom": 1.0, "top": 0.0}
"""Which place of the frame stays, in shares, while a side is pulled."""


class EdgeTo(Gesture):
    """A side or a corner of the frame is pulled to a place, in shares of the frame as it is. Within the whole frame
    that trims it; beyond it the frame is widened, if something is told to give way."""

    kind: Literal["edge_to"] = "edge_to"
    x: Literal["left", "right"] | None = None
    y: Literal["bottom", "top"] | None = None
    to: tuple[Pulled, Pulled]
    both: bool = False
    """Whether the opposite side goes the other way, about the middle."""
    hold_ratio: bool = False
    gives: GivesWay | None = None
    """What gives way to see more than the whole frame; null stops at it."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        left, right, bottom, top = taken_off(shot.back)
        (columns, rows), (wide, high) = shot.back.output_px, framing.fitted.output_px
        stays_x, stays_y = (0.5 if self.both else _STAYS[side] for side in (self.x, self.y))
        most_x, most_y = _most(stays_x, left, right, wide), _most(stays_y, bottom, top, high)
        grown_x, grown_y = _grown(self.x, self.to[0], self.both), _grown(self.y, self.to[1], self.both)
        if self.hold_ratio:
            asked = max(grown for grown in (grown_x, grown_y, 0.0) if grown is not None) or 1.0
            grown_x = grown_y = asked if self.gives is not None else min(asked, most_x, most_y)
        elif self.gives is None:
            grown_x = None if grown_x is None else min(grown_x, most_x)
            grown_y = None if grown_y is None else min(grown_y, most_y)
        across = wide if grown_x is None else max(1, round(wide * grown_x))
        up = high if grown_y is None else max(1, round(high * grown_y))
        left += round(stays_x * (wide - across))
        bottom += round(stays_y * (high - up))
        return with_taken_off(framing, (left, columns - left - across, bottom, rows - bottom - up), self.gives)


def _grown(side: str | None, to: float, both: bool) -> float | None:
    """How many times its size the frame becomes along one axis; None where nothing is pulled there."""
    if side is None:
        return None
    out = 1.0 - to if side in ("left", "bottom") else to
    return max(2.0 * out - 1.0 if both else out, 1.0e-9)


def _most(stays: float, before: int, after: int, pixels: int) -> float:
    """How many times its size the frame can become along an axis, about the place that stays, within the whole."""
    ends = [1.0 + before / pixels / stays] if stays > 0.0 else []
    ends += [1.0 + after / pixels / (1.0 - stays)] if stays < 1.0 else []
    return min(ends)


class TrimRatio(Gesture):
    """Trimmed to a ratio: the largest of it in the whole frame, its middle as near as can be to where it was."""

    kind: Literal["trim_ratio"] = "trim_ratio"
    wide: Pixels
    high: Pixels

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        columns, rows = shot.back.output_px
        left, right, bottom, top = taken_off(shot.back)
        wide, high = columns, rows
        if columns * self.high > rows * self.wide:
            wide = max(1, round(rows * self.wide / self.high))
        else:
            high = max(1, round(columns * self.high / self.wide))
        left = min(max(0, round((left + columns - right - wide) / 2.0)), columns - wide)
        bottom = min(max(0, round((bottom + rows - top - high) / 2.0)), rows - high)
        return with_taken_off(framing, (left, columns - wide - left, bottom, rows - high - bottom))


class WholeFrame(Gesture):
    """Nothing is trimmed off any more."""

    kind: Literal["whole_frame"] = "whole_frame"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(back=shot.back.model_copy(update={"trim": Trim()}))
