"""The shot a camera of another program says: what was changed there, and what cannot be taken."""

from __future__ import annotations

import re
from dataclasses import astuple, dataclass, replace
from fractions import Fraction
from math import atan2, degrees, dist, hypot, inf, isclose

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.exchange.camera_record import (
    EQUIDISTANT,
    CameraRecord,
    NoCamera,
    camera_record_of,
    centred,
    plain_width,
)
from zevlo.core.optics.back import fit_back
from zevlo.core.optics.lens import focal_length_at
from zevlo.core.optics.tilt import tilted
from zevlo.core.plain_words import why
from zevlo.core.shot import Back, Movements, Shot, Stand
from zevlo.core.shot.lens import Distortion
from zevlo.core.shot.limits import nearest_focus_m
from zevlo.core.stand.pose import resolve
from zevlo.text import cameras as say

USUAL_AIM_M = 3.0
LONG_SIDE_PX = 1920
"""Of a picture whose pixels a file does not tell."""
SINGLE = 2.0e-6
"""Numbers told in single precision, twice rounded, are not farther from each other, in shares of them."""
SAME_AXIS = 4.0e-6
"""Axes are told alike that lie no farther from each other; a fifth of a thousandth of a degree."""
SAME_PLACE, SAME_PLACE_M = 5.0e-7, 1.0e-6
"""Places are told alike that lie no farther apart: in shares of how far from zero, as single precision has it after
a few roundings; and in metres."""


@dataclass(frozen=True)
class Taken:
    """A shot made of a camera, and what could not be taken, in words."""

    shot: Shot
    key: str | None
    words: tuple[str, ...] = ()


def taken(camera: CameraRecord, present: Shot | None = None) -> Taken:
    """The shot a camera says. Raises :class:`NoCamera`. ``present``: the shot it is other settings for.

    Where a file carries the shot itself, that is taken to the last digit; what the camera beside it says otherwise, as
    it was changed elsewhere, is taken from that. Where it does not, the camera changes the present shot, if any.
    """
    own = camera.shot or present
    base = own or Shot()
    before = None if own is None else camera_record_of(own, says=EQUIDISTANT if camera.equidistant else frozenset())
    try:
        changes, lost = _changes(base, before, camera)
        shot = Shot.model_validate(base.model_copy(update=changes).model_dump()) if changes else base
    except ValueError as reason:
        raise NoCamera(say.cannot_be_set_up_here(camera.name, why(reason))) from reason
    words = list(lost)
    if camera.shot is not None and changes.keys() - {"name"}:
        words.insert(0, say.THE_CAMERA_WAS_CHANGED)
    return Taken(shot, camera.key, tuple(words))


def _changes(base: Shot, before: CameraRecord | None, camera: CameraRecord) -> tuple[dict[str, object], list[str]]:
    """What of a shot a camera says otherwise, whole groups, and what is lost by that, in words. ``before``: the shot as
    a camera, where the file carries it."""
    window, changes = camera.window, dict[str, object]()
    finite = np.isfinite([*astuple(window), *camera.matrix.ravel()]).all()
    if not (finite and window.width > 0.0 and window.height > 0.0):
        raise NoCamera(say.has_no_picture_its_window(camera.name, window.width, window.height))
    if camera.name and (before is None or not same_name(before.name, camera.name)):
        changes["name"] = camera.name[:120]
    focused = before is None or not _alike(before.focus_m, camera.focus_m)
    resized = None if before is None else _resized(base.back, before.size_px, camera.size_px)
    drawn = before is None or not _as_drawn(before, camera) or (focused and base.lens.focus_breathing)
    focus = {} if before is not None and _alike(before.f_number, camera.f_number) else _stop(camera.f_number)
    if focused and camera.focus_m and camera.focus_m > 0.0:
        focus |= {"distance_m": camera.focus_m, "follow": None}
    if before is None or not same_place(before, camera):
        changes["stand"] = _stand(base, before, camera)
    lens = _clips(before, camera)
    lost = []
    little = _only_what_changed(base, before, camera, focus, lens) if before is not None and drawn else None
    if little is not None:
        changes |= little
        if resized is not None:
            changes["back"] = resized
    elif drawn:
        changes |= _picture(base, before, camera, lens)
        if base.lens.projection not in ("perspective", "parallel"):
            lost.append(say.its_law_the_picture(base.lens.projection))
    elif resized is not None:
        changes["back"] = resized
    lost += _size_lost(changes.get("back", base.back), before, camera)
    bent = camera.distortion
    if camera.distance_mm is not None and bent is not None and (before is None or bent != before.distortion):
        lens |= {"distortion": bent}
    exposure = {
        name: getattr(camera, name)
        for name in ("shutter_s", "iso")
        if getattr(camera, name) is not None
        and (before is None or not _alike(getattr(before, name), getattr(camera, name)))
    }
    lost += _focused_too_near(base, changes, lens, focus)
    for group, values in (("lens", lens), ("focus", focus), ("exposure", exposure)):
        if values:
            changes[group] = getattr(base, group).model_copy(update=values)
    return changes, lost


