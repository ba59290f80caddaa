"""Where lines of equal blur are told by a number: on such a line, of one thing, and apart from each other."""

import numpy as np
import pytest
from tests.conftest import set_of, slab

from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Focus, Lens, Movements, Shot, Stand
from zevlo.core.softness import LABELS_A_LEVEL, blur_grid, blur_labels, levels_px
from zevlo.core.solve import solve

YARD = WorkingSet(
    set_of(slab((-40, -40, -1), (40, 40, 0)), slab((-1, 4, 0), (1, 4.5, 1.2)), slab((-9, 14, 0), (9, 15, 4)))
)
SHOTS = {
    "plain": Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), focus=Focus(distance_m=4, f_number=2.0)),
    "tilted": Shot(
        stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), focus=Focus(distance_m=4, f_number=2.0),
        movements=Movements(tilt_deg=2.0, swing_deg=1.0),
    ),
    "cylindrical": Shot(stand=Stand(position=(0, 0, 1.6), aim=(0, 5, 0.6)), lens=Lens(projection="cylindrical"), focus=Focus(distance_m=4, f_number=2.0)),
}  # fmt: skip


def blur_at(shot, uv):
    """What the sheet's own probes say of what is seen at places of the frame."""
    from zevlo.core.seen import seen_in

    points = tuple(seen_in(shot, YARD, *place).at for place in uv)
    return [
        probe.blur_px
        for probe in solve(shot.with_groups(focus=shot.focus.model_copy(update={"probes": points}))).focus.probes
    ]


@pytest.mark.parametrize("name", SHOTS)
def test_labels_lie_on_their_lines(name):
    shot = SHOTS[name]
    labels = blur_labels(shot, YARD)
    assert len(labels) >= 4
    told = blur_at(shot, [label.at for label in labels])
    for label, blur in zip(labels, told, strict=True):
        factor = 1.1 if shot.lens.projection == "perspective" else 1.3
        assert label.px / factor < blur < label.px * factor
    for level in levels_px(shot):
        same = [np.array(label.at) for label in labels if label.px == level]
        assert len(same) <= LABELS_A_LEVEL
        assert all(np.hypot(*(a - b)) > 0.2 for n, a in enumerate(same) for b in same[n + 1 :])


@pytest.mark.parametrize("name", SHOTS)
def test_the_grid_is_what_probes_say(name):
    shot = SHOTS[name]
    uv, blur, part = blur_grid(shot, YARD, 9, 7)
    seen = part >= 0
    told = np.array(blur_at(shot, uv[seen]))
    if shot.lens.projection == "perspective":
        assert blur[seen] == pytest.approx(told, rel=1e-4, abs=1e-3)
    else:
        # Towards the side such a lens draws discs larger; the grid tells them as in the middle.
        assert (told >= blur[seen] * 0.999).all()
        assert (told <= blur[seen] * 1.6).all()


def test_where_all_is_sharp_there_are_none():
    sharp = SHOTS["plain"].with_groups(focus=Focus(distance_m=4, f_number=None))
    assert blur_labels(sharp, YARD) == []
