"""The set and its light as a Mitsuba scene: triangles merged by material, because many shapes are slow."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image

from zevlo.core.light.setup import SUN_RADIUS_DEG, LightSetup, sky_radiance, sun_irradiance, toward_sun
from zevlo.core.scene.model import Material, SetModel
from zevlo.lab.mitsuba_setup import mitsuba

SUN_DISTANCE_IN_SETS = 40.0
DIFFUSE_FROM_ROUGHNESS = 0.85


def build_stage(model: SetModel, light: LightSetup) -> Any:
    """A Mitsuba scene in cd/m² and lux. Everything in the set is in it, lifted off or not."""
    mi = mitsuba()
    parts: dict[str, Any] = {"type": "scene"}
    textures: dict[tuple[int, tuple[float, float, float]], Any] = {}
    for number, material in enumerate(model.materials):
        chosen = np.flatnonzero(model.face_material == number)
        if len(chosen):
            surface = _surface(material, model, textures)
            for kind, faces in _by_kind(model, chosen).items():
                parts[f"surface_{number}_{kind}"] = _mesh(model, faces, kind, surface, material)
    sky = sky_radiance(light.sky)
    if sky.any():
        parts["sky"] = {"type": "constant", "radiance": {"type": "rgb", "value": sky.tolist()}}
    sun = sun_irradiance(light.sun)
    if sun.any():
        parts["sun"] = _sun(model, light, sun)
    return mi.load_dict(parts)


def _sun(model: SetModel, light: LightSetup, irradiance: np.ndarray) -> dict[str, Any]:
    """A disc far off that fills the sun's angle, so that shadows have the soft edge they have outside."""
    mi = mitsuba()
    low, high = model.bounds
    centre, way = (low + high) / 2.0, toward_sun(light.sun)
    distance = SUN_DISTANCE_IN_SETS * float(np.linalg.norm(high - low))
    radius = distance * float(np.tan(np.radians(SUN_RADIUS_DEG)))
    radiance = irradiance / (np.pi * np.sin(np.radians(SUN_RADIUS_DEG)) ** 2)
    place = centre + distance * way
    up = [0.0, 0.0, 1.0] if abs(way[2]) < 0.99 else [0.0, 1.0, 0.0]
    turn = mi.ScalarTransform4f().look_at(origin=place.tolist(), target=centre.tolist(), up=up)
    return {
        "type": "disk",
        "to_world": turn @ mi.ScalarTransform4f().scale([radius, radius, 1.0]),
        "emitter": {"type": "area", "radiance": {"type": "rgb", "value": radiance.tolist()}},
        "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}},
    }


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
    if material.alpha < 0.999:
        made = {"type": "mask", "opacity": material.alpha, "inner": made}
    return mi.load_dict(made)


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
