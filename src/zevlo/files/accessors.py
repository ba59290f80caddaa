"""The arrays of a glTF model as NumPy sees them, without copying what need not be; Draco and meshopt unpacked.

Sources: glTF 2.0 specification, section 3.6; KHR_draco_mesh_compression; EXT_meshopt_compression.
"""

from __future__ import annotations

from typing import Any

import DracoPy
import meshoptimizer
import numpy as np

from zevlo.files.glb import Container, Json
from zevlo.files.refusal import CannotRead
from zevlo.text import models as say

_TYPES = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
_COUNTS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4}
_LARGEST = {5120: 127.0, 5121: 255.0, 5122: 32767.0, 5123: 65535.0}
MESHOPT = ("EXT_meshopt_compression", "KHR_meshopt_compression")
DRACO = "KHR_draco_mesh_compression"


class Arrays:
    """Reads accessors; views that meshopt has packed are unpacked once."""

    def __init__(self, container: Container) -> None:
        self._container = container
        self._views: dict[int, Any] = {}
        self._draco: dict[int, Any] = {}

    def numbers(self, index: int) -> np.ndarray:
        """An accessor as (count, width), normalized integers as float32. The container's references were checked."""
        document = self._container.document
        accessors = document.get("accessors", [])
        if not isinstance(index, int) or not 0 <= index < len(accessors):
            raise CannotRead(say.BROKEN_NO_SUCH_ARRAY)
        accessor = accessors[index]
        width = _COUNTS.get(accessor["type"], 0)
        kind = np.dtype(_TYPES[accessor["componentType"]]).newbyteorder("<")
        if not width:
            raise CannotRead(say.BROKEN_A_SURFACE)
        count = accessor["count"]
        if "bufferView" in accessor:
            view = document["bufferViews"][accessor["bufferView"]]
            found = self._strided(accessor, view, kind, count, width)
        else:
            found = np.zeros((count, width), dtype=kind)
        if "sparse" in accessor:
            found = self._sparse(accessor["sparse"], found, kind, width)
        if accessor.get("normalized") and accessor["componentType"] in _LARGEST:
            found = np.maximum(found.astype(np.float32) / np.float32(_LARGEST[accessor["componentType"]]), -1.0)
        return found

    def _strided(self, accessor: Json, view: Json, kind: np.dtype[Any], count: int, width: int) -> np.ndarray:
        raw = self._bytes(accessor["bufferView"])
        size = kind.itemsize * width
        stride = view.get("byteStride") or size
        start = accessor.get("byteOffset", 0)
        if count and start + stride * (count - 1) + size > len(raw):
            raise CannotRead(say.BROKEN_AN_ARRAY_IN_IT)
        if count == 0:
            return np.zeros((0, width), dtype=kind)
        flat = np.frombuffer(raw, dtype=np.uint8, offset=start, count=stride * (count - 1) + size)
        rows = np.lib.stride_tricks.as_strided(flat, (count, size), (stride, 1))
        return np.ascontiguousarray(rows).view(kind) if stride != size else flat.view(kind).reshape(count, width)

    def _sparse(self, sparse: Json, whole: np.ndarray, kind: np.dtype[Any], width: int) -> np.ndarray:
        try:
            count, places, values = sparse["count"], sparse["indices"], sparse["values"]
            index_kind = np.dtype(_TYPES[places["componentType"]]).newbyteorder("<")
            at = np.frombuffer(self._bytes(places["bufferView"]), index_kind, count, places.get("byteOffset", 0))
            put = np.frombuffer(self._bytes(values["bufferView"]), kind, count * width, values.get("byteOffset", 0))
            changed = whole.copy()
            changed[at] = put.reshape(count, width)
        except (KeyError, ValueError, IndexError, TypeError):
            raise CannotRead(say.BROKEN_A_SPARSE) from None
        return changed

    def _bytes(self, index: int) -> Any:
        document = self._container.document
        if not isinstance(index, int) or not 0 <= index < len(document["bufferViews"]):
            raise CannotRead(say.BROKEN_AN_ARRAY)
        view = document["bufferViews"][index]
        packed = packing_of(view)
        if packed is not None:
            if index not in self._views:
                self._views[index] = _unpacked(packed, self._container.binary)
            return self._views[index]
        return self._container.binary[view["byteOffset"] : view["byteOffset"] + view["byteLength"]]

    def draco(self, given: Json) -> tuple[np.ndarray, dict[str, np.ndarray]]:
        """Faces (F, 3) and attributes by glTF name of a primitive that Draco packed."""
        number = given.get("bufferView", -1)
        if number not in self._draco:
            try:
                self._draco[number] = DracoPy.decode(bytes(self._bytes(number)))
            except (DracoPy.FileTypeException, DracoPy.EncodingFailedException, ValueError, AttributeError):
                raise CannotRead(say.BROKEN_DRACO) from None
        mesh = self._draco[number]
        faces = getattr(mesh, "faces", None)
        if faces is None:
            raise CannotRead(say.BROKEN_WHAT_DRACO)
        found = {}
        for name, key in given.get("attributes", {}).items():
            attribute = mesh.get_attribute_by_unique_id(key)
            if attribute is not None:
                found[name] = np.asarray(attribute["data"])
        return np.asarray(faces, dtype=np.int64).reshape(-1, 3), found


def packing_of(view: Json) -> Json | None:
    """How meshopt packed a view; None where it did not."""
    for name in MESHOPT:
        found = view.get("extensions", {}).get(name)
        if found is not None:
            return found  # type: ignore[no-any-return]
    return None


def _unpacked(packed: Json, binary: Any) -> bytes:
    try:
        start, length = packed.get("byteOffset", 0), packed["byteLength"]
        stride, count = packed["byteStride"], packed["count"]
        raw = np.frombuffer(binary[start : start + length], dtype=np.uint8)
        if packed["mode"] == "ATTRIBUTES":
            rows = meshoptimizer.decode_vertex_buffer(count, stride, raw, dtype=np.dtype((np.void, stride)))
        elif packed["mode"] == "TRIANGLES":
            rows = meshoptimizer.decode_index_buffer(count, stride, raw)
        elif packed["mode"] == "INDICES":
            rows = meshoptimizer.decode_index_sequence(count, stride, raw)
        else:
            raise ValueError(say.mode(packed["mode"]))
        plain = np.frombuffer(np.ascontiguousarray(rows).tobytes(), dtype=np.uint8)
        filtered = {
            "OCTAHEDRAL": meshoptimizer.decode_filter_oct,
            "QUATERNION": meshoptimizer.decode_filter_quat,
            "EXPONENTIAL": meshoptimizer.decode_filter_exp,
        }.get(packed.get("filter", "NONE"))
        if filtered is not None:
            plain = filtered(plain.copy(), count, stride)
        return plain.tobytes()
    except (KeyError, TypeError, ValueError, RuntimeError, MemoryError):
        raise CannotRead(say.BROKEN_MESHOPT) from None
