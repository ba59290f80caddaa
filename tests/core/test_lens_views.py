"""Primes, parallel views and their scales, near and far clip on paper, what a lens does in words."""

from typing import get_args

import numpy as np
import pytest
from pydantic import ValidationError
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.presets import Presets
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.other_back import FocalKeep
from zevlo.core.instruments.instrument import Scene
from zevlo.core.instruments.lens.primes import PRIME_SETS, PrimeStep
from zevlo.core.instruments.lens.views import SCALES, ScaleTo, View, ViewFrom, scale_on_paper
from zevlo.core.instruments.opening.clips import BoundOnPaper
from zevlo.core.optics.lens import FULL_FRAME_DIAGONAL_MM, image_distance_mm
from zevlo.core.refused import Refused
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand, Trim
from zevlo.core.stand.pose import resolve

HOUSE = WorkingSet(
    set_of(slab((-3, -5, 0), (3, 5, 2.5)), slab((-1, -1, 2.5), (1, 1, 6)), slab((6, 0, 0), (6.4, 0.4, 0.4)))
)
SHOT = Shot(stand=Stand(position=(12, -9, 1.6), aim=(0, 0, 1.6)), lens=Lens(focal_length_mm=28))
CORNERS = np.array([[x, y, z] for x in (-3, 6.4) for y in (-5, 5) for z in (0, 6)])
COMPASS = {"north": 180, "east": 270, "south": 0, "west": 90}


TRIMMED = SHOT.with_groups(
    stand=SHOT.stand.model_copy(update={"roll_deg": 12}), lens=Lens(near_m=5, far_m=7),
    back=Back(trim=Trim(left=0.3, top=0.25), enlarge=1.4), movements=Movements(rise_mm=6, cross_mm=-3, keep_uprights=True),
)  # fmt: skip


@pytest.mark.parametrize("shot", [SHOT, TRIMMED], ids=["plain", "trimmed, shifted, cut"])
@pytest.mark.parametrize("north_deg", [0.0, 30.0, -40.0])
@pytest.mark.parametrize("view", get_args(View))
def test_a_view_holds_all_of_the_set(view, north_deg, shot):
    after = apply_gesture(shot, ViewFrom(view=view), HOUSE, where=SetContext(north_deg=north_deg))
    camera, pose = camera_of(after), resolve(after.stand)
    assert camera.places(CORNERS).in_frame.all()
    if view in COMPASS:
        assert pose.pitch_deg == 0.0
        assert pose.heading_deg % 90.0 == pytest.approx(0.0, abs=1e-9), "square to the set"
        assert abs((pose.heading_deg - north_deg - COMPASS[view] + 180) % 360 - 180) <= 45.0
    if view == "above":
        assert pose.forward.tolist() == [0, 0, -1]
        assert pose.up.tolist() == [0, 1, 0]
    axes = np.array([pose.right @ np.eye(3), pose.up @ np.eye(3)])
    lengths = np.sort(np.linalg.norm(axes, axis=0))
    if view == "isometric":
        assert lengths == pytest.approx([np.sqrt(2 / 3)] * 3, rel=1e-12), "ISO 5456-3: all axes equally long"
        assert pose.pitch_deg == pytest.approx(-35.264, abs=5e-4)
    if view == "dimetric":
        assert lengths / lengths[2] == pytest.approx([0.5, 1, 1], rel=1e-12), "ISO 5456-3: one axis half as long"
        slopes = sorted(abs(np.degrees(np.arctan2(axes[1], axes[0]))) % 180)
        assert sorted(min(s, 180 - s) for s in slopes) == pytest.approx([7.18, 41.41, 90], abs=0.01), (
            "7° and 42° on paper"
        )
    again = apply_gesture(after, ViewFrom(view="east"), HOUSE)
    assert (again.lens.scale_m, again.stand.aim) == (after.lens.scale_m, after.stand.aim), (
        "width and aim stay for the next"
    )
    assert camera_of(again).places(CORNERS).depth.min() > again.lens.near_m, "clear of the set"


@pytest.mark.parametrize("over", SCALES)
def test_a_scale_is_one_on_paper(over):
    """ISO 5455: at 1:50 a metre is 20 mm long."""
    shot = apply_gesture(
        SHOT.with_groups(back=Back(output_px=(3508, 2480), enlarge=1.5)), ViewFrom(view="south"), HOUSE
    )
    after = apply_gesture(shot, ScaleTo(over=over), HOUSE)
    middle = np.array(after.stand.aim)
    uv = camera_of(after).places(np.array([middle, middle + [1, 0, 0]])).uv
    pixels = (uv[1, 0] - uv[0, 0]) * 3508
    assert pixels / after.back.dpi * 25.4 == pytest.approx(1000.0 / over)
    assert solve(after).lens.scale_on_paper == pytest.approx(over)
    with pytest.raises(Refused, match="Only a parallel picture"):
        apply_gesture(SHOT, ScaleTo(over=over), HOUSE)


def test_stepping_through_primes():
    own = Presets(prime_sets=({"name": "Two", "focal_lengths_mm": (90, 21)},), primes="Two")
    assert own.primes_mm == (21, 90)
    scene = Scene(HOUSE, where=SetContext(primes=own.primes_mm))
    longer = PrimeStep(by=1).apply(Framing(SHOT), scene)
    assert longer.lens.focal_length_mm == 90
    with pytest.raises(Refused, match="no longer lens"):
        PrimeStep(by=1).apply(Framing(longer), scene)
    assert PrimeStep(by=-1).apply(Framing(longer), scene).lens.focal_length_mm == 21
    assert [mark.focal_length_mm for mark in solve(SHOT, where=scene.where).lens.primes] == [21, 90]
    usual = solve(SHOT).lens.primes
    assert (usual[0].focal_length_mm, usual[-1].focal_length_mm) == (14, 200)
    for some in PRIME_SETS:
        assert list(some.focal_lengths_mm) == sorted(some.focal_lengths_mm)
    with pytest.raises(Refused, match="no focal length"):
        PrimeStep(by=1).apply(Framing(apply_gesture(SHOT, ViewFrom(view="east"), HOUSE)), scene)


