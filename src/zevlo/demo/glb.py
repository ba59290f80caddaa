"""Writes the demonstration set as a GLB file, Y up as glTF 2.0 asks, by the plain specification."""

from __future__ import annotations

import io
import json
import struct
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zevlo.demo.pottery import Layout, layout
from zevlo.demo.solids import Shaded, shaded
from zevlo.demo.surfaces import SURFACES, Surface, texture


@dataclass
class _Buffer:
    data: bytearray = field(default_factory=bytearray)
    views: list[dict[str, Any]] = field(default_factory=list)
    accessors: list[dict[str, Any]] = field(default_factory=list)

    def view(self, raw: bytes) -> int:
        self.data.extend(b"\0" * (-len(self.data) % 4))
        self.views.append({"buffer": 0, "byteOffset": len(self.data), "byteLength": len(raw)})
        self.data.extend(raw)
        return len(self.views) - 1

    def accessor(self, array: NDArray[Any], kind: str, bounded: bool = False) -> int:
        entry: dict[str, Any] = {
            "bufferView": self.view(array.tobytes()),
            "componentType": 5126 if array.dtype == np.float32 else 5125,
            "count": len(array),
            "type": kind,
        }
        if bounded:
            entry["min"], entry["max"] = array.min(axis=0).tolist(), array.max(axis=0).tolist()
        if kind == "SCALAR":
            entry["count"] = array.size
        self.accessors.append(entry)
        return len(self.accessors) - 1


def _y_up(points: NDArray[np.float64]) -> NDArray[np.float32]:
    return np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1).astype(np.float32)


def _linear(color: tuple[int, int, int]) -> list[float]:
    c = np.array(color) / 255.0
    linear = np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)
    return [round(float(v), 5) for v in linear]


def _material(surface: Surface, textures: dict[str, int]) -> dict[str, Any]:
    metal: dict[str, Any] = {
        "baseColorFactor": [*_linear(surface.color), 1.0],
        "metallicFactor": surface.metallic,
        "roughnessFactor": surface.roughness,
    }
    if surface.texture is not None:
        metal["baseColorTexture"] = {"index": textures[surface.texture]}
    made: dict[str, Any] = {"name": surface.name, "pbrMetallicRoughness": metal}
    if surface.glow_cd_m2:
        made["emissiveFactor"] = _linear(surface.color)
        made["extensions"] = {"KHR_materials_emissive_strength": {"emissiveStrength": surface.glow_cd_m2}}
    return made


def _primitive(buffer: _Buffer, solid: Shaded, surface: Surface, material: int) -> dict[str, Any]:
    attributes = {
        "POSITION": buffer.accessor(_y_up(solid.vertices), "VEC3", bounded=True),
        "NORMAL": buffer.accessor(_y_up(solid.normals), "VEC3"),
    }
    if surface.texture is not None:
        uv = (solid.uv / surface.repeat_m * [1.0, -1.0]).astype(np.float32)
        attributes["TEXCOORD_0"] = buffer.accessor(uv, "VEC2")
    return {
        "attributes": attributes,
        "indices": buffer.accessor(solid.faces.astype(np.uint32).ravel(), "SCALAR"),
        "material": material,
    }


def pottery_glb(made: Layout | None = None) -> bytes:
    """The demonstration set as one GLB file; the same bytes each time."""
    made = layout() if made is None else made
    buffer = _Buffer()
    names = sorted({name for p in made.pieces if (name := SURFACES[p.surface].texture) is not None})
    images = []
    for name in names:
        assert name is not None
        packed = io.BytesIO()
        texture(name).save(packed, "JPEG", quality=88)
        images.append({"bufferView": buffer.view(packed.getvalue()), "mimeType": "image/jpeg", "name": name})
    textures = {name: n for n, name in enumerate(names) if name is not None}
    used = sorted({p.surface for p in made.pieces})
    materials = [_material(SURFACES[name], textures) for name in used]
    shades = {shape: shaded(solid) for shape, solid in made.shapes.items()}
    meshes: list[dict[str, Any]] = []
    mesh_of: dict[tuple[str, str], int] = {}
    nodes: list[dict[str, Any]] = []
    node_of: dict[str, int] = {}
    for name, parent in made.groups.items():
        node_of[name] = len(nodes)
        nodes.append({"name": name})
        if parent is not None:
            nodes[node_of[parent]].setdefault("children", []).append(node_of[name])
    for piece in made.pieces:
        key = (piece.shape, piece.surface)
        if key not in mesh_of:
            mesh_of[key] = len(meshes)
            surface = SURFACES[piece.surface]
            primitive = _primitive(buffer, shades[piece.shape], surface, used.index(piece.surface))
            meshes.append({"name": f"{piece.shape}, {piece.surface}", "primitives": [primitive]})
        node: dict[str, Any] = {"name": piece.name, "mesh": mesh_of[key]}
        x, y, z = piece.at
        if piece.at != (0.0, 0.0, 0.0):
            node["translation"] = [x, z, -y]
        if piece.turn_deg:
            half = np.radians(piece.turn_deg) / 2
            node["rotation"] = [0.0, float(np.sin(half)), 0.0, float(np.cos(half))]
        nodes[node_of[piece.group]].setdefault("children", []).append(len(nodes))
        nodes.append(node)
    buffer.data.extend(b"\0" * (-len(buffer.data) % 4))
    document = {
        "asset": {"version": "2.0", "generator": "Zevlo demonstration set"},
        "extensionsUsed": ["KHR_materials_emissive_strength"],
        "scene": 0,
        "scenes": [{"name": "Tide Tower Pottery", "nodes": [0]}],
        "nodes": nodes,
        "meshes": meshes,
        "materials": materials,
        "textures": [{"source": n, "sampler": 0} for n in range(len(images))],
        "samplers": [{"magFilter": 9729, "minFilter": 9987, "wrapS": 10497, "wrapT": 10497}],
        "images": images,
        "accessors": buffer.accessors,
        "bufferViews": buffer.views,
        "buffers": [{"byteLength": len(buffer.data)}],
    }
    return pack_glb(document, bytes(buffer.data))


def pack_glb(document: dict[str, Any], binary: bytes) -> bytes:
    """A GLB container (glTF 2.0, 4.4) of a JSON document and one binary chunk, both padded."""
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    binary = bytes(binary) + b"\0" * (-len(binary) % 4)
    size = 12 + 8 + len(text) + 8 + len(binary)
    return b"".join(
        [
            struct.pack("<4sII", b"glTF", 2, size),
            struct.pack("<I4s", len(text), b"JSON"),
            text,
            struct.pack("<I4s", len(binary), b"BIN\0"),
            binary,
        ]
    )
