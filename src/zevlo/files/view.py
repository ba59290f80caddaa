"""The set as the desk draws it: GLB files with one object for each part, the largest parts first.

Positions are told from an origin near the set, so that single precision stays exact enough; a set of many
triangles is thinned out for drawing only. What is measured, cut or printed comes from the arrays.
"""

from __future__ import annotations

import hashlib
import json
import struct
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import meshoptimizer
import numpy as np

from zevlo.core.scene.model import Floats, Material, SetModel

MOST_DRAWN = 1_500_000
"""Triangles the desk draws; of more, each part gives its share (seen to turn smoothly on a plain laptop)."""
FILE_BYTES = 12 * 1024 * 1024
_THINNED_FROM = 400
_ARRAY, _ELEMENTS = 34962, 34963
_BYTE, _UINT, _FLOAT = 5120, 5125, 5126


def picture_name(raw: bytes) -> str:
    """What a texture is called by: the SHA-256 of its bytes."""
    return hashlib.sha256(raw).hexdigest()


def origin_of(model: SetModel) -> Floats:
    """The middle of the set where it lies far off for its size, else zero."""
    box = model.bounds
    far = float(np.abs(box).max()) > 8.0 * float((box[1] - box[0]).max())
    return box.mean(axis=0) if far else np.zeros(3)


def stand_ins_view(alone: SetModel, first_part: int) -> bytes:
    """The GLB of a set's stand-ins, in the world, where their first part has this number among all parts."""
    file = _File(alone.materials, [], called="stand-in", first_part=first_part)
    for number, part in enumerate(alone.parts):
        if part.face_count:
            _put_part(file, alone, number, np.zeros(3), 1.0)
    return file.packed()


def view_files(model: SetModel, origin: Floats, most: int = MOST_DRAWN) -> Iterator[tuple[bytes, int]]:
    """Each GLB and the number of triangles in it."""
    share = min(1.0, most / len(model.faces))
    sizes = []
    for number, part in enumerate(model.parts):
        if part.face_count:
            inside = model.vertices[model.faces[part.first_face : part.first_face + part.face_count].ravel()]
            sizes.append((float((inside.max(axis=0) - inside.min(axis=0)).max()), number))
    pictures = [picture_name(raw) for raw in model.pictures]
    file = _File(model.materials, pictures)
    drawn = 0
    for _, number in sorted(sizes, key=lambda entry: (-entry[0], entry[1])):
        drawn += _put_part(file, model, number, origin, share)
        if file.size > FILE_BYTES:
            yield file.packed(), drawn
            file, drawn = _File(model.materials, pictures), 0
    if file.nodes:
        yield file.packed(), drawn


def _put_part(file: _File, model: SetModel, number: int, origin: Floats, share: float) -> int:
    part = model.parts[number]
    these = slice(part.first_face, part.first_face + part.face_count)
    faces, kinds = model.faces[these], model.face_material[these]
    low, high = int(faces.min()), int(faces.max()) + 1
    positions = (model.vertices[low:high] - origin).astype(np.float32)
    normals = None if model.normals is None else model.normals[low:high]
    if normals is not None and not np.isfinite(normals).all():
        normals = None
    uv = None if model.uv is None else model.uv[low:high]
    if uv is not None and not np.isfinite(uv).all():
        uv = None
    primitives, drawn = [], 0
    for kind in np.unique(kinds).tolist():
        own = np.ascontiguousarray((faces[kinds == kind] - low).astype(np.uint32))
        if share < 1.0 and len(own) > _THINNED_FROM:
            own = _thinned(own, positions, share)
        used, first = np.unique(own.ravel(), return_inverse=True)
        primitives.append(
            file.primitive(
                first.astype(np.uint32),
                positions[used],
                None if normals is None else normals[used],
                None if uv is None else uv[used],
                kind,
            )
        )
        drawn += len(own)
    file.nodes.append({"name": f"part-{file.first_part + number}", "mesh": len(file.meshes)})
    file.meshes.append({"primitives": primitives})
    return drawn


def _thinned(faces: np.ndarray, positions: np.ndarray, share: float) -> np.ndarray:
    """Fewer triangles of nearly the same shape (meshoptimizer); no farther off than 1 % of the part."""
    flat = np.ascontiguousarray(faces.ravel())
    out = np.empty_like(flat)
    wanted = max(96, int(len(faces) * share)) * 3
    count = meshoptimizer.simplify(
        out, flat, np.ascontiguousarray(positions), target_index_count=wanted, target_error=0.01
    )
    return out[:count].reshape(-1, 3) if count else faces


