"""Crops: pictures of their own out of the shot's frame, put there, moved and sized by hand."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zevlo.core.camera.camera import WHOLE, Frame
from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics.back import FittedBack, crop_frame, fit_back
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.back import MOST_CROPS, Crop, CropName, Pixels
from zevlo.core.shot.upgrade import WithFormerKeys
from zevlo.text import back as say
from zevlo.text import everywhere

SMALLEST = 1.0e-4
Moved = Annotated[float, Field(ge=-20.0, le=20.0)]


class CropSet(WithFormerKeys):
    """A set of crops that are wanted together, by its name."""

    former: ClassVar = {"cuts": "crops"}

    name: CropName
    crops: tuple[Crop, ...] = Field(min_length=1, max_length=MOST_CROPS)


OFFERED_CROPS = (
    Crop(name="16:9", output_px=(3840, 2160)),
    Crop(name="3:2", output_px=(3000, 2000)),
    Crop(name="1:1", output_px=(2160, 2160)),
    Crop(name="4:5", output_px=(2160, 2700)),
    Crop(name="2:3", output_px=(2000, 3000)),
    Crop(name="9:16", output_px=(1080, 1920)),
    Crop(name="12:5", output_px=(3840, 1600)),
)
"""Ratios pictures are often asked for in (common practice, no source)."""
OFFERED_SETS = (
    CropSet(name=say.PAGE_AND_SQUARE, crops=(OFFERED_CROPS[0], OFFERED_CROPS[2], OFFERED_CROPS[3], OFFERED_CROPS[5])),
)


def picture_of(shot: Shot, crop: str | None = None) -> tuple[Frame, tuple[int, int]]:
    """What of a shot's frame a picture shows, and its pixels: a crop of its back by its name, or all of it.

    Raises :class:`Refused` where there is no such crop.
    """
    whole = fit_back(shot.back)
    if crop is None:
        return WHOLE, whole.output_px
    found = crop_named(shot, crop)
    return crop_frame(whole, found.output_px, found.size, found.at), found.output_px


def same_crop(then: Shot, now: Shot, name: str) -> bool:
    """Whether a crop still takes the same out of the frame."""
    return has_crop(now, name) and picture_of(then, name)[0] == picture_of(now, name)[0]


def has_crop(shot: Shot, name: str) -> bool:
    """Whether a shot has a crop of that name."""
    return name in {one.name for one in shot.back.crops}


def crop_named(shot: Shot, name: str) -> Crop:
    """A crop of a shot by its name. Raises :class:`Refused` where there is none."""
    found = next((one for one in shot.back.crops if one.name == name), None)
    if found is None:
        names = ", ".join(f"“{one.name}”" for one in shot.back.crops) or everywhere.NONE
        raise Refused(say.there_is_no_crop(name, names))
    return found


def _with(shot: Shot, crops: tuple[Crop, ...]) -> Shot:
    return shot.with_groups(back=shot.back.model_copy(update={"crops": crops}))


def _changed(shot: Shot, name: str, change: Callable[[Crop], Crop]) -> Shot:
    crop_named(shot, name)
    return _with(shot, tuple(change(one) if one.name == name else one for one in shot.back.crops))


def _lying(whole: FittedBack, crop: Crop, frame: Frame) -> Crop:
    """The crop where it lies in a frame, of its ratio, as far as it stays within the whole."""
    largest = crop_frame(whole, crop.output_px, 1.0, (0.0, 0.0))
    size = (frame[2] - frame[0]) / (largest[2] - largest[0])
    size = min(max(size, SMALLEST), 1.0)
    at = []
    for low, most in ((frame[0], largest[2]), (frame[1], largest[3])):
        left_over = 1.0 - size * most
        at.append(min(max(low / left_over, 0.0), 1.0) if left_over > 1.0e-12 else 0.5)
    return crop.model_copy(update={"size": size, "at": (at[0], at[1])})


class CropsAdd(Gesture):
    """Crops are put into the frame, those of a name that is there already left as they are."""

    kind: Literal["crops_add"] = "crops_add"
    crops: tuple[Crop, ...] = Field(min_length=1, max_length=MOST_CROPS)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        known = {one.name for one in shot.back.crops}
        new = tuple({one.name: one for one in self.crops if one.name not in known}.values())
        if not new:
            raise Refused(say.A_CROP_OF_THAT_NAME if len(self.crops) == 1 else say.THESE_ARE_ALL_THERE)
        if len(known) + len(new) > MOST_CROPS:
            raise Refused(say.a_shot_has_up_to_crops(MOST_CROPS))
        return _with(shot, (*shot.back.crops, *new))


class CropBy(Gesture):
    """A crop is moved within the frame by shares of it, as far as it goes."""

    kind: Literal["crop_by"] = "crop_by"
    name: CropName
    right: Moved
    up: Moved

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        whole = framing.fitted

        def moved(crop: Crop) -> Crop:
            left, bottom, right, top = crop_frame(whole, crop.output_px, crop.size, crop.at)
            return _lying(whole, crop, (left + self.right, bottom + self.up, right + self.right, top + self.up))

        return _changed(shot, self.name, moved)


class CropCorner(Gesture):
    """A corner of a crop is pulled to a place in the frame; the opposite one and the ratio stay."""

    kind: Literal["crop_corner"] = "crop_corner"
    name: CropName
    x: Literal["left", "right"]
    y: Literal["bottom", "top"]
    to: tuple[Moved, Moved]

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        whole = framing.fitted

        def pulled(crop: Crop) -> Crop:
            left, bottom, right, top = crop_frame(whole, crop.output_px, crop.size, crop.at)
            stay_x, out_x = (right, -1.0) if self.x == "left" else (left, 1.0)
            stay_y, out_y = (top, -1.0) if self.y == "bottom" else (bottom, 1.0)
            wide, high = right - left, top - bottom
            grown = max((self.to[0] - stay_x) * out_x / wide, (self.to[1] - stay_y) * out_y / high, SMALLEST)
            room_x, room_y = (stay_x if out_x < 0 else 1.0 - stay_x), (stay_y if out_y < 0 else 1.0 - stay_y)
            grown = min(grown, room_x / wide, room_y / high)
            ends = sorted((stay_x, stay_x + out_x * grown * wide)), sorted((stay_y, stay_y + out_y * grown * high))
            return _lying(whole, crop, (ends[0][0], ends[1][0], ends[0][1], ends[1][1]))

        return _changed(shot, self.name, pulled)


class CropSize(Gesture):
    """A crop has other pixels; where its ratio is another then, its middle stays as near as can be."""

    kind: Literal["crop_size"] = "crop_size"
    name: CropName
    output_px: tuple[Pixels, Pixels]

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        whole = framing.fitted

        def sized(crop: Crop) -> Crop:
            left, bottom, right, top = crop_frame(whole, crop.output_px, crop.size, crop.at)
            other = crop.model_copy(update={"output_px": self.output_px})
            a, b, c, d = crop_frame(whole, self.output_px, crop.size, crop.at)
            dx, dy = (left + right - a - c) / 2.0, (bottom + top - b - d) / 2.0
            return _lying(whole, other, (a + dx, b + dy, c + dx, d + dy))

        return _changed(shot, self.name, sized)


class CropAway(Gesture):
    """A crop is taken out of the shot."""

    kind: Literal["crop_away"] = "crop_away"
    name: CropName

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        crop_named(shot, self.name)
        return _with(shot, tuple(one for one in shot.back.crops if one.name != self.name))
