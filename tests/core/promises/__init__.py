"""What each kind of gesture promises, over whatever shot: where a thing lies after it, what stays as it was.

A file for each instrument, found by its folder. A promise is asked of every gesture that was followed; what was refused
promised nothing.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import pytest

from zevlo.core.arrays import Floats
from zevlo.core.camera.depth_of_field import FARTHEST_FOCUS_M, focus_through
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import seen_in
from zevlo.core.constraints.uprights import can_shift
from zevlo.core.instruments.instrument import Gesture
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot

GRID: Floats = np.array([(x, y) for x in (0.03, 0.4, 0.5, 0.9) for y in (0.07, 0.5, 0.8)])
MIDDLE: Floats = np.array([[0.5, 0.5]])


@dataclass(frozen=True)
class Done:
    """A gesture that was followed: the shot before it and after it."""

    asked: Gesture
    before: Framing
    after: Framing

    @property
    def was(self) -> Shot:
        return self.before.shot

    @property
    def now(self) -> Shot:
        return self.after.shot

    @property
    def working(self) -> WorkingSet:
        found = self.before.working
        assert found is not None
        return found

    @cached_property
    def pressed(self) -> tuple[float, float, float]:
        """What was seen where the gesture pressed, (3,)."""
        seen = seen_in(self.before, *self.asked.pressed[0])
        assert seen is not None, "only sky was pressed, and that was followed"
        return seen.at

    @property
    def keeps_uprights(self) -> bool:
        return self.was.movements.keep_uprights and can_shift(self.was)

    @property
    def holds_on(self) -> bool:
        """Whether the camera is turned, after any gesture, for what it follows or keeps upright."""
        return self.was.stand.follow is not None or self.keeps_uprights

    def height_above_floor(self, framing: Framing) -> float | None:
        floor = self.working.floor_under(framing.pose.position)
        return None if floor is None else float(framing.pose.position[2]) - floor

    def box(self, part: str) -> Floats:
        """The corners (2, 3) of a part's box."""
        model = self.working.model
        own = [
            model.vertices[model.faces[one.first_face : one.first_face + one.face_count].ravel()]
            for one in (model.parts[n] for n in model.parts_at([part]))
        ]
        all_of_it = np.concatenate(own)
        return np.array([all_of_it.min(axis=0), all_of_it.max(axis=0)])


Promise = Callable[[Done], None]
PROMISES: dict[type[Gesture], list[Promise]] = {}


def of(*kinds: type[Gesture]) -> Callable[[Promise], Promise]:
    """The function is what these kinds promise."""

    def noted(promise: Promise) -> Promise:
        for kind in kinds:
            PROMISES.setdefault(kind, []).append(promise)
        return promise

    return noted


def all_promises() -> dict[type[Gesture], list[Promise]]:
    for module in pkgutil.iter_modules(__path__):
        importlib.import_module(f"{__name__}.{module.name}")
    return PROMISES


def same(now: object, was: object, rel: float = 1e-7, abs: float = 1e-7) -> None:
    """Two numbers, or arrays of them, agree."""
    assert now == pytest.approx(was, rel=rel, abs=abs)


def only(done: Done, *may: str) -> None:
    """No more of the shot is other than it was than these groups, or settings of a group as ``group.setting``; and
    what the camera does, after any gesture that settles, to hold on to what it follows and keeps upright."""
    was, now = done.was.model_dump(), done.now.model_dump()
    for key in (*may, *_goes_along(done)):
        group, _, setting = key.partition(".")
        for one in (was, now):
            one.pop(group, None) if not setting else one.get(group, {}).pop(setting, None)
    assert now == was


def _goes_along(done: Done) -> tuple[str, ...]:
    if not done.asked.settles:
        return ()
    kept = ("stand", "movements", "focus.distance_m") if done.keeps_uprights else ()
    return (
        kept + (("stand",) if done.was.stand.follow else ()) + (("focus.distance_m",) if done.was.focus.follow else ())
    )


def same_view(done: Done, places: Floats = GRID, within: float = 1e-6) -> None:
    """Every place in the frame sees in the same direction as before."""
    was, now = done.before.camera.rays(places), done.after.camera.rays(places)
    assert (was.sees == now.sees).all()
    same(now.directions[now.sees], was.directions[was.sees], abs=within)
    same(now.origins[now.sees], was.origins[was.sees], abs=1e-6, rel=1e-6)


def in_focus(done: Done, points: object) -> None:
    """Points (n, 3) lie in the plane of focus, where that crosses the lens axis before infinity."""
    found = focus_through(done.after, np.array(points, dtype=float).reshape(-1, 3))
    if done.now.focus.distance_m < FARTHEST_FOCUS_M:
        same(1.0 / found, np.full(len(found), 1.0 / done.now.focus.distance_m), rel=1e-5, abs=1e-6)


def sharp(framing: Framing, points: object) -> None:
    """Points (n, 3) are blurred no more than counts as sharp."""
    points = np.array(points, dtype=float).reshape(-1, 3)
    camera = framing.camera
    blur = framing.blur_law.px(camera.camera_space(points), camera.places(points).depth)
    assert (blur * framing.fitted.pixel_mm <= framing.blur_limit_mm * (1.0 + 1e-5) + 1e-9).all()


def exposed_alike(done: Done) -> None:
    same(done.after.ev100, done.before.ev100, abs=1e-6)
