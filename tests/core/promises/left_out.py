"""What leaving out promises: what is out is not seen, and nothing else of the shot is other."""

from __future__ import annotations

from tests.core.promises import of, only

from zevlo.core.camera.picking import seen_in
from zevlo.core.instruments.left_out.gestures import LeaveOut, LeaveOutSeen, PutBackAll


@of(LeaveOutSeen, LeaveOut, PutBackAll)
def nothing_but_what_is_left_out_changes(done):
    only(done, "left_out")


@of(LeaveOutSeen)
def what_was_pressed_is_seen_no_more(done):
    was, now = (seen_in(one, *done.asked.pressed[0]) for one in (done.before, done.after))
    assert was is not None
    assert now is None or now.part != was.part
    assert set(done.now.left_out) == {*done.was.left_out, done.working.model.ids[was.part]}


@of(LeaveOut)
def that_part_alone_is_out_or_back(done):
    others = set(done.was.left_out) - {done.asked.part}
    assert set(done.now.left_out) == (others | {done.asked.part} if done.asked.out else others)


@of(PutBackAll)
def nothing_is_out(done):
    assert done.now.left_out == ()
