"""A camera as other programs can say one: a frame, a window in front of it, and what lies beside it in a shot."""

from __future__ import annotations

from math import inf, radians, tan
from typing import Annotated, Literal

import numpy as np
from pydantic import BeforeValidator, ConfigDict, PlainSerializer, PositiveInt, TypeAdapter
from pydantic.dataclasses import dataclass as checked

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.lens import Window
from zevlo.core.plain_words import InWords
from zevlo.core.shot import Back, Shot
from zevlo.core.shot.lens import Distortion
from zevlo.core.stand.pose import resolve
from zevlo.text import cameras as say
from zevlo.text import everywhere

Matrix = Annotated[
    Floats,
    BeforeValidator(lambda given: np.asarray(given, dtype=np.float64)),
    PlainSerializer(lambda own: own.tolist()),
]


@checked(frozen=True, config=ConfigDict(arbitrary_types_allowed=True))
class CameraRecord:
    """One camera. World: metres, Z up; camera: x right, y up, looking along -z."""

    name: str
    matrix: Matrix
    """Camera to world, (4, 4) on column vectors; its axes are of length 1."""
    window: Window
    """What the picture takes: mm of film before ``distance_mm``; of a parallel projection metres in the world."""
    distance_mm: float | None
    """How far the film lies behind the lens; null: the projection is parallel."""
    near_m: float | None = None
    """As all that follows null where it is not told."""
    far_m: float | None = None
    """Infinite: there is no far clip."""
    focus_m: float | None = None
    f_number: float | None = None
    """Infinite: everything is sharp, as a pinhole draws."""
    shutter_s: float | None = None
    iso: float | None = None
    size_px: tuple[PositiveInt, PositiveInt] | None = None
    distortion: Distortion | None = None
    equidistant: bool = False
    """Whether the film is an equidistant fisheye's; else straight lines are straight on it."""
    key: str | None = None
    """What the shot is known by here."""
    shot: Shot | None = None
    """All of the shot, where the file carries that too."""
    told_m: float = 0.0
    """How far from zero its place was told, in metres: single precision is as much coarser."""


@checked(frozen=True)
class Unread:
    """A camera of a file that cannot be read, and why; the others are no worse for it."""

    name: str
    why: str


Found = list[CameraRecord | Unread]
"""Cameras of a file, and why some of them cannot be read."""
PASSED = TypeAdapter(Found)
"""Cameras as the process that reads them passes them on."""


class NoCamera(InWords):
    """What a file tells cannot be set up; the message says why."""


Said = Literal["window", "distortion", "equidistant", "focus", "exposure"]
"""What some kinds of files say of a camera and others do not."""


EQUIDISTANT: frozenset[Said] = frozenset({"equidistant"})
WIDEST_PLAIN_DEG = 120.0
"""Angle of view no plain frame is made wider than to hold what a fisheye or a cylinder sees: beyond, its sides are all
stretch."""


def camera_record_of(shot: Shot, key: str | None = None, says: frozenset[Said] = frozenset()) -> CameraRecord:
    """A shot as other programs can say it; what they cannot goes along as the shot itself. ``says``: what its kind of
    file can say. A law that cannot be said is drawn as the plain frame that holds what it sees, as far as one can."""
    camera, pose = camera_of(shot), resolve(shot.stand)
    matrix = np.eye(4)
    matrix[:3] = np.column_stack([pose.right, pose.up, -pose.forward, pose.position])
    window, distance = camera.window, Framing(shot).film_distance_mm
    equidistant = _equidistant(shot) and "equidistant" in says
    if shot.lens.projection not in ("perspective", "parallel") and not equidistant:
        window, _ = plain_frame(camera, distance)
    if shot.lens.projection == "parallel":
        assert shot.lens.scale_m is not None
        metres = shot.lens.scale_m / plain_width(shot.back)
        window = Window(*(end * metres for end in (window.left, window.right, window.bottom, window.top)))
    return CameraRecord(
        name=shot.name,
        matrix=matrix,
        window=window,
        distance_mm=None if shot.lens.projection == "parallel" else distance,
        near_m=shot.lens.near_m,
        far_m=inf if shot.lens.far_m is None else shot.lens.far_m,
        focus_m=shot.focus.distance_m,
        f_number=inf if shot.focus.f_number is None else shot.focus.f_number,
        shutter_s=shot.exposure.shutter_s,
        iso=shot.exposure.iso,
        size_px=fit_back(shot.back).output_px,
        distortion=shot.lens.distortion,
        equidistant=equidistant,
        key=key,
        shot=shot,
    )


def _equidistant(shot: Shot) -> bool:
    return shot.lens.projection == "fisheye" and shot.lens.fisheye_law == "equidistant"


