"""The set as the desk draws it: GLB files with one object for each part, the largest parts first.

Positions are told from an origin near the set, so that single precision stays exact enough; a set of many
triangles is thinned out for drawing only. What is measured, cut or printed comes from the arrays.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator

import meshoptimizer
import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.scene.model.set_model import Material, SetModel
from zevlo.files.gltf_file import GltfFile, pack_glb
from zevlo.files.point_colors import palette

MOST_DRAWN = 1_500_000
"""Triangles the desk draws; of more, each part gives its share (seen to turn smoothly on a plain laptop)."""
FILE_BYTES = 12 * 1024 * 1024
_THINNED_FROM = 400
MOST_PALETTE = 400_000


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
    file = _file(alone.materials, [], "stand-in")
    for number, part in enumerate(alone.parts):
        if part.face_count:
            mesh, _ = mesh_of(file, alone, number, np.zeros(3), 1.0)
            file.nodes.append({"name": f"part-{first_part + number}", "mesh": mesh})
    return file.packed()


def _file(
    materials: tuple[Material, ...], addresses: list[str], called: str, exact: frozenset[int] = frozenset()
) -> GltfFile:
    """A file as the desk draws it. Textures are named by their content and lie beside it on the server."""
    names = [f"{called}-{n}" for n in range(len(materials))]
    return GltfFile(materials, addresses, coarse=True, names=names, exact=exact)


def view_files(model: SetModel, origin: Floats, most: int = MOST_DRAWN) -> Iterator[tuple[bytes, int]]:
    """Each GLB and the number of triangles in it."""
    share = min(1.0, most / len(model.faces))
    sizes = []
    for number, part in enumerate(model.parts):
        if part.face_count:
            inside = model.vertices[model.faces[part.first_face : part.first_face + part.face_count].ravel()]
            sizes.append((float((inside.max(axis=0) - inside.min(axis=0)).max()), number))
    addresses = [f"../{picture_name(raw)}/picture" for raw in model.pictures]
    exact = frozenset(n for n, raw in enumerate(model.pictures) if len(raw) < MOST_PALETTE and raw == palette())
    file = _file(model.materials, addresses, "material", exact)
    drawn = 0
    for _, number in sorted(sizes, key=lambda entry: (-entry[0], entry[1])):
        mesh, count = mesh_of(file, model, number, origin, share)
        file.nodes.append({"name": f"part-{number}", "mesh": mesh})
        drawn += count
        if file.size > FILE_BYTES:
            yield file.packed(), drawn
            file, drawn = _file(model.materials, addresses, "material", exact), 0
    if file.nodes:
        yield file.packed(), drawn


def mesh_of(file: GltfFile, model: SetModel, number: int, origin: Floats, share: float) -> tuple[int, int]:
    """Put a part's mesh into a file, so much of its triangles; the mesh's number, and how many triangles it has.

    ``file``: it; ``model``: the set; ``number``: of the part; ``origin`` (3,): what its places are counted from, in
    metres; ``share``: of its triangles, 0 to 1."""
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
    file.meshes.append({"primitives": primitives})
    return len(file.meshes) - 1, drawn


def _thinned(faces: np.ndarray, positions: np.ndarray, share: float) -> np.ndarray:
    """Fewer triangles of nearly the same shape (meshoptimizer); no farther off than 1 % of the part."""
    flat = np.ascontiguousarray(faces.ravel())
    out = np.empty_like(flat)
    wanted = max(96, int(len(faces) * share)) * 3
    count = meshoptimizer.simplify(
        out, flat, np.ascontiguousarray(positions), target_index_count=wanted, target_error=0.01
    )
    return out[:count].reshape(-1, 3) if count else faces


NOTHING_TO_DRAW = pack_glb({"asset": {"version": "2.0", "generator": "Zevlo"}, "scene": 0, "scenes": [{}]})
"""The GLB of nothing at all."""
