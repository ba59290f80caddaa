"""Which composition guides are shown in the frame."""

from __future__ import annotations

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.text import guides as say

USUAL_MARGIN = 0.05
"""What a margin is when it is first shown: the title safe area of SMPTE ST 2046-1, 90 % of width and height (from
memory)."""


class Guides(Settings):
    """Which composition guides are shown in the frame."""

    thirds: bool = Field(True, title=say.THIRDS)
    """Both sides in three."""
    golden: bool = Field(False, title=say.GOLDEN_SECTION)
    """Both sides divided by the golden section, from either end."""
    diagonals: bool = Field(False, title=say.DIAGONALS)
    """Corner to corner."""
    reciprocals: bool = Field(False, title=say.RECIPROCALS)
    """From each corner the perpendicular on the diagonal."""
    centre: bool = Field(False, title=say.CENTRE)
    """The middle of both sides."""
    margin: float | None = Field(None, title=say.MARGIN, gt=0.0, le=0.45)
    """A frame within the frame, by this share of its width and height; null: none."""
    horizon: bool = Field(False, title=say.HORIZON)
    """What lies level with the lens, endlessly far away."""
    lean_lines: bool = Field(False, title=say.LEAN_LINES)
    """The two strongest uprights of the picture, and how much they lean."""
