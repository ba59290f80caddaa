"""Lens: focal length, projection, what is drawn of near and far, and the angle of view that comes of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from math import atan2, exp, hypot, log, pi
from typing import TYPE_CHECKING, Annotated, Literal, Self

import numpy as np
from pydantic import Field, StrictBool, model_validator

from zevlo.core.bases import Coordinate, Matrix, Settings, SheetGroup
from zevlo.core.camera import (
    camera_of,
    corner_mm,
    corners_of,
    film_distance_mm,
    law_at,
    law_of,
    width_before_enlarge_mm,
)
from zevlo.core.instruments.instrument import (
    Asked,
    Called,
    Gesture,
    Instrument,
    Scene,
    SheetPart,
    Shown,
    group_copied,
)
from zevlo.core.lens_grid import LensGrid, Shade, lens_grid, shade_of
from zevlo.core.measures import change_words
from zevlo.core.optics import lens
from zevlo.core.optics.laws import CannotReach, FisheyeLaw, FromOnePoint, Law, Perspective
from zevlo.core.refused import Refused
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import side_of_wedge

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

SHORTEST_MM, LONGEST_MM = 1.0, 5000.0
Projection = Literal["perspective", "parallel", "fisheye", "cylindrical"]
NARROWEST_M, WIDEST_M = 1.0e-4, 1.0e6
NEAREST_M = 1.0e-6


MOST_BEND = 1.0e4
Bend = Annotated[float, Field(ge=-MOST_BEND, le=MOST_BEND)]


class Distortion(Settings):
    """How a perspective picture is bent, by Brown and Conrady's coefficients; all 0 is not at all."""

    k1: Bend = 0.0
    """How much by the square of the distance from the middle: below 0 a barrel, above it a pincushion."""
    k2: Bend = 0.0
    """By its fourth power."""
    k3: Bend = 0.0
    """By its sixth power."""
    p1: Bend = 0.0
    """As glasses do that sit too high or too low."""
    p2: Bend = 0.0
    """As glasses do that sit too far aside."""

    @property
    def none(self) -> bool:
        """Whether nothing is bent."""
        return self.k1 == self.k2 == self.k3 == self.p1 == self.p2 == 0.0


class Falloff(Settings):
    """How the corners get less light than the middle."""

    natural: StrictBool = False
    """As the law of the lens has it: by the fourth power of a cosine in perspective."""
    mechanical: float = Field(0.0, ge=0.0, le=1.0)
    """Share of the wide open pupil that the rim of the barrel hides from the corner; gone as it is stopped down."""
    open_f_number: float = Field(2.8, ge=0.5, le=512.0)
    """The stop at which the lens is wide open."""


class Lens(Settings):
    """The lens, and what bounds what is drawn along its axis."""

    focal_length_mm: float = Field(35.0, ge=SHORTEST_MM, le=LONGEST_MM)
    """Focal length."""
    projection: Projection = "perspective"
    """How film and world belong together."""
    fisheye_law: FisheyeLaw = "equidistant"
    """Of a fisheye alone: how far from the middle it draws what it sees under an angle."""
    focus_breathing: StrictBool = False
    """Whether focusing nearer makes the picture narrower, as with a lens that moves out as a whole."""
    near_m: float = Field(0.05, ge=NEAREST_M, le=1.0e5)
    """Nothing nearer than this is drawn, along the lens axis."""
    far_m: float | None = Field(None, ge=NEAREST_M, le=1.0e7)
    """Nothing farther than this is drawn, along the lens axis; null is no bound."""
    scale_m: float | None = Field(None, ge=NARROWEST_M, le=WIDEST_M)
    """Of a parallel picture alone: metres across the width of the cut back, before trim and enlarge, at any
    distance."""
    distortion: Distortion = Distortion()
    """Of perspective alone: barrel, pincushion."""
    falloff: Falloff = Falloff()
    """Darker corners."""

    def called(self, digits: int) -> str:
        """As it is called in lists and names: its focal length, and what it is where that is no plain lens."""
        if self.projection == "parallel":
            return "parallel"
        length = f"{self.focal_length_mm:.{digits}g} mm"
        return length if self.projection == "perspective" else f"{length} {self.projection}"

    @model_validator(mode="after")
    def _scale_with_parallel(self) -> Self:
        if self.projection == "parallel" and self.scale_m is None:
            raise ValueError("a parallel projection needs scale_m, its width in the world")
        if self.projection != "parallel" and self.scale_m is not None:
            raise ValueError("scale_m belongs to parallel projection; in any other it may only be null")
        return self

    @model_validator(mode="after")
    def _bent_in_perspective(self) -> Self:
        if self.projection != "perspective" and not self.distortion.none:
            raise ValueError("distortion belongs to perspective; in any other projection it may only be 0")
        return self

    @model_validator(mode="after")
    def _far_beyond_near(self) -> Self:
        if self.far_m is not None and self.far_m <= self.near_m:
            raise ValueError(f"far_m must be greater than near_m ({self.near_m:g})")
        return self


