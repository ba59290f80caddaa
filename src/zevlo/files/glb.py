"""The GLB container and its JSON: opened, checked and packed again, before anything in it is trusted.

Source: glTF 2.0 specification, sections 3 and 4.
"""

from __future__ import annotations

import base64
import binascii
import json
import struct
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from urllib.parse import unquote

from zevlo.files.refusal import CannotRead
from zevlo.text import models as say

Json = dict[str, Any]
UNDERSTOOD = frozenset(
    {
        "KHR_materials_emissive_strength", "KHR_materials_unlit", "KHR_materials_ior", "KHR_materials_specular",
        "KHR_materials_clearcoat", "KHR_materials_sheen", "KHR_materials_transmission", "KHR_materials_volume",
        "KHR_materials_anisotropy", "KHR_materials_iridescence", "KHR_texture_transform", "KHR_lights_punctual",
        "KHR_xmp_json_ld", "KHR_mesh_quantization", "KHR_draco_mesh_compression", "EXT_meshopt_compression",
        "KHR_meshopt_compression", "EXT_texture_webp", "KHR_materials_dispersion", "KHR_materials_diffuse_transmission",
        "EXT_mesh_gpu_instancing",
    }
)  # fmt: skip
_COMPONENT_BYTES = {5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}
_TYPE_COUNT = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
MOST_NODES = 400_000
Companion = Callable[[str], bytes | None]
"""The bytes of a file that came beside the model, by the name it has there."""


def alone(_name: str) -> bytes | None:
    """Nothing came beside the model."""
    return None


@dataclass(frozen=True)
class Container:
    """The JSON document and the one binary buffer of a glTF model."""

    document: Json
    binary: Any
    """Bytes, or a view of them."""


def open_container(data: Any, companion: Companion = alone) -> Container:
    """Read a .glb or a .gltf, from bytes or a view of them. Raises :class:`CannotRead`."""
    if not len(data):
        raise CannotRead(say.THE_FILE_IS_EMPTY)
    if bytes(data[:4]) == b"glTF":
        document, binary = _split(memoryview(data))
    elif bytes(data[:4096]).removeprefix(b"\xef\xbb\xbf").lstrip()[:1] == b"{":
        document, binary = _parsed(bytes(data)), b""
    else:
        raise CannotRead(say.THIS_IS_NOT_A_GLTF)
    if not isinstance(document.get("asset"), dict) or not str(document["asset"].get("version", "")).startswith("2"):
        raise CannotRead(say.THIS_IS_NOT_A_GLTF_2)
    _check_extensions(document)
    _check_shapes(document)
    container = _one_buffer(Container(document, binary), companion)
    _check_references(container)
    return container


def _split(data: memoryview) -> tuple[Json, Any]:
    if len(data) < 20:
        raise CannotRead(say.BROKEN_IT_ENDS)
    _, version, length = struct.unpack_from("<4sII", data)
    if version != 2:
        raise CannotRead(say.this_is_a_glb(version))
    if length > len(data):
        raise CannotRead(say.the_file_is_cut(length, len(data)))
    chunks: list[tuple[bytes, Any]] = []
    at = 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<I4s", data, at)
        if at + 8 + size > length:
            raise CannotRead(say.BROKEN_A_PART)
        chunks.append((kind, data[at + 8 : at + 8 + size]))
        at += 8 + size
    if not chunks or chunks[0][0] != b"JSON":
        raise CannotRead(say.BROKEN_ITS_DESCRIPTION_IS_MISSING)
    binary = next((chunk for kind, chunk in chunks if kind == b"BIN\0"), b"")
    return _parsed(bytes(chunks[0][1])), binary


def _parsed(text: bytes) -> Json:
    try:
        document = json.loads(text.decode("utf-8-sig"))
    except json.JSONDecodeError as error:
        raise CannotRead(say.broken_its_description(error.lineno, error.colno)) from None
    except (UnicodeDecodeError, RecursionError):
        raise CannotRead(say.BROKEN_ITS_DESCRIPTION_CANNOT_BE) from None
    if not isinstance(document, dict):
        raise CannotRead(say.BROKEN_ITS_DESCRIPTION)
    return document


