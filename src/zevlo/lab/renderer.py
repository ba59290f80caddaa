"""The renderer behind one small protocol: passes of light over a frame, added up until there are enough."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from zevlo.core.camera.camera import WHOLE, Frame, Rays
from zevlo.core.camera.from_shot import camera_of
from zevlo.core.finals.noise import BRIGHTEST, grain
from zevlo.core.light.setup import LightSetup
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.shot import Shot
from zevlo.lab.lens_rays import LensRays, kept
from zevlo.lab.mitsuba_setup import mitsuba
from zevlo.lab.stage import Stage

Image = NDArray[np.float32]
BOUNCES = 6
"""How often a proof follows light from one surface to the next."""
ROULETTE_FROM = 3


@dataclass(frozen=True)
class Exposure:
    """What has gathered on the film: linear RGB in cd/m² (H, W, 3), what surfaces are (albedo, normal), count."""

    light: Image
    albedo: Image
    normal: Image
    samples: int


@dataclass(frozen=True)
class Gathered:
    """Means over the samples a tile of a final gathered so far."""

    planes: Image
    """(H, W, 11): light in cd/m², albedo, normal, brightness of a sample over white and its square."""
    samples: int

    def __add__(self, more: Gathered) -> Gathered:
        """Both together: the same to the bit wherever it is counted."""
        samples = self.samples + more.samples
        total = self.planes.astype(np.float64) * self.samples + more.planes.astype(np.float64) * more.samples
        return Gathered((total / samples).astype(np.float32), samples)

    @property
    def grain(self) -> float:
        """The noise that is left in it, in steps of 255."""
        mean, square = (self.planes[..., n].astype(np.float64) for n in (9, 10))
        return grain(mean, square, self.samples)

    def packed(self) -> bytes:
        """As bytes, the lowest of each number first."""
        return self.planes.astype("<f4").tobytes()

    @classmethod
    def unpacked(cls, data: bytes, size: tuple[int, int], samples: int) -> Gathered:
        """From bytes, for a tile of ``size`` pixels."""
        return cls(np.frombuffer(data, "<f4").reshape(size[1], size[0], 11).astype(np.float32), samples)


class Renderer(Protocol):
    """Anything that can make a shot's picture from a set and its light, pass by pass."""

    name: str
    part_names: tuple[str, ...]
    """What the parts of the set are known by, by their numbers."""

    def passes(
        self, shot: Shot, size: tuple[int, int], plan: list[int], seed: int, frame: Frame = WHOLE
    ) -> Iterator[Exposure]:  # fmt: skip
        """The film after each pass of a ``shot``, ``size``: (width, height) in pixels; ``plan`` lists the samples per
        pixel of the passes, ``frame`` what of it is shown; ``seed``: of the chance rays take."""
        ...

    def tile(self, shot: Shot, size: tuple[int, int], frame: Frame, samples: int, seed: int, white: float) -> Gathered:
        """What ``samples`` rays a pixel gather on a part of a shot's frame, ``size`` pixels; ``white``: cd/m²;
        ``seed``: as for :meth:`passes`."""
        ...

    def per_metre(self, shot: Shot, rays: Rays) -> NDArray[np.float64]:
        """The inverses (n,) of the depths, as the law counts them, of what rays of a shot meet; 0 for the sky."""
        ...

    def parts_met(
        self, shot: Shot, size: tuple[int, int], frame: Frame, samples: int, seed: int
    ) -> NDArray[np.int32]:  # fmt: skip
        """The numbers (n, samples) of the parts that rays through a frame's pixels meet, row by row from the top; -1
        where they meet none. ``shot``, ``size``, ``seed``: as for :meth:`passes`."""
        ...