@dataclass
class _File:
    materials: tuple[Material, ...]
    pictures: list[str]
    called: str = "material"
    first_part: int = 0
    nodes: list[dict[str, Any]] = field(default_factory=list)
    meshes: list[dict[str, Any]] = field(default_factory=list)
    accessors: list[dict[str, Any]] = field(default_factory=list)
    views: list[dict[str, Any]] = field(default_factory=list)
    pieces: list[bytes] = field(default_factory=list)
    size: int = 0

    def primitive(
        self, indices: np.ndarray, positions: np.ndarray, normals: np.ndarray | None, uv: np.ndarray | None, kind: int
    ) -> dict[str, Any]:
        attributes = {
            "POSITION": self._accessor(
                positions, _FLOAT, "VEC3", min=positions.min(axis=0).tolist(), max=positions.max(axis=0).tolist()
            )
        }
        if normals is not None:
            # One byte an axis is as fine as a screen shows (KHR_mesh_quantization); rows are padded to four.
            packed = np.zeros((len(normals), 4), dtype=np.int8)
            packed[:, :3] = np.round(np.clip(normals, -1.0, 1.0) * 127.0)
            attributes["NORMAL"] = self._accessor(packed, _BYTE, "VEC3", normalized=True)
        if uv is not None:
            down = np.stack([uv[:, 0], 1.0 - uv[:, 1]], axis=1).astype(np.float32)
            attributes["TEXCOORD_0"] = self._accessor(down, _FLOAT, "VEC2")
        return {
            "attributes": attributes,
            "indices": self._accessor(indices, _UINT, "SCALAR"),
            "material": kind,
        }

    def _accessor(self, values: np.ndarray, kind: int, shape: str, **more: Any) -> int:
        raw = np.ascontiguousarray(values).tobytes()
        view: dict[str, Any] = {"buffer": 0, "byteOffset": self.size, "byteLength": len(raw),
                                "target": _ELEMENTS if shape == "SCALAR" else _ARRAY}  # fmt: skip
        if kind == _BYTE:
            view["byteStride"] = 4
        self.views.append(view)
        raw += b"\0" * (-len(raw) % 4)
        self.pieces.append(raw)
        self.size += len(raw)
        self.accessors.append(
            {"bufferView": len(self.views) - 1, "componentType": kind, "count": len(values), "type": shape, **more}
        )
        return len(self.accessors) - 1

    def packed(self) -> bytes:
        """The GLB. Textures are named by their content and lie beside it on the server."""
        used = sorted({m.texture for m in self.materials if m.texture is not None})
        document: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": "Zevlo"},
            "scene": 0,
            "scenes": [{"nodes": list(range(len(self.nodes)))}],
            "nodes": self.nodes,
            "meshes": self.meshes,
            "accessors": self.accessors,
            "bufferViews": self.views,
            "buffers": [{"byteLength": self.size}],
            "materials": [_material(m, f"{self.called}-{n}", used) for n, m in enumerate(self.materials)],
            "extensionsUsed": ["KHR_mesh_quantization"],
            "extensionsRequired": ["KHR_mesh_quantization"],
        }
        if used:
            document["images"] = [{"uri": f"../{self.pictures[number]}/picture"} for number in used]
            document["samplers"] = [{"wrapS": 10497, "wrapT": 10497}]
            document["textures"] = [{"source": n, "sampler": 0} for n in range(len(used))]
        return _glb(document, struct.pack("<I4s", self.size, b"BIN\0"), *self.pieces)


def _glb(document: dict[str, Any], *binary: bytes) -> bytes:
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    chunks = [struct.pack("<I4s", len(text), b"JSON"), text, *binary]
    return b"".join([struct.pack("<4sII", b"glTF", 2, 12 + sum(map(len, chunks))), *chunks])


NOTHING_TO_DRAW = _glb({"asset": {"version": "2.0", "generator": "Zevlo"}, "scene": 0, "scenes": [{}]})
"""The GLB of nothing at all."""


def _material(material: Material, name: str, used: list[int]) -> dict[str, Any]:
    metal: dict[str, Any] = {
        "baseColorFactor": [*material.base_color, material.alpha],
        "metallicFactor": material.metallic,
        "roughnessFactor": material.roughness,
    }
    if material.texture is not None:
        metal["baseColorTexture"] = {"index": used.index(material.texture)}
    shown: dict[str, Any] = {"name": name, "pbrMetallicRoughness": metal, "doubleSided": True}
    if material.alpha < 1.0:
        shown["alphaMode"] = "BLEND"
    if any(material.emissive):
        # A lamp of thousands of cd/m² is just white to the eye.
        strongest = max(1.0, *material.emissive)
        shown["emissiveFactor"] = [value / strongest for value in material.emissive]
    return shown
