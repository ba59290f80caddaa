"""The set as one shot shows it: without what it leaves out, opened by its cutting plane. Light falls in there."""

from __future__ import annotations

from collections.abc import Iterable

from zevlo.core.scene.cuts.opening import opened
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.model.visible import CuttingPlane, Visible
from zevlo.core.scene.working import WorkingSet


def model_as_shown(working: WorkingSet, plane: CuttingPlane | None) -> SetModel:
    """A whole set opened by a plane, if there is one."""
    return working.model if plane is None else opened(working.model, plane, working.cap(plane))


def as_shown(working: WorkingSet, left_out: Iterable[str], plane: CuttingPlane | None) -> WorkingSet:
    """A whole set without what is left out, by ids, and opened."""
    model = model_as_shown(working, plane)
    return WorkingSet(model, Visible(left_out=model.parts_at(left_out)))
