"""The shot as an open format: its groups of settings, their limits, changes to it, older formats.

Importing it loads nothing of geometry.
"""

from __future__ import annotations

from zevlo.core.shot.back import Back, Trim
from zevlo.core.shot.exposure import Exposure
from zevlo.core.shot.focus import BlurLimit, Focus
from zevlo.core.shot.guides import Guides
from zevlo.core.shot.lens import Lens
from zevlo.core.shot.movements import Movements
from zevlo.core.shot.shot import Shot
from zevlo.core.shot.stand import FollowAim, Stand

__all__ = [
    "Back",
    "BlurLimit",
    "Exposure",
    "Focus",
    "FollowAim",
    "Guides",
    "Lens",
    "Movements",
    "Shot",
    "Stand",
    "Trim",
]
