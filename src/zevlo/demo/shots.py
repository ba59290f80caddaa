"""The demonstration's shots: five views of the pottery, and what lens and focus do with one and the same."""

from __future__ import annotations

from zevlo.core.framing.apply import apply_gesture
from zevlo.core.instruments.focus.pairs import BACK, FRONT
from zevlo.core.instruments.focus.stacks import StackPoints
from zevlo.core.instruments.focus.stop_solver import SharpPoints
from zevlo.core.instruments.instrument import Gesture
from zevlo.core.instruments.movements.focus_plane import FocusPlaneThrough
from zevlo.core.instruments.movements.straightening import Straighten
from zevlo.core.light.setup import LightSetup, Sky, Sun
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Exposure, Focus, Guides, Lens, Movements, Shot, Stand

LIGHT = LightSetup(sun=Sun(height_deg=31.0, heading_deg=248.0), sky=Sky(luminance_cd_m2=6500.0))
"""The sun of a late afternoon in the west."""
VIEWS = (
    Shot(
        name="Tower from the slip",
        stand=Stand(position=(20.6, -15.2, -0.78), aim=(14.9, 2.9, -0.78)),
        lens=Lens(focal_length_mm=24.0),
        back=Back(width_mm=24.0, height_mm=36.0, output_px=(2160, 2700)),
        movements=Movements(rise_mm=7.2, image_circle_mm=60.0),
        focus=Focus(distance_m=18.0, f_number=11.0),
        exposure=Exposure(shutter_s=1 / 125, iso=100),
    ),
    Shot(
        name="Wheel room, looking NW",
        stand=Stand(position=(6.9, 0.55, 1.6), aim=(3.3, 4.3, 1.6)),
        lens=Lens(focal_length_mm=28.0),
        back=Back(output_px=(3840, 2160)),
        focus=Focus(distance_m=3.2, f_number=5.6),
        exposure=Exposure(shutter_s=1 / 30, iso=100),
    ),
    Shot(
        name="Shelf wall, square on",
        stand=Stand(position=(4.95, 0.9, 1.42), aim=(4.95, 5.8, 1.42)),
        lens=Lens(focal_length_mm=35.0),
        back=Back(output_px=(3840, 1600)),
        focus=Focus(distance_m=4.75, f_number=8.0),
        exposure=Exposure(shutter_s=1 / 13, iso=100),
    ),
    Shot(
        name="Teapot hero",
        stand=Stand(position=(4.42, 0.86, 4.42), aim=(4.08, 2.68, 4.035)),
        lens=Lens(focal_length_mm=85.0),
        back=Back(width_mm=36.0, height_mm=24.0, output_px=(2400, 2400)),
        focus=Focus(distance_m=1.86, f_number=8.0),
        exposure=Exposure(shutter_s=1 / 8, iso=100),
        guides=Guides(thirds=False, centre=True),
    ),
    Shot(
        name="Wheel by the window",
        stand=Stand(position=(3.3, 1.25, 1.25), aim=(0.95, 2.45, 0.82)),
        lens=Lens(focal_length_mm=50.0),
        back=Back(output_px=(3000, 2000)),
        focus=Focus(distance_m=2.66, f_number=2.0),
        exposure=Exposure(shutter_s=1 / 420, iso=100),
    ),
)

_NOTHING = WorkingSet(EMPTY)
_TOWER = Shot(
    name="Tower from the slip",
    stand=Stand(position=(20.6, -15.2, -0.78), aim=(14.9, 2.9, 4.8)),
    lens=Lens(focal_length_mm=24.0),
    back=Back(width_mm=24.0, height_mm=36.0, output_px=(2160, 2700)),
    movements=Movements(image_circle_mm=60.0),
    focus=Focus(distance_m=18.0, f_number=11.0),
    exposure=Exposure(shutter_s=1 / 125, iso=100),
)
_TEA_THINGS = Shot(
    name="Tea things",
    stand=Stand(position=(4.07, 1.5, 4.24), aim=(4.085, 2.66, 4.03)),
    lens=Lens(focal_length_mm=60.0),
    back=Back(output_px=(2400, 1800)),
    focus=Focus(distance_m=1.1, f_number=2.8, blades=7),
    exposure=Exposure(shutter_s=1 / 60, iso=100),
    guides=Guides(thirds=False),
)
_CUP_RIM, _OTHER_CUP, _HANDLE, _LID = (3.9, 2.51, 4.04), (4.25, 2.56, 4.0), (4.09, 2.87, 4.06), (4.09, 2.78, 4.15)
_TABLE_TOP = ((2.4, 2.2, 0.76), (5.1, 2.2, 0.76), (3.7, 3.2, 0.76))
_ALONG_THE_TABLE = Shot(
    name="Table top, sharp by tilt",
    stand=Stand(position=(3.7, 1.0, 1.6), aim=(3.75, 2.7, 0.76)),
    lens=Lens(focal_length_mm=45.0),
    back=Back(output_px=(3000, 2000)),
    focus=Focus(distance_m=2.0, f_number=2.8),
    exposure=Exposure(shutter_s=1 / 125, iso=100),
)


def _made(shot: Shot, name: str, gesture: Gesture) -> Shot:
    return apply_gesture(shot, gesture, _NOTHING).model_copy(update={"name": name})


def _focused_on(point: tuple[float, float, float], which: str) -> Shot:
    """As a pair is made: its stop stays."""
    found = apply_gesture(_TEA_THINGS, SharpPoints(points=(point,)), _NOTHING)
    focus = _TEA_THINGS.focus.model_copy(update={"distance_m": found.focus.distance_m})
    return _TEA_THINGS.with_groups(focus=focus).model_copy(update={"name": f"Tea things, {which}"})


PRINTED = (
    _made(_TOWER, "Tower, uprights true", Straighten(amount=1.0)),
    _made(_TOWER, "Tower, 85 % straightened", Straighten(amount=0.85)),
    _focused_on(_CUP_RIM, FRONT),
    _focused_on(_HANDLE, BACK),
    _made(_TEA_THINGS, "Tea things, all sharp", SharpPoints(points=(_CUP_RIM, _OTHER_CUP, _HANDLE, _LID))),
    _made(_TEA_THINGS, "Tea things, a stack", StackPoints(points=(_CUP_RIM, _OTHER_CUP, _HANDLE, _LID))),
    _made(_ALONG_THE_TABLE, "Table top, sharp by tilt", FocusPlaneThrough(points=_TABLE_TOP)),
)
"""What lens and focus do; a proof of each lies in the Lab."""
SHOTS = (*VIEWS, *PRINTED)
