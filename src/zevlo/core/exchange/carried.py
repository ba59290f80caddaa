"""A camera as other programs can say one: a frame, a window in front of it, and what lies beside it in a shot."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from math import atan2, degrees, hypot

import numpy as np

from zevlo.core.camera import camera_of, film_distance_mm
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.lens import Window
from zevlo.core.scene.model import Floats
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand
from zevlo.core.stand.pose import resolve

USUAL_AIM_M = 3.0
LONG_SIDE_PX = 1920
"""Of a picture whose pixels a file does not tell."""
SINGLE = 2.0e-6
"""Numbers told in single precision, twice rounded, are not farther from each other, in shares of them."""


@dataclass(frozen=True)
class Carried:
    """One camera. World: metres, Z up; camera: x right, y up, looking along -z."""

    name: str
    matrix: Floats
    """Camera to world, (4, 4) on column vectors; its axes are of length 1."""
    window: Window
    """What the picture takes: mm of film before ``distance_mm``; of a parallel projection metres in the world."""
    distance_mm: float | None
    """How far the film lies behind the lens; null: the projection is parallel."""
    near_m: float
    far_m: float | None
    focus_m: float | None = None
    f_number: float | None = None
    shutter_s: float | None = None
    iso: float | None = None
    size_px: tuple[int, int] | None = None
    key: str | None = None
    """What the shot is known by here."""
    shot: Shot | None = None
    """All of the shot, where the file carries that too."""


class NoCamera(ValueError):
    """What a file tells cannot be set up; the message says why."""


def carried_of(shot: Shot, key: str | None = None) -> Carried:
    """A shot as other programs can say it; what they cannot goes along as the shot itself."""
    camera, pose = camera_of(shot), resolve(shot.stand)
    matrix = np.eye(4)
    matrix[:3] = np.column_stack([pose.right, pose.up, -pose.forward, pose.position])
    window, distance = camera.window, film_distance_mm(shot)
    if shot.lens.projection == "parallel":
        assert shot.lens.scale_m is not None
        metres = shot.lens.scale_m / _plain_width(shot.back)
        window = Window(*(end * metres for end in (window.left, window.right, window.bottom, window.top)))
    return Carried(
        name=shot.name,
        matrix=matrix,
        window=window,
        distance_mm=None if shot.lens.projection == "parallel" else distance,
        near_m=shot.lens.near_m,
        far_m=shot.lens.far_m,
        focus_m=shot.focus.distance_m,
        f_number=shot.focus.f_number,
        shutter_s=shot.exposure.shutter_s,
        iso=shot.exposure.iso,
        size_px=cut_back(shot.back).output_px,
        key=key,
        shot=shot,
    )


def _plain_width(back: Back) -> float:
    """Width of the cut back before trim and enlarge, mm: what ``scale_m`` counts."""
    return cut_back(back.model_copy(update={"trim": Back().trim, "enlarge": 1.0})).size_mm[0]


def cannot_say(shot: Shot) -> list[str]:
    """What of a shot a plain camera of another program cannot say, in words."""
    words = []
    if shot.lens.projection not in ("perspective", "parallel"):
        words.append(f"its {shot.lens.projection} law: others see a plain perspective of its focal length")
    elif any(shot.lens.distortion.model_dump().values()):
        words.append("the lens's distortion")
    if shot.movements.tilt_deg or shot.movements.swing_deg:
        words.append("tilt and swing")
    if shot.lens.cutting_plane is not None:
        words.append("the plane that opens the set")
    if shot.back.cuts:
        words.append("its cuts")
    if shot.left_out:
        words.append("what is left out")
    return words


@dataclass(frozen=True)
class Taken:
    """A shot made of a camera, and what could not be taken, in words."""

    shot: Shot
    key: str | None
    words: tuple[str, ...] = ()


def taken(camera: Carried) -> Taken:
    """The shot a camera says. Raises :class:`NoCamera`.

    Where a file carries the shot itself, that is taken to the last digit as long as the camera beside it says the same;
    where that was changed elsewhere, the camera is taken, and the rest from the shot.
    """
    if camera.shot is not None and same_camera(carried_of(camera.shot), camera):
        return Taken(camera.shot, camera.key)
    base = camera.shot or Shot()
    words = (
        [] if camera.shot is None else ["the camera was changed elsewhere since: it is taken, the rest is as it was"]
    )
    try:
        shot = base.model_copy(update={"name": camera.name[:120] or base.name, **_groups(base, camera)})
        return Taken(Shot.model_validate(shot.model_dump()), camera.key, tuple(words))
    except ValueError as reason:
        raise NoCamera(f"“{camera.name}” cannot be set up here: {reason}") from reason


def _groups(base: Shot, camera: Carried) -> dict[str, object]:
    window = camera.window
    if not (window.width > 0.0 and window.height > 0.0 and np.isfinite(camera.matrix).all()):
        raise NoCamera(f"“{camera.name}” has no picture: its window is {window.width:g} × {window.height:g}")
    focus = camera.focus_m if camera.focus_m and camera.focus_m > 0.0 else base.focus.distance_m
    size = _size(window.width / window.height, camera.size_px)
    lens: dict[str, object] = {"near_m": camera.near_m, "far_m": camera.far_m, "focus_breathing": False}
    if camera.distance_mm is None:
        back = Back(output_px=size)
        scale = window.width
        mm = _plain_width(back) / scale
        lens |= {"projection": "parallel", "scale_m": scale, "distortion": Lens().distortion}
    else:
        mm = 1.0
        back = Back(width_mm=window.width, height_mm=window.height, output_px=size)
        lens |= {"projection": "perspective", "scale_m": None, "focal_length_mm": camera.distance_mm}
    kept = {name: getattr(base.back, name) for name in ("dpi", "bleed_mm", "cuts") if hasattr(base.back, name)}
    exposure = {
        key: value for key, value in (("shutter_s", camera.shutter_s), ("iso", camera.iso)) if value is not None
    }
    stop = {} if camera.f_number is None else {"f_number": camera.f_number}
    shifts = {"cross_mm": (window.left + window.right) / 2.0 * mm, "rise_mm": (window.bottom + window.top) / 2.0 * mm}
    return {
        "stand": stand_of(camera.matrix, focus if focus < 1.0e4 else USUAL_AIM_M, base.stand),
        "lens": base.lens.model_copy(update=lens),
        "back": back.model_copy(update=kept),
        "movements": base.movements.model_copy(update=shifts) if camera.shot else Movements(**shifts),
        "focus": Focus.model_validate({**base.focus.model_dump(), "distance_m": focus, **stop}),
        "exposure": base.exposure.model_copy(update=exposure),
    }


def _size(ratio: float, told: tuple[int, int] | None) -> tuple[int, int]:
    """Pixels of a picture of a ratio: those a file tells where they go with it, else whole ones as near as can be."""
    if told is not None and abs(told[0] / told[1] / ratio - 1.0) < 1.0e-4:
        return told
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
        raise NoCamera("its axes are not square to each other, or it is mirrored")
    position, forward, right = matrix[:3, 3], -axes[:, 2], axes[:, 0]
    aim = position + aim_m * forward
    level = Stand(position=tuple(position.tolist()), aim=tuple(aim.tolist()))
    # Straight up or down the level picture is another one for each rounding of the aim.
    pose = resolve(level)
    roll = degrees(atan2(-float(right @ pose.up), float(right @ pose.right)))
    kept = {} if before is None else {"above_floor_m": None}
    return level.model_copy(update={"roll_deg": roll, **kept})


def same_camera(one: Carried, other: Carried) -> bool:
    """Whether two cameras are the same as far as single precision tells."""
    if (one.distance_mm is None) != (other.distance_mm is None):
        return False
    reach = max(1.0, float(np.abs(one.matrix[:3, 3]).max()))
    if np.abs(one.matrix - other.matrix).max() > SINGLE * reach * 4.0:
        return False
    by = (one.distance_mm or 1.0, other.distance_mm or 1.0)
    size = hypot(one.window.width, one.window.height) / by[0]
    ends = [
        (getattr(one.window, end) / by[0], getattr(other.window, end) / by[1])
        for end in ("left", "right", "bottom", "top")
    ]
    if any(abs(a - b) > 4.0 * SINGLE * (size + abs(a)) for a, b in ends):
        return False
    pairs = (
        (one.focus_m, other.focus_m),
        (one.f_number, other.f_number),
        (one.near_m, other.near_m),
        (one.far_m, other.far_m),
    )
    return all(a is None or b is None or abs(a - b) <= 4.0 * SINGLE * abs(a) for a, b in pairs)


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


@dataclass(frozen=True)
class Receiver:
    """Another program's world: its unit, its upright axis, and how a set lies in it otherwise."""

    metres_per_unit: float = 1.0
    up: str = "z"
    placing: Floats | None = None
    """A set's own placing, file to world (4, 4), that is to be undone; ``up`` then only tells the axis it has."""

    @property
    def turn(self) -> Floats:
        """Ours to theirs, (4, 4): axes and places, lengths in metres still."""
        turn = np.eye(4)
        if self.up == "y":
            turn[:3, :3] = [[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]
        if self.placing is None:
            return turn
        scale = float(np.cbrt(np.linalg.det(self.placing[:3, :3])))
        back = self.placing.copy()
        back[:3, :3] /= scale
        return np.asarray(np.linalg.inv(back))

    def give(self, camera: Carried) -> Carried:
        """A camera as it stands in their world; its place in their units, all else in ours."""
        matrix = self.turn @ camera.matrix
        matrix[:3, 3] /= self.metres_per_unit
        return replace(camera, matrix=matrix)

    def take(self, camera: Carried) -> Carried:
        """The other way round."""
        matrix = camera.matrix.copy()
        matrix[:3, 3] *= self.metres_per_unit
        return replace(camera, matrix=np.linalg.inv(self.turn) @ matrix)

    @property
    def of_places(self) -> Floats:
        """Ours to theirs, (4, 4), of places: lengths too."""
        places = self.turn.copy()
        places[:3] /= self.metres_per_unit
        return places


def lengths_told(camera: Carried, times: float) -> Carried:
    """A camera whose other lengths are told in another unit too: near and far cut, focus, the width of what is
    parallel."""
    if times == 1.0:
        return camera
    window = camera.window
    if camera.distance_mm is None:
        window = Window(*(end * times for end in (window.left, window.right, window.bottom, window.top)))
    far, focus = (None if one is None else one * times for one in (camera.far_m, camera.focus_m))
    return replace(camera, window=window, near_m=camera.near_m * times, far_m=far, focus_m=focus)