def _focused_too_near(
    base: Shot, changes: dict[str, object], lens: dict[str, object], focus: dict[str, object]
) -> list[str]:
    """Puts the focus, in ``focus``, to the nearest the lens focuses where a camera is focused before that, as other
    programs let one; in words."""
    movements = changes.get("movements", base.movements)
    focal = lens.get("focal_length_mm", base.lens.focal_length_mm)
    distance_m = focus.get("distance_m", base.focus.distance_m)
    assert isinstance(movements, Movements)
    assert isinstance(focal, float)
    assert isinstance(distance_m, float)
    nearest = nearest_focus_m(focal, tilted(movements.tilt_deg, movements.swing_deg).cosine)
    if distance_m >= nearest * (1.0 - 1.0e-9):
        return []
    focus |= {"distance_m": nearest, "follow": None}
    if _alike(distance_m, nearest):
        return []
    return [say.its_focus_at_m(distance_m, focal, nearest)]


def _size_lost(back: object, before: CameraRecord | None, camera: CameraRecord) -> list[str]:
    """That a picture has not the pixels a camera tells, in words."""
    assert isinstance(back, Back)
    own, wanted = fit_back(back).output_px, camera.size_px
    if wanted is None or wanted == own or (before is not None and wanted == before.size_px):
        return []
    trimmed = say.TRIMMED_TO_WHOLE_PIXELS if back.trim != Back().trim else say.OF_ITS_WINDOW
    return [say.its_size_of_px(wanted[0], wanted[1], trimmed, own[0], own[1])]


def _stop(f_number: float | None) -> dict[str, object]:
    return {} if f_number is None else {"f_number": None if f_number == inf else f_number}


def _clips(before: CameraRecord | None, camera: CameraRecord) -> dict[str, object]:
    clips: dict[str, object] = {}
    if camera.near_m is not None and (before is None or not _alike(before.near_m, camera.near_m)):
        clips["near_m"] = camera.near_m
    if camera.far_m is not None and (before is None or not _alike(before.far_m, camera.far_m)):
        clips["far_m"] = None if camera.far_m == inf else camera.far_m
    return clips


def _stand(base: Shot, before: CameraRecord | None, camera: CameraRecord) -> Stand:
    if before is not None:
        return stand_of(camera.matrix, dist(base.stand.position, base.stand.aim), base.stand)
    ahead = camera.focus_m if camera.focus_m and camera.focus_m > 0.0 else base.focus.distance_m
    return stand_of(camera.matrix, ahead if ahead < 1.0e4 else USUAL_AIM_M)


