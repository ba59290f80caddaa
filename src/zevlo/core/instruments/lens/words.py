"""What a lens does, in one plain sentence."""

from __future__ import annotations

from zevlo.core.camera.camera import Camera
from zevlo.core.optics.lens import FULL_FRAME_WIDTH_MM
from zevlo.core.shot import Shot
from zevlo.text import lens as say

_BY_36_MM = (
    (20.0, say.VERY_WIDE_WHAT_IS_NEAR),
    (38.0, say.WIDE_WHAT_IS_NEAR),
    (65.0, say.STANDARD_NEAR_AND_FAR),
    (110.0, say.RATHER_LONG_NEAR_AND_FAR),
    (float("inf"), say.LONG_NEAR_AND_FAR),
)
"""By the focal length that sees as much across a back 36 mm wide (common practice, no source)."""


def lens_words(shot: Shot, camera: Camera) -> str:
    """One sentence, with the focal length that would see as much across a 36 mm wide back."""
    own = shot.lens
    if own.projection == "parallel":
        return say.PARALLEL_AS_IN_AN_ELEVATION
    if own.projection == "fisheye":
        return say.FISHEYE_IT_SEES_FAR
    if own.projection == "cylindrical":
        return say.CYLINDRICAL_UPRIGHTS_STAY_STRAIGHT
    like = own.focal_length_mm * FULL_FRAME_WIDTH_MM / camera.window.width
    words = next(words for most, words in _BY_36_MM if like < most)
    if abs(like - own.focal_length_mm) >= 0.05:
        words = say.and_sees_as_much(words, like)
    return f"{words}." if own.distortion.none else say.straight_lines_are_bent(words)
