"""What is told of the focus: its part of the sheet, differences in words, what a picture shows of it."""

from __future__ import annotations

from math import inf
from typing import Literal

import numpy as np

from zevlo.core.bases import PartId, SheetGroup
from zevlo.core.camera.blur_map import levels_px
from zevlo.core.camera.from_shot import Framing, corner_mm
from zevlo.core.camera.picking import clear_to
from zevlo.core.constraints.follow_focus import depth_found
from zevlo.core.instruments.focus.probes import Probe, probed
from zevlo.core.instruments.focus.shape import BlurShape, shape_seen
from zevlo.core.instruments.focus.stacks import stack_distances, stack_words
from zevlo.core.instruments.instrument import Called, SheetContext, StalenessKey
from zevlo.core.measures import change_words
from zevlo.core.optics import focus, lens
from zevlo.core.optics.barrel import Barrel, barrel, on_barrel
from zevlo.core.scene.model.set_model import with_all_below
from zevlo.core.shot import Shot
from zevlo.core.shot.focus import FollowFocus
from zevlo.text import everywhere
from zevlo.text import focus as say

FollowStatus = Literal["sharp", "gone", "left out", "behind", "outside", "hidden"]
_STATUS_WORDS: dict[FollowStatus, str] = {
    "sharp": say.KEPT_SHARP,
    "gone": say.NOT_IN_THE_SET,
    "left out": say.LEFT_OUT_OF_THIS_SHOT,
    "behind": say.BEHIND_THE_CAMERA_OR_TOO,
    "outside": say.OUTSIDE_THE_FRAME,
    "hidden": say.HIDDEN_BY_SOMETHING_BEFORE,
}


class FocusFollows(SheetGroup):
    """What the focus is kept on, and how that stands."""

    part: PartId | None
    status: FollowStatus
    words: str
    at: tuple[float, float] | None
    """Where it lies in the frame; null where the lens does not look that way."""


class BlurSeen(SheetGroup):
    """How a picture blurs, for whoever draws it from depths: a point is drawn ``times_px`` · |q - 1/depth| wide, in
    pixels of the picture; q is ``focus_per_m`` + ``lean`` · (X/D, Y/D), or of a frame whose straight lines are straight
    ``at[0]`` + ``at[1]``·u + ``at[2]``·v at the share u from its left and v from its foot."""

    times_px: float
    focus_per_m: float
    lean: tuple[float, float]
    at: tuple[float, float, float] | None
    levels_px: list[float]
    """Where lines of equal blur are drawn, the first where it begins to count."""
    shape: BlurShape | None
    """What the disc of the blur looks like; null where everything is sharp."""


class FocusSheet(SheetGroup):
    """What is sharp."""

    stop: str | None
    """The stop as it is written on a lens; null where everything is sharp."""
    blur_limit_mm: float
    blur_limit_px: float
    hyperfocal_m: float | None
    """Focused there, all is sharp from half of it to infinity; null where everything is sharp."""
    sharp_from_m: float
    sharp_to_m: float | None
    """Null is infinity."""
    diffraction_mm: float | None
    """Diameter of the diffraction disc."""
    diffraction_px: float | None
    diffraction_from: str | None
    """The stop from which it is larger than the blur limit; null where everything is sharp."""
    diffraction_rules: bool
    """Whether it is larger than the blur limit at this stop."""
    barrel: Barrel
    follows: FocusFollows | None
    blur: BlurSeen
    stack_m: list[float]
    """Distances at which the pictures of the stack are focused, the nearest first; empty where there is none."""
    stack_at: list[float]
    """The same along the barrel's scale."""
    stack_words: str | None
    """Its plan in a sentence; null where there is none."""
    notes: list[str]
    """Plain sentences, where something bites."""
    probes: list[Probe]


def compute_sheet(context: SheetContext) -> FocusSheet:
    """What is sharp, the barrel as it stands, and what becomes of the probes."""
    framing = context.framing
    shot, fitted = framing.shot, framing.fitted
    f, n, u = shot.lens.focal_length_mm, shot.focus.f_number, shot.focus.distance_m * 1000.0
    limit = framing.blur_limit_mm
    zone, cosine = framing.zone, framing.tilt.cosine
    larger = 1.0 + lens.magnification(f, u, cosine)
    stack = stack_distances(framing)
    airy = None if n is None else focus.diffraction_mm(n, larger - 1.0)
    return FocusSheet(
        stop=None if n is None else focus.stop_name(n),
        blur_limit_mm=limit,
        blur_limit_px=limit / fitted.pixel_mm,
        hyperfocal_m=framing.hyperfocal_m,
        sharp_from_m=zone.sharp_from,
        sharp_to_m=None if zone.sharp_to == inf else zone.sharp_to,
        diffraction_mm=airy,
        diffraction_px=None if airy is None else airy / fitted.pixel_mm,
        diffraction_from=None if n is None else focus.stop_name(limit / focus.diffraction_mm(1.0, larger - 1.0)),
        diffraction_rules=airy is not None and airy > limit,
        barrel=barrel(f, n, limit, u, cosine),
        follows=_follows(framing),
        blur=_blur_seen(framing),
        stack_m=stack,
        stack_at=[on_barrel(u, 1000.0 * distance) for distance in stack],
        stack_words=stack_words(framing, stack),
        notes=_notes(framing, airy, limit),
        probes=probed(framing),
    )


