"""Focus: distance and stop, how blur is judged, and the sharp zone that comes of them."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from zevlo.core.bases import Coordinate, Point, Settings, SheetGroup
from zevlo.core.camera import Camera, camera_of, law_of, tilt_of
from zevlo.core.instruments.exposure import ev_of, exposed
from zevlo.core.instruments.instrument import (
    Asked,
    Called,
    Gesture,
    Instrument,
    PressedInPicture,
    Scene,
    SheetPart,
    Shown,
    group_copied,
)
from zevlo.core.measures import change_words
from zevlo.core.optics import focus, lens
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.barrel import Barrel, barrel, barrel_distance_mm
from zevlo.core.refused import Refused
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import depth_on_paper
from zevlo.core.seen import seen_in
from zevlo.core.sharp_zone import (
    FARTHEST_FOCUS_M,
    blur_law_of,
    blur_limit_of,
    focus_through,
    focused,
    lean_of,
    sharp_zone_of,
)

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

MOST_PROBES = 10_000


class BlurLimit(Settings):
    """What counts as sharp; exactly one criterion. Print: needs width and viewing distance together."""

    px: float | None = Field(None, ge=1.0e-4, le=1000.0)
    """Pixels of the picture."""
    mm: float | None = Field(None, ge=1.0e-6, le=10.0)
    """Millimetres on the film."""
    diagonal_over: float | None = Field(None, ge=10.0, le=100000.0)
    """The back's diagonal divided by this."""
    print_width_mm: float | None = Field(None, ge=1.0, le=1.0e5)
    """Width of a print on which nothing unsharp is to be seen."""
    seen_from_mm: float | None = Field(None, ge=1.0, le=1.0e6)
    """From how far it is seen."""

    @model_validator(mode="after")
    def _exactly_one(self) -> Self:
        for_print = (self.print_width_mm is not None) + (self.seen_from_mm is not None)
        if for_print == 1:
            raise ValueError("print_width_mm and seen_from_mm belong together")
        given = sum(value is not None for value in (self.px, self.mm, self.diagonal_over)) + (for_print == 2)
        if given != 1:
            raise ValueError("give exactly one of px, mm, diagonal_over, or print_width_mm with seen_from_mm")
        return self


class BlurLimitOffer(Settings):
    """A blur limit worth offering, with its words."""

    words: str
    limit: BlurLimit


BLUR_LIMITS = (
    BlurLimitOffer(words="1.5 px of the picture", limit=BlurLimit(px=1.5)),
    BlurLimitOffer(words="3 px of the picture", limit=BlurLimit(px=3.0)),
    BlurLimitOffer(words="0.03 mm on film", limit=BlurLimit(mm=0.03)),
    BlurLimitOffer(words="back diagonal / 1500", limit=BlurLimit(diagonal_over=1500.0)),
    BlurLimitOffer(words="print 400 mm, seen from 500 mm", limit=BlurLimit(print_width_mm=400.0, seen_from_mm=500.0)),
)


class Focus(Settings):
    """Focus distance along the lens axis, stop and shape of the blur."""

    distance_m: float = Field(3.0, gt=0.0, le=1.0e7)
    """Distance of what is sharpest, along the lens axis."""
    f_number: float | None = Field(8.0, ge=0.5, le=512.0)
    """The stop; null: everything sharp, as a pinhole draws."""
    blur_limit: BlurLimit = BlurLimit(px=1.5)
    """What counts as sharp."""
    blades: int = Field(0, ge=0, le=32)
    """Blades of the stop that shape the blur; under three it is round."""
    blade_rotation_deg: float = Field(0.0, ge=-360.0, le=360.0)
    """How far the blades are turned."""
    rim_weight: float = Field(0.0, ge=-1.0, le=1.0)
    """Brighter rim of the blur, or below zero a brighter middle."""
    probes: tuple[Point, ...] = Field((), max_length=MOST_PROBES)
    """Places in the world of which the sheet says where they fall in the picture, and how sharp."""


class Probe(SheetGroup):
    """What a picture shows of a place in the world."""

    at: tuple[float, float] | None
    """In the frame, (0, 0) bottom left; null where the lens cannot see that way."""
    in_frame: bool
    """Within the frame, between near and far cut; nothing is said of what stands before it."""
    depth_m: float
    """Along the lens axis."""
    blur_px: float | None
    """How large a point is blurred there."""
    sharp: bool
    """Whether that counts as sharp."""


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
    barrel: Barrel
    probes: list[Probe] = Field(default_factory=list)


