"""glTF 2.0 to a set: names, tree, materials with textures; Y up to Z up; metres."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

import numpy as np
import trimesh
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError
from scipy.spatial.transform import Rotation

from zevlo.core.scene.model import Material, Part, SetModel
from zevlo.files.glb import Container, Json, open_container, pack
from zevlo.files.refusal import CannotRead

MOST_TRIANGLES = 20_000_000
LARGEST_EXTENT_M = 100_000.0
MOST_TEXTURE_PX = 16384 * 16384
Z_UP = np.array([[1.0, 0, 0, 0], [0, 0, -1.0, 0], [0, 1.0, 0, 0], [0, 0, 0, 1.0]])
"""glTF is Y up and faces +Z; Zevlo is Z up with north +Y."""
_KEPT = ("asset", "scene", "scenes", "nodes", "meshes", "materials", "textures", "samplers", "images",
         "accessors", "bufferViews", "buffers", "extensionsUsed", "extensionsRequired")  # fmt: skip


@dataclass(frozen=True)
class Model:
    """What a file brings: the set, and the GLB the desk draws, in which part n is the object ``part-n``."""

    model: SetModel
    view: bytes


@dataclass(frozen=True)
class _Piece:
    vertices: NDArray[np.float64]
    faces: NDArray[np.int64]
    normals: NDArray[np.float64] | None
    uv: NDArray[np.float64] | None
    material: int


def read_gltf(data: bytes) -> Model:
    """Read a .glb or self-contained .gltf. Raises :class:`CannotRead` with the reason."""
    container = open_container(data)
    document = container.document
    order, parents = _tree(document)
    if not order:
        raise CannotRead("The model is empty: there is nothing in its scene.")
    pieces = _pieces(container)
    whole = _joined(document, order, parents, pieces)
    pictures, tints = _pictures(container)
    materials = tuple(_materials(document, tints))
    model = SetModel(materials=materials, pictures=pictures, **whole)
    bounds = model.bounds
    extent = float((bounds[1] - bounds[0]).max())
    if extent <= 0.0:
        raise CannotRead("The model has no size: all its points lie in one place.")
    if extent > LARGEST_EXTENT_M or float(np.abs(bounds).max()) > 10 * LARGEST_EXTENT_M:
        raise CannotRead(
            f"The model is {extent / 1000:.0f} km across or that far from zero. glTF is in metres: check the units."
        )
    return Model(model, _view(container, order))


def _tree(document: Json) -> tuple[list[int], dict[int, int]]:
    """Nodes of the scene from the root down, and each one's parent."""
    nodes = document.get("nodes", [])
    parents = {child: n for n, node in enumerate(nodes) for child in node.get("children", [])}
    scenes = document.get("scenes") or [{"nodes": [n for n in range(len(nodes)) if n not in parents]}]
    number = document.get("scene", 0)
    roots = scenes[number].get("nodes", []) if isinstance(number, int) and 0 <= number < len(scenes) else []
    order: list[int] = []
    waiting = [root for root in reversed(roots) if isinstance(root, int) and 0 <= root < len(nodes)]
    seen: set[int] = set()
    while waiting:
        here = waiting.pop()
        if here in seen:
            continue
        seen.add(here)
        order.append(here)
        waiting.extend(reversed(nodes[here].get("children", [])))
    return order, parents


