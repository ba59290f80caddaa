"""Cuts: pictures of their own out of the shot's frame, put there, moved and sized by hand."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.core.camera.camera import WHOLE, Frame
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics.back import Cut, cut_back, cut_within
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.back import MOST_CUTS, CutName, NamedCut, Pixels

SMALLEST = 1.0e-4
Moved = Annotated[float, Field(ge=-20.0, le=20.0)]


class CutSet(Settings):
    """A set of cuts that are wanted together, by its name."""

    name: CutName
    cuts: tuple[NamedCut, ...] = Field(min_length=1, max_length=MOST_CUTS)


OFFERED_CUTS = (
    NamedCut(name="16:9", output_px=(3840, 2160)),
    NamedCut(name="3:2", output_px=(3000, 2000)),
    NamedCut(name="1:1", output_px=(2160, 2160)),
    NamedCut(name="4:5", output_px=(2160, 2700)),
    NamedCut(name="2:3", output_px=(2000, 3000)),
    NamedCut(name="9:16", output_px=(1080, 1920)),
    NamedCut(name="12:5", output_px=(3840, 1600)),
)
"""Ratios pictures are often asked for in (common practice, no source)."""
OFFERED_SETS = (
    CutSet(name="Page and square", cuts=(OFFERED_CUTS[0], OFFERED_CUTS[2], OFFERED_CUTS[3], OFFERED_CUTS[5])),
)


def picture_of(shot: Shot, cut: str | None = None) -> tuple[Frame, tuple[int, int]]:
    """What of a shot's frame a picture shows, and its pixels: a cut of its back by its name, or all of it.

    Raises :class:`Refused` where there is no such cut.
    """
    whole = cut_back(shot.back)
    if cut is None:
        return WHOLE, whole.output_px
    found = cut_named(shot, cut)
    return cut_within(whole, found.output_px, found.size, found.at), found.output_px


def same_cut(then: Shot, now: Shot, name: str) -> bool:
    """Whether a cut still takes the same out of the frame."""
    return has_cut(now, name) and picture_of(then, name)[0] == picture_of(now, name)[0]


def has_cut(shot: Shot, name: str) -> bool:
    """Whether a shot has a cut of that name."""
    return name in {one.name for one in shot.back.cuts}


def cut_named(shot: Shot, name: str) -> NamedCut:
    """A cut of a shot by its name. Raises :class:`Refused` where there is none."""
    found = next((one for one in shot.back.cuts if one.name == name), None)
    if found is None:
        names = ", ".join(f"“{one.name}”" for one in shot.back.cuts) or "none"
        raise Refused(f"There is no cut “{name}” in this shot; it has {names}.")
    return found


def _with(shot: Shot, cuts: tuple[NamedCut, ...]) -> Shot:
    return shot.with_groups(back=shot.back.model_copy(update={"cuts": cuts}))


def _changed(shot: Shot, name: str, change: Callable[[NamedCut], NamedCut]) -> Shot:
    cut_named(shot, name)
    return _with(shot, tuple(change(one) if one.name == name else one for one in shot.back.cuts))


def _lying(whole: Cut, cut: NamedCut, frame: Frame) -> NamedCut:
    """The cut where it lies in a frame, of its ratio, as far as it stays within the whole."""
    largest = cut_within(whole, cut.output_px, 1.0, (0.0, 0.0))
    size = (frame[2] - frame[0]) / (largest[2] - largest[0])
    size = min(max(size, SMALLEST), 1.0)
    at = []
    for low, most in ((frame[0], largest[2]), (frame[1], largest[3])):
        left_over = 1.0 - size * most
        at.append(min(max(low / left_over, 0.0), 1.0) if left_over > 1.0e-12 else 0.5)
    return cut.model_copy(update={"size": size, "at": (at[0], at[1])})


class CutsAdd(Gesture):
    """Cuts are put into the frame, those of a name that is there already left as they are."""

    kind: Literal["cuts_add"] = "cuts_add"
    cuts: tuple[NamedCut, ...] = Field(min_length=1, max_length=MOST_CUTS)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        known = {one.name for one in shot.back.cuts}
        new = tuple({one.name: one for one in self.cuts if one.name not in known}.values())
        if not new:
            raise Refused("A cut of that name is there already." if len(self.cuts) == 1 else "These are all there.")
        if len(known) + len(new) > MOST_CUTS:
            raise Refused(f"A shot has up to {MOST_CUTS} cuts.")
        return _with(shot, (*shot.back.cuts, *new))


class CutBy(Gesture):
    """A cut is moved within the frame by shares of it, as far as it goes."""

    kind: Literal["cut_by"] = "cut_by"
    name: CutName
    right: Moved
    up: Moved

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        whole = cut_back(shot.back)

        def moved(cut: NamedCut) -> NamedCut:
            left, bottom, right, top = cut_within(whole, cut.output_px, cut.size, cut.at)
            return _lying(whole, cut, (left + self.right, bottom + self.up, right + self.right, top + self.up))

        return _changed(shot, self.name, moved)


class CutCorner(Gesture):
    """A corner of a cut is pulled to a place in the frame; the opposite one and the ratio stay."""

    kind: Literal["cut_corner"] = "cut_corner"
    name: CutName
    x: Literal["left", "right"]
    y: Literal["bottom", "top"]
    to: tuple[Moved, Moved]

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        whole = cut_back(shot.back)

        def pulled(cut: NamedCut) -> NamedCut:
            left, bottom, right, top = cut_within(whole, cut.output_px, cut.size, cut.at)
            stay_x, way_x = (right, -1.0) if self.x == "left" else (left, 1.0)
            stay_y, way_y = (top, -1.0) if self.y == "bottom" else (bottom, 1.0)
            wide, high = right - left, top - bottom
            grown = max((self.to[0] - stay_x) * way_x / wide, (self.to[1] - stay_y) * way_y / high, SMALLEST)
            room_x, room_y = (stay_x if way_x < 0 else 1.0 - stay_x), (stay_y if way_y < 0 else 1.0 - stay_y)
            grown = min(grown, room_x / wide, room_y / high)
            ends = sorted((stay_x, stay_x + way_x * grown * wide)), sorted((stay_y, stay_y + way_y * grown * high))
            return _lying(whole, cut, (ends[0][0], ends[1][0], ends[0][1], ends[1][1]))

        return _changed(shot, self.name, pulled)


class CutSize(Gesture):
    """A cut has other pixels; where its ratio is another then, its middle stays as near as can be."""

    kind: Literal["cut_size"] = "cut_size"
    name: CutName
    output_px: tuple[Pixels, Pixels]

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        whole = cut_back(shot.back)

        def sized(cut: NamedCut) -> NamedCut:
            left, bottom, right, top = cut_within(whole, cut.output_px, cut.size, cut.at)
            other = cut.model_copy(update={"output_px": self.output_px})
            a, b, c, d = cut_within(whole, self.output_px, cut.size, cut.at)
            dx, dy = (left + right - a - c) / 2.0, (bottom + top - b - d) / 2.0
            return _lying(whole, other, (a + dx, b + dy, c + dx, d + dy))

        return _changed(shot, self.name, sized)


class CutAway(Gesture):
    """A cut is taken out of the shot."""

    kind: Literal["cut_away"] = "cut_away"
    name: CutName

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        cut_named(shot, self.name)
        return _with(shot, tuple(one for one in shot.back.cuts if one.name != self.name))
