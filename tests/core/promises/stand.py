"""What a camera promises that is moved or turned."""

from __future__ import annotations

import numpy as np
from tests.core.promises import of, only, same

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
from zevlo.core.stand.moves import APART_M, MAX_PITCH_DEG


def turned_alike(now, was):
    """Two angles in degrees are the same, whole turns apart."""
    same((now - was + 180.0) % 360.0 - 180.0, 0.0, abs=1e-5)


@of(
    StandTo,
    AimTo,
    HeightTo,
    Face,
    TurnBy,
    LevelCamera,
    AimDistance,
    EndTo,
    AimAtPart,
    AimAtSeen,
    Grip,
    Look,
    Truck,
    Orbit,
    Walk,
)
def nothing_else_of_the_shot_changes(done):
    only(done, "stand")


@of(StandTo, AimTo, HeightTo, AimDistance, EndTo, AimAtPart, AimAtSeen, Truck, Walk)
def what_is_followed_keeps_its_place_in_the_frame(done):
    follow = done.now.stand.follow
    if follow is not None:
        same(done.after.camera.places(np.array([follow.point])).uv[0], follow.at, abs=1e-5)


@of(StandTo)
def the_stand_lies_where_it_was_put_as_high_above_the_floor(done):
    same(done.after.pose.position[:2], (done.asked.x, done.asked.y))
    high, was = done.height_above_floor(done.after), done.height_above_floor(done.before)
    if high is not None and was is not None and done.was.stand.above_floor_m is None:
        same(high, was, abs=1e-4)
    if not done.holds_on and np.hypot(*np.subtract(done.was.stand.aim[:2], (done.asked.x, done.asked.y))) > APART_M:
        same(done.now.stand.aim[:2], done.was.stand.aim[:2])


@of(AimTo)
def the_aim_lies_where_it_was_put(done):
    same(done.after.pose.position, done.before.pose.position)
    if not done.holds_on:
        same(done.now.stand.aim, (done.asked.x, done.asked.y, done.was.stand.aim[2]))


@of(HeightTo)
def the_lens_is_as_high_as_told_and_looks_the_same_way(done):
    same(done.after.pose.position[:2], done.before.pose.position[:2])
    if done.asked.z is not None:
        same(done.after.pose.position[2], done.asked.z)
    else:
        floor = done.working.floor_under(done.before.pose.position)
        same(done.after.pose.position[2] - floor, done.asked.above_floor)
    if done.was.stand.follow is None:
        same(done.after.pose.forward, done.before.pose.forward)


@of(Face)
def it_looks_as_told_from_where_it_is(done):
    same(done.after.pose.position, done.before.pose.position)
    heading = done.before.pose.heading_deg if done.asked.heading_deg is None else done.asked.heading_deg
    pitch = done.before.pose.pitch_deg if done.asked.pitch_deg is None else done.asked.pitch_deg
    same(done.after.pose.pitch_deg, pitch, abs=1e-4)
    turned_alike(done.after.pose.heading_deg, heading)


@of(TurnBy)
def it_is_turned_by_just_that(done):
    same(done.after.pose.position, done.before.pose.position)
    turned_alike(done.now.stand.roll_deg, done.was.stand.roll_deg + done.asked.roll_deg)
    pitch = done.before.pose.pitch_deg + done.asked.tilt_deg
    if abs(pitch) <= MAX_PITCH_DEG:
        same(done.after.pose.pitch_deg, pitch, abs=1e-4)
        turned_alike(done.after.pose.heading_deg, done.before.pose.heading_deg + done.asked.pan_deg)


@of(LevelCamera)
def it_is_level_and_looks_to_the_same_side(done):
    same((done.after.pose.pitch_deg, done.now.stand.roll_deg), (0.0, 0.0))
    turned_alike(done.after.pose.heading_deg, done.before.pose.heading_deg)


@of(AimDistance)
def the_aim_is_as_far_as_told_along_the_lens_axis(done):
    same(done.after.pose.aim_distance, done.asked.distance_m, rel=1e-6)
    same(done.after.pose.position, done.before.pose.position)
    same(done.after.pose.forward, done.before.pose.forward, abs=1e-6)


@of(EndTo)
def the_end_has_the_coordinates_that_were_told(done):
    key, other = ("position", "aim") if done.asked.end == "stand" else ("aim", "position")
    was, now = getattr(done.was.stand, key), getattr(done.now.stand, key)
    given = (done.asked.x, done.asked.y, done.asked.z)
    if done.holds_on or (done.was.stand.above_floor_m is not None and (done.asked.end == "stand" or done.asked.both)):
        given, was, now = given[:2], was[:2], now[:2]
        if key == "aim":
            return
    same(now, [w if t is None else t for t, w in zip(given, was, strict=True)])
    if not done.holds_on and len(given) == 3:
        gone = np.subtract(now, was) if done.asked.both else np.zeros(3)
        same(np.subtract(getattr(done.now.stand, other), getattr(done.was.stand, other)), gone, abs=1e-6)


