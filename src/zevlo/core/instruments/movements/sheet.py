"""What is told of the movements: their part of the sheet, differences in words, what a picture shows of them."""

from __future__ import annotations

from math import acos, asin, atan2, degrees, sin

import numpy as np

from zevlo.core.bases import Settings, SheetGroup
from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.uprights import (
    AT_SIDES,
    SAME_DEG,
    TRUE_DEG,
    before_straightening,
    can_shift,
    leans_deg,
    way_back,
)
from zevlo.core.instruments.instrument import Called, SheetContext, StalenessKey
from zevlo.core.instruments.movements.alternatives import MovementsRemedy, alternatives
from zevlo.core.measures import length_words
from zevlo.core.optics import movements
from zevlo.core.optics.tilt import Tilted, hinge_m, lean_per_m
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve
from zevlo.text import everywhere
from zevlo.text import movements as say


class CircleOffer(Settings):
    """An image circle to choose, with its words."""

    words: str
    diameter_mm: float


CIRCLES = (
    CircleOffer(words=say.CIRCLE_43_PLAIN, diameter_mm=43.3),
    CircleOffer(words=say.CIRCLE_60_SHIFT, diameter_mm=60.0),
    CircleOffer(words=say.CIRCLE_67_WIDE_SHIFT, diameter_mm=67.0),
    CircleOffer(words=say.CIRCLE_90_VIEW_CAMERA, diameter_mm=90.0),
    CircleOffer(words=say.CIRCLE_154_HOLDS_4_BY_5, diameter_mm=154.0),
    CircleOffer(words=say.CIRCLE_210_VIEW_CAMERA, diameter_mm=210.0),
    CircleOffer(words=say.CIRCLE_312_HOLDS_8_BY_10, diameter_mm=312.0),
    CircleOffer(words=say.CIRCLE_500_VIEW_CAMERA, diameter_mm=500.0),
)
"""What lenses draw (from memory; common practice, no source)."""


class MovementsSheet(SheetGroup):
    """What the movements do, and what the image circle allows."""

    lean_deg: float
    """Lean of an upright at the side of a frame of this width without shifts, level with the lens axis."""
    lean_sides_deg: tuple[float, float]
    """Of uprights at the left and right side, half way up: how far their tops are drawn to the right of their feet."""
    uprights: str
    """In words."""
    uprights_short: str
    """The same in few words, for a line of many things."""
    straightened: float
    """Share of the pitch that was taken out, 0 to 1."""
    can_straighten: bool
    """Whether the projection lets uprights be made true by shifts."""
    back_known: bool
    """Whether there is a way back from straightening and squaring on."""
    rise_share: float
    """Rise in shares of the frame's height."""
    cross_share: float
    same_as_pitch_deg: float | None
    """How far the camera would have to be turned up instead of the rise; null where no angle says it."""
    same_as_turn_deg: float | None
    """How far it would have to be turned to the right instead of the cross."""
    circle_used_mm: float
    """Diameter of the smallest image circle that holds the frame."""
    circle_ok: bool
    circle_left_mm: float | None
    """How far the frame's corner stays inside the circle, beyond it below zero; null where there is no circle."""
    rise_room_mm: float | None
    """Rise the image circle allows to the side it is moved to; null where it allows none, or there is no circle."""
    cross_room_mm: float | None
    alternatives: list[MovementsRemedy]
    """What to do where the frame reaches beyond the circle."""
    turned_deg: float
    """How far the lens is turned before the film in all."""
    turned_ok: bool
    """Whether the lens goes so far."""
    hinge_m: float | None
    """How far from the lens the hinge of the sharp zone lies; null where the lens is parallel to the film."""
    hinge_right_m: float | None
    """Where the hinge crosses the level through the lens, to the right; null where it runs beside it."""
    hinge_up_m: float | None
    """Where it crosses the upright through the lens, above it."""
    focus_plane: str
    """How the plane of focus lies, in words."""


_NO_LEAN_DEG = 1.0e-3


def compute_sheet(context: SheetContext) -> MovementsSheet:
    """What the movements do, and what the image circle allows."""
    framing = context.framing
    camera, shot, own = framing.camera, framing.shot, framing.shot.movements
    used, circle = movements.circle_used_mm(camera.window), framing.circle_mm
    rise_room = cross_room = None
    if circle is not None:
        rise_room, cross_room = movements.rooms_mm(framing.fitted, own, circle)
    left, right = (0.0 if abs(one) < _NO_LEAN_DEG else float(one) for one in leans_deg(camera, AT_SIDES))
    lens, shifts, film = framing.tilt, can_shift(shot), framing.film_distance_mm
    return MovementsSheet(
        lean_deg=movements.lean_deg(camera.law, camera.window.width, camera.pose.pitch_deg),
        lean_sides_deg=(left, right),
        uprights=_upright_words(shot, left, right),
        uprights_short=_upright_words(shot, left, right, short=True),
        straightened=_straightened(framing),
        can_straighten=shifts,
        back_known=way_back(framing) is not None,
        rise_share=own.rise_mm / camera.window.height,
        cross_share=own.cross_mm / camera.window.width,
        same_as_pitch_deg=degrees(atan2(own.rise_mm, film)) if shifts else None,
        same_as_turn_deg=degrees(atan2(own.cross_mm, film)) if shifts else None,
        circle_used_mm=used,
        circle_ok=circle is None or used <= circle + 1e-9,
        circle_left_mm=None if circle is None else (circle - used) / 2.0,
        rise_room_mm=rise_room,
        cross_room_mm=cross_room,
        alternatives=alternatives(context),
        turned_deg=_turned_deg(lens),
        turned_ok=own.tilt_limit_deg is None or _turned_deg(lens) <= own.tilt_limit_deg + 1e-6,
        **_hinge(shot, lens),
        focus_plane=_plane_words(framing),
    )