class MitsubaRenderer:
    """Mitsuba's path tracing through our own lens."""

    def __init__(
        self,
        model: SetModel | Stage,
        light: PlacedLight | LightSetup,
        left_out: tuple[str, ...] = (),
        bounces: int = BOUNCES,
    ) -> None:
        """Raises ValueError where everything is left out."""
        mi = mitsuba()
        self.name = f"Mitsuba {mi.__version__}"
        stage = model if isinstance(model, Stage) else Stage(model)
        self._stage = stage
        self.part_names = stage.part_names
        self._scene = stage.scene(light if isinstance(light, PlacedLight) else PlacedLight(light=light), left_out)
        path = "volpath" if stage.glassy else "path"
        self._integrator = mi.load_dict(
            {"type": "aov", "aovs": "surface:albedo,facing:sh_normal",
             "light": {"type": path, "max_depth": bounces + 1, "rr_depth": ROULETTE_FROM}}
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
            total += self._one_pass(lens, sampler, samples)[..., :9] * samples
            done += samples
            mean = (total / done).astype(np.float32)
            yield Exposure(mean[..., :3].copy(), mean[..., 3:6].copy(), mean[..., 6:9].copy(), done)

    def tile(self, shot: Shot, size: tuple[int, int], frame: Frame, samples: int, seed: int, white: float) -> Gathered:
        mi = mitsuba()
        lens = LensRays(shot, *size, frame)
        sampler = mi.load_dict({"type": "independent"})
        sampler.seed(seed, size[0] * size[1] * samples)
        return Gathered(self._one_pass(lens, sampler, samples, white).astype(np.float32), samples)

    def parts_met(self, shot: Shot, size: tuple[int, int], frame: Frame, samples: int, seed: int) -> NDArray[np.int32]:
        import drjit as dr

        mi = mitsuba()
        lens = LensRays(shot, *size, frame)
        sampler = mi.load_dict({"type": "independent"})
        sampler.seed(seed, size[0] * size[1] * samples)
        ray, weight = lens.sample(sampler, samples)
        met = self._scene.inside.ray_intersect_preliminary(ray, coherent=True)
        first, owners = self._stage.owners(self._scene)
        shape: Any = dr.reinterpret_array(mi.UInt32, met.shape)
        there = met.is_valid() & (weight > 0.0)
        face = dr.gather(mi.UInt32, mi.UInt32(first), shape, there) + met.prim_index
        owner = dr.select(there, dr.gather(mi.Int32, mi.Int32(owners), face, there), mi.Int32(-1))
        return np.asarray(np.array(owner).reshape(-1, samples), dtype=np.int32)

    def per_metre(self, shot: Shot, rays: Rays) -> NDArray[np.float64]:
        mi = mitsuba()
        starts, directions = rays.starts.T.astype(np.float32), rays.directions.T.astype(np.float32)
        far = np.minimum(rays.far - rays.near, np.finfo(np.float32).max).astype(np.float32)
        ray = mi.Ray3f(mi.Point3f(*starts), mi.Vector3f(*directions), mi.Float(far), mi.Float(0.0), mi.Color0f())
        met = np.array(self._scene.inside.ray_intersect_preliminary(ray, coherent=True).t, dtype=np.float64)
        there = np.isfinite(met) & (met < far)
        depth = camera_of(shot).depths(rays, rays.near + np.where(there, met, 1.0))
        return np.where(there & (depth > 0.0), 1.0 / np.maximum(depth, 1.0e-9), 0.0)

    def _one_pass(self, lens: LensRays, sampler: Any, samples: int, white: float = 1.0) -> NDArray[np.float64]:
        """Means (H, W, 11), as :class:`Gathered` has them."""
        import drjit as dr

        mi = mitsuba()
        ray, weight = lens.sample(sampler, samples)
        color, _, extra = self._integrator.sample(self._scene.inside, sampler, ray)
        # The first four extras repeat the light with its coverage; albedo and normal follow.
        surface = extra[-6:]
        light = color * weight
        bright = dr.minimum(dr.maximum(mi.luminance(light) / kept(white), 0.0), BRIGHTEST)
        planes = [light.x, light.y, light.z, *surface, bright, bright * bright]
        dr.eval(*planes)  # together: one by one, each would trace every path again
        means = [dr.block_sum(plane, samples) / samples for plane in planes]
        dr.eval(*means)
        stacked = np.stack([np.array(mean) for mean in means], axis=-1)
        return stacked.reshape(lens.height, lens.width, 11).astype(np.float64)
