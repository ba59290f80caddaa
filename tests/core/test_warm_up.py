"""After the warm-up nothing is compiled while somebody waits."""

import io

from tests.conftest import glb_set
from tests.core.kinds import lenses

from zevlo.core.camera import camera, drawing
from zevlo.core.camera.drawing import packed
from zevlo.core.framing.solve import section_beyond, solve
from zevlo.core.framing.warm_up import rehearse
from zevlo.core.scene.cuts import cut, floor, outline
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.model.visible import Lifted, Visible
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Lens
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import SHOTS
from zevlo.files.arrays import pack_set, unpack_set


def _compiled():
    loops = [
        value
        for module in (camera, drawing, cut, floor, outline)
        for value in vars(module).values()
        if hasattr(value, "signatures")
    ]
    assert len(loops) > 10
    return {str(loop): len(loop.signatures) for loop in loops}


def test_a_rehearsal_compiles_all_that_a_real_set_needs():
    rehearse()
    before = _compiled()
    kept = io.BytesIO()
    pack_set(glb_set(pottery_glb()), kept)
    kept.seek(0)
    model = unpack_set(kept)
    for working in (WorkingSet(model), WorkingSet(model, Visible(Lifted(frozenset({3}))))):
        solve(SHOTS[1], working)
        section_beyond(SHOTS[1].stand, working)
        packed(working.cut(plan_plane(1.2)))
    assert _compiled() == before
    for lens in lenses().values():
        # Whatever the law: the first fisheye of a day once waited for the compiler.
        solve(SHOTS[1].with_groups(lens=Lens(**lens)), WorkingSet(model))
        solve(SHOTS[1].with_groups(lens=Lens(**lens)))
        assert _compiled() == before, lens
        opened = Lens(**lens, cutting_plane={"point": (0, 2, 0), "normal": (0.1, -1, 0.2)})
        assert solve(SHOTS[1].with_groups(lens=opened), WorkingSet(model)).drawings.cap.triangles
        assert _compiled() == before, ("opened", lens)