def _changed(old: Lens, **other: object) -> Lens:
    """The lens with other settings, checked again."""
    return Lens.model_validate({**old.model_dump(), **other})


def with_focal_length(old: Lens, focal_length_mm: float) -> Lens:
    """The lens at another focal length, checked again."""
    return _changed(old, focal_length_mm=focal_length_mm)


def with_scale(old: Lens, scale_m: float) -> Lens:
    """The lens in parallel projection of a width in the world, as near as there can be one."""
    held = float(np.clip(scale_m, NARROWEST_M, WIDEST_M))
    return _changed(old, projection="parallel", scale_m=held, distortion=Distortion())


class ProjectionOffer(Settings):
    """A projection to choose, with its words."""

    words: str
    projection: Projection
    fisheye_law: FisheyeLaw | None = None


PROJECTIONS = (
    ProjectionOffer(words="Perspective", projection="perspective"),
    ProjectionOffer(words="Parallel", projection="parallel"),
    ProjectionOffer(words="Fisheye, equidistant", projection="fisheye", fisheye_law="equidistant"),
    ProjectionOffer(words="Fisheye, equisolid", projection="fisheye", fisheye_law="equisolid"),
    ProjectionOffer(words="Fisheye, stereographic", projection="fisheye", fisheye_law="stereographic"),
    ProjectionOffer(words="Cylindrical", projection="cylindrical"),
)


class Angles(SheetGroup):
    """Angles of view in degrees: across, upright, corner to corner."""

    horizontal: float
    vertical: float
    diagonal: float


class WindowMm(SheetGroup):
    """What of the film makes the picture, in mm from the lens axis."""

    left: float
    right: float
    bottom: float
    top: float


class PrimeMark(SheetGroup):
    """A prime lens to step to, and the angle it sees across this back."""

    focal_length_mm: float
    angle_deg: float


class LensSheet(SheetGroup):
    """What the lens sees."""

    angle_deg: Angles | None
    """None where all is seen along parallel rays; then ``scale_m`` of the shot says how wide."""
    equivalent_focal_length_mm: float | None
    """Focal length of the same corner to corner angle on 36 × 24; null where the picture is no plain perspective."""
    projection: Matrix | None
    """Camera to OpenGL clip space; null where no matrix can say it."""
    grid: LensGrid | None
    """What the picture looks along, place by place; null where the matrix says it."""
    shade: Shade | None
    """How dark the corners are, place by place; null where they are not."""
    from_stand: bool
    """Whether distances, near and far cut count from the stand; else along the lens axis."""
    bent: float | None
    """How far barrel or pincushion moves the corner of the cut back, as a share; null where nothing is drawn there."""
    corner_light: float
    """Share of its light that the darkest corner of the frame gets, of what it would in the middle."""
    window_mm: WindowMm
    primes: list[PrimeMark]


