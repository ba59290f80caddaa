"""A quick look at the set in its own light, by the core's rays: thumbnails and the light meter.

A small path tracer in numpy: sun and plain sky, diffuse surfaces in the colour they have from afar.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.light.setup import LUMINANCE_WEIGHTS, LightSetup, sky_radiance, sun_irradiance
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.model.rays import Hits, RayScene
from zevlo.core.scene.working import WorkingSet

_OFF_SURFACE_M = 1.0e-3


@dataclass(frozen=True)
class LitSet:
    """Rays, diffuse colour (F, 3) and own light (F, 3) of every face, and the light around."""

    rays: RayScene
    albedo: Floats
    glow: Floats
    light: PlacedLight
    scale: float = 1.0
    """How large the set is, 1 for a room: what is close by in it."""


def light_set(working: WorkingSet, light: PlacedLight | LightSetup) -> LitSet:
    """The set with the colour each face has from afar; bare metal is taken as half as bright."""
    model = working.model
    material = model.face_material[working.kept]
    seen = np.array([np.array(m.seen_color) * (1.0 - 0.5 * m.metallic) for m in model.materials])
    glow = np.array([m.emissive for m in model.materials], dtype=np.float64)
    placed = light if isinstance(light, PlacedLight) else PlacedLight(light=light)
    return LitSet(working.rays, np.clip(seen, 0.0, 0.9)[material], glow[material], placed, working.whole.scale)


def _sky_and_sun(lit: LitSet) -> tuple[Floats, Floats]:
    light = lit.light.light
    return sky_radiance(light.sky), sun_irradiance(light.sun)


def _scatter(normal: Floats, rng: np.random.Generator) -> Floats:
    """Cosine-weighted directions about unit normals, (N, 3)."""
    ball = rng.normal(size=normal.shape)
    ball /= np.linalg.norm(ball, axis=1, keepdims=True)
    direction = normal + ball
    size = np.linalg.norm(direction, axis=1, keepdims=True)
    return np.where(size > 1e-6, direction / np.maximum(size, 1e-6), normal)


def _first(rays: RayScene, origins: Floats, directions: Floats, reach: Floats | None) -> Hits:
    """First hits within ``reach`` (N,): what lies beyond is not met."""
    hit = rays.first(origins, directions)
    if reach is None:
        return hit
    return replace(hit, face=np.where(hit.distance <= reach, hit.face, -1))


def radiance(
    lit: LitSet, origins: Floats, directions: Floats, bounces: int, seed: int = 0, reach: Floats | None = None
) -> Floats:
    """Light coming back along rays, linear RGB in cd/m², (N, 3), one path each with ``bounces`` scatterings.

    ``reach`` (N,): how far the rays themselves see, to the far clip of a picture; what scatters sees all.

    ``lit``: the set in its light; ``origins``, ``directions`` (N, 3): of the rays, metres and unit; ``seed``: of the
    chance paths take."""
    rng = np.random.default_rng(seed)
    (sky, sun), sunward = _sky_and_sun(lit), lit.light.toward_sun()
    total = np.zeros((len(origins), 3))
    throughput = np.ones((len(origins), 3))
    alive = np.arange(len(origins))
    for bounce in range(bounces + 1):
        hit = _first(lit.rays, origins, directions, reach if bounce == 0 else None)
        missed = hit.face < 0
        total[alive[missed]] += throughput[missed] * sky
        met = ~missed
        if not met.any() or bounce == bounces:
            break
        alive, throughput = alive[met], throughput[met]
        face = hit.face[met]
        direction, distance = directions[met], hit.distance[met]
        normal = hit.normal[met]
        normal = np.where((np.einsum("ij,ij->i", normal, direction) > 0.0)[:, None], -normal, normal)
        place = origins[met] + distance[:, None] * direction + _OFF_SURFACE_M * lit.scale * normal
        total[alive] += throughput * lit.glow[face]
        throughput = throughput * lit.albedo[face]
        facing = normal @ sunward
        lightward = np.flatnonzero(facing > 0.0)
        if sun.any() and len(lightward):
            clear = ~lit.rays.blocked(place[lightward], np.broadcast_to(sunward, (len(lightward), 3)))
            reached = lightward[clear]
            total[alive[reached]] += throughput[reached] * facing[reached, None] * sun / np.pi
        origins, directions = place, _scatter(normal, rng)
    return total


AMBIENT_SHARE = 0.3
_NEAR_M = 1.2


def sketch(lit: LitSet, origins: Floats, directions: Floats, reach: Floats, seed: int = 0) -> Floats:
    """A quick picture without grain, linear RGB (N, 3): sun, and light from all around less what is close by.

    The light from all around is a share of the sun's, so that rooms and open air both read; only for thumbnails.
    ``reach`` (N,): how far the rays see.

    ``lit``: the set in its light; ``origins``, ``directions`` (N, 3): of the rays, metres and unit; ``seed``: of what
    is tried close by."""
    rng = np.random.default_rng(seed)
    (sky, sun), sunward = _sky_and_sun(lit), lit.light.toward_sun()
    ambient = AMBIENT_SHARE * sun / np.pi + 0.5 * sky
    seen = _first(lit.rays, origins, directions, reach)
    met = np.flatnonzero(seen.face >= 0)
    total = np.tile(2.0 * sky, (len(origins), 1))
    if len(met) == 0:
        return total
    direction, normal = directions[met], seen.normal[met]
    normal = np.where((np.einsum("ij,ij->i", normal, direction) > 0.0)[:, None], -normal, normal)
    place = origins[met] + seen.distance[met, None] * direction + _OFF_SURFACE_M * lit.scale * normal
    close = lit.rays.first(place, _scatter(normal, rng)).distance
    open_share = 0.68 + 0.32 * np.minimum(close / (_NEAR_M * lit.scale), 1.0)
    facing = np.maximum(normal @ sunward, 0.0)
    lightward = np.flatnonzero(facing > 0.0)
    shadow = np.ones(len(met), dtype=bool)
    shadow[lightward] = lit.rays.blocked(place[lightward], np.broadcast_to(sunward, (len(lightward), 3)))
    direct = np.where(shadow, 0.0, facing)[:, None] * sun / np.pi
    around = open_share * (0.8 + 0.2 * normal[:, 2])
    total[met] = lit.albedo[seen.face[met]] * (direct + around[:, None] * ambient)
    total[met] += np.minimum(lit.glow[seen.face[met]], 2.0 * sky)
    return total


def luminance_of(colors: Floats) -> Floats:
    """Luminance (N,) of linear RGB (N, 3), in its unit."""
    found: Floats = colors @ LUMINANCE_WEIGHTS
    return found


def middle_luminance(luminance: Floats) -> float:
    """Log-average of a frame's luminance in cd/m², as a patient light meter reads it."""
    return float(np.exp(np.mean(np.log(np.maximum(luminance, 1.0e-2)))))
