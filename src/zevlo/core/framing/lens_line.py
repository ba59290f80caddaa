"""A shot's lens in one line, as lists and papers tell it: what a photographer would note on the edge of a frame."""

from __future__ import annotations

from zevlo.core.optics.exposure import shutter_name
from zevlo.core.optics.focus import stop_name
from zevlo.core.scene.model.ruler import Ruler, length_on
from zevlo.core.shot import Shot
from zevlo.text import everywhere
from zevlo.text import framing as say


def lens_words(shot: Shot, ruler: Ruler) -> str:
    """``28 mm``, or ``parallel, 6.00 m wide``; lengths as the set's ruler tells them."""
    scale = shot.lens.scale_m
    return shot.lens.called(digits=4) if scale is None else say.parallel_wide(length_on(ruler, scale))


def stop_words(shot: Shot) -> str:
    """``f/8``, or ``all sharp``."""
    return everywhere.ALL_SHARP if shot.focus.f_number is None else stop_name(shot.focus.f_number)


def lens_line(shot: Shot, ruler: Ruler) -> str:
    """``28 mm · f/8 · 1/40 s · rise 3 mm``: lens, stop, shutter, and how film and lens are moved where they are."""
    words = [lens_words(shot, ruler)]
    if shot.lens.scale_m is None:
        words += [stop_words(shot), shutter_name(shot.exposure.shutter_s)]
    own = shot.movements
    for value, up, down in (
        (own.rise_mm, everywhere.RISE, everywhere.FALL),
        (own.cross_mm, everywhere.CROSS, say.CROSS_LEFT),
    ):
        if value:
            words.append(f"{up if value > 0 else down} {abs(value):.3g} mm")
    for value, name in ((own.tilt_deg, everywhere.TILT), (own.swing_deg, everywhere.SWING)):
        if value:
            words.append(f"{name} {value:.3g}°")
    return " · ".join(words)