@lru_cache(maxsize=64)
def _prime_marks(width_mm: float, law: Law) -> list[PrimeMark]:
    """``law``: that of the lens, were its film 1 mm behind it. What film sees goes by its size over its distance."""
    plain = law if isinstance(law, FromOnePoint) else Perspective(1.0)
    sizes = width_mm / np.array(lens.PRIMES_MM)
    angles = plain.angles_deg(sizes, 0.0 * sizes).tolist()
    return [PrimeMark(focal_length_mm=f, angle_deg=angle) for f, angle in zip(lens.PRIMES_MM, angles, strict=True)]


def tell(asked: Asked) -> LensSheet:
    """Angles of view, the same view on another back, and the matrix of the picture."""
    camera, (width, height) = asked.camera, asked.cut.size_mm
    angles, same_view = None, None
    if isinstance(camera.law, FromOnePoint):
        across, up = np.array([width, 0.0, width]), np.array([0.0, height, height])
        horizontal, vertical, diagonal = camera.law.angles_deg(across, up).tolist()
        angles = Angles(horizontal=horizontal, vertical=vertical, diagonal=diagonal)
        if camera.law.straight:
            same_view = lens.equivalent_focal_length_mm(asked.shot.lens.focal_length_mm, width, height)
    window, matrix = camera.window, camera.matrix()
    return LensSheet(
        angle_deg=angles,
        equivalent_focal_length_mm=same_view,
        projection=None if matrix is None else matrix.ravel().tolist(),
        grid=lens_grid(camera),
        shade=shade_of(camera),
        from_stand=camera.law.radial,
        bent=_bent_by(asked.shot),
        corner_light=float(camera.light(camera.edge(1)).min()),
        window_mm=WindowMm(left=window.left, right=window.right, bottom=window.bottom, top=window.top),
        primes=_prime_marks(width, law_at(asked.shot, 1.0)),
    )


