"""The shot's lens as rays: exactly its window, focus, stop and aperture shape, made inside the renderer.

A point of the window is seen through the lens centre to where it is in focus, on the plane of focus; the ray runs
there from a point of the aperture, which lies in the plane of the lens, turned as that is. Thin lens, so it agrees with
docs/optics.md.

What differs from shot to shot is read from memory: written into the program that follows the rays, each shot would have
that compiled anew, which takes longer than a pass of its proof.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import cached_property
from math import pi
from typing import Any, TypeVar

from zevlo.core.camera.camera import WHOLE, Frame
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.optics.aperture import Aperture, Edge, mechanical_edge
from zevlo.core.shot import Shot
from zevlo.lab.mitsuba_setup import mitsuba

_AS_THE_RENDERER_SAYS = {"where": "select", "arcsin": "asin", "arctan": "atan", "arctan2": "atan2"}


class _Arrays:
    """The renderer's arrays as the laws ask for them."""

    def __getattr__(self, name: str) -> Any:
        import drjit as dr

        return getattr(dr, _AS_THE_RENDERER_SAYS.get(name, name))


DR = _Arrays()
Model = TypeVar("Model", bound=Any)


def kept(value: float) -> Any:
    """A number that is read from memory."""
    import drjit as dr

    return dr.opaque(mitsuba().Float, value)


def _numbers_kept(one: Model) -> Model:
    """A frozen model whose numbers, and what it works out of them once, are read from memory."""
    values = {of.name: getattr(one, of.name) for of in fields(one)}
    read = replace(one, **{name: kept(value) for name, value in values.items() if isinstance(value, float)})
    for name in dir(type(one)):
        if isinstance(getattr(type(one), name), cached_property):
            vars(read)[name] = kept(getattr(one, name))
    return read


@dataclass(frozen=True)
class LensRays:
    """A shot's rays for a picture of ``width`` × ``height`` pixels, of all its frame or of a part of it. Lengths in
    metres, window in film mm."""

    shot: Shot
    width: int
    height: int
    frame: Frame = WHOLE

    def sample(self, sampler: Any, samples: int) -> tuple[Any, Any]:
        """Rays for ``samples`` per pixel, pixel by pixel, rows from the top; and the weight of each."""
        import drjit as dr

        mi = mitsuba()
        camera = camera_of(self.shot).within(self.frame)
        window, pose, law = camera.window, camera.pose, _numbers_kept(camera.law)
        left, top, across, down = map(
            kept, (window.left, window.top, window.width / self.width, window.height / self.height)
        )
        columns, each = (dr.opaque(mi.UInt32, value) for value in (self.width, samples))
        index = dr.arange(mi.UInt32, self.width * self.height * samples) // each
        row = index // columns
        column = index - row * columns
        jitter = sampler.next_2d()
        x = left + (mi.Float(column) + jitter.x) * across
        y = top - (mi.Float(row) + jitter.y) * down
        right, up, forward = (mi.Vector3f(*map(kept, axis)) for axis in (pose.right, pose.up, pose.forward))
        centre = mi.Point3f(*map(kept, pose.position))
        off_right, off_up, a, b, c, sees = law.rays(DR, x, y)
        origin = centre + off_right * right + off_up * up
        direction = a * right + b * up + c * forward
        focus, shade = self.shot.focus, dr.select(sees, mi.Float(1.0), mi.Float(0.0))
        weight, corners = mi.Float(1.0), camera.corners
        if corners.natural:
            shade = shade * law.falloff(DR, x, y)
        if not camera.within_circle:
            shade = shade * _numbers_kept(corners).drawn(DR, x, y)
        aperture = Framing(self.shot).aperture
        if aperture is not None and focus.f_number is not None:
            # Half of f/N; without breathing the picture is drawn at f though its film stands at v, so the
            # aperture is taken v/f wider: then blur covers as many pixels as the sheet says.
            f = self.shot.lens.focal_length_mm
            radius = f / (2000.0 * focus.f_number)
            if not self.shot.lens.focus_breathing:
                radius *= Framing(self.shot).sharp_image_mm / f
            across, over = _place_in(aperture, sampler)
            light, of_square = map(kept, aperture.weights)
            weight = light + of_square * (across * across + over * over)
            rim, squeezing = (
                None if edge is None else _numbers_kept(edge) for edge in (mechanical_edge(corners), aperture.edge)
            )
            for edge in (rim, squeezing):
                if edge is not None:
                    shade = dr.select(edge.clear(DR, x, y, across, over), shade, 0.0)
            if squeezing is not None:
                # What the edge lets through is as bright as all of it would be: it shapes the blur, it does not darken.
                shade = shade / dr.maximum(_clear_share(aperture, squeezing, x, y), 1.0e-3)
            across, over = across * kept(radius), over * kept(radius)
            zone = Framing(self.shot).zone
            focus_per_m, lean_across, lean_up = map(kept, (zone.focus_per_m, *zone.lean))
            if law.radial:
                # The pupil of such a lens turns towards what it sees: the plain aperture, tipped over to the ray.
                tip = (forward + direction) / dr.maximum(1.0 + c, 1.0e-6)
                pupil = across * (right - a * tip) + over * (up - b * tip)
                direction = dr.normalize(direction - focus_per_m * pupil)
            else:
                turned, axes = Framing(self.shot).tilt, (right, up, forward)
                first, second = (
                    sum((kept(part) * axis for part, axis in zip(own, axes, strict=True)), mi.Vector3f(0.0))
                    for own in (turned.right, turned.up)
                )
                pupil = across * first + over * second
                # From the pupil to where the middle ray meets the plane of focus; behind the camera, away from there.
                per_m = focus_per_m + (lean_across * a + lean_up * b) / c
                direction = dr.normalize(direction / c - per_m * pupil)
            origin += pupil
        # Rays start at the near clip and end at the far one.
        per_metre = mi.Float(1.0) if law.radial else dr.dot(direction, forward)
        ray = mi.RayDifferential3f(origin + kept(camera.near_m) / per_metre * direction, direction)
        if camera.far_m is not None:
            ray.maxt = kept(camera.far_m - camera.near_m) / per_metre
        return ray, weight * shade