def _blur_seen(framing: Framing) -> BlurSeen:
    camera, law = framing.camera, framing.blur_law
    window = camera.window
    at = None
    if camera.law.straight:
        per_mm = 1.0 / camera.law.film_per_metre(1.0)
        a, b = (part * per_mm for part in law.lean)
        at = (law.focus + a * window.left + b * window.bottom, a * window.width, b * window.height)
    return BlurSeen.model_construct(
        times_px=law.times,
        focus_per_m=law.focus,
        lean=law.lean,
        at=at,
        levels_px=levels_px(framing),
        shape=shape_seen(framing),
    )


def _follows(framing: Framing) -> FocusFollows | None:
    on = framing.shot.focus.follow
    if on is None:
        return None
    place = framing.camera.places(np.array([on.point]))
    status = _status(framing, on, bool(place.seen[0]), bool(place.in_frame[0]))
    at = (float(place.uv[0, 0]), float(place.uv[0, 1])) if place.seen[0] else None
    return FocusFollows(part=on.part, status=status, words=_STATUS_WORDS[status], at=at)


def _status(framing: Framing, on: FollowFocus, seen: bool, in_frame: bool) -> FollowStatus:
    shot, working = framing.shot, framing.working
    within: list[int] = []
    if working is not None:
        model = working.whole.model
        own = set() if on.part is None else set(model.parts_at([on.part]))
        if on.part is not None and not own:
            return "gone"
        if own & set(with_all_below(model.parts_at(shot.left_out), model.parents)):
            return "left out"
        if on.where != "point":
            # The middle of a thing lies within it; that is no reason to say it is hidden.
            within = with_all_below(sorted(own), model.parents)
    if not seen or depth_found(framing, on.point) is None:
        return "behind"
    if not in_frame:
        return "outside"
    if working is None or clear_to(framing.camera, np.array([on.point]), framing.shown.whole, within)[0]:
        return "sharp"
    return "hidden"


FAR_MORE_BEHIND = 3.0
CLOSE_UP = 0.1
"""From this magnification on things are close (common practice, no source)."""


def _notes(framing: Framing, airy: float | None, limit: float) -> list[str]:
    """What an artist is surprised by, told where it bites and not before."""
    shot, fitted = framing.shot, framing.fitted
    n = shot.focus.f_number
    if n is None or airy is None or not framing.law.blurs:
        return []
    found = []
    zone = framing.zone
    before, behind = zone.focus - zone.sharp_from, zone.sharp_to - zone.focus
    if zone.sharp_to == inf and zone.lean == (0.0, 0.0):
        found.append(say.ALL_BEHIND_THE_FOCUS)
    elif zone.lean == (0.0, 0.0) and behind > FAR_MORE_BEHIND * before:
        found.append(say.behind_the_focus_it_stays(behind / before))
    m = lens.magnification(shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0, framing.tilt.cosine)
    if m > CLOSE_UP:
        found.append(say.this_close(1.0 / m, n * (1.0 + m), reckoned=shot.lens.focus_breathing))
    if airy > limit:
        found.append(say.stopped_down_like_this_diffraction(airy / fitted.pixel_mm))
    return found


def differs(before: Shot, after: Shot, called: Called) -> list[str]:
    """Another stop, distance, way to judge blur or shape of it; probes change nothing."""
    a, b = before.focus, after.focus
    words = []
    if a.f_number != b.f_number:
        first, then = (everywhere.ALL_SHARP if n is None else focus.stop_name(n) for n in (a.f_number, b.f_number))
        words.append(f"{first} → {then}")
    if a.distance_m != b.distance_m:
        words.append(say.focus(change_words(a.distance_m, b.distance_m)))
    if (a.follow is None) != (b.follow is None) or (
        a.follow and b.follow and (a.follow.part, a.follow.where) != (b.follow.part, b.follow.where)
    ):
        words.append(
            say.THE_FOCUS_FOLLOWS_NOTHING if b.follow is None else say.the_focus_follows(_on_words(b.follow, called))
        )
    if a.stack != b.stack:
        words.append(say.ONE_PICTURE if b.stack is None else say.ANOTHER_STACK if a.stack else say.A_STACK_OF_PICTURES)
    settings = {name: getattr(b, name) for name in ("f_number", "distance_m", "follow", "probes", "stack")}
    if a.model_copy(update=settings) != b:
        words.append(say.BLUR_JUDGED_OTHERWISE if a.blur_limit != b.blur_limit else say.OTHER_BLUR_SHAPE)
    return words


def _on_words(on: FollowFocus, called: Called) -> str:
    if on.part is None:
        return everywhere.A_POINT
    name = called(on.part)
    words = {"point": say.A_POINT_OF, "nearest": say.WHAT_OF_IS_NEAREST, "middle": say.THE_MIDDLE_OF}
    return words[on.where].format(name)


def staleness_key(shot: Shot) -> StalenessKey:
    """The blur, whichever way its plane of focus lies, and where it breathes how wide the picture is; how blur is
    judged is not seen."""
    own, glass = shot.focus, shot.lens
    turned = shot.movements.tilt_deg, shot.movements.swing_deg
    if own.f_number is not None and Framing(shot).law.blurs:
        blades = (own.blades, own.blade_rotation_deg) if own.blades >= 3 else (0, 0.0)
        squeezed = (own.squeeze, corner_mm(shot)) if own.squeeze > 0.0 else ()
        return (own.f_number, own.distance_m, *turned, *blades, own.rim_weight, *squeezed)
    return (own.distance_m, *turned) if glass.focus_breathing else ()
