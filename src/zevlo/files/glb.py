"""The GLB container and its JSON: opened, checked and packed again, before anything in it is trusted.

Source: glTF 2.0 specification, sections 3 and 4.
"""

from __future__ import annotations

import base64
import binascii
import json
import struct
from dataclasses import dataclass
from typing import Any

from zevlo.files.refusal import CannotRead

Json = dict[str, Any]
UNDERSTOOD = frozenset(
    {
        "KHR_materials_emissive_strength", "KHR_materials_unlit", "KHR_materials_ior", "KHR_materials_specular",
        "KHR_materials_clearcoat", "KHR_materials_sheen", "KHR_materials_transmission", "KHR_materials_volume",
        "KHR_materials_anisotropy", "KHR_materials_iridescence", "KHR_texture_transform", "KHR_lights_punctual",
        "KHR_xmp_json_ld", "KHR_mesh_quantization",
    }
)  # fmt: skip
COMPRESSED = {
    "KHR_draco_mesh_compression": "Draco",
    "EXT_meshopt_compression": "meshopt",
    "KHR_meshopt_compression": "meshopt",
    "KHR_texture_basisu": "Basis textures",
}
_COMPONENT_BYTES = {5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}
_TYPE_COUNT = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
MOST_NODES = 400_000


@dataclass(frozen=True)
class Container:
    """The JSON document and the one binary buffer of a glTF model."""

    document: Json
    binary: bytes


def open_container(data: bytes) -> Container:
    """Read a .glb, or a .gltf whose buffers are inside it. Raises :class:`CannotRead`."""
    if not data:
        raise CannotRead("The file is empty.")
    if data[:4] == b"glTF":
        document, binary = _split(data)
    elif data.lstrip()[:1] == b"{":
        document, binary = _parsed(data), b""
    else:
        raise CannotRead("This is not a glTF model. Give a .glb file, or a .gltf with everything inside it.")
    if not isinstance(document.get("asset"), dict) or not str(document["asset"].get("version", "")).startswith("2"):
        raise CannotRead("This is not a glTF 2.0 model; export it again as glTF 2.0.")
    _check_extensions(document)
    container = _one_buffer(Container(document, binary))
    _check_references(container)
    return container


def _split(data: bytes) -> tuple[Json, bytes]:
    if len(data) < 20:
        raise CannotRead("The file is broken: it ends before its header does.")
    _, version, length = struct.unpack_from("<4sII", data)
    if version != 2:
        raise CannotRead(f"This is a GLB of version {version}; export it again as glTF 2.0.")
    if length > len(data):
        raise CannotRead(f"The file is cut off: it says {length} bytes and has {len(data)}. Copy it again.")
    chunks: list[tuple[bytes, bytes]] = []
    at = 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<I4s", data, at)
        if at + 8 + size > length:
            raise CannotRead("The file is broken: a part of it runs past its end.")
        chunks.append((kind, data[at + 8 : at + 8 + size]))
        at += 8 + size
    if not chunks or chunks[0][0] != b"JSON":
        raise CannotRead("The file is broken: its description is missing.")
    binary = next((chunk for kind, chunk in chunks if kind == b"BIN\0"), b"")
    return _parsed(chunks[0][1]), binary


def _parsed(text: bytes) -> Json:
    try:
        document = json.loads(text.decode("utf-8-sig"))
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        raise CannotRead(f"The file is broken: its description cannot be read ({error}).") from None
    if not isinstance(document, dict):
        raise CannotRead("The file is broken: its description is not what glTF asks for.")
    return document


def _check_extensions(document: Json) -> None:
    named = {*document.get("extensionsUsed", []), *document.get("extensionsRequired", [])}
    for name, plain in COMPRESSED.items():
        if name in document.get("extensionsRequired", []) or (name in named and "meshopt" in name):
            raise CannotRead(
                f"The model is compressed with {plain}, which is not read yet. Export it without compression."
            )
    strange = sorted(set(document.get("extensionsRequired", [])) - UNDERSTOOD)
    if strange:
        raise CannotRead(f"The model needs {strange[0]}, which is not read yet. Export it without that extension.")


