"""The set and its light as a Mitsuba scene: triangles merged by material, because many shapes are slow."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image

from zevlo.core.light.setup import SUN_RADIUS_DEG, sky_radiance, sun_irradiance
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.model.set_model import Material, SetModel, distinct_names
from zevlo.lab.mitsuba_setup import mitsuba
from zevlo.text import lab as say

SUN_BEAMS = 64
GOLDEN_ANGLE = np.pi * (3.0 - np.sqrt(5.0))
DIFFUSE_FROM_ROUGHNESS = 0.85


@dataclass(frozen=True)
class Scene:
    """What the renderer follows rays through, and the set's faces that each of its meshes is made of."""

    inside: Any
    meshes: tuple[tuple[Any, np.ndarray], ...]


class Stage:
    """A set made ready for the renderer once: its surfaces, pictures and meshes. What is left out of it, and the light
    on it, come with each scene; meshes nothing is left out of are the same in all."""

    def __init__(self, model: SetModel) -> None:
        self._model = model
        self._surfaces: dict[int, Any] = {}
        self._textures: dict[tuple[int, tuple[float, float, float]], Any] = {}
        self._meshes: dict[tuple[int, str], Any] = {}
        self._last: tuple[PlacedLight, tuple[str, ...], Scene] | None = None
        order = np.argsort(model.face_material, kind="stable")
        ends = np.cumsum(np.bincount(model.face_material, minlength=len(model.materials)))
        self._faces = np.split(order, ends[:-1])

    @property
    def part_names(self) -> tuple[str, ...]:
        """What the parts are known by, by their numbers: their names, with what they are in where a name comes twice,
        and with their ids where that does too."""
        return distinct_names(self._model)

    @property
    def glassy(self) -> bool:
        """Whether light goes through some of it."""
        return any(material.alpha < 0.999 or material.holes is not None for material in self._model.materials)

    def scene(self, light: PlacedLight, left_out: tuple[str, ...] = ()) -> Scene:
        """A Mitsuba scene in cd/m² and lux, without what a shot leaves out. Raises ValueError where that is everything.

        Everything else in the set is in it, lifted off or not.
        """
        if self._last is not None and self._last[:2] == (light, left_out):
            return self._last[2]
        kept = self._model.faces_without(self._model.parts_at(left_out)) if left_out else None
        if kept is not None and not kept.any():
            raise ValueError(say.EVERYTHING_IS_LEFT_OUT)
        parts: dict[str, Any] = {"type": "scene"}
        meshes: list[tuple[Any, np.ndarray]] = []
        for number, faces in enumerate(self._faces):
            for kind, own in _by_kind(self._model, faces).items():
                there = own if kept is None else own[kept[own]]
                if len(there):
                    meshes.append((self._mesh(number, kind, own, there), there))
                    parts[f"surface_{number}_{kind}"] = meshes[-1][0]
        parts |= _daylight(light)
        scene = Scene(mitsuba().load_dict(parts), tuple(meshes))
        self._last = light, left_out, scene
        return scene

    def owners(self, scene: Scene) -> tuple[np.ndarray, np.ndarray]:
        """Where the faces of each mesh of a scene begin in one list of them all, by the mesh's number in the renderer;
        and the number of the part that each face in that list belongs to."""
        import drjit as dr

        mi = mitsuba()
        at: Any = [dr.reinterpret_array(mi.UInt32, mi.ShapePtr(mesh)) for mesh, _ in scene.meshes]
        numbers = [int(one[0]) for one in at]
        counts = [len(faces) for _, faces in scene.meshes]
        first = np.zeros(max(numbers) + 1, dtype=np.uint32)
        first[numbers] = np.cumsum([0, *counts[:-1]])
        return first, self._model.owner_of(np.concatenate([faces for _, faces in scene.meshes]))

    def _mesh(self, number: int, kind: str, own: np.ndarray, there: np.ndarray) -> Any:
        material = self._model.materials[number]
        if number not in self._surfaces:
            self._surfaces[number] = _surface(material, self._model, self._textures)
        surface = self._surfaces[number]
        if len(there) < len(own):
            return _mesh(self._model, there, kind, surface, material)
        if (number, kind) not in self._meshes:
            self._meshes[number, kind] = _mesh(self._model, own, kind, surface, material)
        return self._meshes[number, kind]


def _daylight(light: PlacedLight) -> dict[str, Any]:
    parts: dict[str, Any] = {}
    sky = sky_radiance(light.light.sky)
    if sky.any():
        parts["sky"] = {"type": "constant", "radiance": {"type": "rgb", "value": sky.tolist()}}
    sun = sun_irradiance(light.light.sun)
    if sun.any():
        parts |= _sun(light.toward_sun(), sun)
    return parts


