"""Exposure: shutter time, film speed, and the light meter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

from pydantic import Field

from zevlo.core.bases import Settings, SheetGroup, not_yet
from zevlo.core.camera import camera_of, tilt_of
from zevlo.core.instruments.instrument import (
    Asked,
    Called,
    Gesture,
    Instrument,
    Scene,
    SheetPart,
    Shown,
    group_copied,
)
from zevlo.core.meter import metered_ev
from zevlo.core.optics import exposure, lens
from zevlo.core.refused import Refused
from zevlo.core.scene.lit import LitSet

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

SHORTEST_S, LONGEST_S = 1.0e-6, 36000.0


class Exposure(Settings):
    """Shutter time, film speed, white point."""

    shutter_s: float = Field(0.01, ge=SHORTEST_S, le=LONGEST_S)
    """How long the shutter is open."""
    iso: float = Field(100.0, ge=1.0, le=1.0e6)
    """Film speed."""
    white_k: Annotated[float, not_yet(6504.0, "a white other than D65")] = 6504.0
    """Colour temperature of what counts as white."""
    tint: Annotated[float, not_yet(0.0, "tint")] = 0.0
    """How far white lies off the daylight colours."""


class ExposureSheet(SheetGroup):
    """What the shot is exposed for."""

    ev100: float
    white_cd_m2: float
    """Luminance in the set that is white in the picture."""
    shutter: str
    """Shutter time as it is written on a camera."""


def effective_f_number(shot: Shot) -> float | None:
    """N, or N(1+m) where the lens breathes, for exposure."""
    n = shot.focus.f_number
    if n is None or not shot.lens.focus_breathing:
        return n
    f, u = shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0
    return n * (1.0 + lens.magnification(f, u, tilt_of(shot).cosine))


def ev_of(shot: Shot) -> float:
    """EV100 the shot is exposed for."""
    return exposure.ev100(effective_f_number(shot), shot.exposure.shutter_s, shot.exposure.iso)


def exposed(shot: Shot, ev: float) -> Shot:
    """The shot at another EV100; the shutter gives way. Raises :class:`~zevlo.core.refused.Refused` where no shutter is
    as quick or as slow; nearest is as far as one goes."""
    shutter = exposure.shutter_for(ev, effective_f_number(shot), shot.exposure.iso)
    held = min(max(shutter, SHORTEST_S), LONGEST_S)
    made = shot.with_groups(exposure=shot.exposure.model_copy(update={"shutter_s": held}))
    if held != shutter:
        raise Refused(
            f"That takes a shutter of {exposure.shutter_name(shutter)}; {exposure.shutter_name(held)} is as far as one "
            "goes, so that the picture comes otherwise exposed.",
            nearest=made,
        )
    return made


def metered(shot: Shot, lit: LitSet) -> Shot:
    """The shot exposed for what its frame shows in a lit set, that is as the shot shows it."""
    return exposed(shot, metered_ev(camera_of(shot).whole, lit))


def tell(asked: Asked) -> ExposureSheet:
    """What the shot is exposed for."""
    ev = ev_of(asked.shot)
    shutter = exposure.shutter_name(asked.shot.exposure.shutter_s)
    return ExposureSheet(ev100=ev, white_cd_m2=exposure.white_luminance(ev), shutter=shutter)


class Meter(Gesture):
    """Expose for what the frame shows; the shutter gives way."""

    needs_light: ClassVar[bool] = True
    kind: Literal["meter"] = "meter"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if scene.lit is None:
            raise Refused("There is no set to read the light from.")
        return metered(shot, scene.lit)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another shutter time or film speed."""
    words = []
    if before.exposure.shutter_s != after.exposure.shutter_s:
        a, b = (exposure.shutter_name(shot.exposure.shutter_s) for shot in (before, after))
        words.append(f"{a} → {b}")
    if before.exposure.iso != after.exposure.iso:
        words.append(f"ISO {before.exposure.iso:.4g} → {after.exposure.iso:.4g}")
    return words


def shows(shot: Shot) -> Shown:
    """How bright the picture is."""
    return shot.exposure.shutter_s, shot.exposure.iso


EXPOSURE = Instrument(
    key="exposure",
    name="Exposure",
    gestures=(Meter,),
    part=SheetPart("exposure", tell),
    differs=differs,
    shows=shows,
    copied=(group_copied("exposure", "Exposure"),),
)
