"""Where lines of equal blur are told by a number: on such a line, of one thing, and apart from each other."""

import numpy as np
import pytest
from tests.conftest import set_of, slab
from tests.core.kinds import lenses

from zevlo.core.camera.blur_map import LABELS_A_LEVEL, blur_grid, blur_labels, levels_px, soft_all_over_px
from zevlo.core.camera.depth_of_field import zone_in_space
from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.solve import solve
from zevlo.core.optics.back import fit_back
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import BlurLimit, Focus, Lens, Movements, Shot, Stand

YARD = WorkingSet(
    set_of(slab((-40, -40, -1), (40, 40, 0)), slab((-1, 4, 0), (1, 4.5, 1.2)), slab((-9, 14, 0), (9, 15, 4)))
)
SHOTS = {
    "plain": Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), focus=Focus(distance_m=4, f_number=2.0)),
    "tilted": Shot(
        stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), focus=Focus(distance_m=4, f_number=2.0),
        movements=Movements(tilt_deg=2.0, swing_deg=1.0),
    ),
    **{law: Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), lens=Lens(**{**lenses()[law], "focal_length_mm": 30}), focus=Focus(distance_m=4, f_number=2.0))
       for law in lenses() if law not in ("perspective", "parallel")},
}  # fmt: skip


def blur_at(shot, uv):
    """What the sheet's own probes say of what is seen at places of the frame."""
    from zevlo.core.camera.picking import seen_in

    points = tuple(seen_in(Framing(shot, YARD), *place).at for place in uv)
    return [
        probe.blur_px
        for probe in solve(shot.with_groups(focus=shot.focus.model_copy(update={"probes": points}))).focus.probes
    ]


@pytest.mark.parametrize("name", SHOTS)
def test_labels_lie_on_their_lines(name):
    shot = SHOTS[name]
    labels = blur_labels(Framing(shot, YARD))
    assert len(labels) >= 4
    found = blur_at(shot, [label.at for label in labels])
    for label, blur in zip(labels, found, strict=True):
        assert label.px / 1.1 < blur < label.px * 1.1
    for level in levels_px(Framing(shot)):
        same = [np.array(label.at) for label in labels if label.px == level]
        assert len(same) <= LABELS_A_LEVEL
        assert all(np.hypot(*(a - b)) > 0.2 for n, a in enumerate(same) for b in same[n + 1 :])


@pytest.mark.parametrize("name", SHOTS)
def test_the_grid_is_what_probes_say(name):
    shot = SHOTS[name]
    uv, blur, part = blur_grid(Framing(shot, YARD), 9, 7)
    seen = part >= 0
    found = np.array(blur_at(shot, uv[seen]))
    assert blur[seen] == pytest.approx(found, rel=1e-4, abs=1e-3)


def test_where_all_is_sharp_there_are_none():
    sharp = SHOTS["plain"].with_groups(focus=Focus(distance_m=4, f_number=None))
    assert blur_labels(Framing(sharp, YARD)) == []


@pytest.mark.parametrize("law", [law for law in lenses() if Framing(Shot(lens=lenses()[law])).law.blurs])
def test_the_zone_in_space_begins_and_ends_where_blur_comes_to_count(law):
    shot = Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 1.0), roll_deg=4), lens=Lens(**{**lenses()[law], "focal_length_mm": 35}), focus=Focus(distance_m=4, f_number=2.8))  # fmt: skip
    found = 0
    turned = [shot.with_groups(movements=Movements(tilt_deg=0.6, swing_deg=-0.4))] if law == "perspective" else []
    for one in (shot, *turned):
        answer = solve(one).focus
        for outline, away, blurred in zip(
            zone_in_space(Framing(one)), (answer.sharp_from_m, 4.0, answer.sharp_to_m), (1, 0, 1), strict=True
        ):
            if outline is None:
                continue
            found += 1
            probes = tuple(map(tuple, outline.tolist()))
            sheet = solve(one.with_groups(focus=one.focus.model_copy(update={"probes": probes}))).focus
            at = np.array([probe.at for probe in sheet.probes])
            assert np.abs(np.abs(at - 0.5).max(axis=1) - 0.5).max() < 1e-6, "on the edge of the frame"
            if Framing(one).law.radial and not blurred:
                assert np.linalg.norm(outline - [0, 0, 1.6], axis=1) == pytest.approx(away)
            blur = np.array([probe.blur_px for probe in sheet.probes]) / sheet.blur_limit_px
            assert blur == pytest.approx(blurred, abs=1e-6)
    assert found >= 2


def test_ends_that_are_nowhere_are_not_told():
    all_sharp = Shot(focus=Focus(f_number=None))
    assert zone_in_space(Framing(all_sharp))[0] is None
    assert zone_in_space(Framing(all_sharp))[2] is None
    to_infinity = Shot(focus=Focus(distance_m=30, f_number=16))
    assert zone_in_space(Framing(to_infinity))[0] is not None
    assert zone_in_space(Framing(to_infinity))[2] is None


def test_a_cut_with_pixels_of_its_own_is_judged_by_them():
    """A limit in pixels is one of the picture that is made; one on film or in print is the same whatever its pixels."""
    shot = SHOTS["plain"].with_groups(focus=Focus(distance_m=0.5, f_number=2.0))
    whole = soft_all_over_px(Framing(shot, YARD))
    frame, wide = (0.25, 0.25, 0.75, 0.75), fit_back(shot.back).output_px[0]
    own = soft_all_over_px(Framing(shot, YARD), frame, wide)
    assert own >= 2 * whole * (1 - 1e-6), "half of the frame on as many pixels"
    few = soft_all_over_px(Framing(shot, YARD), frame, 40)
    assert few == pytest.approx(own * 40 / wide)
    for limit, judged in (({"px": 1.01 * few}, None), ({"px": 0.99 * few}, few), ({"mm": 1e-3}, few)):
        judging = shot.with_groups(focus=shot.focus.model_copy(update={"blur_limit": BlurLimit(**limit)}))
        assert soft_all_over_px(Framing(judging, YARD), frame, 40) == (judged and pytest.approx(judged))
