"""The renderer behind one small protocol: passes of light over a frame, added up until there are enough."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from zevlo.core.camera import WHOLE, Frame, Rays, camera_of
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.model import SetModel
from zevlo.core.shot import Shot
from zevlo.lab.lens_rays import LensRays
from zevlo.lab.mitsuba_setup import mitsuba
from zevlo.lab.stage import Stage

Image = NDArray[np.float32]
MAX_DEPTH = 7
ROULETTE_FROM = 3


@dataclass(frozen=True)
class Exposure:
    """What has gathered on the film: linear RGB in cd/m² (H, W, 3), what surfaces are (albedo, normal), count."""

    light: Image
    albedo: Image
    normal: Image
    samples: int


class Renderer(Protocol):
    """Anything that can make a shot's picture from a set and its light, pass by pass."""

    name: str

    def passes(
        self, shot: Shot, size: tuple[int, int], plan: list[int], seed: int, frame: Frame = WHOLE
    ) -> Iterator[Exposure]:  # fmt: skip
        """The film after each pass; ``plan`` lists the samples per pixel of the passes, ``frame`` what of it is
        shown."""
        ...

    def per_metre(self, shot: Shot, rays: Rays) -> NDArray[np.float64]:
        """The inverses (n,) of the depths, as the law counts them, of what rays of a shot meet; 0 for the sky."""
        ...


class MitsubaRenderer:
    """Mitsuba's path tracing through our own lens."""

    def __init__(
        self, model: SetModel | Stage, light: PlacedLight | LightSetup, left_out: tuple[str, ...] = ()
    ) -> None:
        """Raises ValueError where everything is left out."""
        mi = mitsuba()
        self.name = f"Mitsuba {mi.__version__}"
        stage = model if isinstance(model, Stage) else Stage(model)
        self._scene = stage.scene(light if isinstance(light, PlacedLight) else PlacedLight(light=light), left_out)
        path = "volpath" if stage.glassy else "path"
        self._integrator = mi.load_dict(
            {"type": "aov", "aovs": "surface:albedo,facing:sh_normal",
             "light": {"type": path, "max_depth": MAX_DEPTH, "rr_depth": ROULETTE_FROM}}
        )  # fmt: skip

    def passes(
        self, shot: Shot, size: tuple[int, int], plan: list[int], seed: int, frame: Frame = WHOLE
    ) -> Iterator[Exposure]:
        mi = mitsuba()
        width, height = size
        lens = LensRays(shot, width, height, frame)
        total = np.zeros((height, width, 9), dtype=np.float64)
        done = 0
        for number, samples in enumerate(plan):
            sampler = mi.load_dict({"type": "independent"})
            sampler.seed(seed * 65_537 + number, width * height * samples)
            total += self._one_pass(lens, sampler, samples) * samples
            done += samples
            mean = (total / done).astype(np.float32)
            yield Exposure(mean[..., :3].copy(), mean[..., 3:6].copy(), mean[..., 6:9].copy(), done)

    def per_metre(self, shot: Shot, rays: Rays) -> NDArray[np.float64]:
        mi = mitsuba()
        starts, ways = rays.starts.T.astype(np.float32), rays.ways.T.astype(np.float32)
        far = np.minimum(rays.far - rays.near, np.finfo(np.float32).max).astype(np.float32)
        ray = mi.Ray3f(mi.Point3f(*starts), mi.Vector3f(*ways), mi.Float(far), mi.Float(0.0), mi.Color0f())
        met = np.array(self._scene.ray_intersect_preliminary(ray, coherent=True).t, dtype=np.float64)
        there = np.isfinite(met) & (met < far)
        depth = camera_of(shot).depths(rays, rays.near + np.where(there, met, 1.0))
        return np.where(there & (depth > 0.0), 1.0 / np.maximum(depth, 1.0e-9), 0.0)

    def _one_pass(self, lens: LensRays, sampler: Any, samples: int) -> NDArray[np.float64]:
        import drjit as dr

        ray, weight = lens.sample(sampler, samples)
        color, _, extra = self._integrator.sample(self._scene, sampler, ray)
        # The first four extras repeat the light with its coverage; albedo and normal follow.
        surface = extra[-6:]
        planes = [color.x * weight, color.y * weight, color.z * weight, *surface]
        dr.eval(*planes)  # together: one by one, each would trace every path again
        means = [dr.block_sum(plane, samples) / samples for plane in planes]
        dr.eval(*means)
        stacked = np.stack([np.array(mean) for mean in means], axis=-1)
        return stacked.reshape(lens.height, lens.width, 9).astype(np.float64)
