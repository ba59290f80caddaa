"""glTF 2.0: names, tree, materials with textures. In metres, Y up, by the standard."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from zevlo.core.scene.model.set_model import Material
from zevlo.files.accessors import DRACO, Arrays
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.glb import Container, Json, alone, open_container
from zevlo.files.left_out import left_out_of_gltf
from zevlo.files.point_colors import MOST_COLOURED, coloured, in_palette
from zevlo.files.reading import Arrival, FromFile, Progress, unheard
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import Pictures, linear, mean_of
from zevlo.text import models as say

_TRIANGLES, _STRIP, _FAN = 4, 5, 6


def read_gltf(arrival: Arrival, progress: Progress) -> FromFile:
    """Read a .glb or .gltf with what came beside it. Raises :class:`CannotRead`."""
    data = np.memmap(arrival.path, mode="r").data if arrival.path.stat().st_size else b""

    def companion(name: str) -> bytes | None:
        path = arrival.companion(name)
        return None if path is None else path.read_bytes()

    return from_container(open_container(data, companion), progress)


def from_bytes(data: bytes) -> FromFile:
    """Read a .glb or self-contained .gltf that is in memory already."""
    return from_container(open_container(data, alone), unheard)


def from_container(container: Container, progress: Progress) -> FromFile:
    """The set of an opened model."""
    document = container.document
    order, parents = tree_of(document)
    if not order:
        raise CannotRead(say.THE_MODEL_IS_EMPTY_THERE_IS_NOTHING)
    arrays = Arrays(container)
    build, pictures, remarks = SetBuilder(), Pictures(), Remarks()
    materials = _materials(document, container, pictures, remarks)
    part_of: dict[int, int] = {}
    world: dict[int, NDArray[np.float64]] = {}
    made: dict[int, list[Piece]] = {}
    nodes, meshes = document["nodes"], document.get("meshes", [])
    for count, node in enumerate(order):
        if count % 200 == 0:
            progress(say.READING_THE_GEOMETRY, count / len(order))
        above = world.get(parents.get(node, -1), np.eye(4))
        matrix = world[node] = above @ local_of(nodes[node])
        if not np.isfinite(matrix).all():
            raise CannotRead(say.BROKEN_A_PART_IS_PLACED_BY)
        parent = parents.get(node)
        part = part_of[node] = build.part(
            str(nodes[node].get("name") or ""), None if parent is None else part_of[parent], say.part(count + 1)
        )
        mesh = nodes[node].get("mesh")
        if mesh is None:
            continue
        if not isinstance(mesh, int) or not 0 <= mesh < len(meshes):
            raise CannotRead(say.BROKEN_A_PART_NAMES)
        if mesh not in made:
            made[mesh] = _pieces(document, meshes[mesh], arrays, _Looks(materials, pictures, remarks))
        for move in _copies(nodes[node], arrays):
            for piece in made[mesh]:
                build.add(part, piece, matrix @ move)
    made.clear()
    progress(say.PUTTING_THE_SET_TOGETHER, None)
    model = build.finish(tuple(materials), pictures)
    remarks_made = (*left_out_of_gltf(document, order), *remarks.words(), *pictures.remarks())
    return FromFile(model, "glTF", metres_per_unit=1.0, up="y", remarks=remarks_made)


class Remarks:
    """What was not taken of materials as it is, and of how many."""

    def __init__(self) -> None:
        self._of: dict[str, set[int]] = {}

    def note(self, material: int, words: str) -> None:
        self._of.setdefault(words, set()).add(material)

    def words(self) -> tuple[str, ...]:
        return tuple(say.materials(len(of), words) for words, of in self._of.items())


@dataclass
class _Looks:
    """The materials as they are made, to which those coloured by point are added."""

    materials: list[Material]
    pictures: Pictures
    remarks: Remarks

    def coloured(self, piece: Piece, given: np.ndarray | None) -> Piece:
        """A piece in the colours its points tell, linear; as it was where it has none, or a picture."""
        number = int(np.asarray(piece.material).flat[0])
        own = self.materials[number]
        if given is None or given.shape[1] < 3 or bool((given[:, :3] >= 0.999).all()):
            return piece
        if own.texture is not None:
            self.remarks.note(number, say.IT_HAS_A_PICTURE)
            return piece
        if len(piece.faces) > MOST_COLOURED:
            r, g, b = np.clip(np.nan_to_num(given[:, :3]), 0.0, 1.0).mean(axis=0).tolist()
            self.remarks.note(number, say.IT_HAS_SO_MANY)
            return replace(piece, material=self._added(replace(own, base_color=_times(own.base_color, (r, g, b)))))
        made, mean = coloured(piece, given[:, :3])
        return replace(made, material=self._added(replace(own, texture=in_palette(self.pictures), seen_tint=mean)))

    def _added(self, material: Material) -> int:
        self.materials.append(material)
        return len(self.materials) - 1


def _times(a: tuple[float, float, float], b: tuple[float, float, float]) -> tuple[float, float, float]:
    return a[0] * b[0], a[1] * b[1], a[2] * b[2]


INSTANCING = "EXT_mesh_gpu_instancing"
MOST_COPIES = 200_000


def _copies(node: Json, arrays: Arrays) -> list[NDArray[np.float64]]:
    """Where copies of a node's mesh stand within it, (4, 4) each: itself where it is not scattered.

    EXT_mesh_gpu_instancing: translation, rotation and scale for each.
    """
    given = ((node.get("extensions") or {}).get(INSTANCING) or {}).get("attributes")
    if given is None:
        return [np.eye(4)]
    values = {key: arrays.numbers(given[key]) for key in ("TRANSLATION", "ROTATION", "SCALE") if key in given}
    counts = {len(one) for one in values.values()}
    if len(counts) != 1:
        raise CannotRead(say.BROKEN_COPIES)
    count = counts.pop()
    if count > MOST_COPIES:
        raise CannotRead(say.the_model_scatters_more_than_pieces(MOST_COPIES))
    return [local_of({key.lower(): one[number].tolist() for key, one in values.items()}) for number in range(count)]


def tree_of(document: Json) -> tuple[list[int], dict[int, int]]:
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
    return order, {child: parent for child, parent in parents.items() if parent in seen}


_READ = ("POSITION", "NORMAL", "COLOR_0")


BEYOND = 1.0e-3
"""So far beyond its edge, in shares of it, a picture is not yet seen there."""


def _pieces(document: Json, mesh: Json, arrays: Arrays, looks: _Looks) -> list[Piece]:
    """The triangle primitives of a mesh in its own coordinates."""
    found = []
    for primitive in mesh.get("primitives", []):
        mode = primitive.get("mode", _TRIANGLES)
        attributes = primitive.get("attributes", {})
        if mode not in (_TRIANGLES, _STRIP, _FAN) or "POSITION" not in attributes:
            continue
        material = primitive.get("material", -1)
        if not isinstance(material, int) or not 0 <= material < len(document.get("materials", [])):
            material = -1
        placed = _base_texture(document, material)
        read = (*_READ, placed.name)
        packed = (primitive.get("extensions") or {}).get(DRACO)
        if packed is not None:
            faces, given = arrays.draco(packed)
            values = {name: given.get(name) for name in read}
        else:
            values = {name: arrays.numbers(attributes[name]) if name in attributes else None
                      for name in read}  # fmt: skip
            points = values["POSITION"]
            count = 0 if points is None else len(points)
            chain = arrays.numbers(primitive["indices"])[:, 0] if "indices" in primitive else np.arange(count)
            faces = _faces(chain, mode)
        points = values["POSITION"]
        if points is None or points.shape[1] != 3 or len(faces) == 0:
            continue
        uv = _fitting(values[placed.name], len(points), 2)
        if uv is not None:
            uv = uv if placed.moved is None else np.c_[uv, np.ones(len(uv))] @ placed.moved.T
            if not placed.repeats and len(uv) and (uv.min() < -BEYOND or uv.max() > 1.0 + BEYOND):
                looks.remarks.note(material, say.ITS_PICTURE_IS_REPEATED)
            uv = np.c_[uv[:, 0], 1.0 - uv[:, 1]].astype(np.float32)
        piece = checked(Piece(points, faces, material + 1, _fitting(values["NORMAL"], len(points), 3), uv))
        found.append(looks.coloured(piece, _colours(values["COLOR_0"], len(points))))
    return found


def _colours(values: np.ndarray | None, count: int) -> np.ndarray | None:
    """Colours by point, linear, 0 to 1; Draco hands whole numbers on."""
    found = _fitting(values, count, 3)
    if found is None or found.dtype.kind == "f":
        return found
    return found.astype(np.float32) / np.float32(np.iinfo(found.dtype).max)


def _fitting(values: np.ndarray | None, count: int, width: int) -> np.ndarray | None:
    if values is None or values.shape[1] < width:
        return None
    if len(values) != count:
        raise CannotRead(say.BROKEN_POINTS)
    return values[:, :width]


def _faces(chain: np.ndarray, mode: int) -> np.ndarray:
    """Triangles (F, 3) of a list, a strip or a fan of points."""
    if mode == _TRIANGLES:
        return chain[: len(chain) // 3 * 3].reshape(-1, 3)
    if len(chain) < 3:
        return np.zeros((0, 3), dtype=chain.dtype)
    if mode == _FAN:
        return np.stack([chain[1:-1], chain[2:], np.full(len(chain) - 2, chain[0])], axis=1)
    faces = np.stack([chain[:-2], chain[1:-1], chain[2:]], axis=1)
    faces[1::2] = faces[1::2][:, [1, 0, 2]]
    return faces


@dataclass(frozen=True)
class _Placed:
    """Where a base texture lies on a surface: by which values of its points, and how they are moved, (2, 3) on
    (u, v, 1) with v down. ``repeats``: whether it goes on beyond its edge from the other side, as all do here."""

    name: str = "TEXCOORD_0"
    moved: NDArray[np.float64] | None = None
    repeats: bool = True


_REPEAT = 10497


def _base_texture(document: Json, material: int) -> _Placed:
    """Where a material, by its number, has its base texture.

    KHR_texture_transform: offset, then rotation, then scale, read from the left; its texCoord goes before the
    texture's.
    """
    if material < 0:
        return _Placed()
    texture = (document["materials"][material].get("pbrMetallicRoughness") or {}).get("baseColorTexture") or {}
    given = (texture.get("extensions") or {}).get("KHR_texture_transform")
    name = f"TEXCOORD_{(given or {}).get('texCoord', texture.get('texCoord', 0))}"
    repeats = _repeats(document, texture.get("index"))
    if given is None:
        return _Placed(name, None, repeats)
    (x, y), (u, v), turn = given.get("offset", [0, 0]), given.get("scale", [1, 1]), given.get("rotation", 0.0)
    c, s = np.cos(turn), np.sin(turn)
    return _Placed(name, np.array([[c * u, s * v, x], [-s * u, c * v, y]], dtype=np.float64), repeats)


def _repeats(document: Json, number: Any) -> bool:
    """Whether a texture, by its number, repeats beyond its edges; one that says nothing does."""
    textures, samplers = document.get("textures", []), document.get("samplers", [])
    texture = textures[number] if isinstance(number, int) and 0 <= number < len(textures) else {}
    sampler = texture.get("sampler")
    settings = samplers[sampler] if isinstance(sampler, int) and 0 <= sampler < len(samplers) else {}
    return all(settings.get(key, _REPEAT) == _REPEAT for key in ("wrapS", "wrapT"))


def local_of(node: Json) -> NDArray[np.float64]:
    try:
        if "matrix" in node:
            return np.array(node["matrix"], dtype=np.float64).reshape(4, 4).T
        matrix = np.eye(4)
        turn = node.get("rotation", [0.0, 0.0, 0.0, 1.0])
        rotation = Rotation.from_quat(turn).as_matrix() if np.linalg.norm(turn) > 0 else np.eye(3)
        matrix[:3, :3] = rotation * np.array(node.get("scale", [1.0, 1.0, 1.0]), dtype=np.float64)
        matrix[:3, 3] = node.get("translation", [0.0, 0.0, 0.0])
    except (ValueError, TypeError):
        raise CannotRead(say.BROKEN_A_PART_IS_PLACED) from None
    return matrix


def _picture(container: Container, number: int) -> bytes:
    """An image as it came. Raises :class:`CannotRead`."""
    views = container.document["bufferViews"]
    view = container.document["images"][number].get("bufferView")
    if not isinstance(view, int) or not 0 <= view < len(views):
        raise CannotRead(say.BROKEN_A_TEXTURE)
    start = views[view]["byteOffset"]
    return bytes(container.binary[start : start + views[view]["byteLength"]])


def _texture_source(texture: Json) -> Any:
    return texture.get("source", ((texture.get("extensions") or {}).get("EXT_texture_webp") or {}).get("source"))


def _materials(document: Json, container: Container, pictures: Pictures, remarks: Remarks) -> list[Material]:
    """Material 0 is plain grey, for faces without one; the file's follow in their order."""
    made, images = [PLAIN], len(document.get("images", []))
    textures = document.get("textures", [])
    means: dict[int, tuple[float, float, float]] = {}

    def source(texture: Any) -> int | None:
        index = (texture or {}).get("index")
        found = _texture_source(textures[index]) if isinstance(index, int) and 0 <= index < len(textures) else None
        return found if isinstance(found, int) and 0 <= found < images else None

    def mean(texture: Any) -> tuple[float, float, float] | None:
        """Of a picture's three channels as they are stored; None where there is none."""
        picture = source(texture)
        if picture is not None and picture not in means:
            means[picture] = mean_of(_picture(container, picture))
        return None if picture is None else means[picture]

    for number, entry in enumerate(document.get("materials", [])):
        metal = entry.get("pbrMetallicRoughness") or {}
        extensions = entry.get("extensions") or {}
        color = _numbers(metal.get("baseColorFactor", [1.0, 1.0, 1.0, 1.0]), 4)
        strength = _number((extensions.get("KHR_materials_emissive_strength") or {}).get("emissiveStrength", 1.0))
        glow = [max(0.0, strength * c) for c in _numbers(entry.get("emissiveFactor", [0.0, 0.0, 0.0]), 3)]
        shines = mean(entry.get("emissiveTexture"))
        if shines is not None and any(glow):
            glow = [c * one for c, one in zip(glow, linear(np.array(shines)).tolist(), strict=True)]
            remarks.note(number, say.IT_SHINES_BY_A_PICTURE)
        metallic, rough = (_number(metal.get(key, 1.0)) for key in ("metallicFactor", "roughnessFactor"))
        both = mean(metal.get("metallicRoughnessTexture"))
        if both is not None:
            metallic, rough = metallic * both[2], rough * both[1]
            remarks.note(number, say.HOW_ROUGH_AND_METALLIC)
        if entry.get("normalTexture"):
            remarks.note(number, say.ITS_RELIEF_A_NORMAL)
        if entry.get("occlusionTexture"):
            remarks.note(number, say.ITS_BAKED_SHADE_AN_OCCLUSION)
        through = _number((extensions.get("KHR_materials_transmission") or {}).get("transmissionFactor", 0.0))
        mode = entry.get("alphaMode", "OPAQUE")
        alpha = color[3] if mode != "OPAQUE" else 1.0
        cut = _unit(_number(entry.get("alphaCutoff", 0.5))) if mode == "MASK" else 0.0
        image = source(metal.get("baseColorTexture"))
        picture = None if image is None else pictures.put(str(image), _picture(container, image))
        if mode == "MASK":
            # All of it is there, or nothing, by what alpha is beside the cut.
            alpha, cut = 1.0 if picture is not None or alpha >= cut else 0.0, cut / max(color[3], 1.0e-6)
        made.append(
            Material(
                name=str(entry.get("name") or say.material_number(number + 1))[:200],
                base_color=(_unit(color[0]), _unit(color[1]), _unit(color[2])),
                alpha=_unit(min(alpha, 1.0 - 0.95 * through)),
                metallic=_unit(metallic),
                roughness=_unit(rough),
                emissive=(glow[0], glow[1], glow[2]),
                texture=picture,
                holes=min(max(cut, 0.0 if mode == "BLEND" else 1.0e-3), 1.0)
                if picture is not None and mode in ("MASK", "BLEND")
                else None,
            )
        )
    return made


def _number(value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not np.isfinite(value):
        raise CannotRead(say.BROKEN_A_MATERIAL)
    return float(value)


def _numbers(value: Any, count: int) -> list[float]:
    if not isinstance(value, list) or len(value) < count:
        raise CannotRead(say.BROKEN_A_MATERIAL_HAS_A_COLOUR)
    return [_number(one) for one in value]


def _unit(value: float) -> float:
    return min(1.0, max(0.0, value))