class AngleTo(Gesture):
    """Another angle of view, across the frame, upright or from corner to corner; the focal length follows, the back
    stays."""

    kind: Literal["angle_to"] = "angle_to"
    side: Literal["across", "upright", "corner"] = "across"
    angle_deg: float = Field(ge=0.5, le=360.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        window = camera_of(shot).window
        if shot.lens.scale_m is not None:
            raise Refused("A parallel picture has no angle of view; say how wide it is.")
        across, up = window.width * (self.side != "upright"), window.height * (self.side != "across")
        return _with_film_at(shot, _film_for_angle(shot, self.angle_deg, across, up))


class BendTo(Gesture):
    """Barrel or pincushion, by how far it moves the corner of the cut back: a share of how far out that would be."""

    kind: Literal["bend_to"] = "bend_to"
    corner: float = Field(ge=-0.25, le=1.0)
    """Below 0 a barrel, which draws the corner nearer to the middle."""

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.lens.projection != "perspective":
            raise Refused("Only a picture in perspective can be bent; this one draws straight lines its own way.")
        # What would lie at r is drawn at r·(1 + k1·r²), and that is the corner.
        r = corner_mm(shot) / film_distance_mm(shot) / (1.0 + self.corner)
        bent = Distortion(k1=float(np.clip(self.corner / r**2, -MOST_BEND, MOST_BEND)))
        return shot.with_groups(lens=_changed(shot.lens, distortion=bent))


def _bent_by(shot: Shot) -> float | None:
    """What :class:`BendTo` would have been told; None where nothing is drawn at the corner."""
    if shot.lens.distortion.none:
        return 0.0
    corner, law = corner_mm(shot), law_of(shot)
    _, _, across, _, ahead, sees = law.rays(np, np.float64(corner), np.float64(0.0))
    if not sees:
        return None
    return float(corner / (film_distance_mm(shot) * across / ahead) - 1.0)


class WedgeTo(Gesture):
    """A side of the wedge is put through a place in plan; the focal length follows."""

    kind: Literal["wedge_to"] = "wedge_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.lens.scale_m is not None:
            return shot.with_groups(lens=with_scale(shot.lens, _width_in_world(shot, self)))
        if shot.lens.projection == "perspective" and shot.lens.distortion.none:
            return _with_film_at(shot, _film_behind_lens(shot, self))
        return _with_film_at(shot, _film_by_side(shot, self))


class ProjectionTo(Gesture):
    """Another projection. Parallel: as wide as what the frame holds at the aim. The focal length stays for the way
    back; what bends a perspective picture goes."""

    kind: Literal["projection_to"] = "projection_to"
    projection: Projection
    fisheye_law: FisheyeLaw | None = None
    """Of a fisheye; null leaves the one there was."""

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        law = shot.lens.fisheye_law if self.fisheye_law is None else self.fisheye_law
        if self.projection == shot.lens.projection:
            return shot.with_groups(lens=_changed(shot.lens, fisheye_law=law))
        if self.projection != "parallel":
            other = _changed(
                shot.lens, projection=self.projection, scale_m=None, fisheye_law=law, distortion=Distortion()
            )
            return shot.with_groups(lens=other)
        camera = camera_of(shot)
        wide = width_before_enlarge_mm(shot) / camera.law.film_per_metre(camera.pose.aim_distance)
        return shot.with_groups(lens=with_scale(shot.lens, wide))


STRAIGHT_MOST_DEG = 170.0


def _film_for_angle(shot: Shot, angle_deg: float, across_mm: float, up_mm: float = 0.0) -> float:
    """How far behind the lens, in mm, film of a size sees an angle under the law of the shot."""
    if shot.lens.projection == "perspective":
        if angle_deg > STRAIGHT_MOST_DEG:
            raise Refused(f"In perspective an angle of view goes to {STRAIGHT_MOST_DEG:g}°; a fisheye sees more.")
        if shot.lens.distortion.none:
            return lens.focal_length_for(angle_deg, hypot(across_mm, up_mm))

    most = law_at(shot, 1.0).angle_deg(1.0e9)
    if most is not None and angle_deg > most:
        raise Refused(f"Bent like this the lens draws no more than {most:.1f}°.")

    def too_wide(distance_mm: float) -> bool:
        found = law_at(shot, distance_mm).angle_deg(across_mm, up_mm)
        return found is not None and found > angle_deg

    return _first_not(too_wide)


def _first_not(too_short: Callable[[float], bool]) -> float:
    """The shortest distance in mm, of those a film can stand behind a lens, that is not too short."""
    low, high = log(SHORTEST_MM), log(LONGEST_MM)
    if too_short(exp(high)):
        return LONGEST_MM
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if too_short(exp(middle)) else (low, middle)
    return exp(high)


_HALVINGS = 48


def _with_film_at(shot: Shot, image_mm: float) -> Shot:
    """The shot at the focal length that has its film so far behind the lens."""
    if shot.lens.focus_breathing:
        image_mm = lens.focal_length_at(image_mm, shot.focus.distance_m * 1000.0)
    return shot.with_groups(lens=with_focal_length(shot.lens, float(np.clip(image_mm, SHORTEST_MM, LONGEST_MM))))


def _cross(a: Floats, b: Floats) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _film_behind_lens(shot: Shot, gesture: WedgeTo) -> float:
    """How far behind the lens, in mm, the film has to stand for a side of the wedge to run through a place in plan.

    In plan that side runs along d·forward + (its place on the film), d the distance looked for: linear in d.
    """
    camera = camera_of(shot)
    pose = camera.pose
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0]
    on_film = (x * pose.right + y * pose.up)[:2]
    away, ahead = np.array([gesture.x, gesture.y]) - pose.position[:2], pose.forward[:2]
    turn = _cross(away, ahead)
    distance = -_cross(away, on_film) / turn if abs(turn) > 1.0e-12 else -1.0
    if distance <= 0.0 or float((distance * ahead + on_film) @ away) <= 0.0:
        raise Refused("The side of the wedge has to stay in front of the camera, on its own side of the axis.")
    return float(distance)


