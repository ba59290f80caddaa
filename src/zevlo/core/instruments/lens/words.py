"""What a lens does, in one plain sentence."""

from __future__ import annotations

from zevlo.core.camera.camera import Camera
from zevlo.core.optics.lens import FULL_FRAME_WIDTH_MM
from zevlo.core.shot import Shot

_BY_36_MM = (
    (20.0, "Very wide: what is near looks huge, what is far tiny"),
    (38.0, "Wide: what is near looks large, what is far small"),
    (65.0, "Standard: near and far look as they do to the eye"),
    (110.0, "Rather long: near and far look close together"),
    (float("inf"), "Long: near and far look pressed together"),
)
"""By the focal length that sees as much across a back 36 mm wide (common practice, no source)."""


def lens_words(shot: Shot, camera: Camera) -> str:
    """One sentence, with the focal length that would see as much across a 36 mm wide back."""
    own = shot.lens
    if own.projection == "parallel":
        return "Parallel, as in an elevation: everything is the same size at any distance."
    if own.projection == "fisheye":
        return "Fisheye: it sees far round; straight lines bend the more the farther out they are."
    if own.projection == "cylindrical":
        return "Cylindrical: uprights stay straight, level lines bend."
    like = own.focal_length_mm * FULL_FRAME_WIDTH_MM / camera.window.width
    words = next(words for most, words in _BY_36_MM if like < most)
    if abs(like - own.focal_length_mm) >= 0.05:
        words += f"; across it sees as much as {like:.3g} mm on a 36 mm wide back"
    return f"{words}." if own.distortion.none else f"{words}. Straight lines are bent."