def _check_extensions(document: Json) -> None:
    required = document.get("extensionsRequired", [])
    if "KHR_texture_basisu" in required:
        raise CannotRead(say.THE_MODELS_TEXTURES_ARE_BASIS)
    strange = sorted({str(name) for name in required} - UNDERSTOOD)
    if strange:
        raise CannotRead(say.the_model_needs_which_is_not_read(strange[0]))


_LISTS = ("buffers", "bufferViews", "accessors", "meshes", "nodes", "materials", "textures", "images", "scenes")


def _check_shapes(document: Json) -> None:
    """Lists are lists and entries are objects: everything after this may rely on it."""
    for name in _LISTS:
        entries = document.get(name, [])
        if not isinstance(entries, list) or not all(isinstance(entry, dict) for entry in entries):
            _broken(say.its_are_not_what_gltf(name))
    for name in ("extensionsUsed", "extensionsRequired"):
        if not isinstance(document.get(name, []), list):
            _broken(say.its_are_not_what_gltf(name))


def _one_buffer(container: Container, companion: Companion) -> Container:
    """The same model with all its data in one piece. Where it is in one already, nothing is copied."""
    pieces: list[Any] = []
    starts: list[int] = []
    length = 0

    def put(raw: Any) -> int:
        nonlocal length
        gap = -length % 4
        if gap:
            pieces.append(b"\0" * gap)
        start = length + gap
        pieces.append(raw)
        length = start + len(raw)
        return start

    for number, buffer in enumerate(container.document.get("buffers", [])):
        uri = buffer.get("uri")
        fallback = any(e.get("fallback") for e in (buffer.get("extensions") or {}).values() if isinstance(e, dict))
        if uri is None:
            raw = container.binary if number == 0 and not fallback else b""
        else:
            raw = _content(str(uri), companion, say.ITS_GEOMETRY)
        if not isinstance(buffer.get("byteLength", 0), int) or (
            buffer.get("byteLength", 0) > len(raw) and not fallback
        ):
            raise CannotRead(say.BROKEN_ITS_GEOMETRY)
        starts.append(put(raw))
    views = [_in_one(view, starts) for view in container.document.get("bufferViews", [])]
    images = []
    for image in container.document.get("images", []):
        uri = image.get("uri")
        if uri is not None:
            raw = _content(str(uri), companion, say.A_TEXTURE)
            views.append({"buffer": 0, "byteOffset": put(raw), "byteLength": len(raw)})
            image = {"bufferView": len(views) - 1}
        images.append(image)
    document = {**container.document, "bufferViews": views, "images": images}
    document["buffers"] = [{"byteLength": length}] if length else []
    return Container(document, pieces[0] if len(pieces) == 1 else b"".join(pieces))


def _in_one(view: Json, starts: list[int]) -> Json:
    number, offset = view.get("buffer", -1), view.get("byteOffset", 0)
    if not isinstance(number, int) or not isinstance(offset, int) or not 0 <= number < len(starts):
        _broken(say.A_VIEW_NAMES_A_BUFFER)
    moved = {**view, "buffer": 0, "byteOffset": offset + starts[number]}
    packed = view.get("extensions")
    if isinstance(packed, dict):
        moved["extensions"] = {
            name: {**given, "byteOffset": given.get("byteOffset", 0) + starts[given["buffer"]]}
            if isinstance(given, dict) and isinstance(given.get("buffer"), int) and 0 <= given["buffer"] < len(starts)
            else given
            for name, given in packed.items()
        }
    return moved


def _content(uri: str, companion: Companion, what: str) -> bytes:
    if uri.startswith("data:"):
        return _inline(uri)
    found = companion(unquote(uri))
    if found is None:
        raise CannotRead(say.the_model_keeps_in_another(what, uri[:60]))
    return found