def _pieces(container: Container) -> dict[tuple[int, int], _Piece]:
    """Every triangle primitive, by mesh and place in it, in its own coordinates. trimesh reads the arrays."""
    document = container.document
    meshes, nodes, keys = [], [], []
    for number, mesh in enumerate(document.get("meshes", [])):
        for place, primitive in enumerate(mesh.get("primitives", [])):
            if primitive.get("mode", 4) not in (4, 5) or "POSITION" not in primitive.get("attributes", {}):
                continue
            wanted = {k: v for k, v in primitive["attributes"].items() if k in ("POSITION", "NORMAL", "TEXCOORD_0")}
            plain = {k: v for k, v in primitive.items() if k in ("indices", "mode")}
            meshes.append({"name": f"m{len(keys)}", "primitives": [{**plain, "attributes": wanted, "material": 0}]})
            nodes.append({"name": f"n{len(keys)}", "mesh": len(keys)})
            keys.append((number, place))
    if not keys:
        raise CannotRead("The model is empty: it has no surfaces, only points, lines or nothing at all.")
    bare = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": list(range(len(nodes)))}],
        "nodes": nodes,
        "meshes": meshes,
        "materials": [{}],
        "accessors": document.get("accessors", []),
        "bufferViews": document["bufferViews"],
        "buffers": document["buffers"],
    }
    try:
        scene = trimesh.load_scene(io.BytesIO(pack(Container(bare, container.binary))), file_type="glb", process=False)
    except Exception as error:
        raise CannotRead(
            f"The file is broken: its geometry cannot be read ({type(error).__name__}: {error})."
        ) from None
    found: dict[tuple[int, int], _Piece] = {}
    for number, key in enumerate(keys):
        mesh = scene.geometry.get(f"m{number}")
        if mesh is None:
            continue
        primitive = document["meshes"][key[0]]["primitives"][key[1]]
        found[key] = _piece(mesh, primitive, _texture_transform(document, primitive.get("material")))
    return found


def _texture_transform(document: Json, number: int | None) -> NDArray[np.float64] | None:
    """How a material moves its base texture, (2, 3) on (u, v, 1) with v down; None where it does not.

    KHR_texture_transform: offset, then rotation, then scale, read from the left.
    """
    materials = document.get("materials", [])
    if number is None or not 0 <= number < len(materials):
        return None
    texture = materials[number].get("pbrMetallicRoughness", {}).get("baseColorTexture", {})
    given = texture.get("extensions", {}).get("KHR_texture_transform")
    if given is None:
        return None
    (x, y), (u, v), turn = given.get("offset", [0, 0]), given.get("scale", [1, 1]), given.get("rotation", 0.0)
    c, s = np.cos(turn), np.sin(turn)
    return np.array([[c * u, s * v, x], [-s * u, c * v, y]], dtype=np.float64)


def _piece(mesh: Any, primitive: Json, moved: NDArray[np.float64] | None) -> _Piece:
    vertices = np.asarray(mesh.vertices, dtype=np.float64)
    faces = np.asarray(mesh.faces)
    if not np.isfinite(vertices).all():
        raise CannotRead("The file is broken: some of its points are not numbers.")
    if len(faces) and (int(faces.min()) < 0 or int(faces.max()) >= len(vertices)):
        raise CannotRead("The file is broken: some triangles name points that are not there.")
    normals = uv = None
    if "NORMAL" in primitive["attributes"]:
        normals = np.asarray(mesh.vertex_normals, dtype=np.float64)
    if "TEXCOORD_0" in primitive["attributes"] and mesh.visual.uv is not None:
        uv = np.asarray(mesh.visual.uv, dtype=np.float64)
        if moved is not None:
            # trimesh counts v upwards, the file downwards.
            down = np.c_[uv[:, 0], 1.0 - uv[:, 1], np.ones(len(uv))] @ moved.T
            uv = np.c_[down[:, 0], 1.0 - down[:, 1]]
    return _Piece(vertices, faces, normals, uv, int(primitive.get("material", -1)))


def _local(node: Json) -> NDArray[np.float64]:
    if "matrix" in node:
        return np.array(node["matrix"], dtype=np.float64).reshape(4, 4).T
    matrix = np.eye(4)
    turn = node.get("rotation", [0.0, 0.0, 0.0, 1.0])
    rotation = Rotation.from_quat(turn).as_matrix() if np.linalg.norm(turn) > 0 else np.eye(3)
    matrix[:3, :3] = rotation * np.array(node.get("scale", [1.0, 1.0, 1.0]))
    matrix[:3, 3] = node.get("translation", [0.0, 0.0, 0.0])
    return matrix


def _joined(
    document: Json, order: list[int], parents: dict[int, int], pieces: dict[tuple[int, int], _Piece]
) -> dict[str, Any]:
    """All pieces at their places in the world, with the tree as parts."""
    nodes = document["nodes"]
    part_of = {node: n for n, node in enumerate(order)}
    world: dict[int, NDArray[np.float64]] = {}
    vertices, faces, normals, uvs, materials = [], [], [], [], []
    parts: list[Part] = []
    base = first = 0
    any_normals = any(p.normals is not None for p in pieces.values())
    any_uv = any(p.uv is not None for p in pieces.values())
    for node in order:
        above = world.get(parents.get(node, -1), Z_UP)
        matrix = world[node] = above @ _local(nodes[node])
        if not np.isfinite(matrix).all():
            raise CannotRead("The file is broken: a part is placed by numbers that are not finite.")
        count = 0
        mesh = nodes[node].get("mesh")
        primitives = document["meshes"][mesh].get("primitives", []) if mesh is not None else []
        for place in range(len(primitives)):
            piece = pieces.get((mesh, place))
            if piece is None or len(piece.faces) == 0:
                continue
            turn = matrix[:3, :3]
            vertices.append(piece.vertices @ turn.T + matrix[:3, 3])
            mirrored = np.linalg.det(turn) < 0
            faces.append((piece.faces[:, ::-1] if mirrored else piece.faces) + base)
            if any_normals:
                normals.append(_turned_normals(piece, turn))
            if any_uv:
                uvs.append(piece.uv if piece.uv is not None else np.full((len(piece.vertices), 2), np.nan))
            materials.append(np.full(len(piece.faces), piece.material + 1, dtype=np.int32))
            base += len(piece.vertices)
            count += len(piece.faces)
        if first + count > MOST_TRIANGLES:
            raise CannotRead(
                f"The model has more than {MOST_TRIANGLES // 1_000_000} million triangles; simplify it first."
            )
        name = str(nodes[node].get("name") or f"Part {part_of[node] + 1}")[:200]
        parent = parents.get(node)
        parts.append(Part(name, None if parent is None else part_of[parent], first, count))
        first += count
    if not faces or first == 0:
        raise CannotRead("The model is empty: no part of its scene has a surface.")
    return {
        "vertices": np.concatenate(vertices),
        "faces": np.concatenate(faces).astype(np.int32),
        "face_material": np.concatenate(materials),
        "normals": np.concatenate(normals).astype(np.float32) if any_normals else None,
        "uv": np.concatenate(uvs).astype(np.float32) if any_uv else None,
        "parts": tuple(parts),
    }


def _turned_normals(piece: _Piece, turn: NDArray[np.float64]) -> NDArray[np.float64]:
    if piece.normals is None or abs(np.linalg.det(turn)) < 1e-30:
        return np.full((len(piece.vertices), 3), np.nan)
    turned = piece.normals @ np.linalg.inv(turn)
    size = np.linalg.norm(turned, axis=1, keepdims=True)
    return np.divide(turned, size, out=np.full_like(turned, np.nan), where=size > 0)