def _place_in(aperture: Aperture, sampler: Any) -> tuple[Any, Any]:
    """A place of the stop, uniform over its area."""
    import drjit as dr

    mi = mitsuba()
    u = sampler.next_2d()
    if aperture.round:
        point = mi.warp.square_to_uniform_disk_concentric(u)
        return point.x, point.y
    step, scaled = kept(2.0 * pi / aperture.blades), u.x * kept(aperture.blades)
    blade = dr.floor(scaled)
    side, out = scaled - blade, kept(aperture.reach) * dr.sqrt(u.y)
    a = kept(aperture.first_corner) + blade * step
    b = a + step
    return (
        out * ((1.0 - side) * dr.cos(a) + side * dr.cos(b)),
        out * ((1.0 - side) * dr.sin(a) + side * dr.sin(b)),
    )


def _clear_share(aperture: Aperture, edge: Edge, x: Any, y: Any) -> Any:
    """Share of the stop's light that comes past an edge, by the core's table of it."""
    import drjit as dr

    mi = mitsuba()
    shares = aperture.clear_shares().shares
    rows, columns = shares.shape[0] - 1, shares.shape[1] - 1
    table = mi.Float(shares.ravel())
    turn = dr.atan2(y, x) / (2.0 * pi)
    row = (turn - dr.floor(turn)) * rows
    column = dr.minimum(edge.by * dr.sqrt(x * x + y * y) / (2.0 * edge.radius), 1.0) * columns
    a, b = dr.minimum(mi.UInt32(row), rows - 1), dr.minimum(mi.UInt32(column), columns - 1)
    s, t = row - a, column - b

    def at(down: Any, right: Any) -> Any:
        return dr.gather(mi.Float, table, down * (columns + 1) + right)

    low, high = ((1.0 - t) * at(one, b) + t * at(one, b + 1) for one in (a, a + 1))
    return (1.0 - s) * low + s * high