def _inline(uri: str) -> bytes:
    head, _, body = uri.partition(",")
    try:
        return base64.b64decode(body, validate=True) if head.endswith(";base64") else body.encode("latin-1")
    except (binascii.Error, UnicodeEncodeError, ValueError):
        raise CannotRead(say.BROKEN_DATA) from None


def _broken(what: str) -> Any:
    raise CannotRead(say.broken(what))


def _check_references(container: Container) -> None:
    """Every number that points somewhere points inside; nothing claims more than the file holds."""
    document, size = container.document, len(container.binary)
    views = document["bufferViews"]
    for view in views:
        length = view.get("byteLength", -1)
        if (
            not isinstance(length, int)
            or not isinstance(view.get("byteStride", 0), int)
            or not 0 <= view.get("byteStride", 0) <= 4096
        ):
            _broken(say.A_VIEW_HAS_NO_PROPER)
        packed = [e for e in (view.get("extensions") or {}).values() if isinstance(e, dict) and "mode" in e]
        if packed:
            if not all(
                isinstance(packed[0].get(key), int) and packed[0][key] >= 0
                for key in ("byteOffset", "byteLength", "byteStride", "count")
            ):
                _broken(say.A_PACKED_VIEW_HAS_NO_PROPER)
            if packed[0]["byteOffset"] + packed[0]["byteLength"] > size:
                _broken(say.A_VIEW_RUNS_PAST)
            if packed[0]["count"] * packed[0]["byteStride"] > 4096 * max(size, 1):
                _broken(say.AN_ARRAY_IN_IT_CLAIMS)
        elif view["byteOffset"] < 0 or length < 0 or view["byteOffset"] + length > size:
            _broken(say.A_VIEW_RUNS_PAST)
    for accessor in document.get("accessors", []):
        width = _COMPONENT_BYTES.get(accessor.get("componentType"), 0) * _TYPE_COUNT.get(accessor.get("type"), 0)
        count = accessor.get("count")
        if not width or not isinstance(count, int) or count < 0:
            _broken(say.AN_ARRAY_IN_IT_HAS_NO_PROPER)
        if count * width > 4096 * max(size, 1):
            _broken(say.AN_ARRAY_IN_IT_CLAIMS)
        if "bufferView" in accessor:
            if not isinstance(accessor["bufferView"], int) or not 0 <= accessor["bufferView"] < len(views):
                _broken(say.AN_ARRAY_IN_IT_NAMES)
            view = views[accessor["bufferView"]]
            stride = view.get("byteStride") or width
            start = accessor.get("byteOffset", 0)
            if not isinstance(start, int) or start < 0:
                _broken(say.AN_ARRAY_IN_IT_BEGINS)
            if start + (stride * (count - 1) + width if count else 0) > view["byteLength"]:
                _broken(say.AN_ARRAY_IN_IT_IS_LONGER)
    nodes = document.get("nodes", [])
    if len(nodes) > MOST_NODES:
        raise CannotRead(say.the_model_has_parts(len(nodes), MOST_NODES))
    parent: dict[int, int] = {}
    for number, node in enumerate(nodes):
        if not isinstance(node.get("children", []), list):
            _broken(say.ITS_TREE_OF_PARTS)
        for child in node.get("children", []):
            if not isinstance(child, int) or not 0 <= child < len(nodes) or child == number or child in parent:
                _broken(say.ITS_TREE_OF_PARTS_RUNS_IN_A_CIRCLE)
            parent[child] = number
    for start in range(len(nodes)):
        here, steps = start, 0
        while here in parent and steps <= 1000:
            here, steps = parent[here], steps + 1
        if steps > 1000:
            _broken(say.ITS_TREE_OF_PARTS_RUNS)


def pack(container: Container) -> bytes:
    """The container as a GLB file."""
    text = json.dumps(container.document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    binary = bytes(container.binary) + b"\0" * (-len(container.binary) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if binary:
        chunks = b"".join([chunks, struct.pack("<I4s", len(binary), b"BIN\0"), binary])
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks
