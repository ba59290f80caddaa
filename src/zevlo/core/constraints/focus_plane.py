"""The plane of focus laid somewhere: tilt, swing and distance follow.

In camera axes a plane is a·X + b·Y + c·D = 1; the lens that is sharp on it looks along n with n·f⁻¹ = (a, b) across and
up, and is focused 1/c away (:mod:`zevlo.core.optics.tilt`).
"""

from __future__ import annotations

from math import asin, degrees, hypot, radians, sin, sqrt

from zevlo.core.arrays import Floats
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M
from zevlo.core.optics.tilt import turned_to_look
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.limits import nearest_focus_m
from zevlo.text import constraints as say

MOST_TURN_DEG = 45.0


def require_tilt(shot: Shot) -> None:
    """Raise :class:`Refused` where a lens cannot be turned, or turning it does nothing."""
    if shot.lens.projection != "perspective":
        raise Refused(say.ONLY_A_LENS_IN_PERSPECTIVE)


def plane_laid(shot: Shot, plane: tuple[float, float, float], through: Floats) -> Shot:
    """The shot with its plane of focus laid on a·X + b·Y + c·D = 1 of the camera's axes, in metres.

    Raises :class:`Refused` where the lens would have to be turned too far: nearest is as far as it goes, through the
    middle of the points ``through`` (n, 3), which are in the camera's axes too."""
    require_tilt(shot)
    across, up, per_m = plane
    f = shot.lens.focal_length_mm
    wanted = f / 1000.0 * hypot(across, up)
    most = MOST_TURN_DEG if shot.movements.tilt_limit_deg is None else shot.movements.tilt_limit_deg
    if wanted <= sin(radians(most)) + 1.0e-9:
        return _turned(shot, f / 1000.0 * across, f / 1000.0 * up, per_m)
    share = sin(radians(most)) / wanted
    x, y, d = through.mean(axis=0).tolist()
    near = (1.0 - share * (across * x + up * y)) / d
    nearest = _turned(shot, f / 1000.0 * across * share, f / 1000.0 * up * share, near)
    angle = f"{degrees(asin(wanted)):.1f}°" if wanted < 1.0 else say.MORE_THAN_ANY
    raise Refused(
        say.the_lens_would_have_to_be_turned(angle, most),
        nearest=nearest,
    )


def _turned(shot: Shot, across: float, up: float, per_m: float) -> Shot:
    ahead = sqrt(max(0.0, 1.0 - across * across - up * up))
    tilt, swing = turned_to_look((across, up, ahead))
    if per_m < 1.0 / FARTHEST_FOCUS_M:
        if per_m < -1.0 / FARTHEST_FOCUS_M:
            raise Refused(say.THAT_PLANE_DOES_NOT_CROSS)
        per_m = 1.0 / FARTHEST_FOCUS_M
    nearest = nearest_focus_m(shot.lens.focal_length_mm, ahead)
    if 1.0 / per_m < nearest:
        raise Refused(say.that_plane_crosses_the_lens(nearest))
    turned = shot.movements.model_copy(update={"tilt_deg": tilt, "swing_deg": swing})
    return shot.with_groups(movements=turned, focus=shot.focus.model_copy(update={"distance_m": 1.0 / per_m}))