def _sun(toward: np.ndarray, irradiance: np.ndarray) -> dict[str, Any]:
    """Sunlight from everywhere on the sun's disc, as so many parallel beams: the same all over the set, with the soft
    edge shadows have outside. Nothing stands in the sky that could get before a lens.

    The beams lie on Vogel's spiral, which fills a disc evenly (Vogel 1979, from memory). All together they are chosen
    as often as one light.
    """
    side = np.cross(toward, [1.0, 0.0, 0.0] if abs(toward[0]) < 0.9 else [0.0, 1.0, 0.0])
    side /= np.linalg.norm(side)
    over = np.cross(side, toward)
    beams = {}
    for n in range(SUN_BEAMS):
        out = float(np.tan(np.radians(SUN_RADIUS_DEG))) * np.sqrt((n + 0.5) / SUN_BEAMS)
        turn = n * GOLDEN_ANGLE
        direction = toward + out * (np.cos(turn) * side + np.sin(turn) * over)
        beams[f"sun_{n}"] = {
            "type": "directional",
            "direction": (-direction / np.linalg.norm(direction)).tolist(),
            "irradiance": {"type": "rgb", "value": (irradiance / SUN_BEAMS).tolist()},
            "sampling_weight": 1.0 / SUN_BEAMS,
        }
    return beams


def _by_kind(model: SetModel, faces: np.ndarray) -> dict[str, np.ndarray]:
    """Faces split by whether their corners have normals and texture places: ``ns`` and the like."""
    first = model.faces[faces, 0]
    smooth = np.zeros(len(faces), bool) if model.normals is None else np.isfinite(model.normals[first, 0])
    placed = np.zeros(len(faces), bool) if model.uv is None else np.isfinite(model.uv[first, 0])
    kinds = {}
    for has_normals in (False, True):
        for has_uv in (False, True):
            chosen = faces[(smooth == has_normals) & (placed == has_uv)]
            if len(chosen):
                kinds[("n" if has_normals else "") + ("u" if has_uv else "") or "p"] = chosen
    return kinds


def _mesh(model: SetModel, faces: np.ndarray, kind: str, surface: Any, material: Material) -> Any:
    mi = mitsuba()
    used, places = np.unique(model.faces[faces], return_inverse=True)
    settings = mi.Properties()
    settings["surface"] = surface
    if any(material.emissive):
        glow = {"type": "area", "radiance": {"type": "rgb", "value": list(material.emissive)}}
        settings["glow"] = mi.load_dict(glow)
    settings["face_normals"] = "n" not in kind
    mesh = mi.Mesh(
        material.name, len(used), len(faces), has_vertex_normals="n" in kind, has_vertex_texcoords="u" in kind,
        props=settings,
    )  # fmt: skip
    arrays = mi.traverse(mesh)
    arrays["vertex_positions"] = model.vertices[used].astype(np.float32).ravel()
    arrays["faces"] = places.astype(np.uint32).ravel()
    if "n" in kind and model.normals is not None:
        arrays["vertex_normals"] = model.normals[used].astype(np.float32).ravel()
    if "u" in kind and model.uv is not None:
        arrays["vertex_texcoords"] = model.uv[used].astype(np.float32).ravel()
    arrays.update()
    return mesh


def _surface(material: Material, model: SetModel, textures: dict[tuple[int, tuple[float, float, float]], Any]) -> Any:
    mi = mitsuba()
    color: dict[str, Any] = {"type": "rgb", "value": [min(c, 0.95) for c in material.base_color]}
    if material.texture is not None:
        key = material.texture, material.base_color
        if key not in textures:
            textures[key] = mi.load_dict(_texture(model.pictures[material.texture], material))
        color = textures[key]
    if material.roughness >= DIFFUSE_FROM_ROUGHNESS and material.metallic < 0.05:
        inner: dict[str, Any] = {"type": "diffuse", "reflectance": color}
    else:
        inner = {
            "type": "principled",
            "base_color": color,
            "roughness": max(0.05, material.roughness),
            "metallic": material.metallic,
            "specular": 0.5,
        }
    made: dict[str, Any] = {"type": "twosided", "inner": inner}
    if material.texture is not None and material.holes is not None:
        made = {"type": "mask", "opacity": _holes(model.pictures[material.texture], material), "inner": made}
    elif material.alpha < 0.999:
        made = {"type": "mask", "opacity": material.alpha, "inner": made}
    return mi.load_dict(made)


def _holes(picture: bytes, material: Material) -> dict[str, Any]:
    """How much of a surface is there, by its picture's alpha: all or nothing, or as much as that is."""
    mi = mitsuba()
    with Image.open(io.BytesIO(picture)) as opened:
        alpha = np.asarray(opened.convert("RGBA"))[..., 3].astype(np.float32) / 255.0
    cut = material.holes or 0.0
    there = (alpha >= cut).astype(np.float32) if cut > 0.0 else alpha
    there = (there * material.alpha).astype(np.float16)[..., None]
    return {"type": "bitmap", "bitmap": mi.Bitmap(there), "raw": True, "wrap_mode": "repeat", "format": "fp16"}


def _texture(picture: bytes, material: Material) -> dict[str, Any]:
    """A picture times the material's colour, linear, in half precision: a set's pictures are the most of its memory."""
    mi = mitsuba()
    with Image.open(io.BytesIO(picture)) as opened:
        shown = np.asarray(opened.convert("RGB"))
    steps = np.arange(256) / 255.0
    straight = np.where(steps <= 0.04045, steps / 12.92, ((steps + 0.055) / 1.055) ** 2.4)
    table = np.clip(straight[:, None] * np.array(material.base_color), 0.0, 0.95).astype(np.float16)
    linear = np.stack([table[shown[..., channel], channel] for channel in range(3)], axis=-1)
    return {"type": "bitmap", "bitmap": mi.Bitmap(linear), "raw": True, "wrap_mode": "repeat", "format": "fp16"}
