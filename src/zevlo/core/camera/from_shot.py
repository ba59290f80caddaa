"""What a shot is in glass and film: its law, how its lens is turned, its camera, what it draws sharp."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import hypot, inf

from zevlo.core.camera.camera import Camera
from zevlo.core.camera.sharp_zone import BlurLaw, SharpZone
from zevlo.core.optics import exposure, focus, lens, movements
from zevlo.core.optics.aperture import Aperture
from zevlo.core.optics.back import FittedBack, fit_back, fitted_size
from zevlo.core.optics.falloff import EVEN, Corners, rim_shift
from zevlo.core.optics.laws import Cylindrical, Distorted, Fisheye, Law, Parallel, Perspective
from zevlo.core.optics.tilt import Tilted, lean_per_m, tilted
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.model.visible import CuttingPlane
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.limits import nearest_focus_m
from zevlo.core.stand.pose import Pose, resolve

NO_SET = WorkingSet(EMPTY)
_BY_SET = frozenset(("shot", "working", "shown"))
_BY_STAND = _BY_SET | {"pose", "camera", "blur_law"}
"""What of a framing goes by the set, and by the stand too."""


@dataclass(frozen=True, eq=False)
class Framing:
    """A shot with all that follows from it, each worked out once, when it is first asked for. Made once a question, and
    handed on.

    ``working``: the set it looks at, where there is one.
    """

    shot: Shot
    working: WorkingSet | None = None

    def from_stand_of(self, other: Shot, working: WorkingSet | None) -> Framing:
        """The framing of a shot that differs by its stand and its name alone: the rest is not worked out again."""
        return self._but(Framing(other, working), _BY_STAND)

    @property
    def whole(self) -> Framing:
        """The same before the whole set, whatever is lifted off of it."""
        if self.working is None or self.working.whole is self.working:
            return self
        return self._but(Framing(self.shot, self.working.whole), _BY_SET)

    def _but(self, other: Framing, otherwise: frozenset[str]) -> Framing:
        # As a list: others may ask this one for more at the same time.
        known = list(self.__dict__.items())
        other.__dict__.update({name: found for name, found in known if name not in otherwise})
        return other

    @cached_property
    def pose(self) -> Pose:
        """Where the camera is and looks."""
        return resolve(self.shot.stand)

    @cached_property
    def tilt(self) -> Tilted:
        """How the lens is turned before the film."""
        return tilted(self.shot.movements.tilt_deg, self.shot.movements.swing_deg)

    @cached_property
    def fitted(self) -> FittedBack:
        """The piece of film in use, before shifts."""
        return fit_back(self.shot.back)

    @property
    def sharp_image_mm(self) -> float:
        """How far behind the lens the film stands for what it is focused on."""
        shot = self.shot
        return lens.image_distance_mm(shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0, self.tilt.cosine)

    @cached_property
    def film_distance_mm(self) -> float:
        """How far behind the lens the picture is drawn: at f, or at v where the lens breathes."""
        return self.sharp_image_mm if self.shot.lens.focus_breathing else self.shot.lens.focal_length_mm

    @cached_property
    def law(self) -> Law:
        """The law of the lens."""
        return law_at(self.shot, self.film_distance_mm)

    @cached_property
    def camera(self) -> Camera:
        """Where film and world meet."""
        window, own = movements.shifted_window(self.fitted, self.shot.movements), self.shot.lens
        return Camera(self.pose, window, self.law, own.near_m, own.far_m, self.corners, self.cutting)

    @cached_property
    def cutting(self) -> CuttingPlane | None:
        """The plane that opens the set, its normal of length 1."""
        return cutting_of(self.shot)

    @cached_property
    def corners(self) -> Corners:
        """What the lens does to its corners, as it is stopped down; a parallel picture has no lens that could."""
        shot = self.shot
        own, n, circle = shot.lens.falloff, shot.focus.f_number, self.circle_mm
        if shot.lens.scale_m is not None or (not own.natural and own.mechanical == 0.0 and circle is None):
            return EVEN
        pupil = 1.0 if n is None else min(1.0, own.open_f_number / n)
        shift = 0.0 if n is None or own.mechanical == 0.0 else rim_shift(own.mechanical)
        return Corners(own.natural, shift, corner_mm(shot), pupil, circle)

    @property
    def circle_mm(self) -> float | None:
        """Diameter of what the lens draws; None for no bound, as a parallel picture has none."""
        return None if self.shot.lens.scale_m is not None else self.shot.movements.image_circle_mm

    @property
    def blurs(self) -> bool:
        """Whether anything is drawn less sharp than another: not by a pinhole, nor in a parallel picture."""
        return self.shot.focus.f_number is not None and self.law.blurs

    @property
    def aperture(self) -> Aperture | None:
        """The stop; None where everything is sharp."""
        own = self.shot.focus
        if not self.blurs:
            return None
        return Aperture(own.blades, own.blade_rotation_deg, own.rim_weight, own.squeeze, corner_mm(self.shot))

    @cached_property
    def blur_limit_mm(self) -> float:
        """The ruling blur limit, on film."""
        return focus.blur_limit_mm(self.shot.focus.blur_limit, self.shot.back, self.fitted)

    @cached_property
    def lean(self) -> tuple[float, float]:
        """The lean of the sharp zone, :func:`~zevlo.core.optics.tilt.lean_per_m`; none where the lens is not turned."""
        if self.tilt.cosine == 1.0:
            return 0.0, 0.0
        return lean_per_m(self.shot.lens.focal_length_mm, self.tilt)

    @cached_property
    def zone(self) -> SharpZone:
        """The sharp zone; a pinhole's goes from the lens to infinity."""
        here, n = 1.0 / self.shot.focus.distance_m, self.shot.focus.f_number
        if n is None or not self.blurs:
            return SharpZone(here, inf, 0.0, self.lean)
        f, u = self.shot.lens.focal_length_mm, self.shot.focus.distance_m * 1000.0
        depth = 1000.0 * focus.depth_per_mm(f, n, self.blur_limit_mm, u, self.tilt.cosine)
        far = here - depth
        return SharpZone(here, here + depth, far if self.lean != (0.0, 0.0) else max(0.0, far), self.lean)

    @cached_property
    def blur_law(self) -> BlurLaw:
        """How what lies outside the sharp zone is blurred; not at all where everything is sharp."""
        n = self.shot.focus.f_number
        if n is None or not self.blurs:
            return BlurLaw(0.0, self.zone.focus_per_m, self.lean, self.camera)
        f, u = self.shot.lens.focal_length_mm, self.shot.focus.distance_m * 1000.0
        times = focus.blur_times_mm(f, n, u, self.tilt.cosine)
        return BlurLaw(times / 1000.0 / self.fitted.pixel_mm, self.zone.focus_per_m, self.lean, self.camera)

    @property
    def nearest_focus_m(self) -> float:
        """The nearest the lens focuses, along its axis."""
        return nearest_focus_m(self.shot.lens.focal_length_mm, self.tilt.cosine)

    @property
    def hyperfocal_m(self) -> float | None:
        """Focused there, along the lens axis, all is sharp from half of it to infinity; None where everything is
        sharp."""
        f, n = self.shot.lens.focal_length_mm, self.shot.focus.f_number
        if n is None or not self.blurs:
            return None
        return focus.hyperfocal_mm(f, n, self.blur_limit_mm, self.tilt.cosine) / 1000.0

    @property
    def effective_f_number(self) -> float | None:
        """N, or N(1+m) where the lens breathes, for exposure."""
        n = self.shot.focus.f_number
        if n is None or not self.shot.lens.focus_breathing:
            return n
        f, u = self.shot.lens.focal_length_mm, self.shot.focus.distance_m * 1000.0
        return n * (1.0 + lens.magnification(f, u, self.tilt.cosine))

    @property
    def ev100(self) -> float:
        """What the shot is exposed for."""
        return exposure.ev100(self.effective_f_number, self.shot.exposure.shutter_s, self.shot.exposure.iso)

    @cached_property
    def shown(self) -> WorkingSet:
        """The set without what the shot leaves out: what its picture shows, what stands in its way, what it is sharp
        on. To be asked only of a framing that has a set."""
        working, gone = self.working, self.shot.left_out
        if working is None:
            raise LookupError("this framing was made without a set")
        return working.without(working.model.parts_at(gone)) if gone else working


def camera_of(shot: Shot) -> Camera:
    """A shot's camera, for who asks nothing else of it."""
    return Framing(shot).camera


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


def cutting_of(shot: Shot) -> CuttingPlane | None:
    """The plane a shot opens the set by, its normal of length 1."""
    plane = shot.lens.cutting_plane
    if plane is None:
        return None
    x, y, z = plane.normal
    length = hypot(x, y, z)
    return CuttingPlane(plane.point, (x / length, y / length, z / length))
