"""The instruments, in the order of the desk: the one list that all they have in common is derived from."""

from __future__ import annotations

from zevlo.core.instruments.back import BACK
from zevlo.core.instruments.exposure import EXPOSURE
from zevlo.core.instruments.focus import FOCUS
from zevlo.core.instruments.guides import GUIDE_LINES
from zevlo.core.instruments.instrument import Instrument
from zevlo.core.instruments.left_out import LEFT_OUT
from zevlo.core.instruments.lens import LENS
from zevlo.core.instruments.light import LIGHT
from zevlo.core.instruments.movements import MOVEMENTS
from zevlo.core.instruments.opening import OPENING
from zevlo.core.instruments.stand import STAND

INSTRUMENTS: tuple[Instrument, ...] = (
    STAND, LENS, BACK, MOVEMENTS, FOCUS, EXPOSURE, GUIDE_LINES, LIGHT, OPENING, LEFT_OUT,
)  # fmt: skip