def _picture(
    base: Shot, before: CameraRecord | None, camera: CameraRecord, lens: dict[str, object]
) -> dict[str, object]:
    """Back and movements that draw what a camera does, and the lens, whose settings are put to ``lens``."""
    window = camera.window
    size = _size(window.width / window.height, camera.size_px or (None if before is None else before.size_px))
    lens["focus_breathing"] = False
    if camera.distance_mm is None:
        back = Back(output_px=size)
        mm = plain_width(back) / window.width
        lens |= {"projection": "parallel", "scale_m": window.width, "distortion": Distortion()}
    else:
        mm = 1.0
        back = Back(width_mm=window.width, height_mm=window.height, output_px=size)
        lens |= {"projection": "perspective", "scale_m": None, "focal_length_mm": camera.distance_mm}
    kept = {name: getattr(base.back, name) for name in ("dpi", "bleed_mm", "crops")}
    shifts = {"cross_mm": (window.left + window.right) / 2.0 * mm, "rise_mm": (window.bottom + window.top) / 2.0 * mm}
    movements = Movements(**shifts) if before is None else base.movements.model_copy(update=shifts)
    return {"back": back.model_copy(update=kept), "movements": movements}


def _as_drawn(before: CameraRecord, camera: CameraRecord) -> bool:
    """Whether a camera draws as a shot does; or, where a file could not tell its shifted or trimmed window, as the
    wider one around the axis it was given instead."""
    if same_picture(before, camera):
        return True
    wide, _ = centred(before.window)
    return camera.size_px is None and same_picture(replace(before, window=wide), camera)


def _only_what_changed(
    base: Shot, before: CameraRecord, camera: CameraRecord, focus: dict[str, object], lens: dict[str, object]
) -> dict[str, object] | None:
    """What of a shot follows from another focal length, another width in the world, or other shifts alone; its lens's
    settings are put to ``lens``. None where the picture is another one altogether."""
    a, b = before.window, camera.window
    if (before.distance_mm is None) != (camera.distance_mm is None):
        return None
    close = 4.0 * SINGLE * hypot(a.width, a.height)
    grown = 1.0 if before.distance_mm is not None else b.width / a.width
    ends = [abs(getattr(b, end) - grown * getattr(a, end)) for end in ("left", "right", "bottom", "top")]
    same_size = abs(b.width - grown * a.width) < close * grown and abs(b.height - grown * a.height) < close * grown
    if not same_size:
        return None
    changes: dict[str, object] = {}
    if max(ends) >= close * grown:
        # Of a parallel picture the window is told in metres.
        mm = 1.0 if base.lens.scale_m is None else plain_width(base.back) / (base.lens.scale_m * grown)
        across, up = ((b.left + b.right) - grown * (a.left + a.right), (b.bottom + b.top) - grown * (a.bottom + a.top))
        own = base.movements
        changes["movements"] = own.shifted_to(own.rise_mm + up / 2.0 * mm, own.cross_mm + across / 2.0 * mm)
    if before.distance_mm is None or camera.distance_mm is None:
        if abs(grown - 1.0) > 4.0 * SINGLE and base.lens.scale_m is not None:
            lens["scale_m"] = base.lens.scale_m * grown
        return changes
    focal, turned = camera.distance_mm, tilted(base.movements.tilt_deg, base.movements.swing_deg)
    if base.lens.focus_breathing:
        distance_m = focus.get("distance_m", base.focus.distance_m)
        assert isinstance(distance_m, float)
        focal = focal_length_at(camera.distance_mm, 1000.0 * distance_m, turned.cosine)
    if not _alike(base.lens.focal_length_mm, focal):
        lens["focal_length_mm"] = focal
    return changes


def _resized(back: Back, own: tuple[int, int] | None, wanted: tuple[int, int] | None) -> Back | None:
    """A back with another count of pixels and the same picture; None where nothing else is wanted, or it cannot be."""
    if own is None or wanted is None or own == wanted:
        return None
    width, height = (round(side * wanted[0] / own[0]) for side in back.output_px)
    resized = back.model_copy(update={"output_px": (max(1, width), max(1, height))})
    return resized if fit_back(resized).output_px == wanted else None


