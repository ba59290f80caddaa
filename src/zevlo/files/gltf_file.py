"""glTF 2.0 as we write it: meshes, materials and pictures of a set in one binary file."""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from zevlo import __version__
from zevlo.core.scene.model.set_model import Material

_ARRAY, _ELEMENTS = 34962, 34963
_BYTE, _UINT, _FLOAT = 5120, 5125, 5126
_NEAREST = 9728
_STRENGTH = "KHR_materials_emissive_strength"


@dataclass
class GltfFile:
    """A file that is being put together."""

    materials: tuple[Material, ...]
    addresses: list[str] | None = None
    """Where its pictures are to be had; None: they are in it, from ``embedded``."""
    embedded: tuple[bytes, ...] = ()
    coarse: bool = False
    """Whether normals take a byte an axis, which is as fine as a screen shows (KHR_mesh_quantization)."""
    exact: frozenset[int] = frozenset()
    """Pictures of which each place counts by itself: they are not smoothed where they are drawn small."""
    names: list[str] | None = None
    """What its materials are called; None: as they are."""
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
        if normals is not None and not self.coarse:
            attributes["NORMAL"] = self._accessor(normals.astype(np.float32), _FLOAT, "VEC3")
        elif normals is not None:
            # Rows are padded to four.
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
        self._append(raw)
        self.accessors.append(
            {"bufferView": len(self.views) - 1, "componentType": kind, "count": len(values), "type": shape, **more}
        )
        return len(self.accessors) - 1

    def packed(self, **more: Any) -> bytes:
        """The GLB; ``more`` of its document, instead of a scene of all nodes."""
        used = sorted({m.texture for m in self.materials if m.texture is not None})
        names = self.names or [material.name for material in self.materials]
        materials = [_material(m, name, used, not self.coarse) for m, name in zip(self.materials, names, strict=True)]
        document: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": f"Zevlo {__version__}"},
            "scene": 0,
            "scenes": [{"nodes": list(range(len(self.nodes)))}],
            "nodes": self.nodes,
            "meshes": self.meshes,
            "accessors": self.accessors,
            "materials": materials,
        }
        if used:
            document["images"] = [self._image(number) for number in used]
            plain = {"wrapS": 10497, "wrapT": 10497}
            exact = {**plain, "magFilter": _NEAREST, "minFilter": _NEAREST}
            document["samplers"] = [plain, exact] if self.exact else [plain]
            document["textures"] = [{"source": n, "sampler": int(one in self.exact)} for n, one in enumerate(used)]
        document |= {"bufferViews": self.views, "buffers": [{"byteLength": self.size}]}
        extensions = [_STRENGTH] if any("extensions" in one for one in materials) else []
        if self.coarse:
            extensions.append("KHR_mesh_quantization")
            document["extensionsRequired"] = ["KHR_mesh_quantization"]
        if extensions:
            document["extensionsUsed"] = extensions
        return pack_glb({**document, **more}, struct.pack("<I4s", self.size, b"BIN\0"), *self.pieces)

    def _image(self, number: int) -> dict[str, Any]:
        if self.addresses is not None:
            return {"uri": self.addresses[number]}
        raw = self.embedded[number]
        self.views.append({"buffer": 0, "byteOffset": self.size, "byteLength": len(raw)})
        self._append(raw)
        kind = "image/png" if raw.startswith(b"\x89PNG") else "image/jpeg"
        return {"bufferView": len(self.views) - 1, "mimeType": kind}

    def _append(self, raw: bytes) -> None:
        raw += b"\0" * (-len(raw) % 4)
        self.pieces.append(raw)
        self.size += len(raw)


def pack_glb(document: dict[str, Any], *binary: bytes) -> bytes:
    """A document with chunks behind it as one binary file."""
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    chunks = [struct.pack("<I4s", len(text), b"JSON"), text, *binary]
    return b"".join([struct.pack("<4sII", b"glTF", 2, 12 + sum(map(len, chunks))), *chunks])


def _material(material: Material, name: str, used: list[int], how_bright: bool) -> dict[str, Any]:
    metal: dict[str, Any] = {
        "baseColorFactor": [*material.base_color, material.alpha],
        "metallicFactor": material.metallic,
        "roughnessFactor": material.roughness,
    }
    if material.texture is not None:
        metal["baseColorTexture"] = {"index": used.index(material.texture)}
    shown: dict[str, Any] = {"name": name, "pbrMetallicRoughness": metal, "doubleSided": True}
    if material.holes is not None and material.holes > 0.0:
        shown |= {"alphaMode": "MASK", "alphaCutoff": material.holes}
    elif material.holes is not None or material.alpha < 1.0:
        shown["alphaMode"] = "BLEND"
    if any(material.emissive):
        # On the desk a lamp of thousands of cd/m² is just white.
        strongest = max(1.0, *material.emissive)
        shown["emissiveFactor"] = [value / strongest for value in material.emissive]
        if how_bright and strongest > 1.0:
            shown["extensions"] = {_STRENGTH: {"emissiveStrength": strongest}}
    return shown
