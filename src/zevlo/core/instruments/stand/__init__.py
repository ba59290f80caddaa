"""Stand: where the camera is and looks, what it holds on to, and all that moves it."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Copied, Instrument, SheetPart
from zevlo.core.instruments.stand.following import FollowPart, FollowSeen, LetGo, StayAbove
from zevlo.core.instruments.stand.looking import Dolly, Look, Orbit, Truck, Walk
from zevlo.core.instruments.stand.placing import (
    AimAtPart,
    AimAtSeen,
    AimDistance,
    AimTo,
    EndTo,
    Face,
    Grip,
    HeightTo,
    LevelCamera,
    StandTo,
    TurnBy,
)
from zevlo.core.instruments.stand.sheet import at_height_of, compute_sheet, differs, staleness_key
from zevlo.text import stand as say

STAND = Instrument(
    key="stand",
    name=say.STAND,
    gestures=(
        StandTo, AimTo, HeightTo, Face, TurnBy, LevelCamera, AimDistance, EndTo, AimAtPart, AimAtSeen, Grip, Look,
        Truck, Orbit, Dolly, Walk, StayAbove, FollowSeen, FollowPart, LetGo,
    ),
    part=SheetPart("pose", compute_sheet, lambda _: True),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(Copied("height", say.HEIGHT_ABOVE_FLOOR, at_height_of),),
)  # fmt: skip
