"""Uprights made true, walls put square on: the camera is turned, and the film shifted until the middle of the frame
sees again what it saw.

Straightening takes a share of the pitch out: with the ray of the frame's middle at an elevation ε in the plane of the
heading, its film place at pitch θ' is f·tan(ε - θ') above the lens axis, which is where rise puts the frame's middle.
"""

from __future__ import annotations

from math import atan2, degrees

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.camera.camera import Camera
from zevlo.core.camera.depth_of_field import keep_centre_sharp
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.constraints.follow_aim import CannotFollow, turn_towards
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.movements import MOST_SHIFT_MM, BeforeStraightening
from zevlo.core.stand import moves
from zevlo.core.stand.pose import resolve
from zevlo.text import constraints as say

MIDDLE = (0.5, 0.5)
AT_SIDES: Floats = np.array([[0.0, 0.5], [1.0, 0.5]])
"""Both sides of a frame, half way up."""
SAME_DEG = 1.0e-7
_FAR_M = 1000.0
_UPRIGHT_SHARE = 1.0e-4
LEVEL_FACE = 0.05
"""A face whose normal leans less than this share aside has no side to stand square to."""
MOST_AWAY_DEG = 89.0
TRUE_DEG = 0.005
"""Uprights that lean less than this count as true."""
MOST_STEPS = 30
IN_PLACE = 1.0e-9
NO_SHIFT_MM = 1.0e-9


def can_shift(shot: Shot) -> bool:
    """Whether the law of a shot draws uprights true when its camera is level, so that shifts can straighten it."""
    return shot.lens.projection in ("perspective", "cylindrical")


def require_shift(shot: Shot) -> None:
    """Raise :class:`Refused` where shifts cannot straighten a shot."""
    if can_shift(shot):
        return
    if shot.lens.scale_m is not None:
        raise Refused(say.IN_A_PARALLEL_PICTURE)
    raise Refused(say.A_FISHEYE_BENDS_UPRIGHTS)


def middle_ray(framing: Framing) -> Floats:
    """Unit way the middle of a shot's frame looks, (3,)."""
    direction: Floats = framing.camera.rays(np.array([MIDDLE])).directions[0]
    return direction


def turned_with_film(framing: Framing, heading_deg: float, pitch_deg: float, was: BeforeStraightening | None) -> Shot:
    """The shot turned to a heading and pitch, without roll, its film shifted so that the middle of the frame sees what
    it saw. ``was``: what it notes as the way back. Raises :class:`Refused` where no shift gets there."""
    return with_middle_on(framing, middle_ray(framing), heading_deg, pitch_deg, was)


def with_middle_on(
    framing: Framing,
    direction: Floats,
    heading_deg: float,
    pitch_deg: float,
    was: BeforeStraightening | None,
    roll_deg: float = 0.0,
) -> Shot:
    """As :func:`turned_with_film`, for what the middle of the frame is to see, a unit ``direction`` (3,).

    ``framing``: of the shot as it is; ``heading_deg``, ``pitch_deg``, ``roll_deg``: how it is turned; ``was``: what it
    notes as the way back."""
    shot = framing.shot
    stand = moves.face(shot.stand, heading_deg, pitch_deg).model_copy(update={"roll_deg": roll_deg})
    turned = keep_centre_sharp(framing, Framing(shot.with_groups(stand=stand)))
    camera, fitted = camera_of(turned), framing.fitted
    x, y, seen = camera.law.film(np, *camera.camera_space(camera.pose.position + _FAR_M * direction[None]).T)
    across, up = (float(x[0] - (fitted.left + fitted.right) / 2.0), float(y[0] - (fitted.bottom + fitted.top) / 2.0))
    if not seen[0] or max(abs(across), abs(up)) > MOST_SHIFT_MM:
        raise Refused(say.NO_FILM_CAN_BE_SHIFTED)
    # What rounding leaves of no shift is none: nobody reads a cross of 10⁻¹⁵ mm.
    across, up = (0.0 if abs(shift) < NO_SHIFT_MM else shift for shift in (across, up))
    shifts = shot.movements.model_copy(update={"rise_mm": up, "cross_mm": across, "before_straightening": was})
    return turned.with_groups(movements=shifts)


def way_back(framing: Framing) -> BeforeStraightening | None:
    """What a shot was like before it was straightened; one that was set up level, and given rise by hand, is as if it
    had been. None where nothing was taken out."""
    shot = framing.shot
    own = shot.movements
    by_hand = own.rise_mm != 0.0 and shot.stand.roll_deg == 0.0 and abs(framing.pose.pitch_deg) < SAME_DEG
    if own.before_straightening is None and by_hand and can_shift(shot):
        return BeforeStraightening(cross_mm=own.cross_mm)
    return own.before_straightening


def before_straightening(framing: Framing) -> Shot:
    """The shot before it was straightened or put square on: the middle of its frame sees what it sees now."""
    shot = framing.shot
    was = way_back(framing)
    if was is None:
        return shot
    direction = middle_ray(framing)
    shifts = shot.movements.model_copy(
        update={"rise_mm": was.rise_mm, "cross_mm": was.cross_mm, "before_straightening": None}
    )
    stand = shot.stand.model_copy(update={"roll_deg": was.roll_deg})
    back = shot.with_groups(stand=stand, movements=shifts)
    x, y, z = (np.array(shot.stand.position) + framing.pose.aim_distance * direction).tolist()
    # A lens that breathes draws larger or smaller as it is focused, which goes by how it is turned.
    for _ in range(MOST_STEPS if shot.lens.focus_breathing else 1):
        try:
            heading, pitch, _ = turn_towards(camera_of(back), stand, (x, y, z), MIDDLE)
        except CannotFollow as reason:
            raise Refused(say.THAT_WOULD_LOOK_STRAIGHT_UP_OR_DOWN) from reason
        back = keep_centre_sharp(framing, Framing(back.with_groups(stand=moves.face(stand, heading, pitch))))
    return back


