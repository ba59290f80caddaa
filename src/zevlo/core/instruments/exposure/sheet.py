"""What a shot is exposed for: its part of the sheet, differences in words, what a picture shows of it."""

from __future__ import annotations

from zevlo.core.bases import SheetGroup
from zevlo.core.instruments.instrument import (
    Called,
    SheetContext,
    StalenessKey,
)
from zevlo.core.optics import exposure
from zevlo.core.shot import Shot


class ExposureSheet(SheetGroup):
    """What the shot is exposed for."""

    ev100: float
    white_cd_m2: float
    """Luminance in the set that is white in the picture."""
    shutter: str
    """Shutter time as it is written on a camera."""


def compute_sheet(context: SheetContext) -> ExposureSheet:
    """What the shot is exposed for."""
    ev = context.framing.ev100
    shutter = exposure.shutter_name(context.shot.exposure.shutter_s)
    return ExposureSheet(ev100=ev, white_cd_m2=exposure.white_luminance(ev), shutter=shutter)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another shutter time or film speed."""
    words = []
    if before.exposure.shutter_s != after.exposure.shutter_s:
        a, b = (exposure.shutter_name(shot.exposure.shutter_s) for shot in (before, after))
        words.append(f"{a} → {b}")
    if before.exposure.iso != after.exposure.iso:
        words.append(f"ISO {before.exposure.iso:.4g} → {after.exposure.iso:.4g}")
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """How bright the picture is."""
    return shot.exposure.shutter_s, shot.exposure.iso