def _pictures(container: Container) -> tuple[tuple[bytes, ...], list[tuple[float, float, float]]]:
    """Every image as it came, and its mean linear colour."""
    pictures, tints = [], []
    for image in container.document.get("images", []):
        number = image.get("bufferView")
        if number is None:
            raise CannotRead("The file is broken: a texture has no data.")
        view = container.document["bufferViews"][number]
        raw = container.binary[view["byteOffset"] : view["byteOffset"] + view["byteLength"]]
        try:
            opened = Image.open(io.BytesIO(raw), formats=("PNG", "JPEG", "WEBP"))
            if opened.width * opened.height > MOST_TEXTURE_PX:
                raise CannotRead(f"A texture is {opened.width} × {opened.height} pixels; make it smaller.")
            opened.draft("RGB", (64, 64))
            small = np.asarray(opened.convert("RGB").resize((16, 16), Image.Resampling.BOX), dtype=np.float64) / 255
        except (UnidentifiedImageError, OSError, Image.DecompressionBombError, SyntaxError):
            raise CannotRead("A texture in the model cannot be read; it has to be PNG or JPEG.") from None
        linear = np.where(small <= 0.04045, small / 12.92, ((small + 0.055) / 1.055) ** 2.4).mean(axis=(0, 1))
        pictures.append(raw)
        tints.append((float(linear[0]), float(linear[1]), float(linear[2])))
    return tuple(pictures), tints


def _materials(document: Json, tints: list[tuple[float, float, float]]) -> list[Material]:
    """Material 0 is plain grey, for faces without one; the file's follow in their order."""
    made = [Material("Plain", (0.6, 0.6, 0.6))]
    textures = document.get("textures", [])
    for number, entry in enumerate(document.get("materials", [])):
        metal = entry.get("pbrMetallicRoughness", {})
        color = [float(c) for c in metal.get("baseColorFactor", [1.0, 1.0, 1.0, 1.0])]
        extensions = entry.get("extensions", {})
        strength = float(extensions.get("KHR_materials_emissive_strength", {}).get("emissiveStrength", 1.0))
        glow = [strength * float(c) for c in entry.get("emissiveFactor", [0.0, 0.0, 0.0])]
        through = float(extensions.get("KHR_materials_transmission", {}).get("transmissionFactor", 0.0))
        alpha = color[3] if entry.get("alphaMode", "OPAQUE") != "OPAQUE" else 1.0
        picture = None
        texture = metal.get("baseColorTexture", {}).get("index")
        if texture is not None and 0 <= texture < len(textures):
            picture = textures[texture].get("source")
        if picture is not None and not 0 <= picture < len(tints):
            picture = None
        made.append(
            Material(
                name=str(entry.get("name") or f"Material {number + 1}")[:200],
                base_color=(_unit(color[0]), _unit(color[1]), _unit(color[2])),
                alpha=_unit(min(alpha, 1.0 - 0.95 * through)),
                metallic=_unit(float(metal.get("metallicFactor", 1.0))),
                roughness=_unit(float(metal.get("roughnessFactor", 1.0))),
                emissive=(max(0.0, glow[0]), max(0.0, glow[1]), max(0.0, glow[2])),
                texture=picture,
                seen_tint=(1.0, 1.0, 1.0) if picture is None else tints[picture],
            )
        )
    return made


def _unit(value: float) -> float:
    if not np.isfinite(value):
        raise CannotRead("The file is broken: a material has numbers that are not finite.")
    return min(1.0, max(0.0, value))


def _view(container: Container, order: list[int]) -> bytes:
    """The model as the desk draws it: parts by number instead of name, without cameras and animation."""
    document = {key: container.document[key] for key in _KEPT if container.document.get(key)}
    part_of = {node: n for n, node in enumerate(order)}
    dropped = ("camera", "skin", "extensions", "extras", "weights")
    document["nodes"] = [
        {**{k: v for k, v in node.items() if k not in dropped}, "name": f"part-{part_of.get(n, f'not-{n}')}"}
        for n, node in enumerate(container.document.get("nodes", []))
    ]
    document["meshes"] = [
        {"name": f"mesh-{n}", "primitives": mesh.get("primitives", [])}
        for n, mesh in enumerate(container.document.get("meshes", []))
    ]
    for kind in ("extensionsUsed", "extensionsRequired"):
        if kind in document:
            document[kind] = [name for name in document[kind] if name != "KHR_lights_punctual"]
    return pack(Container(document, container.binary))