def straightened(framing: Framing, amount: float) -> Shot:
    """The shot with a share of its pitch taken out, 0 as it was to 1 uprights true; see :func:`turned_with_film`."""
    shot = framing.shot
    require_shift(shot)
    back = before_straightening(framing)
    before, now = resolve(back.stand), framing.pose
    turned = abs((now.heading_deg - before.heading_deg + 180.0) % 360.0 - 180.0) > SAME_DEG
    if amount == 0.0 and not turned:
        return back
    return turned_with_film(framing, now.heading_deg, (1.0 - amount) * before.pitch_deg, noted(framing))


def square_on(framing: Framing, normal: Floats, amount: float = 1.0) -> Shot:
    """The shot turned to look straight at a wall, as far as level lines go, by a share of the way; its film crosses
    until the middle of the frame sees what it saw. ``normal``: of the wall, (3,), on the side it is seen from.

    Raises :class:`Refused` where it lies level, or faces away."""
    shot = framing.shot
    require_shift(shot)
    if float(np.hypot(normal[0], normal[1])) < LEVEL_FACE * float(np.linalg.norm(normal)):
        raise Refused(say.THAT_FACE_LIES_LEVEL)
    pose = framing.pose
    if abs(pose.pitch_deg) > moves.MAX_PITCH_DEG:
        raise Refused(say.THE_CAMERA_LOOKS_STRAIGHT)
    wanted = degrees(atan2(-float(normal[0]), -float(normal[1])))
    away = (wanted - pose.heading_deg + 180.0) % 360.0 - 180.0
    if abs(away) >= MOST_AWAY_DEG:
        raise Refused(say.THE_CAMERA_LOOKS_ALONG)
    was = shot.movements.before_straightening or _as_it_is(shot)
    return turned_with_film(framing, pose.heading_deg + amount * away, pose.pitch_deg, was)


def _as_it_is(shot: Shot) -> BeforeStraightening:
    own = shot.movements
    return BeforeStraightening(rise_mm=own.rise_mm, cross_mm=own.cross_mm, roll_deg=shot.stand.roll_deg)


def noted(framing: Framing) -> BeforeStraightening:
    """What a shot that is made true notes: the way back it knows, else how it is now."""
    shot = framing.shot
    return way_back(framing) or _as_it_is(shot)


def kept_upright(before: Framing, after: Framing, in_place: bool = False) -> Shot:
    """A shot whose camera was turned up or down, with the pitch it had: it gets rise instead; its roll stays.
    ``in_place``: the point it follows keeps its place, not what the middle of the frame sees.
    Raises :class:`Refused` where no shift gets there."""
    if not after.shot.movements.keep_uprights or not can_shift(after.shot):
        return after.shot
    was, now = before.pose, after.pose
    if abs(was.pitch_deg - now.pitch_deg) < SAME_DEG:
        return after.shot
    risen = with_middle_on(
        after, middle_ray(after), now.heading_deg, was.pitch_deg, noted(after), roll_deg=now.roll_deg
    )
    follow = after.shot.stand.follow
    return risen if follow is None or not in_place else _put_in_place(risen, follow.point, follow.at)


def _put_in_place(shot: Shot, point: tuple[float, float, float], at: tuple[float, float]) -> Shot:
    """The shot turned level, and its film shifted, until a point lies at its place in the frame."""
    for _ in range(MOST_STEPS):
        camera = camera_of(shot)
        seen = np.array(point) - camera.pose.position
        wanted = camera.rays(np.array([at])).directions[0]
        turn = degrees(atan2(seen[0], seen[1]) - atan2(wanted[0], wanted[1]))
        stand = moves.face(shot.stand, camera.pose.heading_deg + turn, camera.pose.pitch_deg)
        shot = shot.with_groups(stand=stand)
        places = camera_of(shot).places(np.array([point]))
        aside, over = (places.uv[0] - np.array(at)).tolist()
        own = shot.movements
        rise = own.rise_mm + over * camera.window.height
        # Turned level nothing moves aside but by the turn; a rolled film has to shift both ways.
        cross = own.cross_mm + (aside * camera.window.width if shot.stand.roll_deg else 0.0)
        if not places.seen[0] or max(abs(rise), abs(cross)) > MOST_SHIFT_MM:
            raise Refused(say.WITH_UPRIGHTS_KEPT_TRUE)
        if max(abs(aside), abs(over)) < IN_PLACE:
            break
        shot = shot.with_groups(movements=own.model_copy(update={"rise_mm": rise, "cross_mm": cross}))
    return shot


def leans_deg(camera: Camera, uv: Floats) -> Floats:
    """Lean of a short upright at places (n, 2) of the frame, (n,): degrees its top is drawn to the right of its foot.

    In perspective, without shift and roll, that is atan(x·tanθ/f) left and right of the axis."""
    rays = camera.rays(uv)
    middles = rays.at(camera.distances(rays, camera.pose.aim_distance))
    half = np.array([0.0, 0.0, _UPRIGHT_SHARE * camera.pose.aim_distance])
    low, high = camera.places(middles - half).uv, camera.places(middles + half).uv
    across, up = ((high - low) * np.array([camera.window.width, camera.window.height])).T
    lean: Floats = np.where(rays.sees, np.degrees(np.arctan2(across, up)), 0.0)
    return lean