def _turned_deg(lens: Tilted) -> float:
    return degrees(acos(min(1.0, lens.cosine)))


def _hinge(shot: Shot, lens: Tilted) -> dict[str, float | None]:
    f = shot.lens.focal_length_mm
    across, up = hinge_m(f, lens)
    sine = sin(acos(min(1.0, lens.cosine)))
    return {"hinge_m": None if sine == 0.0 else f / 1000.0 / sine, "hinge_right_m": across, "hinge_up_m": up}


def _straightened(framing: Framing) -> float:
    """Share of the pitch a shot had that is taken out."""
    shot = framing.shot
    if way_back(framing) is None or not can_shift(shot):
        return 0.0
    try:
        before = resolve(before_straightening(framing).stand).pitch_deg
    except (Refused, ValueError):
        return 0.0
    if abs(before) < SAME_DEG:
        return 1.0
    return min(1.0, max(0.0, 1.0 - framing.pose.pitch_deg / before))


def _upright_words(shot: Shot, left: float, right: float, *, short: bool = False) -> str:
    if shot.lens.projection == "fisheye":
        return say.BENT_BY_THE_FISHEYE
    if max(abs(left), abs(right)) < TRUE_DEG:
        return everywhere.TRUE
    # Most lean alike towards the middle or away from it; a rolled camera leans both one way.
    if abs(left + right) < 0.1:
        return say.lean(abs(left), say.TOGETHER if left > 0.0 else say.APART)
    if short:
        return say.lean_up_to(max(abs(left), abs(right)))
    return say.lean_at_the_left(abs(left), _way(left), abs(right), _way(right))


def _way(lean: float) -> str:
    return everywhere.RIGHT if lean > 0.0 else everywhere.LEFT


def _plane_words(framing: Framing) -> str:
    """How the plane of focus lies: across the lens axis, or how steep, and where its hinge is."""
    shot, lens, pose = framing.shot, framing.tilt, framing.pose
    if lens.cosine == 1.0:
        return say.PARALLEL_TO_THE_FILM
    across, up = lean_per_m(shot.lens.focal_length_mm, lens)
    normal = across * pose.right + up * pose.up + pose.forward / shot.focus.distance_m
    steep = degrees(asin(min(1.0, abs(float(normal[2])) / float(np.linalg.norm(normal)))))
    lying = say.from_level(90.0 - steep) if steep < 89.5 else everywhere.LEVEL
    hinges = [
        f"{length_words(abs(at))} {side[at > 0.0]}"
        for at, side in ((_hinge(shot, lens)["hinge_up_m"], (say.BELOW, say.ABOVE)),
                         (_hinge(shot, lens)["hinge_right_m"], (say.LEFT_OF, say.RIGHT_OF)))
        if at is not None and abs(at) < 1000.0
    ]  # fmt: skip
    return say.hinge_the_lens(lying, hinges) if hinges else lying


_TURNS_AND_SHIFTS = (
    ("rise_mm", everywhere.RISE, " mm"),
    ("cross_mm", everywhere.CROSS, " mm"),
    ("tilt_deg", everywhere.TILT, "°"),
    ("swing_deg", everywhere.SWING, "°"),
)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Other shifts, another turn of the lens, another image circle."""
    words = []
    for key, name, unit in _TURNS_AND_SHIFTS:
        a, b = getattr(before.movements, key), getattr(after.movements, key)
        if a != b:
            words.append(f"{name} {a:.3g} → {b:.3g}{unit}")
    if before.movements.image_circle_mm != after.movements.image_circle_mm:
        words.append(say.ANOTHER_IMAGE_CIRCLE)
    if before.movements.tilt_limit_deg != after.movements.tilt_limit_deg:
        words.append(say.ANOTHER_LIMIT_TO_TILT)
    if before.movements.keep_uprights != after.movements.keep_uprights:
        words.append(say.UPRIGHTS_KEPT_TRUE if after.movements.keep_uprights else say.UPRIGHTS_NO_LONGER_KEPT)
    if not words and before.movements.before_straightening != after.movements.before_straightening:
        words.append(
            say.NO_WAY_BACK_FROM_STRAIGHTENING
            if after.movements.before_straightening is None
            else say.A_WAY_BACK_TO_LEAN
        )
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """Where the film stands, and where the circle ends within the frame. How the lens is turned shows in the blur."""
    return shot.movements.rise_mm, shot.movements.cross_mm, beyond_circle_of(Framing(shot))


def beyond_circle_of(framing: Framing) -> float | None:
    """The image circle, where the frame reaches beyond it."""
    circle = framing.circle_mm
    return None if circle is None or movements.circle_used_mm(framing.camera.window) <= circle + 1.0e-9 else circle
