"""What differs between shots, told in words; what is copied from one to another, and left out."""

import pytest
from tests.conftest import set_of, slab
from tests.core.kinds import another
from tests.core.test_camera import LENSES
from tests.core.test_placing_shots import FLAT, SHOT, SLOPE

from zevlo.core.camera.blur_map import blur_labels, soft_all_over_px
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import seen_in
from zevlo.core.constraints.follow_aim import middle_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.differences import COPY_GROUPS, copied, differences
from zevlo.core.framing.solve import solve
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.focus import FocusAt, FollowFocusPart, FollowFocusSeen
from zevlo.core.instruments.left_out.gestures import LeaveOut, LeaveOutSeen, PutBackAll
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Exposure, Focus, Lens, Movements, Shot, Stand


def test_parts_are_left_out_by_the_picture_or_by_name_and_come_back():
    out = apply_gesture(SHOT, LeaveOutSeen(x=0.5, y=0.5), FLAT)
    assert out.left_out == ("Part 1",)
    assert seen_in(Framing(out, FLAT), 0.5, 0.2).part == 0, "what is left out is looked through"
    assert solve(out, FLAT).pose.view == solve(SHOT, FLAT).pose.view
    more = apply_gesture(out, LeaveOut(part="Part 2"), FLAT)
    assert more.left_out == ("Part 1", "Part 2")
    assert apply_gesture(more, LeaveOut(part="Part 1", out=False), FLAT).left_out == ("Part 2",)
    assert apply_gesture(more, PutBackAll(), FLAT).left_out == ()
    assert apply_gesture(out, FocusAt(x=0.5, y=0.2), FLAT).focus.distance_m > 5.3, "focus goes through it too"
    with pytest.raises(Refused, match="no part"):
        apply_gesture(SHOT, LeaveOut(part="Part 9"), FLAT)
    assert middle_of(FLAT, "Part 1") == pytest.approx((0, 5.1, 1))


def test_differences_are_told_in_words_and_only_what_differs():
    other = Shot(
        name="Another", stand=Stand(position=(0, 0, 1.6), aim=(4, 0, 1.6), roll_deg=2), lens=Lens(focal_length_mm=50),
        back=Back(output_px=(2400, 2400)), movements=Movements(rise_mm=3), focus=Focus(distance_m=2, f_number=5.6),
        exposure=Exposure(shutter_s=1 / 60, iso=200), left_out=("A", "B"),
    )  # fmt: skip
    words = {f"{one.group}: {one.words}" for one in differences(SHOT, other)}
    assert words == {
        "stand: turned 90.0° right", "stand: roll 0.0° → 2.0°", "lens: 35 → 50 mm", "back: 16:9 → 1:1",
        "movements: rise 0 → 3 mm", "focus: f/8 → f/5.6", "focus: focus 3.00 → 2.00 m", "exposure: 1/100 s → 1/60 s",
        "exposure: ISO 100 → 200", "left_out: left out 0 → 2",
    }  # fmt: skip
    assert differences(SHOT, SHOT.model_copy(update={"name": "Other"})) == []


PLANE = {"point": (0, 2, 0), "normal": (0, -2, 0)}


@pytest.mark.parametrize("group", COPY_GROUPS)
def test_copying_a_group_changes_that_group_alone(group):
    source = Shot(
        name="Source", stand=Stand(position=(2, 0, 1.2), aim=(2, 4, 1.2)), lens=Lens(focal_length_mm=50, cutting_plane=PLANE),
        back=Back(output_px=(2400, 2400), crops=[{"name": "Tall", "output_px": (1080, 1920)}]),
        movements=Movements(rise_mm=3), focus=Focus(distance_m=2, f_number=5.6),
        exposure=Exposure(iso=200), left_out=("Part 1",), guides={"thirds": False, "centre": True}, light="Dusk",
    )  # fmt: skip
    named = {one.key for one in INSTRUMENTS}
    unlike = {key: another(now) for key, now in source if key in named and now == getattr(SHOT, key)}
    source = source.model_copy(update=unlike)
    after = copied(source, SHOT, [group], SLOPE)
    assert after.name == SHOT.name
    expected = {"height": "stand", "crops": "back"}.get(group, group)
    assert (after.lens.cutting_plane is not None) == (group == "opening"), "so does what opens the set"
    assert (after.back.crops == source.back.crops) == (group == "crops"), "cuts go by themselves"
    assert {one.group for one in differences(SHOT, after)} == {expected}
    if group == "height":
        assert after.stand.position == pytest.approx((0, 0, 1.0)), "as high above its own floor"


def test_what_does_not_go_together_is_not_copied():
    macro = Shot(focus=Focus(distance_m=0.12), lens=Lens(focal_length_mm=50))
    with pytest.raises(Refused, match="focuses no closer"):
        copied(macro, SHOT.with_groups(lens=Lens(focal_length_mm=200)), ["focus"], FLAT)
    away = SHOT.with_groups(stand=Stand(position=(50, 0, 1), aim=(50, 4, 1)))
    with pytest.raises(Refused, match="no floor"):
        copied(SHOT, away, ["height"], FLAT)


BEHIND = (slab((-9, -9, -1), (9, 9, 0)), slab((-1, 5, 0), (1, 5.4, 3)), slab((0.5, 3.4, 0), (0.9, 3.8, 2.2)))
SCREEN = slab((-4, 2, 0), (4, 2.2, 3))
WITH_SCREEN, WITHOUT = WorkingSet(set_of(*BEHIND, SCREEN)), WorkingSet(set_of(*BEHIND))
OUT = "Part 3"


@pytest.mark.parametrize(
    "opened", [None, {"point": (0, 2.1, 0), "normal": (0, -1, 0)}, {"point": (0.7, 0, 0), "normal": (1, 0, 0)}]
)
@pytest.mark.parametrize("name", LENSES)
def test_what_is_left_out_stands_in_nobodys_way(name, opened):
    """The sheet, lines of blur, what is pressed and followed are those of a set without it; drawings still cut it."""
    shot = Shot(
        stand=Stand(position=(-0.4, -4, 1.6), aim=(0.3, 5, 2.2)), lens={**LENSES[name], "cutting_plane": opened},
        focus={"distance_m": 8, "f_number": 2, "follow": {"part": "Part 2", "point": (0.7, 3.6, 1.1), "where": "middle"}},
        guides={"lean_lines": True},
    )  # fmt: skip
    gone = shot.model_copy(update={"left_out": (OUT,)})
    got, wanted = solve(gone, WITH_SCREEN), solve(shot, WITHOUT)
    if opened is None:
        assert got.drawings.plan.seen != solve(shot, WITH_SCREEN).drawings.plan.seen, "it was in the way"
    for drawing in ("plan", "section"):
        a, b = (
            getattr(one.drawings, drawing).model_copy(update={"cut": None, "cut_open": None}) for one in (got, wanted)
        )
        assert a == b
    assert (got.guides, got.focus, got.movements) == (wanted.guides, wanted.focus, wanted.movements)
    assert opened is None or got.drawings.cap.triangles == wanted.drawings.cap.triangles
    assert blur_labels(Framing(gone, WITH_SCREEN)) == blur_labels(Framing(shot, WITHOUT))
    assert soft_all_over_px(Framing(gone, WITH_SCREEN)) == soft_all_over_px(Framing(shot, WITHOUT))
    for kept in (FollowFocusPart(part="Part 1"), FollowFocusSeen(x=0.52, y=0.35)):
        assert apply_gesture(gone, kept, WITH_SCREEN).focus == apply_gesture(shot, kept, WITHOUT).focus