def _film_by_side(shot: Shot, gesture: WedgeTo) -> float:
    """As :func:`_film_behind_lens`, for a law under which no formula tells it: the side is farther out the nearer the
    film is."""
    camera = camera_of(shot)
    pose, sign = camera.pose, -1.0 if gesture.side == "left" else 1.0
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0].tolist()
    axes = np.stack([pose.right, pose.up, pose.forward])
    away = np.array([gesture.x, gesture.y]) - pose.position[:2]
    heading = atan2(pose.level_axis[0], pose.level_axis[1])

    def out(way: Floats) -> float:
        """How far a way in plan is turned out to this side of the heading, radians; from 0 up to a whole turn."""
        return sign * ((atan2(way[0], way[1]) - heading + pi) % (2.0 * pi) - pi)

    wanted = out(away)
    if wanted <= 0.0:
        raise Refused("The side of the wedge has to stay on its own side of the axis.")

    def too_near(distance_mm: float) -> bool:
        law = law_at(shot, distance_mm)
        try:
            way = np.array(law.point(x, y, 1.0)) @ axes
        except CannotReach:
            return True
        return out(way) > wanted or out(way) < 0.0

    return _first_not(too_near)


def _width_in_world(shot: Shot, gesture: WedgeTo) -> float:
    """The ``scale_m`` of a parallel shot with which a side of what it sees runs through a place in plan."""
    camera = camera_of(shot)
    pose = camera.pose
    x, y = camera.film(side_of_wedge(camera, gesture.side))[0]
    on_film = (x * pose.right + y * pose.up)[:2]
    away, ahead = np.array([gesture.x, gesture.y]) - pose.position[:2], pose.forward[:2]
    if float(np.hypot(*ahead)) > 1.0e-9:
        # Only what lies across the way it looks counts.
        across = np.array([-ahead[1], ahead[0]])
        on_film, away = float(on_film @ across) * across, float(away @ across) * across
    square = float(on_film @ on_film)
    metres_per_mm = float(away @ on_film) / square if square > 0.0 else -1.0
    if metres_per_mm <= 0.0:
        raise Refused("The side has to stay on its own side of the axis.")
    return metres_per_mm * width_before_enlarge_mm(shot)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another focal length, projection or width; the rest in one word."""
    a, b = before.lens, after.lens
    words = []
    if a.focal_length_mm != b.focal_length_mm:
        words.append(f"{a.focal_length_mm:.4g} → {b.focal_length_mm:.4g} mm")
    if a.projection != b.projection:
        words.append(f"{a.projection} → {b.projection}")
    elif a.scale_m is not None and b.scale_m is not None and a.scale_m != b.scale_m:
        words.append(f"{change_words(a.scale_m, b.scale_m)} wide")
    if a.distortion != b.distortion:
        words.append("straight lines straight" if b.distortion.none else "bent otherwise")
    if a.falloff != b.falloff:
        words.append("other corners")
    told = {name: getattr(b, name) for name in ("focal_length_mm", "projection", "scale_m", "distortion", "falloff")}
    if a.model_copy(update=told) != b:
        words.append("other lens settings")
    return words


def shows(shot: Shot) -> Shown:
    """All of a lens is seen."""
    own = shot.lens
    bent = () if own.distortion.none else (own.distortion,)
    drawn = (own.fisheye_law,) if own.projection == "fisheye" else bent
    corners = corners_of(shot)
    if not corners.none:
        drawn = (*drawn, corners.natural, corners.shift, corners.corner_mm, corners.pupil)
    return own.focal_length_mm, own.projection, own.scale_m, own.focus_breathing, own.near_m, own.far_m, *drawn


LENS = Instrument(
    key="lens",
    name="Lens",
    gestures=(AngleTo, WedgeTo, ProjectionTo, BendTo),
    part=SheetPart("lens", tell),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("lens", "Lens"),),
)