@of(AimAtPart)
def the_middle_of_the_part_is_aimed_at(done):
    if not done.holds_on:
        same(done.now.stand.aim, done.box(done.asked.part).mean(axis=0), abs=1e-5)


@of(AimAtSeen)
def what_was_pressed_is_aimed_at(done):
    same(done.after.pose.position, done.before.pose.position)
    if done.holds_on:
        return
    if done.asked.part:
        middles = [done.box(part).mean(axis=0) for part in done.working.model.ids]
        assert min(np.abs(middles - np.array(done.now.stand.aim)).max(axis=1)) < 1e-5
    else:
        same(done.now.stand.aim, done.pressed, abs=1e-5)


ALONG = {"dolly": "forward", "truck": "right", "pedestal": "up"}
AXES = {"east": (1, 0, 0), "north": (0, 1, 0), "up": (0, 0, 1)}


@of(Grip)
def the_camera_moves_by_that_much_along_that_axis(done):
    move, was, now = done.asked.move, done.before.pose, done.after.pose
    if move in ("pan", "tilt", "roll"):
        same(now.position, was.position)
    elif move in ("orbit", "over"):
        if not done.holds_on and done.was.stand.above_floor_m is None:
            same(done.now.stand.aim, done.was.stand.aim)
            same(now.aim_distance, was.aim_distance, rel=1e-6)
    elif done.was.stand.above_floor_m is None:
        axis = np.array(AXES[move] if move in AXES else getattr(was, ALONG[move]))
        same(now.position - was.position, done.asked.by * axis, abs=1e-6, rel=1e-6)
        if not done.holds_on:
            same(
                np.subtract(done.now.stand.aim, done.was.stand.aim),
                done.asked.by * axis * done.asked.both,
                abs=1e-6,
                rel=1e-6,
            )


@of(Look)
def the_camera_turns_on_the_spot_with_the_hand(done):
    same(done.after.pose.position, done.before.pose.position)
    same(done.now.stand.roll_deg, done.was.stand.roll_deg)
    if not done.holds_on:
        same(done.after.pose.aim_distance, done.before.pose.aim_distance, rel=1e-6)


@of(Truck)
def what_is_as_far_as_the_aim_goes_with_the_hand(done):
    if done.holds_on or done.was.stand.above_floor_m is not None or not done.after.law.straight:
        return
    rays = done.before.camera.rays(np.array([[0.3, 0.6]]))
    point = rays.at(done.before.camera.distances(rays, done.before.pose.aim_distance))
    same(done.after.camera.places(point).uv[0], (0.3 + done.asked.right, 0.6 + done.asked.up), abs=1e-5)
    same(done.after.pose.forward, done.before.pose.forward)


@of(Orbit)
def the_aim_stays_and_is_as_far(done):
    if not done.holds_on and done.was.stand.above_floor_m is None:
        same(done.now.stand.aim, done.was.stand.aim)
        same(done.after.pose.aim_distance, done.before.pose.aim_distance, rel=1e-6)


@of(Dolly)
def the_aim_stays_and_its_distance_is_that_share(done):
    if done.was.lens.scale_m is not None:
        only(done, "lens.scale_m")
        same(done.now.lens.scale_m, done.was.lens.scale_m * done.asked.factor)
    elif not done.holds_on and done.was.stand.above_floor_m is None:
        only(done, "stand")
        same(done.now.stand.aim, done.was.stand.aim)
        same(done.after.pose.aim_distance, done.before.pose.aim_distance * done.asked.factor, rel=1e-6)


@of(Walk)
def the_steps_are_level(done):
    ahead = done.before.pose.level_axis
    right = np.array([ahead[1], -ahead[0], 0.0])
    step = done.asked.ahead * ahead + done.asked.right * right
    same((done.after.pose.position - done.before.pose.position)[:2], step[:2], abs=1e-6, rel=1e-6)
    if done.was.stand.above_floor_m is None:
        same(done.after.pose.position[2] - done.before.pose.position[2], done.asked.up, abs=1e-6)
    if done.was.stand.follow is None:
        same(done.after.pose.forward, done.before.pose.forward, abs=1e-6)


@of(StayAbove)
def it_stays_as_high_as_it_is(done):
    only(done, "stand.above_floor_m")
    same(done.now.stand.above_floor_m or 0.0, done.height_above_floor(done.before) if done.asked.on else 0.0)


@of(FollowSeen, FollowPart, LetGo)
def what_is_followed_lies_in_the_frame_where_it_is_held(done):
    only(done, "stand.follow")
    follow = done.now.stand.follow
    assert (follow is None) == isinstance(done.asked, LetGo)
    if follow is not None:
        same(done.before.camera.places(np.array([follow.point])).uv[0], follow.at, abs=1e-5)
        if isinstance(done.asked, FollowSeen):
            same(follow.at, done.asked.pressed[0])
            same(follow.point, done.pressed)
        else:
            same(follow.point, done.box(done.asked.part).mean(axis=0), abs=1e-5)
