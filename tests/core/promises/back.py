"""What a back promises that is another, or trimmed: what stays in the picture lies where it lay."""

from __future__ import annotations

import numpy as np
import pytest
from tests.core.promises import Done, of, only, same, same_view
from tests.core.promises.lens import runs_through

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import side_of_frame
from zevlo.core.instruments.back.crops import CropAway, CropBy, CropCorner, CropsAdd, CropSize, picture_of
from zevlo.core.instruments.back.one_side import SideTo, taken_off
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.back.trimming import EdgeTo, TrimRatio, WholeFrame

GIVEN_WAY = ("back", "movements", "lens.focal_length_mm", "lens.scale_m")


def pixel(framing: Framing) -> float:
    """A pixel as a share of the shorter side of the frame."""
    return 1.0 / min(framing.fitted.output_px)


@of(FocalKeep)
def the_back_is_as_told_and_the_lens_or_the_angle_stays(done: Done) -> None:
    asked, back = done.asked, done.now.back
    only(done, "back", "lens.scale_m", *(() if asked.what == "lens" or asked.turned else ("lens", "movements")))
    if not asked.turned:
        for name in ("width_mm", "height_mm", "fit", "enlarge", "dpi", "bleed_mm"):
            found = getattr(asked, name)
            assert getattr(back, name) == (getattr(done.was.back, name) if found is None else found)
    if asked.what == "lens" or asked.turned:
        same(done.now.lens.focal_length_mm, done.was.lens.focal_length_mm)
    sizes = (asked.width_mm, asked.height_mm, asked.fit, asked.enlarge, asked.output_px, asked.wide_px, asked.high_px)
    if (
        asked.what == "angle"
        and not asked.turned
        and sizes[2:] == (None,) * 5
        and asked.paper_mm is None
        and back.fit != "inside"
    ):
        same_view(done, within=1e-5)


@of(EdgeTo)
def the_side_comes_to_lie_where_it_was_pulled(done: Done) -> None:
    only(done, *(("back.trim",) if done.asked.gives is None else GIVEN_WAY))
    if done.asked.both or done.asked.hold_ratio or done.asked.gives is not None:
        return
    for side, axis, to in ((done.asked.x, 0, done.asked.to[0]), (done.asked.y, 1, done.asked.to[1])):
        end = 1.0 if side in ("right", "top") else 0.0
        stays = 1.0 - end
        if side is None:
            seen_at(done, axis, 0.0, 0.0)
            seen_at(done, axis, 1.0, 1.0)
            continue
        seen_at(done, axis, stays, stays)
        if 0.05 < to < 0.95:
            seen_at(done, axis, end, to)


def seen_at(done: Done, axis: int, now: float, was: float) -> None:
    """The film at a share of the frame is the film that was at another before, to a pixel."""
    then, after = done.before.camera.window, done.after.camera.window
    low, size = (("left", "width"), ("bottom", "height"))[axis]
    wide = getattr(then, size)
    found = (getattr(after, low) + now * getattr(after, size) - getattr(then, low)) / wide
    assert found == pytest.approx(was, abs=1.01 / done.before.fitted.output_px[axis])


@of(TrimRatio)
def the_frame_has_that_ratio_and_is_as_large_as_can_be(done: Done) -> None:
    only(done, "back.trim")
    wide, high = done.after.fitted.output_px
    columns, rows = done.was.back.output_px
    assert wide == columns or high == rows
    ratio = done.asked.wide / done.asked.high
    assert abs(wide - high * ratio) <= max(1.0, ratio) or min(wide, high) == 1


@of(WholeFrame)
def nothing_is_trimmed_off(done: Done) -> None:
    only(done, "back.trim")
    assert done.after.fitted.output_px == done.now.back.output_px


@of(SideTo)
def one_side_runs_through_the_place_and_the_other_stays(done: Done) -> None:
    only(done, *(("back.trim",) if done.asked.gives is None else GIVEN_WAY))
    side = ("left", "right", "bottom", "top").index(side_of_frame(done.after.camera, done.asked.side))
    if done.asked.gives is not None or taken_off(done.now.back)[side] > 0:
        runs_through(done.after, done.asked.side, done.asked.x, done.asked.y, 40.0 * pixel(done.after))


def crop_in(framing: Framing, name: str) -> np.ndarray:
    """Where a crop lies in the frame: left, bottom, right, top."""
    return np.array(picture_of(framing.shot, name)[0])


@of(CropsAdd, CropBy, CropCorner, CropSize, CropAway)
def no_other_crop_changes_and_all_lie_in_the_frame(done: Done) -> None:
    only(done, "back.crops")
    named = {one.name for one in getattr(done.asked, "crops", ())} | {getattr(done.asked, "name", None)}
    was, now = ({one.name: one for one in shot.back.crops if one.name not in named} for shot in (done.was, done.now))
    assert was == now
    for one in done.now.back.crops:
        frame = crop_in(done.after, one.name)
        assert ((frame > -1e-9) & (frame < 1.0 + 1e-9)).all()


@of(CropsAdd)
def those_that_were_not_there_are_there(done: Done) -> None:
    assert {one.name for one in done.now.back.crops} == {one.name for one in (*done.was.back.crops, *done.asked.crops)}


@of(CropBy)
def the_crop_goes_along_as_far_as_the_frame_goes(done: Done) -> None:
    was, now = crop_in(done.before, done.asked.name), crop_in(done.after, done.asked.name)
    same(now[2:] - now[:2], was[2:] - was[:2])
    by = np.array([done.asked.right, done.asked.up])
    same(now[:2], np.clip(was[:2] + by, 0.0, 1.0 - (was[2:] - was[:2])), abs=1e-6)


@of(CropCorner)
def the_opposite_corner_and_the_ratio_stay(done: Done) -> None:
    was, now = crop_in(done.before, done.asked.name), crop_in(done.after, done.asked.name)
    stays = [2 if done.asked.x == "left" else 0, 3 if done.asked.y == "bottom" else 1]
    wide, high = now[2:] - now[:2]
    same(wide / high, (was[2] - was[0]) / (was[3] - was[1]), rel=1e-6)
    if wide > 0.01:
        same(now[stays], was[stays], abs=1e-6)


@of(CropSize)
def the_crop_has_those_pixels(done: Done) -> None:
    assert picture_of(done.now, done.asked.name)[1] == done.asked.output_px


@of(CropAway)
def the_crop_is_gone(done: Done) -> None:
    assert done.asked.name not in {one.name for one in done.now.back.crops}
