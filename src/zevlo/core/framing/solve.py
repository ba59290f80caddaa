"""From a shot, and the set it looks at, to its sheet: each instrument is asked in turn, then the drawings are made."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from zevlo.core.camera.drawing import TENTH_MM, draw_sight, fans, rounded, thin_lines
from zevlo.core.camera.drawn import CapSheet, Drawings, Polyline
from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.sheet import Sheet
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import SheetContext
from zevlo.core.scene.cuts.cut import plan_plane, section_plane
from zevlo.core.scene.places.levels import NO_CONTEXT, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.pose import resolve

SECTION_DEPTH_M = 12.0
_PARTS = {one.key: one.part for one in INSTRUMENTS if one.part is not None}
_THE_STAND = {"stand", "name"}


@dataclass(frozen=True)
class _Outfit:
    """What of a sheet does not depend on where the camera stands."""

    framing: Framing
    parts: dict[str, Any]


@lru_cache(maxsize=64)
def _outfit(text: str, primes: tuple[float, ...]) -> _Outfit:
    """Worked out once while only the stand moves. ``text``: the shot without it, as JSON, which is compared at once;
    groups would be key by key. ``primes``: those of the project."""
    framing = Framing(Shot.model_validate_json(text))
    asked = SheetContext(framing, SetContext(primes=primes))
    still = {part.key: part.compute_sheet(asked) for part in _PARTS.values() if not part.goes_by_stand(framing.shot)}
    return _Outfit(framing, still)


def solve(shot: Shot, working: WorkingSet | None = None, where: SetContext = NO_CONTEXT) -> Sheet:
    """The sheet of a shot. With a set, floor and drawings are of it; ``where`` names its place and its north."""
    outfit = _outfit(shot.model_dump_json(exclude=_THE_STAND, by_alias=True), where.primes)
    framing = outfit.framing.from_stand_of(shot, working)
    asked = SheetContext(framing, where)
    moving = {part.key: part.compute_sheet(asked) for part in _PARTS.values() if part.key not in outfit.parts}
    return Sheet(**outfit.parts, **moving, drawings=_drawings(framing))


def takes_long(framing: Framing) -> bool:
    """Whether the sheet of a shot asks something of its set that has not been worked out yet: what rays meet, or its
    uprights."""
    if framing.working is None:
        return False
    shown = framing.shown
    searched = shown.searched and shown.whole.searched
    return not searched or (framing.shot.guides.lean_lines and not shown.whole.uprights_known)


def _drawings(framing: Framing) -> Drawings:
    shot, working, pose, camera, zone = framing.shot, framing.working, framing.pose, framing.camera, framing.zone
    reach = max(2.0 * pose.aim_distance, 1.5 * zone.focus) if working is None else working.reach
    aim = np.array(shot.stand.aim)
    upright = section_plane(pose.position, pose.level_axis)
    plan, section = fans(camera, None if working is None else framing.shown, reach)
    outlines = None if working is None else working.cut(upright)
    return Drawings(
        plan=draw_sight(camera, aim, zone, plan_plane(0.0), plan, reach),
        section=draw_sight(camera, aim, zone, upright, section, reach, outlines),
        cap=None if working is None else cap_sheet(framing),
    )


def cap_sheet(framing: Framing) -> CapSheet | None:
    """The faces a shot's cutting plane closes its set with; None where it does not open it."""
    plane = framing.cutting
    if plane is None:
        return None
    cap = framing.shown.cap(plane)
    points, triangles = rounded(cap.points, TENTH_MM).tolist(), cap.triangles.ravel().tolist()
    return CapSheet.model_construct(points=points, triangles=triangles, open_lines=cap.open_lines)


def section_beyond(stand: Stand, working: WorkingSet) -> Polyline:
    """The thin lines of a stand's section: edges beyond its cut that the reader can see. Takes longer than a sheet."""
    pose = resolve(stand)
    span = working.reach
    within = np.array([[-0.35 * span, working.bounds[0, 2]], [span, working.bounds[1, 2]]])
    plane = section_plane(pose.position, pose.level_axis)
    return thin_lines(working.beyond(plane, SECTION_DEPTH_M, within), working.scale)
