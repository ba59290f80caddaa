"""Lens: focal length, projection, what is drawn of near and far, and the angle of view that comes of them."""

from __future__ import annotations

from functools import lru_cache
from math import hypot
from typing import TYPE_CHECKING, Literal, Self

import numpy as np
from pydantic import Field, StrictBool, model_validator

from zevlo.core.bases import Coordinate, Matrix, Settings, SheetGroup
from zevlo.core.camera import Camera, camera_of, width_before_enlarge_mm
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
from zevlo.core.measures import change_words
from zevlo.core.optics import lens
from zevlo.core.refused import Refused
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import side_of_wedge

if TYPE_CHECKING:
    from zevlo.core.shot import Shot

SHORTEST_MM, LONGEST_MM = 1.0, 5000.0
NARROWEST_M, WIDEST_M = 1.0e-4, 1.0e6


class Lens(Settings):
    """The lens, and what bounds what is drawn along its axis."""

    focal_length_mm: float = Field(35.0, ge=SHORTEST_MM, le=LONGEST_MM)
    """Focal length."""
    projection: Literal["perspective", "parallel"] = "perspective"
    """How film and world belong together."""
    focus_breathing: StrictBool = False
    """Whether focusing nearer makes the picture narrower, as with a lens that moves out as a whole."""
    near_m: float = Field(0.05, gt=0.0, le=1.0e5)
    """Nothing nearer than this is drawn, along the lens axis."""
    far_m: float | None = Field(None, gt=0.0, le=1.0e7)
    """Nothing farther than this is drawn, along the lens axis; null is no bound."""
    scale_m: float | None = Field(None, ge=NARROWEST_M, le=WIDEST_M)
    """Of a parallel picture alone: metres across the width of the cut back, before trim and enlarge, at any
    distance."""

    @model_validator(mode="after")
    def _scale_with_parallel(self) -> Self:
        if self.projection == "parallel" and self.scale_m is None:
            raise ValueError("a parallel projection needs scale_m, its width in the world")
        if self.projection != "parallel" and self.scale_m is not None:
            raise ValueError("scale_m belongs to parallel projection; in perspective it may only be null")
        return self

    @model_validator(mode="after")
    def _far_beyond_near(self) -> Self:
        if self.far_m is not None and self.far_m <= self.near_m:
            raise ValueError(f"far_m must be greater than near_m ({self.near_m:g})")
        return self


def with_focal_length(old: Lens, focal_length_mm: float) -> Lens:
    """The lens at another focal length, checked again."""
    return Lens.model_validate({**old.model_dump(), "focal_length_mm": focal_length_mm})


def with_scale(old: Lens, scale_m: float | None) -> Lens:
    """The lens in parallel projection of a width in the world, as near as there can be one; None: in perspective."""
    projection = "perspective" if scale_m is None else "parallel"
    held = None if scale_m is None else float(np.clip(scale_m, NARROWEST_M, WIDEST_M))
    return Lens.model_validate({**old.model_dump(), "projection": projection, "scale_m": held})


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
    """Focal length of the same corner to corner angle on 36 × 24."""
    projection: Matrix
    """Camera to OpenGL clip space."""
    window_mm: WindowMm
    primes: list[PrimeMark]


def _matrix(camera: Camera) -> Matrix:
    matrix = camera.matrix()
    assert matrix is not None, "every law there is so far can be told as a matrix"
    numbers: Matrix = matrix.ravel().tolist()
    return numbers


@lru_cache(maxsize=64)
def _prime_marks(width_mm: float) -> list[PrimeMark]:
    return [PrimeMark(focal_length_mm=f, angle_deg=lens.angle_deg(width_mm, f)) for f in lens.PRIMES_MM]


def tell(asked: Asked) -> LensSheet:
    """Angles of view, the same view on another back, and the matrix of the picture."""
    camera, (width, height) = asked.camera, asked.cut.size_mm
    horizontal, vertical, diagonal = (camera.law.angle_deg(size) for size in (width, height, hypot(width, height)))
    angles, same_view = None, None
    if horizontal is not None and vertical is not None and diagonal is not None:
        angles = Angles(horizontal=horizontal, vertical=vertical, diagonal=diagonal)
        same_view = lens.equivalent_focal_length_mm(asked.shot.lens.focal_length_mm, width, height)
    window = camera.window
    return LensSheet(
        angle_deg=angles,
        equivalent_focal_length_mm=same_view,
        projection=_matrix(camera),
        window_mm=WindowMm(left=window.left, right=window.right, bottom=window.bottom, top=window.top),
        primes=_prime_marks(width),
    )


class AngleTo(Gesture):
    """Another angle of view across the frame; the focal length follows, the back stays."""

    kind: Literal["angle_to"] = "angle_to"
    horizontal_deg: float = Field(ge=0.5, le=170.0)

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.lens.scale_m is not None:
            raise Refused("A parallel picture has no angle of view; say how wide it is.")
        return _with_film_at(shot, lens.focal_length_for(self.horizontal_deg, camera_of(shot).window.width))


class WedgeTo(Gesture):
    """A side of the wedge is put through a place in plan; the focal length follows."""

    kind: Literal["wedge_to"] = "wedge_to"
    side: Literal["left", "right"]
    x: Coordinate
    y: Coordinate

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if shot.lens.scale_m is not None:
            return shot.with_groups(lens=with_scale(shot.lens, _width_in_world(shot, self)))
        return _with_film_at(shot, _film_behind_lens(shot, self))


class ProjectionTo(Gesture):
    """Perspective, or parallel: as wide as what the frame holds at the aim. The focal length stays for the way back."""

    kind: Literal["projection_to"] = "projection_to"
    projection: Literal["perspective", "parallel"]

    def follow(self, shot: Shot, scene: Scene) -> Shot:
        if self.projection == shot.lens.projection:
            return shot
        if self.projection == "perspective":
            return shot.with_groups(lens=with_scale(shot.lens, None))
        camera = camera_of(shot)
        wide = width_before_enlarge_mm(shot) / camera.law.film_per_metre(camera.pose.aim_distance)
        return shot.with_groups(lens=with_scale(shot.lens, wide))


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
    told = {name: getattr(b, name) for name in ("focal_length_mm", "projection", "scale_m")}
    if a.model_copy(update=told) != b:
        words.append("other lens settings")
    return words


def shows(shot: Shot) -> Shown:
    """All of a lens is seen."""
    own = shot.lens
    return own.focal_length_mm, own.projection, own.scale_m, own.focus_breathing, own.near_m, own.far_m


LENS = Instrument(
    key="lens",
    name="Lens",
    gestures=(AngleTo, WedgeTo, ProjectionTo),
    part=SheetPart("lens", tell),
    differs=differs,
    shows=shows,
    sharp_too=True,
    copied=(group_copied("lens", "Lens"),),
)
