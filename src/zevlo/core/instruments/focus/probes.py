"""Probes: points pinned in the world, of which it is told how far they are and how sharp."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from zevlo.core.arrays import Floats
from zevlo.core.bases import SheetGroup
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import thing_at
from zevlo.core.instruments.instrument import Gesture, PressedInPicture, Scene
from zevlo.core.measures import length_words
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import MOST_PROBES, PinnedProbe, ProbePoint
from zevlo.text import everywhere
from zevlo.text import focus as say


class Probe(SheetGroup):
    """What a picture shows of a place in the world."""

    at: tuple[float, float] | None
    """In the frame, (0, 0) bottom left; null where the lens cannot see that way."""
    in_frame: bool
    """Within the frame, between near and far clip; nothing is said of what stands before it."""
    depth_m: float
    """Along the lens axis."""
    blur_px: float | None
    """How large a point is blurred there."""
    sharp: bool
    """Whether that counts as sharp."""
    words: str
    """In a few words: how far out of the sharp zone, or how far within it."""


def probed(framing: Framing) -> list[Probe]:
    """Where the probes of a shot fall in its picture, and how sharp a point is there."""
    shot, camera = framing.shot, framing.camera
    if not shot.focus.probes:
        return []
    fitted, points = framing.fitted, np.array(shot.focus.probed)
    places = camera.places(points)
    own = camera.camera_space(points)
    blur = framing.blur_law.px(own, places.depth)
    limit = framing.blur_limit_mm / fitted.pixel_mm
    beyond = _beyond_zone(framing, own, places.depth)
    sharp = places.seen & (blur <= limit * (1.0 + 1.0e-9))
    return [
        Probe(
            at=(places.uv[n, 0], places.uv[n, 1]) if places.seen[n] else None,
            in_frame=bool(places.in_frame[n]),
            depth_m=places.depth[n],
            blur_px=blur[n] if places.seen[n] else None,
            sharp=bool(sharp[n]),
            words=_words(bool(places.seen[n]), bool(places.in_frame[n]), bool(sharp[n]), float(beyond[n])),
        )
        for n in range(len(blur))
    ]


def _beyond_zone(framing: Framing, own: Floats, depth: Floats) -> Floats:
    """How far, in metres of depth, points (n, 3) in the camera's axes lie before the sharp zone (below 0) or behind it
    (above); 0 within."""
    _, *ends = framing.zone.per_m(framing.camera, own)
    near, far = (np.where(inverse > 0.0, 1.0 / np.maximum(inverse, 1.0e-12), np.inf) for inverse in ends)
    return np.where(depth < near, depth - near, np.where(depth > far, depth - far, 0.0))


def _words(seen: bool, in_frame: bool, sharp: bool, beyond: float) -> str:
    if not seen:
        return say.BEHIND_THE_CAMERA
    if not in_frame:
        return say.OUTSIDE_THE_FRAME
    if sharp or beyond == 0.0:
        return "sharp"
    if not np.isfinite(beyond):
        return say.BEFORE_WHAT_IS_SHARP
    return say.what_is_sharp(length_words(abs(beyond)), say.BEFORE if beyond < 0.0 else everywhere.BEHIND)


def _with_probes(shot: Shot, probes: tuple[ProbePoint, ...]) -> Shot:
    return shot.with_groups(focus=shot.focus.model_copy(update={"probes": probes}))


class PinProbe(PressedInPicture):
    """A probe pinned on what is seen at a place in the frame; it stays with the shot, and goes along with the part."""

    settles: ClassVar[bool] = False
    kind: Literal["pin_probe"] = "pin_probe"

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        seen = thing_at(framing, self.x, self.y)
        if len(shot.focus.probes) >= MOST_PROBES:
            raise Refused(say.a_shot_holds_up_to_probes(MOST_PROBES))
        pinned = PinnedProbe(point=seen.at, part=scene.working.model.ids[seen.part])
        return _with_probes(shot, (*shot.focus.probes, pinned))


class ProbeAway(Gesture):
    """A probe taken away: the n-th of the shot, from 0."""

    settles: ClassVar[bool] = False
    kind: Literal["probe_away"] = "probe_away"
    n: int = Field(ge=0, lt=MOST_PROBES)

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        kept = shot.focus.probes
        if self.n >= len(kept):
            raise Refused(say.THAT_PROBE_IS_NOT_THERE_ANY_MORE)
        return _with_probes(shot, kept[: self.n] + kept[self.n + 1 :])