def probed(shot: Shot, camera: Camera) -> list[Probe]:
    """Where the probes of a shot fall in its picture, and how sharp a point is there."""
    if not shot.focus.probes:
        return []
    cut = cut_back(shot.back)
    places = camera.places(np.array(shot.focus.probes))
    across, up, ahead = camera.camera_space(np.array(shot.focus.probes)).T
    before = np.where(places.seen & (ahead > 0.0), ahead, 1.0)
    blur = blur_law_of(shot, cut).px(across / before, up / before, places.depth) * _drawn_larger(camera, places.uv)
    limit = blur_limit_of(shot, cut) / cut.pixel_mm
    return [
        Probe(
            at=(places.uv[n, 0], places.uv[n, 1]) if places.seen[n] else None,
            in_frame=bool(places.in_frame[n]),
            depth_m=places.depth[n],
            blur_px=blur[n] if places.seen[n] else None,
            sharp=bool(places.seen[n] and blur[n] <= limit * (1.0 + 1.0e-9)),
        )
        for n in range(len(blur))
    ]


def _drawn_larger(camera: Camera, uv: Floats) -> Floats:
    """How much larger than in the middle places (n, 2) of a picture draw a small disc the pupil is turned to, (n,)."""
    if not camera.law.radial:
        return np.ones(len(uv))
    film = camera.film(uv)
    larger: Floats = 1.0 / np.sqrt(np.maximum(camera.law.falloff(np, film[:, 0], film[:, 1]), 1.0e-9))
    return larger


def tell(asked: Asked) -> FocusSheet:
    """What is sharp, the barrel as it stands, and what becomes of the probes."""
    shot, cut = asked.shot, asked.cut
    f, n, u = shot.lens.focal_length_mm, shot.focus.f_number, shot.focus.distance_m * 1000.0
    limit = blur_limit_of(shot, cut)
    zone, cosine = sharp_zone_of(shot, cut), tilt_of(shot).cosine
    return FocusSheet(
        stop=None if n is None else focus.stop_name(n),
        blur_limit_mm=limit,
        blur_limit_px=limit / cut.pixel_mm,
        hyperfocal_m=None if n is None or not law_of(shot).blurs else focus.hyperfocal_mm(f, n, limit, cosine) / 1000.0,
        sharp_from_m=zone.sharp_from,
        sharp_to_m=None if zone.sharp_to == inf else zone.sharp_to,
        diffraction_mm=None if n is None else focus.diffraction_mm(n, lens.magnification(f, u, cosine)),
        barrel=barrel(f, n, limit, u, cosine),
        probes=probed(shot, asked.camera),
    )


class FocusAt(PressedInPicture):
    """Focus on what is seen at a place in the frame, (0, 0) bottom left to (1, 1) top right."""

    kind: Literal["focus_at"] = "focus_at"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        seen = seen_in(shot, scene.working, self.x, self.y)
        if seen is None:
            raise Refused("There is only sky at that place; pick something in the set to focus on.")
        distance = float(focus_through(shot, camera_of(shot), np.array([seen.at]))[0])
        return focused(shot, distance)


class FocusTo(Gesture):
    """Focus put at a distance along the lens axis."""

    kind: Literal["focus_to"] = "focus_to"
    distance_m: float = Field(gt=0.0, le=1.0e7)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return focused(shot, self.distance_m)


class FocusOnPaper(Gesture):
    """The focus line is put through a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["focus_on_paper"] = "focus_on_paper"
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return focused(shot, _on_paper(shot, self.drawing, self.x, self.y))


class FocusOnBarrel(Gesture):
    """The barrel is turned until the focus mark stands at ``at`` on its distance scale, 0 to 1 as in the sheet."""

    kind: Literal["focus_on_barrel"] = "focus_on_barrel"
    at: float = Field(ge=-10.0, le=10.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        found = barrel_distance_mm(shot.focus.distance_m * 1000.0, self.at)
        return focused(shot, min(found / 1000.0, FARTHEST_FOCUS_M))


class FocusHyperfocal(Gesture):
    """Focus at the hyperfocal distance: sharp from half of it to infinity."""

    kind: Literal["focus_hyperfocal"] = "focus_hyperfocal"

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.focus.f_number is None or not law_of(shot).blurs:
            raise Refused("Everything is sharp already; a hyperfocal distance needs a lens with a stop.")
        limit = blur_limit_of(shot, cut_back(shot.back))
        f, n = shot.lens.focal_length_mm, shot.focus.f_number
        return focused(shot, focus.hyperfocal_mm(f, n, limit, tilt_of(shot).cosine) / 1000.0)


def _on_paper(shot: Shot, drawing: Literal["plan", "section"], x: float, y: float) -> float:
    """Where the plane of the sharp zone that passes a place on paper crosses the lens axis, m; may be infinite."""
    return depth_on_paper(camera_of(shot), drawing, x, y, lean_of(shot))


End = Literal["near", "far"]


class SharpTo(Gesture):
    """One end of the sharp zone is moved, the other stays: stop and focus follow, the exposure is held."""

    kind: Literal["sharp_to"] = "sharp_to"
    end: End
    distance_m: float = Field(gt=0.0, le=1.0e7)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return _sharpened(shot, self.end, self.distance_m)


class SharpOnPaper(Gesture):
    """As :class:`SharpTo`, to a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["sharp_on_paper"] = "sharp_on_paper"
    end: End
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        return _sharpened(shot, self.end, _on_paper(shot, self.drawing, self.x, self.y))


