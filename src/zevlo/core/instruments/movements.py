"""Movements: rise and cross of the film behind the lens, and what the image circle allows."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from zevlo.core.bases import Settings, SheetGroup, not_yet
from zevlo.core.instruments.instrument import Asked, Called, Instrument, SheetPart, Shown, group_copied
from zevlo.core.optics import movements

if TYPE_CHECKING:
    from zevlo.core.shot import Shot


class Movements(Settings):
    """View-camera movements, as shifts of the window."""

    rise_mm: float = Field(0.0, ge=-1000.0, le=1000.0)
    """Up is positive: it shows more of what is above."""
    cross_mm: float = Field(0.0, ge=-1000.0, le=1000.0)
    """To the right is positive."""
    tilt_deg: Annotated[float, not_yet(0.0, "tilt")] = 0.0
    """Turn of the lens about the level axis."""
    swing_deg: Annotated[float, not_yet(0.0, "swing")] = 0.0
    """Turn of the lens about the upright axis."""
    image_circle_mm: float | None = Field(None, ge=0.1, le=5000.0)
    """Diameter of what the lens draws; null is no bound."""


class MovementsSheet(SheetGroup):
    """What the movements do, and what the image circle allows."""

    lean_deg: float
    """Lean of an upright at the side of the frame."""
    circle_used_mm: float
    """Diameter of the smallest image circle that holds the frame."""
    circle_ok: bool
    rise_room_mm: float | None
    """Rise the image circle allows to the side it is moved to; null where it allows none, or there is no circle."""
    cross_room_mm: float | None


def tell(asked: Asked) -> MovementsSheet:
    """What the movements do, and what the image circle allows."""
    camera, shifts = asked.camera, asked.shot.movements
    used = movements.circle_used_mm(camera.window)
    circle = shifts.image_circle_mm
    rise_room = cross_room = None
    if circle is not None:
        rise_room, cross_room = movements.rooms_mm(asked.cut, shifts, circle)
    return MovementsSheet(
        lean_deg=movements.lean_deg(camera.law, camera.window.width, camera.pose.pitch_deg),
        circle_used_mm=used,
        circle_ok=circle is None or used <= circle + 1e-9,
        rise_room_mm=rise_room,
        cross_room_mm=cross_room,
    )


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another rise, cross or image circle."""
    words = []
    for key, name in (("rise_mm", "rise"), ("cross_mm", "cross")):
        a, b = getattr(before.movements, key), getattr(after.movements, key)
        if a != b:
            words.append(f"{name} {a:.3g} → {b:.3g} mm")
    if before.movements.image_circle_mm != after.movements.image_circle_mm:
        words.append("another image circle")
    return words


def shows(shot: Shot) -> Shown:
    """Where the film stands."""
    return shot.movements.rise_mm, shot.movements.cross_mm


MOVEMENTS = Instrument(
    key="movements",
    name="Movements",
    part=SheetPart("movements", tell, lambda _: True),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("movements", "Movements"),),
)
