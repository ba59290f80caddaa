"""What the lens sees, as the sheet tells it, and what of it is other than it was."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zevlo.core.bases import Matrix, SheetGroup
from zevlo.core.camera.from_shot import Framing, law_at
from zevlo.core.camera.lens_grid import LensGrid, Shade, lens_grid, shade_of
from zevlo.core.instruments.instrument import Called, SheetContext, StalenessKey
from zevlo.core.instruments.lens.character import bent_by
from zevlo.core.instruments.lens.projection import projection_words
from zevlo.core.instruments.lens.views import scale_on_paper
from zevlo.core.instruments.lens.words import lens_words
from zevlo.core.measures import change_words
from zevlo.core.optics import lens
from zevlo.core.optics.laws import FromOnePoint, Law, Perspective
from zevlo.core.shot import Shot
from zevlo.text import lens as say


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
    """Whether distances, near and far clip count from the stand; else along the lens axis."""
    bent: float | None
    """How far barrel or pincushion moves the corner of the fitted back, a share; null where nothing is drawn there."""
    corner_light: float
    """Share of its light that the darkest corner of the frame gets, of what it would in the middle."""
    window_mm: WindowMm
    primes: list[PrimeMark]
    words: str
    """What it does, in a sentence."""
    breathes_to_deg: float | None
    """The angle across, were it the other way with breathing; null where no lens could."""
    scale_on_paper: float | None
    """Of a parallel picture, how many times larger the world is than its print; null for any other."""


@lru_cache(maxsize=64)
def _prime_marks(width_mm: float, law: Law, primes: tuple[float, ...]) -> list[PrimeMark]:
    """``law``: that of the lens, were its film 1 mm behind it. What film sees goes by its size over its distance."""
    plain = law if isinstance(law, FromOnePoint) else Perspective(1.0)
    sizes = width_mm / np.array(primes)
    angles = plain.angles_deg(sizes, 0.0 * sizes).tolist()
    return [PrimeMark(focal_length_mm=f, angle_deg=angle) for f, angle in zip(primes, angles, strict=True)]


def _breathes_to(framing: Framing, width_mm: float) -> float | None:
    shot = framing.shot
    if shot.lens.scale_m is not None:
        return None
    other = shot.lens.focal_length_mm if shot.lens.focus_breathing else framing.sharp_image_mm
    return law_at(shot, other).angle_deg(width_mm)


def compute_sheet(context: SheetContext) -> LensSheet:
    """Angles of view, the same view on another back, and the matrix of the picture."""
    framing = context.framing
    camera, (width, height) = framing.camera, framing.fitted.size_mm
    angles, same_view = None, None
    if isinstance(camera.law, FromOnePoint):
        across, up = np.array([width, 0.0, width]), np.array([0.0, height, height])
        horizontal, vertical, diagonal = camera.law.angles_deg(across, up).tolist()
        angles = Angles(horizontal=horizontal, vertical=vertical, diagonal=diagonal)
        if camera.law.straight:
            same_view = lens.equivalent_focal_length_mm(camera.law.distance_mm, width, height)
    window, matrix = camera.window, camera.matrix()
    return LensSheet(
        angle_deg=angles,
        equivalent_focal_length_mm=same_view,
        projection=None if matrix is None else matrix.ravel().tolist(),
        grid=lens_grid(camera),
        shade=shade_of(camera),
        from_stand=camera.law.radial,
        bent=bent_by(framing),
        corner_light=float(camera.light(camera.edge(1)).min()),
        window_mm=WindowMm(left=window.left, right=window.right, bottom=window.bottom, top=window.top),
        primes=_prime_marks(width, law_at(framing.shot, 1.0), context.where.primes),
        words=lens_words(framing.shot, camera),
        breathes_to_deg=_breathes_to(framing, width),
        scale_on_paper=scale_on_paper(framing.shot),
    )


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another focal length, projection or width; the rest in one word."""
    a, b = before.lens, after.lens
    words = []
    if a.focal_length_mm != b.focal_length_mm:
        words.append(f"{a.focal_length_mm:.4g} → {b.focal_length_mm:.4g} mm")
    if a.projection != b.projection:
        words.append(say.other_projection(projection_words(a), projection_words(b)))
    elif a.scale_m is not None and b.scale_m is not None and a.scale_m != b.scale_m:
        words.append(say.wide(change_words(a.scale_m, b.scale_m)))
    if a.distortion != b.distortion:
        words.append(say.STRAIGHT_LINES_STRAIGHT if b.distortion.none else say.BENT_OTHERWISE)
    if a.falloff != b.falloff:
        words.append(say.OTHER_CORNERS)
    if a.focus_breathing != b.focus_breathing:
        words.append(say.FOCUS_BREATHES if b.focus_breathing else say.FOCUS_NO_LONGER_BREATHES)
    if a.fisheye_law != b.fisheye_law:
        words.append(say.fisheye(b.fisheye_law))
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """All of a lens is seen; clips and cutting plane are another instrument's."""
    own = shot.lens
    bent = () if own.distortion.none else (own.distortion,)
    drawn = (own.fisheye_law,) if own.projection == "fisheye" else bent
    corners = Framing(shot).corners
    if corners.natural or corners.shift != 0.0:
        drawn = (*drawn, corners.natural, corners.shift, corners.corner_mm, corners.pupil)
    return own.focal_length_mm, own.projection, own.scale_m, own.focus_breathing, *drawn