class StopTo(Gesture):
    """Another stop (null: everything sharp); the shutter gives way, so that the exposure is held."""

    kind: Literal["stop_to"] = "stop_to"
    f_number: float | None = Field(ge=0.5, le=512.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        opened = shot.with_groups(focus=shot.focus.model_copy(update={"f_number": self.f_number}))
        return exposed(opened, ev_of(shot))


def _sharpened(shot: Shot, end: End, distance_m: float) -> Shot:
    if shot.focus.f_number is None:
        raise Refused("Everything is sharp; choose a stop first.")
    if not law_of(shot).blurs:
        raise Refused("In a parallel picture everything is sharp.")
    cut = cut_back(shot.back)
    zone = sharp_zone_of(shot, cut)
    near, far = zone.sharp_from * 1000.0, zone.sharp_to * 1000.0
    if end == "near":
        near = min(distance_m * 1000.0, 0.98 * far)
    else:
        far = max(distance_m * 1000.0, 1.02 * near)
    f = shot.lens.focal_length_mm
    cosine = tilt_of(shot).cosine
    if near * cosine <= 1.02 * f:
        raise Refused(f"A {f:g} mm lens cannot be sharp that close.")
    limit = blur_limit_of(shot, cut)
    wanted = focus.stop_for_two(f, limit, near, far, cosine)
    n = min(max(wanted, focus.WIDEST_STOP), focus.SMALLEST_STOP)
    if n != wanted and end == "near":
        near = focus.near_for_far(f, n, limit, far, cosine)
    elif n != wanted:
        far = focus.far_for_near(f, n, limit, near, cosine)
    u = focus.focus_for_two(near, far)
    moved = shot.focus.model_copy(update={"distance_m": u / 1000.0, "f_number": n})
    made = exposed(shot.with_groups(focus=moved), ev_of(shot))
    if n == wanted:
        return made
    which = "smallest" if n == focus.SMALLEST_STOP else "widest"
    raise Refused(f"That is as far as it goes: {focus.stop_name(n)} is the {which} stop.", nearest=made)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another stop, distance, way to judge blur or shape of it; probes change nothing."""
    a, b = before.focus, after.focus
    words = []
    if a.f_number != b.f_number:
        first, then = ("all sharp" if n is None else focus.stop_name(n) for n in (a.f_number, b.f_number))
        words.append(f"{first} → {then}")
    if a.distance_m != b.distance_m:
        words.append(f"focus {change_words(a.distance_m, b.distance_m)}")
    told = {name: getattr(b, name) for name in ("f_number", "distance_m", "probes")}
    if a.model_copy(update=told) != b:
        words.append("blur judged otherwise" if a.blur_limit != b.blur_limit else "other blur shape")
    return words


def shows(shot: Shot) -> Shown:
    """The blur, whichever way its plane of focus lies, and where it breathes how wide the picture is; how blur is
    judged is not seen."""
    own, glass = shot.focus, shot.lens
    turned = shot.movements.tilt_deg, shot.movements.swing_deg
    if own.f_number is not None and law_of(shot).blurs:
        blades = (own.blades, own.blade_rotation_deg) if own.blades >= 3 else (0, 0.0)
        return (own.f_number, own.distance_m, *turned, *blades, own.rim_weight)
    return (own.distance_m, *turned) if glass.focus_breathing else ()


FOCUS = Instrument(
    key="focus",
    name="Focus",
    gestures=(FocusAt, FocusTo, FocusOnPaper, FocusOnBarrel, FocusHyperfocal, SharpTo, SharpOnPaper, StopTo),
    part=SheetPart("focus", tell, lambda shot: bool(shot.focus.probes)),
    differs=differs,
    shows=shows,
    copied=(group_copied("focus", "Focus and stop"),),
)