def _one_buffer(container: Container) -> Container:
    """The same model with all its buffers in one, so that they can be packed together."""
    buffers = container.document.get("buffers", [])
    joined, starts = bytearray(), []
    for number, buffer in enumerate(buffers):
        uri = buffer.get("uri")
        if uri is None:
            raw = container.binary if number == 0 else b""
        elif str(uri).startswith("data:"):
            raw = _inline(str(uri))
        else:
            raise CannotRead(
                f"The model keeps its geometry in another file ({str(uri)[:60]}). Export it as one .glb file."
            )
        if buffer.get("byteLength", 0) > len(raw):
            raise CannotRead("The file is broken: its geometry is shorter than it says.")
        joined.extend(b"\0" * (-len(joined) % 4))
        starts.append(len(joined))
        joined.extend(raw)
    views = [
        {**view, "buffer": 0, "byteOffset": view.get("byteOffset", 0) + starts[view["buffer"]]}
        if 0 <= view.get("buffer", -1) < len(starts)
        else _broken("a view names a buffer that is not there")
        for view in container.document.get("bufferViews", [])
    ]
    images = []
    for image in container.document.get("images", []):
        uri = image.get("uri")
        if uri is not None and not str(uri).startswith("data:"):
            raise CannotRead(
                f"The model keeps a texture in another file ({str(uri)[:60]}). Export it as one .glb file."
            )
        if uri is not None:
            raw = _inline(str(uri))
            joined.extend(b"\0" * (-len(joined) % 4))
            views.append({"buffer": 0, "byteOffset": len(joined), "byteLength": len(raw)})
            joined.extend(raw)
            mime = str(uri)[5:].split(";")[0].split(",")[0] or "image/png"
            image = {"bufferView": len(views) - 1, "mimeType": mime}
        images.append(image)
    document = {**container.document, "bufferViews": views, "images": images}
    document["buffers"] = [{"byteLength": len(joined)}] if joined else []
    return Container(document, bytes(joined))


def _inline(uri: str) -> bytes:
    head, _, body = uri.partition(",")
    try:
        return base64.b64decode(body, validate=True) if head.endswith(";base64") else body.encode("latin-1")
    except (binascii.Error, UnicodeEncodeError, ValueError):
        raise CannotRead("The file is broken: data inside it cannot be decoded.") from None


def _broken(what: str) -> Any:
    raise CannotRead(f"The file is broken: {what}.")


def _check_references(container: Container) -> None:
    """Every number that points somewhere points inside; nothing claims more than the file holds."""
    document, size = container.document, len(container.binary)
    views = document["bufferViews"]
    for view in views:
        if view["byteOffset"] < 0 or view.get("byteLength", -1) < 0 or view["byteOffset"] + view["byteLength"] > size:
            _broken("a view runs past the end of its data")
    for accessor in document.get("accessors", []):
        width = _COMPONENT_BYTES.get(accessor.get("componentType"), 0) * _TYPE_COUNT.get(accessor.get("type"), 0)
        count = accessor.get("count")
        if not width or not isinstance(count, int) or count < 0:
            _broken("an array in it has no proper type or length")
        if count * width > 16 * max(size, 1) + 4096:
            _broken("an array in it claims more numbers than the file holds")
        if "bufferView" in accessor:
            if not 0 <= accessor["bufferView"] < len(views):
                _broken("an array in it names a view that is not there")
            view = views[accessor["bufferView"]]
            stride = view.get("byteStride") or width
            needed = accessor.get("byteOffset", 0) + (stride * (count - 1) + width if count else 0)
            if needed > view["byteLength"]:
                _broken("an array in it is longer than its data")
    nodes = document.get("nodes", [])
    if len(nodes) > MOST_NODES:
        raise CannotRead(f"The model has {len(nodes)} parts; up to {MOST_NODES} are read. Join small ones.")
    parent: dict[int, int] = {}
    for number, node in enumerate(nodes):
        for child in node.get("children", []):
            if not isinstance(child, int) or not 0 <= child < len(nodes) or child == number or child in parent:
                _broken("its tree of parts runs in a circle or names a part that is not there")
            parent[child] = number
    for start in range(len(nodes)):
        here, steps = start, 0
        while here in parent and steps <= 1000:
            here, steps = parent[here], steps + 1
        if steps > 1000:
            _broken("its tree of parts runs in a circle or is nested beyond reason")


def pack(container: Container) -> bytes:
    """The container as a GLB file."""
    text = json.dumps(container.document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    binary = container.binary + b"\0" * (-len(container.binary) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if binary:
        chunks = b"".join([chunks, struct.pack("<I4s", len(binary), b"BIN\0"), binary])
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks
