"""What a shot is in glass and film: its law, how its lens is turned, its camera."""

from __future__ import annotations

from math import hypot

from zevlo.core.camera.camera import Camera
from zevlo.core.optics import exposure, lens, movements
from zevlo.core.optics.aperture import Aperture
from zevlo.core.optics.back import fit_back, fitted_size
from zevlo.core.optics.falloff import EVEN, Corners, rim_shift
from zevlo.core.optics.laws import Cylindrical, Distorted, Fisheye, Law, Parallel, Perspective
from zevlo.core.optics.tilt import Tilted, tilted
from zevlo.core.scene.model.visible import CuttingPlane
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve


def law_of(shot: Shot) -> Law:
    """The law of a shot's lens."""
    return law_at(shot, film_distance_mm(shot))


def film_distance_mm(shot: Shot) -> float:
    """How far behind the lens the picture is drawn: at f, or at v where the lens breathes."""
    return sharp_image_mm(shot) if shot.lens.focus_breathing else shot.lens.focal_length_mm


def sharp_image_mm(shot: Shot) -> float:
    """How far behind the lens the film of a shot stands for what it is focused on."""
    return lens.image_distance_mm(shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0, tilt_of(shot).cosine)


def tilt_of(shot: Shot) -> Tilted:
    """How the lens of a shot is turned before its film."""
    return tilted(shot.movements.tilt_deg, shot.movements.swing_deg)


def law_at(shot: Shot, distance_mm: float) -> Law:
    """The law of a shot's lens, were its film so far behind it."""
    own = shot.lens
    if own.scale_m is not None:
        return Parallel(width_before_enlarge_mm(shot) / own.scale_m)
    if own.projection == "fisheye":
        return Fisheye(distance_mm, own.fisheye_law)
    if own.projection == "cylindrical":
        return Cylindrical(distance_mm)
    bent = own.distortion
    if bent.none:
        return Perspective(distance_mm)
    return Distorted(distance_mm, bent.k1, bent.k2, bent.k3, bent.p1, bent.p2)


def width_before_enlarge_mm(shot: Shot) -> float:
    """Width of the fitted back before trim and enlarge: what ``lens.scale_m`` is the width in the world of."""
    return _size_before_enlarge(shot)[0]


def corner_mm(shot: Shot) -> float:
    """How far from the lens axis the corner of the fitted back lies, before trim and enlarge."""
    return hypot(*_size_before_enlarge(shot)) / 2.0


def _size_before_enlarge(shot: Shot) -> tuple[float, float]:
    back = shot.back
    return fitted_size(back.width_mm, back.height_mm, back.fit, back.output_px[0] / back.output_px[1])


def camera_of(shot: Shot) -> Camera:
    """A shot's camera."""
    window = movements.shifted_window(fit_back(shot.back), shot.movements)
    own, cutting = shot.lens, cutting_of(shot)
    return Camera(resolve(shot.stand), window, law_of(shot), own.near_m, own.far_m, corners_of(shot), cutting)


def cutting_of(shot: Shot) -> CuttingPlane | None:
    """The plane a shot opens the set by, its normal of length 1."""
    told = shot.lens.cutting_plane
    if told is None:
        return None
    x, y, z = told.normal
    length = hypot(x, y, z)
    return CuttingPlane(told.point, (x / length, y / length, z / length))


def corners_of(shot: Shot) -> Corners:
    """What the lens of a shot does to its corners, as it is stopped down; a parallel picture has no lens that could."""
    own, n, circle = shot.lens.falloff, shot.focus.f_number, circle_of(shot)
    if shot.lens.scale_m is not None or (not own.natural and own.mechanical == 0.0 and circle is None):
        return EVEN
    pupil = 1.0 if n is None else min(1.0, own.open_f_number / n)
    shift = 0.0 if n is None or own.mechanical == 0.0 else rim_shift(own.mechanical)
    return Corners(own.natural, shift, corner_mm(shot), pupil, circle)


def aperture_of(shot: Shot) -> Aperture | None:
    """The stop of a shot; None where everything is sharp."""
    own = shot.focus
    if own.f_number is None or not law_of(shot).blurs:
        return None
    return Aperture(own.blades, own.blade_rotation_deg, own.rim_weight, own.squeeze, corner_mm(shot))


def circle_of(shot: Shot) -> float | None:
    """Diameter in mm of what the lens of a shot draws; None for no bound, as a parallel picture has none."""
    return None if shot.lens.scale_m is not None else shot.movements.image_circle_mm


def effective_f_number(shot: Shot) -> float | None:
    """N, or N(1+m) where the lens breathes, for exposure."""
    n = shot.focus.f_number
    if n is None or not shot.lens.focus_breathing:
        return n
    f, u = shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0
    return n * (1.0 + lens.magnification(f, u, tilt_of(shot).cosine))


def ev_of(shot: Shot) -> float:
    """EV100 the shot is exposed for."""
    return exposure.ev100(effective_f_number(shot), shot.exposure.shutter_s, shot.exposure.iso)