def _size(ratio: float, size_px: tuple[int, int] | None) -> tuple[int, int]:
    """Pixels of a picture of a ratio: those a file tells where they go with it, else whole ones as near as can be."""
    if size_px is not None and abs(size_px[0] / size_px[1] / ratio - 1.0) < 1.0e-4:
        return size_px
    near = (
        Fraction(ratio).limit_denominator(2000) if ratio >= 1.0 else 1 / Fraction(1.0 / ratio).limit_denominator(2000)
    )
    times = max(1, round(LONG_SIDE_PX / max(near.numerator, near.denominator)))
    return near.numerator * times, near.denominator * times


def stand_of(matrix: Floats, aim_m: float, before: Stand | None = None) -> Stand:
    """The stand that looks as a camera does, its aim ``aim_m`` ahead. Raises :class:`NoCamera` where its axes are not
    square to each other, or mirrored."""
    axes = matrix[:3, :3]
    if np.abs(axes.T @ axes - np.eye(3)).max() > 1.0e-4 or np.linalg.det(axes) < 0.0:
        raise NoCamera(say.ITS_AXES_ARE_NOT_SQUARE)
    position, forward, right = matrix[:3, 3], -axes[:, 2], axes[:, 0]
    aim = position + aim_m * forward
    level = Stand(position=tuple(position.tolist()), aim=tuple(aim.tolist()))
    # Straight up or down the level picture is another one for each rounding of the aim.
    pose = resolve(level)
    roll = degrees(atan2(-float(right @ pose.up), float(right @ pose.right)))
    kept = {} if before is None else {"above_floor_m": None}
    # Nobody reads a roll of -0.
    return level.model_copy(update={"roll_deg": roll + 0.0, **kept})


def written_elsewhere(ours: str) -> frozenset[str]:
    """A name of ours as other programs may write it: where names are identifiers, with ``_`` for what those do not
    have."""
    by_byte = re.sub(rb"\W|^\d", b"_", ours.encode()).decode()
    return frozenset((ours, re.sub(r"\W", "_", ours), by_byte))


def without_number(theirs: str) -> str:
    """A name of theirs without the number behind a dot it gets where there is one of that name already."""
    return re.sub(r"\.\d{3}$", "", theirs)


def same_name(ours: str, theirs: str) -> bool:
    """Whether a name is ours as another program may write it."""
    return theirs == ours or without_number(theirs) in written_elsewhere(ours)


def _alike(one: float | None, other: float | None) -> bool:
    """Whether two numbers are the same as far as single precision tells; what is not told is no other one."""
    return one is None or other is None or isclose(one, other, rel_tol=4.0 * SINGLE)


def same_place(one: CameraRecord, other: CameraRecord) -> bool:
    """Whether two cameras stand alike as far as single precision tells."""
    reach = max(float(np.abs(one.matrix[:3, 3]).max()), one.told_m, other.told_m)
    off = np.abs(one.matrix - other.matrix)
    return bool(off[:3, :3].max() <= SAME_AXIS and off[:3, 3].max() <= max(SAME_PLACE_M, SAME_PLACE * reach))


def same_picture(one: CameraRecord, other: CameraRecord) -> bool:
    """Whether two cameras draw alike, wherever they stand, as far as single precision tells."""
    if (one.distance_mm is None) != (other.distance_mm is None):
        return False
    by = (one.distance_mm or 1.0, other.distance_mm or 1.0)
    size = hypot(one.window.width, one.window.height) / by[0]
    ends = [
        (getattr(one.window, end) / by[0], getattr(other.window, end) / by[1])
        for end in ("left", "right", "bottom", "top")
    ]
    return all(abs(a - b) <= 4.0 * SINGLE * (size + abs(a)) for a, b in ends)
