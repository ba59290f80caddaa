"""The same picture from another stand: what was in its middle stays there, as large, and what was sharp stays sharp."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import FocusPlane
from zevlo.core.camera.depth_of_field import keep_centre_sharp
from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.focus_plane import plane_laid
from zevlo.core.constraints.same_picture import enlarged
from zevlo.core.constraints.uprights import with_middle_on
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.movements import BeforeStraightening
from zevlo.core.stand import moves
from zevlo.core.stand.pose import direction
from zevlo.text import constraints as say

FARTHEST = 8.0
"""A stand is looked for no farther off than this many times the distance there is."""


def from_elsewhere(
    framing: Framing,
    by: Floats,
    subject: Floats,
    attitude: tuple[float, float, float],
    was: BeforeStraightening | None,
    sharp: Shot | None = None,
    refocused: Callable[[Shot], Shot] | None = None,
) -> Shot:
    """The shot with its stand moved ``by`` (3,) metres and turned to a heading, pitch and roll: the ``subject`` (3,) in
    the middle of its frame, as large as it was, and what was sharp still sharp. ``was``: what it notes as the way back;
    ``sharp``: the shot focused as is wanted, from where it was, and ``refocused``: how, from where it is.

    ``framing``: of the shot as it is; ``attitude``: heading, pitch and roll in degrees."""
    shot = framing.shot
    heading_deg, pitch_deg, roll_deg = attitude
    place, moved = np.array(shot.stand.position), np.array(shot.stand.position) + by
    before, after = (_away(shot, subject - one, direction(heading_deg, pitch_deg)) for one in (place, moved))
    if min(before, after) <= 0.0:
        raise Refused(say.WHAT_THE_MIDDLE_OF_THE_FRAME)
    x, y, z = moved.tolist()
    ax, ay, az = (np.array(shot.stand.aim) + by).tolist()
    stand = shot.stand.model_copy(update={"position": (x, y, z), "aim": (ax, ay, az), "roll_deg": roll_deg})
    there = shot.with_groups(stand=moves.face(stand, heading_deg, pitch_deg))
    sharp = sharp or shot
    there = (
        _plane_kept(Framing(sharp), Framing(there), subject)
        if framing.lean != (0.0, 0.0)
        else keep_centre_sharp(Framing(sharp), Framing(there))
    )
    there = there if refocused is None else refocused(there)
    there = enlarged(there, after / before * framing.film_distance_mm / Framing(there).film_distance_mm)
    toward = subject - moved
    return with_middle_on(Framing(there), toward / float(np.linalg.norm(toward)), heading_deg, pitch_deg, was, roll_deg)


def _away(shot: Shot, direction: Floats, ahead: Floats) -> float:
    """What the size of something goes by that lies in a direction (3,): how far ahead, or away from a fisheye."""
    return float(np.linalg.norm(direction)) if shot.lens.projection == "fisheye" else float(direction @ ahead)


def _plane_kept(before: Framing, after: Framing, through_point: Floats) -> Shot:
    """The shot of another stand with its lens turned to be sharp on the plane it was sharp on."""
    plane = before.zone.surfaces(before.camera)[0]
    assert isinstance(plane, FocusPlane), "a lens that is turned is in perspective"
    pose, camera = after.pose, after.camera
    off = plane.offset - float(plane.normal @ pose.position)
    if not 0.0 < abs(off) < np.inf:
        return keep_centre_sharp(before, after)
    across, up, per_m = (float(plane.normal @ axis) / off for axis in (pose.right, pose.up, pose.forward))
    return plane_laid(after.shot, (across, up, per_m), camera.camera_space(through_point[None]))