WRONG = [({"primes": "None such"}, "no set of primes"), ({"prime_sets": [{"name": PRIME_SETS[0].name, "focal_lengths_mm": [35]}]}, "called like one"),
         ({"formats": [{"name": "A", "width_mm": 5, "height_mm": 5}] * 2}, "same name"), ({"formats": [{"name": "A", "width_mm": 0, "height_mm": 5}]}, "greater than or equal to 0.5"),
         ({"sizes": [{"name": "A", "output_px": [0, 5]}]}, "greater than or equal to 1"), ({"prime_sets": [{"name": "A", "focal_lengths_mm": []}]}, "at least 1 item")]  # fmt: skip


@pytest.mark.parametrize(("given", "why"), WRONG)
def test_what_is_kept_is_checked(given, why):
    with pytest.raises(ValidationError, match=why):
        Presets.model_validate(given)


@pytest.mark.parametrize("which", ["near", "far"])
@pytest.mark.parametrize("drawing", ["plan", "section"])
@pytest.mark.parametrize("law", lenses())
def test_a_cut_is_where_it_was_put_on_paper(law, drawing, which):
    shot = SHOT.with_groups(
        stand=Stand(position=(0, -12, 1.6), aim=(0, 0, 1.0)),
        lens=Lens(**lenses()[law], focal_length_mm=24, near_m=2, far_m=9),
    )
    line = np.array(getattr(getattr(solve(shot, HOUSE).drawings, drawing), f"{which}_clip")).reshape(-1, 2)
    x, y = line[len(line) // 2] if len(line) > 2 else line.mean(axis=0)
    ahead = np.array([0.3, 0.0]) if drawing == "section" else np.array([0.0, 0.3])
    after = apply_gesture(shot, BoundOnPaper(which=which, drawing=drawing, x=x + ahead[0], y=y + ahead[1]), HOUSE)
    assert getattr(after.lens, f"{which}_m") == pytest.approx(getattr(shot.lens, f"{which}_m") + 0.3, abs=0.01)
    assert getattr(
        apply_gesture(shot, BoundOnPaper(which=which, drawing=drawing, x=x, y=y), HOUSE).lens, f"{which}_m"
    ) == pytest.approx(getattr(shot.lens, f"{which}_m"), abs=2e-4)


def test_cuts_stay_in_their_order():
    shot = SHOT.with_groups(lens=Lens(near_m=3, far_m=5))
    for which, y in (("near", 11.0), ("far", 1.0)):
        with pytest.raises(Refused, match="has to stay"):
            apply_gesture(
                shot.with_groups(stand=Stand(position=(0, 0, 0), aim=(0, 9, 0))),
                BoundOnPaper(which=which, drawing="plan", x=0, y=y),
                HOUSE,
            )
    usual = solve(SHOT, HOUSE).drawings.plan
    assert (usual.near_clip, usual.far_clip) == (None, None), "what lies on the camera is not drawn"


def test_breathing_is_told_before_it_is_chosen():
    close = Shot(lens=Lens(focal_length_mm=100), focus=Focus(distance_m=0.5), back=Back(output_px=(1500, 1000)))
    sheet = solve(close).lens
    expected = 2 * np.degrees(np.arctan(18 / image_distance_mm(100, 500)))
    assert sheet.breathes_to_deg == pytest.approx(expected)
    breathing = close.with_groups(lens=Lens(focal_length_mm=100, focus_breathing=True))
    assert solve(breathing).lens.angle_deg.horizontal == pytest.approx(expected)
    assert solve(breathing).lens.breathes_to_deg == pytest.approx(sheet.angle_deg.horizontal)


@pytest.mark.parametrize(("focal", "width", "word", "like"), [(14, 36, "Very wide", ""), (28, 36, "Wide", ""), (35, 24, "Standard", "52.5 mm"), (150, 120, "Standard", "45 mm"), (85, 36, "Rather long", ""), (200, 36, "Long", "")])  # fmt: skip
def test_a_lens_in_words(focal, width, word, like):
    says = solve(
        Shot(lens=Lens(focal_length_mm=focal), back=Back(width_mm=width, height_mm=width / 1.5, output_px=(1500, 1000)))
    ).lens.words
    assert says.startswith(f"{word}:")
    assert like in says
    assert ("36 mm wide" in says) == bool(like)


def test_every_law_has_its_words():
    assert len({solve(Shot(lens=Lens(**own))).lens.words for own in lenses().values()}) == 5


def test_a_parallel_back_is_turned_at_its_scale():
    shot = Shot(lens=Lens(projection="parallel", scale_m=3.0), back=Back(output_px=(3000, 2000)))
    turned = apply_gesture(shot, FocalKeep(turned=True), HOUSE)
    assert scale_on_paper(turned) == pytest.approx(scale_on_paper(shot))
    assert camera_of(turned).span(1.0) == pytest.approx(camera_of(shot).span(1.0)[::-1])


def test_a_lens_that_breathes_is_as_long_as_it_sees():
    """The same diagonal angle on 36 × 24."""
    sheet = solve(Shot(lens=Lens(focal_length_mm=100, focus_breathing=True), focus=Focus(distance_m=0.5))).lens
    assert 2 * np.degrees(np.arctan(FULL_FRAME_DIAGONAL_MM / 2 / sheet.equivalent_focal_length_mm)) == pytest.approx(
        sheet.angle_deg.diagonal
    )