def plain_frame(camera: Camera, distance_mm: float) -> tuple[Window, bool]:
    """The window on film ``distance_mm`` behind a plain lens that holds the picture of another law, of its ratio, and
    whether it holds all of it."""
    across, up, ahead = camera.camera_space(camera.pose.position + camera.rays(camera.edge(64)).directions).T
    farthest = tan(radians(WIDEST_PLAIN_DEG / 2.0))
    before = ahead > 1.0e-9
    safe = np.where(before, ahead, 1.0)
    # What looks sideways or back lies beyond every frame, on the side it looks to.
    beyond = [np.where(one == 0.0, 0.0, np.copysign(inf, one)) for one in (across, up)]
    sides = [np.where(before, one / safe, far) for one, far in zip((across, up), beyond, strict=True)]
    x, y = (np.clip(np.nan_to_num(one, posinf=farthest, neginf=-farthest), -farthest, farthest) for one in sides)
    holds = bool(before.all() and max(np.abs(sides[0]).max(), np.abs(sides[1]).max()) <= farthest)
    ratio = camera.window.width / camera.window.height
    middle = (float(x.min() + x.max()) / 2.0, float(y.min() + y.max()) / 2.0)
    half = max(float(np.ptp(x)), float(np.ptp(y)) * ratio) / 2.0
    ends = (middle[0] - half, middle[0] + half, middle[1] - half / ratio, middle[1] + half / ratio)
    return Window(*(end * distance_mm for end in ends)), holds


def plain_width(back: Back) -> float:
    """Width of the fitted back before trim and enlarge, mm: what ``scale_m`` counts."""
    return fit_back(back.model_copy(update={"trim": Back().trim, "enlarge": 1.0})).size_mm[0]


def cannot_say(shot: Shot, says: frozenset[Said] = frozenset()) -> list[str]:
    """What of a shot the plain camera of another program is not told, in words. ``says``: what its kind of file can say
    beside where the camera stands and how wide it sees."""
    lens, own, focus = shot.lens, shot.movements, shot.focus
    words = []
    if _equidistant(shot) and "equidistant" in says:
        pass
    elif lens.projection not in ("perspective", "parallel"):
        _, holds = plain_frame(camera_of(shot), Framing(shot).film_distance_mm)
        far = say.THAT_HOLDS_IT if holds else say.of_which_does_not_hold(WIDEST_PLAIN_DEG)
        words.append(say.its_law_others_see(lens.projection, far))
    elif any(lens.distortion.model_dump().values()) and "distortion" not in says:
        words.append(say.THE_LENSS_DISTORTION)
    if "window" not in says:
        cut = fit_back(shot.back)
        trimmed = cut.output_px != shot.back.output_px
        there = ((everywhere.RISE, own.rise_mm != 0.0), (everywhere.CROSS, own.cross_mm != 0.0), (say.TRIM, trimmed))
        moved = [name for name, so in there if so]
        words += [say.others_see_the_wider(moved)] if moved else []
    if own.tilt_deg or own.swing_deg:
        words.append(say.TILT_AND_SWING)
    if lens.falloff.natural or lens.falloff.mechanical:
        words.append(say.ITS_DARKER_CORNERS)
    if own.image_circle_mm is not None:
        words.append(say.ITS_IMAGE_CIRCLE)
    if lens.focus_breathing:
        words.append(say.HOW_THE_LENS_BREATHES)
    if focus.f_number is not None and "focus" not in says:
        words.append(say.FOCUS_AND_STOP)
    if focus.f_number is not None and (focus.blades >= 3 or focus.rim_weight or focus.squeeze):
        words.append(say.THE_SHAPE_OF_ITS_BLUR)
    if focus.stack is not None:
        words.append(say.ITS_STACK_OF_PICTURES)
    if "exposure" not in says:
        words.append(say.SHUTTER_AND_ISO)
    if shot.light is not None:
        words.append(say.ITS_LIGHT)
    if lens.cutting_plane is not None:
        words.append(say.THE_PLANE_THAT_OPENS)
    if shot.back.crops:
        words.append(say.ITS_CROPS)
    if shot.left_out:
        words.append(everywhere.WHAT_IS_LEFT_OUT)
    return words


def centred(window: Window) -> tuple[Window, tuple[float, float, float, float]]:
    """The window around the axis that just holds another, and where that lies in it: left, bottom, right, top in
    shares. What cannot shift a lens sees the wider one, and cuts it."""
    half_width = max(abs(window.left), abs(window.right))
    half_height = max(abs(window.bottom), abs(window.top))
    wide = Window(-half_width, half_width, -half_height, half_height)
    frame = (
        (window.left + half_width) / wide.width, (window.bottom + half_height) / wide.height,
        (window.right + half_width) / wide.width, (window.top + half_height) / wide.height,
    )  # fmt: skip
    return wide, frame


def within(wide: Window, frame: tuple[float, float, float, float]) -> Window:
    """The window that lies so in a wider one; the other way round."""
    left, bottom, right, top = frame
    return Window(
        wide.left + left * wide.width, wide.left + right * wide.width,
        wide.bottom + bottom * wide.height, wide.bottom + top * wide.height,
    )  # fmt: skip
